using Nippers.App.Readings;
using Nippers.Core.Defects;
using Nippers.Core.Hours;
using Nippers.Core.Walk;
using Nippers.Data;
using Nippers.Data.Queries;
using Nippers.Data.Records;
using Nippers.Data.Walks;

namespace Nippers.App.Walks;

/// <summary>A walk as it is begun.</summary>
public sealed record StartWalkInput
{
    public required string Unit { get; init; }
    public string? Hours { get; init; }
    public Weather Weather { get; init; }
    public Ground Ground { get; init; }
    public WalkRound Round { get; init; }

    /// <summary>The rounds to make now; null: all that is due in <see cref="Round"/>.</summary>
    public IReadOnlyCollection<WalkPart>? Parts { get; init; }

    /// <summary>The date of a paper sheet that is entered afterwards; empty: now.</summary>
    public string? LateOn { get; init; }

    /// <summary>The person knows that the machine is out of service and only looks it over, engine off.</summary>
    public bool KnowsStopped { get; init; }

    /// <summary>Also the checks that a lamp, a gauge or a smell asks for.</summary>
    public IReadOnlyCollection<string> OnSign { get; init; } = [];
    public string? Key { get; init; }
}

/// <summary>A walk that was begun, or the open one that was found.</summary>
/// <param name="WalkId">The walk.</param>
/// <param name="Judgement">The judge on its hours; null when it was found open.</param>
/// <param name="Resumed">It was open already.</param>
public sealed record StartedWalk(long WalkId, Judgement? Judgement, bool Resumed);

/// <summary>Begins a walk: judges and logs the meter, and puts together what is due on it. An open walk is gone on with.</summary>
public sealed class StartWalk(NippersDb db, UnitOfWork writes, LogReading log)
{
    private const int LatestDays = 30;

    public Task<Outcome<StartedWalk>> Run(StartWalkInput input, Actor actor, CancellationToken ct) =>
        writes.Run(() => Begin(input, actor, ct), ct);

    /// <summary>The same inside the caller's transaction.</summary>
    internal async Task<Outcome<StartedWalk>> Begin(StartWalkInput input, Actor actor, CancellationToken ct)
    {
        var facts = await db.FactsOf(input.Unit, writes.Now, ct);
        if (facts is null)
            return Outcome<StartedWalk>.Refused(Refusals.NoSuchUnit("unit", input.Unit, Array.Empty<string>()));
        var machine = facts.Machine;
        if (machine.Retired)
            return Outcome<StartedWalk>.Refused(Refusals.MachineRetired());
        var late = !string.IsNullOrWhiteSpace(input.LateOn);
        var round =
            input.Parts is null ? input.Round
            : input.Parts.Contains(WalkPart.Ordinary) ? WalkRound.Whole
            : WalkRound.Second;
        if (!late && await db.OpenWalk(machine.Id, round, ct) is { Late: false } open)
            return Outcome<StartedWalk>.Of(new(open.Id, null, Resumed: true));
        if (await db.OpenWalk(machine.Id, round, ct) is not null)
            return Outcome<StartedWalk>.Refused(Refusals.WalkOpen());

        var refusals = new List<Refusal>();
        var today = LocalDay.Of(writes.Now, facts.Zone);
        var on = today;
        if (late)
        {
            if (LocalTime.ParseDate(input.LateOn) is not { } day)
                refusals.Add(Refusals.NotADate("lateOn"));
            else if (day > today)
                refusals.Add(Refusals.LateNotPast());
            else if (day < today.AddDays(-LatestDays))
                refusals.Add(Refusals.LateTooLong(LatestDays));
            else if (day < machine.CommissionedOn)
                refusals.Add(Refusals.BeforeCommissioning("lateOn", machine.CommissionedOn));
            else
                on = day;
        }

        if (input.Parts is { Count: 0 })
            refusals.Add(Refusals.Needed("parts"));
        var version = await db.ListOf(machine, ct);
        if (version is null)
            refusals.Add(Refusals.NoWalkList());
        var stopped = (await db.RunAnswerOf(machine.Id, ct)).RunStatus == RunStatus.OutOfService;
        if (stopped && !late && !input.KnowsStopped)
            refusals.Add(Refusals.OutOfService(machine.Unit));

        // A late sheet's figure belongs to the shift's start on its day.
        DateTimeOffset? at = late && on != today ? LocalTime.StartOf(on, facts.Zone).AddMinutes(machine.Site.ShiftFrom) : null;
        var reading = new LogReadingInput(input.Unit, input.Hours, Source: ReadingSource.Walk, At: at);
        var validated = await log.Validate(reading, ct);
        refusals.AddRange(validated.Refusals);
        if (refusals.Count > 0)
            return new(new StartedWalk(0, validated.Judgement, false), refusals);

        await log.Keep(validated, reading, actor, ct);
        var life = validated.Shown + validated.OffsetHours;
        var list = version!.ToList();
        var due = WalkRoute
            .Due(
                list,
                machine.OptionWords,
                input.Parts is null ? round : WalkRound.Whole,
                await db.ChecksLastDone(machine.Id, ct),
                life,
                machine.Site.StopsEachWalk
            )
            .Concat(list.Checks.Where(x => x.Cadence == Cadence.OnSign && input.OnSign.Contains(x.Code)))
            .Where(x =>
                input.Parts is not { } parts || parts.Contains(WalkMinutes.PartOf(x)) || (round == WalkRound.Whole && x.IsSafetyCritical)
            )
            .Where(x => !stopped || late || x.Engine == EngineState.Off);
        var checks = WalkRoute.Steps(list, due).SelectMany(x => x.Checks).Select(x => x.Code).ToList();
        if (checks.Count == 0)
            return Outcome<StartedWalk>.Refused(Refusals.WalkEmpty());
        var walk = new WalkRow
        {
            MachineId = machine.Id,
            VersionId = version.Id,
            Round = round,
            On = on,
            StartedAt = writes.Now,
            StartedBy = actor.Name,
            Late = late,
            LifeHours = life,
            ShownHours = validated.Shown,
            Weather = input.Weather,
            Ground = input.Ground,
            Checks = string.Join(' ', checks),
            Due = checks.Count,
            Batch = "walk-" + Guid.NewGuid().ToString("N", System.Globalization.CultureInfo.InvariantCulture)[..12],
        };
        db.Walks.Add(walk);
        await db.SaveChangesAsync(ct);
        writes.Audit(
            actor,
            "walk.start",
            machine.Unit,
            machine.Id,
            null,
            new
            {
                walk.Id,
                walk.On,
                walk.Round,
                walk.Late,
                hours = validated.Shown.Value,
            }
        );
        return Outcome<StartedWalk>.Of(new(walk.Id, validated.Judgement, false));
    }
}
