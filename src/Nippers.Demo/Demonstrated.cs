using Nippers.App;

namespace Nippers.Demo;

/// <summary>What the demo does through the doors that people have must be allowed.</summary>
internal static class Demonstrated
{
    /// <summary>Throws where it was refused.</summary>
    /// <exception cref="InvalidOperationException">It was.</exception>
    public static void Sure<T>(Outcome<T> outcome)
        where T : class
    {
        if (!outcome.Done)
            throw new InvalidOperationException($"What the demo said was refused: {outcome.Refusals[0]}");
    }
}
