using Nippers.App.Backups;

namespace Nippers.Web.Hosting;

/// <summary>How the installation does, for a program that watches it. It tells nothing of the fleet.</summary>
/// <param name="Status"><c>ok</c>, or <c>failing</c>.</param>
/// <param name="DatabaseWritable">A write could be begun.</param>
/// <param name="LastBackupMinutes">Minutes since the newest backup; null when there is none.</param>
/// <param name="WaitingConsignments">Orders to laboratories that could not be handed over yet.</param>
/// <param name="DiskFreeMb">Free space where the database stands, MB.</param>
public sealed record HealthAnswer(string Status, bool DatabaseWritable, int? LastBackupMinutes, int WaitingConsignments, long DiskFreeMb);

/// <summary>Answers whoever watches the installation; only where that was asked for at the start.</summary>
public static class Health
{
    /// <summary>The address.</summary>
    public const string Path = "/healthz";

    private const long LeastFreeMb = 200;

    /// <summary>Maps the address.</summary>
    public static void MapHealth(this WebApplication app) => app.MapGet(Path, Answer).AllowAnonymous().ExcludeFromDescription();

    private static async Task<IResult> Answer(HealthView view, WebSettings settings, HttpContext http, CancellationToken ct)
    {
        http.Response.Headers.CacheControl = "no-store";
        var (writable, waiting, backups) = await view.Look(ct);
        var free = new DriveInfo(System.IO.Path.GetDirectoryName(settings.DatabaseFile)!).AvailableFreeSpace >> 20;
        var good = writable && free >= LeastFreeMb && (settings.Offered.Count > 0 || !backups.Late);
        return Results.Json(
            new HealthAnswer(good ? "ok" : "failing", writable, (int?)backups.Age?.TotalMinutes, waiting, free),
            statusCode: good ? StatusCodes.Status200OK : StatusCodes.Status503ServiceUnavailable
        );
    }
}
