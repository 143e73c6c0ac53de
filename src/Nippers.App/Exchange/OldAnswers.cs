using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.Json.Serialization;
using Nippers.App.Visits;
using Nippers.App.Walks;
using Nippers.Core.Jobs;
using Nippers.Core.Parts;
using Nippers.Core.Walk;
using Nippers.Data.Walks;

namespace Nippers.App.Exchange;

/// <summary>
/// An answer to a check as it stood in fleet files of version 1 and still may come from programs: one heap of members, of
/// which some counted.
/// </summary>
public sealed record FlatAnswer
{
    [JsonPropertyName("sound")]
    public bool? Ok { get; init; }

    /// <summary>0 at low, 1 at high.</summary>
    public double? Level { get; init; }
    public double? Added { get; init; }
    public double? AddedLitres { get; init; }
    public FluidLook? Look { get; init; }
    public ImmutableArray<double>? Figures { get; init; }
    public ImmutableArray<PointState>? Points { get; init; }
    public DrainAmount? Drained { get; init; }
    public ImmutableArray<FaultCode>? Codes { get; init; }
    public bool WrongPosture { get; init; }
    public bool Ticked { get; init; }
    public string? LeftOut { get; init; }
    public string? Note { get; init; }

    /// <summary>Reads one out of the members of something that holds more.</summary>
    /// <exception cref="JsonException">They are none.</exception>
    public static FlatAnswer Read(IDictionary<string, JsonElement>? members) =>
        JsonSerializer.SerializeToElement(members ?? new Dictionary<string, JsonElement>()).Deserialize<FlatAnswer>(ListJson.Options)!;

    /// <summary>The answer that it was.</summary>
    /// <exception cref="JsonException">It was none.</exception>
    public CheckAnswer ToAnswer()
    {
        CheckAnswer answer = this switch
        {
            { LeftOut: { } why } => new LeftOutAnswer(why),
            { Level: { } level, Look: { } look } => new LevelAnswer(level, look, Added ?? AddedLitres),
            { Figures: { } figures } => new MeasureAnswer(figures),
            { Points: { } points } => new PointsAnswer(points),
            { Drained: { } drained } => new DrainAnswer(drained),
            { Codes: { } codes } => new CodesAnswer(codes),
            { Ok: { } ok } => new SeenAnswer(ok),
            _ => throw new JsonException("no answer"),
        };
        return answer with { Ticked = Ticked, WrongPosture = WrongPosture, Note = Note };
    }

    /// <summary>The form that says the same, so that what is missing is asked for beside its check.</summary>
    public TypedFields ToForm()
    {
        var form = TypedFields
            .None.With("seen", Ok is { } ok ? (ok ? "sound" : "fault") : null)
            .With("level", Level * 100)
            .With("added", Added ?? AddedLitres)
            .With("look", Look)
            .WithAll("figures", (Figures ?? []).Select(x => x.ToString(System.Globalization.CultureInfo.InvariantCulture)))
            .With("drained", Drained)
            .With("codes", Codes is { } codes ? string.Join(',', codes) : null)
            .With("ticked", Ticked)
            .With("wrongPosture", WrongPosture)
            .With("leave", LeftOut is not null)
            .With("leftOut", LeftOut)
            .With("note", Note);
        return (Points ?? []).Select((x, i) => (x, i)).Aggregate(form, (f, point) => f.With(CheckForm.Point(point.i), point.x));
    }
}

/// <summary>Brings answers of fleet files of version 1 into today's shape.</summary>
internal static class OldAnswers
{
    private sealed record FlatStep
    {
        public bool Done { get; init; }
        public double? Level { get; init; }
        public double? Litres { get; init; }
        public FluidLook? Look { get; init; }
        public MetalFinding? Metal { get; init; }
        public DrainAmount? Water { get; init; }
        public int? Count { get; init; }
        public ImmutableArray<double>? Figures { get; init; }
        public string? Part { get; init; }
        public string? Make { get; init; }
        public FilterSize? Size { get; init; }
        public bool SealOff { get; init; }
        public bool SeatWiped { get; init; }
        public bool SealNew { get; init; }
        public bool Turned { get; init; }
        public bool Written { get; init; }
        public bool Prefilled { get; init; }
        public ImmutableArray<string>? Home { get; init; }
        public string? Reason { get; init; }
        public string? Fault { get; init; }
        public string? Name { get; init; }
        public string? Mark { get; init; }
        public string? Note { get; init; }
    }

    /// <summary>One answer of a walk.</summary>
    /// <exception cref="JsonException">It is none.</exception>
    public static string Check(string text) => PackedAnswers.WriteOne(Read<FlatAnswer>(text).ToAnswer());

    /// <summary>The packed answers of a walk.</summary>
    /// <exception cref="JsonException">They are none.</exception>
    public static string Packed(string text)
    {
        if (text.Length == 0 || JsonNode.Parse(text) is not JsonObject packed)
            return text;
        if (packed["a"] is not JsonObject answers)
            return text;
        foreach (var (code, answer) in answers.ToList())
            answers[code] = JsonNode.Parse(Check(answer?.ToJsonString() ?? throw new JsonException("no answer")));
        return packed.ToJsonString(ListJson.Options);
    }

    /// <summary>An answer of a card.</summary>
    /// <param name="text">The answer.</param>
    /// <param name="input">What its step asks for.</param>
    /// <exception cref="JsonException">It is none.</exception>
    public static string Step(string text, InputKind input)
    {
        var x = Read<FlatStep>(text);
        var first = x.Figures is { Length: > 0 } figures ? figures[0] : (double?)null;
        StepAnswer answer = input switch
        {
            InputKind.Tick => new TickAnswer(x.Done),
            InputKind.Look => new LookAnswer(x.Done && x.Fault is null, x.Fault),
            InputKind.Level => new LevelStepAnswer(x.Level, x.Look, x.Litres, x.Reason),
            InputKind.Drained => new DrainedAnswer(x.Litres, x.Look, x.Reason),
            InputKind.Magnet => new MagnetAnswer(x.Metal),
            InputKind.Plug => new PlugAnswer(x.Count, x.SealNew, x.Turned),
            InputKind.Filter => new FilterAnswer
            {
                Part = x.Part,
                Make = x.Make,
                Size = x.Size ?? new(),
                Metal = x.Metal,
                SealOff = x.SealOff,
                SeatWiped = x.SeatWiped,
                SealOiled = x.SealNew,
                Turned = x.Turned,
                Written = x.Written,
                Prefilled = x.Prefilled,
                Reason = x.Reason,
            },
            InputKind.Fill => new FillAnswer(x.Litres, x.Reason),
            InputKind.Pressure => new PressureAnswer(first),
            InputKind.Count => new CountAnswer(x.Count, x.Fault),
            InputKind.BeforeAfter => new BeforeAfterAnswer(first, x.Figures is { Length: > 1 } two ? two[1] : null),
            InputKind.Volts => new VoltsAnswer(x.Figures ?? []),
            InputKind.Coolant => new CoolantAnswer(first),
            InputKind.Water => new WaterAnswer(x.Water),
            InputKind.Bottle => new BottleAnswer(x.Mark),
            InputKind.Touched => new TouchedAnswer(x.Home ?? []),
            InputKind.Waste => new WasteAnswer(x.Mark),
            InputKind.Measured => new MeasuredAnswer([.. (x.Figures ?? []).Select(f => (double?)f)], x.Fault),
        };
        return JobContext.WriteAnswer(answer with { Name = x.Name, Note = x.Note });
    }

    private static T Read<T>(string text) => JsonSerializer.Deserialize<T>(text, ListJson.Options) ?? throw new JsonException("no answer");
}
