using System.Collections.Immutable;
using System.Text.Json.Nodes;
using CsCheck;
using Nippers.Core.Weeks;
using Nippers.Formats.Evaluate;
using Nippers.Weeks;

namespace Nippers.Core.Tests;

/// <summary>Plans of weeks: against exact optima, against their own rules, against all plans of small cases, and against chance.</summary>
public sealed class WeekTests
{
    private const double TogetherWithin = 1.01;
    private static readonly TimeSpan Enough = TimeSpan.FromSeconds(60);

    private static readonly JsonArray Cases = JsonNode
        .Parse(File.ReadAllText(Path.Combine(AppContext.BaseDirectory, "Fixtures", "weeks.json")))!
        .AsArray();

    private static readonly ImmutableDictionary<(string, string), int> Roads = new Dictionary<(string, string), int>
    {
        [("pit", "yard")] = 20,
        [("bank", "pit")] = 35,
        [("bank", "yard")] = 45,
    }.ToImmutableDictionary();

    private static readonly Gen<WeekJob> Jobs = Gen.Select(
        Gen.Int[0, 2].Select(x => new[] { "pit", "yard", "bank" }[x]),
        Gen.Int[10, 300],
        Gen.Int[-4, 6],
        Gen.Int[0, 2],
        Gen.Int[0, 900],
        Gen.Int[10, 200],
        Gen.Int[0, 2].Select(x => x == 0 ? "qualified" : null),
        (site, minutes, due, earliest, cost, every, skill) =>
            new WeekJob("", site, minutes)
            {
                Due = due,
                Earliest = earliest,
                Cost = cost,
                EveryDays = every,
                Skill = skill,
                Latest = due > 3 ? due : null,
                PerDay = cost > 800 ? 90 : 0,
                PartsDay = minutes > 250 ? 1 : 0,
            }
    );

    private static WeekCase Of(params WeekJob[] jobs) =>
        new()
        {
            Days = 3,
            CallOut = 120,
            PerTravelMinute = 1.5,
            LeftOut = 20,
            People = [new("ana", "yard", [300, 300, 0], ["qualified"]), new("tam", "pit", [300, 300, 300], [])],
            Jobs = [.. jobs],
            Travel = Roads,
        };

    private static WeekJob Job(string code, int minutes = 60, string site = "yard", double cost = 100) =>
        new(code, site, minutes)
        {
            Cost = cost,
            EveryDays = 50,
            Due = 1,
        };

    private static WeekPlan Solve(WeekCase given) => new WeekSolver().Solve(given, Enough, TestContext.Current.CancellationToken);

    [Fact]
    public void Worked_cases_are_sound_say_their_true_cost_and_together_come_within_a_hundredth_of_the_optima()
    {
        double ours = 0,
            best = 0;
        foreach (var given in Cases.Select(x => x!.AsObject()))
        {
            var name = (string)given["name"]!;
            var outcome = Evaluator.Run("weeks", new JsonArray(given.DeepClone()).ToJsonString(), new WeekSolver());
            Assert.Null(outcome.Fault);
            var result = JsonNode.Parse(outcome.Json!)![0]!;
            var read = WeekCases.Read(new(given, name));
            var places = result["jobs"]!
                .AsArray()
                .Where(x => x!["person"] is not null)
                .ToDictionary(x => (string)x!["code"]!, x => new WeekPlace((string)x!["person"]!, (int)x["day"]!));
            Assert.Equal(given["jobs"]!.AsArray().Count, result["jobs"]!.AsArray().Count);
            Assert.Empty(WeekRules.Faults(read, places));
            var cost = (double)result["cost"]!;
            Assert.Equal(WeekRules.Cost(read, places), cost, 0.001);
            var optimum = (double)given["expect"]!["cost"]!;
            Assert.True(cost >= optimum - 0.01, $"{name}: {cost} is below {optimum}");
            Assert.True((double)result["bound"]! <= cost + 0.001, name);
            ours += cost;
            best += optimum;
        }

        Assert.True(ours <= best * TogetherWithin, $"{ours} against {best}");
    }

    [Fact]
    public void The_cost_of_the_worked_plans_is_theirs()
    {
        foreach (var given in Cases.Select(x => x!.AsObject()))
        {
            var read = WeekCases.Read(new(given, (string)given["name"]!));
            var places = given["expect"]!["jobs"]!
                .AsArray()
                .Where(x => x!["person"] is not null)
                .ToDictionary(x => (string)x!["code"]!, x => new WeekPlace((string)x!["person"]!, (int)x["day"]!));
            Assert.Empty(WeekRules.Faults(read, places));
            Assert.Equal((double)given["expect"]!["cost"]!, WeekRules.Cost(read, places), 0.01);
        }
    }

    [Fact]
    public void No_plan_of_a_small_case_is_cheaper() =>
        Jobs.List[1, 3]
            .Sample(
                drawn =>
                {
                    var given = Of([.. drawn.Select((x, i) => x with { Code = $"j{i}" })]);
                    var plan = Solve(given);
                    Assert.Empty(WeekRules.Faults(given, plan.Places));
                    Assert.Equal(WeekRules.Cost(given, plan.Places), plan.Cost, 1e-6);
                    Assert.Equal(All(given, 0, []).Min(), plan.Cost, 0.01);
                    Assert.True(plan.Cost <= WeekRules.Cost(given, WeekRules.OverdueFirst(given)) + 0.01);
                },
                iter: 60,
                threads: 1
            );

    [Fact]
    public void No_worked_optimum_is_below_its_bound_and_together_they_are_near()
    {
        double bounds = 0,
            best = 0;
        foreach (var given in Cases.Select(x => x!.AsObject()))
        {
            var name = (string)given["name"]!;
            var read = WeekCases.Read(new(given, name));
            var optimum = (double)given["expect"]!["cost"]!;
            using var columns = Columns(read);
            Assert.True(columns.Bound <= optimum + 0.01, $"{name}: {columns.Bound} is above {optimum}");
            if (columns.Plan(Enough, TestContext.Current.CancellationToken) is { } plan)
            {
                Assert.Empty(WeekRules.Faults(read, plan));
                Assert.True(WeekRules.Cost(read, plan) >= optimum - 0.01, name);
            }

            bounds += columns.Bound;
            best += optimum;
        }

        Assert.True(bounds >= 0.95 * best, $"{bounds} of {best}");
    }

    [Fact]
    public void No_plan_is_below_the_bound_whatever_goes_together_or_in_order_or_is_pinned() =>
        Gen.Select(Jobs.List[2, 7], Gen.Int[0, 2], Gen.Bool)
            .Sample(
                (drawn, link, pin) =>
                {
                    var given = Of([
                        .. drawn.Select(
                            (x, i) =>
                                x with
                                {
                                    Code = $"j{i}",
                                    Together = i == 1 && link == 1 ? "j0" : null,
                                    After = i == 1 && link == 2 ? "j0" : null,
                                    Pinned = i > 1 && i == drawn.Count - 1 && pin && x.Skill is null ? new("tam", 2) : null,
                                    Announced = i == 0 ? new("ana", 1) : null,
                                }
                        ),
                    ]) with
                    {
                        Moving = 35,
                    };
                    WeekPlan plan;
                    try
                    {
                        plan = Solve(given);
                    }
                    catch (ImpossibleWeekException)
                    {
                        return;
                    }

                    Assert.Empty(WeekRules.Faults(given, plan.Places));
                    using var columns = Columns(given);
                    Assert.True(columns.Bound <= plan.Cost + 0.01, $"{columns.Bound} is above {plan.Cost}");
                    if (columns.Plan(Enough, TestContext.Current.CancellationToken) is { } whole)
                    {
                        Assert.Empty(WeekRules.Faults(given, whole));
                        Assert.True(WeekRules.Cost(given, whole) >= plan.Cost - 0.01);
                    }
                },
                iter: 150,
                threads: 1
            );

    private static WeekColumns Columns(WeekCase given) =>
        WeekColumns.Find(given, WeekPersonDay.All(given), WeekRules.OverdueFirst(given), Enough, TestContext.Current.CancellationToken);

    /// <summary>What every sound plan costs.</summary>
    private static IEnumerable<double> All(WeekCase given, int at, ImmutableDictionary<string, WeekPlace> places)
    {
        if (at == given.Jobs.Length)
            return WeekRules.Faults(given, places).Count == 0 ? [WeekRules.Cost(given, places)] : [];
        var code = given.Jobs[at].Code;
        return given
            .People.SelectMany(x => Enumerable.Range(0, given.Days).Select(day => places.SetItem(code, new(x.Code, day))))
            .Append(places)
            .SelectMany(x => All(given, at + 1, x));
    }

    [Fact]
    public void What_everybody_would_do_is_sound_and_never_cheaper() =>
        Jobs.List[1, 9]
            .Sample(
                drawn =>
                {
                    var given = Of([.. drawn.Select((x, i) => x with { Code = $"j{i}", Together = i == 1 ? "j0" : null })]);
                    var plain = WeekRules.OverdueFirst(given);
                    Assert.Empty(WeekRules.Faults(given, plain));
                    var plan = Solve(given);
                    Assert.Empty(WeekRules.Faults(given, plan.Places));
                    Assert.True(plan.Cost <= WeekRules.Cost(given, plain) + 0.01);
                    Assert.InRange(plan.Bound, -0.01, plan.Cost + 0.01);
                },
                iter: 40,
                threads: 1
            );

    public static TheoryData<LeftOutWhy, WeekJob> LeftOut() =>
        new()
        {
            { LeftOutWhy.Parts, Job("j") with { PartsDay = 3, Skill = "nobody is", Latest = -1 } },
            { LeftOutWhy.Window, Job("j") with { Latest = -1, Skill = "nobody is" } },
            { LeftOutWhy.Window, Job("j") with { Earliest = 1, Latest = 2, Blocked = [1, 2] } },
            { LeftOutWhy.Window, Job("j") with { PartsDay = 2, Latest = 1 } },
            { LeftOutWhy.Skill, Job("j", minutes: 900) with { Skill = "nobody is" } },
            { LeftOutWhy.Minutes, Job("j", minutes: 301) },
            { LeftOutWhy.Minutes, Job("j", minutes: 270, site: "bank") },
            { LeftOutWhy.Minutes, Job("j") with { Earliest = 2, Skill = "qualified" } },
            { LeftOutWhy.Others, Job("j", minutes: 200, cost: 0) },
        };

    [Theory]
    [MemberData(nameof(LeftOut))]
    public void A_job_that_is_left_out_says_why(LeftOutWhy why, WeekJob job)
    {
        var given = Of([
            job,
            .. Enumerable.Range(0, 5).Select(x => Job($"heavy{x}", minutes: 250, site: x < 3 ? "pit" : "yard", cost: 5000)),
        ]);
        var plan = Solve(given);
        Assert.DoesNotContain("j", plan.Places.Keys);
        Assert.Equal(why, WeekRules.Why(given, job));
    }

    [Fact]
    public void A_pin_stands_above_window_and_parts_and_the_days_on_which_the_machine_works()
    {
        var pin = new WeekPlace("tam", 2);
        var given = Of(Job("j") with { Earliest = 0, Latest = 1, PartsDay = 9, Blocked = [2], Pinned = pin });
        Assert.Equal(pin, Solve(given).Places["j"]);
        Assert.Empty(WeekRules.Faults(given, Solve(given).Places));
    }

    public static TheoryData<string, WeekJob[]> Impossible() =>
        new()
        {
            { "not qualified", [Job("j") with { Skill = "qualified", Pinned = new("tam", 0) }] },
            { "no bo", [Job("j") with { Pinned = new("bo", 0) }] },
            { "not there", [Job("j") with { Pinned = new("ana", 2) }] },
            { "not there", [Job("j") with { Pinned = new("ana", 3) }] },
            { "minutes", [Job("j", minutes: 301) with { Pinned = new("ana", 0) }] },
            { "minutes", [Job("j", minutes: 200) with { Pinned = new("ana", 0) }, Job("k", minutes: 200) with { Pinned = new("ana", 0) }] },
            { "together", [Job("j") with { Pinned = new("ana", 0), Together = "k" }, Job("k") with { Pinned = new("ana", 0) }] },
            { "together", [Job("j") with { Pinned = new("ana", 0), Together = "k" }, Job("k") with { Pinned = new("tam", 1) }] },
            { "pins", [Job("j") with { Pinned = new("ana", 0), Together = "k" }, Job("k") with { Earliest = 1 }] },
        };

    [Theory]
    [MemberData(nameof(Impossible))]
    public void A_pin_that_cannot_be_is_said_so(string said, WeekJob[] jobs) =>
        Assert.Contains(said, Assert.Throws<ImpossibleWeekException>(() => Solve(Of(jobs))).Message, StringComparison.Ordinal);

    [Fact]
    public void Money_without_end_is_still_weighed()
    {
        var given = Of(Job("j", cost: 1e9) with { Due = -100_000, EveryDays = 1, PerDay = 1e9 }, Job("k", cost: 1e9)) with
        {
            LeftOut = 1e9,
        };
        var plan = Solve(given);
        Assert.Equal(0, plan.Places["j"].Day);
        Assert.Equal(1, plan.Places["k"].Day);
    }

    [Fact]
    public void A_shorter_look_gives_a_sound_plan_no_dearer_than_the_overdue_first()
    {
        var given = Of([
            .. Enumerable.Range(0, 9).Select(x => Job($"j{x}", minutes: 40 + 15 * x, site: x % 2 == 0 ? "pit" : "bank", cost: 90 * x)),
        ]);
        var plans = new[] { Enough, TimeSpan.FromSeconds(1) }.Select(x => new WeekSolver().Solve(given, x)).ToList();
        Assert.All(plans, x => Assert.Empty(WeekRules.Faults(given, x.Places)));
        Assert.InRange(plans[1].Cost, plans[0].Cost - 0.01, WeekRules.Cost(given, WeekRules.OverdueFirst(given)) + 0.01);
    }

    [Fact]
    public void Two_who_are_needed_together_take_one_day_or_none()
    {
        var pair = new[] { Job("j") with { Together = "k" }, Job("k") with { Earliest = 1 } };
        var plan = Solve(Of(pair));
        Assert.Equal(plan.Places["j"].Day, plan.Places["k"].Day);
        Assert.NotEqual(plan.Places["j"].Person, plan.Places["k"].Person);
        Assert.Empty(Solve(Of(pair[0], pair[1] with { Minutes = 400 })).Places);
    }

    [Fact]
    public void A_repair_longer_than_a_day_goes_on_the_day_after()
    {
        var plan = Solve(Of(Job("first", minutes: 250), Job("second", minutes: 250) with { After = "first" }));
        Assert.True(plan.Places["first"].Day < plan.Places["second"].Day);
        Assert.Empty(Solve(Of(Job("first", minutes: 400), Job("second") with { After = "first" })).Places);

        // Nothing is taken apart that is not put together again.
        var half = Of(Job("first"), Job("second", minutes: 400) with { After = "first" });
        Assert.Empty(Solve(half).Places);
        Assert.Empty(WeekRules.OverdueFirst(half));
        Assert.Contains("second", Assert.Single(WeekRules.Faults(half, Solve(Of(Job("first"))).Places)), StringComparison.Ordinal);
    }

    [Fact]
    public void What_was_announced_is_not_turned_over_for_little()
    {
        var announced = Job("j") with { Due = 0, Announced = new("ana", 1) };
        Assert.Equal(0, Solve(Of(announced)).Places["j"].Day);
        var kept = Solve(Of(announced) with { Moving = 500 });
        Assert.Equal(announced.Announced, kept.Places["j"]);
        Assert.Equal(WeekRules.Cost(Of(announced), kept.Places), kept.Cost, 1e-6);

        // A stop weighs more than the trouble.
        Assert.Equal(0, Solve(Of(announced with { PerDay = 900 }) with { Moving = 500 }).Places["j"].Day);
    }

    [Theory]
    [InlineData("pit", "", 0)]
    [InlineData("pit", "pit", 0)]
    [InlineData("pit", "yard", 40)]
    [InlineData("pit", "yard bank", 100)]
    [InlineData("yard", "pit bank yard", 100)]
    public void A_tour_is_the_shortest_through_its_sites_and_back(string home, string sites, int minutes) =>
        Assert.Equal(minutes, WeekRules.Tour(Of(), home, sites.Split(' ', StringSplitOptions.RemoveEmptyEntries)));

    [Theory]
    [InlineData("\"days\":4", "\"days\":0", "days must lie between 1 and 366")]
    [InlineData("\"days\":4", "\"days\":5", "minutes must hold 5 numbers")]
    [InlineData("\"pit|yard\":15", "\"yard|pit\":15", "no two sites in alphabetical order")]
    [InlineData("\"pit|yard\":15", "\"bank|yard\":15", "does not say how far it is from pit to yard")]
    [InlineData("\"everyDays\":125", "\"everyDays\":0", "everyDays must lie between 1")]
    [InlineData("\"code\":\"j1\"", "\"code\":\"j0\"", "has j0 twice")]
    [InlineData("\"together\":null", "\"together\":\"j9\"", "together with j9, which is no other job")]
    [InlineData("\"pinned\":null", "\"pinned\":{\"person\":\"p9\",\"day\":0}", "pinned to p9, who is nobody")]
    public void A_case_that_cannot_be_read_names_its_field(string was, string now, string said)
    {
        var text = new JsonArray(Cases[0]!.DeepClone()).ToJsonString();
        var at = text.IndexOf(was, StringComparison.Ordinal);
        Assert.True(at >= 0, was);
        var outcome = Evaluator.Run("weeks", text[..at] + now + text[(at + was.Length)..], new WeekSolver());
        Assert.Contains(said, outcome.Fault, StringComparison.Ordinal);
    }

    public static TheoryData<string, WeekJob, WeekFit?> Fits() =>
        new()
        {
            // On the third day there is tam alone, with 300 minutes and the pit for a base.
            { "nobody may", Job("j") with { Skill = "nobody is" }, null },
            { "no day is open", Job("j") with { PartsDay = 9 }, null },
            { "it has room, and is not worth the way", Job("j", cost: 0) with { Earliest = 2 }, new(new("tam", 2), 0) },
            { "no day is that long", Job("j", minutes: 500, site: "pit") with { Earliest = 2 }, new(new("tam", 2), 200) },
            { "the way counts", Job("j", minutes: 290) with { Earliest = 2 }, new(new("tam", 2), 2 * Far - 10) },
        };

    [Theory]
    [MemberData(nameof(Fits))]
    public void What_would_make_it_fit_is_whose_day_lacks_least(string why, WeekJob job, WeekFit? fit) =>
        Assert.True(new WeekFits(Of(job), ImmutableDictionary<string, WeekPlace>.Empty).Of(job) == fit, why);

    public static TheoryData<string, WeekJob, (WeekFit, WeekFit)?> FitsOfTwo() =>
        new()
        {
            { "on the third day there is one alone", Job("j") with { Earliest = 2 }, null },
            { "no day is open", Job("j") with { PartsDay = 9 }, null },
            { "both have room", Job("j"), (new(new("ana", 0), 0), new(new("tam", 0), 0)) },
            { "the first one must be qualified", Job("j") with { Skill = "qualified" }, (new(new("ana", 0), 0), new(new("tam", 0), 0)) },
            {
                "whoever has less room counts, and the way of both",
                Job("j", minutes: 290, site: "pit") with
                {
                    Earliest = 1,
                },
                (new(new("ana", 1), 2 * Far - 10), new(new("tam", 1), 0))
            },
        };

    [Theory]
    [MemberData(nameof(FitsOfTwo))]
    public void What_wants_two_fits_on_the_day_on_which_two_lack_least(string why, WeekJob job, (WeekFit, WeekFit)? fit)
    {
        var helps = job with { Code = "k", Together = job.Code, Skill = null, Cost = 0 };
        var found = new WeekFits(Of(job, helps), ImmutableDictionary<string, WeekPlace>.Empty).OfTwo(job, helps);
        Assert.True(found == fit, why);
    }

    [Fact]
    public void What_stands_on_a_day_already_counts_against_what_would_fit()
    {
        var job = Job("j", minutes: 100, site: "pit") with { Earliest = 2 };
        var given = Of(job, Job("heavy", minutes: 240, site: "pit"));
        var places = ImmutableDictionary<string, WeekPlace>.Empty.Add("heavy", new("tam", 2));
        Assert.Equal(new(new("tam", 2), 40), new WeekFits(given, places).Of(job));
    }

    [Fact]
    public void A_way_goes_through_all_its_sites_once_and_is_as_long_as_the_shortest_order_of_them() =>
        Gen.Int[0, 60]
            .Array[15]
            .Select(Gen.Int[0, 5], (far, count) => (far, count))
            .Sample(x =>
            {
                var sites = Enumerable.Range(0, 6).Select(i => $"s{i}").ToArray();
                var pairs = Enumerable.Range(0, 6).SelectMany(a => Enumerable.Range(a + 1, 5 - a).Select(b => (sites[a], sites[b])));
                var given = Of() with { Travel = pairs.Zip(x.far).ToImmutableDictionary(y => y.First, y => y.Second) };
                var stops = sites[1..(x.count + 1)];
                var way = WeekRules.Way(given, "s0", stops);
                Assert.Equal("s0", way[0]);
                Assert.Equal(stops.Order(), way[1..].Order());
                var least = Orders(stops).Min(order => Length(given, order));
                Assert.Equal(least, Length(given, [.. way[1..]]));
                Assert.Equal(least, WeekRules.Tour(given, "s0", stops));
            });

    [Fact]
    public void What_a_plan_costs_is_the_sum_of_what_for()
    {
        var given = Of(
            Job("road", cost: 0),
            Job("late") with
            {
                Due = -2,
                EveryDays = 10,
            },
            Job("moved", cost: 0) with
            {
                Announced = new("ana", 1),
            },
            Job("left", cost: 7) with
            {
                PerDay = 3,
            }
        ) with
        {
            Moving = 40,
        };
        var places = new Dictionary<string, WeekPlace>
        {
            ["road"] = new("tam", 0),
            ["late"] = new("tam", 0),
            ["moved"] = new("tam", 0),
        };
        var cost = WeekRules.CostOf(given, places);
        Assert.Equal(given.CallOut + 2 * Far * given.PerTravelMinute, cost.Road, 1e-6);
        Assert.Equal(10 * 100 * 2 / 10, cost.Days, 1e-6);
        Assert.Equal(40, cost.Moved, 1e-6);
        Assert.Equal(given.LeftOut * 7 + 3 * given.Days, cost.Left, 1e-6);
        Assert.Equal(WeekRules.Cost(given, places), cost.Whole, 1e-6);
    }

    [Fact]
    public void Repairs_of_two_days_are_whole_and_in_order_however_short_the_look() =>
        Gen.Select(Gen.Int[40, 260].Array[6], Gen.Int[0, 1].Array[6])
            .Sample(
                x =>
                {
                    var jobs = x.Item1.SelectMany(
                        (minutes, i) =>
                            new[]
                            {
                                Job($"a{i}", minutes, x.Item2[i] == 0 ? "yard" : "pit"),
                                Job($"b{i}", minutes) with
                                {
                                    After = $"a{i}",
                                },
                            }
                    );
                    var given = Of([.. jobs]);
                    var plan = new WeekSolver().Solve(given, TimeSpan.FromSeconds(1));
                    Assert.Empty(WeekRules.Faults(given, plan.Places));
                    Assert.True(plan.Cost <= WeekRules.Cost(given, WeekRules.OverdueFirst(given)) + 0.01);
                },
                iter: 8,
                threads: 1
            );

    private static int Far => Of().Between("yard", "pit");

    private static int Length(WeekCase given, IReadOnlyList<string> order) =>
        order.Count == 0 ? 0 : order.Prepend("s0").Zip(order, given.Between).Sum() + given.Between(order[^1], "s0");

    private static IEnumerable<IReadOnlyList<string>> Orders(string[] of) =>
        of.Length == 0
            ?
            [
                [],
            ]
            : of.SelectMany(first => Orders([.. of.Where(x => x != first)]).Select(rest => (IReadOnlyList<string>)[first, .. rest]));
}
