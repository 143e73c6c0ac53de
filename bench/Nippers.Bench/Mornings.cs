using System.Collections.Concurrent;
using System.Diagnostics;
using System.Globalization;
using System.Text.RegularExpressions;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Nippers.Data;
using Nippers.Data.Walks;
using Nippers.Web.Hosting;

namespace Nippers.Bench;

/// <summary>
/// Twenty people at once, each round another machine of the big database: begin a walk, look at a station, save
/// answers, finish. Counts at the end what is there, so that nothing was lost and nothing was locked out.
/// </summary>
internal static partial class Mornings
{
    private const int People = 20;
    private const int WalksEach = 4;
    private const int AnswersEach = 10;

    // What a tap is reckoned with, some quicker and some slower.
    private static readonly TimeSpan Tap = TimeSpan.FromSeconds(1);

    public static async Task Run(string file, CancellationToken ct)
    {
        var settings = BigDatabase.Settings(file);
        await using var app = NippersHost.Create(settings);
        await Web.Commands.Startup.Prepare(app.Services, settings, ct);
        await app.StartAsync(ct);
        var address = new Uri($"http://127.0.0.1:{new Uri(app.Urls.First()).Port}/");
        var (before, defectsBefore) = await Count(app, ct);
        var (rushed, tapped) = (
            new ConcurrentDictionary<string, ConcurrentBag<double>>(),
            new ConcurrentDictionary<string, ConcurrentBag<double>>()
        );
        var errors = new ConcurrentBag<string>();

        // One round to have everything compiled, then the measured ones.
        await Task.WhenAll(Enumerable.Range(0, People).Select(i => Person(address, i, 1, [], errors, TimeSpan.Zero, ct)));
        await Task.WhenAll(Enumerable.Range(0, People).Select(i => Person(address, i, WalksEach, rushed, errors, TimeSpan.Zero, ct)));
        await Task.WhenAll(Enumerable.Range(0, People).Select(i => Person(address, i, WalksEach, tapped, errors, Tap, ct)));

        var (after, defectsAfter) = await Count(app, ct);
        var expected = People * (2 * WalksEach + 1);
        Console.WriteLine(
            $"mornings: {after.Finished - before.Finished} walks finished of {expected}, {after.Open - before.Open} left open, {defectsAfter - defectsBefore} defects, {errors.Count} errors"
        );
        foreach (var error in errors.Distinct().Take(5))
            Console.WriteLine("mornings: error: " + error);
        Print("without a pause", rushed);
        Print("a tap a second", tapped);
    }

    private static void Print(string how, ConcurrentDictionary<string, ConcurrentBag<double>> times)
    {
        var (empty, middle) = (P95(times["empty page"]), Median(times["empty page"]));
        foreach (var (what, taken) in times.OrderBy(x => x.Key, StringComparer.Ordinal))
        {
            Console.WriteLine(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"mornings, {how}: {what}: median {Median(taken):0.0} ms, {Median(taken) / middle:0.0} times an empty page; p95 {P95(taken):0.0} ms, {P95(taken) / empty:0.0} times ({taken.Count} requests)"
                )
            );
        }
    }

    private static async Task Person(
        Uri address,
        int person,
        int walks,
        ConcurrentDictionary<string, ConcurrentBag<double>> times,
        ConcurrentBag<string> errors,
        TimeSpan pause,
        CancellationToken ct
    )
    {
        var chance = new Random(person);
        using var client = await BigDatabase.SignedIn(address, ct);
        for (var walk = 0; walk < walks; walk++)
        {
            var unit = $"M-{person * 20 + walk + 1:000}";
            await Timed("empty page", () => client.GetAsync("no-entry", ct), 403);
            await Timed("defect list", () => client.GetAsync("defects", ct));
            var start = await (await Timed("open a walk's start", () => client.GetAsync($"walk/{unit}", ct))).Content.ReadAsStringAsync(ct);
            var last = LastHours().Match(start) is { Success: true } hours
                ? hours.Groups[1].Value.Replace(",", "", StringComparison.Ordinal)
                : "0";
            var token = Forms.Token().Match(start).Groups[1].Value;
            var opened = await Timed("begin a walk", () =>
                Post(
                    $"walk/{unit}",
                    ("hours", last),
                    ("weather", "Dry"),
                    ("ground", "Level"),
                    ("parts", "Ordinary"),
                    ("knowsStopped", "true")
                )
            );
            if (WalkId().Match(opened.RequestMessage!.RequestUri!.AbsolutePath) is not { Success: true } id)
            {
                errors.Add($"{unit}: the walk was not begun ({(int)opened.StatusCode})");
                continue;
            }

            var station = await (
                await Timed("a station", () => client.GetAsync($"walks/{id.Groups[1].Value}/at/off-engine", ct))
            ).Content.ReadAsStringAsync(ct);
            token = Forms.Token().Match(station).Groups[1].Value;
            foreach (var check in Ok().Matches(station).Select(x => x.Groups[1].Value).Distinct().Take(AnswersEach))
            {
                await Timed("save an answer", () =>
                    Send(
                        $"walks/{id.Groups[1].Value}/at/off-engine?handler=answer",
                        ("check", check),
                        ("seen", "sound"),
                        ("revision", "0"),
                        ("view", "one")
                    )
                );
            }

            await Timed("finish a walk", () => Post($"walks/{id.Groups[1].Value}/end", ("leftOut", "measured, not walked")));

            // As the page of a walk sends it: what comes back is the check, not a page.
            Task<HttpResponseMessage> Send(string path, params (string Name, string Value)[] fields)
            {
                var request = new HttpRequestMessage(HttpMethod.Post, path) { Content = Form(fields) };
                request.Headers.Add("HX-Request", "true");
                return client.SendAsync(request, ct);
            }

            FormUrlEncodedContent Form((string Name, string Value)[] fields) =>
                new(fields.Select(x => new KeyValuePair<string, string>(x.Name, x.Value)).Append(new("__RequestVerificationToken", token)));

            Task<HttpResponseMessage> Post(string path, params (string Name, string Value)[] fields) =>
                client.PostAsync(path, Form(fields), ct);
        }

        async Task<HttpResponseMessage> Timed(string what, Func<Task<HttpResponseMessage>> request, int expected = 200)
        {
            if (pause > TimeSpan.Zero)
                await Task.Delay(pause * (0.5 + chance.NextDouble()), ct);
            var watch = Stopwatch.StartNew();
            var answer = await request();
            await answer.Content.LoadIntoBufferAsync(ct);
            times.GetOrAdd(what, _ => []).Add(watch.Elapsed.TotalMilliseconds);
            if ((int)answer.StatusCode != expected)
                errors.Add($"{what}: {(int)answer.StatusCode}");
            return answer;
        }
    }

    private static async Task<((int Finished, int Open) Walks, int Defects)> Count(
        Microsoft.AspNetCore.Builder.WebApplication app,
        CancellationToken ct
    )
    {
        await using var scope = app.Services.CreateAsyncScope();
        var db = scope.ServiceProvider.GetRequiredService<NippersDb>();
        return (
            (
                await db.Walks.CountAsync(x => x.State == WalkState.Finished, ct),
                await db.Walks.CountAsync(x => x.State == WalkState.Open, ct)
            ),
            await db.Defects.CountAsync(ct)
        );
    }

    private static double Median(IEnumerable<double> times) => times.Order().ElementAt(times.Count() / 2);

    private static double P95(IEnumerable<double> times) => times.Order().ElementAt((int)(times.Count() * 0.95));

    [GeneratedRegex("""Last: ([\d,.]+) h""")]
    private static partial Regex LastHours();

    [GeneratedRegex("""^/walks/(\d+)$""")]
    private static partial Regex WalkId();

    [GeneratedRegex("""id="check-([a-z-]+)" data-check="[a-z-]+" data-outcome="open">(?:(?!</article>)[\s\S])*?value="sound""")]
    private static partial Regex Ok();
}
