using AngleSharp;
using AngleSharp.Dom;
using AngleSharp.Html.Dom;
using AngleSharp.Html.Parser;
using Microsoft.Extensions.Primitives;

namespace Nippers.Web.Text;

/// <summary>
/// A page on which a form stands as it was sent: what was typed and chosen in it, unfolded, with the first field that was refused
/// under the keyboard. Passwords and files are not given back, and what other forms call alike says nothing there.
/// </summary>
public static class SentForm
{
    private const string WrongEnd = "-wrong";

    // What a page gives anew each time it is drawn, or when somebody else changed the same meanwhile.
    private static readonly string[] Renewed = ["key", "__RequestVerificationToken", "version", "post.Version", "revision", "previewed"];

    /// <summary>Fills it in again.</summary>
    /// <param name="html">The page, as it answers the form.</param>
    /// <param name="address">Where the form was sent to: path and query.</param>
    /// <param name="sent">What was sent.</param>
    /// <returns>The page; as it was where the form does not stand on it any more.</returns>
    public static string Refill(string html, string address, IEnumerable<KeyValuePair<string, StringValues>> sent)
    {
        var page = new HtmlParser().ParseDocument(html);
        var fields = sent.ToDictionary(x => x.Key, x => x.Value, StringComparer.Ordinal);
        if (Find(page, address, fields) is not { } form)
            return html;
        foreach (var group in form.Elements.Where(x => x.HasAttribute("name")).GroupBy(x => x.GetAttribute("name")!).ToList())
            Fill([.. group], fields.GetValueOrDefault(group.Key));
        SayOnlyIn(form, page);
        foreach (var shown in form.QuerySelectorAll(".wrong").Prepend(form))
            Unfold(shown);
        if (form.QuerySelector(".wrong") is { } wrong && ControlOf(wrong, form) is { } first)
        {
            foreach (var other in page.QuerySelectorAll("[autofocus]"))
                other.RemoveAttribute("autofocus");
            first.SetAttribute("autofocus", "");
        }

        return page.ToHtml();
    }

    /// <summary>The form that was sent: of several that are sent to one address, that of the same row.</summary>
    private static IHtmlFormElement? Find(IHtmlDocument page, string address, Dictionary<string, StringValues> fields)
    {
        var here = address.Split('?')[0];
        var forms = page
            .Forms.Where(x => Addresses(x).Any(to => to.Length == 0 || Same(to.StartsWith('?') ? here + to : to, address)))
            .ToList();
        return forms.Find(x => Hidden(x).All(y => fields.TryGetValue(y.Name!, out var was) && was.Contains(y.Value)))
            ?? (forms.Count == 1 ? forms[0] : null);
    }

    // A form that names no address goes to that of its page; no page with several has one that does not.
    private static IEnumerable<string> Addresses(IHtmlFormElement form) =>
        form.QuerySelectorAll("[formaction]").Select(x => x.GetAttribute("formaction")!).Append(form.GetAttribute("action") ?? "");

    private static bool Same(string one, string other) =>
        string.Equals(Uri.UnescapeDataString(one), Uri.UnescapeDataString(other), StringComparison.OrdinalIgnoreCase);

    private static IEnumerable<IHtmlInputElement> Hidden(IHtmlFormElement form) =>
        form.Elements.OfType<IHtmlInputElement>().Where(x => x is { Type: "hidden", Name.Length: > 0 } && !Renewed.Contains(x.Name));

    private static void Fill(List<IHtmlElement> controls, StringValues was)
    {
        // Fields of one name are told apart by their order alone.
        var typed = 0;
        foreach (var control in controls)
        {
            switch (control)
            {
                case IHtmlInputElement { Type: "hidden" or "password" or "file" or "submit" or "button" }:
                    break;
                case IHtmlInputElement { Type: "checkbox" } box:
                    Set(box, "checked", was.Contains(box.Value));
                    break;
                case IHtmlInputElement { Type: "radio" } radio:
                    if (was.Count > 0)
                        Set(radio, "checked", was.Contains(radio.Value));
                    break;
                case IHtmlSelectElement select:
                    var chosen = select.IsMultiple ? [.. was] : was.Skip(typed++).Take(1).ToList();
                    if (!select.Options.Any(x => chosen.Contains(x.Value)))
                        break;
                    foreach (var option in select.Options)
                        Set(option, "selected", chosen.Contains(option.Value));
                    break;
                case IHtmlTextAreaElement text when typed < was.Count:
                    text.TextContent = was[typed++] ?? "";
                    break;
                case IHtmlInputElement input when typed < was.Count:
                    input.SetAttribute("value", was[typed++] ?? "");
                    break;
            }
        }
    }

    private static void Set(IElement control, string what, bool on)
    {
        if (on)
            control.SetAttribute(what, "");
        else
            control.RemoveAttribute(what);
    }

    /// <summary>What something was refused of: the control that points to it, or else the first that stands around it.</summary>
    private static IElement? ControlOf(IElement wrong, IHtmlFormElement form) =>
        form.QuerySelectorAll("[aria-describedby]").FirstOrDefault(x => wrong.Id is { } id && x.GetAttribute("aria-describedby") == id)
        ?? wrong.ParentElement!.QuerySelector("input:not([type=hidden]), select, textarea");

    private static void Unfold(IElement shown)
    {
        for (var around = shown.ParentElement; around is not null; around = around.ParentElement)
        {
            if (around is IHtmlDetailsElement)
                around.SetAttribute("open", "");
        }
    }

    /// <summary>What was refused is said in the form that was sent, and in no other that has a field of that name.</summary>
    private static void SayOnlyIn(IHtmlFormElement form, IHtmlDocument page)
    {
        var said = form.QuerySelectorAll($".wrong[id$='{WrongEnd}']").Select(x => x.Id).ToList();
        foreach (var elsewhere in page.Forms.Where(x => x != form))
        {
            foreach (var wrong in elsewhere.QuerySelectorAll(".wrong").Where(x => said.Contains(x.Id)).ToList())
                wrong.Remove();
            foreach (
                var field in elsewhere.QuerySelectorAll("[aria-invalid]").Where(x => said.Contains(x.GetAttribute("aria-describedby")))
            )
            {
                field.RemoveAttribute("aria-invalid");
                field.RemoveAttribute("aria-describedby");
            }
        }
    }
}
