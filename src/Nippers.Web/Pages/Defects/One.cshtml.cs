using Microsoft.AspNetCore.Mvc;
using Nippers.App;
using Nippers.App.Defects;
using Nippers.Core.Defects;
using Nippers.Data.Defects;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Defects;

/// <summary>A defect: what it is, what its clock says, what happened to it, and what can be done about it.</summary>
public sealed class OneModel(DefectViews views, GradeDefect grades, RepairDefect repairs, DefectNotes notes, Words words) : NippersPage
{
    public DefectPage Defect { get; private set; } = null!;

    public async Task<IActionResult> OnGet(long id, CancellationToken ct)
    {
        if (await views.One(id, ct) is not { } defect)
            return NotFound();
        Defect = defect;
        return Page();
    }

    public Task<IActionResult> OnPostRepair(
        long id,
        [FromForm(Name = "words")] string? said,
        string? hours,
        string? minutes,
        string? parts,
        string? lookAgainHours,
        bool ownerRemoved,
        string? ownerTried,
        CancellationToken ct
    ) => Act("repair", id, repairs.Repair(id, new(said, hours, minutes, parts, lookAgainHours, ownerRemoved, ownerTried), Actor, ct), ct);

    public Task<IActionResult> OnPostPart(long id, MachinePart on, string? reason, CancellationToken ct) =>
        Act("part", id, notes.SetPart(id, on, reason, Actor, ct), ct);

    public Task<IActionResult> OnPostDecideVoid(long id, bool agreed, string? voidWords, CancellationToken ct) =>
        Act("decideVoid", id, notes.DecideVoid(id, agreed, voidWords, Actor, ct), ct);

    public async Task<IActionResult> OnPostTold(long id, string? whom, string? back, CancellationToken ct)
    {
        var outcome = await notes.Told(id, whom, Actor, ct);
        if (outcome.Done)
            return Done(Url.IsLocalUrl(back) ? back : $"/defects/{id}", words["Defect.Did.told"]);
        if (await views.One(id, ct) is not { } defect)
            return NotFound();
        Defect = defect;
        Refuse(outcome.Refusals);
        return Page();
    }

    public Task<IActionResult> OnPostAcknowledge(long id, CancellationToken ct) =>
        Act("acknowledge", id, notes.Acknowledge(id, Actor, ct), ct);

    public Task<IActionResult> OnPostReturn(long id, string? returnWords, bool returned, CancellationToken ct) =>
        Act("return", id, repairs.Release(id, returned, returnWords, Actor, ct), ct);

    public Task<IActionResult> OnPostGrade(
        long id,
        DefectGrade? grade,
        string? reason,
        string? limitHours,
        string? limitDays,
        CancellationToken ct
    ) => Act("grade", id, Chosen(grade, to => grades.Set(id, to, reason, limitHours, limitDays, Actor, ct)), ct);

    public Task<IActionResult> OnPostAskDown(long id, DefectGrade? grade, string? reason, CancellationToken ct) =>
        Act("askDown", id, Chosen(grade, to => grades.AskDown(id, to, reason, Actor, ct)), ct);

    // No grade is chosen beforehand, and none that was left open is taken for the mildest.
    private static Task<Outcome<DefectRow>> Chosen(DefectGrade? grade, Func<DefectGrade, Task<Outcome<DefectRow>>> act) =>
        grade is { } to ? act(to) : Task.FromResult(Outcome<DefectRow>.Refused(App.Refusals.GradeNeeded()));

    public Task<IActionResult> OnPostDecideDown(
        long id,
        bool agreed,
        string? reason,
        string? limitHours,
        string? limitDays,
        CancellationToken ct
    ) => Act("decideDown", id, grades.DecideDown(id, agreed, reason, limitHours, limitDays, Actor, ct), ct);

    public Task<IActionResult> OnPostDefer(long id, string? reason, string? limitHours, string? limitDays, CancellationToken ct) =>
        Act("defer", id, grades.Defer(id, reason, limitHours, limitDays, Actor, ct), ct);

    public async Task<IActionResult> OnPostAdd(
        long id,
        [FromForm(Name = "said")] string? said,
        List<IFormFile>? photo,
        string? key,
        CancellationToken ct
    ) => await Act("add", id, notes.Add(id, said, await PhotoUploads.Read(photo, ct), key, Actor, ct), ct);

    public Task<IActionResult> OnPostVoid(long id, string? reason, CancellationToken ct) =>
        Act("void", id, notes.Void(id, reason, Actor, ct), ct);

    public async Task<IActionResult> OnGetPhoto(long id, long photo, bool small, CancellationToken ct)
    {
        if (await views.Photo(id, photo, small, ct) is not { } bytes)
            return NotFound();
        Response.Headers.CacheControl = "private,max-age=31536000,immutable";
        return File(bytes, "image/jpeg");
    }

    private async Task<IActionResult> Act(string what, long id, Task<Outcome<DefectRow>> act, CancellationToken ct)
    {
        var outcome = await act;
        if (outcome.Done)
            return Done($"/defects/{id}", words["Defect.Did." + what]);
        if (await views.One(id, ct) is not { } defect)
            return NotFound();
        Defect = defect;
        Refuse(outcome.Refusals);
        return Page();
    }
}
