using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Nippers.App;
using Nippers.App.Weeks;
using Nippers.Data;
using Nippers.Data.Programs;

namespace Nippers.Demo;

/// <summary>Who of the demo is there on which days and qualified for what, how far it is between its sites, and what must work.</summary>
internal static class DemoWeeks
{
    private static readonly Actor By = new("Mara Quill", Roles.Planner);

    /// <summary>Says it through the planner's own doors.</summary>
    /// <param name="services">The demo's, with its accounts and its fleet.</param>
    /// <param name="today">The day its story ends on.</param>
    /// <param name="ct">Gives up.</param>
    public static async Task Make(IServiceProvider services, DateOnly today, CancellationToken ct)
    {
        var crew = services.GetRequiredService<CrewBook>();
        var page = await crew.Load(ct);
        string Id(string name) => page.People.First(x => x.Name == name).UserId;
        if (page.People.All(x => x.Name != "Tam Ollery"))
            return;
        await Save("Tam Ollery", DemoCast.ClayPit, ["0", "9", "9", "9", "9", "8", "4"], [CompartmentKind.Cab, CompartmentKind.Hydraulic]);
        await Save(
            "Wenna Pask",
            DemoCast.LandingYard,
            ["0", "9", "9", "9", "9", "8", "0"],
            [CompartmentKind.Structure, CompartmentKind.Undercarriage, CompartmentKind.Hydraulic, CompartmentKind.Transmission]
        );
        var sites = await services
            .GetRequiredService<NippersDb>()
            .Sites.ToDictionaryAsync(x => x.Name, x => x.Id, StringComparer.Ordinal, ct);
        Demonstrated.Sure(
            await crew.SaveRoads(
                new Dictionary<string, string?>
                {
                    [Pair(DemoCast.NorthBank, DemoCast.ClayPit)] = "25",
                    [Pair(DemoCast.NorthBank, DemoCast.LandingYard)] = "40",
                    [Pair(DemoCast.ClayPit, DemoCast.LandingYard)] = "35",
                },
                By,
                ct
            )
        );
        Demonstrated.Sure(await crew.AddAway(Id("Wenna Pask"), Day(9), Day(10), "Course on brakes", By, ct));
        Demonstrated.Sure(await crew.AddBusy("EX-02", Day(1), Day(4), "Breach at the north sluice", By, ct));

        string Day(int days) => today.AddDays(days).ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);

        string Pair(string a, string b) =>
            string.Create(CultureInfo.InvariantCulture, $"{Math.Min(sites[a], sites[b])}-{Math.Max(sites[a], sites[b])}");

        async Task Save(string name, string site, string[] hours, CompartmentKind[] subjects) =>
            Demonstrated.Sure(await crew.Save(new(Id(name), site, true, hours, subjects, 0), By, ct));
    }
}
