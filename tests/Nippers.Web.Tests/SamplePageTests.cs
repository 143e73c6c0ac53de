using System.Globalization;
using System.Net;
using System.Net.Http.Json;
using System.Text.Json.Nodes;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Nippers.App.Oil;
using Nippers.Core.Hours;
using Nippers.Core.Oil;
using Nippers.Data.Oil;
using Nippers.StandIns;
using Nippers.Tests;

namespace Nippers.Web.Tests;

/// <summary>The tray, samples, limits and laboratories over HTTP, without scripts, with the stand-in laboratory.</summary>
public sealed class SamplePageTests(AppFixture fixture) : IClassFixture<AppFixture>
{
    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    private static async Task<SampleRow> Sample(DemoApp app, string unit, string compartment, SampleState state) =>
        await app.Ask(db =>
            db.Samples.AsNoTracking()
                .Include(x => x.Machine)
                .Where(x => x.Machine.Unit == unit && x.Compartment == compartment && x.State == state)
                .OrderByDescending(x => x.LifeHours)
                .FirstAsync(Ct)
        );

    [Fact]
    public async Task The_story_of_the_samples_is_there()
    {
        async Task<List<string>> Patterns(string unit, string compartment)
        {
            using var tam = await Visitor.As(fixture.App, "tam");
            var ids = await fixture.App.Ask(db =>
                db.Samples.Where(x => x.Machine.Unit == unit && x.Compartment == compartment && x.Advised > Assessment.Normal)
                    .Select(x => x.Id)
                    .ToListAsync(Ct)
            );
            var found = new List<string>();
            foreach (var id in ids)
                found.AddRange(
                    (await tam.Read($"/samples/{id}")).QuerySelectorAll("[data-pattern]").Select(x => x.GetAttribute("data-pattern")!)
                );
            return found;
        }

        Assert.Contains("dirt", await Patterns("DZ-01", "engine"));
        Assert.Contains("saltWater", await Patterns("EX-02", "final-drive-left"));
        Assert.Contains("cooler", await Patterns("WL-03", "hydraulic"));
        Assert.Contains("wrongFluid", await Patterns("EX-04", "engine"));
        Assert.True(
            await fixture.App.Ask(db => db.Samples.AnyAsync(x => x.SignedAs == Assessment.Normal && x.Advised > Assessment.Normal, Ct))
        );
        Assert.Equal(
            [new(25_000), new(20_000), new(25_000)],
            await fixture.App.Ask(db => db.DrainChanges.OrderBy(x => x.Id).Select(x => x.ToHours).ToListAsync(Ct))
        );
        Assert.Equal(
            new MeterHours(25_000),
            await fixture.App.Ask(db =>
                db.MachineCompartments.Where(x => x.DrainHours != null).Select(x => x.DrainHours!.Value).SingleAsync(Ct)
            )
        );
        Assert.Equal(
            1,
            await fixture.App.Ask(db => db.Samples.CountAsync(x => x.State == SampleState.Sent && x.SentAt < DemoApp.Now.AddDays(-14), Ct))
        );
    }

    [Fact]
    public async Task Every_figure_of_a_sample_opens_how_it_was_reached_and_its_tines_lead_to_their_trends()
    {
        using var tam = await Visitor.As(fixture.App, "tam");
        var sample = await Sample(fixture.App, "DZ-01", "engine", SampleState.Reported);

        var page = await tam.Read($"/samples/{sample.Id}");

        Assert.StartsWith("Act: repair first", page.QuerySelector("h2.verdict")!.TextContent.Trim(), StringComparison.Ordinal);
        var tines = page.QuerySelectorAll("svg.rake a");
        Assert.True(tines.Length > 15);
        Assert.Equal("Silicon over machine hours", page.QuerySelector("#trend h2")!.TextContent);
        Assert.Contains(page.QuerySelectorAll("svg.rake .rake-lit").Select(x => x.ParentElement!.GetAttribute("aria-label")!), x =>
            x.StartsWith("Si Silicon", StringComparison.Ordinal)
        );
        foreach (var tine in tines.Take(4))
        {
            var trend = await tam.Read(tine.GetAttribute("href")!.Split('#')[0]);
            Assert.StartsWith(
                tine.GetAttribute("aria-label")!.Split(':')[0].Split(' ', 2)[1],
                trend.QuerySelector("#trend h2")!.TextContent,
                StringComparison.Ordinal
            );
            Assert.Contains("Watched from", trend.QuerySelector("#trend")!.TextContent, StringComparison.Ordinal);
        }
    }

    [Fact]
    public async Task Signing_takes_a_reason_to_overrule_and_keeps_what_was_typed()
    {
        await using var app = await DemoApp.Start();
        using var tam = await Visitor.As(app, "tam");
        var sample = await Sample(app, "DZ-01", "engine", SampleState.Reported);
        var address = $"/samples/{sample.Id}";

        var refused = await tam.Submit(address, "#sign form", ("verdict", "Normal"), ("defect", ""), ("defectWords", "kept words"));
        var page = await Visitor.Parse(refused);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, refused.StatusCode);
        Assert.NotNull(page.QuerySelector("#words-wrong"));
        Assert.Equal("kept words", page.QuerySelector("#defectWords")!.GetAttribute("value"));

        var signed = await tam.Submit(address, "#sign form", ("verdict", "Normal"), ("defect", ""), ("words", "Dust came in at sampling"));
        Assert.Equal(HttpStatusCode.Redirect, signed.StatusCode);
        Assert.Contains("The advice was: Act", (await tam.Read(address)).QuerySelector("main")!.TextContent, StringComparison.Ordinal);

        using var ines = await Visitor.As(app, "ines");
        Assert.Null((await ines.Read(address)).QuerySelector("#sign"));
    }

    [Fact]
    public async Task Labels_print_with_their_code_and_a_typed_code_opens_its_sample()
    {
        await using var app = await DemoApp.Start();
        using var tam = await Visitor.As(app, "tam");
        var wishes = await tam.Submit("/samples", "form[action*=prepare]", ("wish", "EX-03|engine-oil-sample"));
        var labels = await tam.Read(wishes.Headers.Location!.ToString());
        var code = Assert.Single(labels.QuerySelectorAll("[data-label]")).GetAttribute("data-label")!;
        Assert.Equal(code, BottleCode.Read(code));
        Assert.Contains("........", labels.QuerySelector("[data-label]")!.TextContent, StringComparison.Ordinal);
        Assert.Contains(
            "/samples/find?code=" + code,
            labels.QuerySelector("[data-label] svg")!.GetAttribute("aria-label"),
            StringComparison.Ordinal
        );

        Assert.Contains(
            $"bottle={code}",
            (await tam.Get($"/samples/find?code={code[..3]}{code[4..6]}%3F")).Headers.Location!.ToString(),
            StringComparison.Ordinal
        );
        var taken = await tam.Submit(
            $"/machines/EX-03/samples/take?item=engine-oil-sample&bottle={code}",
            "main form",
            ("engine", "Running"),
            ("method", "LivePort")
        );
        Assert.Equal(HttpStatusCode.Redirect, taken.StatusCode);
        Assert.Equal(taken.Headers.Location!.ToString(), (await tam.Get($"/samples/find?code={code}")).Headers.Location!.ToString());
        var wrong = await Visitor.Parse(await tam.Get("/samples/find?code=AAA-AAB"));
        Assert.NotNull(wrong.QuerySelector("#code-wrong"));

        // A scanner that types gives the address on the label to the quick line, which stands on every page.
        var line = await tam.Submit("/", "form[action='/quick']", ("line", "http://yard.invalid/samples/find?code=" + code));
        Assert.Equal("/samples/find?code=" + code, line.Headers.Location!.ToString());
        foreach (var (typed, says) in new[] { ("AAA-AAB", "one character is wrong"), (BottleCode.Of(900_000), "Nobody has taken") })
        {
            Assert.Contains(
                says,
                (await Visitor.Parse(await tam.Submit("/", "form[action='/quick']", ("line", typed))))
                    .QuerySelector("[data-quick]")!
                    .TextContent,
                StringComparison.Ordinal
            );
        }

        Assert.Contains(code, (await tam.Read("/samples/list")).QuerySelector("table")!.TextContent, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Samples_go_to_the_stand_in_come_back_and_move_what_they_should()
    {
        await using var app = await DemoApp.Start();
        var server = new LabServer(
            new(0, TimeSpan.Zero, 7, 1000, new Dictionary<string, OilFault> { ["WL-02:engine"] = OilFault.Fuel }),
            app.Clock
        );
        await using var lab = server.Create();
        await lab.StartAsync(Ct);
        using var mara = await Visitor.As(app, "mara");
        var labs = await mara.Read("/samples/labs");
        var edit = labs.QuerySelectorAll("main li a")
            .First(x => x.TextContent.Contains("Sannet", StringComparison.Ordinal))
            .GetAttribute("href")!;
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await mara.Submit(edit, "main form", ("url", "nowhere"))).StatusCode);
        Assert.Equal(
            HttpStatusCode.Redirect,
            (await mara.Submit(edit, "main form", ("url", lab.Urls.First()), ("token", "abc"))).StatusCode
        );

        using var tam = await Visitor.As(app, "tam");
        var taken = await app.Ask(db =>
            db.Samples.Where(x => x.State == SampleState.Taken).OrderBy(x => x.Id).Select(x => x.Id).ToListAsync(Ct)
        );
        if (taken.Count == 0)
        {
            await tam.Submit(
                "/machines/WL-02/samples/take?item=engine-oil-sample",
                "main form",
                ("engine", "Running"),
                ("method", "LivePort")
            );
            taken = await app.Ask(db => db.Samples.Where(x => x.State == SampleState.Taken).Select(x => x.Id).ToListAsync(Ct));
        }

        server.Mood = LabMood.Down;
        Assert.Equal(HttpStatusCode.Redirect, (await tam.Submit("/samples?part=Taken", "form[action*=send]")).StatusCode);
        await tam.Submit("/samples?part=AtLab", "main form[method=post]", ("handler", "round"));
        await Round(app);
        Assert.Contains(
            "does not answer",
            (await tam.Read("/samples?part=AtLab")).QuerySelector(".caution")!.TextContent,
            StringComparison.Ordinal
        );
        foreach (var mood in new[] { LabMood.Half, LabMood.Rubbish, LabMood.Well })
        {
            server.Mood = mood;
            await Round(app);
        }

        Assert.All(await app.Ask(db => db.Samples.Where(x => taken.Contains(x.Id)).ToListAsync(Ct)), x =>
            Assert.Equal(SampleState.Reported, x.State)
        );
        Assert.Null((await tam.Read("/samples?part=ToReview")).QuerySelector(".caution"));
        var csv = await new HttpClient().GetStringAsync(new Uri(lab.Urls.First() + "/lab/v1/results.csv?after=0"), Ct);
        Assert.Equal(taken.Count + 2, csv.Split("\r\n").Length);

        // The same as a file: nothing changes.
        using var form = new MultipartFormDataContent
        {
            { new StringContent(csv), "file", "sannet.csv" },
            {
                new StringContent((await app.Ask(db => db.Labs.FirstAsync(x => x.Usual, Ct))).Id.ToString(CultureInfo.InvariantCulture)),
                "lab"
            },
        };
        form.Add(
            new StringContent(
                (await tam.Read("/samples/import"))
                    .QuerySelector("main form input[name=__RequestVerificationToken]")!
                    .GetAttribute("value")!
            ),
            "__RequestVerificationToken"
        );
        var look = await Visitor.Parse(await tam.Post("/samples/import", form));
        Assert.All(look.QuerySelectorAll("tr[data-fate]"), x => Assert.Equal("Unchanged", x.GetAttribute("data-fate")));
        Assert.Equal(taken.Count, look.QuerySelectorAll("tr[data-fate]").Length);
        await lab.StopAsync(Ct);
    }

    /// <summary>A day on which the laboratory feels as it likes while samples are taken and sent.</summary>
    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    public async Task Through_a_day_of_moods_each_sample_comes_back_once(int seed)
    {
        await using var app = await DemoApp.Start();
        var server = new LabServer(new(0, TimeSpan.FromHours(2), 7, 1000, new Dictionary<string, OilFault>()), app.Clock);
        await using var lab = server.Create();
        await lab.StartAsync(Ct);
        await app.Ask(db =>
            db.Labs.Where(x => x.Usual)
                .ExecuteUpdateAsync(x => x.SetProperty(l => l.Url, lab.Urls.First()).SetProperty(l => l.OwnNetwork, true), Ct)
        );
        using var tam = await Visitor.As(app, "tam");
        string[] units = ["WL-02", "EX-01", "EX-02", "EX-04", "DZ-01", "WL-03"];
        var before = await app.Ask(db => db.Samples.MaxAsync(x => x.Id, Ct));
        var loose = await app.Ask(db => db.UnmatchedResults.CountAsync(Ct));
        LabMood[] moods = [LabMood.Well, LabMood.Down, LabMood.Half, LabMood.Rubbish];
        var chance = new Random(seed);
        for (var quarter = 0; quarter < 96; quarter++)
        {
            app.Clock.Advance(TimeSpan.FromMinutes(15));
            if (quarter % 12 == 0 && quarter / 12 < units.Length)
            {
                var take = $"/machines/{units[quarter / 12]}/samples/take?item=engine-oil-sample";
                Assert.Equal(
                    HttpStatusCode.Redirect,
                    (await tam.Submit(take, "main form", ("engine", "Running"), ("method", "LivePort"))).StatusCode
                );
                await tam.Submit("/samples?part=Taken", "form[action*=send]");
            }

            server.Mood = moods[chance.Next(moods.Length)];
            await Round(app);
        }

        server.Mood = LabMood.Well;
        for (var i = 0; i < 3; i++)
        {
            app.Clock.Advance(TimeSpan.FromHours(1));
            await Round(app);
        }

        var taken = await app.Ask(db => db.Samples.AsNoTracking().Where(x => x.Id > before).ToListAsync(Ct));
        Assert.Equal(units.Length, taken.Count);
        Assert.All(taken, x => Assert.True(x.State is SampleState.Reported or SampleState.Judged));
        var ids = taken.ConvertAll(x => x.Id);
        var reports = await app.Ask(db => db.Reports.Where(x => ids.Contains(x.SampleId)).Select(x => x.SampleId).ToListAsync(Ct));
        Assert.Equal(ids.Order(), reports.Order());
        Assert.Equal(loose, await app.Ask(db => db.UnmatchedResults.CountAsync(Ct)));
    }

    private static async Task Round(DemoApp app)
    {
        await using var scope = app.Services.CreateAsyncScope();
        await scope.ServiceProvider.GetRequiredService<LabOutbox>().Round(atOnce: true, Ct);
    }

    [Fact]
    public async Task Limits_are_previewed_before_planners_keep_them()
    {
        await using var app = await DemoApp.Start();
        using var mara = await Visitor.As(app, "mara");
        const string Page = "/samples/limits?kind=Engine";
        var page = await mara.Read(Page);
        Assert.Null(page.QuerySelector("button[formaction*=save]"));
        var token = page.QuerySelector("main input[name=__RequestVerificationToken]")!.GetAttribute("value")!;
        Task<HttpResponseMessage> Post(string handler, string watch, string act) =>
            mara.Post(
                $"/samples/limits?handler={handler}&kind=Engine",
                new FormUrlEncodedContent([new("watch-Si", watch), new("act-Si", act), new("__RequestVerificationToken", token)])
            );

        Assert.NotNull((await Visitor.Parse(await Post("preview", "9", "8"))).QuerySelector("#act-Si-wrong"));
        var preview = await Visitor.Parse(await Post("preview", "3", "90"));
        Assert.NotNull(preview.QuerySelector("button[formaction*=save]"));
        Assert.NotEmpty(preview.QuerySelectorAll("[data-preview] li"));
        Assert.Equal(HttpStatusCode.Redirect, (await Post("save", "3", "90")).StatusCode);
        Assert.Contains("3 / 90", (await mara.Read(Page)).QuerySelector("main table")!.TextContent, StringComparison.Ordinal);

        using var tam = await Visitor.As(app, "tam");
        Assert.Empty((await tam.Read(Page)).QuerySelectorAll("main table input"));
        Assert.Contains(
            "/no-entry",
            (
                await tam.Post(
                    "/samples/limits?handler=save&kind=Engine",
                    new FormUrlEncodedContent([
                        new("watch-Si", "1"),
                        new("act-Si", "2"),
                        new(
                            "__RequestVerificationToken",
                            (await tam.Read("/")).QuerySelector("input[name=__RequestVerificationToken]")!.GetAttribute("value")!
                        ),
                    ])
                )
            ).Headers.Location!.ToString(),
            StringComparison.OrdinalIgnoreCase
        );
    }

    [Fact]
    public async Task Figures_of_a_new_oil_results_of_a_letter_and_a_coolant_test_are_typed_in()
    {
        await using var app = await DemoApp.Start();
        using var mara = await Visitor.As(app, "mara");
        Assert.NotNull(
            (await Visitor.Parse(await mara.Submit("/samples/fluids/one?name=15W-40", "main form", ("tbn", "lots")))).QuerySelector(
                "#tbn-wrong"
            )
        );
        Assert.Equal(
            HttpStatusCode.Redirect,
            (await mara.Submit("/samples/fluids/one?name=15W-40", "main form", ("tbn", "9.5"))).StatusCode
        );
        Assert.Equal(9.5, await app.Ask(db => db.NewOils.Where(x => x.Fluid == "15W-40").Select(x => x.Tbn!.Value).SingleAsync(Ct)));

        using var tam = await Visitor.As(app, "tam");
        var late = await app.Ask(db => db.Samples.FirstAsync(x => x.State == SampleState.Sent, Ct));
        var letter = $"/samples/{late.Id}/results";
        Assert.NotNull((await Visitor.Parse(await tam.Submit(letter, "main form", ("Fe", "-1")))).QuerySelector("#Fe-wrong"));
        Assert.Equal(
            HttpStatusCode.Redirect,
            (await tam.Submit(letter, "main form", ("Fe", "<1"), ("Cu", "12"), ("comment", "By letter"))).StatusCode
        );
        Assert.Contains("By letter", (await tam.Read($"/samples/{late.Id}")).QuerySelector("main")!.TextContent, StringComparison.Ordinal);

        Assert.NotNull(
            (await Visitor.Parse(await tam.Submit("/machines/EX-02/coolant", "main form[action$='coolant']", ("ph", "20")))).QuerySelector(
                "#ph-wrong"
            )
        );
        Assert.Equal(
            HttpStatusCode.Redirect,
            (await tam.Submit("/machines/EX-02/coolant", "main form[action$='coolant']", ("share", "30"), ("inhibitor", "Low"))).StatusCode
        );
        var coolant = (await tam.Read("/machines/EX-02/coolant")).QuerySelector("[data-coolant]")!.TextContent;
        Assert.Contains("Add conditioner", coolant, StringComparison.Ordinal);
        Assert.Contains("Drain", coolant, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_compartments_page_and_the_comparison_say_what_they_draw()
    {
        using var ines = await Visitor.As(fixture.App, "ines");
        var oil = await ines.Read("/machines/EX-01/oil?c=hydraulic");
        Assert.Equal("2,500", oil.QuerySelector("[data-interval]")!.TextContent);
        Assert.Contains(
            "Interval now 2,500 h: three normal samples",
            oil.QuerySelector("main table")!.TextContent,
            StringComparison.Ordinal
        );
        var samples = await fixture.App.Ask(db =>
            db.Samples.CountAsync(x => x.Machine.Unit == "EX-01" && x.Compartment == "hydraulic", Ct)
        );
        Assert.Equal(samples, oil.QuerySelectorAll("svg.oil-time .drop").Length);

        var fleet = await ines.Read("/samples/fleet?kind=Engine&m=Si");
        Assert.Contains("DZ-01", fleet.QuerySelector("main ul.rows li")!.TextContent, StringComparison.Ordinal);
        Assert.Contains("stands out", fleet.QuerySelector("main ul.rows li")!.TextContent, StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.NotFound, (await ines.Get("/machines/EX-01/oil?c=cab")).StatusCode);
    }

    [Fact]
    public async Task The_api_lists_samples_takes_one_and_tells_limits()
    {
        await using var app = await DemoApp.Start();
        using var client = await ApiTests.Client(app, "technician");
        var all = JsonNode
            .Parse(await client.GetStringAsync(new Uri("/api/v1/samples?unit=DZ-01&state=reported", UriKind.Relative), Ct))!
            .AsArray();
        var bottle = (string)all[0]!["bottle"]!;
        var one = JsonNode.Parse(await client.GetStringAsync(new Uri($"/api/v1/samples/{bottle}", UriKind.Relative), Ct))!;
        Assert.Equal("dirt", (string)one["patterns"]![0]!["code"]!);
        Assert.Equal(2, (int)one["grades"]!["Si"]!);
        Assert.Equal(HttpStatusCode.NotFound, (await client.GetAsync(new Uri("/api/v1/samples/NOPE", UriKind.Relative), Ct)).StatusCode);
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (
                await client.PostAsJsonAsync(
                    "/api/v1/samples",
                    new
                    {
                        unit = "EX-99",
                        item = "x",
                        hours = 1,
                        method = "tube",
                        engine = "warm",
                    },
                    Ct
                )
            ).StatusCode
        );
        client.DefaultRequestHeaders.Add("Idempotency-Key", "s-1");
        var hours = await app.Ask(db =>
            db.Statuses.Where(x => x.Machine.Unit == "DZ-03").Select(x => (x.LastHours - x.OffsetHours).Value).SingleAsync(Ct)
        );
        var body = new
        {
            unit = "DZ-03",
            item = "hydraulic-sample",
            hours,
            method = "livePort",
            engine = "running",
        };
        var first = JsonNode.Parse(await (await client.PostAsJsonAsync("/api/v1/samples", body, Ct)).Content.ReadAsStringAsync(Ct))!;
        var again = JsonNode.Parse(await (await client.PostAsJsonAsync("/api/v1/samples", body, Ct)).Content.ReadAsStringAsync(Ct))!;
        Assert.Equal((string)first["bottle"]!, (string)again["bottle"]!);
        var limits = JsonNode
            .Parse(await client.GetStringAsync(new Uri("/api/v1/oil-limits?kind=hydraulic", UriKind.Relative), Ct))!
            .AsArray();
        Assert.Contains(limits, x => (string)x!["measurand"]! == "Fe" && (double)x["watch"]! == 20);

        using var reader = await ApiTests.Client(app, "operator");
        Assert.Equal(HttpStatusCode.Forbidden, (await reader.PostAsJsonAsync("/api/v1/samples", body, Ct)).StatusCode);
    }
}
