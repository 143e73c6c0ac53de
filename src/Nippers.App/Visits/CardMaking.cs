using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Serialization;
using Nippers.App.Walks;
using Nippers.Core.Jobs;
using Nippers.Data.Walks;

namespace Nippers.App.Visits;

/// <summary>A card as it is kept: what it was made from stays with it, whatever the program says later.</summary>
/// <param name="Steps">Steps in order.</param>
/// <param name="Order">Their planned times.</param>
/// <param name="Names">Names of the items.</param>
/// <param name="Covered">Items that others do, and which.</param>
public sealed record KeptCard(
    ImmutableArray<JobStep> Steps,
    ImmutableArray<OrderedStep> Order,
    IReadOnlyDictionary<string, string> Names,
    IReadOnlyDictionary<string, string> Covered
);

/// <summary>Makes cards and keeps them as text.</summary>
internal static class CardMaking
{
    // A worn part is renewed; how long that takes nobody entered.
    private const int WearMinutes = 30;

    /// <summary>Makes the card of some items; what is neither an item of the program nor a defect is a worn part to replace.</summary>
    public static JobCard Make(
        ServiceSheet sheet,
        IReadOnlyCollection<string> codes,
        IReadOnlyCollection<JobDefect> defects,
        IReadOnlyDictionary<string, string>? names = null
    )
    {
        var worn = codes
            .Where(x => x.StartsWith(WearPoints.Prefix, StringComparison.Ordinal))
            .Select(x => new JobItem(x, names?.GetValueOrDefault(x) ?? x[WearPoints.Prefix.Length..], ItemWork.Check, "", WearMinutes));
        return JobCardMaker.Make(sheet.Input with { Items = [.. sheet.JobItems(codes), .. worn], Defects = [.. defects] });
    }

    /// <summary>The card as it is kept.</summary>
    public static KeptCard Keep(
        ServiceSheet sheet,
        JobCard card,
        IReadOnlyCollection<string> codes,
        IReadOnlyDictionary<string, string> names
    ) =>
        new(
            card.Steps,
            card.Order.Order,
            names,
            codes
                .SelectMany(x => sheet.CoveredBy(x).Select(y => (y.Code, By: x)))
                .GroupBy(x => x.Code)
                .ToDictionary(x => x.Key, x => x.First().By, StringComparer.Ordinal)
        );

    private static readonly JsonSerializerOptions Options = new(ListJson.Options)
    {
        DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
    };

    public static string Write(KeptCard card) => JsonSerializer.Serialize(card, Options);

    /// <exception cref="JsonException">The text is no card.</exception>
    public static KeptCard Read(string text) => JsonSerializer.Deserialize<KeptCard>(text, Options) ?? throw new JsonException("empty");
}
