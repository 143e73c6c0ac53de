using Nippers.App.Units;
using Nippers.Core.Walk;

namespace Nippers.App.Walks;

/// <summary>What stands against an answer before it is kept, from a form, a program or a file alike.</summary>
public static class AnswerRules
{
    private const double MostFigure = 100_000;
    private const double MostLitres = 500;
    private const int LongestNote = 300;
    private const int MostCodes = 20;
    private const int MostDrains = 12;
    private const double LeastPercent = -50;
    private const double MostPercent = 200;
    private const double MostTwelve = 14.5;
    private const double MostTwentyFour = 29;

    /// <summary>What stands against it; nothing when it may be kept.</summary>
    public static List<Refusal> Of(WalkCheck check, CheckAnswer answer)
    {
        var buttons = check.Kind is CheckKind.Look or CheckKind.Test or CheckKind.Code;
        if (!CheckJudge.Fits(check, answer) || (answer is SeenAnswer && !buttons))
            return [Refusals.AnswerUnfit(check.Name)];
        var refusals = new List<Refusal>();
        if (answer.Note?.Length > LongestNote)
            refusals.Add(Refusals.TooLong(CheckForm.Field(check, "note"), LongestNote));
        if (answer is not LeftOutAnswer)
            refusals.AddRange(Tick(check, answer.Ticked, answer.WrongPosture));
        refusals.AddRange(answer.To(new Cases(check)));
        return refusals;
    }

    /// <summary>What must hold for the answer to be true was not ticked, and nobody says that it did not hold.</summary>
    public static IEnumerable<Refusal> Tick(WalkCheck check, bool ticked, bool wrongPosture) =>
        check.AsksTick && !ticked && !wrongPosture ? [Refusals.TruthNeeded(CheckForm.Field(check, "ticked"))] : [];

    private sealed class Cases(WalkCheck check) : ICheckAnswerCases<IEnumerable<Refusal>>
    {
        public IEnumerable<Refusal> Seen(SeenAnswer answer) => [];

        public IEnumerable<Refusal> Level(LevelAnswer answer)
        {
            if (!(answer.Level * 100 is >= LeastPercent and <= MostPercent))
                yield return Refusals.Between(Field("level"), LeastPercent, MostPercent);
            if (answer.Added is { } added && !(added is >= 0 and <= MostLitres))
                yield return Refusals.Between(Field("added"), 0.0, Quantities.Shown(new(MostLitres)));
            if (answer.After is { } after && !Enum.IsDefined(after))
                yield return Refusals.Needed(Field("after"));
            if (check.FluidIs == FluidUse.Hydraulics && answer is { Level: > 1, InPosition: false, WrongPosture: false })
                yield return Refusals.PositionFirst(Field("inPosition"));
            if (!Enum.IsDefined(answer.Look))
                yield return Refusals.LookNeeded(Field("look"));
            if (answer.Cold && !check.ReadWarm)
                yield return Refusals.AnswerUnfit(check.Name);
        }

        public IEnumerable<Refusal> Measure(MeasureAnswer answer)
        {
            if (answer.Figures.Length > check.MostFigures)
                yield return Refusals.CountOver(Field("figure"), check.MostFigures);
            else if (answer.Figures.Length < check.Figures)
                yield return Refusals.Needed(CheckForm.FigureField(check, answer.Figures.Length));
            if (MostAtRest is { } most && answer.Figures.Any(x => x > most))
                yield return Refusals.NoRestVolts(CheckForm.FigureField(check, Array.FindIndex([.. answer.Figures], x => x > most)), most);
            for (var i = 0; i < Math.Min(answer.Figures.Length, check.MostFigures); i++)
            {
                if (!(answer.Figures[i] >= 0 && answer.Figures[i] <= Most))
                    yield return Refusals.Between(CheckForm.FigureField(check, i), 0.0, Math.Round(Measures.Shown(Most, check.Unit), 1));
            }
        }

        public IEnumerable<Refusal> Points(PointsAnswer answer)
        {
            if (answer.Points.Length > check.Points.Length)
                yield return Refusals.CountOver(Field("points"), check.Points.Length);
            else if (answer.Points.Length < check.Points.Length || answer.Points.All(x => x == PointState.Open))
                yield return Refusals.PointsNeeded(Field("points"));
        }

        public IEnumerable<Refusal> Drain(DrainAnswer answer)
        {
            if (!answer.All.All(Enum.IsDefined))
                yield return Refusals.DrainNeeded(Field("drained"));
            else if (answer.All.Length > MostDrains)
                yield return Refusals.CountOver(Field("drained"), MostDrains);
        }

        public IEnumerable<Refusal> Codes(CodesAnswer answer)
        {
            if (answer.Codes.Length > MostCodes)
                yield return Refusals.CodesTooMany(Field("codes"), MostCodes);
            if (answer.Meaning is { Length: > 0 } && answer.Codes.Length != 1)
                yield return Refusals.MeaningOfOne(Field("meaning"));
            else if (answer.Meaning?.Length > LongestNote)
                yield return Refusals.TooLong(Field("meaning"), LongestNote);
        }

        public IEnumerable<Refusal> LeftOut(LeftOutAnswer answer)
        {
            if (string.IsNullOrWhiteSpace(answer.Why))
                yield return Refusals.ReasonNeeded(Field("leftOut"));
            else if (answer.Why.Length > LongestNote)
                yield return Refusals.TooLong(Field("leftOut"), LongestNote);
        }

        private string Field(string name) => CheckForm.Field(check, name);

        /// <summary>
        /// Volts that no set at rest has: a charger hangs on it, or the engine has just run. Null where nothing is at rest.
        /// </summary>
        private double? MostAtRest =>
            check is not { Unit: "V", Engine: EngineState.Off } ? null
            : check.Low > MostTwelve ? MostTwentyFour
            : MostTwelve;

        /// <summary>The most that a figure of a unit can be: beyond it, it is a slip.</summary>
        private double Most =>
            check.Unit switch
            {
                "mm" => 2000,
                "V" => 60,
                "in" => 80,
                "bar" => 20,
                "psi" => 300,
                "kPa" => 100,
                "inH2O" => 400,
                _ => MostFigure,
            };
    }
}
