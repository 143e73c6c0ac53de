using System.Collections.Concurrent;
using System.Diagnostics;
using System.Globalization;
using System.Net.Http.Json;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Nippers.App;
using Nippers.App.People;
using Nippers.Core.Hours;
using Nippers.Data;
using Nippers.Data.People;
using Nippers.Web.Hosting;

namespace Nippers.Bench;

/// <summary>
/// Forty clients for a minute, as fast as they are answered: pages, lists, and one request in four a write. Counts at the end whether
/// every write that was acknowledged is there.
/// </summary>
internal static class Mix
{
    private const int Clients = 40;
    private const int OneInWrites = 4;
    private static readonly TimeSpan Warm = TimeSpan.FromSeconds(15);
    private static readonly TimeSpan Lasts = TimeSpan.FromMinutes(1);

    private static readonly string[] Reads = ["no-entry", "", "machines/{0}", "defects", "walks", "visits", "samples", "walk/{0}"];

    /// <summary>Runs it.</summary>
    /// <param name="file">The big database.</param>
    /// <param name="pause">Between two requests of a client; none: as fast as it is answered.</param>
    /// <param name="ct">Cancels.</param>
    public static async Task<bool> Run(string file, TimeSpan pause, CancellationToken ct)
    {
        var settings = BigDatabase.Settings(file) with { ApiCallsPerMinute = 1_000_000, WarmUp = true };
        await using var app = NippersHost.Create(settings);
        await Web.Commands.Startup.Prepare(app.Services, settings, ct);
        var (token, hours) = await Prepared(app, ct);
        await app.StartAsync(ct);
        await app.Services.GetRequiredService<FirstPages>().Done;
        var address = new Uri($"http://127.0.0.1:{new Uri(app.Urls.First()).Port}/");
        using var browser = await BigDatabase.SignedIn(address, ct);
        using var program = new HttpClient { BaseAddress = new(address, "api/v1/") };
        program.DefaultRequestHeaders.Authorization = new("Bearer", token);

        var before = await Count(app, ct);
        var kept = 0;
        await Everybody(Warm, new());
        var times = new ConcurrentDictionary<string, ConcurrentBag<double>>(StringComparer.Ordinal);
        await Everybody(Lasts, times);

        var empty = times["read no-entry"];
        foreach (var (what, taken) in times.OrderBy(x => x.Key, StringComparer.Ordinal))
        {
            Console.WriteLine(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"mix of {Clients}, {pause.TotalSeconds:0.#} s between: {what}: median {At(taken, 0.5):0} ms, p95 {At(taken, 0.95):0} ms, {At(taken, 0.95) / At(empty, 0.95):0.0} times an empty page's ({taken.Count} requests)"
                )
            );
        }

        var there = await Count(app, ct) - before;
        Console.WriteLine($"mix: {kept} writes acknowledged, {there} there");
        return there == kept && kept > 0;

        async Task Everybody(TimeSpan lasts, ConcurrentDictionary<string, ConcurrentBag<double>> into)
        {
            using var over = CancellationTokenSource.CreateLinkedTokenSource(ct);
            over.CancelAfter(lasts);
            await Task.WhenAll(Enumerable.Range(0, Clients).Select(x => Client(x, into, over.Token)));
        }

        async Task Client(int client, ConcurrentDictionary<string, ConcurrentBag<double>> into, CancellationToken over)
        {
            var chance = new Random(client);
            while (!over.IsCancellationRequested)
            {
                if (pause > TimeSpan.Zero)
                    await Task.Delay(pause * (0.5 + chance.NextDouble()), ct);
                var unit = $"M-{chance.Next(Clients * 5) + 1:000}";
                var began = Stopwatch.GetTimestamp();
                string what;
                if (chance.Next(OneInWrites) == 0)
                {
                    // Each client writes to a machine of its own, so that its hours run on.
                    unit = $"M-{300 + client:000}";
                    var reading = chance.Next(2) == 0;
                    what = reading ? "write a reading" : "write a defect";
                    object body = reading
                        ? new { hours = Math.Round((hours[unit] = hours[unit] + MeterHours.Of(0.1)).Value, 1) }
                        : new { words = $"mix {Guid.NewGuid():N}", grade = "watch" };
                    using var answer = await program.PostAsJsonAsync($"machines/{unit}/{(reading ? "readings" : "defects")}", body, ct);
                    answer.EnsureSuccessStatusCode();
                    Interlocked.Increment(ref kept);
                }
                else
                {
                    var path = Reads[chance.Next(Reads.Length)];
                    what = "read " + (path.Length == 0 ? "today" : path);
                    using var answer = await browser.GetAsync(string.Format(CultureInfo.InvariantCulture, path, unit), ct);
                    await answer.Content.LoadIntoBufferAsync(ct);
                }

                var took = Stopwatch.GetElapsedTime(began).TotalMilliseconds;
                into.GetOrAdd(what, _ => []).Add(took);
                into.GetOrAdd(what.Split(' ')[0] + ", all", _ => []).Add(took);
            }
        }
    }

    private static async Task<(string Token, ConcurrentDictionary<string, MeterHours> Hours)> Prepared(
        Microsoft.AspNetCore.Builder.WebApplication app,
        CancellationToken ct
    )
    {
        await using var scope = app.Services.CreateAsyncScope();
        var db = scope.ServiceProvider.GetRequiredService<NippersDb>();
        var made = await scope
            .ServiceProvider.GetRequiredService<ApiTokens>()
            .Make(new("mix " + Guid.NewGuid().ToString("N")[..8], Roles.Technician, TokenScopes.All), new("Mara Quill", Roles.Planner), ct);
        var rows = await db
            .Statuses.Select(x => new
            {
                x.Machine.Unit,
                Shown = x.LastHours,
                x.OffsetHours,
            })
            .ToListAsync(ct);
        return (made.Value!.Text, new(rows.ToDictionary(x => x.Unit, x => x.Shown - x.OffsetHours)));
    }

    private static async Task<int> Count(Microsoft.AspNetCore.Builder.WebApplication app, CancellationToken ct)
    {
        await using var scope = app.Services.CreateAsyncScope();
        var db = scope.ServiceProvider.GetRequiredService<NippersDb>();
        return await db.Readings.CountAsync(ct) + await db.Defects.CountAsync(ct);
    }

    private static double At(IEnumerable<double> times, double share)
    {
        var sorted = times.Order().ToList();
        return sorted[(int)(sorted.Count * share)];
    }
}
