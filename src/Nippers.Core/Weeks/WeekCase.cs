using System.Collections.Immutable;

namespace Nippers.Core.Weeks;

/// <summary>A person and a day.</summary>
/// <param name="Person">Code of the person.</param>
/// <param name="Day">Days from today, 0 being today.</param>
public sealed record WeekPlace(string Person, int Day);

/// <summary>Something to be done by one person on one day: a visit, a repair to its limit, a round for samples.</summary>
/// <param name="Code">What it is called by.</param>
/// <param name="Site">Where.</param>
/// <param name="Minutes">How long it takes there, whole minutes.</param>
public sealed record WeekJob(string Code, string Site, int Minutes)
{
    /// <summary>What whoever does it must be; null for anybody.</summary>
    public string? Skill { get; init; }

    /// <summary>The first day on which it makes sense.</summary>
    public int Earliest { get; init; }

    /// <summary>The day on which it is due; it may lie before today.</summary>
    public int Due { get; init; }

    /// <summary>The day after which the work is not allowed; null where it only becomes dearer.</summary>
    public int? Latest { get; init; }

    /// <summary>What is in it costs so much, once in <see cref="EveryDays"/>; money.</summary>
    public double Cost { get; init; }

    /// <summary>How often it comes, days, above 0.</summary>
    public int EveryDays { get; init; } = 1;

    /// <summary>Money lost for every day until it is done: a machine that stands.</summary>
    public double PerDay { get; init; }

    /// <summary>The day from which all its parts are on the shelf.</summary>
    public int PartsDay { get; init; }

    /// <summary>Days on which the machine must work.</summary>
    public ImmutableHashSet<int> Blocked { get; init; } = [];

    /// <summary>Another job on the same day by another person: two are needed, and both are done or neither; null for none.</summary>
    public string? Together { get; init; }

    /// <summary>
    /// Another job that must be over on a day before: a repair longer than a day is several in order, and all are done or none, because
    /// half of one leaves a machine in pieces; null for none.
    /// </summary>
    public string? After { get; init; }

    /// <summary>Where a person put it; null where nobody did.</summary>
    public WeekPlace? Pinned { get; init; }

    /// <summary>Where it was announced; null where it was not. It costs the plan's moving money to be put elsewhere.</summary>
    public WeekPlace? Announced { get; init; }
}

/// <summary>Somebody who does jobs.</summary>
/// <param name="Code">What they are called by.</param>
/// <param name="Base">The site where their days begin and end.</param>
/// <param name="Minutes">What they have each day, whole minutes, net of what is kept for breakdowns; 0 where they are not there.</param>
/// <param name="Skills">What they are.</param>
public sealed record WeekPerson(string Code, string Base, ImmutableArray<int> Minutes, ImmutableHashSet<string> Skills);

/// <summary>What there is to plan; rules: The plan by weeks.</summary>
public sealed record WeekCase
{
    /// <summary>Days that are planned, from today.</summary>
    public required int Days { get; init; }

    /// <summary>Money for each different site of a person's day.</summary>
    public required double CallOut { get; init; }

    /// <summary>Money for each minute on the road.</summary>
    public required double PerTravelMinute { get; init; }

    /// <summary>A job that is left out costs its cost so many times.</summary>
    public required double LeftOut { get; init; }

    /// <summary>Money for a job that was announced and is put elsewhere, or left out.</summary>
    public double Moving { get; init; }

    /// <summary>Who does jobs.</summary>
    public required ImmutableArray<WeekPerson> People { get; init; }

    /// <summary>The jobs, each code once.</summary>
    public required ImmutableArray<WeekJob> Jobs { get; init; }

    /// <summary>Whole minutes between two sites, by both their names in alphabetical order; shortcuts are in it already.</summary>
    public required ImmutableDictionary<(string, string), int> Travel { get; init; }

    /// <summary>Minutes between two sites; 0 from a site to itself.</summary>
    /// <exception cref="KeyNotFoundException">Nobody said how far it is.</exception>
    public int Between(string a, string b) => a == b ? 0 : Travel[string.CompareOrdinal(a, b) < 0 ? (a, b) : (b, a)];
}

/// <summary>Why a job has no day.</summary>
public enum LeftOutWhy
{
    /// <summary>Its parts come after the last day.</summary>
    Parts,

    /// <summary>Its first day, its last day and the days on which the machine works leave none.</summary>
    Window,

    /// <summary>Nobody may do it.</summary>
    Skill,

    /// <summary>Nobody who may do it has time enough on any of its days.</summary>
    Minutes,

    /// <summary>It could be done, and others weigh more.</summary>
    Others,
}

/// <summary>Whose day would take a job that was left out.</summary>
/// <param name="Place">Who, and when.</param>
/// <param name="Lacks">Minutes that day lacks; 0 where it has them.</param>
public sealed record WeekFit(WeekPlace Place, int Lacks);

/// <summary>Who does which job on which day.</summary>
/// <param name="Places">Where each job is; one that is missing is left out.</param>
/// <param name="Cost">What it costs, money.</param>
/// <param name="Bound">No plan costs less than this, money.</param>
public sealed record WeekPlan(ImmutableSortedDictionary<string, WeekPlace> Places, double Cost, double Bound)
{
    /// <summary>At most so much better is possible, as a share of the cost.</summary>
    public double Gap => Cost <= 0 ? 0 : Math.Max(0, (Cost - Bound) / Cost);
}

/// <summary>What a plan costs, by what for; money.</summary>
/// <param name="Road">Going there: call-outs and minutes on the road.</param>
/// <param name="Days">What is done early or late, and what stands until it is done.</param>
/// <param name="Moved">What was announced and is put elsewhere.</param>
/// <param name="Left">What is left out: nobody pays it, it weighs.</param>
public sealed record WeekCost(double Road, double Days, double Moved, double Left)
{
    /// <summary>All of it together.</summary>
    public double Whole => Road + Days + Moved + Left;
}

/// <summary>Pins that no plan can hold.</summary>
public sealed class ImpossibleWeekException(string reason) : Exception(reason);

/// <summary>Finds a plan of weeks.</summary>
public interface IWeekSolver
{
    /// <summary>The cheapest plan that is found in time.</summary>
    /// <param name="given">What there is to plan.</param>
    /// <param name="most">How long to look.</param>
    /// <param name="ct">Stops looking; what is found by then is thrown away.</param>
    /// <exception cref="ImpossibleWeekException">No plan holds the pins.</exception>
    WeekPlan Solve(WeekCase given, TimeSpan most, CancellationToken ct = default);
}
