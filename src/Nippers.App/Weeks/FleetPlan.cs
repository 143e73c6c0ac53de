using System.Collections.Concurrent;
using System.Collections.Immutable;
using System.Text.Json;
using Nippers.Core.Service;
using Nippers.Core.Weeks;

namespace Nippers.App.Weeks;

/// <summary>What a job of the plan is.</summary>
public enum PlanJobKind
{
    /// <summary>A service visit.</summary>
    Visit,

    /// <summary>A repair of what stops a machine, or will.</summary>
    Repair,

    /// <summary>Samples of several machines of one site.</summary>
    Samples,
}

/// <summary>A machine's share of a job: a visit that is planned already, or one that the plan proposes.</summary>
/// <param name="Unit">The machine.</param>
/// <param name="Visit">The visit; null for one that is not planned yet.</param>
/// <param name="Version">Its version when the plan was made.</param>
/// <param name="Codes">Items and defects of one that is not planned yet.</param>
public sealed record PlanPiece(string Unit, long? Visit, int Version, IReadOnlyList<string> Codes);

/// <summary>Parts of a job that are not on its site's shelf.</summary>
/// <param name="Number">Part number.</param>
/// <param name="Pieces">How many are missing.</param>
/// <param name="Comes">The day on which they are here.</param>
/// <param name="Ordered">Somebody ordered them and said that day; without, it is the shop's usual wait.</param>
public sealed record MissingPart(string Number, int Pieces, DateOnly Comes, bool Ordered);

/// <summary>A job with what people read of it.</summary>
/// <param name="Rule">The job as the rule has it; its code is the plan's own.</param>
/// <param name="Kind">What it is.</param>
/// <param name="Site">Name of its site.</param>
/// <param name="Pieces">Its machines, one but for a round.</param>
/// <param name="NameHours">What a visit is called by; 0 when none has hours.</param>
/// <param name="Items">How many items are in it.</param>
/// <param name="Worst">The most pressing status in it.</param>
/// <param name="Stopped">The machine is out of service until it is done.</param>
/// <param name="StandsFrom">The machine may not run after this day until it is done, because its parts come later; null where they do not.</param>
/// <param name="Part">1, or which of several days.</param>
/// <param name="Parts">On how many days it is done.</param>
/// <param name="Missing">Parts that it waits for.</param>
/// <param name="Subjects">What whoever does it must be qualified for, by kind of place.</param>
/// <param name="Two">Two people are needed on each of its days.</param>
/// <param name="Helps">It is the second person's: whoever helps.</param>
public sealed record PlanJob(
    WeekJob Rule,
    PlanJobKind Kind,
    string Site,
    IReadOnlyList<PlanPiece> Pieces,
    int NameHours,
    int Items,
    DueStatus Worst,
    bool Stopped,
    DateOnly? StandsFrom,
    int Part,
    int Parts,
    IReadOnlyList<MissingPart> Missing,
    IReadOnlyList<string> Subjects,
    bool Two = false,
    bool Helps = false
)
{
    /// <summary>What it is called by in the plan.</summary>
    public string Code => Rule.Code;

    /// <summary>What the first of its days is called by in the plan: itself for a job of one.</summary>
    public string First => Part == 1 && !Helps ? Code : Code[..Code.LastIndexOf('.')];

    /// <summary>Its machines.</summary>
    public IEnumerable<string> Units => Pieces.Select(x => x.Unit);
}

/// <summary>Somebody in a plan.</summary>
/// <param name="Rule">As the rule has them; their code is their account's.</param>
/// <param name="Name">Their name.</param>
/// <param name="Reserve">Minutes of each day that are kept for breakdowns.</param>
public sealed record PlanPerson(WeekPerson Rule, string Name, ImmutableArray<int> Reserve);

/// <summary>Minutes between two sites.</summary>
/// <param name="Said">Somebody entered it; without, it is what is taken where nobody did.</param>
public sealed record PlanRoad(string A, string B, int Minutes, bool Said);

/// <summary>What is supposed for once, without being so.</summary>
public sealed record WhatIf
{
    /// <summary>Accounts of people who would not be there.</summary>
    public IReadOnlyList<string> Without { get; init; } = [];

    /// <summary>A machine that would have to work, and through which day.</summary>
    public string? BusyUnit { get; init; }

    /// <summary>The last day on which it works.</summary>
    public DateOnly? BusyUntil { get; init; }

    /// <summary>A machine that would work somewhere new.</summary>
    public string? FarUnit { get; init; }

    /// <summary>Minutes from every site to there.</summary>
    public int? FarMinutes { get; init; }

    /// <summary>Nothing is supposed.</summary>
    public bool IsEmpty => Without.Count == 0 && BusyUnit is null && FarUnit is null;
}

/// <summary>A plan by weeks: what there is to do, who is there, and who does what when.</summary>
public sealed record FleetPlan
{
    /// <summary>Its first day.</summary>
    public required DateOnly From { get; init; }

    /// <summary>Days that it looks ahead.</summary>
    public required int Days { get; init; }
    public required double CallOut { get; init; }
    public required double PerTravelMinute { get; init; }
    public required double LeftOut { get; init; }
    public required double Moving { get; init; }
    public required string Currency { get; init; }
    public required WhatIf If { get; init; }
    public required IReadOnlyList<PlanPerson> People { get; init; }
    public required IReadOnlyList<PlanJob> Jobs { get; init; }
    public required IReadOnlyList<PlanRoad> Roads { get; init; }

    /// <summary>Machines that may need something and were not looked at, because there are too many.</summary>
    public int NotLooked { get; init; }

    /// <summary>Machines something of which is in no job, because no card can be made of it: their own pages say why.</summary>
    public IReadOnlyList<string> NoCard { get; init; } = [];

    /// <summary>Jobs whose pins could not be held any longer.</summary>
    public IReadOnlyList<string> LetGo { get; init; } = [];

    /// <summary>Who does what when; what is missing is left out.</summary>
    public ImmutableSortedDictionary<string, WeekPlace> Places { get; init; } = ImmutableSortedDictionary<string, WeekPlace>.Empty;
    public double Cost { get; init; }
    public double Bound { get; init; }

    /// <summary>The plan before a person's last change to it; null where there was none.</summary>
    public ImmutableSortedDictionary<string, WeekPlace>? Before { get; init; }
    public double? CostBefore { get; init; }

    /// <summary>At most so much better is possible, as a share of the cost.</summary>
    public double Gap => new WeekPlan(Places, Cost, Bound).Gap;

    /// <summary>The same as the rule takes it.</summary>
    public WeekCase ToCase() =>
        new()
        {
            Days = Days,
            CallOut = CallOut,
            PerTravelMinute = PerTravelMinute,
            LeftOut = LeftOut,
            Moving = Moving,
            People = [.. People.Select(x => x.Rule)],
            Jobs = [.. Jobs.Select(x => x.Rule)],
            Travel = Roads.ToImmutableDictionary(x => (x.A, x.B), x => x.Minutes),
        };

    /// <summary>Where the jobs stood that were announced.</summary>
    public ImmutableSortedDictionary<string, WeekPlace> Announced =>
        Jobs.Where(x => x.Rule.Announced is not null)
            .ToImmutableSortedDictionary(x => x.Code, x => x.Rule.Announced!, StringComparer.Ordinal);

    private static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web);

    /// <summary>As it is kept.</summary>
    public string Write() => JsonSerializer.Serialize(this, Json);

    // Each page of the plan reads the same text, and to take some hundred jobs from it takes longer than the page. What was read is never
    // changed.
    private const int MostRead = 16;
    private static readonly ConcurrentDictionary<string, FleetPlan> WasRead = new(StringComparer.Ordinal);

    /// <summary>A kept one.</summary>
    public static FleetPlan Read(string body)
    {
        if (WasRead.TryGetValue(body, out var read))
            return read;
        if (WasRead.Count >= MostRead)
            WasRead.Clear();
        return WasRead[body] = Parse(body);
    }

    private static FleetPlan Parse(string body)
    {
        var plan = JsonSerializer.Deserialize<FleetPlan>(body, Json)!;

        // Read back they compare by the language of whoever asks.
        return plan with
        {
            Places = plan.Places.WithComparers(StringComparer.Ordinal),
            Before = plan.Before?.WithComparers(StringComparer.Ordinal),
        };
    }
}
