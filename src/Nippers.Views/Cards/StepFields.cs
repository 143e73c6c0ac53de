using Nippers.App;
using Nippers.App.Visits;
using Nippers.Core.Jobs;
using Nippers.Views.Text;

namespace Nippers.Views.Cards;

/// <summary>The question of one step of a card, with what stands in its fields.</summary>
/// <param name="Job">The card.</param>
/// <param name="Step">The step.</param>
/// <param name="Fields">What stands in the form.</param>
/// <param name="Unknown">The part typed is in no catalogue, and the person is asked.</param>
/// <param name="Prepared">Code of a bottle that was prepared for it.</param>
/// <param name="Prefix">What the names of its fields begin with, where several steps stand in one form.</param>
public sealed record StepFields(
    JobContext Job,
    JobStep Step,
    TypedFields Fields,
    bool Unknown = false,
    string? Prepared = null,
    string Prefix = ""
)
{
    /// <summary>Name and id of a field.</summary>
    public string At(string field) => Prefix + field;

    /// <summary>Where the oil can stand on its stick, for a screen of its own or one of many.</summary>
    public string? IdOf(string field) => Prefix.Length == 0 ? null : Prefix + field;

    /// <summary>The figures that it asks for, each with its label and what is known of it.</summary>
    public IReadOnlyList<(string Label, string Hint)> Figures(Words words) =>
        Step.Input switch
        {
            InputKind.Pressure =>
            [
                (
                    words["Step.Seconds"],
                    Step.Seconds is { } most ? words["Step.SecondsMost", Words.Whole(most)] : words["Step.SecondsManual"]
                ),
            ],
            InputKind.BeforeAfter => [(words["Step.AsFound"], ""), (words["Step.AsLeft"], words["Step.UnitHint"])],
            InputKind.Volts =>
            [
                .. Enumerable.Range(1, Math.Max(1, Step.Points)).Select(x => (words["Step.BatteryNo", x], words["Step.VoltsHint"])),
            ],
            InputKind.Coolant => [(words["Step.Glycol"], words["Step.CoolantHint"])],
            InputKind.Measured =>
            [
                .. Step.Figures.Select(x =>
                    (x.Unit.Length > 0 ? words["Format.Pair", x.Name, words.MeasureUnit(x.Unit)] : words.Say(x.Name), Known(x, words))
                ),
            ],
            _ => [],
        };

    private static string Known(AskedFigure asked, Words words)
    {
        List<string> known =
        [
            .. asked.Low is { } low ? [words["Step.LimitLow", Words.Measure(low, asked.Unit)]] : Array.Empty<string>(),
            .. asked.High is { } high ? [words["Step.LimitHigh", Words.Measure(high, asked.Unit)]] : Array.Empty<string>(),
            .. asked.Last is { } last ? [words["Step.LastTime", Words.Measure(last, asked.Unit)]] : Array.Empty<string>(),
        ];
        return words["Format.Line", known];
    }
}

/// <summary>A step with the form in which it is answered.</summary>
/// <param name="Fields">Its question.</param>
/// <param name="Revision">Revision that its answer has by now; 0 for none.</param>
/// <param name="Now">Now.</param>
public sealed record StepCard(StepFields Fields, int Revision, DateTimeOffset Now)
{
    /// <summary>The card.</summary>
    public JobContext Job => Fields.Job;

    /// <summary>The step.</summary>
    public JobStep Step => Fields.Step;

    /// <summary>What has to be done first.</summary>
    public IReadOnlyList<JobStep> Blocked { get; } = [.. Fields.Job.State.BlockedBy(Fields.Step)];

    /// <summary>What is done with it in one go; it is the first.</summary>
    public IReadOnlyList<JobStep> Go { get; } = [.. Fields.Job.State.Go(Fields.Step)];

    /// <summary>Address of a page of the card.</summary>
    public string Url(string page = "") => CardUrls.One(Job.Row.Id, page);
}

/// <summary>A step of a card that was worked on paper.</summary>
/// <param name="Fields">Its question, with what was typed.</param>
/// <param name="Number">Its number on the paper.</param>
/// <param name="NotDone">What was kept and is not accepted; null for nothing.</param>
public sealed record EntryLine(StepFields Fields, int Number, StepResult? NotDone)
{
    /// <summary>The step.</summary>
    public JobStep Step => Fields.Step;
}

/// <summary>The open steps of a card that was worked on paper, to be entered in one pass.</summary>
/// <param name="Lines">Each of them, in the paper's order.</param>
public sealed record EntryCard(IReadOnlyList<EntryLine> Lines);

/// <summary>The card that is worked on a phone without a network.</summary>
/// <param name="Unit">The machine.</param>
/// <param name="Step">The step on the screen; null when all are done.</param>
/// <param name="Job">The card.</param>
/// <param name="Result">Why the answer of that step is not accepted; null when it is, or was not given.</param>
public sealed record PhoneCardPage(string Unit, StepCard? Step, JobContext Job, StepResult? Result);

/// <summary>Addresses of cards.</summary>
public static class CardUrls
{
    /// <summary>A page of a card.</summary>
    public static string One(long id, string page = "") =>
        string.Create(System.Globalization.CultureInfo.InvariantCulture, $"/visits/{id}{(page.Length == 0 ? "" : "/" + page)}");

    /// <summary>A step.</summary>
    public static string Step(long id, string code) => One(id, "steps/" + Uri.EscapeDataString(code));
}
