using System.Net;
using AngleSharp.Dom;
using AngleSharp.Html.Dom;
using Nippers.Tests;

namespace Nippers.Web.Tests;

/// <summary>
/// A form that is refused stands there as it was sent, with what is wrong beside its field: nobody types anything twice, and nothing that
/// he had chosen is another thing when he sends it again. Every form that is come to is sent with words that no
/// field takes, and everything else chosen as it was not.
/// </summary>
public sealed class TypedStaysTests
{
    private const int OfARoute = 3;

    // Longer than whatever is taken, and no number, day or address.
    private static readonly string Endless = new('m', 6000);

    private static readonly string[] Renewed = ["key", "__RequestVerificationToken"];

    // The quick line says what it would do below itself; who stands in a list has the name that he has.
    private static readonly string[] Apart = ["/quick -", "/settings/mail Add"];

    // Of a card from paper what is right is kept at once, and asked for no more.
    private const string KeepsTheRest = "/visits/{id:long}/entry -";

    [Theory]
    [InlineData("mara", "planner", 40)]
    [InlineData("tam", "technician", 25)]
    [InlineData("ines", "operator", 5)]
    public async Task A_form_that_is_refused_stands_as_it_was_sent_with_its_words_beside_their_field(string who, string role, int fewest)
    {
        await using var app = await DemoApp.Start();
        using var visitor = await Visitor.As(app, who);
        var (wrong, sent) = (new SortedSet<string>(StringComparer.Ordinal), new HashSet<string>(StringComparer.Ordinal));
        var refused = 0;
        await foreach (var reached in Crawl.Pages(visitor, role, OfARoute))
        {
            foreach (var form in Forms(reached.Page))
            {
                var to = Crawl.AddressOf(Goes(form) is { Length: > 0 } action ? action : reached.Path, reached.Path)!;
                var name = $"/{Crawl.RouteOf(to)} {to.Split("handler=").Skip(1).FirstOrDefault()?.Split('&')[0] ?? "-"}";
                if (
                    Apart.Contains(name)
                    || !sent.Add(name + string.Join(',', Controls(form).Select(x => x.GetAttribute("name")).Distinct()))
                )
                    continue;
                var fields = Filled(form);
                using var answer = await visitor.Post(to, Body(form, fields));
                if (answer.StatusCode != HttpStatusCode.UnprocessableEntity)
                {
                    wrong.Add($"{name}: answered {(int)answer.StatusCode}");
                    continue;
                }

                refused++;
                var again = Same(await Visitor.Parse(answer), form);
                if (again is null)
                {
                    wrong.Add($"{name}: the form is gone");
                    continue;
                }

                if (again.QuerySelector(".wrong") is null)
                    wrong.Add($"{name}: says nothing beside a field");
                if (again.Closest("details") is { } folded && !folded.HasAttribute("open"))
                    wrong.Add($"{name}: is folded away");
                var now = Values(again);
                wrong.UnionWith(
                    fields
                        .Where(x =>
                            !now.Contains(x) && (name != KeepsTheRest || Controls(again).Any(y => y.GetAttribute("name") == x.Name))
                        )
                        .Select(x => $"{name}: {x.Name} was {Short(x.Value)}, is " + Short(Is(now, x.Name)))
                );
            }
        }

        Assert.True(wrong.Count == 0, string.Join('\n', wrong));
        Assert.True(refused >= fewest, $"{refused} forms refused");
    }

    private static string Short(string text) => text.Length > 20 ? text[..20] + "…" : text;

    private static string Is(List<(string Name, string Value)> all, string name) =>
        string.Join(',', all.Where(x => x.Name == name).Select(x => Short(x.Value)));

    /// <summary>The forms of a page in which something is typed.</summary>
    private static IEnumerable<IHtmlFormElement> Forms(IHtmlDocument? page) =>
        (page?.QuerySelectorAll("form[method=post]") ?? Enumerable.Empty<IElement>())
            .OfType<IHtmlFormElement>()
            .Where(x => Controls(x).Any(IsTyped) && x.QuerySelector("input[type=password]") is null);

    private static IEnumerable<IElement> Controls(IElement form) =>
        form.QuerySelectorAll("input[name], select[name], textarea[name]")
            .Where(x => x is not IHtmlInputElement { Type: "file" or "submit" or "button" } && !x.HasAttribute("disabled"));

    private static bool IsTyped(IElement control) =>
        control is IHtmlTextAreaElement or IHtmlInputElement { Type: "text" or "search" or "tel" or "email" or "url" };

    /// <summary>What is sent: words that no field takes, and of what is chosen what was not.</summary>
    private static List<(string Name, string Value)> Filled(IElement form)
    {
        var fields = new List<(string Name, string Value)>();
        foreach (var group in Controls(form).GroupBy(x => x.GetAttribute("name")!))
        {
            foreach (var control in group)
            {
                switch (control)
                {
                    case IHtmlInputElement { Type: "hidden" }:
                        break;
                    case IHtmlInputElement { Type: "checkbox" } box:
                        if (!box.HasAttribute("checked"))
                            fields.Add((group.Key, box.Value));
                        break;
                    case IHtmlInputElement { Type: "radio" } radio:
                        if (control == group.Last(x => x is IHtmlInputElement { Type: "radio" }))
                            fields.Add((group.Key, radio.Value));
                        break;
                    case IHtmlSelectElement select:
                        fields.Add((group.Key, select.Options[select.Options.Length - 1].Value));
                        break;
                    case var typed when IsTyped(typed):
                        fields.Add((group.Key, Endless));
                        break;
                    case IHtmlInputElement { Type: "date" }:
                        fields.Add((group.Key, "2031-03-04"));
                        break;
                    default:
                        fields.Add((group.Key, ((IHtmlInputElement)control).Value));
                        break;
                }
            }
        }

        return fields;
    }

    private static FormUrlEncodedContent Body(IElement form, List<(string Name, string Value)> fields) =>
        new(
            form.QuerySelectorAll("input[type=hidden][name]")
                .Select(x => KeyValuePair.Create(x.GetAttribute("name")!, x.GetAttribute("value") ?? ""))
                .Concat(fields.Select(x => KeyValuePair.Create(x.Name, x.Value)))
        );

    private static string? Goes(IElement form) =>
        form.QuerySelector("button:not([type=button])")?.GetAttribute("formaction") ?? form.GetAttribute("action");

    /// <summary>The same form on the page that came back.</summary>
    private static IElement? Same(IHtmlDocument page, IElement form)
    {
        var hidden = Hidden(form);
        var candidates = page.QuerySelectorAll("form[method=post]").Where(x => Goes(x) == Goes(form)).ToList();
        return candidates.Find(x => Hidden(x).SequenceEqual(hidden)) ?? (candidates.Count == 1 ? candidates[0] : null);
    }

    private static List<string> Hidden(IElement form) =>
        [
            .. form.QuerySelectorAll("input[type=hidden][name]")
                .Where(x => !Renewed.Contains(x.GetAttribute("name")))
                .Select(x => $"{x.GetAttribute("name")}={x.GetAttribute("value")}"),
        ];

    private static List<(string Name, string Value)> Values(IElement form) =>
        [
            .. Controls(form)
                .Where(x => x is not IHtmlInputElement { Type: "checkbox" or "radio", IsChecked: false })
                .Select(x =>
                    (
                        x.GetAttribute("name")!,
                        x switch
                        {
                            IHtmlInputElement input => input.Value,
                            IHtmlSelectElement select => select.Value ?? "",
                            _ => x.TextContent,
                        }
                    )
                ),
        ];
}
