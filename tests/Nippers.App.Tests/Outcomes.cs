using Nippers.App.Visits;
using Nippers.App.Walks;

namespace Nippers.App.Tests;

/// <summary>What tests expect of use cases.</summary>
internal static class Outcomes
{
    /// <summary>Runs a use case that has to succeed.</summary>
    public static async Task<T> Ok<TCase, T>(Fleet fleet, Func<TCase, Task<Outcome<T>>> use)
        where TCase : notnull
        where T : class
    {
        var outcome = await fleet.Do(use);
        Assert.True(outcome.Done, string.Join(", ", outcome.Refusals));
        return outcome.Value!;
    }

    /// <summary>Runs a use case that has to be refused, and leaves everything as it was.</summary>
    public static async Task<Refusal> Refused<TCase, T>(Fleet fleet, Func<TCase, Task<Outcome<T>>> use)
        where TCase : notnull
        where T : class
    {
        var before = await fleet.Fingerprint();
        var outcome = await fleet.Do(use);
        Assert.False(outcome.Done);
        Assert.Equal(before, await fleet.Fingerprint());
        return outcome.Refusals[0];
    }

    /// <summary>A check answered as it is typed.</summary>
    public static AnswerInput Answered(string check, params (string Field, object? Value)[] fields) => new(check, Filled(fields));

    /// <summary>A step answered as it is typed.</summary>
    public static StepInput Stepped(string code, params (string Field, object? Value)[] fields) => new(code, Filled(fields));

    /// <summary>Several fields of one name.</summary>
    public static object?[] Many(params IEnumerable<object?> values) => [.. values];

    /// <summary>A form filled in; points stand each in a field of its own.</summary>
    private static TypedFields Filled((string Field, object? Value)[] fields)
    {
        var form = TypedFields.None;
        foreach (var (field, value) in fields)
        {
            form =
                value is not object?[] many ? form.With(field, value)
                : field == "points" ? many.Select((x, i) => (x, i)).Aggregate(form, (f, x) => f.With(CheckForm.Point(x.i), x.x))
                : form.WithAll(field, many.Select(x => x?.ToString()));
        }

        return form.With("leave", form["leftOut"] is not null || fields.Any(x => x.Field == "leftOut"));
    }
}
