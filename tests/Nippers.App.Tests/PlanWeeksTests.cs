using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;
using Nippers.App.Defects;
using Nippers.App.Parts;
using Nippers.App.Visits;
using Nippers.App.Weeks;
using Nippers.Core.Defects;
using Nippers.Core.Weeks;
using Nippers.Data;
using Nippers.Data.Defects;
using Nippers.Data.Parts;
using Nippers.Data.People;
using Nippers.Data.Programs;
using Nippers.Data.Visits;
using Nippers.Data.Weeks;
using static Nippers.App.Tests.CardRig;
using static Nippers.App.Tests.Outcomes;

namespace Nippers.App.Tests;

/// <summary>A fleet's plan by weeks: what becomes a job, who may do it when, and what keeping it does to visits.</summary>
public sealed class PlanWeeksTests
{
    private const string TamId = "tam";
    private const string BeaId = "bea";
    private static readonly TimeSpan Look = TimeSpan.FromSeconds(20);
    private static readonly string?[] Weekdays = ["0", "8", "8", "8", "8", "8", "0"];

    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    // The sixteenth of March 2026 is a Monday.
    private static DateOnly Today => new(2026, 3, 16);

    /// <summary>A loader with parts and prices, two technicians, and a second site an hour away.</summary>
    private static async Task<Fleet> Crew()
    {
        var fleet = await Ready();
        await fleet.Ask(async db =>
        {
            db.Roles.AddRange(new IdentityRole(Roles.Technician) { Id = "t" }, new IdentityRole(Roles.Planner) { Id = "p" });
            foreach (var (id, name, role) in new[] { (TamId, "Tam Ollery", "t"), (BeaId, "Bea Lund", "t"), ("mara", "Mara Quill", "p") })
            {
                db.Users.Add(
                    new NippersUser
                    {
                        Id = id,
                        UserName = id,
                        FullName = name,
                    }
                );
                db.UserRoles.Add(new() { UserId = id, RoleId = role });
            }

            db.Sites.Add(new() { Name = "Pit", TimeZone = "UTC" });
            return await db.SaveChangesAsync(Ct);
        });
        foreach (var id in new[] { TamId, BeaId })
            await Ok<CrewBook, CrewRow>(fleet, x =>
                x.Save(new(id, "Yard", true, Weekdays, [.. Enum.GetValues<CompartmentKind>()], 0), Mara, Ct)
            );
        return fleet;
    }

    private static Task<FleetPlan> Gather(Fleet fleet, WhatIf? suppose = null) =>
        fleet.Do<FleetJobs, FleetPlan>(x => x.Gather(suppose ?? new(), Ct));

    private static Task<FleetPlan> Solve(Fleet fleet, WhatIf? suppose = null) =>
        Ok<PlanWeeks, FleetPlan>(fleet, x => x.Solve("mara", suppose ?? new(), Look, Ct));

    private static async Task<KeptPlan> KeepPlan(Fleet fleet)
    {
        var draft = (await fleet.Do<PlanWeeks, (FleetPlan, int)?>(x => x.Draft("mara", Ct)))!.Value;
        return await Ok<PlanWeeks, KeptPlan>(fleet, x => x.Keep("mara", draft.Item2, Mara, Ct));
    }

    private static async Task<int> Version(Fleet fleet) =>
        (await fleet.Do<PlanWeeks, (FleetPlan, int)?>(x => x.Draft("mara", Ct)))!.Value.Item2;

    private static Task<List<PlannedJob>> Kept(Fleet fleet) =>
        fleet.Ask(db => db.PlannedJobs.AsNoTracking().Include(x => x.Visit).OrderBy(x => x.On).ToListAsync(Ct));

    [Fact]
    public async Task What_comes_due_is_a_job_and_a_plan_of_it_is_sound()
    {
        await using var fleet = await Crew();
        var plan = await Solve(fleet);
        Assert.NotEmpty(plan.Jobs);
        Assert.All(plan.Jobs, x => Assert.True(x.Rule.Minutes > 0 && x.Rule.Cost > 0 && x.Rule.EveryDays > 0, x.Code));
        Assert.Empty(WeekRules.Faults(plan.ToCase(), plan.Places));
        Assert.NotEmpty(plan.Places);
        Assert.Equal(plan.Cost, WeekRules.Cost(plan.ToCase(), plan.Places), 1e-6);
        Assert.Equal(plan.Jobs.Count, plan.Jobs.Select(x => x.Code).Distinct().Count());
        Assert.Empty(await fleet.Ask(db => db.Visits.ToListAsync(Ct)));
    }

    /// <summary>Everything has been due for a year, and much is broken: more steps than one card holds.</summary>
    [Fact]
    public async Task A_visit_of_more_steps_than_a_card_holds_is_several_on_days_of_their_own_and_nothing_is_dropped()
    {
        await using var fleet = await Crew();
        fleet.Clock.Advance(TimeSpan.FromDays(800));
        Assert.True((await fleet.Log("WL-01", 9000, fleet.Clock.GetUtcNow())).Done);
        for (var i = 0; i < 60; i++)
            await Ok<ReportDefect, DefectRow>(fleet, x => x.Run(
                    new()
                    {
                        Unit = "WL-01",
                        Words = $"lamp {i} is dim",
                        Part = $"lamp {i}",
                        On = MachinePart.Electrics,
                        Grade = DefectGrade.NextService,
                    },
                    Fleet.Tam,
                    Ct
                ));
        var proposal = (await fleet.Do<VisitProposals, VisitProposal?>(x => x.Of("WL-01", Ct)))!;
        var all = proposal.Visits[0].Items.Select(x => x.Candidate).ToList();
        Assert.Equal("cardImpossible", PlanVisit.Worked(proposal, 0, all, default).Refusals[0].Code);

        // Its own page proposes what presses most, and names the rest as due.
        var draft = await Ok<PlanVisit, VisitDraft>(fleet, x => x.Draft(new("WL-01", null, []), Ct));
        Assert.True(draft.Parted);
        Assert.NotEmpty(draft.Visit.Items);
        Assert.Empty(
            all.Where(x => !x.Care && !x.Joins && !x.Waits)
                .Select(x => x.Code)
                .Except(draft.Visit.Items.Select(x => x.Candidate.Code))
                .Except(draft.LeftDue.Select(x => x.Code))
        );
        var plan = await Gather(fleet);
        Assert.Empty(plan.NoCard);
        var parts = plan.Jobs.Where(x => x.Pieces.Any(y => y.Unit == "WL-01")).ToList();
        Assert.True(parts.Count > 1);
        Assert.Equal(parts.Count, parts.Select(x => x.Code).Distinct().Count());
        var held = parts.SelectMany(x => x.Pieces).SelectMany(x => x.Codes).ToHashSet();
        Assert.All(all.Where(x => !x.Care && !x.Joins && !x.Waits), x => Assert.Contains(x.Code, held));
        var begun = parts.Where(x => x.Part == 1).Select(x => x.Rule.Earliest).ToList();
        Assert.True(begun.Count > 1);
        Assert.Equal(begun.Count, begun.Distinct().Count());
    }

    [Fact]
    public async Task A_visit_for_two_takes_two_people_of_one_day_or_nobody()
    {
        await using var fleet = await Crew();
        var draft = await Ok<PlanVisit, VisitDraft>(fleet, x => x.Draft(new("WL-01", null, []), Ct));
        var input = new PlanInput(
            "WL-01",
            $"{draft.Visit.On:yyyy-MM-dd}",
            [.. draft.Visit.Items.Select(x => x.Candidate.Code)],
            TwoPeople: true
        );
        var visit = await Ok<PlanVisit, VisitRow>(fleet, x => x.Save(null, input, Mara, Ct));
        var plan = await Solve(fleet);
        var first = plan.Jobs.Single(x => x is { Two: true, Helps: false, Part: 1 });
        var second = plan.Jobs.Single(x => x is { Helps: true, Part: 1 });
        Assert.Equal((first.Code, first.Code), (second.Rule.Together, second.First));
        var (one, other) = (plan.Places[first.Code], plan.Places[second.Code]);
        Assert.Equal(one.Day, other.Day);
        Assert.NotEqual(one.Person, other.Person);
        Assert.Empty(WeekRules.Faults(plan.ToCase(), plan.Places));

        await KeepPlan(fleet);
        async Task<List<PlannedJob>> Mine() => [.. (await Kept(fleet)).Where(x => x.VisitId == visit.Id)];
        Assert.Equal(
            new[] { (plan.From.AddDays(one.Day), one.Person), (plan.From.AddDays(other.Day), other.Person) }.Order(),
            (await Mine()).Where(x => x.Part == 1).Select(x => (x.On, x.UserId)).Order()
        );

        // It takes more than a day: on each of them they are two.
        Assert.All((await Mine()).GroupBy(x => x.On), x => Assert.Equal([BeaId, TamId], x.Select(y => y.UserId).Order()));
        var again = await Solve(fleet);
        Assert.Equal((one, other), (again.Places[first.Code], again.Places[second.Code]));

        // One who is not there leaves the other nothing to do, and the page names the job once.
        var alone = await Solve(fleet, new() { Without = [BeaId] });
        Assert.DoesNotContain(first.Code, alone.Places.Keys);
        Assert.DoesNotContain(second.Code, alone.Places.Keys);
        var left = (await fleet.Do<WeekViews, WeeksPage>(x => x.Load("mara", int.MaxValue, Ct))).LeftOut;
        Assert.Single(left, x => x.Block.Job.First == first.Code);

        // One is enough after all.
        var version = await fleet.Ask(db => db.Visits.Where(x => x.Id == visit.Id).Select(x => x.Version).SingleAsync(Ct));
        await Ok<PlanVisit, VisitRow>(fleet, x => x.Save(visit.Id, input with { TwoPeople = false, Version = version }, Mara, Ct));
        Assert.NotEmpty(await Mine());
        Assert.DoesNotContain(await Mine(), x => x.Helps);
        Assert.DoesNotContain((await Gather(fleet)).Jobs, x => x.Helps);
    }

    [Fact]
    public async Task Second_people_of_plans_that_were_kept_before_they_had_a_column_stay_second()
    {
        await using var fleet = await Fleet.Empty();
        var options = new DbContextOptionsBuilder<NippersDb>();
        NippersDb.Configure(options, fleet.File + ".old");
        await using var db = new NippersDb(options.Options);
        await db.Database.OpenConnectionAsync(Ct);
        await db.GetService<IMigrator>().MigrateAsync("TwoPeople", Ct);

        // Whose visits and accounts they are is another matter.
        await db.Database.ExecuteSqlRawAsync("PRAGMA foreign_keys = OFF", Ct);
        foreach (var part in new[] { 1, 2, 101, 102 })
        {
            await db.Database.ExecuteSqlAsync(
                $"""
                INSERT INTO PlannedJobs (VisitId, Part, UserId, "On", Turn, Minutes, Pinned, Round, Sequence, ChangedMs)
                VALUES (7, {part}, 'tam', '2026-11-28', 1, 60, 0, '', 0, 0)
                """,
                Ct
            );
        }

        // Written as they were: what helps said so, and its day.
        var body = """{"jobs":[{"part":1,"helps":false,"day":1},{"part":102,"helps":true,"day":2}],"cost":102}""";
        await db.Database.ExecuteSqlAsync(
            $"""
            INSERT INTO KeptPlan (Id, "From", Days, AtMs, "By", Cost, Bound, Body, Version)
            VALUES (1, '2026-11-28', 28, 0, 'Mara', 0, 0, {body}, 1)
            """,
            Ct
        );
        await db.GetService<IMigrator>().MigrateAsync("SecondPerson", Ct);

        var jobs = await db.PlannedJobs.IgnoreQueryFilters().OrderBy(x => x.Helps).ThenBy(x => x.Part).ToListAsync(Ct);
        Assert.Equal([(1, false), (2, false), (1, true), (2, true)], jobs.Select(x => (x.Part, x.Helps)));
        Assert.Equal(body.Replace("\"part\":102", "\"part\":2", StringComparison.Ordinal), (await db.KeptPlans.SingleAsync(Ct)).Body);
    }

    [Fact]
    public async Task A_kept_plan_is_visits_with_a_person_and_planning_again_moves_nothing()
    {
        await using var fleet = await Crew();
        var plan = await Solve(fleet);
        await KeepPlan(fleet);
        var kept = await Kept(fleet);
        Assert.Equal(plan.Places.Count, kept.Count);
        Assert.All(kept, x => Assert.Equal(VisitState.Planned, x.Visit.State));
        Assert.All(kept.Where(x => x.Part == 1), x => Assert.Equal(x.On, x.Visit.On));
        Assert.Null(await fleet.Do<PlanWeeks, (FleetPlan, int)?>(x => x.Draft("mara", Ct)));

        var again = await Solve(fleet);
        Assert.NotEmpty(again.Announced);
        Assert.All(again.Announced, x => Assert.Equal(x.Value, again.Places[x.Key]));
        await KeepPlan(fleet);
        Assert.Equal(
            kept.Select(x => (x.VisitId, x.Part, x.UserId, x.On)).Order(),
            (await Kept(fleet)).Select(x => (x.VisitId, x.Part, x.UserId, x.On)).Order()
        );
    }

    [Fact]
    public async Task What_takes_several_days_is_kept_with_all_of_them_and_is_there_again()
    {
        await using var fleet = await Crew();
        string?[] shorter = ["0", "4", "4", "4", "4", "4", "0"];
        foreach (var id in new[] { TamId, BeaId })
        {
            await Ok<CrewBook, CrewRow>(fleet, x =>
                x.Save(new(id, "Yard", true, shorter, [.. Enum.GetValues<CompartmentKind>()], 1), Mara, Ct)
            );
        }

        var plan = await Solve(fleet);
        Assert.Contains(plan.Jobs, x => x.Parts > 1 && plan.Places.ContainsKey(x.Code));
        await KeepPlan(fleet);
        Assert.Equal(plan.Places.Count, (await Kept(fleet)).Count);
        var page = await fleet.Do<WeekViews, WeeksPage>(x => x.Load(null, int.MaxValue, Ct));
        var shown = page.Lines.SelectMany(x => x.Days.SelectMany(d => d.Blocks.Select(b => (b.Job.Code, x.UserId, d.On))));
        Assert.Equal(
            plan.Places.Select(x => (x.Key, x.Value.Person, plan.From.AddDays(x.Value.Day))).Order(),
            shown.Select(x => (x.Code, x.UserId, x.On)).Order()
        );
        Assert.Equal(plan.Jobs.Count(x => x.Part == 1 && !plan.Places.ContainsKey(x.Code)), page.LeftOut.Count);
        var few = await fleet.Do<WeekViews, WeeksPage>(x => x.Load(null, 0, Ct));
        Assert.Equal((0, page.LeftOut.Count), (few.LeftOut.Count, few.AllLeft));

        var again = await Solve(fleet);
        Assert.Equal(plan.Places.Count, again.Announced.Count);
        Assert.All(again.Announced, x => Assert.Equal(x.Value, again.Places[x.Key]));
    }

    [Fact]
    public async Task A_job_that_is_moved_is_pinned_and_stays_and_can_be_let_go()
    {
        await using var fleet = await Crew();
        var plan = await Solve(fleet);
        var job = plan.Jobs.First(x => plan.Places.ContainsKey(x.Code) && x.Parts == 1);
        var place = new WeekPlace(plan.Places[job.Code].Person == TamId ? BeaId : TamId, 9);
        var version = await Version(fleet);
        var moved = await Ok<PlanWeeks, FleetPlan>(fleet, x => x.Move("mara", version, job.Code, place, Ct));
        Assert.Equal(place, moved.Places[job.Code]);
        Assert.Equal(plan.Places, moved.Before);
        Assert.Equal(plan.Cost, moved.CostBefore);
        Assert.True(moved.Cost >= plan.Cost - 0.01);

        // A plan made anew holds it, and so does the next after it was kept.
        Assert.Equal(place, (await Solve(fleet)).Places[job.Code]);
        await KeepPlan(fleet);
        Assert.True((await Kept(fleet)).Single(x => x.On == Today.AddDays(9) && x.UserId == place.Person).Pinned);
        var later = await Solve(fleet);
        var same = later.Jobs.Single(x => x.Rule.Pinned == place);
        var now = await Version(fleet);
        var free = await Ok<PlanWeeks, FleetPlan>(fleet, x => x.Move("mara", now, same.Code, null, Ct));
        Assert.All(free.Jobs, x => Assert.Null(x.Rule.Pinned));
    }

    [Theory]
    [InlineData("nobody", 2, "noSuchPerson")]
    [InlineData(TamId, 5, "weekNotThere")]
    [InlineData(TamId, -1, "weekNotThere")]
    [InlineData(TamId, 400, "weekNotThere")]
    public async Task A_place_where_nobody_can_do_it_is_refused_and_the_plan_stays(string who, int day, string code)
    {
        await using var fleet = await Crew();
        var plan = await Solve(fleet);
        var version = await Version(fleet);
        Assert.Equal(
            code,
            await RefusedWith<PlanWeeks, FleetPlan>(fleet, x => x.Move("mara", version, plan.Jobs[0].Code, new(who, day), Ct))
        );
        Assert.Equal(version, await Version(fleet));
    }

    [Fact]
    public async Task A_plan_that_another_window_changed_is_not_changed_unseen()
    {
        await using var fleet = await Crew();
        var plan = await Solve(fleet);
        var old = await Version(fleet);
        await Solve(fleet);
        Assert.Equal(
            "changedMeanwhile",
            await RefusedWith<PlanWeeks, FleetPlan>(fleet, x => x.Move("mara", old, plan.Jobs[0].Code, new(TamId, 1), Ct))
        );
        Assert.Equal("changedMeanwhile", await RefusedWith<PlanWeeks, KeptPlan>(fleet, x => x.Keep("mara", old, Mara, Ct)));
        Assert.Equal("weekNoDraft", await RefusedWith<PlanWeeks, KeptPlan>(fleet, x => x.Keep("tam", 1, Mara, Ct)));
    }

    [Fact]
    public async Task A_visit_that_was_changed_since_is_not_overwritten()
    {
        await using var fleet = await Crew();
        await Solve(fleet);
        await KeepPlan(fleet);
        await Solve(fleet);
        var version = await Version(fleet);
        var before = await Kept(fleet);
        await Ok<PlanVisit, VisitRow>(fleet, x => x.Cancel(before[0].VisitId, "sold", Mara, Ct));
        Assert.Equal("weekStale", await RefusedWith<PlanWeeks, KeptPlan>(fleet, x => x.Keep("mara", version, Mara, Ct)));
        Assert.Equal(before.Count(x => x.VisitId != before[0].VisitId), (await Kept(fleet)).Count);
    }

    [Fact]
    public async Task A_plan_with_days_that_are_over_is_not_kept()
    {
        await using var fleet = await Crew();
        var plan = await Solve(fleet);
        var version = await Version(fleet);
        fleet.Clock.Advance(TimeSpan.FromDays(plan.Places.Values.Min(x => x.Day) + 1));
        Assert.Equal("weekStale", await RefusedWith<PlanWeeks, KeptPlan>(fleet, x => x.Keep("mara", version, Mara, Ct)));
        Assert.Empty(await Kept(fleet));
    }

    [Fact]
    public async Task A_visit_planned_meanwhile_on_the_same_machine_is_not_doubled()
    {
        await using var fleet = await Crew();
        await Solve(fleet);
        var version = await Version(fleet);
        await Planned(fleet, EngineOil);
        Assert.Equal("weekStale", await RefusedWith<PlanWeeks, KeptPlan>(fleet, x => x.Keep("mara", version, Mara, Ct)));
        Assert.Single(await fleet.Ask(db => db.Visits.ToListAsync(Ct)));
    }

    [Fact]
    public async Task A_day_chosen_by_hand_holds_and_moving_it_by_hand_pins_it()
    {
        await using var fleet = await Crew();
        var id = (await Ok<PlanVisit, VisitRow>(fleet, x => x.Save(null, new(Unit, "2026-03-19", [EngineOil]), Fleet.Tam, Ct))).Id;
        var plan = await Solve(fleet);
        var job = Assert.Single(plan.Jobs);
        Assert.Equal(3, job.Rule.Earliest);
        Assert.Equal(3, plan.Places[job.Code].Day);
        await KeepPlan(fleet);
        var row = await Row(fleet, id);
        await Ok<PlanVisit, VisitRow>(fleet, x => x.Save(id, new(Unit, "2026-03-25", [EngineOil], Version: row.Version), Fleet.Tam, Ct));
        var kept = Assert.Single(await Kept(fleet));
        Assert.True(kept is { Pinned: true } && kept.On == new DateOnly(2026, 3, 25));
        Assert.Equal(new(kept.UserId, 9), (await Solve(fleet)).Places["v" + id]);
        await Ok<PlanVisit, VisitRow>(fleet, x => x.Cancel(id, "rain", Mara, Ct));
        Assert.Empty(await Kept(fleet));
    }

    [Fact]
    public async Task Nothing_is_planned_for_who_is_away_nor_on_a_machine_that_must_work()
    {
        await using var fleet = await Crew();
        await Ok<CrewBook, AwayRow>(fleet, x => x.AddAway(BeaId, "2026-03-01", "2026-04-30", "leave", Mara, Ct));
        await Ok<CrewBook, AwayRow>(fleet, x => x.AddAway(TamId, "2026-03-16", "2026-03-20", null, Mara, Ct));
        await Ok<CrewBook, BusyRow>(fleet, x => x.AddBusy(Unit, "2026-03-23", "2026-03-25", "ship", Mara, Ct));
        var plan = await Solve(fleet);
        Assert.NotEmpty(plan.Places);
        Assert.All(plan.Places.Values, x => Assert.True(x.Person == TamId && x.Day >= 10, $"{x}"));
        Assert.Equal(0, plan.People.Single(x => x.Rule.Code == TamId).Rule.Minutes[5]);
    }

    [Fact]
    public async Task A_share_of_each_day_is_kept_for_breakdowns_and_hours_that_are_gone_are_not_planned()
    {
        await using var fleet = await Crew();
        fleet.Clock.Advance(TimeSpan.FromHours(6.5));
        var tam = (await Gather(fleet)).People.Single(x => x.Rule.Code == TamId);
        // At 14:00 three hours of a shift that ends at 17:00 are left.
        Assert.Equal((135, 45), (tam.Rule.Minutes[0], tam.Reserve[0]));
        Assert.Equal((360, 120), (tam.Rule.Minutes[1], tam.Reserve[1]));
        fleet.Clock.Advance(TimeSpan.FromHours(5));
        Assert.Equal(0, (await Gather(fleet)).People[0].Rule.Minutes[0]);
    }

    [Fact]
    public async Task A_card_that_is_open_keeps_the_days_that_it_was_given()
    {
        await using var fleet = await Crew();
        var id = await Opened(fleet, EngineOil);
        await fleet.Ask(async db =>
        {
            db.PlannedJobs.Add(
                new()
                {
                    VisitId = id,
                    Part = 2,
                    UserId = TamId,
                    On = Today.AddDays(1),
                    Minutes = 200,
                }
            );
            return await db.SaveChangesAsync(Ct);
        });
        var tam = (await Gather(fleet)).People.Single(x => x.Rule.Code == TamId);
        Assert.Equal((160, 120, 360), (tam.Rule.Minutes[1], tam.Reserve[1], tam.Rule.Minutes[2]));
    }

    [Fact]
    public async Task A_part_on_the_shelf_goes_to_who_is_due_first_and_what_was_ordered_comes_on_its_day()
    {
        await using var fleet = await Crew();
        var positions = await fleet.Ask(db => db.FilterPositions.AsNoTracking().ToListAsync(Ct));
        await Ok<PlanVisit, VisitRow>(fleet, x => x.Save(null, new(Unit, "2026-03-20", [EngineOil]), Fleet.Tam, Ct));
        Assert.Empty((await Gather(fleet)).Jobs.Single().Missing);

        // Both on the shelf are taken by another: what is left is fewer than none.
        await Ok<PartCatalog, StockMove>(fleet, x => x.Move("UM7-110", "Yard", StockMoveKind.Issue, "2", null, null, Fleet.Tam, Ct));
        var job = (await Gather(fleet)).Jobs.Single();
        Assert.Equal(
            ("UM7-110", 1, Today.AddDays(5), false),
            (job.Missing[0].Number, job.Missing[0].Pieces, job.Missing[0].Comes, job.Missing[0].Ordered)
        );
        Assert.Equal(5, job.Rule.PartsDay);
        await fleet.Ask(async db =>
        {
            db.PartOrders.Add(
                new()
                {
                    PartId = positions.First(x => x.ItemCode == EngineOil).PartId!.Value,
                    SiteId = (await db.Sites.FirstAsync(x => x.Name == "Yard", Ct)).Id,
                    Quantity = 1,
                    ExpectedOn = Today.AddDays(12),
                    By = "Mara Quill",
                }
            );
            return await db.SaveChangesAsync(Ct);
        });
        job = (await Gather(fleet)).Jobs.Single();
        Assert.Equal((Today.AddDays(12), true), (job.Missing[0].Comes, job.Missing[0].Ordered));
        Assert.Equal(12, job.Rule.PartsDay);
    }

    [Fact]
    public async Task What_only_a_qualified_person_may_do_waits_for_one_and_the_rest_does_not()
    {
        await using var fleet = await Crew();
        foreach (var (id, version) in new[] { (TamId, 1), (BeaId, 1) })
            await Ok<CrewBook, CrewRow>(fleet, x => x.Save(new(id, "Yard", true, Weekdays, [], version), Mara, Ct));
        var item = await fleet.Ask(async db =>
        {
            var found = await db.ProgramItems.FirstAsync(x => x.Code == EngineOil && x.ProgramId == db.Machines.First().ProgramId, Ct);
            found.Qualified = true;
            (await db.Programs.SingleAsync(x => x.Id == found.ProgramId, Ct)).Version++;
            await db.SaveChangesAsync(Ct);
            return found;
        });
        var plan = await Solve(fleet);
        var apart = plan.Jobs.Where(x => x.Pieces[0].Codes.Contains(item.Code)).ToList();
        Assert.NotEmpty(apart);
        Assert.All(apart, x => Assert.Contains("Engine", x.Subjects));
        Assert.All(apart, x => Assert.Equal(LeftOutWhy.Skill, WeekRules.Why(plan.ToCase(), x.Rule)));
        Assert.All(apart, x => Assert.DoesNotContain(x.Code, plan.Places.Keys));
        Assert.Contains(plan.Jobs, x => x.Subjects.Count == 0 && plan.Places.ContainsKey(x.Code));
        await Ok<CrewBook, CrewRow>(fleet, x =>
            x.Save(new(BeaId, "Yard", true, Weekdays, [.. Enum.GetValues<CompartmentKind>()], 2), Mara, Ct)
        );
        var able = await Solve(fleet);
        Assert.All(able.Jobs.Where(x => x.Subjects.Count > 0 && able.Places.ContainsKey(x.Code)), x =>
            Assert.Equal(BeaId, able.Places[x.Code].Person)
        );
        Assert.Contains(able.Jobs, x => x.Subjects.Count > 0 && able.Places.ContainsKey(x.Code));
    }

    [Fact]
    public async Task What_is_only_supposed_is_shown_and_never_kept()
    {
        await using var fleet = await Crew();
        var plan = await Solve(
            fleet,
            new()
            {
                Without = [BeaId],
                FarUnit = Unit,
                FarMinutes = 50,
            }
        );
        Assert.Equal([TamId], plan.People.Select(x => x.Rule.Code));
        Assert.All(plan.Jobs, x => Assert.Equal(FleetJobs.FarSite, x.Site));
        var version = await Version(fleet);
        Assert.Equal("weekSupposed", await RefusedWith<PlanWeeks, KeptPlan>(fleet, x => x.Keep("mara", version, Mara, Ct)));
        var busy = await Solve(fleet, new() { BusyUnit = Unit, BusyUntil = Today.AddDays(6) });
        Assert.All(busy.Places.Values, x => Assert.True(x.Day > 6));
        Assert.Empty(await Kept(fleet));
    }

    [Fact]
    public async Task Pins_that_no_longer_hold_are_let_go_and_named()
    {
        await using var fleet = await Crew();
        var plan = await Solve(fleet);
        var code = plan.Places.First().Key;
        var version = await Version(fleet);
        await Ok<PlanWeeks, FleetPlan>(fleet, x => x.Move("mara", version, code, new(TamId, 8), Ct));
        await Ok<CrewBook, AwayRow>(fleet, x => x.AddAway(TamId, "2026-03-24", null, "doctor", Mara, Ct));
        var anew = await Solve(fleet);
        Assert.Equal([code], anew.LetGo);
        Assert.NotEqual(new WeekPlace(TamId, 8), anew.Places.GetValueOrDefault(code));
    }

    [Fact]
    public async Task Without_anybody_there_is_no_plan()
    {
        await using var fleet = await Ready();
        Assert.Equal("weekNobody", await RefusedWith<PlanWeeks, FleetPlan>(fleet, x => x.Solve("mara", new(), Look, Ct)));
    }

    [Fact]
    public async Task Planners_are_planned_for_once_somebody_says_so_and_who_is_switched_off_is_not()
    {
        await using var fleet = await Crew();
        Assert.DoesNotContain((await Gather(fleet)).People, x => x.Name == "Mara Quill");
        await Ok<CrewBook, CrewRow>(fleet, x => x.Save(new("mara", "Pit", true, Weekdays, [], 0), Mara, Ct));
        await fleet.Ask(db =>
            db.Users.Where(x => x.Id == BeaId).ExecuteUpdateAsync(x => x.SetProperty(u => u.LockoutEnd, DateTimeOffset.MaxValue), Ct)
        );
        Assert.Equal(["Mara Quill", "Tam Ollery"], (await Gather(fleet)).People.Select(x => x.Name));
    }

    [Theory]
    [InlineData("site", "Nowhere", "8", "noSuchSite")]
    [InlineData("hours1", "Yard", "25", "between")]
    [InlineData("hours1", "Yard", "a lot", "notANumber")]
    public async Task Days_that_cannot_be_are_told_beside_their_field(string field, string site, string hours, string code)
    {
        await using var fleet = await Crew();
        var refusal = await Refused<CrewBook, CrewRow>(fleet, x =>
            x.Save(new(TamId, site, true, ["0", hours, "8", "8", "8", "8", "0"], [], 1), Mara, Ct)
        );
        Assert.Equal((field, code), (refusal.Field, refusal.Code));
    }

    [Theory]
    [InlineData("2026-03-20", "2026-03-19", "to", "daysTurned")]
    [InlineData("", "2026-03-19", "from", "notADate")]
    [InlineData("2026-03-20", "soon", "to", "notADate")]
    [InlineData("2026-03-20", "2029-03-20", "to", "daysTurned")]
    public async Task Days_away_that_cannot_be_are_told_beside_their_field(string from, string to, string field, string code)
    {
        await using var fleet = await Crew();
        var refusal = await Refused<CrewBook, AwayRow>(fleet, x => x.AddAway(TamId, from, to, "", Mara, Ct));
        Assert.Equal((field, code), (refusal.Field, refusal.Code));
    }

    [Fact]
    public async Task A_road_is_the_shortest_way_and_what_nobody_said_is_taken_and_said_so()
    {
        await using var fleet = await Crew();
        await fleet.Ask(async db =>
        {
            db.Sites.Add(new() { Name = "Bank", TimeZone = "UTC" });
            return await db.SaveChangesAsync(Ct);
        });
        var ids = await fleet.Ask(db => db.Sites.ToDictionaryAsync(x => x.Name, x => x.Id, Ct));
        string Pair(string a, string b) => $"{Math.Min(ids[a], ids[b])}-{Math.Max(ids[a], ids[b])}";
        Assert.All((await Gather(fleet)).Roads, x => Assert.Equal((CrewBook.UnsaidRoad, false), (x.Minutes, x.Said)));
        await Ok<CrewBook, Nothing>(fleet, x =>
            x.SaveRoads(new Dictionary<string, string?> { [Pair("Yard", "Pit")] = "10", [Pair("Bank", "Pit")] = "12" }, Mara, Ct)
        );
        var roads = (await Gather(fleet)).Roads.ToDictionary(x => $"{x.A}-{x.B}", x => (x.Minutes, x.Said));
        Assert.Equal((10, true), roads["Pit-Yard"]);
        Assert.Equal((22, false), roads["Bank-Yard"]);
        var refusal = await Refused<CrewBook, Nothing>(fleet, x =>
            x.SaveRoads(new Dictionary<string, string?> { [Pair("Yard", "Pit")] = "-3" }, Mara, Ct)
        );
        Assert.Equal("road" + Pair("Yard", "Pit"), refusal.Field);
    }

    [Fact]
    public async Task A_plan_says_what_came_to_pass_since()
    {
        await using var fleet = await Crew();
        await Solve(fleet);
        await KeepPlan(fleet);
        var page = await fleet.Do<WeekViews, WeeksPage>(x => x.Load(null, int.MaxValue, Ct));
        Assert.True(page.News.IsEmpty);
        Assert.Null(page.Version);
        Assert.Equal("Mara Quill", page.KeptBy?.By);
        var first = (await Kept(fleet))[0];
        Assert.Contains(page.Lines.SelectMany(x => x.Days), x => x.On == first.On && x.Blocks.Any(b => b.Visit == first.VisitId));

        fleet.Clock.Advance(TimeSpan.FromDays(first.On.DayNumber - Today.DayNumber + 1));
        await Ok<ReportDefect, DefectRow>(fleet, x => x.Run(
                new()
                {
                    Unit = Unit,
                    On = MachinePart.Other,
                    Words = "oil runs out of the filter head",
                    Grade = DefectGrade.Stop,
                },
                Fleet.Tam,
                Ct
            ));
        var later = await fleet.Do<WeekViews, WeeksPage>(x => x.Load(null, int.MaxValue, Ct));
        Assert.Equal([Unit], later.News.Stops);
        Assert.Equal([first.VisitId], later.News.Missed.Select(x => x.Visit).Take(1));
        Assert.All(later.Lines, x => Assert.All(x.Days, d => Assert.True(d.On > first.On)));
    }
}
