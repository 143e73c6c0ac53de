using System.Diagnostics;
using System.Globalization;
using Microsoft.Extensions.DependencyInjection;
using Nippers.Web.Hosting;

namespace Nippers.Bench;

/// <summary>The same pages over 500 machines and over 10 000, each machine with as much behind it.</summary>
internal static class Wide
{
    private const int Few = 500;
    private const int Many = 10_000;
    private const int Rounds = 60;
    private const int WarmRounds = 30;

    private static readonly string[] Pages =
    [
        "",
        "visits",
        "machines",
        "machines/{0}",
        "machines/{0}/visits",
        "machines/{0}/visit",
        "defects",
        "walks",
        "samples",
        "parts",
        "phone/kit",
    ];

    /// <summary>Measures both.</summary>
    /// <param name="folder">Where the two databases stand, or are made.</param>
    /// <param name="ct">Cancels.</param>
    public static async Task Run(string folder, CancellationToken ct)
    {
        var few = await Measure(Path.Combine(folder, "few.db"), Few, ct);
        var many = await Measure(Path.Combine(folder, "many.db"), Many, ct);
        foreach (var page in Pages)
        {
            Console.WriteLine(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"wide: /{page}: median {few[page].Median:0.0} ms of {Few} machines, {many[page].Median:0.0} of {Many}: {many[page].Median / few[page].Median:0.00} times; first {few[page].First:0} and {many[page].First:0} ms"
                )
            );
        }
    }

    private static async Task<Dictionary<string, (double Median, double First)>> Measure(string file, int machines, CancellationToken ct)
    {
        if (!File.Exists(file))
            await BigDatabase.Make(file, new(machines, Readings: 400, Completions: 120, Whole: false), ct);
        var settings = BigDatabase.Settings(file) with { WarmUp = true };
        await using var app = NippersHost.Create(settings);
        await Web.Commands.Startup.Prepare(app.Services, settings, ct);
        await app.StartAsync(ct);
        await app.Services.GetRequiredService<FirstPages>().Done;
        using var client = await BigDatabase.SignedIn(new($"http://127.0.0.1:{new Uri(app.Urls.First()).Port}/"), ct);
        var came = new Dictionary<string, (double, double)>(StringComparer.Ordinal);
        foreach (var page in Pages)
        {
            var times = new List<double>();
            for (var round = 0; round < WarmRounds + Rounds; round++)
            {
                var path = string.Format(CultureInfo.InvariantCulture, page, $"M-{(round * 7 % Few) + 1:000}");
                var began = Stopwatch.GetTimestamp();
                using var answer = await client.GetAsync(path, ct);
                answer.EnsureSuccessStatusCode();
                await answer.Content.LoadIntoBufferAsync(ct);
                times.Add(Stopwatch.GetElapsedTime(began).TotalMilliseconds);
            }

            came[page] = (times.Skip(WarmRounds).Order().ElementAt(Rounds / 2), times[0]);
        }

        return came;
    }
}
