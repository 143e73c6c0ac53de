using System.Globalization;
using System.Text;
using Microsoft.AspNetCore.Html;
using Nippers.App.Oil;
using Nippers.Core.Oil;
using Nippers.Views.Text;

namespace Nippers.Web.Drawing;

/// <summary>
/// The rake: one sample as tines that hang from a bar, each as long as its value reaches against its watch and act borders.
/// Earlier samples are marks across the tine. A tine leads to its trend.
/// </summary>
public static class Rake
{
    private static readonly (string Key, Measurand[] Of)[] Groups =
    [
        ("Wear", [Measurand.Fe, Measurand.Cu, Measurand.Pb, Measurand.Al, Measurand.Cr, Measurand.Sn, Measurand.Ni, Measurand.Pq]),
        ("Dirt", [Measurand.Si, Measurand.Iso]),
        ("Coolant", [Measurand.Na, Measurand.K, Measurand.Glycol]),
        ("Burn", [Measurand.Water, Measurand.Fuel, Measurand.Soot]),
        ("Oil", [Measurand.Oxidation, Measurand.Nitration, Measurand.TanRise, Measurand.Tbn, Measurand.Viscosity]),
    ];

    private const double Step = 44;
    private const double Gap = 20;
    private const double Left = 16;
    private const double Bar = 62;
    private const double ToWatch = 92;
    private const double Longest = 2.55;
    private const int Ghosts = 5;

    /// <summary>Measurands in the order of the tines.</summary>
    public static IEnumerable<Measurand> Order => Groups.SelectMany(x => x.Of);

    /// <summary>Draws a sample.</summary>
    /// <param name="oil">What it rests on.</param>
    /// <param name="judgement">What the rules made of it.</param>
    /// <param name="href">Where a tine leads.</param>
    /// <param name="chosen">The tine whose trend is shown.</param>
    /// <param name="words">The words.</param>
    public static IHtmlContent Draw(OilCase oil, OilJudgement judgement, Func<Measurand, string> href, Measurand? chosen, Words words)
    {
        var evidence = judgement.Patterns.SelectMany(x => x.Evidence).ToHashSet();
        var groups = Groups
            .Select(x => (x.Key, Of: x.Of.Where(y => judgement.LimitGrades[(int)y] is not null).ToArray()))
            .Where(x => x.Of.Length > 0)
            .ToList();
        var width = Left * 2 + groups.Sum(x => x.Of.Length) * Step + (groups.Count - 1) * Gap + 64;
        var height = Bar + ToWatch * Longest + 26;
        var svg = new StringBuilder(8192);
        svg.Append(
            CultureInfo.InvariantCulture,
            $"""<svg class="rake" viewBox="0 0 {N(width)} {N(height)}" role="group" aria-label="{Text(words["Rake.Label"])}">"""
        );
        var (watch, act) = (Bar + ToWatch, Bar + 2 * ToWatch);
        svg.Append(
            CultureInfo.InvariantCulture,
            $"""<path class="rake-watch" d="M{N(Left)} {N(watch)} H{N(width - 58)}"/><text class="rake-border rake-border-watch" x="{N(width - 54)}" y="{N(watch + 4)}">{Text(words["Rake.Watch"])}</text>"""
        );
        svg.Append(
            CultureInfo.InvariantCulture,
            $"""<path class="rake-act" d="M{N(Left)} {N(act)} H{N(width - 58)}"/><text class="rake-border rake-border-act" x="{N(width - 54)}" y="{N(act + 4)}">{Text(words["Rake.Act"])}</text>"""
        );
        var x = Left + Step / 2;
        foreach (var (key, of) in groups)
        {
            svg.Append(
                CultureInfo.InvariantCulture,
                $"""<text class="rake-group" x="{N(x - 15)}" y="16">{Text(words["Rake." + key])}</text><path class="rake-span" d="M{N(x - 15)} 22 H{N(x + (of.Length - 1) * Step + 15)}"/>"""
            );
            foreach (var measurand in of)
            {
                Tine(svg, x, measurand, oil, judgement, href(measurand), evidence.Contains(measurand), measurand == chosen, words);
                x += Step;
            }

            x += Gap;
        }

        svg.Append(CultureInfo.InvariantCulture, $"""<path class="rake-bar" d="M{N(Left)} {N(Bar)} H{N(width - 58)}"/></svg>""");
        return new HtmlString(svg.ToString());
    }

    private static void Tine(
        StringBuilder svg,
        double x,
        Measurand measurand,
        OilCase oil,
        OilJudgement judgement,
        string href,
        bool evidence,
        bool chosen,
        Words words
    )
    {
        var grade = judgement.Grades[(int)measurand] ?? 0;
        var reach = judgement.Reach(measurand) ?? 0;
        var length = Math.Max(5, ToWatch * Math.Min(Longest, reach));
        var value = judgement.Values[measurand] ?? 0;
        var figure = measurand switch
        {
            Measurand.Iso => oil.Sample.Iso?.ToString() ?? "",
            Measurand.Glycol => words[value > 0 ? "Glycol.Yes" : "Glycol.No"],
            _ => SampleWords.Figure(measurand, value, words),
        };
        var label = words["Rake.Tine", words["Measurand." + measurand], figure, words[$"Grade.{grade}"], words["Short." + measurand]];
        svg.Append(
            CultureInfo.InvariantCulture,
            $"""<a href="{Text(href)}" aria-label="{Text(label)}"{(chosen ? " aria-current=\"true\"" : "")}>"""
        );
        svg.Append(
            CultureInfo.InvariantCulture,
            $"""<rect class="rake-target" x="{N(x - Step / 2)}" y="26" width="{N(Step)}" height="{N(Bar + ToWatch * Longest - 10)}"/>"""
        );
        if (evidence)
            svg.Append(CultureInfo.InvariantCulture, $"""<rect class="rake-lit" x="{N(x - 19)}" y="32" width="38" height="22" rx="3"/>""");
        svg.Append(
            CultureInfo.InvariantCulture,
            $"""<text class="rake-name{(chosen ? " rake-chosen" : "")}" x="{N(x)}" y="48">{Text(words["Short." + measurand])}</text>"""
        );

        // Three shapes, not only three tones: hollow, solid, solid with a barb.
        var (half, end) = (grade == 0 ? 5.0 : 6.5, Bar + length);
        svg.Append(
            CultureInfo.InvariantCulture,
            $"""<path class="tine tine-{grade}" d="M{N(x - half)} {N(Bar)} V{N(end - 4)} Q{N(x - half)} {N(end)} {N(x)} {N(end + 2)} Q{N(x + half)} {N(end)} {N(x + half)} {N(end - 4)} V{N(Bar)} z"/>"""
        );
        if (grade == 2)
            svg.Append(CultureInfo.InvariantCulture, $"""<path class="tine tine-2" d="M{N(x)} {N(end + 4)} l-11 -12 h22 z"/>""");
        if (reach > Longest)
            svg.Append(
                CultureInfo.InvariantCulture,
                $"""<path class="rake-cut" d="M{N(x - 10)} {N(end - 22)} l20 -7 M{N(x - 10)} {N(end - 16)} l20 -7"/>"""
            );
        foreach (var earlier in oil.Earlier.TakeLast(Ghosts))
        {
            if (earlier.Values[measurand] is not { } was || judgement.Reach(measurand, was) is not { } at)
                continue;
            var y = Bar + Math.Max(3, ToWatch * Math.Min(Longest, at));
            svg.Append(CultureInfo.InvariantCulture, $"""<path class="ghost" d="M{N(x - 12)} {N(y)} h24"/>""");
        }

        svg.Append("</a>");
    }

    private static string N(double value) => value.ToString("0.#", CultureInfo.InvariantCulture);

    private static string Text(string text) => System.Net.WebUtility.HtmlEncode(text);
}

/// <summary>The mark of a verdict: a drop that fills, and a barred one for a stop.</summary>
public static class Drop
{
    public static IHtmlContent Icon(Assessment? verdict) =>
        new HtmlString($"""<svg class="drop-icon" viewBox="-11 -14 22 26" aria-hidden="true">{Shape(0, 0, verdict, false)}</svg>""");

    /// <summary>The shape, for drawings.</summary>
    internal static string Shape(double x, double y, Assessment? verdict, bool faint)
    {
        const string Outline = "M0 -12 C4 -5 8 -1 8 4 A8 7 0 0 1 -8 4 C-8 -1 -4 -5 0 -12 z";
        var css = verdict is { } known ? known.ToString().ToLowerInvariant() : "open";
        var inside = verdict switch
        {
            Assessment.Watch => """<path class="drop-fill" d="M-8 3 H8 V4 A8 7 0 0 1 -8 4 z"/>""",
            Assessment.Act => $"""<path class="drop-fill" d="{Outline}"/>""",
            Assessment.Critical => $"""<path class="drop-fill" d="{Outline}"/><path class="drop-bar" d="M-9 4 H9"/>""",
            _ => "",
        };
        return string.Create(
            CultureInfo.InvariantCulture,
            $"""<g class="drop drop-{css}{(faint ? " drop-faint" : "")}" transform="translate({x:0.#} {y:0.#})"><path class="drop-line" d="{Outline}"/>{inside}</g>"""
        );
    }
}
