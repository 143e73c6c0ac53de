using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Nippers.App.Defects;
using Nippers.App.Exchange;
using Nippers.App.Feeds;
using Nippers.Core.Defects;
using Nippers.Data.Defects;
using Nippers.Data.Feeds;
using Nippers.Data.Walks;
using static Nippers.App.Tests.Outcomes;

namespace Nippers.App.Tests;

/// <summary>Fault codes that a feed tells of: proposed, a stop at once, gone, and back again.</summary>
public sealed class FeedCodeTests
{
    private const string Unit = "WL-01";
    private static readonly Actor Mara = new("Mara Quill", Roles.Planner);
    private static readonly Actor Ines = new("Ines Varrow", Roles.Operator);

    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    private static async Task<Fleet> Given()
    {
        var fleet = await Fleet.WithLoader();
        await Ok<FeedBook, FeedRow>(fleet, x => x.Save(new(null, 0, "Ulmar", "http://feed.invalid/fleet", null, false, true), Mara, Ct));
        return fleet;
    }

    /// <summary>The feed tells of some codes, and is asked.</summary>
    private static async Task Hear(Fleet fleet, string codes, double hours = 60, TimeSpan? ago = null)
    {
        var at = fleet.Clock.GetUtcNow() - (ago ?? TimeSpan.Zero);
        var list = codes
            .Split(' ', StringSplitOptions.RemoveEmptyEntries)
            .Select(x => x.Split('/'))
            .Select(x => $$"""{"Spn":{{x[0]}},"Fmi":{{x[1]}}}""");
        fleet.Feed.Answers = _ =>
            new(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $$$"""{"Equipment":[{"EquipmentHeader":{"EquipmentID":"{{{Unit}}}"},"CumulativeOperatingHours":{"Hour":{{{hours}}},"Datetime":"{{{at:O}}}"},"FaultCodes":[{{{string.Join(',', list)}}}]}]}"""
                ),
                null
            );
        await fleet.Do<FeedRound, int>(x => x.Run(true, Ct));
    }

    private static Task<List<FeedCodeRow>> Codes(Fleet fleet) =>
        fleet.Ask(db => db.FeedCodes.AsNoTracking().OrderBy(x => x.Id).ToListAsync(Ct));

    private static Task<List<DefectRow>> Defects(Fleet fleet) =>
        fleet.Ask(db => db.Defects.AsNoTracking().OrderBy(x => x.Id).ToListAsync(Ct));

    private static Task<RunStatus> Runs(Fleet fleet) =>
        fleet.Ask(async db => await db.Statuses.AnyAsync(x => x.OutOfService, Ct) ? RunStatus.OutOfService : RunStatus.NoStopFound);

    private static void Later(Fleet fleet) => fleet.Clock.Advance(TimeSpan.FromHours(1));

    [Fact]
    public async Task A_code_that_appears_waits_for_somebody_who_looks_and_is_no_defect_by_itself()
    {
        await using var fleet = await Given();
        await Hear(fleet, "97/15");
        var code = Assert.Single(await Codes(fleet));
        Assert.Equal(("97/15", 1, null, null), (code.Code, code.Times, code.GoneAt, code.DefectId));
        Assert.Empty(await Defects(fleet));
        Assert.Equal(1, await fleet.Do<FeedCodes, int>(x => x.Unseen(Ct)));
        var line = (await fleet.Do<FeedCodes, FeedCodeLine?>(x => x.One(code.Id, Ct)))!;
        Assert.Equal(("Water in fuel: a little above its limit", true), (line.Words, line.Waits));

        var defect = await Ok<FeedCodes, DefectRow>(fleet, x =>
            x.Write(code.Id, Said("water in the bowl", MachinePart.Engine, DefectGrade.NextService), Fleet.Tam, Ct)
        );
        Assert.Equal(
            ("97/15", "SPN 97 FMI 15", DefectGrade.NextService, "Tam Ollery"),
            (defect.Code, defect.PlaceName, defect.Grade, defect.By)
        );
        Assert.Equal(0, await fleet.Do<FeedCodes, int>(x => x.Unseen(Ct)));
        Assert.Equal(
            "changedMeanwhile",
            (
                await Refused<FeedCodes, DefectRow>(fleet, x =>
                    x.Write(code.Id, Said("again", MachinePart.Engine, DefectGrade.Watch), Fleet.Tam, Ct)
                )
            ).Code
        );
    }

    private static DefectInput Said(string words, MachinePart on, DefectGrade? grade, string? key = null) =>
        new()
        {
            Unit = "",
            Words = words,
            On = on,
            Grade = grade,
            Key = key,
        };

    [Fact]
    public async Task A_code_is_written_down_once_however_often_the_button_is_pressed()
    {
        await using var fleet = await Given();
        await Hear(fleet, "97/15");
        var id = (await Codes(fleet))[0].Id;
        var input = Said("water in the bowl", MachinePart.Engine, DefectGrade.Watch, "one press");
        var first = await Ok<FeedCodes, DefectRow>(fleet, x => x.Write(id, input, Fleet.Tam, Ct));
        var second = await Ok<FeedCodes, DefectRow>(fleet, x => x.Write(id, input, Fleet.Tam, Ct));
        Assert.Equal(first.Id, second.Id);
        Assert.Single(await Defects(fleet));
    }

    [Fact]
    public async Task What_is_wrong_with_a_defect_of_a_code_is_said_beside_its_field_and_the_code_still_waits()
    {
        await using var fleet = await Given();
        await Hear(fleet, "97/15");
        var id = (await Codes(fleet))[0].Id;
        Task<Refusal> Write(DefectInput input, Actor actor) => Refused<FeedCodes, DefectRow>(fleet, x => x.Write(id, input, actor, Ct));
        Assert.Equal("words", (await Write(Said(" ", MachinePart.Engine, DefectGrade.Watch), Fleet.Tam)).Field);
        Assert.Equal("grade", (await Write(Said("water", MachinePart.Engine, null), Fleet.Tam)).Field);
        Assert.Equal("technicianNeeded", (await Write(Said("water", MachinePart.Engine, DefectGrade.Watch), Ines)).Code);
        Assert.Equal(
            ("looked", "technicianNeeded"),
            (
                (await Refused<FeedCodes, FeedCodeRow>(fleet, x => x.Looked(id, " ", Fleet.Tam, Ct))).Field,
                (await Refused<FeedCodes, FeedCodeRow>(fleet, x => x.Looked(id, "dry", Ines, Ct))).Code
            )
        );
        Assert.Empty(await Defects(fleet));
        Assert.Equal(1, await fleet.Do<FeedCodes, int>(x => x.Unseen(Ct)));
    }

    [Theory]
    [InlineData("100/1", MachinePart.Engine)]
    [InlineData("100/4", MachinePart.Engine)]
    [InlineData("110/0", MachinePart.Engine)]
    [InlineData("111/17", MachinePart.Engine)]
    [InlineData("116/18", MachinePart.Brakes)]
    [InlineData("117/1", MachinePart.Brakes)]
    [InlineData("118/1", MachinePart.Brakes)]
    public async Task A_code_that_stops_is_a_stop_at_once_which_no_operator_ends(string code, MachinePart part)
    {
        await using var fleet = await Given();
        await Hear(fleet, code);
        var defect = Assert.Single(await Defects(fleet));
        Assert.Equal((DefectGrade.Stop, part, code, FeedIntake.Name), (defect.Grade, defect.Part, defect.Code, defect.By));
        Assert.Equal(RunStatus.OutOfService, await Runs(fleet));
        Assert.Single(await fleet.Ask(db => db.Stoppages.Where(x => x.To == null).ToListAsync(Ct)));
        Assert.Equal("technicianNeeded", (await Refused<DefectNotes, DefectRow>(fleet, x => x.Void(defect.Id, "wrong", Ines, Ct))).Code);

        // One technician alone does not take it out either.
        await Ok<DefectNotes, DefectRow>(fleet, x => x.Void(defect.Id, "sensor", Fleet.Tam, Ct));
        Assert.Equal(RunStatus.OutOfService, await Runs(fleet));
    }

    [Fact]
    public async Task The_same_report_twice_and_a_late_one_change_nothing()
    {
        await using var fleet = await Given();
        await Hear(fleet, "97/15 100/1");
        Later(fleet);
        await Hear(fleet, "97/15 100/1", 61);
        var before = await fleet.Fingerprint();
        await Hear(fleet, "97/15 100/1", 61);
        Assert.Equal(before, await fleet.Fingerprint());

        // Half an hour ago there was another code, and these were not: that says nothing of now.
        await Hear(fleet, "107/0", 60.5, TimeSpan.FromMinutes(30));
        Assert.Equal(["97/15", "100/1"], (await Codes(fleet)).Select(x => x.Code));
        Assert.All(await Codes(fleet), x => Assert.Null(x.GoneAt));
    }

    [Fact]
    public async Task A_feed_that_says_nothing_of_codes_makes_none_go()
    {
        await using var fleet = await Given();
        await Hear(fleet, "97/15");
        Later(fleet);
        fleet.Feed.Answers = _ => new("""{"Equipment":[{"EquipmentHeader":{"EquipmentID":"WL-01"}}]}""", null);
        await fleet.Do<FeedRound, int>(x => x.Run(true, Ct));
        Assert.Null((await Codes(fleet))[0].GoneAt);
    }

    [Fact]
    public async Task A_code_that_goes_closes_nothing_and_says_so()
    {
        await using var fleet = await Given();
        await Hear(fleet, "100/1 97/15");
        Later(fleet);
        await Hear(fleet, "", 61);
        Assert.All(await Codes(fleet), x => Assert.Equal(fleet.Clock.GetUtcNow(), x.GoneAt));
        Assert.Equal(RunStatus.OutOfService, await Runs(fleet));
        Assert.Equal(
            [
                "The feed tells of code 100/1. Its number stops every machine until a technician has looked.",
                "The feed tells of code 100/1 no longer. That closes nothing.",
            ],
            await fleet.Ask(db =>
                db.DefectEvents.Where(x => x.Act == DefectAct.Said).OrderBy(x => x.Id).Select(x => x.Words).ToListAsync(Ct)
            )
        );

        // The other one still waits to be looked at.
        Assert.Equal(1, await fleet.Do<FeedCodes, int>(x => x.Unseen(Ct)));
    }

    [Fact]
    public async Task A_code_that_comes_and_goes_stays_one_with_its_count_and_a_line_a_day()
    {
        await using var fleet = await Given();
        for (var i = 0; i < 6; i++)
        {
            await Hear(fleet, i % 2 == 0 ? "100/1 97/15" : "", 60 + i * 0.2);
            fleet.Clock.Advance(TimeSpan.FromMinutes(15));
        }

        var codes = await Codes(fleet);
        Assert.Equal([("97/15", 3), ("100/1", 3)], codes.Select(x => (x.Code, x.Times)).OrderByDescending(x => x.Code));
        Assert.Single(await Defects(fleet));
        var acts = await fleet.Ask(db => db.DefectEvents.OrderBy(x => x.Id).Select(x => x.Act).ToListAsync(Ct));
        Assert.Equal([DefectAct.Found, DefectAct.Said, DefectAct.Said, DefectAct.SeenAgain], acts);
    }

    [Fact]
    public async Task Codes_move_house_with_who_looked_and_what_was_written_down()
    {
        await using var fleet = await Given();
        await Hear(fleet, "100/1 97/15");
        var water = (await Codes(fleet)).Single(x => x.Code == "97/15");
        await Ok<FeedCodes, FeedCodeRow>(fleet, x => x.Looked(water.Id, "drained a cup of water", Fleet.Tam, Ct));
        Later(fleet);
        await Hear(fleet, "100/1", 61);
        Later(fleet);
        await Hear(fleet, "100/1 97/15", 62);

        var file = await Exported(fleet);
        await using var second = await Fleet.Empty();
        await Ok<ImportFleet, ImportedFleet>(second, x => x.Run(new MemoryStream(file), Fleet.Tam, null, Ct));

        var (before, after) = (await Codes(fleet), await Codes(second));
        Assert.Equal(3, after.Count);
        Assert.Equal(
            before.Select(x => (x.Code, x.Since, x.Times, x.LookedWords)),
            after.Select(x => (x.Code, x.Since, x.Times, x.LookedWords))
        );
        Assert.Equal(after.Single(x => x.LookedBy == "Tam Ollery").Id, after.Single(x => x.RepeatOf is not null).RepeatOf);
        Assert.Equal((await Defects(second)).Single().Id, after.Single(x => x.Code == "100/1").DefectId);
        Assert.Equal(file, await Exported(second));
    }

    private static async Task<byte[]> Exported(Fleet fleet)
    {
        using var text = new MemoryStream();
        await fleet.Do<ExportFleet>(x => x.Run(text, null, Ct));
        return text.ToArray();
    }

    private static async Task<DefectRow> Released(Fleet fleet, long id)
    {
        await Ok<RepairDefect, DefectRow>(fleet, x => x.Repair(id, new("new sender", null, "20", null, null), Fleet.Tam, Ct));
        return await Ok<RepairDefect, DefectRow>(fleet, x => x.Release(id, true, "holds", Mara, Ct));
    }

    [Fact]
    public async Task A_code_that_outlives_its_repair_is_a_stop_again_and_one_that_comes_back_within_500_h_is_a_repeat()
    {
        await using var fleet = await Given();
        await Hear(fleet, "100/1");
        Later(fleet);
        var first = await Released(fleet, (await Defects(fleet))[0].Id);

        // The report was made before it was released.
        await Hear(fleet, "100/1", 60.5, TimeSpan.FromMinutes(10));
        Assert.Single(await Defects(fleet));
        Later(fleet);
        await Hear(fleet, "100/1", 61);
        var again = (await Defects(fleet))[^1];
        Assert.Equal((DefectGrade.Stop, first.Id), (again.Grade, again.RepeatOf));
        Assert.Equal(RunStatus.OutOfService, await Runs(fleet));

        await Released(fleet, again.Id);
        Later(fleet);
        await Hear(fleet, "", 62);
        Assert.Equal(RunStatus.NoStopFound, await Runs(fleet));
        Later(fleet);
        await Hear(fleet, "100/1", 63);
        Assert.Equal(again.Id, (await Defects(fleet))[^1].RepeatOf);
        Assert.Equal((await Codes(fleet))[^2].Id, (await Codes(fleet))[^1].RepeatOf);
    }

    [Theory]
    [InlineData(499, true)]
    [InlineData(501, false)]
    public async Task The_same_code_is_a_repeat_within_500_h(double hours, bool repeat)
    {
        await using var fleet = await Given();
        await Hear(fleet, "97/15");
        await Ok<FeedCodes, FeedCodeRow>(fleet, async x => await x.Looked((await Codes(fleet))[0].Id, "bowl is dry", Fleet.Tam, Ct));
        Later(fleet);
        await Hear(fleet, "", 61);
        var last = await fleet.Ask(db => db.Readings.MaxAsync(x => x.ShownHours, Ct));
        fleet.Clock.Advance(TimeSpan.FromDays(100));
        Assert.True((await fleet.Log(Unit, last.Value + hours, fleet.Clock.GetUtcNow())).Done);
        await Hear(fleet, "97/15", 62);
        var codes = await Codes(fleet);
        Assert.Equal((2, repeat ? codes[0].Id : null, null), (codes.Count, codes[1].RepeatOf, codes[1].LookedAt));
    }

    [Fact]
    public async Task What_somebody_has_looked_at_stays_so_while_the_code_is_there()
    {
        await using var fleet = await Given();
        await Hear(fleet, "97/15");
        await Ok<FeedCodes, FeedCodeRow>(fleet, async x => await x.Looked((await Codes(fleet))[0].Id, "bowl is dry", Fleet.Tam, Ct));
        Later(fleet);
        await Hear(fleet, "97/15", 61);
        var code = Assert.Single(await Codes(fleet));
        Assert.Equal(("Tam Ollery", "bowl is dry", 1), (code.LookedBy, code.LookedWords, code.Times));
    }

    [Fact]
    public async Task A_code_that_comes_again_while_its_repair_waits_to_be_released_opens_it()
    {
        await using var fleet = await Given();
        await Hear(fleet, "100/1");
        Later(fleet);
        await Hear(fleet, "", 61);
        var id = (await Defects(fleet))[0].Id;
        await Ok<RepairDefect, DefectRow>(fleet, x => x.Repair(id, new("new sender", null, "20", null, null), Fleet.Tam, Ct));
        Later(fleet);
        await Hear(fleet, "100/1", 62);
        Assert.Equal(DefectState.Open, Assert.Single(await Defects(fleet)).State);
    }

    [Fact]
    public async Task A_defect_that_a_person_wrote_of_the_same_code_is_raised_and_no_second_one_stands()
    {
        await using var fleet = await Given();
        var known = await Ok<ReportDefect, DefectRow>(fleet, x =>
            x.Run(Said("lamp and code", MachinePart.Engine, DefectGrade.Watch) with { Unit = Unit, Code = "97/15, 100/1" }, Fleet.Tam, Ct)
        );
        await Hear(fleet, "100/1");
        var defect = Assert.Single(await Defects(fleet));
        Assert.Equal((known.Id, DefectGrade.Stop), (defect.Id, defect.Grade));
        Assert.Equal(known.Id, Assert.Single(await Codes(fleet)).DefectId);
        Assert.Equal(RunStatus.OutOfService, await Runs(fleet));
    }

    [Fact]
    public async Task What_two_people_have_graded_down_stays_so_while_the_code_comes_and_goes()
    {
        await using var fleet = await Given();
        await Hear(fleet, "100/4");
        var id = (await Defects(fleet))[0].Id;
        await Ok<GradeDefect, DefectRow>(fleet, x => x.AskDown(id, DefectGrade.Limit, "sender, gauge is right", Fleet.Tam, Ct));
        await Ok<GradeDefect, DefectRow>(fleet, x => x.DecideDown(id, true, "seen", "20", "5", Mara, Ct));
        Later(fleet);
        await Hear(fleet, "", 61);
        Later(fleet);
        await Hear(fleet, "100/4", 62);
        Assert.Equal(DefectGrade.Limit, Assert.Single(await Defects(fleet)).Grade);
    }

    [Theory]
    [InlineData("1762/1", "1762, 2017", true)]
    [InlineData("1763/1", "1762, 2017", false)]
    public async Task A_number_that_a_planner_names_stops_too(string code, string named, bool stops)
    {
        await using var fleet = await Given();
        await Ok<FeedBook, Nothing>(fleet, x => x.SaveStopSpns(named, Mara, Ct));
        await Hear(fleet, code);
        Assert.Equal(stops ? RunStatus.OutOfService : RunStatus.NoStopFound, await Runs(fleet));

        // What it rests on stands with it: the list may be another one tomorrow.
        var said = await fleet.Ask(db => db.DefectEvents.Where(x => x.Act == DefectAct.Said).Select(x => x.Words).ToListAsync(Ct));
        Assert.Equal(
            stops ? [$"The feed tells of code {code}. Planners have named its number among those that stop a machine."] : [],
            said
        );
        Assert.Equal([1762, 2017], (await fleet.Do<FeedBook, FeedsPage>(x => x.Load(1, Ct))).StopSpns);
    }

    [Theory]
    [InlineData("steering", "steering")]
    [InlineData("0", "0")]
    [InlineData("12, 524288", "524288")]
    [InlineData("-3", "-3")]
    public async Task What_is_no_number_is_refused_and_the_old_ones_stay(string typed, string named)
    {
        await using var fleet = await Given();
        await Ok<FeedBook, Nothing>(fleet, x => x.SaveStopSpns("2017", Mara, Ct));
        var refused = await Refused<FeedBook, Nothing>(fleet, x => x.SaveStopSpns(typed, Mara, Ct));
        Assert.Equal(("stopSpns", named), (refused.Field, refused.Args[0]));
        Assert.Equal([2017], (await fleet.Do<FeedBook, FeedsPage>(x => x.Load(1, Ct))).StopSpns);
    }

    [Fact]
    public async Task What_a_code_means_on_this_machine_by_its_people_stops_it_where_it_speaks_of_brakes_or_steering()
    {
        await using var fleet = await Given();
        await fleet.Ask(async db =>
        {
            db.Set<MachineCode>()
                .Add(
                    new()
                    {
                        MachineId = 1,
                        Code = "2810/1",
                        Meaning = "steering pressure",
                        By = "Tam Ollery",
                    }
                );
            return await db.SaveChangesAsync(Ct);
        });
        await Hear(fleet, "2810/1");
        var defect = Assert.Single(await Defects(fleet));
        Assert.Equal((DefectGrade.Stop, MachinePart.Steering, "steering pressure"), (defect.Grade, defect.Part, defect.Words));
        var said = await fleet.Ask(db => db.DefectEvents.Where(x => x.Act == DefectAct.Said).Select(x => x.Words).SingleAsync(Ct));
        Assert.Equal("The feed tells of code 2810/1. It stops this machine, on which it was said to mean: steering pressure", said);
    }

    [Fact]
    public async Task A_retired_machine_gets_no_stop()
    {
        await using var fleet = await Given();
        await fleet.Ask(db => db.Machines.ExecuteUpdateAsync(x => x.SetProperty(m => m.Retired, true), Ct));
        await Hear(fleet, "100/1");
        Assert.Empty(await Defects(fleet));
        Assert.Empty(await Codes(fleet));
    }
}
