using Nippers.App.Weeks;
using Nippers.Core.Service;
using Nippers.Data.Visits;
using Nippers.Views.Text;

namespace Nippers.Web.Pages.Weeks;

/// <summary>How a job is drawn where it stands among days.</summary>
internal static class WeekChips
{
    /// <summary>Its style: by what presses in it, and how it came to stand there.</summary>
    public static string Css(WeekBlock block)
    {
        var job = block.Job;
        string?[] names =
        [
            "weeks-job",
            job.Stopped ? "weeks-stop"
            : job.Worst == DueStatus.Overdue ? "weeks-overdue"
            : job.Worst == DueStatus.Due ? "weeks-due"
            : null,
            block.Pinned ? "weeks-pinned" : null,
            block.Moved ? "weeks-moved" : null,
            block.State == VisitState.Closed ? "weeks-done" : null,
        ];
        return string.Join(' ', names.OfType<string>());
    }

    /// <summary>What fits into a day's width.</summary>
    public static string Label(WeekBlock block, Words w) =>
        block.Job.Pieces.Count == 1 ? block.Job.Pieces[0].Unit : w["Weeks.RoundOf", block.Job.Pieces.Count];

    /// <summary>Which of several days, as short as it goes; empty for a job of one.</summary>
    public static string Part(WeekBlock block, Words w) =>
        (block.Job.Parts == 1 ? "" : w["Weeks.PartShort", block.Job.Part, block.Job.Parts]) + (block.Job.Helps ? "+" : "");
}
