using Nippers.App.Visits;
using Nippers.Core.Jobs;
using Nippers.Data.Visits;
using Nippers.Views.Text;

namespace Nippers.Web.Pages.Visits;

/// <summary>A pick list, with what of it is in the van.</summary>
/// <param name="List">The list.</param>
/// <param name="Van">What is in the van; null where nothing is ticked here: on the printed sheet.</param>
public sealed record TakeSheet(TakeList List, IReadOnlyList<VanLine>? Van = null)
{
    /// <summary>Whether a line is in the van.</summary>
    public bool IsIn(string line) => Van?.Any(x => x.Line == line) == true;
}

/// <summary>The lines of a pick list, each with a name that stays.</summary>
public static class TakeLines
{
    // What is used up does not come back.
    private static readonly Gear[] UsedUp = [Gear.Rags, Gear.Labels, Gear.TestStrips];

    public static string Part(TakePart part) => "part:" + (part.Number.Length > 0 ? part.Number : string.Join('+', part.For));

    public static string Fluid(TakeFluid fluid) => "fluid:" + fluid.Fluid;

    public static string Vessel(TakeVessel vessel) => "vessel:" + (vessel.Name.Length > 0 ? vessel.Name : vessel.Stream);

    public static string Pails(TakePails pails) => "pails:" + pails.Stream;

    public static string Tool(TakeTool tool) => "tool:" + tool.Place;

    public static string Of(Gear gear) => "gear:" + gear;

    public const string Bottles = "bottles";

    /// <summary>All lines, in words, and whether each has to come back.</summary>
    public static IEnumerable<(string Line, string Words, bool Returns)> All(TakeList list, Words words) =>
        [
            .. list.Parts.Select(x => (Part(x), x.Number.Length > 0 ? x.Number : words.SayAll(x.For), false)),
            .. list.Fluids.Select(x => (Fluid(x), x.Fluid, false)),
            .. list.Vessels.Select(x => (Vessel(x), x.Name.Length > 0 ? x.Name : words["Stream." + x.Stream], true)),
            .. list.Pails.Select(x => (Pails(x), words["Take.PailsFor", words["Stream." + x.Stream]], true)),
            .. list.Tools.Select(x =>
                (Tool(x), words["Take.ToolFor", x.Socket.Length > 0 ? x.Socket : words["Take.NoSocket"], x.Place], true)
            ),
            .. list.Bottles > 0 ? [(Bottles, words.Plural("Take.Bottles", list.Bottles), false)] : Array.Empty<(string, string, bool)>(),
            .. list.Gear.Select(x => (Of(x), words.Of(x), !UsedUp.Contains(x))),
        ];
}
