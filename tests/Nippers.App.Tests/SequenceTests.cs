using System.Globalization;
using System.Text.Json;
using CsCheck;
using Microsoft.EntityFrameworkCore;
using Nippers.App.Defects;
using Nippers.App.Machines;
using Nippers.App.Readings;
using Nippers.App.Statuses;
using Nippers.App.Walks;
using Nippers.App.Work;
using Nippers.Core.Defects;
using Nippers.Core.Walk;
using Nippers.Data.Defects;
using Nippers.Data.Fleet;
using Nippers.Data.Records;

namespace Nippers.App.Tests;

/// <summary>
/// Whatever people do one after another, the status that is kept is the one that a rebuild derives, and a refusal changes
/// nothing.
/// </summary>
public sealed class SequenceTests
{
    private static readonly string[] Items = ["engine-oil", "engine-oil-sample", "belts", "hydraulic-oil", "fuel-primary"];
    private static readonly Actor Mara = new("Mara Quill", Roles.Planner);

    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    /// <summary>One thing that somebody does; figures are picked from what stands in the fleet at that moment.</summary>
    private sealed record Deed(int Kind, int Pick, int Hours)
    {
        public override string ToString() => $"{Kind}/{Pick}/{Hours}";
    }

    private const int Kinds = 13;

    private static readonly Gen<Deed[]> Deeds = Gen.Select(
        Gen.Int[0, Kinds - 1],
        Gen.Int[0, 1000],
        Gen.Int[-40, 260],
        (kind, pick, hours) => new Deed(kind, pick, hours)
    ).Array[4, 14];

    private static string Text(double hours) => hours.ToString("0.0", CultureInfo.InvariantCulture);

    /// <summary>Does one deed; true when it was done and not refused.</summary>
    private static async Task<bool> Do(Fleet fleet, Deed deed)
    {
        var readings = await fleet.Ask(db => db.Readings.AsNoTracking().OrderBy(x => x.Id).ToListAsync(Ct));
        var last = readings.Where(x => x.State == ReadingState.Accepted).Max(x => x.LifeHours).Value;
        var batches = await fleet.Ask(db => db.Completions.Select(x => x.Batch).Distinct().OrderBy(x => x).ToListAsync(Ct));
        var defects = await fleet.Ask(db => db.Defects.OrderBy(x => x.Id).Select(x => x.Id).ToListAsync(Ct));
        var topUps = await fleet.Ask(db => db.TopUps.OrderBy(x => x.Id).Select(x => x.Id).ToListAsync(Ct));
        long Of(IReadOnlyList<long> ids) => ids.Count == 0 ? 0 : ids[deed.Pick % ids.Count];
        var item = Items[deed.Pick % Items.Length];
        var now = fleet.Clock.GetUtcNow();
        return deed.Kind switch
        {
            0 => (await fleet.Log("WL-01", Math.Max(0, last + deed.Hours / 20.0), now)).Done,
            1 => (await fleet.Log("WL-01", Math.Max(0, last + deed.Hours / 8.0), now)).Done,
            2 => (
                await fleet.Do<DecideReading, Outcome<ReadingRow>>(x =>
                    x.Confirm("WL-01", Of([.. readings.Select(r => r.Id)]), Fleet.Bea, Ct)
                )
            ).Done,
            3 => (
                await fleet.Do<DecideReading, Outcome<ReadingRow>>(x =>
                    x.Void("WL-01", readings[^(1 + deed.Pick % 5)].Id, "wrong dial", Fleet.Bea, Ct)
                )
            ).Done,
            4 or 5 => (
                await fleet.Do<RecordWork, Outcome<RecordedWork>>(x =>
                    x.Run(
                        new("WL-01", [item], Text(Math.Max(0, last + deed.Hours / 100.0)), null, null, Confirmed: deed.Pick % 2 == 0),
                        Fleet.Tam,
                        Ct
                    )
                )
            ).Done,
            6 => batches.Count > 0
                && (
                    await fleet.Do<VoidWork, Outcome<Nothing>>(x =>
                        x.Run("WL-01", batches[deed.Pick % batches.Count], deed.Pick % 3 == 0 ? item : null, "wrong machine", Fleet.Bea, Ct)
                    )
                ).Done,
            7 => (
                await fleet.Do<DeclareBaseline, Outcome<Nothing>>(x =>
                    x.Run(
                        new("WL-01", [item], Text(Math.Max(0, last - 100 + deed.Hours / 10.0)), "2026-02-20", "Seller", null),
                        Fleet.Tam,
                        Ct
                    )
                )
            ).Done,
            8 => (
                await fleet.Do<ReportDefect, Outcome<DefectRow>>(x =>
                    x.Run(
                        new()
                        {
                            Unit = "WL-01",
                            Words = "Guard loose",
                            Grade = (DefectGrade)(deed.Pick % 4),
                            LimitHours = "20",
                            LimitDays = "3",
                        },
                        Fleet.Tam,
                        Ct
                    )
                )
            ).Done,
            9 => (
                await fleet.Do<RepairDefect, Outcome<DefectRow>>(x =>
                    x.Repair(Of(defects), new("New bolt", null, "10", null, null), Fleet.Tam, Ct)
                )
            ).Done,
            10 => (
                await fleet.Do<RepairDefect, Outcome<DefectRow>>(x =>
                    x.Release(Of(defects), deed.Pick % 2 == 0, "Looked at it", Fleet.Bea, Ct)
                )
            ).Done,
            11 => await Walk(fleet, Text(Math.Max(0, last + deed.Hours / 50.0)), deed.Pick % 2 == 0),
            _ => deed.Pick % 2 == 0
                ? (await fleet.Do<LogTopUp, Outcome<LoggedTopUp>>(x => x.Run("WL-01", "1.5", "engine", null, Fleet.Tam, Ct))).Done
                : (await fleet.Do<LogTopUp, Outcome<Nothing>>(x => x.Void("WL-01", Of(topUps), Fleet.Tam, Ct))).Done,
        };
    }

    /// <summary>A walk from end to end, its greasing with it: what it does of service items it completes.</summary>
    private static async Task<bool> Walk(Fleet fleet, string hours, bool greased)
    {
        var begun = await WalkRig.Start(fleet, hours, knows: true);
        if (!begun.Done)
            return false;
        var id = begun.Value!.WalkId;
        var checks = (await WalkRig.Context(fleet, id)).Checks;
        foreach (var check in checks.Where(x => x == checks[0] || (greased && x.Kind == CheckKind.Grease)))
            Assert.Equal("", WalkRig.Code(await WalkRig.Answer(fleet, id, WalkRig.Good(check))));
        Assert.Equal("", WalkRig.Code(await WalkRig.Finish(fleet, id, "busy")));
        return true;
    }

    private static Task<string> Rows(Fleet fleet) =>
        fleet.Ask(async db => JsonSerializer.Serialize(await db.Statuses.AsNoTracking().OrderBy(x => x.MachineId).ToListAsync(Ct)));

    [Fact]
    public Task Any_sequence_of_deeds_keeps_the_status_that_a_rebuild_derives() =>
        Deeds.SampleAsync(
            async deeds =>
            {
                await using var fleet = await Fleet.WithLoader();
                foreach (var deed in deeds)
                {
                    fleet.Clock.Advance(TimeSpan.FromHours(7));
                    await fleet.Do<Standings>(x => x.Rebuild(fleet.Clock.GetUtcNow(), Ct));
                    var before = await fleet.Fingerprint();
                    var done = await Do(fleet, deed);
                    if (!done)
                        Assert.Equal(before, await fleet.Fingerprint());
                    var kept = await Rows(fleet);
                    await fleet.Do<Standings>(x => x.Rebuild(fleet.Clock.GetUtcNow(), Ct));
                    Assert.Equal(kept, await Rows(fleet));
                }
            },
            iter: 40,
            threads: 1
        );

    [Fact]
    public async Task A_deed_and_its_undoing_leave_dues_as_they_were()
    {
        await using var fleet = await Fleet.WithLoader();
        async Task<string> Dues() =>
            string.Join(
                ';',
                (await fleet.Page("WL-01")).Items.Select(x => $"{x.Item.Code} {x.Status.DueHours} {x.Status.DueOn} {x.Status.Status}")
            );
        var before = await Dues();
        foreach (var item in Items)
        {
            var work = (
                await fleet.Do<RecordWork, Outcome<RecordedWork>>(x => x.Run(new("WL-01", [item], "354", null, null), Fleet.Tam, Ct))
            ).Value!;
            Assert.NotEqual(before, await Dues());
            Assert.True((await fleet.Do<VoidWork, Outcome<Nothing>>(x => x.Run("WL-01", work.Batch, null, "not done", Mara, Ct))).Done);
            Assert.Equal(before, await Dues());
        }

        Assert.True((await fleet.Do<ParkMachine, Outcome<ParkedRow>>(x => x.Park("WL-01", null, "Rain", Fleet.Tam, Ct))).Done);
        Assert.True((await fleet.Do<ParkMachine, Outcome<ParkedRow>>(x => x.Unpark("WL-01", Fleet.Tam, Ct))).Done);
        Assert.Equal(before, await Dues());
    }
}
