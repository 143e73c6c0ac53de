using System.Globalization;
using System.Net;
using System.Text.Encodings.Web;
using System.Text.Json.Nodes;
using System.Xml.Linq;
using AngleSharp.Html.Dom;
using AngleSharp.Html.Parser;
using Microsoft.AspNetCore.Html;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Nippers.App.Walks;
using Nippers.Core.Defects;
using Nippers.Core.Hours;
using Nippers.Core.Walk;
using Nippers.Data.Walks;
using Nippers.Tests;
using Nippers.Views.Text;
using Nippers.Views.Walks;
using Nippers.Web.Drawing;

namespace Nippers.Web.Tests;

/// <summary>Walks and defects with scripts off, by the API, and as drawings.</summary>
public sealed class WalkPageTests
{
    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    private static async Task<(DemoApp App, Visitor Tam, string Walk)> Begun()
    {
        var app = await DemoApp.Start();
        app.Clock.Advance(TimeSpan.FromMinutes(20));
        var tam = await Visitor.As(app, "tam");
        var answer = await tam.Submit("/walk/EX-01", "form[novalidate]", ("hours", "3107.5"));
        Assert.Equal(HttpStatusCode.Redirect, answer.StatusCode);
        return (app, tam, answer.Headers.Location!.ToString());
    }

    [Fact]
    public async Task A_walk_is_walked_with_scripts_off()
    {
        var (app, tam, walk) = await Begun();
        await using var _ = app;
        using var __ = tam;
        var step = walk + "/at/off-ground";
        var sound = await tam.Submit(step, "#check-notices form", ("seen", "sound"));
        Assert.Equal($"{step}#check-notices", sound.Headers.Location!.ToString());
        var page = await tam.Read(step);
        Assert.Equal(("ok", "fault"), (page.QuerySelector("#check-notices")!.GetAttribute("data-outcome"), await Fault()));

        // The fault's form stands in its place until it is written; then its defect stands there.
        var wrong = await Visitor.Parse(
            await tam.Submit(
                step,
                "#check-ground-leaks form[data-fault]",
                ("words", ""),
                ("grade", "Limit"),
                ("limitHours", "abc"),
                ("limitDays", "")
            )
        );
        Assert.Equal("Say it in a few words.", wrong.QuerySelector("#check-ground-leaks #words-wrong")!.TextContent);
        Assert.Equal("abc", ((IHtmlInputElement)wrong.QuerySelector("#check-ground-leaks #limitHours")!).Value);
        Assert.Equal(
            HttpStatusCode.Redirect,
            (
                await tam.Submit(step, "#check-ground-leaks form[data-fault]", ("words", "Oil under the swivel"), ("grade", "Limit"))
            ).StatusCode
        );
        Assert.Contains(
            "Oil under the swivel",
            (await tam.Read(step)).QuerySelector("#check-ground-leaks")!.TextContent,
            StringComparison.Ordinal
        );

        var end = await Visitor.Parse(await tam.Submit(walk + "/end", "form[novalidate]"));
        Assert.Contains("Say why they are skipped", end.QuerySelector("#leftOut-wrong")!.TextContent, StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.Redirect, (await tam.Submit(walk + "/end", "form[novalidate]", ("leftOut", "tide"))).StatusCode);
        var over = await tam.Read(walk);
        Assert.Contains("Not checked: do not run", over.QuerySelector("[data-run]")!.TextContent, StringComparison.Ordinal);
        Assert.Contains("Seat belt", over.QuerySelector("[data-not-checked]")!.TextContent, StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.Redirect, (await tam.Get(walk + "/end")).StatusCode);
        Assert.Equal(HttpStatusCode.Redirect, (await tam.Get(step)).StatusCode);

        async Task<string?> Fault()
        {
            await tam.Submit(step, "#check-ground-leaks form", ("seen", "fault"));
            return (await tam.Read(step)).QuerySelector("#check-ground-leaks")!.GetAttribute("data-outcome");
        }
    }

    [Fact]
    public async Task A_refused_answer_keeps_what_was_typed_and_says_why_beside_it()
    {
        var (app, tam, walk) = await Begun();
        await using var _ = app;
        using var __ = tam;
        var step = walk + "/at/off-engine";
        var page = await Visitor.Parse(
            await tam.Submit(step, "#check-engine-oil-level form", ("level", "25"), ("added", "1,500"), ("note", ""))
        );
        var card = page.QuerySelector("#check-engine-oil-level")!;
        Assert.Equal("1,500", ((IHtmlInputElement)card.QuerySelector("#added-engine-oil-level")!).Value);
        Assert.True(((IHtmlInputElement)card.QuerySelector("input[name=level][value='25']")!).IsChecked);
        Assert.Equal(
            [
                "Tick that this holds, or say that it was taken in another position.",
                "Say how it looks.",
                "A comma may part thousands or decimals here. Use a dot for decimals.",
            ],
            card.QuerySelectorAll(".wrong").Select(x => x.TextContent)
        );
        Assert.Equal(0, await app.Ask(db => db.WalkAnswers.CountAsync(x => x.By == "Tam Ollery" && x.Code == "engine-oil-level", Ct)));
    }

    [Fact]
    public async Task A_sheet_of_paper_asks_what_a_walk_would()
    {
        await using var app = await DemoApp.Start();
        using var ines = await Visitor.As(app, "ines");
        var sheet = await ines.Read("/walk/EX-01/sheet");
        var start = await ines.Read("/walk/EX-01");
        var rows = sheet.QuerySelectorAll("table.sheet tbody tr").Length;
        var offered = System.Text.RegularExpressions.Regex.Matches(start.QuerySelector("main")!.TextContent, @"\d+ min, (\d+) checks?");
        Assert.Equal(rows, offered.Sum(x => int.Parse(x.Groups[1].Value, System.Globalization.CultureInfo.InvariantCulture)));
        Assert.Contains("Seat belt", sheet.QuerySelector("main")!.TextContent, StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.NotFound, (await ines.Get("/walk/XX-1/sheet")).StatusCode);
    }

    private static async Task<HttpResponseMessage> Upload(Visitor visitor, byte[] bytes)
    {
        var page = await visitor.Read("/defects/new?unit=WL-01");
        using var form = new MultipartFormDataContent();
        foreach (
            var (name, value) in new[]
            {
                ("unit", "WL-01"),
                ("words", "Step bent"),
                ("on", "Body"),
                ("grade", "Watch"),
                ("limitHours", "50"),
                ("limitDays", "14"),
            }
        )
            form.Add(new StringContent(value), name);
        form.Add(
            new StringContent(((IHtmlInputElement)page.QuerySelector("main form[enctype] input[name=__RequestVerificationToken]")!).Value),
            "__RequestVerificationToken"
        );
        form.Add(new ByteArrayContent(bytes), "photo", "step.jpg");
        return await visitor.Post("/defects/new", form);
    }

    [Theory]
    [InlineData(50 << 20, "A photo may have 12 MB at most.")]
    [InlineData(4000, "no picture")]
    public async Task A_photo_that_is_too_large_or_none_is_told_beside_its_field_and_the_words_stay(int size, string says)
    {
        await using var app = await DemoApp.Start();
        using var ines = await Visitor.As(app, "ines");
        var before = await app.Ask(db => db.Defects.CountAsync(Ct));
        var answer = await Upload(ines, new byte[size]);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, answer.StatusCode);
        var page = await Visitor.Parse(answer);
        Assert.Contains(says, page.QuerySelector("#photo-wrong")!.TextContent, StringComparison.Ordinal);
        Assert.Equal("Step bent", page.QuerySelector("#words")!.TextContent.Trim());
        Assert.Equal(before, await app.Ask(db => db.Defects.CountAsync(Ct)));
    }

    [Fact]
    public async Task A_photo_is_served_to_people_who_are_signed_in_and_as_a_picture()
    {
        await using var app = await DemoApp.Start();
        using var ines = await Visitor.As(app, "ines");
        using var drawn = NetVips.Image.Black(400, 300, bands: 3);
        var made = await Upload(ines, drawn.JpegsaveBuffer());
        var defect = made.Headers.Location!.ToString();
        var source = ((IHtmlImageElement)(await ines.Read(defect)).QuerySelector(".photos img")!).GetAttribute("src")!;
        var photo = await ines.Get(source);
        Assert.Equal(("image/jpeg", HttpStatusCode.OK), (photo.Content.Headers.ContentType!.MediaType, photo.StatusCode));
        Assert.Equal(HttpStatusCode.NotFound, (await ines.Get(defect + "?handler=photo&photo=999999")).StatusCode);
        using var nobody = new Visitor(app);
        Assert.Equal(HttpStatusCode.Redirect, (await nobody.Get(source)).StatusCode);
    }

    [Fact]
    public async Task A_defect_of_no_place_is_said_to_be_of_the_whole_machine_wherever_it_stands()
    {
        var (app, tam, walk) = await Begun();
        await using var _ = app;
        using var __ = tam;
        const string said = "Whines when it tracks uphill";
        var made = await tam.Submit(
            "/defects/new?unit=EX-01",
            "main form[enctype]",
            ("words", said),
            ("place", ""),
            ("part", ""),
            ("on", "Other"),
            ("grade", "Limit"),
            ("limitHours", "50"),
            ("limitDays", "14")
        );
        var defect = made.Headers.Location!.ToString();
        var shown = 0;
        foreach (
            var path in (string[])
                [defect, defect + "/tag", "/defects?unit=EX-01", "/machines/EX-01", walk, walk + "/at/start", walk + "/end"]
        )
        {
            var page = await tam.Read(path);
            var main = page.QuerySelector("main")!;
            Assert.DoesNotContain(main.QuerySelectorAll("h1, h2, h3, a[href*='/defects/']"), x =>
                string.IsNullOrWhiteSpace(x.TextContent)
                || x.QuerySelectorAll("span").Any(y => y.ChildNodes.Length == 0 && y.ClassList.Length > 0 && !y.ClassList.Contains("grade"))
            );
            if (!main.TextContent.Contains(said, StringComparison.Ordinal))
                continue;
            shown++;
            Assert.Contains("The machine as a whole", main.TextContent, StringComparison.Ordinal);
        }

        Assert.True(shown >= 4, $"{shown}");
    }

    [Fact]
    public async Task Walks_and_defects_leave_as_csv_that_no_spreadsheet_runs()
    {
        await using var app = await DemoApp.Start();
        using var tam = await Visitor.As(app, "tam");
        await tam.Submit(
            "/defects/new?unit=WL-01",
            "main form[enctype]",
            ("words", "=HYPERLINK(\"x\")"),
            ("on", "Other"),
            ("grade", "Watch")
        );
        var defects = (await (await tam.Get("/exchange/defects.csv?unit=WL-01")).Content.ReadAsStringAsync(Ct)).Split("\r\n");
        Assert.StartsWith("unit,number,on,place,words,grade,state,by,lifeHours", defects[0], StringComparison.Ordinal);
        Assert.Contains(defects, x => x.Contains("'=HYPERLINK", StringComparison.Ordinal));
        var walks = (await (await tam.Get("/exchange/walks.csv?unit=WL-01")).Content.ReadAsStringAsync(Ct)).Split(
            "\r\n",
            StringSplitOptions.RemoveEmptyEntries
        );
        Assert.Equal("unit,on,started,finished,finishedBy,hours,round,checks,answered,faults,leftOut,late,verdict", walks[0]);
        Assert.Equal(
            await app.Ask(db => db.Walks.CountAsync(x => x.Machine.Unit == "WL-01" && x.State == WalkState.Finished, Ct)),
            walks.Length - 1
        );
    }

    [Fact]
    public async Task The_api_takes_a_walk_in_once_and_reports_and_lists_defects()
    {
        await using var app = await DemoApp.Start();
        app.Clock.Advance(TimeSpan.FromMinutes(20));
        using var mara = await Visitor.As(app, "mara");
        var made = await Visitor.Parse(
            await mara.Submit(
                "/settings",
                "form[action*=token]",
                ("name", "tablet"),
                ("role", "operator"),
                ("scopes", "read"),
                ("scopes", "walks")
            )
        );
        using var client = new HttpClient { BaseAddress = app.Address };
        client.DefaultRequestHeaders.Authorization = new("Bearer", made.QuerySelector("#new-token")!.TextContent);
        async Task<(HttpStatusCode Status, JsonNode Body)> Send(string path, string body, string? key = null)
        {
            using var request = new HttpRequestMessage(HttpMethod.Post, "api/v1/" + path)
            {
                Content = new StringContent(body, System.Text.Encoding.UTF8, "application/json"),
            };
            if (key is not null)
                request.Headers.Add("Idempotency-Key", key);
            var answer = await client.SendAsync(request, Ct);
            return (answer.StatusCode, JsonNode.Parse(await answer.Content.ReadAsStringAsync(Ct))!);
        }

        const string Walk =
            """{"hours":4466.3,"weather":"rain","answers":[{"check":"controls-free","sound":false},{"check":"engine-oil-level","answer":{"level":0.5,"look":"dark","ticked":true,"kind":"level"}}],"defects":[{"check":"controls-free","words":"Left lever sticks","limitDays":2}],"leftOut":"sent from the gate"}""";
        Assert.Equal(
            "faultsUnwritten",
            (string)
                (
                    await Send(
                        "machines/WL-01/walks",
                        Walk.Replace(
                            "\"defects\":[{\"check\":\"controls-free\",\"words\":\"Left lever sticks\",\"limitDays\":2}],",
                            "",
                            StringComparison.Ordinal
                        )
                    )
                ).Body["code"]!
        );
        foreach (
            var (whole, broken) in new[]
            {
                ("\"level\":0.5,", ""),
                ("\"kind\":\"level\"", "\"kind\":\"guess\""),
                (",\"kind\":\"level\"", ""),
                ("\"level\":0.5", "\"level\":50"),
                ("\"sound\":false", "\"sound\":\"no\""),
                ("\"sound\":false", "\"level\":0.5"),
            }
        )
        {
            Assert.Contains(whole, Walk, StringComparison.Ordinal);
            var broke = Walk.Replace(whole, broken, StringComparison.Ordinal);
            Assert.Equal(HttpStatusCode.UnprocessableEntity, (await Send("machines/WL-01/walks", broke)).Status);
        }

        var first = await Send("machines/WL-01/walks", Walk, "w1");
        Assert.Equal(
            (HttpStatusCode.Created, "notChecked", 2),
            (first.Status, (string)first.Body["verdict"]!, (int)first.Body["answered"]!)
        );
        Assert.Equal((long)first.Body["id"]!, (long)(await Send("machines/WL-01/walks", Walk, "w1")).Body["id"]!);
        var walks = JsonNode.Parse(await client.GetStringAsync("api/v1/machines/WL-01/walks", Ct))!.AsArray();
        Assert.Equal((long)first.Body["id"]!, (long)walks[0]!["id"]!);

        Assert.Equal(HttpStatusCode.NotFound, (await Send("machines/XX-1/defects", """{"words":"x"}""")).Status);
        Assert.Equal("wordsNeeded", (string)(await Send("machines/WL-01/defects", """{"words":" "}""")).Body["code"]!);
        Assert.Equal(HttpStatusCode.BadRequest, (await Send("machines/WL-01/defects", """{"grade":"terrible","words":"x"}""")).Status);
        Assert.Equal(
            HttpStatusCode.Created,
            (await Send("machines/WL-01/defects", """{"words":"Frame cracked","grade":"stop"}""", "d1")).Status
        );
        Assert.Equal("outOfService", (string)(await Send("machines/WL-01/walks", """{"hours":4466.4,"leftOut":"x"}""")).Body["code"]!);
        var defects = JsonNode.Parse(await client.GetStringAsync("api/v1/defects?unit=WL-01", Ct))!.AsArray();
        Assert.Equal(["stop", "limit"], defects.Select(x => (string)x!["grade"]!));
    }

    [Fact]
    public async Task The_story_of_the_demo_has_every_situation_that_walks_and_defects_know()
    {
        await using var app = await DemoApp.Start();
        using var mara = await Visitor.As(app, "mara");
        var today = await mara.Read("/?look=stopped");
        Assert.Equal(["DZ-01", "DZ-02", "EX-05"], today.QuerySelectorAll("[data-unit]").Select(x => x.GetAttribute("data-unit")).Order());
        Assert.Contains(
            "waits for a second person",
            (await mara.Read("/defects?unit=EX-05")).QuerySelector("main")!.TextContent,
            StringComparison.Ordinal
        );
        Assert.Contains("Repeat", (await mara.Read("/defects?unit=EX-03")).QuerySelector("main")!.TextContent, StringComparison.Ordinal);
        Assert.Contains(
            "comes on the next barge",
            await (await mara.Get(await Defect("WL-02"))).Content.ReadAsStringAsync(Ct),
            StringComparison.Ordinal
        );
        Assert.Equal(1, await app.Ask(db => db.Walks.CountAsync(x => x.State == WalkState.Open, Ct)));
        Assert.Contains(
            "points at the fuel supply",
            (await mara.Read("/machines/EX-04/walks")).QuerySelector("main")!.TextContent,
            StringComparison.Ordinal
        );
        Assert.True((await app.Ask(db => db.Walks.CountAsync(Ct))) > 2500);
        Assert.True(
            await app.Ask(async db =>
                (await db.Walks.Where(x => x.Machine.Unit == "DZ-03").OrderByDescending(x => x.Id).FirstAsync(Ct)).TooQuick
            )
        );
        Assert.Contains(await app.Ask(db => db.DefectPhotos.Select(x => x.DefectId).ToListAsync(Ct)), id => id > 0);
        Assert.Contains(
            "More than a tenth of the sump",
            (await mara.Read("/machines/DZ-02/walks")).QuerySelector("main")!.TextContent,
            StringComparison.Ordinal
        );

        async Task<string> Defect(string unit) =>
            (await mara.Read("/defects?unit=" + unit)).QuerySelector("[data-defect] a[href^='/defects/']")!.GetAttribute("href")!;
    }

    private static readonly Words Said = MakeWords();

    private static Words MakeWords()
    {
        CultureInfo.CurrentCulture = CultureInfo.CurrentUICulture = new("en-GB");
        return new ServiceCollection().AddLogging().AddLocalization().AddScoped<Words>().BuildServiceProvider().GetRequiredService<Words>();
    }

    private static string Html(IHtmlContent content)
    {
        using var writer = new StringWriter();
        content.WriteTo(writer, HtmlEncoder.Default);
        return writer.ToString();
    }

    public static TheoryData<string> Lists() => [.. StarterLists.All().Select(x => x.Code)];

    [Theory]
    [MemberData(nameof(Lists))]
    public void Each_kind_is_drawn_from_above_with_its_stations_inside_the_picture(string code)
    {
        var list = StarterLists.All().Single(x => x.Code == code);
        var html = Html(
            WalkPlan.Draw(
                list.Body,
                [.. list.Body.Stations.Select((x, i) => new PlanStation(x, i + 1, i, 4, i == 2 ? 1 : 0, i == 1, "/somewhere"))],
                "A & B",
                Said
            )
        );
        Assert.NotNull(XDocument.Parse(html).Root);
        var svg = new HtmlParser().ParseDocument(html).QuerySelector("svg")!;
        Assert.Equal(list.Body.Stations.Length, svg.QuerySelectorAll("a .plan-box").Length);
        Assert.Equal((1, 2), (svg.QuerySelectorAll(".plan-fault").Length, svg.QuerySelectorAll(".plan-jaw").Length));
        Assert.All(list.Body.Stations, x => Assert.True(x.X is >= 15 and <= 305 && x.Y is >= 13 and <= 227, x.Code));
        Assert.All(list.Body.Parts, x =>
            Assert.True(x.X >= 0 && x.X + x.Width <= 320 && x.Y >= 0 && x.Y + x.Height <= 240, x.Shape.ToString())
        );

        // Boxes can be told apart by a thumb.
        foreach (var (a, b) in list.Body.Stations.SelectMany((a, i) => list.Body.Stations.Skip(i + 1).Select(b => (a, b))))
            Assert.True(Math.Abs(a.X - b.X) >= 30 || Math.Abs(a.Y - b.Y) >= 26, $"{a.Code} and {b.Code} overlap");
    }

    [Fact]
    public void The_stick_answers_in_litres_and_never_past_high()
    {
        var check = new WalkCheck
        {
            Code = "oil",
            Name = "Oil",
            Station = "engine",
            Kind = CheckKind.Level,
            MarkLitres = 4,
        };
        Assert.Equal(
            ["too much", "full", "add 1.0 L", "add 2.0 L", "add 3.0 L", "add 4.0 L", "add 4.8 L"],
            DipstickMarks.Of(check, Said).Select(x => x.Answers)
        );
        Assert.Equal(
            ["too much", "full", "", "", "", "", "add, in small pours"],
            DipstickMarks.Of(check with { MarkLitres = null }, Said).Select(x => x.Answers)
        );
    }

    [Fact]
    public void May_it_run_is_said_in_meter_hours_and_dates()
    {
        var looked = new DateTimeOffset(2026, 11, 25, 6, 41, 0, TimeSpan.Zero);
        Assert.Equal("No stop found, 06:41", RunWords.Say(new(RunStatus.NoStopFound), new MeterHours(0), Said, looked: looked));
        Assert.Equal(
            "No stop found, 07:41",
            RunWords.Say(
                new(RunStatus.NoStopFound),
                new MeterHours(0),
                Said,
                looked: looked,
                zone: TimeZoneInfo.FindSystemTimeZoneById("Europe/Paris")
            )
        );
        Assert.Equal("Not walked today", RunWords.Say(new(RunStatus.NoStopFound), new MeterHours(0), Said));
        Assert.Equal("Not checked: do not run", RunWords.Say(new(RunStatus.NotChecked), new MeterHours(0), Said, looked: looked));
        Assert.Equal(
            "Out of service: a job card is open",
            RunWords.Say(new(RunStatus.OutOfService, CardOpen: true), new MeterHours(0), Said)
        );
        Assert.Equal("Out of service", RunWords.Say(new(RunStatus.OutOfService, StopStands: true), new MeterHours(0), Said));
        var both = RunAnswer.Out(stopStands: true, cardOpen: true, "Mara", "drain plug\noil filter");
        Assert.Equal(
            "Out of service: job card open, held by Mara; open or off: drain plug, oil filter. A stop defect stands too",
            RunWords.Say(both, new MeterHours(0), Said)
        );
        Assert.Equal("Stop found. Job card open, Mara; 2 things off", RunWords.Brief(both, new MeterHours(0), Said));
        Assert.Equal("Run until 802.4 h", RunWords.Say(new(RunStatus.RunUntil, new(78024)), new MeterHours(70000), Said));
        Assert.Equal(
            "Run until 802.4 h or 4 Dec, whichever comes first",
            RunWords.Say(new(RunStatus.RunUntil, new(78024), new(2026, 12, 4)), new MeterHours(70000), Said, new(2026, 11, 25))
        );
        Assert.Equal("Run until 4 Dec 2026", RunWords.Say(new(RunStatus.RunUntil, null, new(2026, 12, 4)), new MeterHours(0), Said));
    }

    [Fact]
    public void A_series_of_measures_is_drawn_with_its_limits_and_two_points_at_least()
    {
        var check = new WalkCheck
        {
            Code = "sag",
            Name = "Sag",
            Station = "left",
            Unit = "mm",
            Low = 20,
            High = 50,
        };
        MeasureRow At(int life, double value) =>
            new()
            {
                CheckCode = "sag",
                Value = value,
                LifeHours = new MeterHours(life),
            };
        Assert.Equal("", Html(MeasureLine.Draw(new(check, [At(10, 30)]), Said)));
        var svg = new HtmlParser()
            .ParseDocument(Html(MeasureLine.Draw(new(check, [At(10, 30), At(500, 55), At(900, 41)]), Said)))
            .QuerySelector("svg")!;
        Assert.Equal(
            (2, 3, "Sag: from 30 to 41 mm over 3 measures"),
            (svg.QuerySelectorAll(".line-limit").Length, svg.QuerySelectorAll(".line-dot").Length, svg.GetAttribute("aria-label"))
        );
    }

    [Fact]
    public void A_code_to_scan_is_a_square_of_modules_and_says_its_address()
    {
        var svg = new HtmlParser().ParseDocument(Html(Qr.Draw("http://fleet.example/walk/EX-01"))).QuerySelector("svg")!;
        var box = svg.GetAttribute("viewBox")!.Split(' ');
        Assert.Equal((box[2], "http://fleet.example/walk/EX-01"), (box[3], svg.GetAttribute("aria-label")));
        Assert.True(svg.QuerySelector("path")!.GetAttribute("d")!.Split('M').Length > 200);
    }
}
