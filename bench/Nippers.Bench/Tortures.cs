using System.CommandLine;

namespace Nippers.Bench;

/// <summary>Tortures a server from the command line.</summary>
internal static class Tortures
{
    private const int Usual = 20;

    public static Command Command()
    {
        var kills = new Option<int>("--kills") { Description = "How often the server is killed.", DefaultValueFactory = _ => Usual };
        var seed = new Option<int>("--seed") { Description = "Another one kills at other moments.", DefaultValueFactory = _ => 1 };
        var command = new Command(
            "torture",
            "Kills a server while it is written to, and looks whether what it acknowledged is there, once."
        )
        {
            kills,
            seed,
        };
        command.SetAction(
            async (given, ct) =>
            {
                var folder = Directory.CreateTempSubdirectory("nippers-torture-").FullName;
                var torture = new Torture(folder, Path.Combine(AppContext.BaseDirectory, "Nippers.Web.dll"), given.GetValue(seed));
                var came = await torture.Run(given.GetValue(kills), Console.Error.WriteLine, ct);
                foreach (var wrong in came.Wrong)
                    Console.WriteLine("torture: wrong: " + wrong);
                Console.WriteLine($"torture: {came.Kills} kills, {came.Acknowledged} acknowledged writes, {came.Wrong.Count} wrong");

                // What went wrong is kept to be looked at.
                if (came.Wrong.Count > 0)
                    return 1;
                Directory.Delete(folder, recursive: true);
                return 0;
            }
        );
        return command;
    }
}
