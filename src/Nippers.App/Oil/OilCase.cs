using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Serialization;
using Nippers.Core.Oil;
using Nippers.Formats.Lab;

namespace Nippers.App.Oil;

/// <summary>
/// All that a judgement rests on: the sample, the limits that counted then, and the earlier values. Kept with it, so that it can
/// be followed later.
/// </summary>
public sealed record OilCase(OilSample Sample, LimitSet Limits, IReadOnlyList<EarlierSample> Earlier)
{
    private static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web)
    {
        DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
        Converters = { new JsonStringEnumConverter(JsonNamingPolicy.CamelCase) },
    };

    private sealed record KeptNew(double? Viscosity, double? Tbn, double? Tan, double? Oxidation, Dictionary<string, double>? Additives);

    private sealed record KeptLimit(double Watch, double Act, LimitSource Source, int Values);

    private sealed record KeptEarlier(double Hours, Dictionary<string, double> Values);

    private sealed record Kept(
        OilKind Kind,
        string? Grade,
        double? Sump,
        double Interval,
        double Hours,
        double? OilHours,
        double Added,
        Dictionary<string, double> Results,
        string[]? Below,
        string? Iso,
        KeptNew? New,
        Dictionary<string, KeptLimit> Limits,
        string? Target,
        KeptEarlier[] Earlier
    );

    public OilJudgement Judge() => OilJudge.Judge(Sample, Limits, Earlier);

    /// <summary>As it is kept.</summary>
    public string Write() =>
        JsonSerializer.Serialize(
            new Kept(
                Sample.Kind,
                Sample.Grade?.Text,
                Sample.SumpLitres,
                Sample.IntervalHours,
                Sample.MachineHours,
                Sample.OilHours,
                Sample.AddedLitres,
                Values(Sample.Results),
                Sample.Below.IsEmpty ? null : [.. Sample.Below.Order().Select(x => x.Code())],
                Sample.Iso?.ToString(),
                Sample.New == NewOil.Unknown
                    ? null
                    : new(
                        Sample.New.Viscosity,
                        Sample.New.Tbn,
                        Sample.New.Tan,
                        Sample.New.Oxidation,
                        Sample.New.Additives is { } additives ? Values(additives) : null
                    ),
                Limits.All.ToDictionary(
                    x => x.Measurand.Code(),
                    x => new KeptLimit(x.Limit.Watch, x.Limit.Act, x.Limit.Source, x.Limit.Values)
                ),
                Limits.Target?.ToString(),
                [.. Earlier.Select(x => new KeptEarlier(x.MachineHours, Values(x.Values)))]
            ),
            Json
        );

    /// <summary>Reads a kept one.</summary>
    /// <exception cref="JsonException">It is none.</exception>
    public static OilCase Read(string text)
    {
        var kept = JsonSerializer.Deserialize<Kept>(text, Json) ?? throw new JsonException("An oil case is missing.");
        return new(
            new()
            {
                Kind = kept.Kind,
                Grade = kept.Grade is null ? null : ViscosityGrade.Of(kept.Grade),
                SumpLitres = kept.Sump,
                IntervalHours = kept.Interval,
                MachineHours = kept.Hours,
                OilHours = kept.OilHours,
                AddedLitres = kept.Added,
                Results = ReadValues(kept.Results),
                Below = kept.Below?.Select(x => Measurands.Parse(x)!.Value).ToImmutableHashSet() ?? [],
                Iso = Iso4406Code.Parse(kept.Iso),
                New = kept.New is { } fresh
                    ? new(
                        fresh.Viscosity,
                        fresh.Tbn,
                        fresh.Tan,
                        fresh.Oxidation,
                        fresh.Additives is null ? null : ReadValues(fresh.Additives)
                    )
                    : NewOil.Unknown,
            },
            LimitSet.Of(
                kept.Limits.Select(x =>
                    KeyValuePair.Create(
                        Measurands.Parse(x.Key)!.Value,
                        new OilLimit(x.Value.Watch, x.Value.Act, x.Value.Source, x.Value.Values)
                    )
                ),
                Iso4406Code.Parse(kept.Target)
            ),
            [.. kept.Earlier.Select(x => new EarlierSample(x.Hours, ReadValues(x.Values)))]
        );
    }

    /// <summary>Figures as a JSON object.</summary>
    public static string WriteValues(Measures values) => JsonSerializer.Serialize(Values(values), Json);

    /// <summary>Reads a JSON object of figures; an empty text is none.</summary>
    public static Measures ReadValues(string text) =>
        text.Length == 0 ? Measures.None : ReadValues(JsonSerializer.Deserialize<Dictionary<string, double>>(text, Json) ?? []);

    /// <summary>Figures of a report as they are kept.</summary>
    public static string WriteFigures(IReadOnlyDictionary<string, string> figures) =>
        JsonSerializer.Serialize(
            new SortedDictionary<string, string>(figures.ToDictionary(StringComparer.Ordinal), StringComparer.Ordinal),
            Json
        );

    /// <summary>Reads the figures of a report.</summary>
    public static IReadOnlyDictionary<string, string> ReadFigures(string text) =>
        JsonSerializer.Deserialize<Dictionary<string, string>>(text, Json) ?? [];

    /// <summary>Figures of a report as numbers, with those that stand for "below".</summary>
    public static (Measures Results, ImmutableHashSet<Measurand> Below) Numbers(string figures)
    {
        var values = new Dictionary<Measurand, double>();
        var below = ImmutableHashSet.CreateBuilder<Measurand>();
        foreach (var (code, text) in ReadFigures(figures))
        {
            if (Measurands.Parse(code) is not { } measurand || LabFigure.Read(text, measurand).Figure is not { } figure)
                continue;
            values[measurand] = figure.Value;
            if (figure.Below)
                below.Add(measurand);
        }

        return (Measures.Of(values), below.ToImmutable());
    }

    private static Dictionary<string, double> Values(Measures measures) =>
        measures.All.ToDictionary(x => x.Measurand.Code(), x => x.Value, StringComparer.Ordinal);

    private static Measures ReadValues(Dictionary<string, double> values) =>
        Measures.Of(
            values.Where(x => Measurands.Parse(x.Key) is not null).Select(x => KeyValuePair.Create(Measurands.Parse(x.Key)!.Value, x.Value))
        );
}
