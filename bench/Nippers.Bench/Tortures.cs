using System.CommandLine;
using System.Diagnostics;

namespace Nippers.Bench;

/// <summary>Tortures a server from the command line.</summary>
internal static class Tortures
{
    private const int Usual = 20;

    public static Command Command()
    {
        var kills = new Option<int>("--kills") { Description = "How often the server is killed.", DefaultValueFactory = _ => Usual };
        var seed = new Option<int>("--seed") { Description = "Another one kills at other moments.", DefaultValueFactory = _ => 1 };
        var from = new Option<FileInfo?>("--from") { Description = "A database to begin with: a copy of it is tortured." };
        var instants = new Option<int>("--instants")
        {
            Description = "At how many instants of each start what lies on the disk is looked through, as if it had been killed there.",
            DefaultValueFactory = _ => 0,
        };
        var unsynced = new Option<bool>("--unsynced")
        {
            Description = "Looks also whether it is all in what was synced, as after a power cut. Needs a C compiler.",
        };
        var lanes = new Option<int>("--lanes")
        {
            Description = "How many servers are tortured beside each other, each with a database of its own; the kills are shared out.",
            DefaultValueFactory = _ => 1,
        };
        var command = new Command(
            "torture",
            "Kills a server while it is written to, and looks whether what it acknowledged is there, once."
        )
        {
            kills,
            seed,
            from,
            instants,
            unsynced,
            lanes,
        };
        command.SetAction(
            async (given, ct) =>
            {
                var (count, most) = (given.GetValue(lanes), given.GetValue(kills));
                if (count < 1 || most < count)
                {
                    await Console.Error.WriteLineAsync("There are at least one lane, and a kill for each.");
                    return 2;
                }

                var folders = Enumerable
                    .Range(0, count)
                    .Select(_ => Directory.CreateTempSubdirectory("nippers-torture-").FullName)
                    .ToList();
                var came = await Task.WhenAll(folders.Select(Lane));
                foreach (var wrong in came.SelectMany(x => x.Wrong))
                    Console.WriteLine("torture: wrong: " + wrong);
                Console.WriteLine(
                    $"torture: {came.Sum(x => x.Kills)} kills, {came.Sum(x => x.Instants)} instants besides, "
                        + $"{came.Sum(x => x.Acknowledged)} acknowledged writes, {came.Sum(x => x.Wrong.Count)} wrong"
                );

                // What went wrong is kept to be looked at.
                foreach (var (folder, result) in folders.Zip(came))
                {
                    if (result.Wrong.Count == 0)
                        Directory.Delete(folder, recursive: true);
                }

                return came.All(x => x.Wrong.Count == 0) ? 0 : 1;

                async Task<Tortured> Lane(string folder, int lane)
                {
                    using var torture = new Torture(
                        folder,
                        Path.Combine(AppContext.BaseDirectory, "Nippers.Web.dll"),
                        given.GetValue(seed) + lane
                    )
                    {
                        From = given.GetValue(from)?.FullName,
                        Instants = given.GetValue(instants),
                        Unsynced = given.GetValue(unsynced) ? await Compiled(folder, ct) : null,
                    };
                    return await torture.Run(
                        (most / count) + (lane < most % count ? 1 : 0),
                        count == 1 ? Console.Error.WriteLine : x => Console.Error.WriteLine($"{lane + 1}: {x}"),
                        ct
                    );
                }
            }
        );
        return command;
    }

    private static async Task<string> Compiled(string folder, CancellationToken ct)
    {
        var library = Path.Combine(folder, "unsynced.so");
        using var compiler = Process.Start(
            "cc",
            ["-shared", "-fPIC", "-O2", "-o", library, Path.Combine(AppContext.BaseDirectory, "unsynced.c"), "-ldl"]
        );
        await compiler.WaitForExitAsync(ct);
        return compiler.ExitCode == 0 ? library : throw new InvalidOperationException("It could not be compiled.");
    }
}
