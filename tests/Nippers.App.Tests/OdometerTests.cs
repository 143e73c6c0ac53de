using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;
using Nippers.App.Kinds;
using Nippers.App.Machines;
using Nippers.App.Readings;
using Nippers.App.Today;
using Nippers.App.Work;
using Nippers.Core.Service;
using Nippers.Data;
using Nippers.Data.Records;
using static Nippers.App.Tests.Outcomes;

#pragma warning disable EF1002 // Names of tables and columns come from the database itself.

namespace Nippers.App.Tests;

/// <summary>A machine that is serviced by kilometres too, and the database that came before it.</summary>
public sealed class OdometerTests
{
    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    /// <summary>A loader with an odometer that began at 1000 km, and belts every 5000 km beside their hours.</summary>
    private static async Task<Fleet> Driven()
    {
        var fleet = await Fleet.WithLoader();
        await fleet.Ask(db =>
            db.Machines.ExecuteUpdateAsync(x => x.SetProperty(m => m.CommissionedKm, 1000).SetProperty(m => m.PlannedKmPerDay, 50), Ct)
        );
        await fleet.Ask(db =>
            db.ProgramItems.Where(x => x.Code == "belts")
                .ExecuteUpdateAsync(
                    x =>
                        x.SetProperty(i => i.EveryKm, 5000)
                            .SetProperty(i => i.EveryHours, (Core.Hours.MeterHours?)null)
                            .SetProperty(i => i.FirstAtHours, (Core.Hours.MeterHours?)null),
                    Ct
                )
        );
        return fleet;
    }

    private static Task<Outcome<OdometerRow>> Log(Fleet fleet, string? km, string? at = null, bool confirmed = false, string? key = null) =>
        fleet.Do<LogOdometer, Outcome<OdometerRow>>(x => x.Run(new("WL-01", km, at, confirmed, key), Fleet.Tam, Ct));

    private static async Task<ItemStatus> Belts(Fleet fleet) =>
        (await fleet.Do<MachineView, MachinePage>(async x => (await x.Run("WL-01", Ct))!)).Items.Single(x => x.Item.Code == "belts").Status;

    [Fact]
    public async Task An_item_of_kilometres_follows_the_odometer_to_its_page_to_today_and_after_work()
    {
        await using var fleet = await Driven();
        Assert.True((await Log(fleet, "2500", "2026-02-14")).Done);
        Assert.True((await Log(fleet, "4000,0", "2026-03-16")).Done);

        var belts = await Belts(fleet);
        Assert.Equal((5000, true), (belts.Point.Km!.Due, belts.KmDecides));
        Assert.InRange(belts.KmLeft!.Value, 950, 1000);
        Assert.Equal(DueStatus.Coming, belts.Status);

        // Near its end it is due, and Today knows it from the row that was derived.
        Assert.True((await Log(fleet, "4700", "2026-03-16 06:00", confirmed: true)).Done);
        Assert.Equal(DueStatus.Due, (await Belts(fleet)).Status);
        var today = await fleet.Do<TodayView, TodayPage>(x => x.Run(new(), Ct));
        var line = today.Machines.Single().Groups.SelectMany(x => x.Items).Single(x => x.Point.ItemCode == "belts");
        Assert.Equal((DueStatus.Due, true), (line.Status, line.KmDecides));
        Assert.Equal((await Belts(fleet)).Point.Km!.Due, line.Point.Km!.Due);

        // Done: counted from the kilometres of that day.
        await Ok<RecordWork, RecordedWork>(fleet, x => x.Run(new("WL-01", ["belts"], "355", null, null), Fleet.Tam, Ct));
        Assert.Equal(10_000, (await Belts(fleet)).Point.Km!.Due);
    }

    [Theory]
    [InlineData("", null, "km", "needed")]
    [InlineData("far", null, "km", "notANumber")]
    [InlineData("-5", null, "km", "between")]
    [InlineData("1000000", null, "km", "between")]
    [InlineData("2000", "2026-03-17 12:00", "at", "future")]
    [InlineData("2000", "yesterday", "at", "notATime")]
    [InlineData("1100", "2026-01-01", "at", "beforeCommissioning")]
    [InlineData("900", "2026-01-20", "km", "kmBackward")]
    [InlineData("2499", null, "km", "kmBackward")]
    [InlineData("2600", "2026-01-20", "km", "kmBeyondNext")]
    [InlineData("90000", "2026-02-16", "km", "kmTooFast")]
    [InlineData("20000", null, "km", "kmUnusual")]
    public async Task What_an_odometer_cannot_show_is_told_beside_its_field(string km, string? at, string field, string code)
    {
        await using var fleet = await Driven();
        Assert.True((await Log(fleet, "2500", "2026-02-14")).Done);

        var refusal = Assert.Single((await Log(fleet, km, at)).Refusals);

        Assert.Equal((field, code), (refusal.Field, refusal.Code));
        Assert.Equal(1, await fleet.Ask(db => db.OdometerReadings.CountAsync(Ct)));
    }

    [Fact]
    public async Task An_unusual_figure_is_kept_when_it_is_said_twice_a_repeat_is_harmless_and_an_error_is_taken_out()
    {
        await using var fleet = await Driven();
        Assert.True((await Log(fleet, "2500", "2026-02-14")).Done);
        var kept = (await Log(fleet, "20000", confirmed: true, key: "k1")).Value!;
        Assert.Equal("Tam Ollery", kept.DecidedBy);
        Assert.Equal(kept.Id, (await Log(fleet, "20000", confirmed: true, key: "k1")).Value!.Id);
        Assert.Equal(DueStatus.Overdue, (await Belts(fleet)).Status);

        Assert.Equal("needed", (await Refused<LogOdometer, OdometerRow>(fleet, x => x.Void("WL-01", kept.Id, " ", Fleet.Bea, Ct))).Code);
        await Ok<LogOdometer, OdometerRow>(fleet, x => x.Void("WL-01", kept.Id, "miles", Fleet.Bea, Ct));
        Assert.Equal(
            "odometerGone",
            (await Refused<LogOdometer, OdometerRow>(fleet, x => x.Void("WL-01", kept.Id, "again", Fleet.Bea, Ct))).Code
        );
        Assert.NotEqual(DueStatus.Overdue, (await Belts(fleet)).Status);
        Assert.Equal(1, await fleet.Ask(db => db.OdometerReadings.WithVoided().CountAsync(x => x.VoidReason == "miles", Ct)));
        var page = await fleet.Do<LogOdometer, OdometerPage>(async x => (await x.Page("WL-01", Ct))!);
        Assert.Equal(2500, Assert.Single(page.Lines).Km);
    }

    private static Task<Outcome<Walks.StartedWalk>> Begin(Fleet fleet, string? km, bool really = false, bool atForm = true) =>
        fleet.Do<Walks.StartWalk, Outcome<Walks.StartedWalk>>(x =>
            x.Run(
                new()
                {
                    Unit = "WL-01",
                    Hours = "360",
                    Km = km,
                    KmReally = really,
                    AtForm = atForm,
                },
                Fleet.Tam,
                Ct
            )
        );

    [Theory]
    [InlineData("2700", false, true, null)]
    [InlineData("", false, true, null)]
    [InlineData("20000", true, true, null)]
    [InlineData("20000", false, true, "kmUnusual")]
    [InlineData("2000", false, true, "kmBackward")]
    [InlineData("far", false, true, "notANumber")]
    // What a phone or a program sends has nobody before it to be asked.
    [InlineData("20000", false, false, null)]
    [InlineData("2000", false, false, "kmBackward")]
    public async Task A_walk_takes_the_odometer_along_and_is_not_begun_with_what_it_cannot_show(
        string km,
        bool really,
        bool atForm,
        string? code
    )
    {
        await using var fleet = await Driven();
        Assert.True((await Log(fleet, "2500", "2026-02-14")).Done);

        var begun = await Begin(fleet, km, really, atForm);

        Assert.Equal(code, begun.Refusals is [var first, ..] ? first.Code : null);
        Assert.All(begun.Refusals, x => Assert.Equal("km", x.Field));
        Assert.Equal(code is null ? 1 : 0, await fleet.Ask(db => db.Walks.CountAsync(Ct)));
        Assert.Equal(code is null && km.Length > 0 ? 2 : 1, await fleet.Ask(db => db.OdometerReadings.CountAsync(Ct)));
    }

    [Fact]
    public async Task What_nobody_was_asked_about_waits_and_nothing_is_reckoned_by_it_until_somebody_says_so()
    {
        await using var fleet = await Driven();
        Assert.True((await Log(fleet, "2500", "2026-02-14")).Done);
        var before = await fleet.Do<LogOdometer, OdometerPage>(async x => (await x.Page("WL-01", Ct))!);
        Assert.Equal(2500, before.Last?.Hours.Value);
        Assert.True((await Begin(fleet, "20000", really: false, atForm: false)).Done);

        var waits = await fleet.Do<LogOdometer, OdometerPage>(async x => (await x.Page("WL-01", Ct))!);
        Assert.True(waits.Lines[0] is { Km: 20000, ToConfirm: true, DecidedBy: null });
        Assert.Equal((before.KmNow, before.PerDay), (waits.KmNow, waits.PerDay));
        Assert.Equal(1, await fleet.Ask(db => db.Statuses.Select(x => x.Unconfirmed).SingleAsync(Ct)));

        await Ok<LogOdometer, OdometerRow>(fleet, x => x.Confirm("WL-01", waits.Lines[0].Id, Fleet.Bea, Ct));
        var now = await fleet.Do<LogOdometer, OdometerPage>(async x => (await x.Page("WL-01", Ct))!);
        Assert.True(now.Lines[0] is { ToConfirm: false, DecidedBy: "Bea Lund" });
        Assert.Equal(20000, now.Last?.Hours.Value);
        Assert.Equal(0, await fleet.Ask(db => db.Statuses.Select(x => x.Unconfirmed).SingleAsync(Ct)));
        Assert.Equal(
            "odometerGone",
            (await Refused<LogOdometer, OdometerRow>(fleet, x => x.Confirm("WL-01", now.Lines[0].Id, Fleet.Bea, Ct))).Code
        );
    }

    [Fact]
    public async Task What_waits_is_not_confirmed_against_what_was_read_since()
    {
        await using var fleet = await Driven();
        Assert.True((await Log(fleet, "2500", "2026-02-14")).Done);
        Assert.True((await Begin(fleet, "20000", really: false, atForm: false)).Done);
        fleet.Clock.Advance(TimeSpan.FromDays(1));
        Assert.True((await Log(fleet, "2700")).Done);
        var waits = await fleet.Do<LogOdometer, OdometerPage>(async x => (await x.Page("WL-01", Ct))!);
        Assert.Equal(
            "kmBeyondNext",
            (await Refused<LogOdometer, OdometerRow>(fleet, x => x.Confirm("WL-01", waits.Lines[0].Id, Fleet.Bea, Ct))).Code
        );
        await Ok<LogOdometer, OdometerRow>(fleet, x => x.Void("WL-01", waits.Lines[0].Id, "a digit too many", Fleet.Bea, Ct));
        Assert.Equal(0, await fleet.Ask(db => db.Statuses.Select(x => x.Unconfirmed).SingleAsync(Ct)));
    }

    [Fact]
    public async Task A_walk_of_a_machine_without_an_odometer_takes_no_kilometres()
    {
        await using var fleet = await Fleet.WithLoader();
        var refusal = Assert.Single((await Begin(fleet, "2700")).Refusals);
        Assert.Equal(("km", "noOdometer"), (refusal.Field, refusal.Code));
        Assert.Equal(0, await fleet.Ask(db => db.Walks.CountAsync(Ct)));
    }

    private static async Task<Outcome<Exchange.AppliedImport>> Import(Fleet fleet, string text)
    {
        var draft = await fleet.Do<Exchange.ReadingsImport, string>(x => x.SaveDraft("km.csv", text, Fleet.Tam, Ct));
        return await fleet.Do<Exchange.ReadingsImport, Outcome<Exchange.AppliedImport>>(x => x.Apply(draft, Fleet.Tam, Ct));
    }

    [Fact]
    public async Task A_file_of_odometers_is_kept_whole_once_and_comes_out_as_it_went_in()
    {
        await using var fleet = await Driven();
        const string Text = "unit,at,km\r\nWL-01,2026-03-10T06:00:00Z,2600\r\nwl 1,2026-02-14T06:00:00Z,2500.5\r\n";
        Assert.Equal(new(2, 0, 0), (await Import(fleet, Text)).Value);
        Assert.Equal(new(0, 0, 2), (await Import(fleet, Text)).Value);

        using var csv = new StringWriter();
        Assert.True(await fleet.Do<Exchange.ExportVisits, bool>(x => x.Csv("odometer", csv, "WL-01", Ct)));
        Assert.Equal("unit,at,km\r\nWL-01,2026-02-14T06:00:00Z,2500.5\r\nWL-01,2026-03-10T06:00:00Z,2600\r\n", csv.ToString());
    }

    [Theory]
    [InlineData("WL-01,2026-03-10T06:00:00Z,20000", "kmUnusual")]
    [InlineData("WL-01,2026-03-10T06:00:00Z,2000", "kmBackward")]
    [InlineData("WL-01,2026-03-10T06:00:00Z,far", "notANumber")]
    [InlineData("WL-01,someday,2600", "notATime")]
    [InlineData("WL-01,2020-03-10T06:00:00Z,2600", "beforeCommissioning")]
    public async Task One_figure_that_an_odometer_cannot_show_holds_its_file_back(string row, string code)
    {
        await using var fleet = await Driven();
        Assert.True((await Log(fleet, "2500", "2026-02-14")).Done);
        var text = "unit,at,km\r\nWL-01,2026-02-20T06:00:00Z,2510\r\n" + row;
        var preview = await fleet.Do<Exchange.ReadingsImport, Exchange.ImportPreview>(x => x.Preview(text, Ct));
        Assert.Equal([null, code], preview.Rows.Select(x => x.Refusal?.Code));
        Assert.False((await Import(fleet, text)).Done);
        Assert.Equal(1, await fleet.Ask(db => db.OdometerReadings.CountAsync(Ct)));
    }

    [Fact]
    public async Task A_file_of_odometers_for_a_machine_without_one_is_refused()
    {
        await using var fleet = await Fleet.WithLoader();
        var preview = await fleet.Do<Exchange.ReadingsImport, Exchange.ImportPreview>(x =>
            x.Preview("unit,at,km\r\nWL-01,2026-03-10T06:00:00Z,2600", Ct)
        );
        Assert.Equal("noOdometer", Assert.Single(preview.Rows).Refusal?.Code);
    }

    [Fact]
    public async Task A_machine_without_an_odometer_takes_none_and_what_goes_by_kilometres_alone_is_due()
    {
        await using var fleet = await Driven();
        await fleet.Ask(db => db.Machines.ExecuteUpdateAsync(x => x.SetProperty(m => m.CommissionedKm, (int?)null), Ct));

        Assert.Equal("noOdometer", Assert.Single((await Log(fleet, "2000")).Refusals).Code);
        Assert.Null((await fleet.Do<LogOdometer, OdometerPage>(async x => (await x.Page("WL-01", Ct))!)).KmNow);
        Assert.Null(await fleet.Do<LogOdometer, OdometerPage?>(x => x.Page("XX-99", Ct)));
        var belts = await Belts(fleet);
        Assert.Equal((DueStatus.Due, true), (belts.Status, belts.NoRecord));
    }

    [Fact]
    public async Task A_database_of_the_first_shape_comes_to_the_newest_with_all_that_was_in_it()
    {
        await using var fleet = await Fleet.Empty();
        var old = fleet.File + ".old";
        var options = new DbContextOptionsBuilder<NippersDb>();
        NippersDb.Configure(options, old);
        await using (var db = new NippersDb(options.Options))
        {
            await db.GetService<IMigrator>().MigrateAsync("First", Ct);

            // As it was filled before: every table but those that came later, by name of column.
            await db.Database.ExecuteSqlAsync($"ATTACH {fleet.File} AS newer", Ct);
            await fleet.AddMachine("WL-01");
            await fleet.Log("WL-01", 12, Fleet.Now.AddDays(-50));
            await fleet.Ask(db =>
                db.Programs.Where(x => x.Code == "starter-wheel-loader")
                    .ExecuteUpdateAsync(x => x.SetProperty(p => p.Name, "Loader of ours"), Ct)
            );
            foreach (var table in new[] { "Sites", "Programs", "ProgramItems", "ProgramCompartments", "Machines", "Readings", "Statuses" })
            {
                var columns = await db
                    .Database.SqlQueryRaw<string>($"SELECT group_concat('\"' || name || '\"') AS Value FROM pragma_table_info('{table}')")
                    .SingleAsync(Ct);
                await db.Database.ExecuteSqlRawAsync($"INSERT INTO main.{table} ({columns}) SELECT {columns} FROM newer.{table}", Ct);
            }

            // Kinds that this Nippers did not know.
            await db.Database.ExecuteSqlRawAsync("DELETE FROM Programs WHERE Code IN ('starter-telehandler', 'starter-compactor')", Ct);
        }

        await using var from = Fleet.On(old);
        var copy = await from.Do<Setup, string?>(x => x.Migrate(Ct));
        await from.Do<Setup>(x => x.AddStarters(Ct));

        // Kinds that came since are there with list and program; what was there under a code stays.
        var kinds = await from.Do<KindCatalog, IReadOnlyList<KindLine>>(x => x.All(Ct));
        Assert.All(kinds, x => Assert.True(x is { Lists.Count: 1, Programs.Count: 1 }, x.Name));
        Assert.Equal("Loader of ours", kinds.Single(x => x.Kind.Code == "wheel-loader").Programs[0].Name);
        await from.Do<Setup>(x => x.AddStarters(Ct));
        Assert.Equal(kinds.Count, await from.Ask(db => db.WalkLists.CountAsync(Ct)));

        Assert.True(File.Exists(copy));
        Assert.Equal(0, await from.Ask(db => db.Statuses.CountAsync(Ct)));
        var page = await from.Do<MachineView, MachinePage>(async x => (await x.Run("WL-01", Ct))!);
        Assert.Equal(12, page.Now.Use.Last.Hours.Value);
        Assert.Single((await from.Do<TodayView, TodayPage>(x => x.Run(new(), Ct))).Machines);
        Assert.Equal(await Schema(fleet), await Schema(from));

        static Task<string> Schema(Fleet of) =>
            of.Ask(async db =>
                string.Join(
                    '\n',
                    await db
                        .Database.SqlQueryRaw<string>(
                            "SELECT m.name || '.' || c.name || ' ' || c.type || ' ' || c.\"notnull\" AS Value FROM sqlite_master m, pragma_table_info(m.name) c WHERE m.type = 'table' AND m.name NOT LIKE '\\_\\_%' ESCAPE '\\' ORDER BY 1"
                        )
                        .ToListAsync(Ct)
                )
            );
    }
}
