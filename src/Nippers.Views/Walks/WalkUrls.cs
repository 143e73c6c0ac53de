using System.Collections.Immutable;
using System.Globalization;
using Nippers.App;
using Nippers.App.Walks;
using Nippers.Core.Defects;
using Nippers.Core.Walk;
using Nippers.Data.Defects;
using Nippers.Data.Walks;
using Nippers.Views.Text;

namespace Nippers.Views.Walks;

/// <summary>A station on the plan: how far it is, and where its box leads.</summary>
/// <param name="Station">The station.</param>
/// <param name="Number">Its place on the path.</param>
/// <param name="Done">Checks done there.</param>
/// <param name="Checks">Checks there.</param>
/// <param name="Faults">Faults found there, and defects that stand there.</param>
/// <param name="Here">Where the person is.</param>
/// <param name="Href">Where its box leads; null for nowhere.</param>
public sealed record PlanStation(Station Station, int Number, int Done, int Checks, int Faults, bool Here, string? Href);

/// <summary>Addresses of walks.</summary>
public static class WalkUrls
{
    public static string Start(string unit) => $"/walk/{Uri.EscapeDataString(unit)}";

    public static string One(long id, string? page = null) =>
        string.Create(CultureInfo.InvariantCulture, $"/walks/{id}{(page is null ? "" : "/" + page)}");

    public static string Step(long id, string step) => One(id, "at/" + step);
}

/// <summary>What the pages of a walk ask of it.</summary>
public static class WalkShape
{
    /// <summary>The plan's stations in the order of the path.</summary>
    public static ImmutableArray<PlanStation> Plan(WalkContext walk, string? here = null)
    {
        var stations = ImmutableArray.CreateBuilder<PlanStation>();
        foreach (var station in walk.List.Stations.OrderBy(x => x.Height is StationHeight.OnTop or StationHeight.Cab).ToList())
        {
            var steps = walk.Steps.Where(x => x.Station?.Code == station.Code).ToList();
            if (steps.Count == 0)
                continue;
            var checks = steps.SelectMany(x => x.Checks).ToList();
            var next = steps.FirstOrDefault(x => !walk.IsDone(x)) ?? steps[0];
            var failing = checks
                .Where(x => walk.ResultOf(x) is { Outcome: CheckOutcome.Fault })
                .Select(x => x.Code)
                .ToHashSet(StringComparer.Ordinal);
            var faults = failing.Count + At(walk, station.Code).Count(x => !failing.Contains(x.CheckCode));
            stations.Add(
                new(
                    station,
                    stations.Count + 1,
                    checks.Count(walk.IsDone),
                    checks.Count,
                    faults,
                    station.Code == here,
                    WalkUrls.Step(walk.Row.Id, next.Code)
                )
            );
        }

        return stations.ToImmutable();
    }

    /// <summary>Open defects at a station: found by one of its checks, or placed there.</summary>
    public static IEnumerable<DefectRow> At(WalkContext walk, string station) => walk.Defects.Where(x => StationOf(walk, x) == station);

    /// <summary>Defects that stand at a step's station and were not found by its own checks on this walk.</summary>
    public static IReadOnlyList<DefectRow> Standing(WalkContext walk, WalkStep step) =>
        step.Station is null
            ? []
            :
            [
                .. At(walk, step.Station.Code)
                    .Where(d => !step.Checks.Any(c => c.Code == d.CheckCode && walk.FoundAt(c).Any(f => f.Id == d.Id))),
            ];

    /// <summary>The station of a defect; null when it lies at none.</summary>
    public static string? StationOf(WalkContext walk, DefectRow defect)
    {
        var at = defect.Place.Split(':')[0];
        return walk.List.Checks.FirstOrDefault(x => x.Code == defect.CheckCode)?.Station
            ?? walk.List.Stations.FirstOrDefault(x => x.Code == at)?.Code
            ?? walk.List.Checks.FirstOrDefault(x => x.Compartment == at)?.Station;
    }

    /// <summary>
    /// Whether a check's caution is told once at its station: the quick ones share theirs, the others keep it beside the hand.
    /// </summary>
    public static bool CautionAtStation(WalkCheck check) => check.Kind is CheckKind.Look or CheckKind.Test or CheckKind.Count;

    /// <summary>What stood at a check on the last walk, where that is a figure or a level; null when it was not read.</summary>
    public static string? LastTime(WalkContext walk, WalkCheck check, Words words) =>
        walk.LastOn is { } on
        && walk.LastTime.GetValueOrDefault(check.Code) is LevelAnswer or MeasureAnswer or DrainAnswer
        && walk.LastTime[check.Code] is var answer
        && CheckJudge.Fits(check, answer)
            ? words["Walk.LastTime", words.Date(on, walk.Row.On), StepWords.Result(check, answer, CheckJudge.Judge(check, answer), words)]
            : null;

    /// <summary>How the machine stands at a station; null elsewhere.</summary>
    public static Posture? PostureOf(WalkContext walk, WalkStep step) =>
        step.Kind == StepKind.Station ? walk.List.Postures.FirstOrDefault(x => x.Code == step.Posture) : null;

    /// <summary>The cautions told at a station.</summary>
    public static IEnumerable<string> Cautions(WalkStep step) =>
        step.Checks.Where(x => CautionAtStation(x) && x.Caution.Length > 0).Select(x => x.Caution).Distinct();

    /// <summary>
    /// What a walk says of the machine: while it is open by what was answered so far, afterwards what was said at its end, less what a
    /// technician has checked since.
    /// </summary>
    public static RunAnswer AnswerOf(WalkContext walk)
    {
        if (walk.StopFound)
            return walk.Answer.RunStatus == RunStatus.OutOfService ? walk.Answer : new(RunStatus.OutOfService, StopStands: true);
        var open = walk.Row.State == WalkState.Open;
        return walk.NotChecked.Any() && (open || walk.Row.RunStatus == RunStatus.NotChecked) ? new(RunStatus.NotChecked)
            : !open && walk.Row.RunStatus is { } said and not RunStatus.NotChecked ? new(said, walk.Row.UntilHours, walk.Row.UntilOn)
            : walk.Answer;
    }

    /// <summary>Checks that are neither done nor out of the question because a stop was found.</summary>
    public static IEnumerable<WalkCheck> Left(WalkContext walk) => walk.Checks.Where(x => !walk.IsDone(x) && !walk.IsForbidden(x));

    /// <summary>The first step that is not done; null when all are.</summary>
    public static WalkStep? Next(WalkContext walk, string? after = null)
    {
        var from = after is null ? 0 : walk.Steps.ToList().FindIndex(x => x.Code == after) + 1;
        bool Asked(WalkStep step) => !walk.IsDone(step) && !walk.IsForbidden(step);
        return walk.Steps.Skip(from).FirstOrDefault(Asked) ?? walk.Steps.FirstOrDefault(Asked);
    }
}

/// <summary>A button that keeps an answer.</summary>
/// <param name="Word">Word on it.</param>
/// <param name="Css">Class that colours it.</param>
/// <param name="Seen">What it says of the check; null when the fields say it.</param>
public sealed record CheckButton(string Word, string Css, string? Seen = null);

/// <summary>How a kind of check is asked below its fields.</summary>
/// <param name="Buttons">The buttons.</param>
public sealed record CheckQuestion(params ImmutableArray<CheckButton> Buttons)
{
    private static readonly CheckButton Keep = new("Check.Keep", "btn-main");

    /// <summary>How a kind is asked.</summary>
    public static CheckQuestion Of(CheckKind kind) =>
        kind switch
        {
            CheckKind.Look => new(new("Seen.Ok", "btn-main", "sound"), new("Seen.Fault", "btn-grave", "fault")),
            CheckKind.Test => new(new("Seen.Works", "btn-main", "sound"), new("Seen.DoesNot", "btn-grave", "fault")),
            CheckKind.Level => new(Keep),
            CheckKind.Measure => new(Keep),
            CheckKind.Count or CheckKind.Grease => new(Keep),
            CheckKind.Drain => new(Keep),
            CheckKind.Code => new(new("Code.None", "btn-main", "sound"), new("Code.Keep", "", "")),
        };
}

/// <summary>One check on the screen.</summary>
/// <param name="Walk">The walk.</param>
/// <param name="Step">The step it stands in.</param>
/// <param name="Check">The check.</param>
/// <param name="Typed">What was typed and refused; null shows what is kept.</param>
/// <param name="Editing">The form is open although there is an answer.</param>
/// <param name="OnePage">It stands on the page of the whole walk, where a tap is an answer.</param>
public sealed record CheckCard(
    WalkContext Walk,
    string Step,
    WalkCheck Check,
    TypedFields? Typed = null,
    bool Editing = false,
    bool OnePage = false
)
{
    /// <summary>What its forms say of the page they stand on.</summary>
    public string? View => OnePage ? StationCard.One : null;

    public CheckAnswer? Answer => Walk.Answers.GetValueOrDefault(Check.Code);

    /// <summary>What stands in the form: what was typed and refused, or what is kept.</summary>
    public TypedFields Fields => Typed ?? (Answer is { } kept ? CheckForm.Write(Check, kept) : TypedFields.None);

    /// <summary>A look or test not answered yet on the page of the whole walk: one line with its two buttons.</summary>
    public bool IsRow => OnePage && Check.Kind is CheckKind.Look or CheckKind.Test && Answer is null && Typed is null;

    /// <summary>A look or test that was answered OK on the page of the whole walk: its name, and a way to change it.</summary>
    public bool IsQuietRow =>
        OnePage
        && Check.Kind is CheckKind.Look or CheckKind.Test
        && !Editing
        && Result is { Outcome: CheckOutcome.Ok }
        && !Walk.FoundAt(Check).Any();

    /// <summary>How the fluid looked last time, to be changed where it does not.</summary>
    public FluidLook UsualLook =>
        Walk.LastTime.GetValueOrDefault(Check.Code) is LevelAnswer { Look: FluidLook.Dark } ? FluidLook.Dark : FluidLook.Clear;

    /// <summary>Name of a field as refusals give it, and its id on the page.</summary>
    public string Id(string name) => CheckForm.Field(Check, name);

    public CheckResult? Result => Walk.ResultOf(Check);

    /// <summary>Revision to send back with the next answer.</summary>
    public int Revision => Walk.Rows.TryGetValue(Check.Code, out var row) ? row.Revision : 0;

    public string? By => Walk.Rows.TryGetValue(Check.Code, out var row) ? row.By : null;

    /// <summary>It fails and nobody has written the defect yet.</summary>
    public bool NeedsDefect => Walk.FaultsWithoutDefect.Any(x => x.Code == Check.Code);

    /// <summary>An open defect of an earlier day stands at it: the person says whether this is the same.</summary>
    public IReadOnlyList<DefectRow> Standing => [.. Walk.Standing(Check)];

    /// <summary>Stops that this check has found, or that its finding was held against.</summary>
    public IEnumerable<StopNow> Stops =>
        Walk.FoundAt(Check)
            .Concat(Standing.Where(x => Walk.SpokenOf.Contains(x.Id)))
            .Where(x => x is { Stands: true, Grade: DefectGrade.Stop })
            .DistinctBy(x => x.Id)
            .Select(x => new StopNow(
                x,
                Walk.Row.Machine.Unit,
                Walk.Row.Machine.Site.Contact,
                $"{(OnePage ? WalkUrls.One(Walk.Row.Id) : WalkUrls.Step(Walk.Row.Id, Step))}#check-{Check.Code}"
            ));

    /// <summary>The form is shown: nothing answered, points left, something refused, or asked for.</summary>
    public bool ShowsForm => Editing || Typed is not null || Result is null or { Outcome: CheckOutcome.Unfinished };
}

/// <summary>All steps of a walk on one page.</summary>
/// <param name="Walk">The walk.</param>
/// <param name="Here">The step that stands open; the next that is not done when left out.</param>
public sealed record StepsCard(WalkContext Walk, string? Here = null);

/// <summary>A step on the screen.</summary>
/// <param name="Walk">The walk.</param>
/// <param name="Step">The step.</param>
/// <param name="Card">A check of it whose form stands open; null for none.</param>
/// <param name="OnePage">It stands on the page of the whole walk.</param>
public sealed record StationCard(WalkContext Walk, WalkStep Step, CheckCard? Card = null, bool OnePage = false)
{
    /// <summary>What its forms say of the page they stand on.</summary>
    public string? View => OnePage ? StationCard.One : null;

    /// <summary>The page of the whole walk.</summary>
    public const string One = "one";
}

/// <summary>The form of a fault found at a check.</summary>
public sealed record FaultForm(CheckCard Card, Nippers.App.Defects.DefectInput? Typed = null);

/// <summary>What to do now that a machine is stopped.</summary>
/// <param name="Defect">The stop.</param>
/// <param name="Unit">The machine.</param>
/// <param name="Contact">Whom the site wants told; empty when nobody was named.</param>
/// <param name="Back">Where to go on; the defect's page when left out.</param>
public sealed record StopNow(DefectRow Defect, string Unit, string Contact, string? Back = null);
