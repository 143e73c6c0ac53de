namespace Nippers.App;

/// <summary>Who does something.</summary>
/// <param name="Name">The name that stands behind records.</param>
/// <param name="Role">One of <see cref="Roles"/>.</param>
public sealed record Actor(string Name, string Role);

/// <summary>The roles; each may do what the one before it may.</summary>
public static class Roles
{
    public const string Operator = "operator";
    public const string Technician = "technician";
    public const string Planner = "planner";

    public static IReadOnlyList<string> All { get; } = [Operator, Technician, Planner];
}

/// <summary>Why something was not done. The words for it stand with the screens, under <c>Refused.</c> and the code.</summary>
/// <param name="Field">The input it stands beside; empty for the whole form.</param>
/// <param name="Code">What was wrong.</param>
/// <param name="Args">What fills the words.</param>
public sealed record Refusal(string Field, string Code, params object?[] Args);

/// <summary>What came of a use case: a value, or refusals and nothing changed.</summary>
public sealed record Outcome<T>(T? Value, IReadOnlyList<Refusal> Refusals)
    where T : class
{
    public bool Done => Refusals.Count == 0;

    public static Outcome<T> Of(T value) => new(value, []);

    public static Outcome<T> Refused(params IReadOnlyList<Refusal> refusals) => new(null, refusals);

    public static Outcome<T> Refused(string field, string code, params object?[] args) => new(null, [new(field, code, args)]);
}

/// <summary>For use cases that have nothing to tell but that they did it.</summary>
public sealed record Nothing
{
    public static Nothing Special { get; } = new();
}
