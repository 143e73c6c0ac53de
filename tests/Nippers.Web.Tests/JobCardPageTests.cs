using System.Globalization;
using System.Net;
using System.Text.RegularExpressions;
using AngleSharp.Html.Dom;
using Nippers.Data.Visits;
using Nippers.Tests;

namespace Nippers.Web.Tests;

/// <summary>A whole job card over HTTP, as on a phone whose scripts are blocked.</summary>
public sealed partial class JobCardPageTests
{
    private int _bottle;
    private string _drained = "";

    [Fact]
    public async Task A_card_is_gone_through_from_the_first_step_to_its_close_with_scripts_off()
    {
        await using var app = await DemoApp.Start();
        using var tam = await Visitor.As(app, "tam");
        var id = await app.Ask(db => Task.FromResult(db.Visits.First(x => x.State == VisitState.Open).Id));
        var card = $"/visits/{id}";
        var left = (await tam.Read(card))
            .QuerySelectorAll($"a[href^='{card}/steps/']")
            .Select(x => x.GetAttribute("href")!)
            .Distinct()
            .ToList();
        // It was handed over yesterday, and is taken over with an own lock.
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await tam.Submit(card, "form[action*=takeover]")).StatusCode);
        var taken = await tam.Submit(card, "form[action*=takeover]", ("lockOn", "true"));
        Assert.Equal(HttpStatusCode.Redirect, taken.StatusCode);
        var drained = left.First(x => x.EndsWith(".drained", StringComparison.Ordinal));
        Assert.True(left.Count > 25);

        // What waits for another step is left for the next round; a round in which nothing could be done would never end.
        var asked = new HashSet<string>();
        while (left.Count > 0)
        {
            var before = left.Count;
            foreach (var step in left.ToList())
            {
                var page = await tam.Read(step);
                if (page.QuerySelector("[data-blocked]") is not null)
                    continue;
                asked.Add(Ask(page));
                var answer = await tam.Submit(page, step, "form[data-ask]", [.. Answer(page)]);
                Assert.True(
                    answer.StatusCode == HttpStatusCode.Redirect,
                    $"{step}: {answer.StatusCode} {(await Visitor.Parse(answer)).QuerySelector("main")?.TextContent}"
                );
                left.Remove(step);
            }

            Assert.True(left.Count < before, "Nothing can be done of " + string.Join(", ", left));
        }

        Assert.Superset(
            new HashSet<string> { "Tick", "Look", "Level", "Drained", "Plug", "Filter", "Fill", "Bottle", "Touched", "Waste" },
            asked
        );
        var closed = await tam.Submit(card + "/end", "main form", ("minutes", "240"), ("note", "All done"));
        Assert.Equal(HttpStatusCode.Redirect, closed.StatusCode);
        Assert.Equal(VisitState.Closed, await app.Ask(db => Task.FromResult(db.Visits.First(x => x.Id == id).State)));

        // A closed card shows what was entered, and takes nothing more.
        var shown = await tam.Read(drained);
        Assert.Null(shown.QuerySelector("form[data-ask]"));
        Assert.Contains(_drained + " L", shown.QuerySelectorAll("main .note").Select(x => x.TextContent).Last(), StringComparison.Ordinal);
    }

    private static string Ask(IHtmlDocument page) => page.QuerySelector("form[data-ask]")!.GetAttribute("data-ask")!;

    /// <summary>What somebody enters who found everything as it should be.</summary>
    private List<(string, string)> Answer(IHtmlDocument page)
    {
        var fields = new List<(string, string)> { ("done", "true") };
        void Put(string name, string value) => fields.Add((name, value));
        void Tick(params string[] names)
        {
            foreach (var name in names.Where(x => page.QuerySelector($"[name='{x}']") is not null))
                Put(name, "true");
        }

        string Number(string text) =>
            FirstNumber().Match(text) is { Success: true } found ? found.Value.Replace(",", "", StringComparison.Ordinal) : "";
        switch (Ask(page))
        {
            case "Level":
                Put("level", "100");
                Put("litres", Number(page.QuerySelector("#litres")!.ParentElement!.QuerySelector(".hint")?.TextContent ?? ""));
                if (page.QuerySelector("#reason") is not null)
                    Put("reason", "entered from the paper card");
                break;
            case "Drained" or "Fill":
                var litres = Number(page.QuerySelector("#litres")!.ParentElement!.QuerySelector(".hint")!.TextContent);
                Put("litres", litres.Length > 0 ? litres : "1");
                Put("reason", "entered from the paper card");
                if (_drained.Length == 0)
                    _drained = litres;
                break;
            case "Magnet":
                Put("metal", "Clean");
                break;
            case "Plug":
                foreach (var plug in page.QuerySelectorAll("[name=plugs]"))
                    Put("plugs", plug.GetAttribute("value")!);
                break;
            case "Count":
                Put("all", "true");
                break;
            case "Filter":
                Put("metal", "Clean");
                Tick("seals", "sealOff", "seatWiped", "sealNew", "turned", "written", "fitted");
                foreach (var size in new[] { "lengthMm", "outerMm", "sealMm" })
                    Put(size, Number(page.QuerySelector($"#{size}")!.ParentElement!.QuerySelector(".hint")?.TextContent ?? ""));
                break;
            case "Pressure":
                Put("figures", "3");
                break;
            case "BeforeAfter" or "Volts" or "Coolant":
                foreach (var _ in page.QuerySelectorAll("[name=figures]"))
                    Put("figures", Ask(page) == "Coolant" ? "50" : "12.6");
                break;
            case "Water":
                Put("water", "None");
                break;
            case "Bottle":
                Put("mark", string.Create(CultureInfo.InvariantCulture, $"YARD-{++_bottle}"));
                break;
            case "Touched":
                Tick("allHome");
                break;
            case "Waste":
                Put("mark", "Tideway Reclaim");
                break;
        }

        if (Ask(page) == "Measured")
            foreach (var _ in page.QuerySelectorAll("[name=figures]"))
                Put("figures", "30");
        if (page.QuerySelector("#note") is not null)
            Put("note", "entered from the paper card");
        foreach (var part in page.QuerySelectorAll("[name=ticked][type=checkbox]"))
            Put("ticked", part.GetAttribute("value")!);
        if (page.QuerySelector("#name") is not null)
            Put("name", "Tam Ollery");
        return fields;
    }

    [GeneratedRegex(@"\d[\d,]*(\.\d+)?")]
    private static partial Regex FirstNumber();
}
