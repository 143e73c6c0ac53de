using System.Collections.Immutable;
using System.Text.Json.Serialization;
using Nippers.Core.Defects;
using Nippers.Core.Hours;
using Nippers.Core.Walk;
using Nippers.Data.Defects;
using Nippers.Data.Fleet;
using Nippers.Data.Queries;
using Nippers.Data.Walks;

namespace Nippers.App.Phones;

/// <summary>What a phone holds, so that machines can be walked where there is no network.</summary>
/// <param name="At">When it was put together, by the server's clock.</param>
/// <param name="Lists">Walk lists that the machines are walked by.</param>
/// <param name="Machines">The machines.</param>
/// <remarks>Rules 12.</remarks>
public sealed record PhoneKit(DateTimeOffset At, IReadOnlyList<KitList> Lists, IReadOnlyList<KitMachine> Machines)
{
    /// <summary>What planners say in other languages for words of own lists.</summary>
    public IReadOnlyList<KitPhrase> Phrases { get; init; } = [];
}

/// <summary>Words of an own list in another language.</summary>
public sealed record KitPhrase(string Language, string Text, string Said);

/// <summary>A walk list at one version.</summary>
public sealed record KitList(int Version, string Name, CheckList Body);

/// <summary>What a phone knows of a site.</summary>
public sealed record KitSite(string Name, string TimeZone, string Contact, bool StopsEachWalk, int ShiftFrom, int ShiftTo, int WorkDays);

/// <summary>A time in which the machine stands still by plan.</summary>
public sealed record KitParked(DateTimeOffset From, DateTimeOffset? To);

/// <summary>How a machine was left in an evening.</summary>
public sealed record KitParking(DateTimeOffset At, string By, string Done, string Note = "")
{
    /// <summary>The same as a row.</summary>
    public ParkingRow ToRow(DateOnly on) =>
        new()
        {
            On = on,
            At = At,
            By = By,
            Done = Done,
            Note = Note,
        };
}

/// <summary>The last walk of a machine: what stood where last time.</summary>
public sealed record KitWalk(DateOnly On, int Version, string Checks, string Answers);

/// <summary>What a phone knows of a machine.</summary>
public sealed record KitMachine
{
    public required int Id { get; init; }
    public required string Unit { get; init; }
    public required string Kind { get; init; }
    public required string Make { get; init; }
    public required string Model { get; init; }
    public required KitSite Site { get; init; }
    public string Options { get; init; } = "";
    public DateOnly CommissionedOn { get; init; }
    public MeterHours CommissionedHours { get; init; }
    public double PlannedHoursPerDay { get; init; }

    /// <summary>Kilometres of its odometer as they were then; null without one.</summary>
    public double? Km { get; init; }

    /// <summary>When it was put together, by the server's clock: a standing that is older than the shift is not known.</summary>
    public DateTimeOffset At { get; init; }

    /// <summary>First accepted reading held; the others follow by minutes and tenths of an hour since the one before.</summary>
    public Reading? FirstReading { get; init; }
    public IReadOnlyList<int> Readings { get; init; } = [];
    public IReadOnlyList<KitParked> Parked { get; init; } = [];

    /// <summary>Life hours less what the meter shows.</summary>
    public MeterHours Offset { get; init; }

    /// <summary>Version of its walk list; null for none.</summary>
    public int? List { get; init; }

    /// <summary>Life hours at which the checks of longer cadences were last made.</summary>
    public IReadOnlyDictionary<string, MeterHours> Done { get; init; } = ImmutableDictionary<string, MeterHours>.Empty;
    public IReadOnlyList<MachineCheck> Own { get; init; } = [];

    /// <summary>Defects that stand against it, the gravest first.</summary>
    public IReadOnlyList<DefectRow> Defects { get; init; } = [];

    /// <summary>Fixes that are looked at again some time.</summary>
    public IReadOnlyList<DefectRow> LookAgain { get; init; } = [];

    /// <summary>Other defects that its checks found in the last days.</summary>
    public IReadOnlyList<DefectRow> Lately { get; init; } = [];

    /// <summary>Compartments, and the life hours at which they were last filled or topped up.</summary>
    public IReadOnlyDictionary<string, MeterHours> Filled { get; init; } = ImmutableDictionary<string, MeterHours>.Empty;

    /// <summary>The same of top-ups alone.</summary>
    public IReadOnlyDictionary<string, MeterHours> ToppedUp { get; init; } = ImmutableDictionary<string, MeterHours>.Empty;
    public RunFacts Facts { get; init; } = RunFacts.Nothing;
    public KitWalk? Last { get; init; }

    /// <summary>How it was left the evening before; null when nobody said, or it was walked since.</summary>
    public KitParking? Parking { get; init; }

    /// <summary>Fittings that refused grease lately, by check code.</summary>
    public IReadOnlyDictionary<string, IReadOnlyList<GreaseMemory>> Grease { get; init; } =
        ImmutableDictionary<string, IReadOnlyList<GreaseMemory>>.Empty;

    /// <summary>What codes of its display mean.</summary>
    public IReadOnlyDictionary<string, string> Codes { get; init; } = ImmutableDictionary<string, string>.Empty;

    /// <summary>Parameter numbers that stop it besides those that Nippers knows.</summary>
    public IReadOnlyList<int> StopSpns { get; init; } = [];

    /// <summary>How its walks go against the usual time.</summary>
    public double Pace { get; init; } = 1;

    /// <summary>When somebody last walked round it.</summary>
    public DateTimeOffset? WalkedAt { get; init; }
    public DateOnly? WalkedOn { get; init; }

    /// <summary>Its open job card; null for none.</summary>
    public KitCard? Card { get; init; }

    /// <summary>Names of its compartments, by code.</summary>
    public IReadOnlyDictionary<string, string> Compartments { get; init; } = ImmutableDictionary<string, string>.Empty;

    /// <summary>The machine as walks and forms know it.</summary>
    public Machine ToMachine() =>
        new()
        {
            Id = Id,
            Unit = Unit,
            Kind = MachineKind.Of(Kind),
            Make = Make,
            Model = Model,
            Options = Options,
            CommissionedOn = CommissionedOn,
            CommissionedHours = CommissionedHours,
            PlannedHoursPerDay = PlannedHoursPerDay,
            Site = new()
            {
                Name = Site.Name,
                TimeZone = Site.TimeZone,
                Contact = Site.Contact,
                StopsEachWalk = Site.StopsEachWalk,
                ShiftFrom = Site.ShiftFrom,
                ShiftTo = Site.ShiftTo,
                WorkDays = Site.WorkDays,
            },
        };

    /// <summary>Whether what is said here of its standing is of this shift; older than that nothing is known.</summary>
    /// <param name="now">Now, by the server's clock.</param>
    public bool IsOfThisShift(DateTimeOffset now)
    {
        var local = TimeZoneInfo.ConvertTime(now, TimeZoneInfo.FindSystemTimeZoneById(Site.TimeZone));
        var began = local.Date.AddMinutes(Site.ShiftFrom);
        if (local.DateTime < began)
            began = began.AddDays(-1);
        return At >= new DateTimeOffset(began, local.Offset);
    }

    /// <summary>May it run, by what the phone holds.</summary>
    [JsonIgnore]
    public RunAnswer Answer => Facts.Answer(Defects.Select(x => x.Clock));

    /// <summary>Its readings as they were.</summary>
    public MeterRecord ToRecord()
    {
        var readings = ImmutableArray.CreateBuilder<Reading>();
        if (FirstReading is { } at)
        {
            readings.Add(at);
            for (var i = 0; i + 1 < Readings.Count; i += 2)
                readings.Add(at = new(at.At.AddMinutes(Readings[i]), new(at.Hours.Tenths + Readings[i + 1])));
        }

        return new(
            readings.ToImmutable(),
            [.. Parked.Select(x => new ParkedSpan(x.From, x.To))],
            PlannedHoursPerDay,
            CommissionedOn,
            CommissionedHours
        );
    }

    /// <summary>Minutes and tenths between readings; a reading's second is not needed to judge the next.</summary>
    public static IReadOnlyList<int> Steps(ImmutableArray<Reading> readings)
    {
        var steps = new List<int>(readings.Length * 2);
        for (var i = 1; i < readings.Length; i++)
        {
            // Counted from the first, so that rounding does not add up.
            var from = Math.Round((readings[i - 1].At - readings[0].At).TotalMinutes);
            steps.Add((int)(Math.Round((readings[i].At - readings[0].At).TotalMinutes) - from));
            steps.Add((int)(readings[i].Hours.Tenths - readings[i - 1].Hours.Tenths));
        }

        return steps;
    }
}

/// <summary>An answer of a walk as a phone holds it.</summary>
public sealed record KitAnswer(int Revision, string By, DateTimeOffset At, string Answer);

/// <summary>A walk that a phone goes on with, or began itself.</summary>
public sealed record PhoneWalk
{
    /// <summary>Its number; below zero for one that the server does not know yet.</summary>
    public required long Id { get; init; }

    /// <summary>What it is called from its beginning on, with and without a server.</summary>
    public required string Batch { get; init; }
    public required KitMachine Machine { get; init; }
    public required int Version { get; init; }
    public WalkRound Round { get; init; }
    public DateOnly On { get; init; }
    public DateTimeOffset StartedAt { get; init; }
    public string StartedBy { get; init; } = "";
    public bool Late { get; init; }
    public MeterHours LifeHours { get; init; }
    public MeterHours ShownHours { get; init; }
    public Weather Weather { get; init; }
    public Ground Ground { get; init; }
    public string Checks { get; init; } = "";

    /// <summary>Since when the machine stood as it was parked; null when it was moved, or nobody said so.</summary>
    public DateTimeOffset? ParkedAt { get; init; }

    /// <summary>Answers and ticks that the server has.</summary>
    public IReadOnlyDictionary<string, KitAnswer> Rows { get; init; } = ImmutableDictionary<string, KitAnswer>.Empty;

    /// <summary>Defects of which something was said on it.</summary>
    public IReadOnlyList<long> SpokenOf { get; init; } = [];

    /// <summary>Defects found on it that the server has.</summary>
    public IReadOnlyList<DefectRow> Found { get; init; } = [];
}

/// <summary>What a phone keeps in its outbox.</summary>
public enum EntryKind
{
    Start,
    Answer,
    AllOk,
    Tick,
    Again,
    Fault,
    Told,
    Finish,
    Hours,
    Defect,
    TopUp,

    /// <summary>A photo of what was found right, where the walk asks for one.</summary>
    Photo,

    /// <summary>How the machine was left in the evening.</summary>
    Evening,

    /// <summary>A step of a job card.</summary>
    Step,
}

/// <summary>One thing that was done on a phone, as it was typed; sent when there is a network.</summary>
public sealed record PhoneEntry
{
    /// <summary>Makes a repeat harmless.</summary>
    public required string Key { get; init; }

    /// <summary>Its place among what was done on this phone; a defect that it makes has this number below zero.</summary>
    public long Seq { get; init; }
    public EntryKind Kind { get; init; }

    /// <summary>The machine.</summary>
    public required string Unit { get; init; }

    /// <summary>Batch of the walk that it belongs to; empty for none.</summary>
    public string Walk { get; init; } = "";
    public string Step { get; init; } = "";

    /// <summary>When it was done, by the phone's own clock.</summary>
    public DateTimeOffset At { get; init; }

    /// <summary>By how much the phone's clock was ahead of the server's when they last met, ms; below zero when it was behind.</summary>
    public long AheadMs { get; init; }

    /// <summary>When it was done, by the server's clock.</summary>
    [JsonIgnore]
    public DateTimeOffset Corrected => At.AddMilliseconds(-AheadMs);

    /// <summary>The units in which its form was shown; none is metric, as phones were before they could be chosen.</summary>
    public string? Units { get; init; }

    /// <summary>The fields of its form.</summary>
    public IReadOnlyDictionary<string, IReadOnlyList<string?>> Fields { get; init; } =
        ImmutableDictionary<string, IReadOnlyList<string?>>.Empty;

    /// <summary>The fields of its form, to be read.</summary>
    [JsonIgnore]
    public TypedFields Typed => new(Fields);
}
