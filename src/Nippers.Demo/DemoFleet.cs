using Nippers.App.Exchange;
using Nippers.App.Programs;
using Nippers.App.Walks;
using Nippers.Core.Service;
using Nippers.Data.Fleet;
using Nippers.Data.Programs;
using Nippers.Formats.Fleet;

namespace Nippers.Demo;

/// <summary>Writes the demo scenario as a fleet file: about fourteen months that end today, the same for a given date.</summary>
public static class DemoFleet
{
    /// <summary>The hour at which the scenario's last morning ends.</summary>
    public static readonly TimeSpan Morning = TimeSpan.FromHours(6.75);

    /// <summary>Writes the scenario.</summary>
    /// <param name="today">The date it ends on.</param>
    /// <param name="to">Where to.</param>
    public static async Task Write(DateOnly today, Stream to)
    {
        await using var writer = new FleetWriter(to);
        foreach (var site in new[] { DemoCast.ClayPit, DemoCast.LandingYard, DemoCast.NorthBank })
        {
            var (low, high) = DemoParts.Weather(today);
            await writer.Write(FleetMapping.ToRecord(new Site { Name = site, TimeZone = DemoCast.Zone, LowC = low, HighC = high }));
        }

        await writer.Write(DemoParts.Shop());

        var programs = StarterPrograms.All().Append(DozerProgram()).ToDictionary(x => x.Code, StringComparer.Ordinal);
        foreach (var program in programs.Values.OrderBy(x => x.Code, StringComparer.Ordinal)) await writer.Write(FleetMapping.ToRecord(program));

        foreach (var list in StarterLists.Rows().OrderBy(x => x.List.Code, StringComparer.Ordinal)) await writer.Write(FleetMapping.ToRecord(list.List, [list]));

        foreach (var part in DemoParts.Catalogue()) await writer.Write(FleetMapping.ToRecord(part));
        foreach (var alternate in DemoParts.Alternates(today)) await writer.Write(alternate);
        var lives = DemoCast.Machines.OrderBy(x => x.Unit, StringComparer.Ordinal).Select(x => new MachineLife(x, programs[x.Program], today)).ToList();
        foreach (var life in lives) life.Run();
        foreach (var life in lives) await writer.Write(life.Machine());
        foreach (var reading in lives.SelectMany(x => x.Readings())) await writer.Write(reading);
        foreach (var completion in lives.SelectMany(x => x.Completions())) await writer.Write(completion);
        foreach (var walk in lives.SelectMany(x => x.Walking.Records())) await writer.Write(walk);
        var before = new Dictionary<string, int>(StringComparer.Ordinal);
        var walks = 0;
        foreach (var life in lives)
        {
            foreach (var topUp in life.Walking.TopUps(walks)) await writer.Write(topUp);
            before[life.Unit] = walks;
            walks += life.Walking.Count;
        }

        long? WalkOf(string unit, int back) => before[unit] + lives.Single(x => x.Unit == unit).Walking.PlaceOf(today.AddDays(-back));
        foreach (var defect in new DemoDefects(today, lives.ToDictionary(x => x.Unit, x => (Func<int, int>)x.LifeTenths), WalkOf).Records()) await writer.Write(defect);
        List<(DemoMachine Cast, MachineLife Life, ServiceProgram Program)> cast = [.. DemoCast.Machines.OrderBy(x => x.Unit, StringComparer.Ordinal).Select(x => (x, lives.Single(l => l.Unit == x.Unit), programs[x.Program]))];
        var visits = new DemoVisits(today);
        await visits.Write(cast, writer);
        foreach (var record in new DemoSamples(today, visits.Bottles).Records(cast)) await writer.Write(record);
    }

    private static ServiceProgram DozerProgram()
    {
        var own = StarterPrograms.All().Single(x => x.Kind == MachineKind.CrawlerDozer);
        own.Code = DemoCast.DozerProgram;
        own.Name = "Pellow dozers";
        own.Starter = false;
        own.School = School.Floating;
        return own;
    }
}
