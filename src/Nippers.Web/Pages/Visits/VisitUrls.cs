using System.Globalization;
using Nippers.App;
using Nippers.App.Visits;
using Nippers.Core.Jobs;
using Nippers.Core.Numbers;
using Nippers.Views.Text;
using Nippers.Web.Pages.Machines;

namespace Nippers.Web.Pages.Visits;

/// <summary>Addresses of visits and their cards.</summary>
public static class VisitUrls
{
    public static string One(long id, string? page = null) =>
        string.Create(CultureInfo.InvariantCulture, $"/visits/{id}{(page is null ? "" : "/" + page)}");

    public static string Step(long id, string code) => One(id, "steps/" + Uri.EscapeDataString(code));

    public static string Plan(string unit, DateOnly? on = null) =>
        MachineUrls.One(unit, "visit") + (on is { } day ? $"?on={day:yyyy-MM-dd}" : "");
}

/// <summary>How visits are said.</summary>
public static class VisitWords
{
    /// <summary>"500 h service", or how many items when none goes by hours.</summary>
    public static string Name(double? hours, int items, Words words) =>
        hours is > 0 and { } h ? words["Group.Service", Words.Whole(h)] : words.Plural("Visit.Items", items);

    /// <summary>Money with the workshop's sign.</summary>
    public static string Money(Money money, string currency, Words words) => Money(money.Value, currency, words);

    /// <summary>Money with the workshop's sign.</summary>
    public static string Money(double money, string currency, Words words) =>
        words["Format.Money", currency, money.ToString("N0", CultureInfo.CurrentCulture)];

    /// <summary>"2 h 15 min".</summary>
    public static string Minutes(double minutes, Words words)
    {
        var whole = (int)Math.Ceiling(minutes);
        return whole < 60 ? words["Minutes.Short", whole] : words["Minutes.Long", whole / 60, whole % 60];
    }

    /// <summary>How far before or after its due an item is done; empty when on its day.</summary>
    public static string Early(ProposedItem item, Words words) =>
        item.CoveredBy is { } by ? words["Visit.CoveredBy", by]
        : item.Candidate.Care ? words["Visit.Care"]
        : item.Candidate.Waits ? words["Visit.NextService"]
        : item.Early == 0 ? words["Visit.OnItsDay"]
        : item.Early > 0 ? words.Plural("Visit.Early", item.Early)
        : words.Plural("Visit.Late", -item.Early);

    /// <summary>Why a visit's item lies outside its window; null when it does not.</summary>
    public static string? Outside(ProposedItem item, Words words) =>
        item.Outside == 0 ? null
        : item.Outside > 0 ? words.Plural("Visit.TooEarly", item.Outside)
        : words.Plural("Visit.TooLate", -item.Outside);

    /// <summary>What a kept answer says.</summary>
    public static string Answer(JobStep step, StepAnswer answer, Words words)
    {
        var said = answer.To(new Said(step, words)).Append(answer.Name).Append(answer.Note);
        return words["Format.Line", said.Where(x => !string.IsNullOrEmpty(x)).ToList()];
    }

    /// <summary>What is known of a figure before it is measured: its limits, and what it was the last time.</summary>
    public static string Asked(AskedFigure asked, Words words) =>
        words[
            "Format.Line",
            new[]
            {
                asked.Low is { } low ? words["Step.LimitLow", Words.Whole(low)] : null,
                asked.High is { } high ? words["Step.LimitHigh", Words.Whole(high)] : null,
                asked.Last is { } last ? words["Step.LastTime", Words.Whole(last)] : null,
            }
                .OfType<string>()
                .ToList()
        ];

    private sealed class Said(JobStep step, Words words) : IStepAnswerCases<IEnumerable<string?>>
    {
        public IEnumerable<string?> Tick(TickAnswer answer) => [];

        public IEnumerable<string?> Look(LookAnswer answer) => [answer.Fault];

        public IEnumerable<string?> Level(LevelStepAnswer answer) =>
            [
                answer.Level is { } level ? words["Step.LevelIs", Math.Round(level * 100)] : null,
                Litres(answer.Litres),
                Looks(answer.Look),
                answer.Reason,
            ];

        public IEnumerable<string?> Drained(DrainedAnswer answer) => [Litres(answer.Litres), Looks(answer.Look), answer.Reason];

        public IEnumerable<string?> Magnet(MagnetAnswer answer) => [Metal(answer.Metal)];

        public IEnumerable<string?> Plug(PlugAnswer answer) => [Counted(answer.Count)];

        public IEnumerable<string?> Filter(FilterAnswer answer) => [Metal(answer.Metal), answer.Part, answer.Reason];

        public IEnumerable<string?> Fill(FillAnswer answer) => [Litres(answer.Litres), answer.Reason];

        public IEnumerable<string?> Pressure(PressureAnswer answer) => [Figures(answer.Seconds)];

        public IEnumerable<string?> Count(CountAnswer answer) => [Counted(answer.Count), answer.Fault];

        public IEnumerable<string?> BeforeAfter(BeforeAfterAnswer answer) => [Figures(answer.Found, answer.Left)];

        public IEnumerable<string?> Volts(VoltsAnswer answer) => [Figures([.. answer.Volts.Select(x => (double?)x)])];

        public IEnumerable<string?> Coolant(CoolantAnswer answer) =>
            [answer.Share is { } share ? words["Unit.Percent", Words.Whole(share)] : null];

        public IEnumerable<string?> Water(WaterAnswer answer) => [answer.Water is { } water ? words.Of(water) : null];

        public IEnumerable<string?> Bottle(BottleAnswer answer) => [answer.Bottle];

        public IEnumerable<string?> Touched(TouchedAnswer answer) => [];

        public IEnumerable<string?> Waste(WasteAnswer answer) => [answer.Place];

        public IEnumerable<string?> Measured(MeasuredAnswer answer) =>
            step
                .Figures.Zip(answer.Figures.IsDefault ? [] : answer.Figures)
                .Where(x => x.Second is not null)
                .Select(x => (string?)words["Step.MeasuredIs", x.First.Name, Words.Whole(x.Second!.Value), x.First.Unit].TrimEnd())
                .Append(answer.Fault);

        private string? Litres(double? litres) => litres is { } x ? words.Volume(x) : null;

        private string? Looks(Nippers.Core.Walk.FluidLook? look) => look is { } x ? words.Of(x) : null;

        private string? Metal(MetalFinding? metal) => metal is { } x ? words.Of(x) : null;

        private string? Counted(int? count) => count is { } x ? words["Step.CountIs", x, step.Points] : null;

        private string? Figures(params double?[] figures) =>
            figures.OfType<double>().Select(x => Words.Whole(x)).ToList() is { Count: > 0 } said ? words["Step.FiguresAre", said] : null;
    }
}

/// <summary>The fields of one step on its page.</summary>
/// <param name="Job">The card.</param>
/// <param name="Step">The step.</param>
/// <param name="Fields">What stands in the form.</param>
/// <param name="Unknown">The part typed is in no catalogue, and the person is asked.</param>
/// <param name="Prepared">Code of a bottle that was prepared for it.</param>
public sealed record StepFields(JobContext Job, JobStep Step, TypedFields Fields, bool Unknown = false, string? Prepared = null)
{
    /// <summary>The field of one figure of several.</summary>
    public StepFigure Figure(int at, string label, bool big = false, string hint = "") =>
        new(StepRules.FigureField(at), label, Fields.All("figures") is var all && at < all.Count ? all[at] : null, big, hint);
}

/// <summary>One figure to type.</summary>
public sealed record StepFigure(string Field, string Label, string? Value, bool Big, string Hint);

/// <summary>How a kind of step is asked.</summary>
public static class StepQuestion
{
    /// <summary>The fields of a kind; null for one that is answered by its button alone.</summary>
    public static string? Partial(InputKind kind) =>
        kind switch
        {
            InputKind.Tick => null,
            InputKind.Look => "Steps/_Look",
            InputKind.Level => "Steps/_Level",
            InputKind.Drained => "Steps/_Drained",
            InputKind.Magnet => "Steps/_Magnet",
            InputKind.Plug => "Steps/_Plug",
            InputKind.Filter => "Steps/_Filter",
            InputKind.Fill => "Steps/_Fill",
            InputKind.Pressure => "Steps/_Pressure",
            InputKind.Count => "Steps/_Count",
            InputKind.BeforeAfter => "Steps/_BeforeAfter",
            InputKind.Volts => "Steps/_Volts",
            InputKind.Coolant => "Steps/_Coolant",
            InputKind.Water => "Steps/_Water",
            InputKind.Bottle => "Steps/_Bottle",
            InputKind.Touched => "Steps/_Touched",
            InputKind.Waste => "Steps/_Waste",
            InputKind.Measured => "Steps/_Measured",
        };
}
