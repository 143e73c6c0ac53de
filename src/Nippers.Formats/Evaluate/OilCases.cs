using System.Text.Json.Nodes;
using Nippers.Core;
using Nippers.Core.Oil;

namespace Nippers.Formats.Evaluate;

/// <summary>Cases of <c>evaluate oil</c>.</summary>
internal static class OilCases
{
    private const double Most = 10_000_000;

    // Figures that a case gives under the names that the results use, and those that a person or another measurand decides.
    private static readonly Measurand[] Plain = [.. Measurands.Reported.Except([Measurand.V40, Measurand.V100]), Measurand.Viscosity];

    private static readonly (SampleDoubts Flag, string Name)[] FlagNames =
    [
        (SampleDoubts.TooEarly, "tooEarly"),
        (SampleDoubts.NoOilHours, "noOilHours"),
        (SampleDoubts.WetCounts, "wetCounts"),
        (SampleDoubts.NoBand, "noBand"),
    ];

    public static JsonNode? Evaluate(CaseReader from)
    {
        var kind = Enum.Parse<OilKind>(from.Choice("kind", "engine", "hydraulic", "gear", "transmission"), ignoreCase: true);
        var drawn = from.Object("sample");
        var results = drawn.Object("results");
        var sample = new OilSample
        {
            Kind = kind,
            Grade = from.Has("grade") ? ViscosityGrade.Of(from.Text("grade")) : null,
            SumpLitres = from.Number("sumpLitres", 0, Most),
            IntervalHours = from.Number("sampleInterval", 0, Most),
            MachineHours = drawn.Number("machineHours", 0, Most),
            OilHours = Optional(drawn, "oilHours"),
            AddedLitres = drawn.Number("addedLitres", 0, Most),
            Results = Read(results, Plain)
                .With(
                    Measurand.Glycol,
                    results.Has("glycol")
                        ? results.Flag("glycol")
                            ? 1
                            : 0
                        : null
                ),
            Iso = results.Has("particles") ? Code(results) : null,
            New = new(
                Optional(from, "newViscosity"),
                Optional(from, "newTbn"),
                Optional(from, "newTan"),
                Optional(from, "newOxidation"),
                from.Has("referenceAdditives") ? Read(from.Object("referenceAdditives"), Measurands.Additives) : null
            ),
        };
        var judgement = OilJudge.Judge(
            sample,
            Limits(from, kind),
            [
                .. from.List("earlier")
                    .Select(x => new EarlierSample(x.Number("machineHours", -Most, Most), Read(x.Object("values"), Measurands.Limited))),
            ]
        );
        return Write(judgement);
    }

    private static LimitSet Limits(CaseReader from, OilKind kind)
    {
        var limits = LimitSet.Starting(kind);
        if (!from.Has("population"))
            return limits;
        var population = from.Object("population");
        var own = new Dictionary<Measurand, OilLimit>();
        foreach (var measurand in Measurands.Limited.Where(x => population.Has(x.Code()) && limits[x] is not null))
        {
            if (LimitSet.OwnFleet(population.Numbers(measurand.Code(), -Most, Most).ToList(), limits[measurand]!) is { } limit)
                own[measurand] = limit;
        }

        return limits.With(own);
    }

    private static JsonObject Write(OilJudgement judgement)
    {
        var (values, limits, grades) = (new JsonObject(), new JsonObject(), new JsonObject());
        foreach (var measurand in Measurands.Limited)
        {
            if (judgement.Values[measurand] is not { } value || judgement.Limits[measurand] is not { } limit)
                continue;
            values[measurand.Code()] = value;
            limits[measurand.Code()] = new JsonArray(limit.Watch, limit.Act);
        }

        for (var i = 0; i < judgement.Grades.Length; i++)
        {
            if (judgement.Grades[i] is { } grade)
                grades[((Measurand)i).Code()] = grade;
        }

        return new()
        {
            ["values"] = values,
            ["limits"] = limits,
            ["grades"] = grades,
            ["isoCode"] = judgement.Iso?.ToString(),
            ["flags"] = new JsonArray([.. FlagNames.Where(x => judgement.Doubts.HasFlag(x.Flag)).Select(x => (JsonNode)x.Name)]),
            ["findings"] = new JsonArray([.. judgement.Findings.Select(x => (JsonNode)x.ToString())]),
            ["patterns"] = new JsonArray([.. judgement.Patterns.Select(x => (JsonNode)x.Code)]),
            ["verdict"] = WireName.Of(judgement.Assessment),
        };
    }

    private static Measures Read(CaseReader from, IEnumerable<Measurand> which) =>
        Measures.Of(
            which
                .Where(x => from.Has(x.Code()))
                .Select(x => KeyValuePair.Create(x, from.Number(x.Code(), x == Measurand.TanRise ? -Most : 0, Most)))
        );

    private static double? Optional(CaseReader from, string field) => from.Has(field) ? from.Number(field, 0, Most) : null;

    private static Iso4406Code Code(CaseReader results)
    {
        var counts = results.Numbers("particles", 0, Most);
        return counts.Count == 3
            ? Iso4406Code.OfCounts(counts[0], counts[1], counts[2])
            : throw results.Fault("particles", "must hold three counts, of 4, 6 and 14 um");
    }
}

/// <summary>Cases of <c>evaluate iso4406</c>: one count.</summary>
internal static class Iso4406Cases
{
    private const double Most = 1e12;

    public static JsonNode? Evaluate(CaseReader from) => Iso4406Code.ScaleNumber(from.Number("perMl", 0, Most));
}
