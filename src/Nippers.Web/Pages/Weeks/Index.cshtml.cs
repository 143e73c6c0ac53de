using System.Security.Claims;
using Microsoft.AspNetCore.Mvc;
using Nippers.App;
using Nippers.App.Readings;
using Nippers.App.Weeks;
using Nippers.Core.Weeks;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Weeks;

/// <summary>The plan by weeks: who does which job on which day, what is left out, what a change of it costs.</summary>
public sealed class IndexModel(WeekViews views, PlanWeeks weeks, CrewBook crew, Words words) : NippersPage
{
    public WeeksPage Show { get; private set; } = null!;

    /// <summary>Whose day a phone shows, and which.</summary>
    public WeekLine? Who { get; private set; }

    public WeekDay? Day { get; private set; }

    /// <summary>Who may be planned for, and the machines: what can be supposed away.</summary>
    public IReadOnlyList<CrewMember> Everybody { get; private set; } = [];

    public IReadOnlyList<string> Units { get; private set; } = [];

    private string UserId => User.FindFirstValue(ClaimTypes.NameIdentifier)!;

    /// <summary>All jobs without a day are asked for, not those alone that press most.</summary>
    [FromQuery(Name = "left-all")]
    public bool AllLeft { get; set; }

    public Task OnGet([FromQuery] string? who, [FromQuery] string? day, CancellationToken ct) => Load(who, day, ct);

    public async Task<IActionResult> OnPostSolve(
        string[] without,
        string? busyUnit,
        string? busyUntil,
        string? farUnit,
        string? farMinutes,
        bool longer,
        CancellationToken ct
    )
    {
        if (!User.MayPlan())
            return Forbid();
        var refusals = new List<Refusal>();
        var until = LocalTime.ParseDate(busyUntil);
        var busy = string.IsNullOrWhiteSpace(busyUnit) ? null : busyUnit;
        var far = string.IsNullOrWhiteSpace(farUnit) ? null : farUnit;
        if (busy is not null && until is null)
            refusals.Add(App.Refusals.NotADate("busyUntil"));
        var minutes = far is null ? null : Typed.Whole(farMinutes, "farMinutes", 1, 600, refusals);
        if (refusals.Count > 0)
            return await Again(refusals, ct);
        var suppose = new WhatIf
        {
            Without = without,
            BusyUnit = busy,
            BusyUntil = busy is null ? null : until,
            FarUnit = far,
            FarMinutes = minutes,
        };
        var solved = await weeks.Solve(UserId, suppose, longer ? PlanWeeks.LookLonger : PlanWeeks.Look, ct);
        return solved.Done
            ? Done(WeekUrls.Plan, words.Plural("Weeks.Planned", solved.Value!.Places.Count))
            : await Again(solved.Refusals, ct);
    }

    public async Task<IActionResult> OnPostMove(string? job, string? person, string? day, int version, CancellationToken ct)
    {
        if (!User.MayPlan())
            return Forbid();
        if (LocalTime.ParseDate(day) is not { } on)
            return await Again([App.Refusals.NotADate("day")], ct);
        var draft = await weeks.Draft(UserId, ct);
        var place = new WeekPlace(person ?? "", on.DayNumber - (draft?.Plan.From ?? on).DayNumber);
        var moved = await weeks.Move(UserId, version, job ?? "", place, ct);
        return moved.Done
            ? Done(WeekUrls.Plan + "#change", words["Weeks.PinnedTo", WeekWords.Place(moved.Value!, place, words)])
            : await Again(moved.Refusals, ct);
    }

    public async Task<IActionResult> OnPostFree(string? job, int version, CancellationToken ct)
    {
        if (!User.MayPlan())
            return Forbid();
        var moved = await weeks.Move(UserId, version, job ?? "", null, ct);
        return moved.Done ? Done(WeekUrls.Plan + "#change", words["Weeks.Freed"]) : await Again(moved.Refusals, ct);
    }

    public async Task<IActionResult> OnPostKeep(int version, CancellationToken ct)
    {
        if (!User.MayPlan())
            return Forbid();
        var kept = await weeks.Keep(UserId, version, Actor, ct);
        return kept.Done ? Done(WeekUrls.Plan, words["Weeks.Kept"]) : await Again(kept.Refusals, ct);
    }

    public async Task<IActionResult> OnPostDiscard(CancellationToken ct)
    {
        if (!User.MayPlan())
            return Forbid();
        await weeks.Discard(UserId, ct);
        return Done(WeekUrls.Plan, words["Weeks.Discarded"]);
    }

    private async Task<IActionResult> Again(IReadOnlyList<Refusal> refusals, CancellationToken ct)
    {
        Refuse(refusals);
        await Load(null, null, ct);
        return Page();
    }

    private async Task Load(string? who, string? day, CancellationToken ct)
    {
        Show = await views.Load(User.MayPlan() ? UserId : null, AllLeft ? int.MaxValue : WeekViews.MostLeft, ct);
        if (User.MayPlan())
        {
            Everybody = [.. (await crew.People(Show.Sites, ct)).Where(x => !x.Off)];
            Units = await crew.Units(ct);
        }

        var on = LocalTime.ParseDate(day);
        Who = Show.Lines.FirstOrDefault(x => x.UserId == who) ?? Show.Lines.FirstOrDefault(x => x.UserId == UserId);
        if (Who is null && Show.Lines is [var first, ..])
            Who = first;
        Day = Who?.Days.FirstOrDefault(x => x.On == on) ?? Who?.Days.FirstOrDefault(x => x.Minutes > 0 || x.Blocks.Count > 0);
        if (Day is null && Who is { Days: [var begins, ..] })
            Day = begins;
    }
}
