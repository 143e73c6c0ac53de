using System.Globalization;
using Nippers.App.Oil;
using Nippers.Core.Oil;

namespace Nippers.Views.Text;

/// <summary>Words, figures and addresses of samples.</summary>
public static class SampleWords
{
    public static string One(long id) => string.Create(CultureInfo.InvariantCulture, $"/samples/{id}");

    public static string Oil(string unit, string compartment) =>
        $"/machines/{Uri.EscapeDataString(unit)}/oil?c={Uri.EscapeDataString(compartment)}";

    /// <summary>How long ago something happened.</summary>
    public static string Since(Words words, int days, string todayKey, string daysKey) =>
        days == 0 ? words[todayKey] : words.Plural(daysKey, days);

    /// <summary>Tone of a verdict.</summary>
    public static string Css(Assessment? verdict) =>
        verdict switch
        {
            Assessment.Critical or Assessment.Act => "is-overdue",
            Assessment.Watch => "is-due",
            _ => "",
        };

    /// <summary>A figure with as many digits as it deserves.</summary>
    public static string Figure(double value) =>
        value.ToString(
            Math.Abs(value) switch
            {
                >= 100 => "#,0",
                >= 10 => "0.#",
                _ => "0.##",
            },
            CultureInfo.CurrentCulture
        );

    /// <summary>A figure with its unit.</summary>
    public static string Figure(Measurand measurand, double value, Words words)
    {
        var unit = UnitOf(measurand);
        return unit.Length == 0 ? Figure(value) : words["Figure.With", Figure(value), unit];
    }

    /// <summary>Unit of a measurand as it is printed; international, so no words.</summary>
    public static string UnitOf(Measurand measurand) =>
        measurand switch
        {
            Measurand.Water or Measurand.Fuel or Measurand.Soot => "%",
            Measurand.Oxidation or Measurand.Nitration => "A/cm",
            Measurand.Tan or Measurand.Tbn or Measurand.TanRise => "mg KOH/g",
            Measurand.Viscosity or Measurand.V40 or Measurand.V100 => "cSt",
            Measurand.Pq or Measurand.Iso or Measurand.Glycol => "",
            _ => "ppm",
        };

    /// <summary>A figure of a report as the laboratory gave it.</summary>
    public static string AsGiven(Measurand measurand, string text, Words words) =>
        measurand == Measurand.Glycol ? words[text == "0" ? "Glycol.No" : "Glycol.Yes"]
        : text.StartsWith('<') ? words["Figure.Below", text[1..], UnitOf(measurand)]
        : double.TryParse(text, CultureInfo.InvariantCulture, out var value) ? Figure(measurand, value, words)
        : text;

    /// <summary>How a value was reached, sentence by sentence.</summary>
    public static IEnumerable<string> Reached(Measurand measurand, OilCase oil, OilJudgement judgement, Words words)
    {
        var sample = oil.Sample;
        if (measurand.IsWear() && sample.Results[measurand] is { } measured)
        {
            yield return words["Reached.Measured", Figure(measurand, measured, words)];
            if (judgement.Dilution > 1)
                yield return words[
                    "Reached.Dilution",
                    words.Volume(sample.AddedLitres),
                    words.Volume(sample.SumpLitres ?? 0),
                    Times(judgement.Dilution)
                ];
            if (judgement.Ageing > 1)
                yield return words[
                    "Reached.Ageing",
                    Words.Whole(sample.OilHours ?? 0),
                    Words.Whole(LimitSet.ReferenceHours(sample.Kind)),
                    Times(judgement.Ageing)
                ];
            if (judgement.Dilution > 1 || judgement.Ageing > 1)
                yield return words["Reached.Comparable", Figure(measurand, judgement.Values[measurand] ?? 0, words)];
        }
        else if (measurand == Measurand.TanRise)
        {
            yield return words["Reached.Rise", Figure(measurand, sample.Results[Measurand.Tan] ?? 0, words), Figure(sample.New.Tan ?? 0)];
        }
        else if (measurand == Measurand.Oxidation)
        {
            yield return sample.New.Oxidation is { } fresh
                ? words["Reached.Rise", Figure(measurand, sample.Results[measurand] ?? 0, words), Figure(fresh)]
                : words["Reached.Measured", Figure(measurand, sample.Results[measurand] ?? 0, words)];
        }
        else if (measurand == Measurand.Iso)
        {
            yield return words[
                "Reached.Iso",
                sample.Iso?.ToString(),
                oil.Limits.Target?.ToString(),
                Figure(judgement.Values[Measurand.Iso] ?? 0)
            ];
        }
        else if (judgement.Values[measurand] is { } value && measurand != Measurand.Glycol)
        {
            yield return sample.Below.Contains(measurand)
                ? words["Reached.Below"]
                : words["Reached.Measured", Figure(measurand, value, words)];
        }

        if (measurand == Measurand.Tbn && judgement.Tbn is { } tbn)
        {
            yield return tbn is { New: { } full, Watch: { } watch }
                ? words["Reached.Tbn", Figure(full), Figure(watch), Figure(tbn.Act)]
                : words["Reached.TbnNoNew", Figure(tbn.Act)];
            if (tbn.Tan is { } tan)
                yield return words["Reached.TbnTan", Figure(tan)];
        }
        else if (measurand == Measurand.Viscosity && judgement.Viscosity is { } bars)
        {
            if (sample.Grade?.Band is { } band)
                yield return words["Reached.Band", sample.Grade.Text, Figure(band.Low), Figure(band.High), sample.Grade.TemperatureC];
            if (sample.New.Viscosity is { } fresh)
                yield return words["Reached.ViscNew", Figure(fresh)];
            else
                yield return words["Reached.ViscAct", Figure(bars.ActLow), Figure(bars.ActHigh)];
        }
        else if (oil.Limits[measurand] is { } limit)
        {
            yield return words["Reached.Limit." + limit.Source, Figure(limit.Watch), Figure(limit.Act), limit.Values];
        }
        else if (measurand == Measurand.Glycol)
        {
            yield return words["Reached.Glycol"];
        }

        foreach (var finding in judgement.Findings.Where(x => x.Measurand == measurand))
        {
            yield return finding.Kind == FindingKind.Heading
                ? words[
                    "Reached.Heading",
                    Figure(finding.Slope * 100),
                    Figure(finding.Value),
                    Words.Whole(sample.IntervalHours),
                    Figure(finding.Bar)
                ]
                : words["Reached.Step", Figure(finding.Value), Figure(finding.Bar)];
        }
    }

    /// <summary>Doubts, one by one.</summary>
    public static IEnumerable<SampleDoubts> Each(SampleDoubts doubts) =>
        Enum.GetValues<SampleDoubts>().Where(x => x != SampleDoubts.None && doubts.HasFlag(x));

    private static string Times(double factor) => factor.ToString("0.00", CultureInfo.CurrentCulture);
}
