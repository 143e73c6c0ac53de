using System.Collections.Concurrent;
using System.Collections.Immutable;
using System.Security.Cryptography;
using System.Text.Json;
using System.Text.Json.Serialization;
using Nippers.App.Walks;
using Nippers.Core.Jobs;
using Nippers.Data.Walks;

namespace Nippers.App.Visits;

/// <summary>When a step of a card is planned, minutes from its start; the end has its wait in it.</summary>
public sealed record OrderedStep(string Code, double Start, double End)
{
    /// <summary>As the search placed it.</summary>
    public static OrderedStep Of(PlacedStep placed) => new(placed.Code, placed.Start, placed.End);
}

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
    /// <summary>A worn part is renewed; how long that takes nobody entered.</summary>
    public const int WearMinutes = 30;

    /// <summary>Makes the card of some items; what is neither an item of the program nor a defect is a worn part to replace.</summary>
    /// <param name="sheet">The machine.</param>
    /// <param name="codes">Items.</param>
    /// <param name="defects">Defects to repair.</param>
    /// <param name="heat">How the machine comes.</param>
    /// <param name="names">Names of what the program does not hold.</param>
    /// <param name="taken">Codes of the steps of an open card to which this is added; null for a card of its own.</param>
    public static JobCard Make(
        ServiceSheet sheet,
        IReadOnlyCollection<string> codes,
        IReadOnlyCollection<JobDefect> defects,
        StepHeat heat,
        IReadOnlyDictionary<string, string>? names = null,
        ImmutableHashSet<string>? taken = null
    )
    {
        var worn = codes
            .Where(x => x.StartsWith(WearPoints.Prefix, StringComparison.Ordinal))
            .Select(x => new JobItem(x, names?.GetValueOrDefault(x) ?? x[WearPoints.Prefix.Length..], ItemWork.Check, "", WearMinutes));
        return JobCardMaker.Make(
            sheet.Input with
            {
                Items = [.. sheet.JobItems(codes), .. worn],
                Defects = [.. defects],
                Taken = taken ?? [],
                Heat = heat,
            },
            Ordered
        );
    }

    // A planned visit is looked at many times before its card is opened, and the search for its order takes longer than the page. It
    // is found from its case alone, so that it is found again by all that stands in that.
    private static readonly Remembered<CardSequence> WasOrdered = new(1000);

    /// <exception cref="CardImpossibleException">No order satisfies it.</exception>
    internal static CardSequence Ordered(CardCase given)
    {
        var key = Convert.ToHexString(SHA256.HashData(JsonSerializer.SerializeToUtf8Bytes(given, JsonSerializerOptions.Default)));
        return WasOrdered.Of(key, _ => CardSequencer.Of(given, CardSequencer.Quick));
    }

    /// <summary>A card, or why there is none.</summary>
    public static Outcome<JobCard> Try(Func<JobCard> make)
    {
        try
        {
            return Outcome<JobCard>.Of(make());
        }
        catch (CardImpossibleException why)
        {
            return Outcome<JobCard>.Refused(Refusals.CardImpossible(why.Message));
        }
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
            [.. card.Order.Select(OrderedStep.Of)],
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

    // Whoever works on a card reads the same text at every step, and taking a hundred steps from it takes longer than the page. What
    // was read is never changed.
    private static readonly Remembered<KeptCard> WasRead = new(32);

    /// <exception cref="JsonException">The text is no card.</exception>
    public static KeptCard Read(string text) => WasRead.Of(text, Parse);

    /// <summary>What was made of a text, made once; begun anew when it is full. What cannot be made is tried each time.</summary>
    private sealed class Remembered<T>(int most)
    {
        private readonly ConcurrentDictionary<string, T> _made = new(StringComparer.Ordinal);

        public T Of(string text, Func<string, T> make)
        {
            if (_made.TryGetValue(text, out var known))
                return known;
            var made = make(text);
            if (_made.Count >= most)
                _made.Clear();
            return _made[text] = made;
        }
    }

    private static KeptCard Parse(string text)
    {
        var card = JsonSerializer.Deserialize<KeptCard>(text, Options) ?? throw new JsonException("empty");
        return card.Steps.IsDefaultOrEmpty || card.Steps.Any(x => x.Between != CardBetween.None) ? card : OfToday(card);
    }

    private static readonly Dictionary<string, CardBetween> WasBetween = new(StringComparer.Ordinal)
    {
        ["card.isolate"] = CardBetween.Isolate,
        ["card.warm"] = CardBetween.Start,
        ["card.stop"] = CardBetween.Isolate,
        ["card.start"] = CardBetween.Start,
        ["card.stop-again"] = CardBetween.Isolate,
        ["card.isolation-off"] = CardBetween.Release,
    };

    /// <summary>
    /// A card from before the machine's state was on it: its own steps say what lies between, an item's drain opens what its plug
    /// shuts and its fill fills.
    /// </summary>
    private static KeptCard OfToday(KeptCard card) =>
        card with
        {
            Steps =
            [
                .. card.Steps.Select(x =>
                    x with
                    {
                        Between = WasBetween.GetValueOrDefault(x.Code),
                        Opens = x is { Input: InputKind.Tick, Stream.Length: > 0 } ? x.Item : "",
                        Shuts = x.Input == InputKind.Plug ? x.Item : "",
                        Fills = x.Input == InputKind.Fill && x.Code.EndsWith(".fill", StringComparison.Ordinal) ? x.Item : "",
                        Room = x is { Input: InputKind.Tick, Stream.Length: > 0 } ? x.Litres : null,
                    }
                ),
            ],
        };
}
