using System.Diagnostics;
using System.Globalization;
using System.Security.Cryptography;
using Microsoft.Extensions.DependencyInjection;
using Nippers.App;
using Nippers.App.Exchange;

namespace Nippers.Bench;

/// <summary>The big fleet out into a file and into an empty database, with the memory that it took.</summary>
internal static class Exchange
{
    public static async Task Run(string file, CancellationToken ct)
    {
        var folder = Directory.CreateTempSubdirectory("nippers-exchange-").FullName;
        var (first, second) = (Path.Combine(folder, "a.nippers.json"), Path.Combine(folder, "b.nippers.json"));
        await Out(file, first, ct);
        var empty = Path.Combine(folder, "empty.db");
        await using (var services = Services(empty))
        {
            await using var scope = services.CreateAsyncScope();
            await scope.ServiceProvider.GetRequiredService<Setup>().Migrate(ct);
            await using var stream = File.OpenRead(first);
            var peak = new Peak();
            var watch = Stopwatch.StartNew();
            var outcome = await scope.ServiceProvider.GetRequiredService<ImportFleet>().Run(stream, new("bench", Roles.Planner), peak, ct);
            Say("import", first, watch, peak);
            if (!outcome.Done)
                throw new InvalidOperationException(outcome.Refusals[0].Code);
        }

        await Out(empty, second, ct);
        var same = await Sum(first) == await Sum(second);
        Console.WriteLine($"exchange: the second export is {(same ? "the same" : "NOT the same")} byte for byte");
        Directory.Delete(folder, recursive: true);
    }

    private static async Task Out(string file, string to, CancellationToken ct)
    {
        await using var services = Services(file);
        await using var scope = services.CreateAsyncScope();
        var peak = new Peak();
        var watch = Stopwatch.StartNew();
        await using (var stream = File.Create(to))
            await scope.ServiceProvider.GetRequiredService<ExportFleet>().Run(stream, peak, ct);
        Say("export", to, watch, peak);
    }

    private static async Task<string> Sum(string file)
    {
        await using var stream = File.OpenRead(file);
        return Convert.ToHexString(await SHA256.HashDataAsync(stream));
    }

    private static ServiceProvider Services(string file) =>
        new ServiceCollection().AddSingleton(TimeProvider.System).AddLogging().AddNippers(file).BuildServiceProvider();

    private static void Say(string what, string file, Stopwatch watch, Peak peak) =>
        Console.WriteLine(
            string.Create(
                CultureInfo.InvariantCulture,
                $"exchange: {what} of {new FileInfo(file).Length >> 20} MB: {watch.Elapsed.TotalSeconds:0.0} s, working set at most {peak.Megabytes} MB"
            )
        );

    /// <summary>Looks at the working set whenever progress is told.</summary>
    private sealed class Peak : IProgress<JobProgress>
    {
        public long Megabytes { get; private set; }

        public void Report(JobProgress value) => Megabytes = Math.Max(Megabytes, Environment.WorkingSet >> 20);
    }
}
