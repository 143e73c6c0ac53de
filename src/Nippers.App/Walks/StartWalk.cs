using Nippers.App.Feeds;
using Nippers.App.Readings;
using Nippers.Core.Defects;
using Nippers.Core.Feeds;
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

    /// <summary>What its odometer shows, km; empty where nobody read it, or it has none.</summary>
    public string? Km { get; init; }

    /// <summary>The odometer really shows an unusual figure.</summary>
    public bool KmReally { get; init; }
    public Weather Weather { get; init; }
    public Ground Ground { get; init; }
    public WalkRound Round { get; init; }

    /// <summary>The rounds to make now; null: all that is due in <see cref="Round"/>.</summary>
    public IReadOnlyCollection<WalkPart>? Parts { get; init; }

    /// <summary>The date of a paper sheet that is entered afterwards; empty: now.</summary>
    public string? LateOn { get; init; }

    /// <summary>The person knows that the machine is out of service and only looks it over, engine off.</summary>
    public bool KnowsStopped { get; init; }

    /// <summary>It stands as it was parked the evening before: level, in position, not moved since; null: nobody said.</summary>
    public bool? AsParked { get; init; }

    /// <summary>
    /// Somebody sits before the form of now, and can answer what it asks. What a phone or a program did before is not lost for a question
    /// that nobody had asked there: then nothing is known of how the machine stood.
    /// </summary>
    public bool AtForm { get; init; }

    /// <summary>The block heater is unplugged.</summary>
    public bool HeaterOut { get; init; }

    /// <summary>Also the checks that a lamp, a gauge or a smell asks for.</summary>
    public IReadOnlyCollection<string> OnSign { get; init; } = [];

    /// <summary>Makes a repeat harmless.</summary>
    public string? Key { get; init; }

    /// <summary>Name that a phone gave the walk where there was no network; empty for none.</summary>
    public string? Batch { get; init; }

    /// <summary>Checks that a phone has asked already: they belong to it, with what is due by now.</summary>
    public IReadOnlyCollection<string> Asked { get; init; } = [];

    /// <summary>The start of a walk as its form says it.</summary>
    public static StartWalkInput Of(string unit, TypedFields typed) =>
        new()
        {
            Unit = unit,
            Hours = typed["hours"],
            Km = typed["km"],
            KmReally = typed.Has("kmReally"),
            Weather = typed.Pick<Weather>("weather") ?? Weather.Dry,
            Ground = typed.Pick<Ground>("ground") ?? Ground.Level,
            Parts = typed.Picks<WalkPart>("parts"),
            LateOn = typed["lateOn"],
            KnowsStopped = typed.Has("knowsStopped"),
            AsParked = typed["asParked"] switch
            {
                "yes" => true,
                "no" => false,
                _ => null,
            },
            HeaterOut = typed.Has("heaterOut"),
            OnSign = [.. typed.All("onSign").OfType<string>()],
            Asked = [.. typed.All("asked").OfType<string>()],
        };
}

/// <summary>A walk that was begun, or the open one that was found.</summary>
/// <param name="WalkId">The walk.</param>
/// <param name="Judgement">The judge on its hours; null when it was found open.</param>
/// <param name="Resumed">It was open already.</param>
public sealed record StartedWalk(long WalkId, Judgement? Judgement, bool Resumed);

/// <summary>Begins a walk: judges and logs the meter, and puts together what is due on it. An open walk is gone on with.</summary>
public sealed class StartWalk(NippersDb db, UnitOfWork writes, LogReading log, LogOdometer odometers, FeedHours feeds)
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
        var round = WalkRules.RoundOf(input);
        var began = await db.OpenWalk(machine.Id, round, ct);
        if (!late && began is { Late: false } open)
        {
            Join(open, input, await db.ListOf(machine, ct));
            return Outcome<StartedWalk>.Of(new(open.Id, null, Resumed: true));
        }

        if (began is not null)
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

        var parked = late ? null : await db.ParkingOf(machine.Id, writes.Now, ct);
        if (input.AtForm)
            refusals.AddRange(WalkRules.AgainstParking(parked, input));

        // A late sheet's figure belongs to the shift's start on its day.
        DateTimeOffset? at = late && on != today ? LocalTime.StartOf(on, facts.Zone).AddMinutes(machine.Site.ShiftFrom) : null;
        var reading = new LogReadingInput(input.Unit, input.Hours, Source: ReadingSource.Walk, At: at);
        var validated = await log.Validate(reading, ct, facts);
        refusals.AddRange(validated.Refusals);
        LogOdometer.Validated? driven = null;
        if (!string.IsNullOrWhiteSpace(input.Km))
        {
            if (facts.Odometer is not { } odometer)
                refusals.Add(Refusals.NoOdometer(input.Unit, "km"));
            else
                driven = LogOdometer.Validate(
                    facts,
                    odometer,
                    input.Km,
                    at ?? writes.Now,
                    writes.Now,
                    input.KmReally || !input.AtForm,
                    refusals
                );
        }

        if (refusals.Count > 0)
            return new(new StartedWalk(0, validated.Judgement, false), refusals);

        if (driven is not null)
            await odometers.Keep(driven, actor, ct, unasked: !input.KmReally);
        var offered = late ? null : await feeds.Offer(machine.Id, writes.Now, FeedAge.ForWalk, ct);
        reading = reading with { Source = FeedHours.SourceOf(offered, validated.Shown, reading.Source) };
        await log.Keep(validated, reading, actor, ct);

        // What it reckoned from knows nothing of the kilometres.
        if (driven is not null)
            await writes.RefreshStatus([machine.Id], ct);
        var life = validated.Shown + validated.OffsetHours;
        var list = version!.ToList();
        var checks = WalkRules.Asked(list, machine, input, await db.ChecksLastDone(machine.Id, ct), life, stopped && !late);
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
            ParkedAt = input.AsParked == true ? parked?.At : null,
            Batch = input.Batch ?? "walk-" + Guid.NewGuid().ToString("N", System.Globalization.CultureInfo.InvariantCulture)[..12],
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

    /// <summary>A phone comes to a walk that another began: what it has asked belongs to it too.</summary>
    private static void Join(WalkRow open, StartWalkInput input, WalkListVersion? version)
    {
        var has = open.Checks.Split(' ').ToHashSet(StringComparer.Ordinal);
        if (version is null || version.Id != open.VersionId || input.Asked.All(has.Contains))
            return;
        var list = version.ToList();
        var checks = WalkRoute.Steps(list, list.Checks.Where(x => has.Contains(x.Code) || input.Asked.Contains(x.Code)));
        var codes = checks.SelectMany(x => x.Checks).Select(x => x.Code).ToList();
        (open.Checks, open.Due) = (string.Join(' ', codes), codes.Count);
    }
}
