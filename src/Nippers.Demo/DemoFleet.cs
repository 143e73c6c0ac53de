using Nippers.App.Exchange;
using Nippers.App.Programs;
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
        foreach (var site in new[] { DemoCast.ClayPit, DemoCast.LandingYard, DemoCast.NorthBank }) await writer.Write(new FleetSite(site, DemoCast.Zone));

        var programs = StarterPrograms.All().Append(DozerProgram()).ToDictionary(x => x.Code, StringComparer.Ordinal);
        foreach (var program in programs.Values.OrderBy(x => x.Code, StringComparer.Ordinal)) await writer.Write(FleetMapping.ToRecord(program));

        var lives = DemoCast.Machines.OrderBy(x => x.Unit, StringComparer.Ordinal).Select(x => new MachineLife(x, programs[x.Program], today)).ToList();
        foreach (var life in lives) life.Run();
        foreach (var life in lives) await writer.Write(life.Machine());
        foreach (var reading in lives.SelectMany(x => x.Readings())) await writer.Write(reading);
        foreach (var completion in lives.SelectMany(x => x.Completions())) await writer.Write(completion);
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
