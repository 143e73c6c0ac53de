using AngleSharp.Html.Dom;
using AngleSharp.Html.Parser;
using CsCheck;
using Microsoft.Extensions.Primitives;
using Nippers.Web.Text;

namespace Nippers.Web.Tests;

/// <summary>How a form stands again as it was sent.</summary>
public sealed class SentFormTests
{
    private static IHtmlDocument Sent(string body, string address, params (string Name, string[] Values)[] fields) =>
        new HtmlParser().ParseDocument(
            SentForm.Refill(
                $"<!DOCTYPE html><html><body>{body}</body></html>",
                address,
                fields.Select(x => KeyValuePair.Create(x.Name, new StringValues(x.Values)))
            )
        );

    public static TheoryData<string, string[], string> Controls() =>
        new()
        {
            { "<input name='a' value='was'>", ["typed"], "typed" },
            { "<input name='a' value='was'>", [""], "" },
            { "<input name='a' type='date' value='2026-01-01'>", ["2026-02-03"], "2026-02-03" },
            { "<textarea name='a'>was</textarea>", ["two\nlines & <more>"], "two\nlines & <more>" },
            { "<input name='a' type='checkbox' value='x'><input name='a' type='checkbox' value='y' checked>", ["x"], "x" },
            { "<input name='a' type='checkbox' value='x' checked>", [], "" },
            { "<input name='a' type='radio' value='x' checked><input name='a' type='radio' value='y'>", ["y"], "y" },
            { "<input name='a' type='radio' value='x' checked><input name='a' type='radio' value='y'>", [], "x" },
            { "<select name='a'><option value='x' selected>X<option value='y'>Y</select>", ["y"], "y" },
            { "<select name='a'><option value='x' selected>X<option value='y'>Y</select>", ["gone"], "x" },
            { "<input name='a'><input name='a' value='q'><input name='a'>", ["1", "", "3"], "1,,3" },
            { "<select name='a'><option>1<option>2</select><select name='a'><option>1<option>2</select>", ["2", "1"], "2,1" },
            // Somebody else may come by.
            { "<input name='a' type='password'>", ["secret"], "" },
            { "<input name='a' type='hidden' value='new'>", ["old"], "new" },
        };

    [Theory]
    [MemberData(nameof(Controls))]
    public void A_control_has_what_was_sent(string control, string[] was, string now)
    {
        var page = Sent($"<form method='post' action='/here'>{control}<input name='b'></form>", "/here", ("a", was), ("b", ["b"]));
        Assert.Equal(
            now,
            string.Join(
                ',',
                page.QuerySelectorAll("[name=a]")
                    .Where(x => x is not IHtmlInputElement { Type: "checkbox" or "radio", IsChecked: false })
                    .Select(x =>
                        x switch
                        {
                            IHtmlInputElement input => input.Value,
                            IHtmlSelectElement select => select.Value,
                            _ => x.TextContent,
                        }
                    )
            )
        );
    }

    [Fact]
    public void Whatever_is_typed_stands_there_again() =>
        Gen
            .String.Array[1, 5]
            .Sample(typed =>
            {
                // A browser sends no lone halves of characters, and lines end as it likes.
                var words = Array.ConvertAll(typed, x => new string([.. x.Where(c => !char.IsSurrogate(c) && !char.IsControl(c))]));
                var body = string.Concat(words.Select((_, i) => $"<input name='i{i}'><textarea name='t{i}'></textarea>"));
                var page = Sent(
                    $"<form method='post' action='/a'>{body}</form>",
                    "/a",
                    [.. words.SelectMany((x, i) => new[] { ($"i{i}", new[] { x }), ($"t{i}", [x]) })]
                );
                for (var i = 0; i < words.Length; i++)
                {
                    Assert.Equal(words[i], page.QuerySelector($"[name=i{i}]")!.GetAttribute("value"));
                    Assert.Equal(words[i], page.QuerySelector($"[name=t{i}]")!.TextContent);
                }
            });

    [Fact]
    public void Of_rows_with_the_same_form_it_is_the_row_that_was_sent()
    {
        const string rows = """
            <form method='post' action='/rows?handler=put'><input type='hidden' name='row' value='1'><input name='a' value='one'></form>
            <form method='post' action='/rows?handler=put'><input type='hidden' name='row' value='2'><input name='a' value='two'></form>
            """;
        Assert.Equal(["one", "typed"], Shown(Sent(rows, "/rows?handler=Put", ("row", ["2"]), ("a", ["typed"]))));

        // A row that has gone since: no other is filled with what was meant for it.
        Assert.Equal(["one", "two"], Shown(Sent(rows, "/rows?handler=put", ("row", ["3"]), ("a", ["typed"]))));
        Assert.Equal(["one", "two"], Shown(Sent(rows, "/rows?handler=away", ("row", ["2"]), ("a", ["typed"]))));

        static IEnumerable<string?> Shown(IHtmlDocument page) => page.QuerySelectorAll("[name=a]").Select(x => x.GetAttribute("value"));
    }

    [Fact]
    public void What_is_refused_is_said_unfolded_in_that_form_alone_and_is_under_the_keyboard()
    {
        const string two = """
            <input name='elsewhere' autofocus>
            <details id='one'><form method='post' action='/x?handler=one'>
                <input name='reason' aria-invalid='true' aria-describedby='reason-wrong'><p class='wrong' id='reason-wrong'>Why?</p>
            </form></details>
            <details id='two'><form method='post' action='/x?handler=two'><details id='inside'>
                <input name='reason' aria-invalid='true' aria-describedby='reason-wrong'><p class='wrong' id='reason-wrong'>Why?</p>
            </details><details id='more'></details></form></details>
            """;
        var page = Sent(two, "/x?handler=two", ("reason", [""]));
        Assert.Equal(["two", "inside"], page.QuerySelectorAll("details[open]").Select(x => x.Id!));
        Assert.Equal("two", Assert.Single(page.QuerySelectorAll(".wrong")).Closest("details:not(#inside)")!.Id);
        Assert.Equal("inside", Assert.Single(page.QuerySelectorAll("[aria-invalid]")).Closest("details")!.Id);
        Assert.Equal("inside", Assert.Single(page.QuerySelectorAll("[autofocus]")).Closest("details")!.Id);
    }

    [Fact]
    public void A_choice_that_was_not_made_is_under_the_keyboard_though_no_control_says_that_it_is_wrong()
    {
        const string form = """
            <form method='post' action='/a'><input name='first'>
                <fieldset><input type='radio' name='n' value='1'><p class='wrong' id='n-wrong'>Choose.</p></fieldset>
            </form>
            """;
        Assert.Equal("n", Assert.Single(Sent(form, "/a", ("first", ["x"])).QuerySelectorAll("[autofocus]")).GetAttribute("name"));
    }

    [Theory]
    [InlineData("action='/a'", "formaction='/a?handler=look'", "/a?handler=look")]
    [InlineData("action='/a'", "formaction='?handler=look'", "/a?handler=Look")]
    [InlineData("action='/A/EX%2D01'", "", "/a/EX-01")]
    [InlineData("", "", "/a?on=2026-01-01")]
    public void It_is_the_form_whose_address_it_went_to(string action, string button, string address)
    {
        var page = Sent($"<form method='post' {action}><input name='n'><button {button}>Look</button></form>", address, ("n", ["7"]));
        Assert.Equal("7", page.QuerySelector("[name=n]")!.GetAttribute("value"));
    }

    [Fact]
    public void A_page_without_the_form_stays_as_it_was()
    {
        const string page = "<!DOCTYPE html>\n<html><body><p>It is gone</body></html>";
        Assert.Equal(page, SentForm.Refill(page, "/a", [KeyValuePair.Create("n", new StringValues("7"))]));
    }
}
