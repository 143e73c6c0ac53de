using System.Globalization;
using Nippers.App.Visits;
using Nippers.Core.Jobs;
using Nippers.Core.Numbers;
using Nippers.Views.Cards;
using Nippers.Views.Text;
using Nippers.Web.Pages.Machines;

namespace Nippers.Web.Pages.Visits;

/// <summary>Addresses of visits and their cards.</summary>
public static class VisitUrls
{
    public static string One(long id, string? page = null) => CardUrls.One(id, page ?? "");

    public static string Step(long id, string code) => CardUrls.Step(id, code);

    public static string Plan(string unit, DateOnly? on = null) =>
        MachineUrls.One(unit, "visit") + (on is { } day ? $"?on={day:yyyy-MM-dd}" : "");
}

/// <summary>How visits are said.</summary>
public static class VisitWords
{
    private const int MostNames = 2;

    /// <summary>"500 h service", or how many items when none goes by hours; a visit without items repairs defects.</summary>
    public static string Name(double? hours, int items, Words words) =>
        hours is > 0 and { } h ? words["Group.Service", Words.Whole(h)]
        : items > 0 ? words.Plural("Visit.Items", items)
        : words["Visit.Repair"];

    /// <summary>What a visit on a list is called: its interval, or the first of what it is for.</summary>
    public static string Name(VisitLine line, Words words) =>
        line.Names.Count > 0 ? words.SayAll(line.Names.Take(MostNames)) : Name(line.Visit.NameHours, line.Items, words);

    /// <summary>The same of one that is proposed.</summary>
    public static string Name(ProposedVisit visit, Words words) =>
        visit.NameHours is > 0
            ? Name(visit.NameHours, visit.Items.Count, words)
            : words.SayAll(visit.Items.Take(MostNames).Select(x => x.Candidate.Name));

    /// <summary>How many items an interval stands for, or how many there are behind those that are named; empty for none.</summary>
    public static string More(VisitLine line, Words words) =>
        More(line.Visit.NameHours, line.Visit.NameHours is > 0 ? line.Items : line.Names.Count, words);

    /// <summary>The same of one that is proposed.</summary>
    public static string More(ProposedVisit visit, Words words) => More(visit.NameHours, visit.Items.Count, words);

    private static string More(double? hours, int count, Words words) =>
        hours is > 0 ? words.Plural("Visit.Items", count)
        : count > MostNames ? words.Plural("Machine.MoreItems", count - MostNames)
        : "";

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

    /// <summary>What a visit costs, part by part; lab and standing where they cost anything.</summary>
    public static string Split(VisitMoney money, string currency, Words words)
    {
        string Of(string what, double amount) => words["Cost.Of", words[what], Money(amount, currency, words)];
        var parts = new List<string>
        {
            Of("Cost.Parts", money.Parts),
            Of("Cost.Fluids", money.Fluids),
            words["Cost.LabourSplit", Money(money.Labour, currency, words), Minutes(money.Minutes, words)],
        };
        if (money.Lab > 0)
            parts.Add(Of("Cost.Lab", money.Lab));
        parts.Add(money.Haulage > 0 ? Of("Cost.Haulage", money.Haulage) : Of("Cost.CallOut", money.CallOut));
        if (money.Downtime > 0)
            parts.Add(Of("Cost.Downtime", money.Downtime));
        return words["Cost.Split", parts, Money(money.Waste, currency, words)];
    }

    /// <summary>What a kept answer says.</summary>
    public static string Answer(JobStep step, StepAnswer answer, Words words)
    {
        var said = answer.To(new Said(step, words)).Append(answer.Name).Append(answer.Note);
        return words["Format.Line", said.Where(x => !string.IsNullOrEmpty(x)).ToList()];
    }

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
                .Select(x =>
                    (string?)
                        words[
                            "Step.MeasuredIs",
                            x.First.Name,
                            Words.Measure(x.Second!.Value, x.First.Unit),
                            words.MeasureUnit(x.First.Unit)
                        ]
                            .TrimEnd()
                )
                .Append(answer.Fault);

        private string? Litres(double? litres) => litres is { } x ? words.Volume(x) : null;

        private string? Looks(Nippers.Core.Walk.FluidLook? look) => look is { } x ? words.Of(x) : null;

        private string? Metal(MetalFinding? metal) => metal is { } x ? words.Of(x) : null;

        private string? Counted(int? count) => count is { } x ? words["Step.CountIs", x, step.Points] : null;

        private string? Figures(params double?[] figures) =>
            figures.OfType<double>().Select(x => Words.Whole(x)).ToList() is { Count: > 0 } said ? words["Step.FiguresAre", said] : null;
    }
}
