using System.Diagnostics.Metrics;

namespace Nippers.App;

/// <summary>
/// Measures turns to write, for whoever watches the installation. It says how long and how often, never what or whose.
/// </summary>
public static class WriteMeter
{
    /// <summary>Name under which the figures are gathered.</summary>
    public const string Name = "Nippers";

    private static readonly Meter Source = new(Name);

    /// <summary>How long a write waited for its turn, s.</summary>
    public static readonly Histogram<double> Waited = Source.CreateHistogram<double>(
        "nippers.write.wait",
        "s",
        "How long a write waited for its turn."
    );

    /// <summary>How long a turn to write lasted, s.</summary>
    public static readonly Histogram<double> Lasted = Source.CreateHistogram<double>(
        "nippers.write.turn",
        "s",
        "How long a turn to write lasted."
    );

    /// <summary>Turns that did not come in time.</summary>
    public static readonly Counter<long> Missed = Source.CreateCounter<long>(
        "nippers.write.missed",
        "{turn}",
        "Writes that were told to come again, for their turn did not come."
    );
}
