using Microsoft.AspNetCore.Mvc;
using Nippers.App.Weeks;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Weeks;

/// <summary>Somebody's days of the kept plan, for the screen and for paper.</summary>
public sealed class PersonModel(WeekViews views) : NippersPage
{
    public WeeksPage Show { get; private set; } = null!;

    public WeekLine Line { get; private set; } = null!;

    /// <summary>Which week, 0 being the one that begins with the first day shown.</summary>
    public int Week { get; private set; }

    public int Weeks { get; private set; }

    public IReadOnlyList<WeekDay> Days { get; private set; } = [];

    public async Task<IActionResult> OnGet([FromQuery] string? id, [FromQuery] int week, CancellationToken ct)
    {
        Show = await views.Load(null, 0, ct);
        if (Show.Lines.FirstOrDefault(x => x.UserId == id) is not { } line)
            return NotFound();
        Line = line;

        // A week ends with Sunday, whatever day the plan begins on; days are counted from a Monday.
        var byWeek = line.Days.GroupBy(x => x.On.DayNumber / 7).ToList();
        Weeks = byWeek.Count;
        Week = Math.Clamp(week, 0, Math.Max(0, Weeks - 1));
        Days = Weeks == 0 ? [] : [.. byWeek[Week]];
        return Page();
    }
}
