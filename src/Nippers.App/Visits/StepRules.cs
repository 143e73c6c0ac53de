using Nippers.App.Units;
using Nippers.Core.Jobs;

namespace Nippers.App.Visits;

/// <summary>
/// What stands against an answer to a step before it is kept: slips of the pen, beside their field. What is merely missing is
/// kept and judged.
/// </summary>
public static class StepRules
{
    /// <summary>No step has more points than this.</summary>
    public const int MostPoints = 500;

    private const int LongestWords = 500;
    private const double MostLitres = 10_000;
    private const double MostFigure = 10_000;
    private const double MostShare = 100;
    private const double LongestMm = 2000;
    private const double WidestMm = 1000;
    private const double LeastPercent = -50;
    private const double MostPercent = 200;

    /// <summary>Name of the field of a figure.</summary>
    public static string FigureField(int at) => $"figure{at + 1}";

    /// <summary>What stands against it; nothing when it may be kept.</summary>
    public static List<Refusal> Of(JobStep step, StepAnswer answer)
    {
        if (answer.To(InputKindOf.Answer) != step.Input)
            return [Refusals.AnswerUnfit(step.Words)];
        return [.. Long("name", answer.Name), .. Long("note", answer.Note), .. answer.To(Cases.One)];
    }

    private static IEnumerable<Refusal> Long(string field, string? words) =>
        words?.Length > LongestWords ? [Refusals.TooLong(field, LongestWords)] : [];

    private static IEnumerable<Refusal> Between(string field, double? figure, double least, double most) =>
        figure is { } x && !(x >= least && x <= most) ? [Refusals.Between(field, least, most)] : [];

    private sealed class Cases : IStepAnswerCases<IEnumerable<Refusal>>
    {
        public static Cases One { get; } = new();

        public IEnumerable<Refusal> Tick(TickAnswer answer) => [];

        public IEnumerable<Refusal> Look(LookAnswer answer) => Long("fault", answer.Fault);

        public IEnumerable<Refusal> Level(LevelStepAnswer answer) =>
            [
                .. Between("level", answer.Level * 100, LeastPercent, MostPercent),
                .. Litres(answer.Litres),
                .. Long("reason", answer.Reason),
            ];

        public IEnumerable<Refusal> Drained(DrainedAnswer answer) => [.. Litres(answer.Litres), .. Long("reason", answer.Reason)];

        public IEnumerable<Refusal> Magnet(MagnetAnswer answer) => [];

        public IEnumerable<Refusal> Plug(PlugAnswer answer) => Points(answer.Count);

        public IEnumerable<Refusal> Filter(FilterAnswer answer) =>
            [
                .. Long("part", answer.Part),
                .. Long("make", answer.Make),
                .. Shown("lengthMm", answer.Size.LengthMm, 1, LongestMm, Quantities.ShownLength),
                .. Shown("outerMm", answer.Size.OuterMm, 1, WidestMm, Quantities.ShownLength),
                .. Shown("sealMm", answer.Size.SealMm, 1, WidestMm, Quantities.ShownLength),
                .. Long("thread", answer.Size.Thread),
                .. Long("reason", answer.Reason),
            ];

        public IEnumerable<Refusal> Fill(FillAnswer answer) => [.. Litres(answer.Litres), .. Long("reason", answer.Reason)];

        public IEnumerable<Refusal> Pressure(PressureAnswer answer) => Between(FigureField(0), answer.Seconds, 0, MostFigure);

        public IEnumerable<Refusal> Count(CountAnswer answer) => [.. Points(answer.Count), .. Long("fault", answer.Fault)];

        // A figure keeps its place: one that is missing before another is asked for, never filled by its neighbour.
        public IEnumerable<Refusal> BeforeAfter(BeforeAfterAnswer answer) =>
            answer is { Found: null, Left: not null }
                ? [Refusals.Needed(FigureField(0))]
                : [.. Between(FigureField(0), answer.Found, 0, MostFigure), .. Between(FigureField(1), answer.Left, 0, MostFigure)];

        public IEnumerable<Refusal> Volts(VoltsAnswer answer) =>
            answer.Volts.IsDefault ? [] : answer.Volts.SelectMany((x, i) => Between(FigureField(i), x, 0, MostFigure));

        public IEnumerable<Refusal> Coolant(CoolantAnswer answer) => Between(FigureField(0), answer.Share, 0, MostShare);

        public IEnumerable<Refusal> Water(WaterAnswer answer) => [];

        public IEnumerable<Refusal> Bottle(BottleAnswer answer) => Long("mark", answer.Bottle);

        public IEnumerable<Refusal> Touched(TouchedAnswer answer) => [];

        public IEnumerable<Refusal> Waste(WasteAnswer answer) => Long("mark", answer.Place);

        public IEnumerable<Refusal> Measured(MeasuredAnswer answer) =>
            [
                .. Long("fault", answer.Fault),
                .. answer.Figures.IsDefault ? [] : answer.Figures.SelectMany((x, i) => Between(FigureField(i), x, 0, MostFigure)),
            ];

        private static IEnumerable<Refusal> Litres(double? litres) => Shown("litres", litres, 0, MostLitres, x => Quantities.Shown(new(x)));

        // The limit is said in the unit that was typed.
        private static IEnumerable<Refusal> Shown(string field, double? kept, double least, double most, Func<double, double> shown) =>
            kept is { } figure && !(figure >= least && figure <= most) ? [Refusals.Between(field, shown(least), shown(most))] : [];

        private static IEnumerable<Refusal> Points(int? count) =>
            count is { } x && x is < 0 or > MostPoints ? [Refusals.WholeBetween("count", 0, MostPoints)] : [];
    }
}
