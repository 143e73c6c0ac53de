using Microsoft.AspNetCore.Mvc.Rendering;
using Microsoft.AspNetCore.Mvc.ViewFeatures;
using Microsoft.AspNetCore.Razor.TagHelpers;
using Nippers.App;
using Nippers.Views.Text;

namespace Nippers.Web.Text;

/// <summary>What was refused on a page, by field, with the zone that its times are told in.</summary>
public sealed record Refused(IReadOnlyList<Refusal> All, TimeZoneInfo? Zone)
{
    /// <summary>Key in ViewData.</summary>
    public const string Key = "Refused";

    public static Refused In(ViewContext context) => context.ViewData[Key] as Refused ?? new([], null);
}

/// <summary><c>nip-field="hours"</c> names an input and ties it to what was refused of it.</summary>
[HtmlTargetElement("input", Attributes = "nip-field")]
[HtmlTargetElement("select", Attributes = "nip-field")]
[HtmlTargetElement("textarea", Attributes = "nip-field")]
public sealed class FieldTag : TagHelper
{
    [HtmlAttributeName("nip-field")]
    public string Field { get; set; } = "";

    [ViewContext, HtmlAttributeNotBound]
    public ViewContext ViewContext { get; set; } = null!;

    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        output.Attributes.RemoveAll("nip-field");
        if (!output.Attributes.ContainsName("id"))
            output.Attributes.SetAttribute("id", Field);
        if (!output.Attributes.ContainsName("name"))
            output.Attributes.SetAttribute("name", Field);
        var css = output.Attributes["class"]?.Value?.ToString();
        output.Attributes.SetAttribute("class", string.IsNullOrEmpty(css) ? "input" : "input " + css);
        if (!Refused.In(ViewContext).All.Any(x => x.Field == Field))
            return;
        output.Attributes.SetAttribute("aria-invalid", "true");
        output.Attributes.SetAttribute("aria-describedby", Field + "-wrong");
    }
}

/// <summary><c>&lt;refused field="hours"/&gt;</c> says beside the field what was refused; an empty field is the whole form.</summary>
[HtmlTargetElement("refused", TagStructure = TagStructure.WithoutEndTag)]
public sealed class RefusedTag(Words words) : TagHelper
{
    public string Field { get; set; } = "";

    [ViewContext, HtmlAttributeNotBound]
    public ViewContext ViewContext { get; set; } = null!;

    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        var refused = Refused.In(ViewContext);
        var here = refused.All.Where(x => x.Field == Field).ToList();
        if (here.Count == 0)
        {
            output.SuppressOutput();
            return;
        }

        output.TagName = "p";
        output.TagMode = TagMode.StartTagAndEndTag;
        output.Attributes.SetAttribute("class", "wrong");
        output.Attributes.SetAttribute("role", "alert");
        output.Attributes.SetAttribute("id", (Field.Length > 0 ? Field : "form") + "-wrong");
        output.Content.SetContent(string.Join(' ', here.Select(x => words.Refused(x, refused.Zone))));
    }
}
