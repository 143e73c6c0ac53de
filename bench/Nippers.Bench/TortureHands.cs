using System.Globalization;
using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using System.Text.Json.Nodes;
using Microsoft.EntityFrameworkCore;
using NetVips;
using Nippers.App.Phones;
using Nippers.Data;
using Nippers.Data.Walks;
using Nippers.Web.Phones;

namespace Nippers.Bench;

/// <summary>Who writes to a server that is killed: its program's line, and a technician's.</summary>
/// <param name="Api">With a token.</param>
/// <param name="Person">Signed in.</param>
/// <param name="FormToken">The token of the person's forms.</param>
internal sealed record TortureLine(HttpClient Api, HttpClient Person, string FormToken);

/// <summary>
/// Writes one kind of thing to one machine without a pause, each anew until it is acknowledged, and says afterwards what of the
/// acknowledged is not there once.
/// </summary>
/// <param name="unit">The machine.</param>
internal abstract class TortureHand(string unit)
{
    private const int Words = 1500;

    protected string Unit { get; } = unit;

    /// <summary>Writes that were acknowledged: those of the numbers from 1 to this.</summary>
    public int Kept { get; private set; }

    /// <summary>What was answered that should not have been.</summary>
    public string? Odd { get; private set; }

    /// <summary>Writes until the server is gone.</summary>
    public async Task Work(TortureLine line, CancellationToken ct)
    {
        while (!ct.IsCancellationRequested && Odd is null)
        {
            var number = Kept + 1;
            try
            {
                using var answer = await Send(line, number, ct);
                var text = await answer.Content.ReadAsStringAsync(ct);
                if (IsKept(answer, text, number))
                    Kept = number;
                else if (answer.StatusCode is HttpStatusCode.ServiceUnavailable or HttpStatusCode.TooManyRequests)
                    await Task.Delay(TimeSpan.FromMilliseconds(50), ct);
                else
                    Odd = $"{GetType().Name} {number} of {Unit}: {(int)answer.StatusCode} {Said(text)}";
            }
            catch (Exception fault) when (fault is HttpRequestException or IOException or OperationCanceledException)
            {
                // Killed while it answered: nobody knows whether it was kept. It is sent again after the next start.
                return;
            }
        }
    }

    // Of a page, the words of what it refuses.
    private static string Said(string text)
    {
        var at = Math.Max(0, text.IndexOf("<main", StringComparison.Ordinal));
        return text[at..Math.Min(text.Length, at + Words)];
    }

    /// <summary>Says what is not as it was acknowledged.</summary>
    public abstract Task<IReadOnlyList<string>> Look(NippersDb db, CancellationToken ct);

    protected abstract Task<HttpResponseMessage> Send(TortureLine line, int number, CancellationToken ct);

    protected virtual bool IsKept(HttpResponseMessage answer, string text, int number) => answer.IsSuccessStatusCode;

    /// <summary>What stands for a write, so that it is found again.</summary>
    protected string Mark(int number) => string.Create(CultureInfo.InvariantCulture, $"{Unit} mark {number:000000}");

    /// <summary>An hour more for each write, from the first one that the meter has not shown yet.</summary>
    protected static double Hours(int number) => Math.Round(number * 0.1, 1);

    protected static string Text(double number) => number.ToString("0.0", CultureInfo.InvariantCulture);

    /// <summary>Each number that was acknowledged stands there once; one more may, that nobody was told of.</summary>
    protected IReadOnlyList<string> Once(IEnumerable<string> marks, Func<int, string> markOf, Func<int, bool> isMine)
    {
        var found = marks.CountBy(x => x).ToDictionary(x => x.Key, x => x.Value, StringComparer.Ordinal);
        return
        [
            .. Enumerable
                .Range(1, Kept)
                .Where(isMine)
                .Where(x => found.GetValueOrDefault(markOf(x)) != 1)
                .Select(x => $"{GetType().Name}: {markOf(x)} is there {found.GetValueOrDefault(markOf(x))} times"),
        ];
    }

    protected static HttpRequestMessage Keyed(string path, object body, string key)
    {
        var request = new HttpRequestMessage(HttpMethod.Post, path) { Content = JsonContent.Create(body) };
        request.Headers.Add("Idempotency-Key", key);
        return request;
    }

    /// <summary>Sends what a phone sends.</summary>
    protected async Task<HttpResponseMessage> Enter(
        TortureLine line,
        int number,
        EntryKind kind,
        (string Name, string Value)[] fields,
        byte[]? photo,
        CancellationToken ct,
        string walk = "",
        string step = ""
    )
    {
        var entry = new PhoneEntry
        {
            Key = string.Create(CultureInfo.InvariantCulture, $"{Unit}-{number}"),
            Seq = number,
            Kind = kind,
            Unit = Unit,
            Walk = walk,
            Step = step,
            At = TimeProvider.System.GetUtcNow(),
            Fields = fields.GroupBy(x => x.Name).ToDictionary(x => x.Key, x => (IReadOnlyList<string?>)[.. x.Select(y => y.Value)]),
        };
        using var form = new MultipartFormDataContent();
        form.Add(new StringContent(JsonSerializer.Serialize(entry, ListJson.Options)), "entry");
        if (photo is not null)
            form.Add(new ByteArrayContent(photo), "photo", "photo.jpg");
        using var request = new HttpRequestMessage(HttpMethod.Post, PhoneApi.Root.TrimStart('/') + "/entries") { Content = form };
        request.Headers.Add(PhoneApi.Header, "1");
        return await line.Person.SendAsync(request, ct);
    }

    /// <summary>A picture that weighs something.</summary>
    protected static byte[] Picture(int number)
    {
        using var noise = Image.Gaussnoise(600, 450, sigma: 40, mean: 90 + (number % 50));
        using var cast = noise.Cast(Enums.BandFormat.Uchar);
        return cast.JpegsaveBuffer(q: 85);
    }
}

/// <summary>Readings and defects in turn, as a program sends them.</summary>
internal sealed class NotesHand(string unit, DateTimeOffset from) : TortureHand(unit)
{
    protected override Task<HttpResponseMessage> Send(TortureLine line, int number, CancellationToken ct)
    {
        var reading = number % 2 == 1;
        JsonObject body = reading
            ? new() { ["hours"] = Hours(number), ["at"] = from.AddDays(1).AddMinutes(number * 10) }
            : new() { ["words"] = Mark(number), ["grade"] = "watch" };
        var key = string.Create(CultureInfo.InvariantCulture, $"{Unit}-{number}");
        return line.Api.SendAsync(Keyed($"api/v1/machines/{Unit}/{(reading ? "readings" : "defects")}", body, key), ct);
    }

    public override async Task<IReadOnlyList<string>> Look(NippersDb db, CancellationToken ct) =>
        [
            .. Once(
                (
                    await db
                        .Readings.Where(x => db.Machines.Any(y => y.Id == x.MachineId && y.Unit == Unit))
                        .Select(x => x.ShownHours)
                        .ToListAsync(ct)
                ).Select(x => Text(x.Value)),
                x => Text(Hours(x)),
                x => x % 2 == 1
            ),
            .. Once(await db.Defects.Where(x => x.Machine.Unit == Unit).Select(x => x.Words).ToListAsync(ct), Mark, x => x % 2 == 0),
        ];
}

/// <summary>Defects with a picture, from a phone.</summary>
internal sealed class PicturesHand(string unit) : TortureHand(unit)
{
    protected override Task<HttpResponseMessage> Send(TortureLine line, int number, CancellationToken ct) =>
        Enter(
            line,
            number,
            EntryKind.Defect,
            [("words", Mark(number)), ("on", "Other"), ("part", "step"), ("grade", "Watch")],
            Picture(number),
            ct
        );

    public override async Task<IReadOnlyList<string>> Look(NippersDb db, CancellationToken ct)
    {
        var found = await db
            .Defects.Where(x => x.Machine.Unit == Unit)
            .Select(x => new { x.Words, Photos = db.DefectPhotos.Count(y => y.DefectId == x.Id) })
            .ToListAsync(ct);
        return
        [
            .. Once(found.Select(x => x.Words), Mark, _ => true),
            .. found.Where(x => x.Photos != 1).Select(x => $"{x.Words} has {x.Photos} pictures"),
        ];
    }
}

/// <summary>Walks, from a phone: begun, one check answered, finished.</summary>
internal sealed class WalksHand(string unit, string check) : TortureHand(unit)
{
    private const int Entries = 3;

    private string Walk(int number) => string.Create(CultureInfo.InvariantCulture, $"walk-{Unit}-{(number - 1) / Entries}");

    protected override Task<HttpResponseMessage> Send(TortureLine line, int number, CancellationToken ct) =>
        (number % Entries) switch
        {
            1 => Enter(
                line,
                number,
                EntryKind.Start,
                [("hours", Text(Hours(number))), ("parts", "Ordinary"), ("weather", "Dry"), ("ground", "Level"), ("knowsStopped", "true")],
                null,
                ct,
                Walk(number)
            ),
            2 => Enter(line, number, EntryKind.Answer, [("check", check), ("seen", "sound"), ("revision", "0")], null, ct, Walk(number)),
            _ => Enter(line, number, EntryKind.Finish, [("leftOut", "busy")], null, ct, Walk(number)),
        };

    public override async Task<IReadOnlyList<string>> Look(NippersDb db, CancellationToken ct)
    {
        var found = await db
            .Walks.Where(x => x.Machine.Unit == Unit)
            .Select(x => new
            {
                x.Batch,
                x.State,
                x.Answered,
            })
            .ToListAsync(ct);
        return
        [
            .. Once(found.Select(x => x.Batch), Walk, x => x % Entries == 1),
            .. Once(found.Where(x => x.State == WalkState.Finished && x.Answered == 1).Select(x => x.Batch), Walk, x => x % Entries == 0),
        ];
    }
}

/// <summary>One step of a job card, answered over and over, with a picture at times.</summary>
internal sealed class CardHand(string unit, long visit, string step) : TortureHand(unit)
{
    private const int Pictured = 4;

    protected override Task<HttpResponseMessage> Send(TortureLine line, int number, CancellationToken ct) =>
        Enter(
            line,
            number,
            EntryKind.Step,
            [
                ("visit", visit.ToString(CultureInfo.InvariantCulture)),
                ("revision", (number - 1).ToString(CultureInfo.InvariantCulture)),
                ("note", Mark(number)),
            ],
            number % Pictured == 0 ? Picture(number) : null,
            ct,
            step: step
        );

    public override async Task<IReadOnlyList<string>> Look(NippersDb db, CancellationToken ct)
    {
        var row = await db.Steps.SingleOrDefaultAsync(x => x.VisitId == visit && x.Code == step, ct);
        var (revision, photos) = (row?.Revision ?? 0, await db.StepPhotos.CountAsync(x => x.VisitId == visit, ct));
        var wrong = new List<string>();
        if (revision != Kept && revision != Kept + 1)
            wrong.Add($"step of {Unit}: answered {Kept} times, and stands at {revision}");
        if (revision > 0 && !row!.Answer.Contains(Mark(revision), StringComparison.Ordinal))
            wrong.Add($"step of {Unit}: revision {revision} says {row.Answer}");
        if (photos != revision / Pictured)
            wrong.Add($"step of {Unit}: {photos} pictures after {revision} answers");
        return wrong;
    }
}

/// <summary>Sample bottles, as a program sends them.</summary>
internal sealed class BottlesHand(string unit, string item) : TortureHand(unit)
{
    private string Bottle(int number) => string.Create(CultureInfo.InvariantCulture, $"{Unit}B{number:000000}");

    protected override Task<HttpResponseMessage> Send(TortureLine line, int number, CancellationToken ct) =>
        line.Api.PostAsJsonAsync(
            "api/v1/samples",
            new
            {
                unit = Unit,
                item,
                hours = Hours(number),
                method = "livePort",
                engine = "running",
                bottle = Bottle(number),
            },
            ct
        );

    // A bottle that is there already is the one whose answer did not come.
    protected override bool IsKept(HttpResponseMessage answer, string text, int number) =>
        base.IsKept(answer, text, number) || text.Contains("bottleTaken", StringComparison.Ordinal);

    public override async Task<IReadOnlyList<string>> Look(NippersDb db, CancellationToken ct) =>
        Once(await db.Samples.Where(x => x.Machine.Unit == Unit).Select(x => x.Bottle).ToListAsync(ct), Bottle, _ => true);
}

/// <summary>Fleet files, each with a machine that is new.</summary>
internal sealed class FilesHand(string unit, string file, int readings) : TortureHand(unit)
{
    /// <summary>First part of the units of what came in.</summary>
    public const string Prefix = "IN-";

    private static string Came(int number) => string.Create(CultureInfo.InvariantCulture, $"{Prefix}{number:000000}");

    protected override async Task<HttpResponseMessage> Send(TortureLine line, int number, CancellationToken ct)
    {
        using var form = new MultipartFormDataContent
        {
            { new StringContent(line.FormToken), "__RequestVerificationToken" },
            { new StringContent(file.Replace($"\"{Unit}\"", $"\"{Came(number)}\"", StringComparison.Ordinal)), "file", "fleet.jsonl" },
        };
        return await line.Person.PostAsync("exchange/fleet", form, ct);
    }

    // A unit that is here already came with the file whose answer did not come.
    protected override bool IsKept(HttpResponseMessage answer, string text, int number) =>
        answer.IsSuccessStatusCode || text.Contains($"{Came(number)} is here already", StringComparison.Ordinal);

    public override async Task<IReadOnlyList<string>> Look(NippersDb db, CancellationToken ct)
    {
        var found = await db
            .Machines.Where(x => x.Unit.StartsWith(Prefix))
            .Select(x => new { x.Unit, Readings = db.Readings.Count(y => y.MachineId == x.Id) })
            .ToListAsync(ct);
        return
        [
            .. Once(found.Select(x => x.Unit), Came, _ => true),
            .. found.Where(x => x.Readings != readings).Select(x => $"{x.Unit} came with {x.Readings} readings of {readings}"),
        ];
    }
}
