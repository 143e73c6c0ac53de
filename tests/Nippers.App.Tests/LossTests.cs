using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Nippers.App.Defects;
using Nippers.App.Exchange;
using Nippers.App.Oil;
using Nippers.App.Parts;
using Nippers.App.Readings;
using Nippers.App.Statuses;
using Nippers.App.Today;
using Nippers.App.Visits;
using Nippers.App.Walks;
using Nippers.Core.Defects;
using Nippers.Core.Oil;
using Nippers.Data;
using Nippers.Data.Defects;
using Nippers.Data.Oil;
using Nippers.Data.Parts;
using Nippers.Data.Visits;
using static Nippers.App.Tests.Outcomes;

namespace Nippers.App.Tests;

/// <summary>Nothing that was said to be kept is lost, kept twice, or shown as it no longer is.</summary>
public sealed class LossTests
{
    private const string Unit = "WL-01";

    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    [Fact]
    public async Task Who_reads_while_others_write_never_writes_back_what_it_had_read_before()
    {
        await using var fleet = await Fleet.WithLoader();
        for (var i = 2; i <= 6; i++)
            await fleet.AddMachine($"WL-{i:00}");

        // Every row is old each time, so that whoever reads derives them anew, beside those who log.
        for (var round = 1; round <= 12; round++)
        {
            fleet.Clock.Advance(StatusKeeper.GoodFor + TimeSpan.FromMinutes(1));
            var now = fleet.Clock.GetUtcNow();
            var hours = 360 + round * 0.2;
            var logged = Task.Run(() => fleet.Log(Unit, hours, now));
            await Task.WhenAll(
                logged,
                Task.Run(() => fleet.Do<TodayView>(x => x.Run(new(), Ct)), Ct),
                Task.Run(() => fleet.Do<TodayView>(x => x.Run(new(), Ct)), Ct),
                Task.Run(() => fleet.Do<WalkViews>(x => x.Overview(null, 1, Ct)), Ct)
            );

            Assert.True((await logged).Done, string.Join(", ", (await logged).Refusals));
            Assert.Equal(hours, (await fleet.Status(Unit)).LastHours.Value, 1e-3);
        }
    }

    [Fact]
    public async Task A_stop_that_is_kept_is_on_Today_whoever_reads_meanwhile()
    {
        await using var fleet = await Fleet.WithLoader();
        for (var i = 2; i <= 9; i++)
            await fleet.AddMachine($"WL-{i:00}");
        fleet.Clock.Advance(StatusKeeper.GoodFor + TimeSpan.FromMinutes(1));

        var stops = Enumerable.Range(1, 9).Select(i => Task.Run(() => Stop(fleet, $"WL-{i:00}")));
        var reads = Enumerable.Range(1, 9).Select(_ => Task.Run(() => fleet.Do<TodayView>(x => x.Run(new(), Ct)), Ct));
        await Task.WhenAll(stops.Concat(reads));

        Assert.Equal(9, await fleet.Ask(db => db.Statuses.CountAsync(x => x.OutOfService, Ct)));
    }

    [Fact]
    public async Task What_cannot_be_written_now_is_still_read()
    {
        await using var fleet = await Fleet.WithLoader();
        fleet.Clock.Advance(TimeSpan.FromDays(2));
        var gate = await fleet.Do<WriteGate, WriteGate>(Task.FromResult);
        using (await gate.Enter(Ct))
            Assert.Single((await fleet.Do<TodayView, TodayPage>(x => x.Run(new(), Ct))).Machines);
    }

    [Fact]
    public async Task Others_have_their_turn_between_the_rows_of_a_long_list()
    {
        await using var fleet = await Fleet.Empty();
        var gate = await fleet.Do<WriteGate, WriteGate>(Task.FromResult);
        var (had, before) = (false, 0);
        Task? other = null;
        var taken = await fleet.Do<UnitOfWork, int>(x =>
            x.InTurns(
                Enumerable.Range(0, 100).ToList(),
                _ =>
                {
                    other ??= Other();
                    before += had ? 0 : 1;
                    return Task.CompletedTask;
                },
                Ct
            )
        );
        await other!;
        Assert.Equal(100, taken);
        Assert.InRange(before, 1, 50);

        async Task Other()
        {
            using var turn = await gate.Enter(Ct);
            had = true;
        }
    }

    [Fact]
    public async Task Of_a_long_list_what_was_taken_stays_when_the_next_turn_does_not_come()
    {
        await using var fleet = await Fleet.WithLoader();
        using var gate = new WriteGate(TimeSpan.FromSeconds(2));
        Task<IDisposable?>? other = null;
        var taken = await InTurns(100);

        Assert.InRange(taken, 1, 99);
        Assert.Equal(taken, await fleet.Ask(db => db.Audit.CountAsync(x => x.What == "row", Ct)));

        // Not even the first one: that nothing was kept is true then, and is said.
        await Assert.ThrowsAsync<DatabaseBusyException>(() => InTurns(1));
        (await other!)!.Dispose();

        Task<int> InTurns(int rows) =>
            fleet.Do<IServiceProvider, int>(services =>
            {
                var db = services.GetRequiredService<NippersDb>();
                var writes = new UnitOfWork(db, services.GetRequiredService<StatusKeeper>(), gate, fleet.Clock);
                return writes.InTurns(
                    Enumerable.Range(0, rows).ToList(),
                    row =>
                    {
                        writes.Audit(Fleet.Tam, "row", $"{row}", null, null, null);
                        other ??= gate.TryEnter(TimeSpan.FromMinutes(1), Ct);
                        return Task.CompletedTask;
                    },
                    Ct
                );
            });
    }

    [Fact]
    public async Task Whoever_cannot_begin_to_write_in_time_is_told_to_come_again()
    {
        using var gate = new WriteGate(TimeSpan.FromMilliseconds(200));
        using var over = new ManualResetEventSlim();
        var begun = new TaskCompletionSource();
        var first = gate.OnWriter(
            _ =>
            {
                begun.SetResult();
                over.Wait(Ct);
                return Task.FromResult(1);
            },
            Ct
        );
        await begun.Task;
        await Assert.ThrowsAsync<DatabaseBusyException>(() => gate.OnWriter(_ => Task.FromResult(2), Ct));
        using var gone = new CancellationTokenSource();
        var second = gate.OnWriter(_ => Task.FromResult(3), gone.Token);
        await gone.CancelAsync();
        await Assert.ThrowsAnyAsync<OperationCanceledException>(() => second);
        over.Set();
        Assert.Equal(1, await first);
    }

    [Fact]
    public async Task It_is_told_while_somebody_writes_or_waits_for_it_and_once_when_nobody_does_any_more()
    {
        using var gate = new WriteGate();
        var told = new List<bool>();
        gate.Writing = told.Add;
        using var over = new ManualResetEventSlim();
        Task<int> Ask() => gate.OnWriter(_ => Task.FromResult(Held()), Ct);
        int Held()
        {
            over.Wait(Ct);
            return 1;
        }

        var asked = new[] { Ask(), Ask(), Ask() };
        Assert.Equal([true], told);
        over.Set();
        await Task.WhenAll(asked);
        Assert.Equal([true, false], told);

        // More within his own turn is no second one, and whoever fails writes no longer.
        await gate.OnWriter(_ => gate.OnWriter(_ => Task.FromResult(1), Ct), Ct);
        await Assert.ThrowsAsync<InvalidOperationException>(() => gate.OnWriter<int>(_ => throw new InvalidOperationException(), Ct));
        Assert.Equal([true, false, true, false, true, false], told);
    }

    [Fact]
    public async Task A_file_is_read_before_a_turn_to_write_is_taken()
    {
        await using var fleet = await Fleet.Empty();
        var gate = await fleet.Do<WriteGate, WriteGate>(Task.FromResult);
        using (await gate.Enter(Ct))
        {
            using var broken = new MemoryStream("""{"format":"nippers-fleet","version":1,"sites":[{"name":"""u8.ToArray());
            var outcome = await fleet.Do<ImportFleet, Outcome<ImportedFleet>>(x => x.Run(broken, Fleet.Tam, null, Ct));
            Assert.StartsWith("fleet", outcome.Refusals.Single().Code, StringComparison.Ordinal);
        }
    }

    private static Task<DefectRow> Stop(Fleet fleet, string unit) =>
        Ok<ReportDefect, DefectRow>(fleet, x => x.Run(Defect(unit, "pedal to the floor"), Fleet.Tam, Ct));

    private static DefectInput Defect(string unit, string words, string? key = null) =>
        new()
        {
            Unit = unit,
            On = MachinePart.Brakes,
            Words = words,
            Grade = DefectGrade.Stop,
            Key = key,
        };

    private delegate Task<IReadOnlyList<Refusal>> Write(Fleet fleet, string? key, bool other);

    private static readonly Dictionary<string, (Write Write, Func<NippersDb, Task<int>> Count)> Keyed = new(StringComparer.Ordinal)
    {
        ["reading"] = (
            (fleet, key, other) => Log(fleet, Unit, other ? "357" : "356.5", key),
            db => db.Readings.CountAsync(x => x.ShownHours >= new Core.Hours.MeterHours(3560), Ct)
        ),
        ["reading of another machine"] = (
            (fleet, key, other) => Log(fleet, other ? "WL-02" : Unit, "356.5", key),
            db => db.Readings.CountAsync(x => x.ShownHours >= new Core.Hours.MeterHours(3560), Ct)
        ),
        ["defect"] = (
            async (fleet, key, other) =>
                (
                    await fleet.Do<ReportDefect, Outcome<DefectRow>>(x =>
                        x.Run(Defect(Unit, other ? "and the other" : "pedal", key), Fleet.Tam, Ct)
                    )
                ).Refusals,
            db => db.Defects.CountAsync(Ct)
        ),
        ["note"] = (
            async (fleet, key, other) =>
            {
                var id = await fleet.Ask(async db => (await db.Defects.FirstOrDefaultAsync(Ct))?.Id) ?? (await Stop(fleet, Unit)).Id;
                var note = await fleet.Do<DefectNotes, Outcome<DefectRow>>(x => x.Add(id, other ? "more" : "seen", [], key, Fleet.Tam, Ct));
                return note.Refusals;
            },
            db => db.DefectEvents.CountAsync(x => x.Act == DefectAct.Said, Ct)
        ),
        ["waste"] = (
            async (fleet, key, other) =>
                (
                    await fleet.Do<PartCatalog, Outcome<WasteRow>>(x =>
                        x.LogWaste("oil", other ? "21" : "20", "Tank 2", "2026-03-14", key, Fleet.Tam, Ct)
                    )
                ).Refusals,
            db => db.Waste.CountAsync(Ct)
        ),
        ["stock"] = (
            async (fleet, key, other) =>
                (
                    await fleet.Do<PartCatalog, Outcome<StockMove>>(x =>
                        x.Move("UM7-110", "Yard", StockMoveKind.Receipt, other ? "3" : "2", null, key, Fleet.Tam, Ct)
                    )
                ).Refusals,
            db => db.StockMoves.CountAsync(Ct)
        ),
        ["coolant test"] = (
            async (fleet, key, other) =>
                (
                    await fleet.Do<CoolantTests, Outcome<CoolantTestRow>>(x =>
                        x.Keep(Unit, new() { Share = other ? "44" : "45", Key = key }, Fleet.Tam, Ct)
                    )
                ).Refusals,
            db => db.CoolantTests.CountAsync(Ct)
        ),
        ["top-up"] = (
            async (fleet, key, other) =>
                (
                    await fleet.Do<LogTopUp, Outcome<LoggedTopUp>>(x => x.Run(Unit, other ? "3" : "2", "engine", key, Fleet.Tam, Ct))
                ).Refusals,
            db => db.TopUps.CountAsync(Ct)
        ),
    };

    public static TheoryData<string> KeyedWrites => [.. Keyed.Keys];

    private static async Task<IReadOnlyList<Refusal>> Log(Fleet fleet, string unit, string hours, string? key) =>
        (await fleet.Do<LogReading, Outcome<LoggedReading>>(x => x.Run(new(unit, hours, Key: key, At: Fleet.Now), Fleet.Tam, Ct))).Refusals;

    [Theory]
    [MemberData(nameof(KeyedWrites))]
    public async Task Under_a_key_the_same_is_kept_once_and_another_thing_is_refused_not_dropped(string what)
    {
        await using var fleet = await Fleet.WithLoader();
        await fleet.AddMachine("WL-02");
        await Ok<PartCatalog, PartRow>(fleet, x => x.Save(
                new()
                {
                    Number = "UM7-110",
                    Name = "Filter",
                    Price = "12",
                },
                Fleet.Tam,
                Ct
            ));
        var (write, count) = Keyed[what];

        Assert.Empty(await write(fleet, "one", false));
        Assert.Empty(await write(fleet, "one", false));
        Assert.Equal(1, await fleet.Ask(count));

        Assert.Equal("keyUsed", Assert.Single(await write(fleet, "one", true)).Code);
        Assert.Equal("keyTooLong", Assert.Single(await write(fleet, new('k', UnitOfWork.LongestKey + 1), false)).Code);
        Assert.Equal(1, await fleet.Ask(count));

        Assert.DoesNotContain(await write(fleet, "two", true), x => x.Code is "keyUsed" or "alreadyDone");
    }

    [Fact]
    public async Task A_form_that_comes_twice_at_once_is_kept_once()
    {
        await using var fleet = await Fleet.WithLoader();
        var both = await Task.WhenAll(
            Enumerable
                .Range(0, 6)
                .Select(_ =>
                    Task.Run(() => fleet.Do<ReportDefect, Outcome<DefectRow>>(x => x.Run(Defect(Unit, "pedal", "k"), Fleet.Tam, Ct)))
                )
        );
        Assert.All(both, x => Assert.True(x.Done));
        Assert.Equal(1, await fleet.Ask(db => db.Defects.CountAsync(Ct)));
    }

    [Fact]
    public async Task A_bottle_whose_results_are_in_is_the_same_bottle_when_its_card_is_closed_anew()
    {
        await using var fleet = await CardRig.Ready();
        var id = await CardRig.Opened(fleet, CardRig.EngineOil, CardRig.Fuel, OilRig.Engine);
        await CardRig.Through(fleet, id);
        await CardRig.Close(fleet, id);
        var sample = await fleet.Ask(db => db.Samples.SingleAsync(Ct));
        await OilRig.Results(fleet, sample.Id, (Measurand.Fe, 40));

        await Ok<CloseVisit, VisitRow>(fleet, x => x.Reopen(id, "wrong litres", Fleet.Tam, Ct));
        Assert.Equal(sample.Id, (await fleet.Ask(db => db.Samples.SingleAsync(Ct))).Id);
        await CardRig.Close(fleet, id);

        var kept = await fleet.Ask(db => db.Samples.SingleAsync(Ct));
        Assert.Equal((sample.Id, SampleState.Reported), (kept.Id, kept.State));
        Assert.Equal((await CardRig.Row(fleet, id)).Batch, kept.Batch);
        Assert.Single(await fleet.Do<SampleQueues, IReadOnlyList<BottleLabel>>(x => x.Labels([kept.Bottle], Ct)));
    }

    [Fact]
    public async Task Two_live_samples_of_one_bottle_cannot_be_kept()
    {
        await using var fleet = await OilRig.Ready();
        var one = await OilRig.Take(fleet);
        var two = await OilRig.Take(fleet, OilRig.Hydraulic);
        var fault = await Assert.ThrowsAsync<SqliteException>(() =>
            fleet.Ask(db => db.Samples.Where(x => x.Id == two.Id).ExecuteUpdateAsync(x => x.SetProperty(m => m.Bottle, one.Bottle), Ct))
        );
        Assert.Contains("Bottle", fault.Message, StringComparison.Ordinal);
    }
}
