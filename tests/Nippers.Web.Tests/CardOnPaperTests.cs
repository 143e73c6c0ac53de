using System.Globalization;
using System.Net;
using System.Text.Json;
using System.Text.RegularExpressions;
using AngleSharp.Dom;
using AngleSharp.Html.Dom;
using Microsoft.EntityFrameworkCore;
using Nippers.App.Phones;
using Nippers.Core.Jobs;
using Nippers.Data.Visits;
using Nippers.Data.Walks;
using Nippers.Tests;
using Nippers.Views.Phones;

namespace Nippers.Web.Tests;

/// <summary>A card that was worked where there was no screen: on paper, or on a phone without a network.</summary>
public sealed partial class CardOnPaperTests
{
    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    private static async Task<long> OpenCard(DemoApp app, string holder = "Tam Ollery") =>
        await app.Ask(async db =>
        {
            var row = await db.Visits.SingleAsync(x => x.State == VisitState.Open && x.Machine.Unit == "DZ-02", Ct);
            (row.HeldBy, row.HandedTo) = (holder, null);
            await db.SaveChangesAsync(Ct);
            return row.Id;
        });

    [Fact]
    public async Task A_paper_card_is_entered_in_one_pass_and_what_does_not_do_stays_with_what_was_typed()
    {
        await using var app = await DemoApp.Start();
        using var tam = await Visitor.As(app, "tam");
        var id = await OpenCard(app);
        var entry = $"/visits/{id}/entry";
        var page = await tam.Read(entry);
        var steps = page.QuerySelectorAll("[data-paper-step]").ToList();
        Assert.True(steps.Count > 30);
        var before = await app.Ask(db => db.Steps.CountAsync(x => x.VisitId == id, Ct));
        var fields = steps.SelectMany(Filled).ToList();

        // One figure that nobody can have read; everything that waits for it waits too.
        var drained = "engine-oil.drained|litres";
        fields = [.. fields.Select(x => x.Name == drained ? (x.Name, "400") : x)];
        var half = await tam.Submit(page, entry, "main form", [.. fields]);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, half.StatusCode);
        page = await Visitor.Parse(half);
        Assert.NotNull(page.QuerySelector("[data-left]"));
        Assert.Equal("400", page.QuerySelector($"[name='{drained}']")!.GetAttribute("value"));
        Assert.NotEmpty(page.QuerySelectorAll(".wrong"));
        Assert.True(await app.Ask(db => db.Steps.CountAsync(x => x.VisitId == id, Ct)) > before);

        fields = [.. page.QuerySelectorAll("[data-paper-step]").SelectMany(Filled)];
        var whole = await tam.Submit(page, entry, "main form", [.. fields]);
        Assert.True(
            whole.StatusCode == HttpStatusCode.Redirect,
            string.Join('\n', (await Visitor.Parse(whole)).QuerySelectorAll(".wrong, [data-stopped]").Select(x => x.TextContent))
        );
        var closed = await tam.Submit($"/visits/{id}/end", "main form", ("minutes", "240"), ("note", "by hand"));
        Assert.Equal(HttpStatusCode.Redirect, closed.StatusCode);
        var at = await app.Ask(db => db.Steps.Where(x => x.VisitId == id && x.By == "Tam Ollery").Select(x => x.At).ToListAsync(Ct));
        Assert.True(at.Distinct().Count() > 10, "the times of the steps are spread over the work");
    }

    [Theory]
    [InlineData("", "2026-03-16T10:00")]
    [InlineData("2026-03-16T10:00", "2026-03-16T09:00")]
    [InlineData("2026-03-16T10:00", "2099-03-16T09:00")]
    [InlineData("soon", "2026-03-16T09:00")]
    public async Task Hours_that_cannot_be_are_refused_and_nothing_is_kept(string from, string to)
    {
        await using var app = await DemoApp.Start();
        using var tam = await Visitor.As(app, "tam");
        var id = await OpenCard(app);
        var before = await app.Ask(db => db.Steps.CountAsync(x => x.VisitId == id, Ct));
        var page = await tam.Read($"/visits/{id}/entry");
        var tick = page.QuerySelector("[name$='|done']")!.GetAttribute("name")!;

        var answer = await tam.Submit(page, $"/visits/{id}/entry", "main form", ("from", from), ("to", to), (tick, "true"));

        Assert.Equal(HttpStatusCode.UnprocessableEntity, answer.StatusCode);
        Assert.NotNull((await Visitor.Parse(answer)).QuerySelector("#from-wrong, #to-wrong"));
        Assert.Equal(before, await app.Ask(db => db.Steps.CountAsync(x => x.VisitId == id, Ct)));
    }

    /// <summary>What somebody wrote on the paper who found everything as it should be.</summary>
    private static IEnumerable<(string Name, string Value)> Filled(IElement step)
    {
        var code = step.GetAttribute("data-paper-step")!;
        string Figure(IElement? text) => FirstNumber().Match(text?.TextContent ?? "") is { Success: true } found ? found.Value : "";
        foreach (var radio in step.QuerySelectorAll("input[type=radio]").GroupBy(x => x.GetAttribute("name")!))
        {
            if (radio.Key.EndsWith("faultGrade", StringComparison.Ordinal))
                continue;
            string[] calm = ["100", "Dark", "FinePaste", "None"];
            yield return (radio.Key, calm.First(x => radio.Any(y => y.GetAttribute("value") == x)));
        }

        foreach (var tick in step.QuerySelectorAll("input[type=checkbox]"))
        {
            var name = tick.GetAttribute("name")!;
            if (!name.EndsWith("prefilled", StringComparison.Ordinal) && !name.EndsWith("notInCatalogue", StringComparison.Ordinal))
                yield return (name, tick.GetAttribute("value")!);
        }

        foreach (var text in step.QuerySelectorAll("input:not([type=radio]):not([type=checkbox]):not([type=hidden])"))
        {
            var name = text.GetAttribute("name")!;
            var hint = text.ParentElement!.QuerySelector(".hint");
            var value = name[(code.Length + 1)..] switch
            {
                "litres" when step.QuerySelector(".stick") is not null => Figure(hint),
                "litres" => Figure(hint) is { Length: > 0 } expected ? expected : "1",
                "figures" when code == "card.pressure" => "3",
                "figures" => "38",
                "reason" => "as on the paper",
                "name" => "Gil Rennard",
                "mark" when code.Contains("sample", StringComparison.Ordinal) => string.Create(
                    CultureInfo.InvariantCulture,
                    $"PAPER-{Math.Abs(StringComparer.Ordinal.GetHashCode(code)) % 100_000}"
                ),
                "mark" => "Tideway",
                "note" => "as on the paper",
                _ => "",
            };
            yield return (name, value);
        }
    }

    [Fact]
    public async Task A_phone_asks_of_a_step_what_the_server_asks()
    {
        await using var app = await DemoApp.Start();
        using var tam = await Visitor.As(app, "tam");
        var id = await OpenCard(app);
        var machine = await Machine(tam);
        var steps = (await tam.Read($"/visits/{id}/entry"))
            .QuerySelectorAll("[data-paper-step]")
            .Select(x => x.GetAttribute("data-paper-step")!)
            .ToList();
        foreach (var step in steps)
        {
            var server = await tam.Read($"/visits/{id}/steps/{step}");
            var phone = new AngleSharp.Html.Parser.HtmlParser().ParseDocument((await PhoneDesk.Ask(Asked(machine, "card", step))).Html);
            string[] Names(IHtmlDocument page) =>
                [.. page.QuerySelectorAll("form[data-ask] [name]").Select(x => x.GetAttribute("name")!).Where(x => x[0] != '_').Distinct()];
            Assert.Equal(Names(server), Names(phone));
            Assert.Equal(
                server.QuerySelectorAll(".caution, [data-blocked] a").Select(x => x.TextContent.Trim()),
                phone.QuerySelectorAll(".caution, [data-blocked] a").Select(x => x.TextContent.Trim())
            );
        }
    }

    [Fact]
    public async Task What_a_phone_refuses_the_server_refuses_and_what_it_keeps_is_kept_once()
    {
        await using var app = await DemoApp.Start();
        using var tam = await Visitor.As(app, "tam");
        var id = await OpenCard(app, "Wenna Pask");
        var machine = await Machine(tam);

        // The next step is a lookup away: it is asked for without a name.
        var next = new AngleSharp.Html.Parser.HtmlParser()
            .ParseDocument((await PhoneDesk.Ask(Asked(machine, "card", ""))).Html)
            .QuerySelector("form[data-step]")!
            .GetAttribute("data-step")!;
        var release = JsonDocument
            .Parse(machine.Card!.Card)
            .RootElement.GetProperty("steps")
            .EnumerateArray()
            .Select(x => x.GetProperty("code").GetString()!)
            .Last(x => x.StartsWith("between.release", StringComparison.Ordinal));
        var early = await PhoneDesk.Ask(Asked(machine, "step", release));
        Assert.True(early.Refused);
        Assert.Null(early.Entry);

        var kept = await PhoneDesk.Ask(
            Asked(machine, "step", next, ("done", "true"), ("figures", "40"), ("figures", "40"), ("figures", "40"), ("visit", $"{id}"))
        );
        Assert.NotNull(kept.Entry);
        Assert.Equal(HttpStatusCode.OK, (await Send(tam, kept.Entry)).StatusCode);
        Assert.Equal(HttpStatusCode.OK, (await Send(tam, kept.Entry)).StatusCode);
        Assert.Equal(1, (await app.Ask(db => db.Steps.SingleAsync(x => x.VisitId == id && x.Code == next, Ct))).Revision);

        // A phone is anybody's; a card is worked by who may.
        using var ines = await Visitor.As(app, "ines");
        var refused = await Send(ines, kept.Entry with { Key = new string('c', 32), Step = release });
        Assert.Equal(HttpStatusCode.UnprocessableEntity, refused.StatusCode);
        Assert.False(await app.Ask(db => db.Steps.AnyAsync(x => x.VisitId == id && x.By == "Ines Varrow", Ct)));
        Assert.Equal(HttpStatusCode.NotFound, (await tam.Get("/phone/cards/999999")).StatusCode);
    }

    [Fact]
    public async Task Flakes_on_a_phone_stop_the_card_there_too()
    {
        await using var app = await DemoApp.Start();
        using var tam = await Visitor.As(app, "tam");
        var id = await OpenCard(app);
        var machine = await Machine(tam);
        var metal = await PhoneDesk.Ask(Asked(machine, "step", "engine-oil.magnet", ("metal", nameof(MetalFinding.Flakes))));
        Assert.NotNull(metal.Entry);

        var after = Asked(machine, "card", "engine-oil.magnet.released") with { Entries = [metal.Entry] };
        var page = new AngleSharp.Html.Parser.HtmlParser().ParseDocument((await PhoneDesk.Ask(after)).Html);

        Assert.Equal("engine-oil.magnet.released", page.QuerySelector("form[data-step]")!.GetAttribute("data-step"));
        Assert.NotNull(page.QuerySelector("[data-blocked]"));
    }

    private static async Task<HttpResponseMessage> Send(Visitor who, PhoneEntry entry)
    {
        using var form = new MultipartFormDataContent { { new StringContent(JsonSerializer.Serialize(entry, ListJson.Options)), "entry" } };
        return await who.Send(HttpMethod.Post, "/phone/entries", form, ("X-Nippers-Phone", "1"));
    }

    private static async Task<KitMachine> Machine(Visitor who) =>
        JsonSerializer
            .Deserialize<PhoneKit>(await (await who.Get("/phone/kit")).Content.ReadAsStringAsync(Ct), ListJson.Options)!
            .Machines.Single(x => x.Unit == "DZ-02");

    private static PhoneRequest Asked(KitMachine machine, string asks, string step, params (string Name, string Value)[] fields) =>
        new()
        {
            Person = "Tam Ollery",
            Role = "technician",
            PhoneNow = DemoApp.Now,
            Asks = asks,
            Key = new string('b', 32),
            Seq = 1,
            Step = step,
            Machine = machine,
            Fields = fields
                .GroupBy(x => x.Name)
                .ToDictionary(x => x.Key, IReadOnlyList<string?> (x) => [.. x.Select(y => y.Value)], StringComparer.Ordinal),
        };

    [GeneratedRegex(@"\d[\d.]*")]
    private static partial Regex FirstNumber();
}
