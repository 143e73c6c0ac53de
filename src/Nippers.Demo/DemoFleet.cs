using Nippers.App.Exchange;
using Nippers.App.Programs;
using Nippers.App.Walks;
using Nippers.Core.Hours;
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
        foreach (var record in Records(today, Lives(today)))
            await writer.Write(record);
    }

    /// <summary>The scenario's machines, lived up to this morning, by unit.</summary>
    /// <param name="today">The date it ends on.</param>
    /// <param name="walkDays">How many days back walks are told.</param>
    internal static IReadOnlyList<MachineLife> Lives(DateOnly today, int walkDays = int.MaxValue)
    {
        var programs = Programs.Value;
        List<MachineLife> lives =
        [
            .. DemoCast
                .Machines.OrderBy(x => x.Unit, StringComparer.Ordinal)
                .Select(x => new MachineLife(x, programs[x.Program], today, walkDays)),
        ];
        foreach (var life in lives)
            life.Run();
        return lives;
    }

    /// <summary>The scenario's records in the order of the fleet file.</summary>
    /// <param name="today">The date it ends on.</param>
    /// <param name="lives">Its machines, lived.</param>
    internal static IEnumerable<FleetRecord> Records(DateOnly today, IReadOnlyList<MachineLife> lives)
    {
        var (low, high) = DemoParts.Weather(today);
        foreach (var site in new[] { DemoCast.ClayPit, DemoCast.LandingYard, DemoCast.NorthBank })
        {
            yield return FleetMapping.ToRecord(
                new Site
                {
                    Name = site,
                    TimeZone = DemoCast.Zone,
                    LowC = low,
                    HighC = high,
                    Contact = DemoCast.ContactOf(site),
                }
            );
        }

        yield return DemoParts.Shop();
        foreach (var program in Programs.Value.Values.OrderBy(x => x.Code, StringComparer.Ordinal))
            yield return FleetMapping.ToRecord(program);
        foreach (var list in WalkLists.Value)
            yield return list;
        foreach (var part in DemoParts.Catalogue)
            yield return FleetMapping.ToRecord(part);
        foreach (var alternate in DemoParts.Alternates(today))
            yield return alternate;
        foreach (var life in lives)
            yield return life.Machine();
        foreach (var reading in lives.SelectMany(x => x.Readings()))
            yield return reading;
        foreach (var completion in lives.SelectMany(x => x.Completions()))
            yield return completion;
        foreach (var walk in lives.SelectMany(x => x.Walking.Records()))
            yield return walk;
        var before = new Dictionary<string, int>(StringComparer.Ordinal);
        var walks = 0;
        foreach (var life in lives)
        {
            foreach (var topUp in life.Walking.TopUps(walks))
                yield return topUp;
            before[life.Unit] = walks;
            walks += life.Walking.Count;
        }

        var byUnit = lives.ToDictionary(x => x.Unit, StringComparer.Ordinal);
        long? WalkOf(string unit, int back) => before[unit] + byUnit[unit].Walking.PlaceOf(today.AddDays(-back));
        foreach (
            var defect in new DemoDefects(
                today,
                byUnit.ToDictionary(x => x.Key, x => (Func<int, MeterHours>)x.Value.LifeHours),
                WalkOf
            ).Records()
        )
            yield return defect;
        var visits = new DemoVisits(today);
        foreach (var record in visits.Records(lives))
            yield return record;
        foreach (var record in new DemoSamples(today, visits.Bottles).Records(lives))
            yield return record;
    }

    private static readonly Lazy<Dictionary<string, ServiceProgram>> Programs = new(() =>
        StarterPrograms.All().Append(DozerProgram()).ToDictionary(x => x.Code, StringComparer.Ordinal)
    );

    private static readonly Lazy<List<FleetWalkList>> WalkLists = new(() =>
        [.. StarterLists.Rows().OrderBy(x => x.List.Code, StringComparer.Ordinal).Select(x => FleetMapping.ToRecord(x.List, [x]))]
    );

    private static ServiceProgram DozerProgram()
    {
        var own = StarterPrograms.All().Single(x => x.Kind == MachineKind.Of("crawler-dozer"));
        own.Code = DemoCast.DozerProgram;
        own.Name = "Pellow dozers";
        own.Starter = false;
        own.IntervalBasis = IntervalBasis.Floating;
        return own;
    }
}
