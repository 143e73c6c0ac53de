using Nippers.App.Walks;
using Nippers.Core.Walk;

namespace Nippers.Views.Text;

/// <summary>Names steps of a walk, and says what came of a check.</summary>
public static class StepWords
{
    /// <summary>What a step is called.</summary>
    public static string Name(WalkStep step, WalkContext walk, Words words) =>
        step.Kind switch
        {
            StepKind.Station => step.Posture.Length > 0 && step.Posture != walk.List.Postures.FirstOrDefault()?.Code
                ? words["Step.StationPosture", step.Station!.Name, walk.List.Postures.First(x => x.Code == step.Posture).Name]
                : words.Say(step.Station!.Name),
            StepKind.Move or StepKind.Leave => words[
                "Step." + step.Kind,
                walk.List.Postures.FirstOrDefault(x => x.Code == step.Posture)?.Name
            ],
            _ => words["Step." + step.Kind],
        };

    /// <summary>What a step between stations asks for, line by line.</summary>
    public static IEnumerable<string> Lines(WalkStep step, WalkContext walk, Words words)
    {
        var options = walk.Row.Machine.OptionWords;
        var purges = options.Contains("aftertreatment=def") || options.Contains("aftertreatment=dpf");
        switch (step.Kind)
        {
            case StepKind.Isolate:
                yield return words.Say(walk.List.Postures.FirstOrDefault()?.Words ?? words["Isolate.Park"]);
                if (purges)
                    yield return words["Isolate.Purge"];
                yield return words["Isolate.Switch"];
                if (options.Contains("drive=electric"))
                    yield return words["Isolate.HighVoltage"];
                yield return words["Isolate.Tag"];
                break;
            case StepKind.Leave:
                yield return words.Say(walk.List.Postures.First(x => x.Code == step.Posture).After);
                break;
            case StepKind.Move:
                yield return words.Say(walk.List.Postures.First(x => x.Code == step.Posture).Words);
                break;
            default:
                if (purges)
                    yield return words["Release.Purge"];
                yield return words["Release.Clear"];
                yield return words["Release.Tag"];
                if (options.Contains("drive=electric"))
                    yield return words["Release.HighVoltage"];
                yield return words["Release.Switch"];
                break;
        }
    }

    /// <summary>The points of an answer that are not as they should be, by name: <c>Boom foot, right: seized</c>.</summary>
    public static string Points(WalkCheck check, CheckAnswer answer, Words words) =>
        answer is PointsAnswer { Points: var states }
            ? string.Join(
                words["Format.Semicolon"],
                states
                    .Select((state, at) => (State: state, At: at))
                    .Where(x => x.State is PointState.Bad or PointState.Seized && x.At < check.Points.Length)
                    .Select(x =>
                        words[
                            "Result.Point",
                            WalkCheck.PointName(check.Points[x.At]),
                            words[(check.Kind == CheckKind.Grease ? "Grease." : "Point.") + x.State]
                        ]
                    )
            )
            : "";

    private static string Drained(CheckAnswer answer, string said, Words words) =>
        answer is DrainAnswer { Again: { IsDefaultOrEmpty: false } } more
            ? words["Result.DrainedTimes", said, more.All.Length, words.Of(more.Last)]
            : said;

    /// <summary>What came of a check, in a line.</summary>
    public static string Result(WalkCheck check, CheckAnswer answer, CheckResult result, Words words)
    {
        var value = result.Value is { } v ? Words.Whole(Math.Round(v, 2)) : "";
        var unit = words.MeasureUnit(check.Unit);
        var measured = result.Value is { } figure ? Words.Measure(figure, check.Unit) : "";
        var said = result.Reason switch
        {
            CheckReason.Ok when check.Kind == CheckKind.Test => words["Result.Works"],
            CheckReason.Faulty when check.Kind == CheckKind.Test => words["Result.DoesNotWork"],
            CheckReason.Ok when check.Kind == CheckKind.Drain => Drained(answer, words["Result.DrainNone"], words),
            CheckReason.WaterLittle or CheckReason.WaterLot => Drained(answer, words["Result." + result.Reason], words),
            CheckReason.Ok when check.Kind == CheckKind.Code => words["Result.NoCodes"],
            CheckReason.Ok when check.Points.Length > 0 => words["Result.AllOf", check.Points.Length],
            CheckReason.WithinLimits when check.Kind == CheckKind.Level => words["Result.LevelOk"],
            CheckReason.PointsBad or CheckReason.GreaseRefused or CheckReason.PointsLeft => words[
                "Result." + result.Reason,
                value,
                check.Points.Length
            ],
            CheckReason.CodesShown or CheckReason.CodesStop or CheckReason.CodesKnown or CheckReason.RedLamp => words[
                "Result." + result.Reason,
                answer is CodesAnswer { Codes: var codes } ? string.Join(", ", codes) : ""
            ],
            CheckReason.LeftOut => answer switch
            {
                LeftOutAnswer { NotFitted: true } => words["Result.NotFitted"],
                LeftOutAnswer { Why: LeftOutAnswer.StopFound } => words["Result.StopFound"],
                var left => words["Result.LeftOut", (left as LeftOutAnswer)?.Why],
            },
            CheckReason.UnderLimit => words["Result.UnderLimit", measured, unit, Words.Measure(check.Low ?? 0, check.Unit)],
            CheckReason.OverLimit => words["Result.OverLimit", measured, unit, Words.Measure(check.High ?? 0, check.Unit)],
            CheckReason.NearLimit or CheckReason.NoLimit => words["Result." + result.Reason, measured, unit],
            CheckReason.WithinLimits => words["Result.WithinLimits", measured, unit],
            CheckReason.WrongPosture => words["Result.WrongPosture"],
            var reason => words["Result." + reason],
        };
        if (answer is MeasureAnswer { Typed: { } typed })
            return words["Result.WithTyped", said, typed];
        return answer is LevelAnswer { Added: { } added } ? words["Result.WithAdded", said, words.Volume(added)] : said;
    }
}
