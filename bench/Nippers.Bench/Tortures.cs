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
        };
        command.SetAction(
            async (given, ct) =>
            {
                var folder = Directory.CreateTempSubdirectory("nippers-torture-").FullName;
                using var torture = new Torture(folder, Path.Combine(AppContext.BaseDirectory, "Nippers.Web.dll"), given.GetValue(seed))
                {
                    From = given.GetValue(from)?.FullName,
                    Instants = given.GetValue(instants),
                    Unsynced = given.GetValue(unsynced) ? await Compiled(folder, ct) : null,
                };
                var came = await torture.Run(given.GetValue(kills), Console.Error.WriteLine, ct);
                foreach (var wrong in came.Wrong)
                    Console.WriteLine("torture: wrong: " + wrong);
                Console.WriteLine(
                    $"torture: {came.Kills} kills, {came.Instants} instants besides, "
                        + $"{came.Acknowledged} acknowledged writes, {came.Wrong.Count} wrong"
                );

                // What went wrong is kept to be looked at.
                if (came.Wrong.Count > 0)
                    return 1;
                Directory.Delete(folder, recursive: true);
                return 0;
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
