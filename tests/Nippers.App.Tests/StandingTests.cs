using System.Data.Common;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Diagnostics;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Time.Testing;
using Nippers.App.Machines;
using Nippers.App.Statuses;
using Nippers.App.Today;
using Nippers.Core.Service;
using Nippers.Data;
using Nippers.Data.Fleet;

namespace Nippers.App.Tests;

public sealed class StandingTests
{
    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    [Fact]
    public async Task Rows_kept_by_every_change_are_what_a_rebuild_derives()
    {
        await using var fleet = await Fleet.WithLoader();
        await fleet.AddMachine("WL-02", History.Unknown, 4000);
        await fleet.Log("WL-02", 4006, Fleet.Now);
        await fleet.Do<Work.RecordWork, Outcome<Work.RecordedWork>>(x =>
            x.Run(new("WL-01", ["engine-oil", "belts"], "354", "2026-03-15", null), Fleet.Tam, Ct)
        );
        await fleet.Do<Work.DeclareBaseline, Outcome<Nothing>>(x =>
            x.Run(new("WL-02", ["engine-oil"], "3900", "2026-01-01", "Seller", null), Fleet.Tam, Ct)
        );
        await fleet.Log("WL-01", 374, Fleet.Now);

        Task<string> Rows() =>
            fleet.Ask(async db =>
                System.Text.Json.JsonSerializer.Serialize(await db.Statuses.AsNoTracking().OrderBy(x => x.MachineId).ToListAsync(Ct))
            );
        var kept = await Rows();
        Assert.Equal(2, await fleet.Do<Standings, int>(x => x.Rebuild(Fleet.Now, Ct)));
        Assert.Equal(kept, await Rows());
    }

    [Fact]
    public async Task Today_says_of_a_machine_what_its_own_page_says()
    {
        await using var fleet = await Fleet.WithLoader();
        fleet.Clock.Advance(TimeSpan.FromMinutes(40));
        var today = Assert.Single((await fleet.Do<TodayView, TodayPage>(x => x.Run(new(), Ct))).Machines);
        var page = await fleet.Page("WL-01");
        Assert.Equal(page.Now.Hours, today.Now.Hours, 1e-2);
        Assert.Equal(
            page.Groups.Select(x => (x.DueHours, x.Status, x.Items.Length)),
            today.Groups.Select(x => (x.DueHours, x.Status, x.Items.Length))
        );
    }

    [Fact]
    public async Task Time_alone_makes_items_due_and_machines_stale()
    {
        await using var fleet = await Fleet.WithLoader();
        Task<TodayPage> Today() => fleet.Do<TodayView, TodayPage>(x => x.Run(new(Look: TodayFilter.Stale), Ct));
        Assert.Equal(0, (await Today()).Counts.Stale);
        fleet.Clock.Advance(TimeSpan.FromDays(20));
        var later = await Today();
        Assert.Equal((1, 1), (later.Counts.Stale, later.Machines.Count));
        Assert.True(later.Machines[0].Now.Hours > 354 + 19 * 5);
    }

    [Fact]
    public async Task Filters_choose_by_site_kind_and_standing()
    {
        await using var fleet = await Fleet.WithLoader();
        await fleet.AddMachine("WL-02");
        Task<TodayPage> Today(TodayFilter filter) => fleet.Do<TodayView, TodayPage>(x => x.Run(filter, Ct));
        var all = (await Today(new())).Machines;
        Assert.Equal(DueStatus.Overdue, all.Single(x => x.Unit == "WL-01").Status);
        foreach (var status in new[] { DueStatus.Overdue, DueStatus.Due, DueStatus.Coming })
        {
            Assert.Equal(
                all.Where(x => x.Status == status).Select(x => x.Unit).Order(),
                (await Today(new(Status: status))).Machines.Select(x => x.Unit).Order()
            );
        }

        Assert.Empty((await Today(new(Site: "Elsewhere"))).Machines);
        Assert.Empty((await Today(new(Kind: MachineKind.Of("backhoe-loader")))).Machines);
        Assert.Equal(2, (await Today(new(Site: "Yard", Kind: MachineKind.Of("wheel-loader")))).Machines.Count);
    }

    [Theory]
    [InlineData(2)]
    [InlineData(100)]
    public async Task Today_and_the_machine_page_read_the_same_number_of_queries_whatever_the_fleets_size(int machines)
    {
        await using var fleet = await Fleet.WithLoader();
        for (var i = 2; i <= machines; i++)
            await fleet.AddMachine($"WL-{i:00}");

        var counter = new Counter();
        var clock = new FakeTimeProvider(Fleet.Now);
        await using var services = new ServiceCollection()
            .AddSingleton<TimeProvider>(clock)
            .AddDbContext<NippersDb>(
                x => NippersDb.Configure(x, fleet.File).AddInterceptors(counter),
                ServiceLifetime.Scoped,
                ServiceLifetime.Singleton
            )
            .AddNippers(fleet.File)
            .BuildServiceProvider();
        async Task<int> Read<T>(Func<T, Task> read)
            where T : notnull
        {
            await using var scope = services.CreateAsyncScope();
            await read(scope.ServiceProvider.GetRequiredService<T>());
            return counter.Take();
        }

        // The first look reads the program, which is kept from then on.
        Assert.Equal(14, await Read<TodayView>(x => x.Run(new(), Ct)));
        Assert.Equal(11, await Read<TodayView>(x => x.Run(new(), Ct)));

        // The head of a machine's page, and each of its parts besides.
        Assert.Equal(15, await Read<MachineView>(x => x.Run("WL-01", Ct)));
        await using var rows = services.CreateAsyncScope();
        var stand = (await rows.ServiceProvider.GetRequiredService<MachineView>().Run("WL-01", Ct))!;
        counter.Take();
        Assert.Equal(2, await Read<MachineView>(x => x.Overview(stand, Ct)));
        Assert.Equal(2, await Read<MachineView>(x => x.LastDone(stand, Ct)));
        Assert.Equal(1, await Read<MachineView>(x => x.Readings(stand, Ct)));
        Assert.Equal(3, await Read<MachineView>(x => x.Log(stand, Ct)));
        Assert.Equal(1, await Read<MachineView>(x => x.Compartments(stand, Ct)));

        // A day later the rows are derived anew first, in batches, not machine by machine.
        clock.Advance(TimeSpan.FromDays(1));
        Assert.InRange(await Read<TodayView>(x => x.Run(new(), Ct)), 13, 52);
    }

    [Fact]
    public async Task Rows_are_derived_for_pages_before_they_are_old()
    {
        await using var fleet = await Fleet.WithLoader();
        Assert.Equal(1, await fleet.Do<Standings, int>(x => x.Rebuild(fleet.Clock.GetUtcNow(), Ct)));
        var ahead = TimeSpan.FromMinutes(20);

        // Whoever looks has nothing to do with them until they are an hour old.
        fleet.Clock.Advance(TimeSpan.FromMinutes(39));
        Assert.Equal(0, await Refresh(ahead));
        fleet.Clock.Advance(TimeSpan.FromMinutes(2));
        Assert.Equal(0, await Refresh());
        Assert.Equal(1, await Refresh(ahead));
        fleet.Clock.Advance(TimeSpan.FromMinutes(39));
        Assert.Equal(0, await Refresh());
        fleet.Clock.Advance(TimeSpan.FromMinutes(22));
        Assert.Equal(1, await Refresh());

        Task<int> Refresh(TimeSpan by = default) => fleet.Do<Standings, int>(x => x.RefreshStale(fleet.Clock.GetUtcNow(), Ct, by));
    }

    [Fact]
    public async Task A_database_from_before_is_copied_before_it_is_migrated_and_can_be_backed_up_in_use()
    {
        await using var fleet = await Fleet.WithLoader();
        Assert.Null(await fleet.Do<Setup, string?>(x => x.Migrate(Ct)));
        var copy = fleet.File + ".bak";
        await fleet.Do<NippersDb>(x => x.BackUp(copy, Ct));
        var options = new DbContextOptionsBuilder<NippersDb>();
        NippersDb.Configure(options, copy);
        await using var db = new NippersDb(options.Options);
        Assert.Equal(30, await db.Readings.CountAsync(Ct));
        Assert.Equal(
            "wal",
            (await db.Database.SqlQueryRaw<string>("SELECT journal_mode AS Value FROM pragma_journal_mode").ToListAsync(Ct))[0]
        );
        Assert.Equal(2, (await db.Database.SqlQueryRaw<int>("SELECT synchronous AS Value FROM pragma_synchronous").ToListAsync(Ct))[0]);
        Assert.Equal(1, (await db.Database.SqlQueryRaw<int>("SELECT foreign_keys AS Value FROM pragma_foreign_keys").ToListAsync(Ct))[0]);
        Assert.False(db.Database.HasPendingModelChanges());
    }

    private sealed class Counter : DbCommandInterceptor
    {
        private int _count;

        public int Take() => Interlocked.Exchange(ref _count, 0);

        public override ValueTask<InterceptionResult<DbDataReader>> ReaderExecutingAsync(
            DbCommand command,
            CommandEventData eventData,
            InterceptionResult<DbDataReader> result,
            CancellationToken cancellationToken = default
        )
        {
            // Writing rows back is one statement a row; it is the reading that must not grow.
            if (
                command.CommandText.StartsWith("SELECT", StringComparison.Ordinal)
                || command.CommandText.StartsWith("WITH", StringComparison.Ordinal)
            )
                Interlocked.Increment(ref _count);
            return base.ReaderExecutingAsync(command, eventData, result, cancellationToken);
        }
    }
}
