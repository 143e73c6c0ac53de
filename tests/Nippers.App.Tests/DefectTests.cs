using Microsoft.EntityFrameworkCore;
using NetVips;
using Nippers.App.Defects;
using Nippers.App.Quick;
using Nippers.App.Walks;
using Nippers.App.Work;
using Nippers.Core.Defects;
using Nippers.Core.Hours;
using Nippers.Core.Quick;
using Nippers.Data.Defects;

namespace Nippers.App.Tests;

/// <summary>Defects from finding to closing, on a real database.</summary>
public sealed class DefectTests
{
    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    private static readonly Actor Ines = new("Ines Varrow", Roles.Operator);
    private static readonly Actor Mara = new("Mara Quill", Roles.Planner);
    private static readonly Actor Nils = new("Nils Orme", Roles.Planner);

    private static Task<Outcome<DefectRow>> Report(Fleet fleet, DefectInput input, Actor? actor = null) =>
        fleet.Do<ReportDefect, Outcome<DefectRow>>(x => x.Run(input with { Unit = "WL-01" }, actor ?? Fleet.Tam, Ct));

    private static DefectInput Of(
        string words,
        DefectGrade grade,
        string? hours = null,
        string? days = null,
        string? check = null,
        string? place = null,
        string? part = null
    ) =>
        new()
        {
            Unit = "",
            Words = words,
            Grade = grade,
            LimitHours = hours,
            LimitDays = days,
            Check = check,
            Place = place,
            Part = part,
            On = MachinePart.Other,
        };

    private static Task<Outcome<DefectRow>> Repair(
        Fleet fleet,
        long id,
        Actor? actor = null,
        string? words = "done",
        string? hours = null
    ) => fleet.Do<RepairDefect, Outcome<DefectRow>>(x => x.Repair(id, new(words, hours, "45", "seal kit", null), actor ?? Fleet.Tam, Ct));

    private static Task<Outcome<DefectRow>> Release(
        Fleet fleet,
        long id,
        Actor actor,
        bool returned = true,
        string? words = "looked at it"
    ) => fleet.Do<RepairDefect, Outcome<DefectRow>>(x => x.Release(id, returned, words, actor, Ct));

    private static Task<Outcome<DefectRow>> Grade(Fleet fleet, Func<GradeDefect, Task<Outcome<DefectRow>>> act) => fleet.Do(act);

    private static Task<DefectPage> Page(Fleet fleet, long id) => fleet.Do<DefectViews, DefectPage>(async x => (await x.One(id, Ct))!);

    private static string Code<T>(Outcome<T> outcome)
        where T : class => string.Join(',', outcome.Refusals.Select(x => x.Code));

    [Fact]
    public async Task A_stop_takes_the_machine_out_at_once_and_two_people_to_bring_it_back()
    {
        await using var fleet = await Fleet.WithLoader();
        var stop = (await Report(fleet, Of("Pedal sinks", DefectGrade.Stop, check: "brake-service"), Ines)).Value!;
        Assert.Equal(SafetyPart.Brakes, stop.Safety);
        Assert.True((await fleet.Status("WL-01")).OutOfService);
        Assert.Equal(RunStatus.OutOfService, (await fleet.Page("WL-01")).Answer.RunStatus);

        fleet.Clock.Advance(TimeSpan.FromHours(3));
        Assert.Equal("technicianNeeded", Code(await Repair(fleet, stop.Id, Ines)));
        Assert.Equal("wordsNeeded", Code(await Repair(fleet, stop.Id, words: " ")));
        Assert.Equal("repairBeforeDefect", Code(await Repair(fleet, stop.Id, hours: "12")));
        Assert.Equal(DefectState.Repaired, (await Repair(fleet, stop.Id)).Value!.State);
        Assert.True((await fleet.Status("WL-01")).OutOfService, "repaired is not returned");

        Assert.Equal("secondPersonNeeded", Code(await Release(fleet, stop.Id, Fleet.Tam)));
        Assert.Equal("technicianNeeded", Code(await Release(fleet, stop.Id, Ines)));
        Assert.Equal("wordsNeeded", Code(await Release(fleet, stop.Id, Fleet.Bea, words: "")));
        Assert.Equal(DefectState.Open, (await Release(fleet, stop.Id, Fleet.Bea, returned: false, words: "still sinks")).Value!.State);
        Assert.True((await Repair(fleet, stop.Id)).Done);
        Assert.True((await Release(fleet, stop.Id, Fleet.Bea)).Done);
        Assert.False((await fleet.Status("WL-01")).OutOfService);
        Assert.Equal(
            [DefectAct.Found, DefectAct.Repaired, DefectAct.Reopened, DefectAct.Repaired, DefectAct.Returned],
            (await Page(fleet, stop.Id)).Events.Select(x => x.Act)
        );

        // Stopped from half past seven to half past ten of a shift that ends at five.
        var span = await fleet.Ask(db => db.Stoppages.SingleAsync(Ct));
        Assert.Equal(TimeSpan.FromHours(3), span.To!.Value - span.From);
        var month = (await fleet.Do<WalkViews, MachineWalks?>(x => x.OfMachine("WL-01", null, Ct)))!.Availability[0];
        Assert.Equal(7 * 3 / 10.0, month.StoppedHours, 1e-6);
    }

    [Fact]
    public async Task A_limit_that_an_operator_says_is_fixed_stands_until_somebody_has_looked()
    {
        await using var fleet = await Fleet.WithLoader();
        var said = Of("Hose weeps", DefectGrade.Limit, days: "2") with { Fixed = "wiped it off" };
        var limit = (await Report(fleet, said, Ines)).Value!;
        Assert.Equal(DefectState.Repaired, limit.State);
        Assert.Equal(RunStatus.RunUntil, (await fleet.Page("WL-01")).Answer.RunStatus);
        Assert.Equal("technicianNeeded", Code(await Release(fleet, limit.Id, Ines)));
        Assert.Equal(DefectState.Closed, (await Report(fleet, said with { Words = "Clip loose" })).Value!.State);

        // Its clock runs on meanwhile.
        fleet.Clock.Advance(TimeSpan.FromDays(3));
        Assert.Equal(DefectGrade.Stop, (await Page(fleet, limit.Id)).Line.Defect.Grade);
        Assert.True((await fleet.Status("WL-01")).OutOfService);
        Assert.True((await Release(fleet, limit.Id, Fleet.Bea)).Done);
        Assert.False((await fleet.Status("WL-01")).OutOfService);
    }

    [Fact]
    public async Task A_passed_limit_raises_the_grade_wherever_somebody_looks_first()
    {
        await using var fleet = await Fleet.WithLoader();
        var limit = (await Report(fleet, Of("Hose weeps", DefectGrade.Limit, days: "2"))).Value!;
        fleet.Clock.Advance(TimeSpan.FromDays(2));
        Assert.Equal(DefectGrade.Limit, (await Page(fleet, limit.Id)).Line.Defect.Grade);
        fleet.Clock.Advance(TimeSpan.FromDays(1));
        var list = await fleet.Do<DefectViews, DefectList>(x => x.List(new(), Ct));
        Assert.Equal((DefectGrade.Stop, null), (list.Lines[0].Defect.Grade, list.Lines[0].Defect.LimitOn));
        Assert.True((await fleet.Status("WL-01")).OutOfService);
        var raised = (await Page(fleet, limit.Id)).Events[^1];
        Assert.Equal(
            (DefectAct.Raised, DefectClocks.ClockName, DefectGrade.Limit, DefectGrade.Stop),
            (raised.Act, raised.By, raised.From!.Value, raised.To!.Value)
        );
        Assert.Equal(1, await fleet.Ask(db => db.Audit.CountAsync(x => x.What == "defect.raised", Ct)));
    }

    [Fact]
    public async Task Hours_raise_it_by_what_was_read_not_by_what_is_guessed()
    {
        await using var fleet = await Fleet.WithLoader();
        var limit = (await Report(fleet, Of("Hose weeps", DefectGrade.Limit, hours: "10"))).Value!;
        fleet.Clock.Advance(TimeSpan.FromDays(4));
        Assert.Equal(DefectGrade.Limit, (await Page(fleet, limit.Id)).Line.Defect.Grade);
        Assert.True((await Page(fleet, limit.Id)).Line.HoursLeft < 0, "the estimate says that it is past");
        await fleet.Log("WL-01", 375, fleet.Clock.GetUtcNow());
        Assert.Equal(DefectGrade.Stop, (await Page(fleet, limit.Id)).Line.Defect.Grade);
    }

    [Fact]
    public async Task A_visit_that_leaves_it_undone_raises_what_waited_for_it_the_day_after()
    {
        await using var fleet = await Fleet.WithLoader();
        var waiting = (await Report(fleet, Of("Door dented", DefectGrade.NextService))).Value!;
        fleet.Clock.Advance(TimeSpan.FromHours(2));
        Assert.True(
            (
                await fleet.Do<RecordWork, Outcome<RecordedWork>>(x =>
                    x.Run(new("WL-01", ["linkage-grease-loader"], "360", null, null), Fleet.Tam, Ct)
                )
            ).Done
        );
        fleet.Clock.Advance(TimeSpan.FromDays(1));
        await fleet.Log("WL-01", 366, fleet.Clock.GetUtcNow());
        Assert.Equal(DefectGrade.NextService, (await Page(fleet, waiting.Id)).Line.Defect.Grade);

        Assert.True(
            (
                await fleet.Do<RecordWork, Outcome<RecordedWork>>(x =>
                    x.Run(new("WL-01", ["engine-oil"], "366", null, null), Fleet.Tam, Ct)
                )
            ).Done
        );
        Assert.Equal(DefectGrade.NextService, (await Page(fleet, waiting.Id)).Line.Defect.Grade);
        fleet.Clock.Advance(TimeSpan.FromDays(1));
        await fleet.Log("WL-01", 370, fleet.Clock.GetUtcNow());
        var raised = (await Page(fleet, waiting.Id)).Line.Defect;
        Assert.Equal(
            (DefectGrade.Limit, new MeterHours(3700 + 500), new DateOnly(2026, 3, 18).AddDays(14)),
            (raised.Grade, raised.LimitHours!.Value, raised.LimitOn!.Value)
        );
    }

    [Fact]
    public async Task Down_from_a_stop_takes_a_technicians_reason_and_a_planners_and_is_not_offered_for_brakes()
    {
        await using var fleet = await Fleet.WithLoader();
        var stop = (await Report(fleet, Of("Line weeps above the manifold", DefectGrade.Stop, check: "fuel-near-heat"))).Value!;
        Assert.Equal(
            "stopNotDownAlone",
            Code(await Grade(fleet, x => x.Set(stop.Id, DefectGrade.Watch, "looks fine", null, null, Mara, Ct)))
        );
        Assert.Equal("stopNotDeferred", Code(await Grade(fleet, x => x.Defer(stop.Id, "later", "5", null, Mara, Ct))));
        Assert.Equal("nothingAsked", Code(await Grade(fleet, x => x.DecideDown(stop.Id, true, "yes", "5", null, Mara, Ct))));
        Assert.Equal("reasonNeeded", Code(await Grade(fleet, x => x.AskDown(stop.Id, DefectGrade.Limit, "", Fleet.Tam, Ct))));
        Assert.True((await Grade(fleet, x => x.AskDown(stop.Id, DefectGrade.Limit, "Wiped, dry since", Fleet.Tam, Ct))).Done);
        Assert.True((await fleet.Status("WL-01")).OutOfService);
        Assert.Equal("plannerNeeded", Code(await Grade(fleet, x => x.DecideDown(stop.Id, true, "ok", "5", null, Fleet.Bea, Ct))));
        Assert.Equal("limitNeeded", Code(await Grade(fleet, x => x.DecideDown(stop.Id, true, "ok", "", "", Mara, Ct))));
        Assert.True((await Grade(fleet, x => x.DecideDown(stop.Id, true, "Line comes tomorrow", "5", "1", Mara, Ct))).Done);
        Assert.Equal(
            (false, DefectGrade.Limit),
            ((await fleet.Status("WL-01")).OutOfService, (await Page(fleet, stop.Id)).Line.Defect.Grade)
        );

        // A planner who asked does not agree with herself.
        var second = (await Report(fleet, Of("Fuel smell", DefectGrade.Stop))).Value!;
        await Grade(fleet, x => x.AskDown(second.Id, DefectGrade.Watch, "was the can", Mara, Ct));
        Assert.Equal("secondPersonNeeded", Code(await Grade(fleet, x => x.DecideDown(second.Id, true, "yes", null, null, Mara, Ct))));
        Assert.True((await Grade(fleet, x => x.DecideDown(second.Id, false, "look again", null, null, Nils, Ct))).Done);
        Assert.Equal(
            (DefectGrade.Stop, null),
            ((await Page(fleet, second.Id)).Line.Defect.Grade, (await Page(fleet, second.Id)).Line.Defect.DownTo)
        );

        var brake = (await Report(fleet, Of("Pedal sinks", DefectGrade.Stop, check: "brake-service"))).Value!;
        Assert.Equal(
            "gradeNeverDown",
            Code(await Grade(fleet, x => x.AskDown(brake.Id, DefectGrade.Limit, "only a little", Fleet.Tam, Ct)))
        );
    }

    [Fact]
    public async Task Grading_up_and_putting_off_need_a_reason_and_the_right_person()
    {
        await using var fleet = await Fleet.WithLoader();
        var watch = (await Report(fleet, Of("Seep", DefectGrade.Watch))).Value!;
        Assert.Equal("technicianNeeded", Code(await Grade(fleet, x => x.Set(watch.Id, DefectGrade.Stop, "worse", null, null, Ines, Ct))));
        Assert.Equal(
            "gradeSame,reasonNeeded",
            Code(await Grade(fleet, x => x.Set(watch.Id, DefectGrade.Watch, "", null, null, Fleet.Tam, Ct)))
        );
        Assert.Equal(
            "hoursNotANumber",
            Code(await Grade(fleet, x => x.Set(watch.Id, DefectGrade.Limit, "worse", "abc", null, Fleet.Tam, Ct)))
        );
        Assert.True((await Grade(fleet, x => x.Set(watch.Id, DefectGrade.Limit, "worse", "20", null, Fleet.Tam, Ct))).Done);
        Assert.Equal("plannerNeeded", Code(await Grade(fleet, x => x.Defer(watch.Id, "part late", "40", null, Fleet.Tam, Ct))));
        Assert.Equal("reasonNeeded", Code(await Grade(fleet, x => x.Defer(watch.Id, " ", "40", null, Mara, Ct))));
        Assert.Equal(
            new MeterHours(3540 + 400),
            (await Grade(fleet, x => x.Defer(watch.Id, "part late", "40", null, Mara, Ct))).Value!.LimitHours
        );
        Assert.True((await Grade(fleet, x => x.Set(watch.Id, DefectGrade.Stop, "much worse", null, null, Fleet.Tam, Ct))).Done);
        Assert.True((await fleet.Status("WL-01")).OutOfService);
    }

    [Theory]
    [InlineData("", "nothing said", "wordsNeeded")]
    [InlineData("words", "check horny", "noSuchCheck")]
    [InlineData("words", "place moon", "noSuchPlace")]
    [InlineData("words", "limit none", "limitNeeded")]
    [InlineData("words", "limit hours abc", "hoursNotANumber")]
    [InlineData("words", "limit hours 99999", "between")]
    [InlineData("words", "limit days 3.5", "wholeBetween")]
    [InlineData("words", "minutes soon", "wholeBetween")]
    [InlineData("words", "safety down", "gradeSafety")]
    public async Task What_cannot_be_reported_is_refused_and_nothing_is_kept(string words, string what, string code)
    {
        await using var fleet = await Fleet.WithLoader();
        var input = what switch
        {
            "check horny" => Of(words, DefectGrade.Watch, check: "horny"),
            "place moon" => Of(words, DefectGrade.Watch, place: "moon"),
            "limit none" => Of(words, DefectGrade.Limit),
            "limit hours abc" => Of(words, DefectGrade.Limit, hours: "abc"),
            "limit hours 99999" => Of(words, DefectGrade.Limit, hours: "99999"),
            "limit days 3.5" => Of(words, DefectGrade.Limit, days: "3.5"),
            "minutes soon" => Of(words, DefectGrade.Watch) with { Fixed = "x", Minutes = "soon" },
            "safety down" => Of(words, DefectGrade.Watch, check: "brake-service"),
            _ => Of(words, DefectGrade.Watch),
        };
        Assert.Equal(code, Code(await Report(fleet, input)));
        Assert.Equal((0, 0), await fleet.Ask(async db => (await db.Defects.CountAsync(Ct), await db.DefectEvents.CountAsync(Ct))));
    }

    [Fact]
    public async Task An_operator_does_not_grade_below_the_check_and_a_key_makes_a_repeat_harmless()
    {
        await using var fleet = await Fleet.WithLoader();
        Assert.Equal("gradeBelowCheck", Code(await Report(fleet, Of("Left lamp faint", DefectGrade.Watch, check: "lights"), Ines)));
        Assert.True((await Report(fleet, Of("Left lamp faint", DefectGrade.Watch, check: "lights"), Fleet.Tam)).Done);
        var keyed = Of("Step bent", DefectGrade.NextService) with { Key = "k1" };
        Assert.Equal((await Report(fleet, keyed)).Value!.Id, (await Report(fleet, keyed)).Value!.Id);
        Assert.Equal(2, await fleet.Ask(db => db.Defects.CountAsync(Ct)));
    }

    [Fact]
    public async Task The_same_place_failing_again_is_a_repeat_and_another_place_is_not()
    {
        await using var fleet = await Fleet.WithLoader();
        var first = (await Report(fleet, Of("Weeps", DefectGrade.NextService, place: "hydraulic", part: "Swivel hose"))).Value!;
        await Repair(fleet, first.Id);
        fleet.Clock.Advance(TimeSpan.FromDays(30));
        await fleet.Log("WL-01", 500, fleet.Clock.GetUtcNow());
        Assert.Equal(
            first.Id,
            (await Report(fleet, Of("Weeps again", DefectGrade.NextService, place: "hydraulic", part: "swivel  hose"))).Value!.RepeatOf
        );
        Assert.Null((await Report(fleet, Of("Weeps", DefectGrade.NextService, place: "hydraulic", part: "Pump"))).Value!.RepeatOf);
    }

    internal static byte[] Picture(int width, int height, string kind = ".jpg")
    {
        using var image = Image
            .Black(width, height, bands: 3)
            .NewFromImage(90, 80, 70)
            .Cast(Enums.BandFormat.Uchar)
            .Copy(interpretation: Enums.Interpretation.Srgb);
        using var marked = image.Mutate(x =>
        {
            x.Set(GValue.GStrType, "exif-ifd0-ImageDescription", "where it was taken");
            x.Set(GValue.GIntType, "orientation", 6);
        });
        return marked.WriteToBuffer(kind);
    }

    [Fact]
    public void A_photo_is_turned_upright_made_smaller_and_stripped_of_what_the_camera_said()
    {
        var encoded = Photos.Encode(Picture(4000, 3000)).Value!;
        Assert.Equal((1200, 1600), (encoded.Width, encoded.Height));
        using var whole = Image.NewFromBuffer(encoded.Whole);
        Assert.DoesNotContain(whole.GetFields(), x => x.StartsWith("exif", StringComparison.Ordinal));
        using var small = Image.NewFromBuffer(encoded.Small);
        Assert.True(Math.Max(small.Width, small.Height) <= 320);
        Assert.True(Photos.Encode(Picture(300, 200, ".png")).Done);
        Assert.True(Photos.Encode(Picture(300, 200, ".webp")).Done);
    }

    [Fact]
    public void What_is_no_photo_too_large_or_a_bomb_is_refused_before_it_is_unpacked()
    {
        Assert.Equal("photoNotAPicture", Code(Photos.Encode("%PDF-1.7 not a picture"u8.ToArray())));
        Assert.Equal("photoNotAPicture", Code(Photos.Encode([0xFF, 0xD8, 0xFF, 0xE0, 1, 2, 3, 4])));
        Assert.Equal("photoNotAPicture", Code(Photos.Encode([])));
        Assert.Equal("photoNotAPicture", Code(Photos.Encode("<svg xmlns='http://www.w3.org/2000/svg'/>"u8.ToArray())));
        Assert.Equal("photoTooLarge", Code(Photos.Encode(new byte[Photos.LargestBytes + 1])));

        // A few kilobytes that would unpack to 400 million points.
        var bomb = Picture(20_000, 20_000, ".png");
        Assert.True(bomb.Length < Photos.LargestBytes);
        Assert.Equal("photoTooManyPixels", Code(Photos.Encode(bomb)));

        // Cut in the middle.
        var whole = Picture(1200, 900);
        Assert.Equal("photoNotAPicture", Code(Photos.Encode(whole[..(whole.Length / 3)])));
    }

    [Theory]
    [InlineData("as Nippers writes it", true)]
    [InlineData("a remark of the camera", false)]
    [InlineData("where it was taken", false)]
    [InlineData("more behind its end", false)]
    [InlineData("larger than it is kept", false)]
    [InlineData("a small one that says more", false)]
    [InlineData("another kind of picture", false)]
    public void A_photo_in_a_file_is_kept_as_it_is_only_when_it_holds_nothing_but_its_pixels(string what, bool kept)
    {
        var own = Photos.Encode(Picture(640, 480)).Value!;
        var (whole, small) = what switch
        {
            "a remark of the camera" => (With(own.Whole, 0xFE, "Yard 4, gate code 1234"), own.Small),
            "where it was taken" => (With(own.Whole, 0xE1, "Exif\0\0 51.5 N"), own.Small),
            "more behind its end" => ([.. own.Whole, .. "and a letter"u8], own.Small),
            "larger than it is kept" => (Picture(2000, 1500, ".jpg"), own.Small),
            "a small one that says more" => (own.Whole, With(own.Small, 0xFE, "gate code")),
            "another kind of picture" => (Picture(640, 480, ".png"), own.Small),
            _ => (own.Whole, own.Small),
        };

        var taken = Photos.Take(whole, small).Value!;
        Assert.Equal(kept, taken.Whole.SequenceEqual(whole) && taken.Small.SequenceEqual(small));
        Assert.True(taken is { Width: <= 1600, Height: <= 1600 });
        Assert.DoesNotContain("gate", System.Text.Encoding.Latin1.GetString([.. taken.Whole, .. taken.Small]), StringComparison.Ordinal);

        // However it came, from here on it stays what it is.
        Assert.Equal(taken, Photos.Take(taken.Whole, taken.Small).Value);

        static byte[] With(byte[] picture, byte mark, string words)
        {
            var text = System.Text.Encoding.Latin1.GetBytes(words);
            return [.. picture[..2], 0xFF, mark, 0, (byte)(text.Length + 2), .. text, .. picture[2..]];
        }
    }

    [Fact]
    public void What_is_no_picture_in_a_file_is_refused()
    {
        var own = Photos.Encode(Picture(64, 48)).Value!;
        Assert.Equal("photoNotAPicture", Code(Photos.Take(own.Whole, "nothing"u8.ToArray())));
        Assert.Equal("photoNotAPicture", Code(Photos.Take("nothing"u8.ToArray(), own.Small)));
    }

    [Fact]
    public async Task A_bad_photo_keeps_the_whole_report_back_and_a_good_one_comes_with_it()
    {
        await using var fleet = await Fleet.WithLoader();
        Assert.Equal(
            "photoNotAPicture",
            Code(await Report(fleet, Of("Bent", DefectGrade.Watch) with { Photos = [Picture(40, 30), [1, 2, 3]] }))
        );
        Assert.Equal((0, 0), await fleet.Ask(async db => (await db.Defects.CountAsync(Ct), await db.DefectPhotos.CountAsync(Ct))));
        var kept = (await Report(fleet, Of("Bent", DefectGrade.Watch) with { Photos = [Picture(40, 30)] })).Value!;
        var page = await Page(fleet, kept.Id);
        Assert.NotNull(await fleet.Do<DefectViews, byte[]?>(x => x.Photo(kept.Id, page.Photos[0].Id, true, Ct)));
        Assert.Null(await fleet.Do<DefectViews, byte[]?>(x => x.Photo(kept.Id + 1, page.Photos[0].Id, true, Ct)));
    }

    [Fact]
    public async Task Words_and_photos_are_added_to_what_stands_and_too_many_are_refused()
    {
        await using var fleet = await Fleet.WithLoader();
        var defect = (await Report(fleet, Of("Bent", DefectGrade.Watch))).Value!;
        Task<Outcome<DefectRow>> Add(string? words, params byte[][] photos) =>
            fleet.Do<DefectNotes, Outcome<DefectRow>>(x => x.Add(defect.Id, words, photos, null, Ines, Ct));
        var photo = Picture(40, 30);
        Assert.Equal("wordsNeeded", Code(await Add(" ")));
        Assert.Equal("photosTooMany", Code(await Add(null, [.. Enumerable.Repeat(photo, 7)])));
        Assert.Equal("photoNotAPicture", Code(await Add("look", photo, [1, 2])));
        Assert.True((await Add("Bent further", photo, photo)).Done);
        var page = await Page(fleet, defect.Id);
        Assert.Equal((2, DefectAct.Photo, "Bent further"), (page.Photos.Count, page.Events[^1].Act, page.Events[^1].Words));
    }

    [Fact]
    public async Task Entered_in_error_is_taken_back_by_whom_it_may_be()
    {
        await using var fleet = await Fleet.WithLoader();
        Task<Outcome<DefectRow>> Void(long id, Actor actor, string? reason = "wrong machine") =>
            fleet.Do<DefectNotes, Outcome<DefectRow>>(x => x.Void(id, reason, actor, Ct));
        var stop = (await Report(fleet, Of("Smells hot", DefectGrade.Stop), Ines)).Value!;
        Assert.Equal("reasonNeeded", Code(await Void(stop.Id, Ines, "")));
        Assert.True((await Void(stop.Id, Ines)).Done);
        Assert.False((await fleet.Status("WL-01")).OutOfService);
        var mine = (await Report(fleet, Of("Seep", DefectGrade.Watch), Ines)).Value!;
        var theirs = (await Report(fleet, Of("Seep", DefectGrade.Watch, place: "fuel"), Fleet.Tam)).Value!;
        Assert.True((await Void(mine.Id, Ines)).Done);
        Assert.Equal("technicianNeeded", Code(await Void(theirs.Id, Ines)));
    }

    [Fact]
    public async Task The_quick_line_reports_and_tops_up()
    {
        await using var fleet = await Fleet.WithLoader();
        async Task<QuickReading> Preview(string line) => await fleet.Do<QuickRun, QuickReading>(x => x.Preview(line, Ct));
        var report = Assert.IsType<QuickCommand.ReportDefect>((await Preview("wl1 defect left guard loose")).Command);
        Assert.Equal(new("WL-01", "left guard loose"), report);
        Assert.Equal(
            DefectGrade.NextService,
            (await fleet.Do<QuickRun, Outcome<DefectRow>>(x => x.Report(report, MachinePart.Body, "q", Ines, Ct))).Value!.Grade
        );

        Assert.Equal(
            ("engine", 1.5),
            ((await Preview("WL-01 +1.5 L engine")).TopUp!.Compartment!.Code, (await Preview("WL-01 +1.5 L engine")).TopUp!.Litres)
        );
        Assert.Equal("noSuchCompartmentNear", (await Preview("WL-01 +1.5 L enginge")).TopUp!.Refusals[0].Code);
        Assert.Equal(1.5, (await Preview("WL-01 +1,5 L engine")).TopUp!.Litres);
        Assert.Equal("decimalComma", (await Preview("WL-01 +1,500 L engine")).TopUp!.Refusals[0].Code);
        Assert.Equal("between", (await Preview("WL-01 +900 engine")).TopUp!.Refusals[0].Code);
        var kept = (await fleet.Do<LogTopUp, Outcome<LoggedTopUp>>(x => x.Run("WL-01", "1.5", "engine", "t", Ines, Ct))).Value!;
        Assert.Equal(
            kept.Id,
            (await fleet.Do<LogTopUp, Outcome<LoggedTopUp>>(x => x.Run("WL-01", "1.5", "engine", "t", Ines, Ct))).Value!.Id
        );
        Assert.True((await fleet.Do<LogTopUp, Outcome<Nothing>>(x => x.Void("WL-01", kept.Id, Ines, Ct))).Done);
        Assert.Equal("topUpGone", Code(await fleet.Do<LogTopUp, Outcome<Nothing>>(x => x.Void("WL-01", kept.Id, Ines, Ct))));
    }

    [Fact]
    public async Task A_top_up_of_a_sealed_drive_is_a_leak_and_becomes_a_defect()
    {
        await using var fleet = await Fleet.WithLoader();
        await fleet.Do<Nippers.Data.NippersDb>(async db =>
        {
            var excavators = await db.Programs.SingleAsync(x => x.Code == "starter-crawler-excavator", Ct);
            await db.Machines.ExecuteUpdateAsync(
                x =>
                    x.SetProperty(m => m.Kind, Data.Fleet.MachineKind.Of("crawler-excavator")).SetProperty(m => m.ProgramId, excavators.Id),
                Ct
            );
        });
        Assert.True((await fleet.Do<LogTopUp, Outcome<LoggedTopUp>>(x => x.Run("WL-01", "0.5", "swing drive", null, Fleet.Tam, Ct))).Done);
        var leak = await fleet.Ask(db => db.Defects.SingleAsync(Ct));
        Assert.Equal(("swing-drive:swing-drive-level", DefectGrade.Limit, "+0.5 L Swing drive"), (leak.Place, leak.Grade, leak.Words));
        Assert.True((await fleet.Do<LogTopUp, Outcome<LoggedTopUp>>(x => x.Run("WL-01", "0.5", "engine", null, Fleet.Tam, Ct))).Done);
        Assert.Equal(1, await fleet.Ask(db => db.Defects.CountAsync(Ct)));
    }
}
