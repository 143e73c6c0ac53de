using System.Collections.Immutable;

namespace Nippers.Core.Oil;

/// <summary>How a sample is drawn.</summary>
public enum DrawMethod
{
    /// <summary>From a live port with the machine running and warm; the best one, the same each time.</summary>
    LivePort,

    /// <summary>With a clean tube cut to the dipstick's length, into half the oil's depth, engine off and warm.</summary>
    Tube,

    /// <summary>From the middle of the drain stream, warm, neither the first nor the last.</summary>
    DrainStream,
}

/// <summary>How the machine stood when it was drawn.</summary>
public enum DrawState
{
    /// <summary>Running, at temperature.</summary>
    Running,

    /// <summary>Off, still warm.</summary>
    Warm,

    /// <summary>Cold: pieces have settled.</summary>
    Cold,
}

/// <summary>A sample that is to be drawn.</summary>
/// <param name="Item">The item.</param>
/// <param name="Method">How.</param>
public sealed record Draw(string Item, DrawMethod Method);

/// <summary>Which method fits a compartment, and in which order samples are drawn.</summary>
/// <remarks>Rules 10.</remarks>
public static class Drawing
{
    /// <summary>The method for a compartment.</summary>
    /// <param name="kind">Where the oil works.</param>
    /// <param name="livePort">It has a live port.</param>
    /// <param name="drainsToday">Its oil is drained in the same visit.</param>
    public static DrawMethod MethodOf(OilKind kind, bool livePort, bool drainsToday) =>
        livePort ? DrawMethod.LivePort
        : kind == OilKind.Gear && drainsToday ? DrawMethod.DrainStream
        : DrawMethod.Tube;

    /// <summary>
    /// Those that need the machine running first, before it cools; then with the tube; the drain stream last, when the plug comes
    /// out.
    /// </summary>
    public static ImmutableArray<Draw> Order(IEnumerable<Draw> draws) => [.. draws.OrderBy(x => x.Method)];

    /// <summary>Whether the state of the machine suits the method.</summary>
    public static bool Suits(DrawMethod method, DrawState state) =>
        state switch
        {
            DrawState.Running => method == DrawMethod.LivePort,
            DrawState.Warm => method != DrawMethod.LivePort,
            _ => false,
        };
}
