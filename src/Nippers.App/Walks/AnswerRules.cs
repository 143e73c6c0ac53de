using Nippers.Core.Walk;

namespace Nippers.App.Walks;

/// <summary>What stands against an answer before it is kept, from a form, a program or a file alike.</summary>
public static class AnswerRules
{
    private const double MostFigure = 100_000;
    private const double MostLitres = 500;
    private const int LongestNote = 300;
    private const int MostCodes = 20;
    private const double LeastPercent = -50;
    private const double MostPercent = 200;

    /// <summary>What stands against it; nothing when it may be kept.</summary>
    public static List<Refusal> Of(WalkCheck check, CheckAnswer answer)
    {
        var buttons = check.Kind is CheckKind.Look or CheckKind.Test or CheckKind.Code;
        if (!CheckJudge.Fits(check, answer) || (answer is SeenAnswer && !buttons))
            return [new("", "answerUnfit", check.Name)];
        var refusals = new List<Refusal>();
        if (answer.Note?.Length > LongestNote)
            refusals.Add(new(CheckForm.Field(check, "note"), "tooLong", LongestNote));
        if (answer is not LeftOutAnswer)
            refusals.AddRange(Tick(check, answer.Ticked, answer.WrongPosture));
        refusals.AddRange(answer.To(new Cases(check)));
        return refusals;
    }

    /// <summary>What must hold for the answer to be true was not ticked, and nobody says that it did not hold.</summary>
    public static IEnumerable<Refusal> Tick(WalkCheck check, bool ticked, bool wrongPosture) =>
        check.AsksTick && !ticked && !wrongPosture ? [new(CheckForm.Field(check, "ticked"), "truthNeeded")] : [];

    private sealed class Cases(WalkCheck check) : ICheckAnswerCases<IEnumerable<Refusal>>
    {
        public IEnumerable<Refusal> Seen(SeenAnswer answer) => [];

        public IEnumerable<Refusal> Level(LevelAnswer answer)
        {
            if (!(answer.Level * 100 is >= LeastPercent and <= MostPercent))
                yield return new(Field("level"), "between", LeastPercent, MostPercent);
            if (answer.Added is { } added && !(added is >= 0 and <= MostLitres))
                yield return new(Field("added"), "between", 0.0, MostLitres);
            if (!Enum.IsDefined(answer.Look))
                yield return new(Field("look"), "lookNeeded");
        }

        public IEnumerable<Refusal> Measure(MeasureAnswer answer)
        {
            if (answer.Figures.Length > check.Figures)
                yield return new(Field("figure"), "countOver", check.Figures);
            else if (answer.Figures.Length < check.Figures)
                yield return new(CheckForm.FigureField(check, answer.Figures.Length), "needed");
            for (var i = 0; i < Math.Min(answer.Figures.Length, check.Figures); i++)
            {
                if (!(answer.Figures[i] >= 0 && answer.Figures[i] <= Most))
                    yield return new(CheckForm.FigureField(check, i), "between", 0.0, Most);
            }
        }

        public IEnumerable<Refusal> Points(PointsAnswer answer)
        {
            if (answer.Points.Length > check.Points.Length)
                yield return new(Field("points"), "countOver", check.Points.Length);
            else if (answer.Points.Length < check.Points.Length || answer.Points.All(x => x == PointState.Open))
                yield return new(Field("points"), "pointsNeeded");
        }

        public IEnumerable<Refusal> Drain(DrainAnswer answer)
        {
            if (!Enum.IsDefined(answer.Drained))
                yield return new(Field("drained"), "drainNeeded");
        }

        public IEnumerable<Refusal> Codes(CodesAnswer answer)
        {
            if (answer.Codes.Length > MostCodes)
                yield return new(Field("codes"), "codesTooMany", MostCodes);
        }

        public IEnumerable<Refusal> LeftOut(LeftOutAnswer answer)
        {
            if (string.IsNullOrWhiteSpace(answer.Why))
                yield return new(Field("leftOut"), "reasonNeeded");
            else if (answer.Why.Length > LongestNote)
                yield return new(Field("leftOut"), "tooLong", LongestNote);
        }

        private string Field(string name) => CheckForm.Field(check, name);

        /// <summary>The most that a figure of a unit can be: beyond it, it is a slip.</summary>
        private double Most =>
            check.Unit switch
            {
                "mm" => 2000,
                "V" => 60,
                "bar" => 20,
                "kPa" => 100,
                _ => MostFigure,
            };
    }
}
