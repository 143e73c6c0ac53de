using Microsoft.EntityFrameworkCore;
using Nippers.App.Machines;
using Nippers.App.Phones;
using Nippers.App.Work;
using Nippers.Core.Hours;
using Nippers.Data.Queries;
using Nippers.Data.Records;
using static Nippers.App.Tests.Outcomes;

namespace Nippers.App.Tests;

/// <summary>The parts of the machine page, and how much of a machine's history each of those who ask gets.</summary>
public sealed class MachineViewTests
{
    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    private static Task<MachineReadings> Readings(Fleet fleet) => fleet.Part("WL-01", (x, page) => x.Readings(page, Ct));

    [Fact]
    public async Task A_reading_that_nobody_has_confirmed_is_asked_about_however_many_came_after_it()
    {
        await using var fleet = await Fleet.WithLoader();
        var waits = (await fleet.Log("WL-01", 374, Fleet.Now)).Value!.ReadingId!.Value;
        for (var day = 1; day <= 9; day++)
        {
            fleet.Clock.Advance(TimeSpan.FromDays(1));
            Assert.Equal(ReadingCode.Ok, (await fleet.Log("WL-01", 356 + day * 6, Fleet.Now.AddDays(day))).Value!.Judgement!.Code);
        }

        var page = await fleet.Page("WL-01");
        var part = await Readings(fleet);

        Assert.Equal((1, 0), (page.Unconfirmed, page.UnconfirmedKm));
        Assert.Equal([.. Enumerable.Repeat(ReadingState.Accepted, 7), ReadingState.Unconfirmed], part.Readings.Select(x => x.State));
        Assert.Equal(waits, part.Readings[^1].Id);
        Assert.Equal(part.Readings.OrderByDescending(x => x.At).Select(x => x.Id), part.Readings.Select(x => x.Id));
    }

    [Fact]
    public async Task The_use_per_day_is_shown_with_the_spans_that_it_comes_from()
    {
        await using var fleet = await Fleet.WithLoader();
        var part = await Readings(fleet);

        Assert.Equal(7, part.Readings.Count);
        Assert.Equal(29, part.Evidence.Length);
        Assert.All(part.Evidence, x => Assert.Equal(6, x.Rate, 1e-9));
        Assert.NotEmpty(part.BlockMeans);
    }

    [Fact]
    public async Task A_tape_and_a_log_hold_the_work_that_was_recorded_and_a_part_says_who_did_an_item_last()
    {
        await using var fleet = await Fleet.WithLoader();
        Task Do(string hours, Actor by) =>
            Ok<RecordWork, RecordedWork>(fleet, x => x.Run(new("WL-01", ["engine-oil", "air-primary"], hours, null, null), by, Ct));
        await Do("355", Fleet.Tam);
        fleet.Clock.Advance(TimeSpan.FromDays(1));
        await Do("360", Fleet.Bea);

        Assert.Equal([355, 360], (await fleet.Part("WL-01", (x, page) => x.Overview(page, Ct))).PastWork);
        var last = await fleet.Part("WL-01", (x, page) => x.LastDone(page, Ct));
        Assert.Equal((Fleet.Bea.Name, MeterHours.Of(360)), (last["engine-oil"].By, last["engine-oil"].LifeHours));
        var log = await fleet.Part("WL-01", (x, page) => x.Log(page, Ct));
        Assert.Equal([360, 355], log.Work.Select(x => x.ShownHours.Value));
        Assert.All(log.Work, x => Assert.Equal(2, x.Rows.Count));
        Assert.Equal("work.record", log.Audit[0].What);
    }

    [Fact]
    public async Task An_overview_names_the_last_walk_that_looked_at_something_and_today_s_alone_as_today_s()
    {
        await using var fleet = await Fleet.WithLoader();
        var nobody = await fleet.Part("WL-01", (x, page) => x.Overview(page, Ct));
        Assert.Equal((null, null), (nobody.LastWalk, nobody.WalkedAt(new(2026, 3, 16))));

        var on = new DateOnly(2026, 3, 15);
        var walked = new MachineOverview(
            [],
            new()
            {
                On = on,
                FinishedAt = Fleet.Now,
                Batch = "",
                StartedBy = "",
                Checks = "",
                Answers = "",
            }
        );
        Assert.Equal((Fleet.Now, null), (walked.WalkedAt(on), walked.WalkedAt(on.AddDays(1))));
    }

    [Fact]
    public async Task Compartments_of_a_machine_are_its_program_s_with_its_own_litres()
    {
        await using var fleet = await Fleet.WithLoader();
        var id = (await fleet.Page("WL-01")).Machine.Id;
        await fleet.Do<Data.NippersDb>(async db =>
        {
            await db.MachineCompartments.Where(x => x.MachineId == id && x.Code == "engine").ExecuteDeleteAsync(Ct);
            db.MachineCompartments.Add(
                new()
                {
                    MachineId = id,
                    Code = "engine",
                    CapacityLitres = new(31),
                }
            );
            await db.SaveChangesAsync(Ct);
        });

        var compartments = await fleet.Part("WL-01", (x, page) => x.Compartments(page, Ct));
        Assert.Equal(31, compartments.Single(x => x.Compartment.Code == "engine").CapacityLitres);
        Assert.True(compartments.Single(x => x.Compartment.Code == "engine") is { Items: > 0, Next: not null, Sampled: true });
    }

    [Fact]
    public async Task A_phone_gets_a_quarter_of_the_readings_with_the_one_before_it_and_the_fills_of_long_items()
    {
        await using var fleet = await Fleet.WithLoader();
        await Ok<RecordWork, RecordedWork>(fleet, x =>
            x.Run(new("WL-01", ["engine-oil", "hydraulic-oil", "air-primary"], "354", null, null), Fleet.Tam, Ct)
        );
        fleet.Clock.Advance(TimeSpan.FromDays(60));
        var now = fleet.Clock.GetUtcNow();
        var whole = (await fleet.Ask(db => db.FactsOf("WL-01", now, Ct)))!;
        var kit = (await fleet.Do<PhoneKits, PhoneKit>(x => x.All(works: true, Ct))).Machines.Single();

        var since = now.AddDays(-90);
        var before = whole.Record.Readings.Count(x => x.At < since);
        var expected = whole.Record.Readings.Skip(before - 1).ToList();
        Assert.InRange(expected.Count, 5, whole.Record.Readings.Length - 5);
        Assert.Equal(expected, kit.ToRecord().Readings);
        Assert.Equal(
            whole
                .Items.Where(x => x.EveryHours > MeterHours.Of(500) && x.Compartment.Length > 0 && whole.LastDone.ContainsKey(x.Code))
                .GroupBy(x => x.Compartment)
                .ToDictionary(x => x.Key, x => x.Max(y => whole.LastDone[y.Code].Hours)),
            kit.Filled
        );
        Assert.Contains("hydraulic", kit.Filled.Keys);
    }
}
