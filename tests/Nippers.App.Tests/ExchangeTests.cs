using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using Json.Schema;
using Microsoft.EntityFrameworkCore;
using Nippers.App.Exchange;
using Nippers.App.Parts;
using Nippers.App.Programs;
using Nippers.App.Visits;
using Nippers.Core.Hours;
using Nippers.Core.Service;
using Nippers.Core.Walk;
using Nippers.Data.Fleet;
using Nippers.Data.Records;
using Nippers.Demo;
using Nippers.Formats.Csv;

namespace Nippers.App.Tests;

public sealed class ExchangeTests
{
    private static readonly Lazy<Task<byte[]>> Demo = new(async () =>
    {
        using var stream = new MemoryStream();
        await DemoFleet.Write(DateOnly.FromDateTime(Fleet.Now.DateTime), stream);
        return stream.ToArray();
    });

    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    private static Task<Outcome<ImportedFleet>> Import(Fleet fleet, byte[] file) =>
        fleet.Do<ImportFleet, Outcome<ImportedFleet>>(x => x.Run(new MemoryStream(file), Fleet.Tam, null, Ct));

    private static async Task<byte[]> Export(Fleet fleet)
    {
        using var stream = new MemoryStream();
        await fleet.Do<ExportFleet>(x => x.Run(stream, null, Ct));
        return stream.ToArray();
    }

    private static async Task<Fleet> WithDemo(byte[]? file = null, DateTimeOffset? now = null)
    {
        var fleet = await Fleet.Empty();
        if (now is { } at)
            fleet.Clock.AdjustTime(at);
        await fleet.Ask(async db =>
        {
            await db.Sites.ExecuteDeleteAsync(Ct);
            db.Programs.RemoveRange(db.Programs);
            return await db.SaveChangesAsync(Ct);
        });
        var outcome = await Import(fleet, file ?? await Demo.Value);
        Assert.True(outcome.Done, string.Join(", ", outcome.Refusals.SelectMany(x => x.Args.Prepend(x.Code))));
        return fleet;
    }

    [Fact]
    public async Task Export_then_import_into_an_empty_database_gives_the_same_export_byte_for_byte()
    {
        await using var fleet = await WithDemo();
        var first = await Export(fleet);
        Assert.Equal(Encoding.UTF8.GetString(await Demo.Value), Encoding.UTF8.GetString(first));
    }

    [Fact]
    public async Task The_demo_is_the_same_for_a_date_and_its_file_follows_the_schema()
    {
        using var again = new MemoryStream();
        await DemoFleet.Write(DateOnly.FromDateTime(Fleet.Now.DateTime), again);
        Assert.True((await Demo.Value).AsSpan().SequenceEqual(again.ToArray()));

        var schema = JsonSchema.FromText(await File.ReadAllTextAsync(Path.Combine(AppContext.BaseDirectory, "fleet.schema.json"), Ct));
        var result = schema.Evaluate(JsonDocument.Parse(again.ToArray()).RootElement, new() { OutputFormat = OutputFormat.Flag });
        Assert.True(result.IsValid);
        Assert.False(
            schema.Evaluate(JsonDocument.Parse("""{"format":"nippers-fleet","version":3,"sites":[{"name":"x"}]}""").RootElement).IsValid
        );
    }

    [Theory]
    [InlineData("2026-11-25")]
    [InlineData("2027-02-28")]
    public async Task The_demos_story_holds_on_any_day(string date)
    {
        var today = DateOnly.ParseExact(date, "yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture);
        using var file = new MemoryStream();
        await DemoFleet.Write(today, file);
        await using var fleet = await WithDemo(file.ToArray(), new DateTimeOffset(today.ToDateTime(new TimeOnly(7, 30)), TimeSpan.Zero));

        var rows = await fleet.Ask(db => db.Statuses.Include(x => x.Machine).AsNoTracking().ToDictionaryAsync(x => x.Machine.Unit, Ct));
        Assert.Equal(22, rows.Count);
        Assert.True(rows["EX-03"].NoRecord > 20);
        Assert.Equal(1, rows["EX-04"].Unconfirmed);
        Assert.True(rows["TL-01"].Parked);
        Assert.True(rows["WL-03"].Stale);
        Assert.NotEqual(MeterHours.Zero, rows["WL-02"].OffsetHours);
        var late = (await fleet.Page("DZ-02")).Items.Single(x => x.Item.Code == "hydraulic-sample");
        Assert.Equal((8500d, DueStatus.Overdue), (late.Status.DueHours, late.Status.Status));
        var first = (await fleet.Page("TL-02")).Items.Single(x => x.Item.Code == "engine-oil");
        Assert.Equal((DueBasis.BreakIn, 50d, DueStatus.Due), (first.Status.Point.Basis, first.Status.DueHours, first.Status.Status));

        var open = await fleet.Ask(db => db.Visits.AsNoTracking().SingleAsync(x => x.State == Data.Visits.VisitState.Open, Ct));
        var card = await fleet.Do<VisitViews, JobContext>(async x => (await x.Job(open.Id, Ct))!);
        Assert.Equal("engine-oil.drain", Assert.Single(card.State.OpenDrains).Step.Code);
        Assert.InRange(card.Share, 0.1, 0.8);
        Assert.Equal("DZ-02", card.Row.Machine.Unit);
        Assert.True(
            await fleet.Ask(db => db.FilterLog.AnyAsync(x => x.State == Data.Parts.FilterLogState.Refused && x.VisitId == open.Id, Ct))
        );
        Assert.True(
            await fleet.Ask(db => db.Visits.AnyAsync(x => x.State == Data.Visits.VisitState.Planned && x.Machine.Unit == "EX-04", Ct))
        );
        var closed = await fleet.Ask(db => db.Visits.CountAsync(x => x.State == Data.Visits.VisitState.Closed, Ct));
        Assert.InRange(closed, 30, 200);
        Assert.True((await fleet.Do<PartViews, PartList>(x => x.List(null, true, 1, Ct))).BelowNeed > 0);
    }

    [Fact]
    public async Task A_file_of_version_1_is_read_with_all_its_answers_and_written_in_todays_shape()
    {
        var old = await File.ReadAllBytesAsync(Path.Combine(AppContext.BaseDirectory, "Fixtures", "fleet-version-1.json"), Ct);
        await using var fleet = await WithDemo(old);

        var open = await fleet.Ask(db => db.Visits.AsNoTracking().SingleAsync(x => x.State == Data.Visits.VisitState.Open, Ct));
        var card = await fleet.Do<VisitViews, JobContext>(async x => (await x.Job(open.Id, Ct))!);
        var was = JsonNode.Parse(old)!["visits"]!.AsArray().Single(x => (string)x!["state"]! == "open")!["steps"]!.AsArray();
        Assert.Equal(was.Count, card.Card.Steps.Count(x => card.State.AnswerOf(x) is not null));
        Assert.Equal("engine-oil.drain", Assert.Single(card.State.OpenDrains).Step.Code);

        var walks = await fleet.Ask(db => db.Walks.AsNoTracking().Select(x => x.Id).ToListAsync(Ct));
        var before = JsonNode.Parse(old)!["walks"]!.AsArray();
        foreach (var (id, walk) in walks.Zip(before))
        {
            var context = await fleet.Ask(async db => (await Nippers.App.Walks.WalkContext.Load(db, id, Ct))!);
            foreach (var (code, answer) in walk!["answers"]?["a"]?.AsObject() ?? [])
            {
                if (answer!["level"] is { } level)
                    Assert.Equal((double)level, Assert.IsType<LevelAnswer>(context.Answers[code]).Level);
                if (answer["figures"] is { } figures)
                    Assert.Equal(
                        figures.AsArray().Select(x => (double)x!),
                        Assert.IsType<MeasureAnswer>(context.Answers[code]).Figures.AsEnumerable()
                    );
            }
        }

        var again = await Export(fleet);
        var schema = JsonSchema.FromText(await File.ReadAllTextAsync(Path.Combine(AppContext.BaseDirectory, "fleet.schema.json"), Ct));
        Assert.True(schema.Evaluate(JsonDocument.Parse(again).RootElement, new() { OutputFormat = OutputFormat.Flag }).IsValid);
        await using var second = await WithDemo(again);
        Assert.Equal(Encoding.UTF8.GetString(again), Encoding.UTF8.GetString(await Export(second)));
    }

    [Theory]
    [InlineData("answers")]
    [InlineData("open.answer")]
    [InlineData("steps.answer")]
    [InlineData("card.steps")]
    [InlineData("steps.code")]
    public async Task An_answer_that_its_question_cannot_have_refuses_the_file(string field)
    {
        await using var first = await WithDemo(
            await File.ReadAllBytesAsync(Path.Combine(AppContext.BaseDirectory, "Fixtures", "fleet-version-1.json"), Ct)
        );
        var file = JsonNode.Parse(await Export(first))!;
        var walk = file["walks"]!.AsArray().First(x => x!["answers"]?["a"] is not null)!;
        var open = file["walks"]!.AsArray().First(x => x!["open"] is not null)!["open"]!.AsArray();
        var visit = file["visits"]!.AsArray().First(x => x!["steps"] is JsonArray { Count: > 2 })!;
        var level = JsonNode.Parse("""{"kind":"level","level":0.5,"look":"clear"}""");
        switch (field)
        {
            case "answers":
                walk["answers"]!["a"]!.AsObject()[(string)walk["checks"]!.AsArray().First(x => (string)x! == "notices")!] = level;
                break;
            case "open.answer":
                open.First(x => (string)x!["code"]! == "notices")!["answer"] = level!.ToJsonString();
                break;
            case "steps.answer":
                visit["steps"]![0]!["answer"] = JsonNode.Parse("""{"kind":"waste","place":"ditch"}""");
                break;
            case "card.steps":
                visit["card"]!["steps"]![1]!["code"] = (string)visit["card"]!["steps"]![0]!["code"]!;
                break;
            case "steps.code":
                visit["steps"]![0]!["code"] = "nobody.asked";
                break;
        }

        await using var fleet = await Fleet.Empty();
        var before = await fleet.Fingerprint();
        var refused = await Import(fleet, Encoding.UTF8.GetBytes(file.ToJsonString()));

        Assert.Equal(("fleetBadField", field), (Assert.Single(refused.Refusals).Code, refused.Refusals[0].Args[^1]));
        Assert.Equal(before, await fleet.Fingerprint());
    }

    [Fact]
    public async Task A_starter_worded_otherwise_gives_way_to_the_files_unless_somebody_works_by_it()
    {
        var file = await File.ReadAllTextAsync(Path.Combine(AppContext.BaseDirectory, "Fixtures", "fleet-version-1.json"), Ct);
        await using var fleet = await Fleet.WithLoader();
        var program = StarterPrograms.CodeOf(MachineKind.Of("crawler-dozer"));
        Task<int> Reword(string name) =>
            fleet.Ask(db =>
                db.ProgramItems.Where(x => db.Programs.Any(p => p.Id == x.ProgramId && p.Code == program))
                    .ExecuteUpdateAsync(x => x.SetProperty(i => i.Name, name), Ct)
            );

        await Reword("Otherwise");
        var taken = await Import(fleet, Encoding.UTF8.GetBytes(file));
        Assert.Equal(2, taken.Value?.Machines);
        Assert.False(await fleet.Ask(db => db.ProgramItems.AnyAsync(x => x.Name == "Otherwise", Ct)));

        await Reword("Our own words");
        var before = await fleet.Fingerprint();
        var others = file.Replace("DZ-02", "DZ-92", StringComparison.Ordinal).Replace("EX-02", "EX-92", StringComparison.Ordinal);
        var refused = await Import(fleet, Encoding.UTF8.GetBytes(others));
        Assert.Equal("fleetProgramDiffers", Assert.Single(refused.Refusals).Code);
        Assert.Equal(before, await fleet.Fingerprint());
    }

    public static TheoryData<string, string> Broken() =>
        new()
        {
            { "cut", "fleetCut" },
            { "newer", "fleetNewer" },
            { "compartment", "fleetNoCompartment" },
            { "unit", "fleetTwice" },
            { "json", "fleetNotJson" },
            { "other", "fleetNotFleet" },
            { "backward", "fleetBackward" },
            { "item", "fleetNoItem" },
            { "field", "fleetBadRecord" },
            { "empty", "fleetCut" },
        };

    [Theory]
    [MemberData(nameof(Broken))]
    public async Task A_broken_fleet_file_is_refused_whole(string how, string code)
    {
        await using var fleet = await Fleet.Empty();
        var before = await fleet.Fingerprint();
        var text = Encoding.UTF8.GetString(await Demo.Value);
        string Once(string old, string fresh)
        {
            var at = text.IndexOf(old, StringComparison.Ordinal);
            return text[..at] + fresh + text[(at + old.Length)..];
        }

        var file = how switch
        {
            "cut" => text[..(text.Length / 2)],
            "newer" => Once("\"version\":3", "\"version\":4"),
            "compartment" => Once("\"compartment\":\"engine\"", "\"compartment\":\"boiler\""),
            "unit" => Once("{\"unit\":\"DZ-01\"", "{\"unit\":\"BL-01\""),
            "json" => Once("\"readings\":[", "\"readings\":[,"),
            "other" => "{\"hello\":1}",
            "backward" => Once("\"lifeHours\":", "\"lifeHours\":999999.9,\"lifeHours\":"),
            "item" => Once("\"item\":\"engine-oil\"", "\"item\":\"boiler-oil\""),
            "field" => Once("\"plannedHoursPerDay\":", "\"plannedHoursPerDay\":\"many\",\"was\":"),
            _ => "",
        };
        if (how == "backward")
        {
            var start = text.IndexOf("\"readings\":[", StringComparison.Ordinal);
            var at = text.IndexOf("\"lifeHours\":", start, StringComparison.Ordinal);
            file = text[..at] + "\"lifeHours\":900000" + text[text.IndexOf(",\"state\"", at, StringComparison.Ordinal)..];
        }

        var outcome = await Import(fleet, Encoding.UTF8.GetBytes(file));
        Assert.Equal(code, Assert.Single(outcome.Refusals).Code);
        Assert.Equal(before, await fleet.Fingerprint());
    }

    [Fact]
    public async Task The_same_fleet_twice_is_refused_by_its_first_unit()
    {
        await using var fleet = await WithDemo();
        var before = await fleet.Fingerprint();
        Assert.Equal("fleetUnitTaken", Assert.Single((await Import(fleet, await Demo.Value)).Refusals).Code);
        Assert.Equal(before, await fleet.Fingerprint());
    }

    private static Task<ImportPreview> Preview(Fleet fleet, string text) =>
        fleet.Do<ReadingsImport, ImportPreview>(x => x.Preview(text, Ct));

    private static async Task<Outcome<AppliedImport>> Apply(Fleet fleet, string text)
    {
        var draft = await fleet.Do<ReadingsImport, string>(x => x.SaveDraft("r.csv", text, Fleet.Tam, Ct));
        return await fleet.Do<ReadingsImport, Outcome<AppliedImport>>(x => x.Apply(draft, Fleet.Tam, Ct));
    }

    [Fact]
    public async Task A_csv_is_kept_whole_and_the_same_file_twice_changes_nothing()
    {
        await using var fleet = await Fleet.WithLoader();
        const string csv = "\uFEFFunit,at,hours\r\n\"WL-01\",2026-03-16T06:00:00Z,374\r\nwl1,2026-03-15T07:00,\"354.4\"\r\n";
        var first = await Apply(fleet, csv);
        Assert.Equal(new AppliedImport(1, 1, 0), first.Value);
        var before = await fleet.Fingerprint();
        Assert.Equal(new AppliedImport(0, 0, 2), (await Apply(fleet, csv)).Value);
        Assert.Equal(before, await fleet.Fingerprint());
    }

    [Fact]
    public async Task One_bad_row_holds_the_whole_file_back_and_says_why()
    {
        await using var fleet = await Fleet.WithLoader();
        var before = await fleet.Fingerprint();
        const string csv =
            "unit,at,hours\nWL-01,2026-03-16T06:00:00Z,356\nWL-10,2026-03-16T06:00:00Z,5\nWL-01,2026-03-16T07:00:00Z,536.2\nWL-01,soon,5\nWL-01,2026-03-16T07:00:00Z,abc\n";
        var preview = await Preview(fleet, csv);
        Assert.Equal([null, "noSuchUnitNear", "tooFast", "notATime", "hoursNotANumber"], preview.Rows.Select(x => x.Refusal?.Code));
        Assert.Contains(new MeterHours(3562), preview.Rows[2].DidYouMean);
        Assert.False(preview.CanApply);
        Assert.Equal("importRefused", Assert.Single((await Apply(fleet, csv)).Refusals).Code);
        Assert.Equal(before, await fleet.Fingerprint());
    }

    [Theory]
    [InlineData("", "csvEmpty")]
    [InlineData("unit,at,hours\n", "csvEmpty")]
    [InlineData("machine;date;value\nWL-01;2026-03-16;5\n", "csvHeader")]
    [InlineData("unit,at\nWL-01,2026-03-16\n", "csvHeader")]
    [InlineData("unit,at,hours\nWL-01,\"2026\"x,5\n", "csvBadData")]
    public async Task A_file_that_is_no_readings_csv_says_so(string text, string code)
    {
        await using var fleet = await Fleet.WithLoader();
        Assert.Equal(code, (await Preview(fleet, text)).Fault!.Code);
    }

    [Fact]
    public async Task Ten_thousand_bad_rows_are_all_judged()
    {
        await using var fleet = await Fleet.WithLoader();
        var csv = new StringBuilder("unit,at,hours\n");
        for (var i = 0; i < 10_000; i++)
            csv.Append(i % 2 == 0 ? "WL-01,2026-03-16T06:00:00Z,3\n" : "ZZ-99,2026-03-16T06:00:00Z,oops\n");
        var preview = await Preview(fleet, csv.ToString());
        Assert.Equal(10_000, preview.Count(ImportAction.Refuse));
    }

    [Fact]
    public async Task Exported_readings_come_back_unchanged_and_formulas_are_defused()
    {
        await using var fleet = await Fleet.WithLoader();
        var text = new StringWriter();
        await fleet.Do<ExportFleet>(x => x.Readings(text, null, Ct));
        Assert.Equal(30, (await Preview(fleet, text.ToString())).Count(ImportAction.Unchanged));

        var unsafeUnit = new StringWriter();
        await ReadingsCsv.Write(unsafeUnit, new[] { ("=1+1", DateTimeOffset.UnixEpoch, new MeterHours(50)) }.ToAsyncEnumerable());
        Assert.DoesNotContain("\n=", unsafeUnit.ToString(), StringComparison.Ordinal);
        Assert.Equal(ReadingState.Accepted, await fleet.Ask(db => db.Readings.Select(x => x.State).FirstAsync(Ct)));
    }
}
