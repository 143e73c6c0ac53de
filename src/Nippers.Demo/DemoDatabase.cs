using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Nippers.App;
using Nippers.App.Exchange;
using Nippers.App.Oil;
using Nippers.App.People;
using Nippers.Data;

namespace Nippers.Demo;

/// <summary>Fills a database with the demo fleet.</summary>
public static class DemoDatabase
{
    /// <summary>The instant at which the demo's last morning is over.</summary>
    public static DateTimeOffset MorningOf(DateOnly date) =>
        new DateTimeOffset(date.ToDateTime(TimeOnly.MinValue), TimeSpan.Zero) + TimeSpan.FromHours(7.5);

    /// <summary>Brings the demo fleet in, unless machines stand already.</summary>
    /// <param name="services">The application's.</param>
    /// <param name="ct">Gives up.</param>
    /// <param name="lab">Where the stand-in laboratory is; null leaves the demo's laboratory without a line.</param>
    /// <param name="address">Where the demo is reached; null for a place that printed codes may name.</param>
    /// <param name="mailPort">Where a stand-in mail server takes messages; null for none, and none are written.</param>
    public static async Task Fill(
        IServiceProvider services,
        CancellationToken ct,
        string? lab = null,
        string? address = null,
        int? mailPort = null
    )
    {
        await using var scope = services.CreateAsyncScope();
        if (scope.ServiceProvider.GetRequiredService<NippersDb>().Machines.Any())
            return;
        var clock = scope.ServiceProvider.GetRequiredService<TimeProvider>();
        using var file = new MemoryStream();
        await DemoFleet.Write(Today(clock), file);
        file.Position = 0;
        var outcome = await scope.ServiceProvider.GetRequiredService<ImportFleet>().Run(file, new("Demo", Roles.Planner), null, ct);
        if (!outcome.Done)
            throw new InvalidOperationException($"The demo fleet was refused: {outcome.Refusals[0]}");
        await DemoOwnKind.Make(scope.ServiceProvider, Today(clock), ct);
        await DemoWeeks.Make(scope.ServiceProvider, Today(clock), ct);
        await DemoMail.Make(scope.ServiceProvider, mailPort, ct);
        await DemoFeed.Make(scope.ServiceProvider, lab, ct);
        await scope.ServiceProvider.GetRequiredService<FleetLimits>().Derive(ct);
        var line = lab ?? "";
        await scope
            .ServiceProvider.GetRequiredService<NippersDb>()
            .Labs.Where(x => x.Usual)
            .ExecuteUpdateAsync(x => x.SetProperty(m => m.Url, line).SetProperty(m => m.OwnNetwork, true), ct);
        await scope
            .ServiceProvider.GetRequiredService<PublicAddress>()
            .Save(address ?? "https://nippers.example", new("Demo", Roles.Planner), ct);
    }

    /// <summary>The demo's story ends today; before its morning is over, it ended yesterday.</summary>
    public static DateOnly Today(TimeProvider clock)
    {
        var now = clock.GetUtcNow();
        var today = DateOnly.FromDateTime(now.UtcDateTime);
        return now < MorningOf(today) ? today.AddDays(-1) : today;
    }
}
