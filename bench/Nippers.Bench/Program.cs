using System.CommandLine;
using BenchmarkDotNet.Configs;
using BenchmarkDotNet.Jobs;
using BenchmarkDotNet.Running;
using BenchmarkDotNet.Toolchains.InProcess.Emit;
using Nippers.Bench;

var name = new Argument<string>("name")
{
    Description = "core, visits, weeks, samples, forecast, walk, pages, mornings, mix, wide or exchange; all when left out.",
    DefaultValueFactory = _ => "all",
};
var makeBig = new Option<bool>("--make-big") { Description = "Makes the big database anew: 500 machines and five years." };
var db = new Option<FileInfo>("--db")
{
    Description = "Where the big database stands.",
    DefaultValueFactory = _ => new FileInfo(".nippers/big.db"),
};
var only = new Option<string?>("--only") { Description = "Of the pages, those whose route, as /walks|, holds this text." };
name.AcceptOnlyFromAmong("all", "core", "visits", "weeks", "samples", "forecast", "walk", "pages", "mornings", "mix", "wide", "exchange");

var root = new RootCommand("Measures Nippers. Figures go to standard output; docs/performance.md keeps them.") { name, makeBig, db, only };
root.SetAction(
    async (given, ct) =>
    {
        var what = given.GetValue(name)!;
        var file = given.GetValue(db)!.FullName;
        if (
            given.GetValue(makeBig)
            || (what is not ("core" or "visits" or "weeks" or "samples" or "forecast" or "walk") && !File.Exists(file))
        )
            await BigDatabase.Make(file, ct);
        if (given.GetValue(makeBig) && what == "all")
            return 0;
        var measured = true;
        if (what is "all" or "core")
        {
            DueLists.Linear();
            Tapes.Run();

            // In this process: where building another program takes minutes, the measurer would give up and print nothing.
            var summary = BenchmarkRunner.Run<DueLists>(
                ManualConfig.Create(DefaultConfig.Instance).AddJob(Job.ShortRun.WithToolchain(InProcessEmitToolchain.Instance))
            );
            measured &= summary.Reports.Length > 0 && summary.Reports.All(x => x.Success && x.ResultStatistics is not null);
        }

        if (what is "all" or "visits")
            VisitPlans.Run();
        if (what is "all" or "weeks")
            WeekPlans.Run();
        if (what is "all" or "samples")
            OilSamples.Run();
        if (what is "all" or "forecast")
            Forecast.Run();
        if (what is "all" or "walk")
            WalkTaps.Run();
        if (what is "all" or "pages")
            measured &= await EveryPage.Run(file, given.GetValue(only), ct) > 0;
        if (what is "all" or "mornings")
            await Mornings.Run(file, ct);
        if (what is "all" or "mix")
        {
            measured &= await Mix.Run(file, TimeSpan.Zero, ct);
            measured &= await Mix.Run(file, TimeSpan.FromSeconds(1), ct);
        }

        if (what is "all" or "wide")
            await Wide.Run(Path.GetDirectoryName(file)!, ct);
        if (what is "all" or "exchange")
            await Exchange.Run(file, ct);
        if (measured)
            return 0;
        await Console.Error.WriteLineAsync("Something was to be measured and was not.");
        return 1;
    }
);
root.Add(Tortures.Command());
return await root.Parse(args).InvokeAsync();
