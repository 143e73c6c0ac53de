using System.Globalization;
using Nippers.App.Walks;
using Nippers.Core.Walk;

namespace Nippers.Bench;

/// <summary>
/// What an ordinary morning takes of each kind: checks, taps, minutes of phone, and the minutes of the walk as it is meant. The browser
/// test of a quick walk counts the same taps with a finger; this is the table of it.
/// </summary>
internal static class WalkTaps
{
    // The field, begin, to the end, sign off.
    private const int Around = 4;
    private const int HourCharacters = 6;
    private const int Loads = 3;

    private static readonly HashSet<string> Usual =
    [
        "ac",
        "aftertreatment=def",
        "attachment=none",
        "linkage=greased",
        "volts=24",
        "drive=diesel",
    ];

    public static void Run()
    {
        Console.WriteLine("walk: kind | checks | taps | phone min | walk min | with greasing, 50 h and 250 h, min");
        foreach (var list in StarterLists.All())
        {
            var due = WalkRoute.Due(list.Body, Usual, WalkRound.Whole, new Dictionary<string, Core.Hours.MeterHours>(), default);
            var morning = WalkRoute.Steps(list.Body, due.Where(x => WalkMinutes.PartOf(x) == WalkPart.Ordinary || x.IsSafetyCritical));
            var taps = Around + morning.Sum(Taps);
            Console.WriteLine(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"walk: {list.Name} | {morning.Sum(x => x.Checks.Length)} | {taps} | {WalkMinutes.Phone(taps, HourCharacters, Loads) / 60:0.0} | {WalkMinutes.Honest(morning) / 60:0} | {WalkMinutes.Honest(WalkRoute.Steps(list.Body, due)) / 60:0}"
                )
            );
        }
    }

    /// <summary>Taps at a step where nothing is wrong: one for all looks that may be said at once, one for each other check.</summary>
    private static int Taps(WalkStep step)
    {
        if (step.Kind != StepKind.Station)
            return 1;
        var atOnce = step.Checks.Count(x => x is { Kind: CheckKind.Look, IsSafetyCritical: false, AsksTick: false });
        return step.Checks.Length - atOnce + Math.Min(atOnce, 1);
    }
}
