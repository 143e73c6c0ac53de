using System.Collections.Immutable;
using Nippers.Core.Defects;
using Nippers.Core.Hours;
using Nippers.Core.Service;

namespace Nippers.Core.Walk;

/// <summary>What a walk is for.</summary>
public enum WalkRound
{
    /// <summary>All that is due.</summary>
    Whole,

    /// <summary>The second round of a shift: greasing, and what is to be looked at again.</summary>
    Second,
}

/// <summary>What a step of a walk is.</summary>
public enum StepKind
{
    /// <summary>Park, wait for the purge lamp, switch off, isolate, tag.</summary>
    Isolate,

    /// <summary>Take another posture.</summary>
    Move,

    /// <summary>Take isolation off.</summary>
    Release,

    /// <summary>Checks at a station.</summary>
    Station,

    /// <summary>Leave a posture that must not be left standing so.</summary>
    Leave,
}

/// <summary>One step of a walk.</summary>
/// <param name="Code">Stays the same as long as the list does; stands in addresses.</param>
/// <param name="Kind">What it is.</param>
/// <param name="Engine">Engine state.</param>
/// <param name="Posture">Posture code; empty for any.</param>
/// <param name="Station">The station; null for steps between.</param>
/// <param name="Checks">Its checks.</param>
public sealed record WalkStep(
    string Code,
    StepKind Kind,
    EngineState Engine,
    string Posture,
    Station? Station,
    ImmutableArray<WalkCheck> Checks
);

/// <summary>Which checks a walk holds, and in which order.</summary>
/// <remarks>Rules 7.</remarks>
public static class WalkRoute
{
    // A check may come a tenth of its interval early, as services do.
    private const double EarlyShare = 0.9;

    /// <summary>Hours of a check's interval; null for those of every walk.</summary>
    public static int? IntervalHours(Cadence cadence) =>
        cadence switch
        {
            Cadence.Every50Hours => 50,
            Cadence.Every250Hours => 250,
            _ => null,
        };

    /// <summary>Whether a check is due on a walk.</summary>
    /// <param name="check">The check.</param>
    /// <param name="round">What the walk is for.</param>
    /// <param name="lastDone">Life hours at which it was last made; null when never.</param>
    /// <param name="now">Life hours now.</param>
    /// <param name="stopsEachWalk">The site wants stop buttons, isolators and alarms tried on each walk.</param>
    public static bool IsDue(WalkCheck check, WalkRound round, MeterHours? lastDone, MeterHours now, bool stopsEachWalk = false) =>
        check.Cadence switch
        {
            Cadence.OnSign => false,
            Cadence.TwiceAShift => true,
            _ when round == WalkRound.Second => false,
            Cadence.EveryWalk => true,
            _ when stopsEachWalk && check.Safety is SafetyPart.StopButton or SafetyPart.ControlLock or SafetyPart.Alarm => true,
            var other => lastDone is not { } last || now.Value - last.Value >= IntervalHours(other) * EarlyShare,
        };

    /// <summary>The checks of a list that belong on a machine and are due.</summary>
    public static ImmutableArray<WalkCheck> Due(
        CheckList list,
        IReadOnlySet<string> options,
        WalkRound round,
        IReadOnlyDictionary<string, MeterHours> lastDone,
        MeterHours now,
        bool stopsEachWalk = false
    ) =>
        [
            .. list.Checks.Where(check =>
                OptionRule.Holds(check.Needs, options)
                && IsDue(check, round, lastDone.TryGetValue(check.Code, out var last) ? last : null, now, stopsEachWalk)
            ),
        ];

    /// <summary>
    /// Puts checks in the order of the walk: by engine state, by posture, from the ground before climbing, and one way round. What is
    /// looked at with the engine off is looked at locked out, but for the way to it where a list tries the key first.
    /// </summary>
    /// <param name="list">The list they are from.</param>
    /// <param name="checks">The checks.</param>
    public static ImmutableArray<WalkStep> Steps(CheckList list, IEnumerable<WalkCheck> checks)
    {
        var stations = list.Stations.Select((station, at) => (station, at)).ToDictionary(x => x.station.Code, StringComparer.Ordinal);
        var postures = list
            .Postures.Select((posture, at) => (posture.Code, at))
            .ToDictionary(x => x.Code, x => x.at, StringComparer.Ordinal);
        var order = list.Checks.Select((check, at) => (check.Code, at)).ToDictionary(x => x.Code, x => x.at, StringComparer.Ordinal);
        int PostureOf(WalkCheck check) => postures.GetValueOrDefault(check.Posture, 0);
        bool OnTheWay(EngineState engine, string station) => list.KeyFirst && engine == EngineState.Off && stations[station].at == 0;
        int Turn(EngineState engine, string station) =>
            OnTheWay(engine, station) ? -2
            : list.KeyFirst && engine == EngineState.KeyOn ? -1
            : (int)engine;

        var groups = checks
            .Where(check => stations.ContainsKey(check.Station))
            .GroupBy(check => (check.Engine, Posture: PostureOf(check), check.Station))
            .OrderBy(x => Turn(x.Key.Engine, x.Key.Station))
            .ThenBy(x => x.Key.Posture)
            .ThenBy(x => Climbs(stations[x.Key.Station].station))
            .ThenBy(x => stations[x.Key.Station].at);
        var steps = ImmutableArray.CreateBuilder<WalkStep>();
        (EngineState Engine, int Posture)? before = null;
        var locked = false;
        void Leave()
        {
            if (before is { } was && was.Posture < list.Postures.Length && list.Postures[was.Posture] is { After.Length: > 0 } left)
                steps.Add(new($"leave-{Word(was.Engine)}-{left.Code}", StepKind.Leave, was.Engine, left.Code, null, []));
        }

        foreach (var group in groups)
        {
            var (engine, posture, _) = group.Key;
            var code = posture < list.Postures.Length ? list.Postures[posture].Code : "";
            if (before is { } was && (was.Engine, was.Posture) != (engine, posture))
                Leave();
            if (engine == EngineState.Off && !locked && !OnTheWay(engine, group.Key.Station))
            {
                locked = true;
                steps.Add(new("isolate", StepKind.Isolate, engine, code, null, []));
            }

            if (locked && engine != EngineState.Off)
            {
                locked = false;
                steps.Add(new("release", StepKind.Release, engine, code, null, []));
            }

            if (before is { } stood && stood.Posture != posture && stood.Engine == engine)
                steps.Add(new($"move-{Word(engine)}-{code}", StepKind.Move, engine, code, null, []));
            steps.Add(
                new(
                    $"{Word(engine)}-{(posture == 0 ? "" : code + "-")}{group.Key.Station}",
                    StepKind.Station,
                    engine,
                    code,
                    stations[group.Key.Station].station,
                    [.. group.OrderBy(x => order.GetValueOrDefault(x.Code, int.MaxValue))]
                )
            );
            before = (engine, posture);
        }

        Leave();
        if (locked)
            steps.Add(new("release", StepKind.Release, EngineState.Off, "", null, []));
        return steps.ToImmutable();
    }

    private static bool Climbs(Station station) => station.Height is StationHeight.OnTop or StationHeight.Cab;

    private static string Word(EngineState engine) =>
        engine switch
        {
            EngineState.Off => "off",
            EngineState.KeyOn => "key",
            _ => "run",
        };
}

/// <summary>How fast a walk went.</summary>
/// <remarks>Rules 7: under half of its honest time is shown as too quick to have looked; nothing else is concluded from it.</remarks>
public static class Pace
{
    /// <summary>Seconds a check, below which a walk of which no honest time is known was too quick to have looked.</summary>
    public const double Least = 4;

    /// <summary>Seconds a check; null when nothing was answered.</summary>
    public static double? SecondsACheck(TimeSpan took, int answered) => answered > 0 ? took.TotalSeconds / answered : null;

    /// <summary>Whether that was too quick to have looked.</summary>
    /// <param name="took">How long it took.</param>
    /// <param name="answered">Checks that were answered.</param>
    /// <param name="honestSeconds">How long it takes as it is meant; 0 when nobody knows.</param>
    public static bool TooQuick(TimeSpan took, int answered, double honestSeconds = 0) =>
        honestSeconds > 0 ? took.TotalSeconds < honestSeconds * WalkMinutes.LeastShare : SecondsACheck(took, answered) < Least;
}
