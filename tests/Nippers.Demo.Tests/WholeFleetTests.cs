using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Nippers.App.Kinds;
using Nippers.App.Statuses;
using Nippers.Data;
using Nippers.Web.Commands;
using Nippers.Web.Hosting;

namespace Nippers.Demo.Tests;

/// <summary>What the story promises is what the application then shows, with samples, wear, defects and walks joining in.</summary>
public sealed class WholeFleetTests
{
    private sealed class Morning(DateTimeOffset now) : TimeProvider
    {
        public override DateTimeOffset GetUtcNow() => now;
    }

    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    [Theory]
    [InlineData(2027, 10, 31)] // a Sunday on which clocks go back
    [InlineData(2028, 2, 29)]
    public async Task Machines_stand_as_the_story_says_on_any_day(int year, int month, int day)
    {
        var folder = Directory.CreateTempSubdirectory("nippers-story-").FullName;
        var clock = new Morning(DemoDatabase.MorningOf(new(year, month, day)));
        var settings = new WebSettings(Path.Combine(folder, "demo.db"), 0, clock, Quiet: true)
        {
            Offered = DemoAccounts.All,
            LocalOnly = true,
        };
        await using (var app = NippersHost.Create(settings))
        {
            await Startup.Prepare(app.Services, settings, Ct);
            await DemoDatabase.Fill(app.Services, Ct);
            await using var scope = app.Services.CreateAsyncScope();
            await scope.ServiceProvider.GetRequiredService<Standings>().Rebuild(clock.GetUtcNow(), Ct);
            var all = await scope
                .ServiceProvider.GetRequiredService<NippersDb>()
                .Statuses.Include(x => x.Machine)
                .AsNoTracking()
                .ToListAsync(Ct);

            // One machine is of a kind that a planner made; it has no part in the story.
            Assert.Equal("SF-01", Assert.Single(all, x => KindFolders.Find(x.Machine.Kind) is null).Machine.Unit);
            var rows = all.Where(x => KindFolders.Find(x.Machine.Kind) is not null).ToList();
            Assert.Equal(
                DemoCast.Machines.OrderBy(x => x.Unit, StringComparer.Ordinal).Select(x => $"{x.Unit} {x.Ends}"),
                rows.OrderBy(x => x.Machine.Unit, StringComparer.Ordinal).Select(x => $"{x.Machine.Unit} {x.Worst}")
            );
            Assert.Equal(["DZ-01", "EX-05"], rows.Where(x => x.OutOfService).Select(x => x.Machine.Unit).Order(StringComparer.Ordinal));
            Assert.Equal(["WL-03"], rows.Where(x => x.Stale && !x.Parked).Select(x => x.Machine.Unit));
            Assert.Equal(["EX-04"], rows.Where(x => x.Unconfirmed > 0).Select(x => x.Machine.Unit));
        }

        Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
        Directory.Delete(folder, recursive: true);
    }
}
