using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Nippers.Data;
using Nippers.Data.People;

namespace Nippers.App.Backups;

/// <summary>A backup that lies in the folder.</summary>
/// <param name="Path">Where it is.</param>
/// <param name="Made">When it was made, local time of the machine.</param>
/// <param name="Bytes">Its size.</param>
public sealed record BackupFile(string Path, DateTime Made, long Bytes);

/// <summary>What was typed of backups.</summary>
public sealed record BackupInput(string? Folder, string? Second, string? SecondMinutes);

/// <summary>How backups stand.</summary>
/// <param name="Folder">Where the nightly ones go.</param>
/// <param name="Chosen">That folder where somebody chose it; null for the usual one.</param>
/// <param name="Files">Those that are there, newest first.</param>
/// <param name="Second">Folder of the copy in a second place; null for none.</param>
/// <param name="SecondMinutes">Minutes between two of it.</param>
/// <param name="SecondAt">When that copy was made, UTC; null for not yet.</param>
/// <param name="Age">Since the newest of all; null when there is none.</param>
/// <param name="Late">The newest nightly one is older than a day and a half.</param>
public sealed record BackupState(
    string Folder,
    string? Chosen,
    IReadOnlyList<BackupFile> Files,
    string? Second,
    int SecondMinutes,
    DateTimeOffset? SecondAt,
    TimeSpan? Age,
    bool Late
);

/// <summary>
/// Makes backups by itself: one each night, looked through before it counts, and a copy in a second place minutes apart. What a
/// night or a disk that was away has missed is made up for at the next round.
/// </summary>
public sealed class Backups(NippersDb db, UnitOfWork writes, TimeProvider clock)
{
    /// <summary>Hour of the night, local time of the machine, at which a day's backup falls due.</summary>
    public const int NightHour = 2;

    private const string Name = "nippers-";
    private const string Stamp = "yyyyMMdd-HHmmss";
    private const string End = ".db";
    private const string SecondName = Name + "second" + End;
    private const int LeastMinutes = 1;
    private const int MostMinutes = 24 * 60;
    private const int UsualMinutes = 10;
    private static readonly TimeSpan LateAfter = TimeSpan.FromHours(36);

    private string File => db.Database.GetDbConnection().DataSource;

    /// <summary>The folder where no other is set: beside the database.</summary>
    public static string FolderOf(string database) => database + ".backups";

    /// <summary>The backups of a folder, newest first.</summary>
    public static IReadOnlyList<BackupFile> In(string folder) =>
        !Directory.Exists(folder)
            ? []
            :
            [
                .. new DirectoryInfo(folder)
                    .EnumerateFiles(Name + "*" + End)
                    .Select(x => (File: x, Made: Made(x.Name)))
                    .Where(x => x.Made is not null)
                    .OrderByDescending(x => x.Made)
                    .Select(x => new BackupFile(x.File.FullName, x.Made!.Value, x.File.Length)),
            ];

    /// <summary>How they stand.</summary>
    public async Task<BackupState> State(CancellationToken ct)
    {
        var plan = await Plan(ct);
        var files = In(plan.Folder);
        var second = plan.Second is { } folder ? new FileInfo(Path.Combine(folder, SecondName)) : null;
        DateTimeOffset? secondAt = second is { Exists: true } ? new(second.LastWriteTimeUtc, TimeSpan.Zero) : null;
        TimeSpan? night = files.Count > 0 ? Local - files[0].Made : null;
        TimeSpan? copy = secondAt is { } at ? clock.GetUtcNow() - at : null;
        return new(
            plan.Folder,
            plan.Folder == FolderOf(File) ? null : plan.Folder,
            files,
            plan.Second,
            plan.SecondMinutes,
            secondAt,
            copy is { } c && (night is null || c < night) ? c : night,
            night is null || night > LateAfter
        );
    }

    /// <summary>Makes the night's backup when it is due, and takes those away whose time is over.</summary>
    /// <returns>The new one; null when none was due.</returns>
    /// <exception cref="IOException">The folder can't be used.</exception>
    /// <exception cref="Microsoft.Data.Sqlite.SqliteException">It could not be written.</exception>
    public async Task<string?> Night(CancellationToken ct)
    {
        var folder = (await Plan(ct)).Folder;
        var now = Local;
        var files = In(folder);
        if (files.Count > 0 && files[0].Made.AddHours(-NightHour).Date >= now.AddHours(-NightHour).Date)
            return null;
        Directory.CreateDirectory(folder);
        var to = Path.Combine(folder, Name + now.ToString(Stamp, CultureInfo.InvariantCulture) + End);
        await db.BackUp(to, ct);

        // Only once the new one is there whole: a disk on which none can be made keeps all that it has.
        var all = In(folder);
        var stay = BackupRota.Stay(all.Select(x => x.Made));
        foreach (var old in all.Where(x => !stay.Contains(x.Made)))
            System.IO.File.Delete(old.Path);
        return to;
    }

    /// <summary>Renews the copy in the second place when it is due.</summary>
    /// <returns>The copy; null when none was due.</returns>
    /// <exception cref="IOException">The folder is away.</exception>
    /// <exception cref="Microsoft.Data.Sqlite.SqliteException">It could not be written.</exception>
    public async Task<string?> Second(CancellationToken ct)
    {
        var plan = await Plan(ct);
        if (plan.Second is not { } folder)
            return null;
        var to = Path.Combine(folder, SecondName);
        if (
            System.IO.File.Exists(to)
            && clock.GetUtcNow() - System.IO.File.GetLastWriteTimeUtc(to) < TimeSpan.FromMinutes(plan.SecondMinutes)
        )
            return null;
        await db.BackUp(to, ct);
        System.IO.File.SetLastWriteTimeUtc(to, clock.GetUtcNow().UtcDateTime);
        return to;
    }

    /// <summary>Keeps where backups go. A folder that can't be written is refused now, not at night.</summary>
    public Task<Outcome<BackupPlan>> Save(BackupInput input, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var refusals = new List<Refusal>();
                var folder = Folder(input.Folder, "folder", refusals);
                var second = Folder(input.Second, "second", refusals);
                var minutes = Typed.Whole(input.SecondMinutes, "secondMinutes", LeastMinutes, MostMinutes, refusals) ?? UsualMinutes;
                if (refusals.Count == 0 && second is not null && second == (folder ?? FolderOf(File)))
                    refusals.Add(Refusals.FolderSame("second"));
                if (refusals.Count > 0)
                    return Outcome<BackupPlan>.Refused(refusals);
                var row = await db.BackupPlans.SingleOrDefaultAsync(ct);
                var before = row is null
                    ? null
                    : new
                    {
                        row.Folder,
                        row.Second,
                        row.SecondMinutes,
                    };
                if (row is null)
                    db.BackupPlans.Add(row = new());
                (row.Folder, row.Second, row.SecondMinutes) = (folder, second, minutes);
                writes.Audit(
                    actor,
                    "backups.plan",
                    "",
                    null,
                    before,
                    new
                    {
                        row.Folder,
                        row.Second,
                        row.SecondMinutes,
                    }
                );
                return Outcome<BackupPlan>.Of(row);
            },
            ct
        );

    private DateTime Local => clock.GetLocalNow().DateTime;

    private async Task<(string Folder, string? Second, int SecondMinutes)> Plan(CancellationToken ct)
    {
        var row = await db.BackupPlans.AsNoTracking().SingleOrDefaultAsync(ct);
        return (row?.Folder ?? FolderOf(File), row?.Second, row?.SecondMinutes ?? UsualMinutes);
    }

    private static DateTime? Made(string name) =>
        DateTime.TryParseExact(name[Name.Length..^End.Length], Stamp, CultureInfo.InvariantCulture, DateTimeStyles.None, out var at)
            ? at
            : null;

    private static string? Folder(string? typed, string field, List<Refusal> refusals)
    {
        if (string.IsNullOrWhiteSpace(typed))
            return null;
        var folder = typed.Trim();
        if (!Path.IsPathFullyQualified(folder) || !Directory.Exists(folder))
        {
            refusals.Add(Refusals.NoSuchFolder(field));
            return null;
        }

        try
        {
            using var probe = new FileStream(
                Path.Combine(folder, Guid.NewGuid().ToString("N")),
                FileMode.CreateNew,
                FileAccess.Write,
                FileShare.None,
                bufferSize: 1,
                FileOptions.DeleteOnClose
            );
            return Path.TrimEndingDirectorySeparator(Path.GetFullPath(folder));
        }
        catch (Exception fault) when (fault is IOException or UnauthorizedAccessException)
        {
            refusals.Add(Refusals.FolderShut(field));
            return null;
        }
    }
}
