using System.Collections.Immutable;
using Nippers.App.Units;
using Nippers.Core.Walk;

namespace Nippers.App.Walks;

/// <summary>
/// The form of a check: reads an answer out of what was typed, and fills the form from an answer. Whether the answer may
/// stand is told by <see cref="AnswerRules"/>, wherever it comes from.
/// </summary>
public static class CheckForm
{
    /// <summary>Name of a field as refusals give it: several checks stand on one page.</summary>
    public static string Field(WalkCheck check, string name) => $"{name}-{check.Code}";

    /// <summary>Reads the answer; null when something that it can't do without is missing or no figure.</summary>
    /// <param name="check">The check.</param>
    /// <param name="typed">What was typed.</param>
    /// <param name="refusals">Takes what is wrong, beside its field.</param>
    public static CheckAnswer? Read(WalkCheck check, TypedFields typed, List<Refusal> refusals)
    {
        if (typed.Has("leave"))
            return new LeftOutAnswer((typed["leftOut"] ?? "").Trim(), typed.Has("notFitted"));
        refusals.AddRange(AnswerRules.Tick(check, typed.Has("ticked"), typed.Has("wrongPosture")));
        if (Asked(check, typed, refusals) is not { } answer)
            return null;
        var note = (typed["note"] ?? "").Trim();
        return answer with { Ticked = typed.Has("ticked"), WrongPosture = typed.Has("wrongPosture"), Note = note.Length > 0 ? note : null };
    }

    /// <summary>The form filled in from an answer.</summary>
    /// <param name="check">The check that was answered.</param>
    /// <param name="answer">Its answer.</param>
    public static TypedFields Write(WalkCheck check, CheckAnswer answer) =>
        answer.To(new Filler(check)).With("ticked", answer.Ticked).With("wrongPosture", answer.WrongPosture).With("note", answer.Note);

    private static CheckAnswer? Asked(WalkCheck check, TypedFields typed, List<Refusal> refusals) =>
        check.Kind switch
        {
            CheckKind.Look or CheckKind.Test => Seen(check, typed, refusals),
            CheckKind.Level => Level(check, typed, refusals),
            CheckKind.Measure => Measure(check, typed, refusals),
            CheckKind.Count or CheckKind.Grease => Points(check, typed),
            CheckKind.Drain => Drain(check, typed, refusals),
            CheckKind.Code => typed.Is("seen", "sound") ? new SeenAnswer(true) : Codes(check, typed, refusals),
        };

    private static SeenAnswer? Seen(WalkCheck check, TypedFields typed, List<Refusal> refusals)
    {
        if (typed["seen"] is "sound" or "fault")
            return new(typed.Is("seen", "sound"));
        refusals.Add(Refusals.SeenNeeded(Field(check, "seen")));
        return null;
    }

    private static LevelAnswer? Level(WalkCheck check, TypedFields typed, List<Refusal> refusals)
    {
        var before = refusals.Count;
        var level = Typed.Number(typed["level"], Field(check, "level"), refusals);
        double? added = Typed.Volume(typed["added"], Field(check, "added"), refusals)?.Value;
        if (typed.Pick<FluidLook>("look") is not { } look)
        {
            refusals.Add(Refusals.LookNeeded(Field(check, "look")));
            return null;
        }

        return refusals.Count > before
            ? null
            : new(
                level!.Value / 100,
                look,
                added == 0 ? null : added,
                typed.Pick<LevelAfter>("after"),
                typed.Has("inPosition"),
                typed.Has("cold")
            );
    }

    private static MeasureAnswer? Measure(WalkCheck check, TypedFields typed, List<Refusal> refusals)
    {
        var before = refusals.Count;
        var given = typed.All("figures");
        var most = Math.Clamp(given.Count(x => !string.IsNullOrWhiteSpace(x)), check.Figures, check.MostFigures);
        var texts = Enumerable.Range(0, most).Select(i => i < given.Count ? given[i] : null).ToList();
        var read = texts.Select((text, i) => TypedUnits.Read(text, check.Unit, FigureField(check, i), refusals)).ToList();
        var figures = read.Select(x => x.Figure ?? 0).ToImmutableArray();
        var foreign = read.Exists(x => x.OtherUnit) ? string.Join("; ", read.Select(x => x.Typed)) : null;
        return refusals.Count > before ? null : new(figures, foreign);
    }

    private static PointsAnswer Points(WalkCheck check, TypedFields typed) =>
        new([
            .. Enumerable
                .Range(0, check.Points.Length)
                .Select(i =>
                    typed.Pick<PointState>(Point(i)) is { } state ? state
                    : typed.Has("all") ? PointState.Good
                    : PointState.Open
                ),
        ]);

    private static DrainAnswer? Drain(WalkCheck check, TypedFields typed, List<Refusal> refusals)
    {
        var drained = typed.Picks<DrainAmount>("drained") ?? [];
        if (drained.Count > 0)
            return new(drained[0], drained.Count > 1 ? [.. drained.Skip(1)] : null);
        refusals.Add(Refusals.DrainNeeded(Field(check, "drained")));
        return null;
    }

    private static CodesAnswer? Codes(WalkCheck check, TypedFields typed, List<Refusal> refusals)
    {
        var words = (typed["codes"] ?? "").Split([',', ';', '\n'], StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);
        if (words.Length == 0 && typed.Has("red"))
            return new([], Red: true);
        if (words.Length == 0)
            refusals.Add(Refusals.CodesNeeded(Field(check, "codes")));
        else if (words.FirstOrDefault(x => FaultCode.Parse(x) is null) is { } bad)
            refusals.Add(Refusals.CodeShapeSpn(Field(check, "codes"), bad));
        else
            return new([.. words.Select(x => FaultCode.Parse(x)!.Value).Distinct()], typed.Has("red"), Meaning());
        return null;

        string? Meaning() => typed["meaning"]?.Trim() is { Length: > 0 } said ? said : null;
    }

    /// <summary>Name of the field of a point.</summary>
    public static string Point(int at) => $"points[{at}]";

    /// <summary>Name of the field of a figure, as refusals give it.</summary>
    public static string FigureField(WalkCheck check, int at) => Field(check, check.Figures == 1 ? "figure" : $"figure{at + 1}");

    private sealed class Filler(WalkCheck check) : ICheckAnswerCases<TypedFields>
    {
        public TypedFields Seen(SeenAnswer answer) => TypedFields.None.With("seen", answer.Ok ? "sound" : "fault");

        public TypedFields Level(LevelAnswer answer) =>
            TypedFields
                .None.With("level", Math.Round(answer.Level * 100))
                .With("look", answer.Look)
                .With("after", answer.After)
                .With("inPosition", answer.InPosition)
                .With("cold", answer.Cold)
                .With("added", Quantities.Typed(answer.Added is { } litres ? new(litres) : null));

        public TypedFields Measure(MeasureAnswer answer) =>
            TypedFields.None.WithAll(
                "figures",
                answer.Typed is { } typed ? typed.Split("; ") : answer.Figures.Select(x => Measures.Field(x, check.Unit))
            );

        public TypedFields Points(PointsAnswer answer) =>
            answer.Points.Select((x, i) => (x, i)).Aggregate(TypedFields.None, (form, point) => form.With(Point(point.i), point.x));

        public TypedFields Drain(DrainAnswer answer) => TypedFields.None.WithAll("drained", answer.All.Select(x => x.ToString()));

        public TypedFields Codes(CodesAnswer answer) =>
            TypedFields.None.With("codes", string.Join(", ", answer.Codes)).With("red", answer.Red).With("meaning", answer.Meaning);

        public TypedFields LeftOut(LeftOutAnswer answer) =>
            TypedFields.None.With("leave", true).With("leftOut", answer.Why).With("notFitted", answer.NotFitted);
    }
}
