using System.Collections.Immutable;
using Nippers.Core.Service;

namespace Nippers.Core.Walk;

/// <summary>A line of the card by which a machine is left in the evening, in the order in which it is done.</summary>
public enum ParkingLine
{
    /// <summary>Tracks cleaned, so that they do not freeze fast.</summary>
    Tracks,

    /// <summary>Fuel filled, so that no water settles out overnight.</summary>
    Fuel,

    /// <summary>On level ground.</summary>
    Level,

    /// <summary>In the position in which its levels are read, attachments on the ground.</summary>
    Position,

    /// <summary>Idled down before it was stopped.</summary>
    Idled,

    /// <summary>The purge lamp went out before the battery was cut.</summary>
    Lamp,

    /// <summary>The battery is cut and the key is out.</summary>
    Isolator,

    /// <summary>The block heater is plugged in.</summary>
    Heater,
}

/// <summary>The card by which a machine is left in the evening.</summary>
/// <remarks>Rules 7, "Parking for tomorrow".</remarks>
public static class ParkingCard
{
    /// <summary>How long it may be believed that a machine stands as it was parked.</summary>
    public static readonly TimeSpan Holds = TimeSpan.FromHours(96);

    /// <summary>How long before the end of a shift it is offered.</summary>
    public static readonly TimeSpan Early = TimeSpan.FromMinutes(90);

    /// <summary>The lines that a machine has.</summary>
    /// <param name="list">What it is walked by.</param>
    /// <param name="options">Its options.</param>
    public static ImmutableArray<ParkingLine> Of(CheckList list, IReadOnlySet<string> options)
    {
        var checks = list.Checks.Where(x => OptionRule.Holds(x.Needs, options)).ToList();
        return
        [
            .. Enum.GetValues<ParkingLine>()
                .Where(line =>
                    line switch
                    {
                        ParkingLine.Tracks => checks.Exists(x => x.Compartment == "tracks"),
                        ParkingLine.Lamp => options.Contains("aftertreatment=def"),
                        ParkingLine.Fuel or ParkingLine.Idled => !options.Contains("drive=electric"),
                        _ => true,
                    }
                ),
        ];
    }

    /// <summary>Reads lines as they are kept; what is none is left out.</summary>
    public static ImmutableArray<ParkingLine> Read(string kept) =>
        [
            .. kept.Split(' ', StringSplitOptions.RemoveEmptyEntries)
                .Select(x => Enum.TryParse<ParkingLine>(x, out var line) && Enum.IsDefined(line) ? line : (ParkingLine?)null)
                .OfType<ParkingLine>(),
        ];

    /// <summary>Lines as they are kept.</summary>
    public static string Write(IEnumerable<ParkingLine> lines) => string.Join(' ', lines.Distinct().Order());

    /// <summary>Whether a machine may still stand as it was parked.</summary>
    /// <param name="parkedAt">When it was parked.</param>
    /// <param name="walkedAt">When its last walk began; null for never.</param>
    /// <param name="now">Now.</param>
    public static bool Stands(DateTimeOffset parkedAt, DateTimeOffset? walkedAt, DateTimeOffset now) =>
        parkedAt <= now && now - parkedAt <= Holds && !(walkedAt > parkedAt);
}
