using System.Collections.Immutable;

namespace Nippers.Core.Walk;

/// <summary>What a walk is offered in: the ordinary morning, and rounds of their own.</summary>
public enum WalkPart
{
    /// <summary>What is looked at on every walk.</summary>
    Ordinary,

    /// <summary>Grease fittings.</summary>
    Greasing,

    /// <summary>Checks of every 50 h.</summary>
    FiftyHours,

    /// <summary>Checks of every 250 h.</summary>
    TwoFiftyHours,
}

/// <summary>How long a walk takes whoever does it as it is meant, and how long it keeps the phone in the hand.</summary>
/// <remarks>Rules 7.</remarks>
public static class WalkMinutes
{
    /// <summary>Seconds of a look at one thing.</summary>
    public const double Look = 5;

    /// <summary>Seconds of a glass.</summary>
    public const double Glass = 8;

    /// <summary>Seconds of a dipstick, wiped and pulled twice.</summary>
    public const double Stick = 40;

    /// <summary>Seconds of a test.</summary>
    public const double Test = 8;

    /// <summary>Seconds of a brake test.</summary>
    public const double BrakeTest = 70;

    /// <summary>Seconds of a measure.</summary>
    public const double Measure = 60;

    /// <summary>Seconds of a bowl.</summary>
    public const double Bowl = 45;

    /// <summary>Seconds of a fitting, wiped, pumped and wiped.</summary>
    public const double Fitting = 30;

    /// <summary>Seconds of climbing up and down once.</summary>
    public const double Climb = 15;

    /// <summary>Seconds of a door or hood.</summary>
    public const double Door = 5;

    /// <summary>Seconds of locking out.</summary>
    public const double LockOn = 90;

    /// <summary>Seconds of taking the lockout off.</summary>
    public const double LockOff = 30;

    /// <summary>Seconds of a start.</summary>
    public const double Start = 30;

    /// <summary>Metres on the ground for a unit of the plan; a walked metre is a second.</summary>
    public const double MetresAUnit = 0.04;

    /// <summary>Share of its honest time below which a walk was too quick to have looked.</summary>
    public const double LeastShare = 0.5;

    /// <summary>Seconds that a check takes.</summary>
    public static double SecondsOf(WalkCheck check) =>
        check.Kind switch
        {
            CheckKind.Look => Look,
            CheckKind.Level => check.Glass ? Glass : Stick,
            CheckKind.Measure => Measure,
            CheckKind.Count => Look * check.Points.Length,
            CheckKind.Grease => Fitting * check.Points.Length,
            CheckKind.Drain => Bowl,
            CheckKind.Test => check.Safety == Defects.SafetyPart.Brakes ? BrakeTest : Test,
            _ => Test,
        };

    /// <summary>Seconds that a walk takes by its steps: checks, ways between stations, climbs, doors, locks, starts.</summary>
    /// <param name="steps">Its steps, in order.</param>
    /// <param name="counts">Checks that count; all when left out.</param>
    public static double Honest(ImmutableArray<WalkStep> steps, Func<WalkCheck, bool>? counts = null)
    {
        var seconds = 0.0;
        Station? at = null;
        var running = false;
        foreach (var step in steps)
        {
            var checks = step.Checks.Where(x => counts is null || counts(x)).ToList();
            if (step.Kind == StepKind.Station && checks.Count == 0)
                continue;
            seconds += step.Kind switch
            {
                StepKind.Isolate => LockOn,
                StepKind.Release => LockOff,
                StepKind.Move or StepKind.Leave => LockOff + Start + LockOn,
                _ => checks.Sum(SecondsOf),
            };
            if (step.Engine == EngineState.Running && !running)
                (seconds, running) = (seconds + Start, true);
            if (step.Station is not { } station)
                continue;
            if (at is { } from && from.Code != station.Code)
                seconds += MetresAUnit * Math.Sqrt(Math.Pow(station.X - from.X, 2) + Math.Pow(station.Y - from.Y, 2));
            if (at?.Code != station.Code)
                seconds +=
                    station.Height is StationHeight.OnTop or StationHeight.Cab ? Climb
                    : station.Height == StationHeight.EngineBay ? Door
                    : 0;
            at = station;
        }

        return seconds;
    }

    /// <summary>Walks that it takes until a machine's own time is known.</summary>
    public const int LeastWalks = 5;

    private const double LeastOwn = 0.6;
    private const double MostOwn = 2;

    /// <summary>
    /// How a machine's walks went against what they take as they are meant: the middle of those that were not too quick. Never far from
    /// one, for nobody is hurried by a number, and one long stop is no habit.
    /// </summary>
    /// <param name="walks">Seconds that each took, and seconds that it takes as it is meant.</param>
    /// <returns>One until <see cref="LeastWalks"/> of them are known.</returns>
    public static double OwnShare(IEnumerable<(double Took, double Honest)> walks)
    {
        var shares = walks.Where(x => x.Honest > 0 && x.Took >= x.Honest * LeastShare).Select(x => x.Took / x.Honest).Order().ToList();
        if (shares.Count < LeastWalks)
            return 1;
        var middle = (shares[(shares.Count - 1) / 2] + shares[shares.Count / 2]) / 2;
        return Math.Clamp(middle, LeastOwn, MostOwn);
    }

    /// <summary>Seconds that the phone takes: a second a tap, 0.3 s a character, 2 s a page that is loaded.</summary>
    public static double Phone(int taps, int characters, int loads) => taps + 0.3 * characters + 2 * loads;

    /// <summary>The round to which a check belongs.</summary>
    public static WalkPart PartOf(WalkCheck check) =>
        check.Kind == CheckKind.Grease ? WalkPart.Greasing
        : check.Cadence == Cadence.Every50Hours ? WalkPart.FiftyHours
        : check.Cadence == Cadence.Every250Hours ? WalkPart.TwoFiftyHours
        : WalkPart.Ordinary;
}
