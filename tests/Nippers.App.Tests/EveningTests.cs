using Microsoft.EntityFrameworkCore;
using Nippers.App.Defects;
using Nippers.App.Phones;
using Nippers.App.Today;
using Nippers.App.Walks;
using Nippers.Core.Defects;
using Nippers.Core.Walk;
using Nippers.Data.Defects;
using Nippers.Data.Walks;
using static Nippers.App.Tests.Outcomes;
using static Nippers.App.Tests.WalkRig;

namespace Nippers.App.Tests;

/// <summary>A machine left for tomorrow, what the morning asks of it, and what a walk remembers of others.</summary>
public sealed class EveningTests
{
    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    private static TypedFields Card(params ParkingLine[] lines) => TypedFields.None.WithAll("done", lines.Select(x => x.ToString()));

    private static Task<ParkingRow> Leave(Fleet fleet, params ParkingLine[] lines) =>
        Ok<LeaveMachine, ParkingRow>(fleet, x => x.Run("WL-01", Card(lines), Ines, Ct));

    private static Task<Outcome<StartedWalk>> Begin(Fleet fleet, bool? asParked = null, bool heaterOut = false, params WalkPart[] parts) =>
        fleet.Do<StartWalk, Outcome<StartedWalk>>(x =>
            x.Run(
                new()
                {
                    Unit = "WL-01",
                    Hours = "360",
                    AtForm = true,
                    AsParked = asParked,
                    HeaterOut = heaterOut,
                    Parts = parts.Length > 0 ? parts : null,
                },
                Fleet.Tam,
                Ct
            )
        );

    [Fact]
    public async Task A_card_with_nothing_ticked_is_refused_beside_its_lines()
    {
        await using var fleet = await Fleet.WithLoader();
        var refused = await Refused<LeaveMachine, ParkingRow>(fleet, x => x.Run("WL-01", TypedFields.None, Ines, Ct));
        Assert.Equal(("done", "parkingEmpty"), (refused.Field, refused.Code));
        var long_ = Card(ParkingLine.Level).With("note", new string('x', 301));
        Assert.Equal("note", (await Refused<LeaveMachine, ParkingRow>(fleet, x => x.Run("WL-01", long_, Ines, Ct))).Field);
        Assert.Equal(
            "noSuchUnit",
            (await Refused<LeaveMachine, ParkingRow>(fleet, x => x.Run("WL-99", Card(ParkingLine.Level), Ines, Ct))).Code
        );
    }

    [Fact]
    public async Task The_morning_asks_whether_it_stands_as_it_was_left_and_for_the_heaters_cord()
    {
        await using var fleet = await Fleet.WithLoader();
        var left = await Leave(fleet, ParkingLine.Level, ParkingLine.Position, ParkingLine.Heater);
        fleet.Clock.Advance(TimeSpan.FromHours(14));
        var start = (await fleet.Do<WalkViews, WalkStart?>(x => x.Start("WL-01", Ct)))!;
        Assert.Equal([ParkingLine.Level, ParkingLine.Position, ParkingLine.Heater], start.Parking!.Lines);

        Assert.Equal(["parkedNeeded", "heaterNeeded"], (await Begin(fleet)).Refusals.Select(x => x.Code));
        Assert.Equal("heaterNeeded", Code(await Begin(fleet, asParked: true)));
        Assert.Equal("parkedNeeded", Code(await Begin(fleet, heaterOut: true)));
        var walk = await Context(fleet, (await Begin(fleet, asParked: true, heaterOut: true)).Value!.WalkId);

        // The engine has stood since the evening: no wait before the levels.
        Assert.Equal(left.At.ToUnixTimeMilliseconds(), walk.StoppedAt!.Value.ToUnixTimeMilliseconds());
        Assert.Null((await fleet.Do<WalkViews, WalkStart?>(x => x.Start("WL-01", Ct)))!.Parking);
    }

    [Fact]
    public async Task A_machine_that_was_moved_keeps_its_waits_and_a_greasing_round_asks_nothing_of_the_evening()
    {
        await using var fleet = await Fleet.WithLoader();
        await Leave(fleet, ParkingLine.Level);
        fleet.Clock.Advance(TimeSpan.FromHours(14));
        Assert.True((await Begin(fleet, null, false, WalkPart.Greasing)).Done);
        var walk = await Context(fleet, (await Begin(fleet, asParked: false)).Value!.WalkId);
        Assert.Null(walk.StoppedAt);
    }

    [Fact]
    public async Task What_was_left_days_ago_is_not_asked_of()
    {
        await using var fleet = await Fleet.WithLoader();
        await Leave(fleet, ParkingLine.Level, ParkingLine.Heater);
        fleet.Clock.Advance(TimeSpan.FromDays(5));
        Assert.Null((await fleet.Do<WalkViews, WalkStart?>(x => x.Start("WL-01", Ct)))!.Parking);
        Assert.True((await Begin(fleet)).Done);
    }

    [Fact]
    public async Task Left_without_a_network_it_is_kept_once_at_its_own_time_and_the_phone_holds_it_for_the_morning()
    {
        await using var fleet = await Fleet.WithLoader();
        var entry = new PhoneEntry
        {
            Key = "evening-1",
            Seq = 1,
            Kind = EntryKind.Evening,
            Unit = "WL-01",
            At = fleet.Clock.GetUtcNow().AddMinutes(-40),
            Fields = new Dictionary<string, IReadOnlyList<string?>> { ["done"] = ["Level", "Position"] },
        };
        Assert.Empty((await fleet.Do<TakeEntry, Outcome<TakenEntry>>(x => x.Run(entry, [], Ines, Ct))).Refusals);
        Assert.True((await fleet.Do<TakeEntry, Outcome<TakenEntry>>(x => x.Run(entry, [], Ines, Ct))).Value!.Repeat);
        var row = await fleet.Ask(db => db.Parkings.SingleAsync(Ct));
        Assert.Equal((entry.At, "Ines Varrow"), (row.At, row.By));
        var kit = (await fleet.Do<PhoneKits, PhoneKit>(x => x.All(works: true, Ct))).Machines.Single();
        Assert.Equal(("Level Position", row.At), (kit.Parking!.Done, kit.Parking.At));
    }

    [Fact]
    public async Task A_walk_that_a_phone_began_without_knowing_of_the_evening_is_taken_and_believes_nothing()
    {
        await using var fleet = await Fleet.WithLoader();
        await Leave(fleet, ParkingLine.Level, ParkingLine.Heater);
        fleet.Clock.Advance(TimeSpan.FromHours(14));
        var entry = new PhoneEntry
        {
            Key = "start-1",
            Seq = 1,
            Kind = EntryKind.Start,
            Unit = "WL-01",
            Walk = "walk-0123456789ab",
            At = fleet.Clock.GetUtcNow().AddMinutes(-20),
            Fields = new Dictionary<string, IReadOnlyList<string?>> { ["hours"] = ["360"], ["parts"] = ["Ordinary"] },
        };
        var taken = await fleet.Do<TakeEntry, Outcome<TakenEntry>>(x => x.Run(entry, [], Ines, Ct));
        Assert.Empty(taken.Refusals);
        Assert.Null((await Context(fleet, taken.Value!.WalkId!.Value)).Row.ParkedAt);
    }

    [Fact]
    public async Task A_defect_that_was_graded_down_by_two_people_and_is_as_before_is_no_new_stop()
    {
        await using var fleet = await Fleet.WithLoader();
        var defect = await Ok<ReportDefect, DefectRow>(fleet, x => x.Run(
                new()
                {
                    Unit = "WL-01",
                    Check = "combustibles",
                    Words = "dust at the belly",
                    Grade = DefectGrade.Stop,
                },
                Fleet.Tam,
                Ct
            ));
        await fleet.Ask(db =>
            db.Defects.Where(x => x.Id == defect.Id).ExecuteUpdateAsync(x => x.SetProperty(d => d.Grade, DefectGrade.Watch), Ct)
        );
        var id = (await Begin(fleet)).Value!.WalkId;
        await Ok<DefectNotes, DefectRow>(fleet, x => x.LookedAgain(defect.Id, id, Again.AsBefore, null, Ines, Ct));
        var walk = await Context(fleet, id);
        Assert.Equal(new SeenAnswer(false), walk.Answers["combustibles"]);
        Assert.False(walk.StopFound);
        await Ok<DefectNotes, DefectRow>(fleet, x => x.LookedAgain(defect.Id, id, Again.Worse, null, Ines, Ct));
        await Ok<DefectNotes, DefectRow>(fleet, x => x.LookedAgain(defect.Id, id, Again.Worse, null, Ines, Ct));
        await Ok<DefectNotes, DefectRow>(fleet, x => x.LookedAgain(defect.Id, id, Again.Worse, null, Ines, Ct));
        Assert.True((await Context(fleet, id)).StopFound);
    }

    [Fact]
    public async Task The_card_is_offered_in_the_evening_to_whoever_walked_it_last_until_it_is_left()
    {
        await using var fleet = await Fleet.WithLoader();
        Assert.True((await Start(fleet, actor: Ines)).Done);
        Task<PersonNews> News(string name) => fleet.Do<PersonView, PersonNews>(x => x.Run(name, Ct));
        Assert.Empty((await News("Ines Varrow")).ToLeave);
        fleet.Clock.Advance(TimeSpan.FromHours(9));
        Assert.Equal(["WL-01"], (await News("Ines Varrow")).ToLeave);
        Assert.Empty((await News("Tam Ollery")).ToLeave);
        await Leave(fleet, ParkingLine.Level);
        Assert.Empty((await News("Ines Varrow")).ToLeave);
    }

    private static async Task<long> Walked(Fleet fleet, Func<WalkCheck, AnswerInput>? answer = null)
    {
        var id = (await Start(fleet, actor: Ines)).Value!.WalkId;
        foreach (var check in (await Context(fleet, id)).Checks)
            Assert.True((await Answer(fleet, id, answer?.Invoke(check) ?? Good(check), Ines)).Done, check.Code);
        foreach (var check in (await Context(fleet, id)).FaultsWithoutDefect.ToList())
        {
            DefectInput fault = new()
            {
                Unit = "WL-01",
                WalkId = id,
                Check = check.Code,
                Words = "takes none",
                Grade = check.Grade,
            };
            await Ok<ReportDefect, DefectRow>(fleet, x => x.Run(fault, Ines, Ct));
        }

        Assert.True((await fleet.Do<FinishWalk, Outcome<WalkRow>>(x => x.Run(id, new(null, null), Ines, Ct))).Done);
        return id;
    }

    [Fact]
    public async Task Whoever_passed_what_the_workshop_finds_within_three_days_is_told_and_nobody_else()
    {
        await using var fleet = await Fleet.WithLoader();
        await Walked(fleet);
        fleet.Clock.Advance(TimeSpan.FromDays(1));
        var found = await Ok<ReportDefect, DefectRow>(fleet, x => x.Run(
                new()
                {
                    Unit = "WL-01",
                    Check = "belts",
                    Words = "worn smooth",
                    Grade = DefectGrade.Limit,
                    LimitHours = "50",
                    LimitDays = "14",
                },
                Fleet.Tam,
                Ct
            ));
        Task<PersonNews> News(string name) => fleet.Do<PersonView, PersonNews>(x => x.Run(name, Ct));
        var told = Assert.Single((await News("Ines Varrow")).Found);
        Assert.Equal((found.Id, "WL-01", "worn smooth"), (told.Id, told.Unit, told.Words));
        Assert.Empty((await News("Tam Ollery")).Found);

        // Tam found it; Bea mends it: that is his news, not his own repair.
        await Ok<RepairDefect, DefectRow>(fleet, x => x.Repair(found.Id, new("new belt", null, "20", null, null), Fleet.Bea, Ct));
        Assert.Equal(found.Id, Assert.Single((await News("Tam Ollery")).Mended).Id);
        Assert.Empty((await News("Bea Lund")).Mended);
        fleet.Clock.Advance(TimeSpan.FromDays(5));
        Assert.True((await News("Ines Varrow")).IsEmpty);
        Assert.True((await News("Tam Ollery")).IsEmpty);
    }

    [Fact]
    public async Task What_the_walk_itself_found_is_no_news_for_its_walker()
    {
        await using var fleet = await Fleet.WithLoader();
        await Walked(fleet);
        await Ok<ReportDefect, DefectRow>(fleet, x => x.Run(
                new()
                {
                    Unit = "WL-01",
                    Check = "belts",
                    Words = "glazed",
                    Grade = DefectGrade.NextService,
                },
                Ines,
                Ct
            ));
        Assert.Empty((await fleet.Do<PersonView, PersonNews>(x => x.Run("Ines Varrow", Ct))).Found);
    }

    [Fact]
    public async Task A_code_of_the_display_is_kept_with_its_meaning_and_known_at_this_machine_from_then_on()
    {
        await using var fleet = await Fleet.WithLoader();
        var id = (await Start(fleet)).Value!.WalkId;
        var twice = Answered("codes", ("codes", "E361(2), E12"), ("meaning", "air heater relay"), ("ticked", true));
        Assert.Equal("meaning-codes", (await Answer(fleet, id, twice)).Refusals.Single().Field);
        var saved = await Answer(fleet, id, Answered("codes", ("codes", "e361(2)"), ("meaning", "air heater relay"), ("ticked", true)));
        Assert.Equal(CheckReason.CodesShown, saved.Value!.Result.Reason);
        Assert.Equal("air heater relay", (await Context(fleet, id)).Meanings["E361(2)"]);
        var defect = await Ok<ReportDefect, DefectRow>(fleet, x => x.Run(
                new()
                {
                    Unit = "WL-01",
                    WalkId = id,
                    Check = "codes",
                    Words = "code of today",
                    Grade = DefectGrade.NextService,
                },
                Fleet.Tam,
                Ct
            ));
        Assert.Equal("E361(2)", defect.Code);
        Assert.True((await Finish(fleet, id, "looked at no more")).Done);

        // The next walk knows the code, and what it means.
        var next = (await Start(fleet)).Value!.WalkId;
        var again = await Answer(fleet, next, Answered("codes", ("codes", "E361(2)"), ("ticked", true)));
        Assert.Equal(CheckReason.CodesKnown, again.Value!.Result.Reason);
        Assert.Equal("air heater relay", (await Context(fleet, next)).Meanings["E361(2)"]);
    }

    [Fact]
    public async Task A_fitting_that_takes_none_is_remembered_at_the_machine_and_on_the_job_card()
    {
        await using var fleet = await Fleet.WithLoader();
        await Walked(fleet, check =>
            check.Kind != CheckKind.Grease
                ? Good(check)
                : Answered(
                    check.Code,
                    ("points", Many(check.Points.Select((_, i) => (object?)(i == 1 ? PointState.Bad : PointState.Good)))),
                    ("ticked", true)
                )
        );
        fleet.Clock.Advance(TimeSpan.FromDays(1));
        var id = (await Begin(fleet, null, false, WalkPart.Ordinary, WalkPart.Greasing)).Value!.WalkId;
        var (name, memory) = await fleet.Ask(async db =>
        {
            var machine = await db.Machines.SingleAsync(Ct);
            var list = (await Data.Queries.WalkQueries.ListOf(db, machine, Ct))!.ToList();
            var known = await Data.Queries.WalkQueries.GreaseOf(db, [machine.Id], list.Checks, new DateOnly(2026, 3, 17), Ct);
            return (machine.Unit, known[machine.Id]);
        });
        Assert.NotEmpty(memory);
        Assert.All(memory, x => Assert.All(x, y => Assert.Equal((1, 1), (y.Refused, y.Days))));
        var context = await Context(fleet, id);
        var list = context.List.Checks.First(x => x.Kind == CheckKind.Grease && x.Item.Length > 0);
        var card = await fleet.Do<WalkViews, IReadOnlyList<GreaseMemory>>(x => x.GreaseOf(context.Row.Machine, list.Item, Ct));
        Assert.Contains(WalkCheck.PointName(list.Points[1]), card.Select(x => x.Point));
        var kit = (await fleet.Do<PhoneKits, PhoneKit>(x => x.All(works: true, Ct))).Machines.Single();
        Assert.Equal(memory.Select(x => x.Key).Order(), kit.Grease.Keys.Order());
    }

    [Fact]
    public async Task One_photo_a_walk_is_asked_by_chance_taken_once_and_of_nothing_else()
    {
        await using var fleet = await Fleet.WithLoader();
        var id = (await Start(fleet)).Value!.WalkId;
        var walk = await Context(fleet, id);
        var asked = walk.PhotoAsked!;
        Assert.Equal(asked.Code, (await Context(fleet, id)).PhotoAsked!.Code);
        Assert.False(walk.AsksPhoto(asked));
        byte[] picture = DefectTests.Picture(300, 200);
        Task<Outcome<Nothing>> Photo(string check, byte[]? bytes) =>
            fleet.Do<SaveAnswer, Outcome<Nothing>>(x => x.Photo(id, check, bytes, Fleet.Tam, Ct));
        Assert.Equal("photoNotAsked", Code(await Photo(asked.Code, picture)));
        Assert.True((await Answer(fleet, id, Good(asked))).Done);
        Assert.True((await Context(fleet, id)).AsksPhoto(asked));
        Assert.Equal("photoNeeded", Code(await Photo(asked.Code, null)));
        Assert.Equal("photoNotAPicture", Code(await Photo(asked.Code, [1, 2, 3])));
        Assert.Equal("photoNotAsked", Code(await Photo("codes", picture)));
        Assert.True((await Photo(asked.Code, picture)).Done);
        Assert.False((await Context(fleet, id)).AsksPhoto(asked));
        Assert.Equal("photoNotAsked", Code(await Photo(asked.Code, picture)));
        var kept = await fleet.Ask(db => db.WalkPhotos.SingleAsync(Ct));
        Assert.Equal((id, asked.Code), (kept.WalkId, kept.CheckCode));
    }

    [Fact]
    public async Task A_cold_mark_leaves_the_warm_reading_due()
    {
        await using var fleet = await Fleet.WithLoader();
        await Walked(fleet, check =>
            check.Code == "transmission-level"
                ? Answered(check.Code, ("level", "75"), ("look", FluidLook.Clear), ("cold", true), ("ticked", true))
                : Good(check)
        );
        var start = (await fleet.Do<WalkViews, WalkStart?>(x => x.Start("WL-01", Ct)))!;
        Assert.Equal(1, start.Offers.Single(x => x.Part == WalkPart.FiftyHours).Checks);
        var warm = await Context(fleet, (await Begin(fleet, null, false, WalkPart.FiftyHours)).Value!.WalkId);
        Assert.Equal(["transmission-level"], warm.Checks.Select(x => x.Code));
    }

    [Fact]
    public async Task A_bowl_is_drained_as_often_as_it_takes_and_the_record_keeps_each_time()
    {
        await using var fleet = await Fleet.WithLoader();
        var id = (await Start(fleet)).Value!.WalkId;
        var first = await Answer(fleet, id, Answered("fuel-bowl", ("drained", Many(DrainAmount.Little)), ("ticked", true)));
        var second = await Answer(
            fleet,
            id,
            Answered("fuel-bowl", ("drained", Many(DrainAmount.Little, DrainAmount.Little, DrainAmount.None)), ("ticked", true)) with
            {
                Revision = first.Value!.Revision,
            }
        );
        var answer = Assert.IsType<DrainAnswer>(second.Value!.Answer);
        Assert.Equal([DrainAmount.Little, DrainAmount.Little, DrainAmount.None], answer.All);
        Assert.Equal(CheckReason.WaterLittle, second.Value.Result.Reason);
        var often = Answered("fuel-bowl", ("drained", Many(Enumerable.Repeat((object?)DrainAmount.Lot, 13))), ("ticked", true));
        Assert.Equal("countOver", Code(await Answer(fleet, id, often with { Revision = second.Value.Revision })));
    }
}
