using System.Globalization;
using Nippers.App.Weeks;
using Nippers.Core.Service;
using Nippers.Core.Weeks;
using Nippers.Views.Text;
using Nippers.Web.Pages.Visits;

namespace Nippers.Web.Pages.Weeks;

/// <summary>Addresses of the plan by weeks.</summary>
internal static class WeekUrls
{
    public const string Plan = "/weeks";

    public static string Job(string code) => "/weeks/job?code=" + Uri.EscapeDataString(code);

    public static string Person(string userId) => "/weeks/person?id=" + Uri.EscapeDataString(userId);

    public static string Handler(string name) => "/weeks?handler=" + name;

    /// <summary>One person's one day, as a phone shows it.</summary>
    public static string Day(string userId, DateOnly on) =>
        $"/weeks?who={Uri.EscapeDataString(userId)}&day={on.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture)}";
}

/// <summary>Words of the plan by weeks.</summary>
internal static class WeekWords
{
    /// <summary>A job by its machines.</summary>
    public static string Units(PlanJob job) => string.Join(", ", job.Units);

    /// <summary>What a job is, in words.</summary>
    public static string What(PlanJob job, Words w) =>
        job.Kind switch
        {
            PlanJobKind.Samples => w.Plural("Weeks.Samples", job.Pieces.Count),
            PlanJobKind.Repair => w.Plural("Weeks.Repair", job.Items),
            _ => VisitWords.Name(job.NameHours, job.Items, w),
        };

    /// <summary>Which of several days, and whether it is the second person's; empty for a job of one day and one person.</summary>
    public static string Part(PlanJob job, Words w)
    {
        var day = job.Parts == 1 ? "" : w["Weeks.Part", job.Part, job.Parts];
        var who =
            job.Helps ? w["Weeks.Second"]
            : job.Two ? w["Weeks.First"]
            : "";
        return string.Join(w["Format.Comma"], new[] { day, who }.Where(x => x.Length > 0));
    }

    /// <summary>Where a site that is only supposed lies, or a site's own name.</summary>
    public static string Site(string site, Words w) => site == FleetJobs.FarSite ? w["Weeks.FarSite"] : site;

    /// <summary>Somebody and a day.</summary>
    public static string Place(FleetPlan plan, WeekPlace place, Words w) =>
        w["Weeks.WhoWhen", plan.People.FirstOrDefault(x => x.Rule.Code == place.Person)?.Name ?? "", Day(plan.From.AddDays(place.Day), w)];

    /// <summary>A date with its day of the week.</summary>
    public static string Day(DateOnly on, Words w) => on.ToString(w["Format.ShortDay"], CultureInfo.CurrentCulture);

    /// <summary>The whole of a job in a sentence, for who hears the page and for a pointer's hint.</summary>
    public static string Whole(WeekBlock block, Words w)
    {
        var job = block.Job;
        string?[] says =
        [
            Units(job),
            What(job, w),
            Part(job, w),
            Site(job.Site, w),
            VisitWords.Minutes(job.Rule.Minutes, w),
            job.StandsFrom is { } stands ? w["Weeks.StandsFrom", w.Date(stands)] : null,
            job.Stopped ? w["Weeks.Stopped"]
            : job.Worst >= DueStatus.Due ? w.Of(job.Worst)
            : null,
            block.Pinned ? w["Weeks.Pinned"] : null,
            block.Moved ? w["Weeks.Moved"] : null,
            block.State == Data.Visits.VisitState.Closed ? w["Weeks.Done"] : null,
        ];
        return string.Join(" · ", says.Where(x => !string.IsNullOrEmpty(x)));
    }

    /// <summary>Why a job has no day.</summary>
    public static string Why(WeekLeft left, FleetPlan plan, Words w)
    {
        var job = left.Block.Job;
        return left.Why switch
        {
            LeftOutWhy.Parts => w["Weeks.Why.Parts", string.Join(", ", job.Missing.Select(x => x.Number))],
            LeftOutWhy.Window => w["Weeks.Why.Window"],
            LeftOutWhy.Skill => w["Weeks.Why.Skill", string.Join(", ", job.Subjects.Select(x => w["CompartmentKind." + x]))],
            LeftOutWhy.Minutes => w["Weeks.Why.Minutes", VisitWords.Minutes(job.Rule.Minutes, w)],
            _ => w[job.Two ? "Weeks.Why.Two" : "Weeks.Why.Others"],
        };
    }

    /// <summary>What would make a job fit; empty where nothing that is known would.</summary>
    public static string Fits(WeekLeft left, FleetPlan plan, Words w)
    {
        var job = left.Block.Job;
        return left switch
        {
            { Why: LeftOutWhy.Parts } => w[
                "Weeks.Fit.Parts",
                string.Join(", ", job.Missing.Select(x => w["Weeks.PartComes", x.Number, w.Date(x.Comes)])),
                w.Date(plan.From.AddDays(plan.Days - 1))
            ],
            { Why: LeftOutWhy.Skill } => w["Weeks.Fit.Skill"],
            { Why: LeftOutWhy.Window } => job.Rule.Blocked.Count > 0 ? w["Weeks.Fit.Free"] : w["Weeks.Fit.Window"],
            { Fit: null, Block.Job.Two: true } => w["Weeks.Fit.Two"],
            { Fit: { } both, Helper.Length: > 0 } => w[
                both.Lacks > 0 ? "Weeks.Fit.TwoMinutes" : "Weeks.Fit.TwoDear",
                left.Who,
                left.Helper,
                Day(plan.From.AddDays(both.Place.Day), w),
                VisitWords.Minutes(both.Lacks, w)
            ],
            { Fit: null } => There(
                plan.From.AddDays(Math.Max(job.Rule.Earliest, job.Rule.PartsDay)),
                plan.From.AddDays(Math.Min(job.Rule.Latest ?? plan.Days - 1, plan.Days - 1)),
                w
            ),
            { Fit: { Lacks: > 0 } fit } => w[
                "Weeks.Fit.Minutes",
                left.Who,
                Day(plan.From.AddDays(fit.Place.Day), w),
                VisitWords.Minutes(fit.Lacks, w)
            ],
            { Fit: { } fit } => w["Weeks.Fit.Dear", left.Who, Day(plan.From.AddDays(fit.Place.Day), w)],
            _ => "",
        };
    }

    /// <summary>Somebody would have to be there on one of some days.</summary>
    internal static string There(DateOnly from, DateOnly to, Words w) =>
        from < to ? w["Weeks.Fit.There", Day(from, w), Day(to, w)] : w["Weeks.Fit.ThatDay", Day(to, w)];
}
