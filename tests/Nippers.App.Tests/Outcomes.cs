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
}
