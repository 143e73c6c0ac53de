using Microsoft.EntityFrameworkCore;
using Nippers.App.Walks;
using Nippers.Core.Hours;
using Nippers.Core.Walk;
using Nippers.Data;
using Nippers.Data.Defects;
using Nippers.Data.Queries;
using Nippers.Data.Visits;
using Nippers.Data.Walks;

namespace Nippers.App.Today;

/// <summary>Something that others found soon after a person's walk had passed it.</summary>
/// <param name="Id">The defect.</param>
/// <param name="Unit">The machine.</param>
/// <param name="PlaceName">Where.</param>
/// <param name="Words">What.</param>
/// <param name="On">When it was found.</param>
/// <param name="WalkedOn">When the walk had passed it.</param>
public sealed record FoundLater(long Id, string Unit, string PlaceName, string Words, DateOnly On, DateOnly WalkedOn);

/// <summary>Something that a person found and others mended.</summary>
public sealed record MendedSince(long Id, string Unit, string PlaceName, DateOnly On);

/// <summary>A job of today's that the plan by weeks gives to a person.</summary>
/// <param name="Visit">The visit.</param>
/// <param name="Unit">The machine.</param>
/// <param name="Site">Where.</param>
/// <param name="Minutes">How long it takes there.</param>
public sealed record OwnJob(long Visit, string Unit, string Site, int Minutes);

/// <summary>What a person is told before anybody else, or alone.</summary>
/// <param name="Jobs">What the plan by weeks gives them today, in order.</param>
/// <param name="Found">What was found soon after their walks.</param>
/// <param name="Mended">What of theirs was mended lately.</param>
/// <param name="ToLeave">Machines that they worked last, to be left for tomorrow.</param>
public sealed record PersonNews(
    IReadOnlyList<OwnJob> Jobs,
    IReadOnlyList<FoundLater> Found,
    IReadOnlyList<MendedSince> Mended,
    IReadOnlyList<string> ToLeave
)
{
    /// <summary>Nothing.</summary>
    public static PersonNews None { get; } = new([], [], [], []);

    public bool IsEmpty => Jobs.Count + Found.Count + Mended.Count + ToLeave.Count == 0;
}

/// <summary>What one person is told on Today. It counts nothing and compares nobody.</summary>
/// <remarks>Rules 7.</remarks>
public sealed class PersonView(NippersDb db, TimeProvider clock)
{
    private const int Days = 3;
    private const int Most = 5;

    /// <summary>The news of a person.</summary>
    /// <param name="person">Name that stands behind records.</param>
    /// <param name="ct">Cancels.</param>
    public async Task<PersonNews> Run(string person, CancellationToken ct)
    {
        var now = clock.GetUtcNow();
        return new(
            await Jobs(person, now, ct),
            await Found(person, now, ct),
            await Mended(person, now.AddDays(-Days), ct),
            await ToLeave(person, now, ct)
        );
    }

    private async Task<IReadOnlyList<OwnJob>> Jobs(string person, DateTimeOffset now, CancellationToken ct)
    {
        var rows = await db
            .PlannedJobs.Where(x => db.Users.Any(u => u.Id == x.UserId && u.FullName == person))
            .Where(x => x.Visit.State == VisitState.Planned || x.Visit.State == VisitState.Open)
            .Where(x =>
                x.On >= DateOnly.FromDateTime(now.UtcDateTime).AddDays(-1) && x.On <= DateOnly.FromDateTime(now.UtcDateTime).AddDays(1)
            )
            .OrderBy(x => x.Turn)
            .Select(x => new
            {
                x.VisitId,
                x.Visit.Machine.Unit,
                x.Visit.Machine.Site.Name,
                x.Visit.Machine.Site.TimeZone,
                x.Minutes,
                x.On,
            })
            .ToListAsync(ct);
        return
        [
            .. rows.Where(x => x.On == LocalDay.Of(now, TimeZoneInfo.FindSystemTimeZoneById(x.TimeZone)))
                .Select(x => new OwnJob(x.VisitId, x.Unit, x.Name, x.Minutes)),
        ];
    }

    private async Task<IReadOnlyList<FoundLater>> Found(string person, DateTimeOffset now, CancellationToken ct)
    {
        var day = DateOnly.FromDateTime(now.UtcDateTime).AddDays(-Days);
        var from = day.AddDays(-Days);
        var walks = await db
            .Walks.Where(x => x.FinishedBy == person && x.On >= from && x.State == WalkState.Finished)
            .OrderByDescending(x => x.On)
            .Select(x => new
            {
                x.Id,
                x.MachineId,
                x.On,
            })
            .ToListAsync(ct);
        if (walks.Count == 0)
            return [];
        var machines = walks.Select(x => x.MachineId).Distinct().ToList();
        var defects = await db
            .Defects.Where(x => x.On >= day && x.CheckCode != "" && x.By != person && x.State != DefectState.Voided)
            .Where(x => machines.Contains(x.MachineId))
            .OrderByDescending(x => x.Id)
            .Select(x => new
            {
                x.Id,
                x.MachineId,
                x.Machine.Unit,
                x.PlaceName,
                x.Words,
                x.On,
                x.CheckCode,
                x.WalkId,
            })
            .ToListAsync(ct);
        var found = new List<FoundLater>();
        foreach (var defect in defects)
        {
            foreach (
                var walk in walks.Where(x =>
                    x.MachineId == defect.MachineId && x.Id != defect.WalkId && x.On <= defect.On && x.On >= defect.On.AddDays(-Days)
                )
            )
            {
                if (!await Passed(walk.Id, defect.CheckCode, ct))
                    continue;
                found.Add(new(defect.Id, defect.Unit, defect.PlaceName, defect.Words, defect.On, walk.On));
                break;
            }

            if (found.Count >= Most)
                break;
        }

        return found;
    }

    private async Task<IReadOnlyList<MendedSince>> Mended(string person, DateTimeOffset since, CancellationToken ct)
    {
        var rows = await db
            .Defects.Where(x => x.RepairedAt >= since && x.By == person && x.RepairedBy != person && x.State != DefectState.Voided)
            .OrderByDescending(x => x.RepairedAt)
            .ThenByDescending(x => x.Id)
            .Take(Most)
            .Select(x => new
            {
                x.Id,
                x.Machine.Unit,
                x.Machine.Site.TimeZone,
                x.PlaceName,
                x.RepairedAt,
            })
            .ToListAsync(ct);
        return
        [
            .. rows.Select(x => new MendedSince(
                x.Id,
                x.Unit,
                x.PlaceName,
                LocalDay.Of(x.RepairedAt!.Value, TimeZoneInfo.FindSystemTimeZoneById(x.TimeZone))
            )),
        ];
    }

    /// <summary>A walk had found right what a check looks at.</summary>
    private async Task<bool> Passed(long walkId, string check, CancellationToken ct)
    {
        var walk = await db
            .Walks.Where(x => x.Id == walkId)
            .Select(x => new
            {
                x.VersionId,
                x.Checks,
                x.Answers,
            })
            .SingleAsync(ct);
        var list = await db.BodyOf(walk.VersionId, ct);
        var answers = PackedAnswers.Unpack(WalkChecks.Codes(walk.Checks, list), walk.Answers);
        return list.Checks.FirstOrDefault(x => x.Code == check) is { } asked
            && answers.GetValueOrDefault(check) is { } answer
            && CheckJudge.Fits(asked, answer)
            && CheckJudge.Judge(asked, answer).Outcome == CheckOutcome.Ok;
    }

    /// <summary>Machines that the person walked last today, once the shift is nearly over and nobody has left them yet.</summary>
    private async Task<IReadOnlyList<string>> ToLeave(string person, DateTimeOffset now, CancellationToken ct)
    {
        var sites = await db.Sites.Select(x => new { x.TimeZone, x.ShiftTo }).ToListAsync(ct);
        if (!sites.Exists(x => IsEvening(now, x.TimeZone, x.ShiftTo)))
            return [];
        var days = new[] { -1, 0, 1 }.Select(x => DateOnly.FromDateTime(now.UtcDateTime).AddDays(x)).ToList();
        var walks = await db
            .Walks.AsNoTracking()
            .Where(x => days.Contains(x.On) && x.State != WalkState.Voided && !x.Late && !x.Machine.Retired)
            .Where(x => x.StartedBy == person)
            .Where(x => !db.Walks.Any(y => y.MachineId == x.MachineId && y.On == x.On && y.Id > x.Id && y.State != WalkState.Voided))
            .Where(x => !db.Parkings.Any(y => y.MachineId == x.MachineId && y.At > x.StartedAt))
            .Select(x => new
            {
                x.Machine.Unit,
                x.On,
                x.Machine.Site.TimeZone,
                x.Machine.Site.ShiftTo,
            })
            .OrderBy(x => x.Unit)
            .ToListAsync(ct);
        return
        [
            .. walks
                .Where(x =>
                    LocalDay.Of(now, TimeZoneInfo.FindSystemTimeZoneById(x.TimeZone)) == x.On && IsEvening(now, x.TimeZone, x.ShiftTo)
                )
                .Select(x => x.Unit)
                .Distinct(),
        ];
    }

    private static bool IsEvening(DateTimeOffset now, string zone, int shiftTo) =>
        TimeZoneInfo.ConvertTime(now, TimeZoneInfo.FindSystemTimeZoneById(zone)).TimeOfDay
        >= TimeSpan.FromMinutes(shiftTo) - ParkingCard.Early;
}
