using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Nippers.App.Oil;
using Nippers.App.Visits;
using Nippers.Core.Oil;
using Nippers.Core.Service;
using Nippers.Data;
using Nippers.Data.Oil;
using Nippers.Data.Visits;
using static Nippers.App.Tests.Outcomes;

namespace Nippers.App.Tests;

/// <summary>A loader with oil in it and a laboratory: what tests of samples begin with.</summary>
internal static class OilRig
{
    public const string Unit = "WL-01";
    public const string Engine = "engine-oil-sample";
    public const string Hydraulic = "hydraulic-sample";
    public static readonly Actor Mara = new("Mara Quill", Roles.Planner);

    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    /// <summary>A loader whose oils are known, and a laboratory. Its meter shows about 356 h.</summary>
    public static async Task<Fleet> Ready()
    {
        var fleet = await Fleet.WithLoader();
        await Ok<MachineData, Nothing>(fleet, x =>
            x.Save(
                Unit,
                new(
                    [
                        new("engine", "24", "15W-40", "1.4", "1", "", "", "", "", ""),
                        new("hydraulic", "200", "HV 46", "2", "1", "", "", "", "", ""),
                    ],
                    null,
                    null,
                    null,
                    null,
                    null
                ),
                Fleet.Tam,
                Ct
            )
        );
        await Ok<WorkshopService, Shop>(fleet, x => x.Save(
                new()
                {
                    Currency = "£",
                    Vessels = "",
                    Fluids = "15W-40; 4\nHV 46; 3",
                },
                Mara,
                Ct
            ));
        await Ok<Labs, LabRow>(fleet, x => x.Save(new(null, 0, "Sannet", "http://lab.invalid", "secret", true), Mara, Ct));
        return fleet;
    }

    public static TakeSampleInput Taking(string item = Engine, string hours = "356", string? bottle = null) =>
        new()
        {
            Unit = Unit,
            Item = item,
            Hours = hours,
            Bottle = bottle,
            Method = DrawMethod.LivePort,
            Engine = DrawState.Running,
        };

    public static Task<SampleRow> Take(Fleet fleet, string item = Engine, string hours = "356", string? bottle = null) =>
        Ok<TakeSample, SampleRow>(fleet, x => x.Run(Taking(item, hours, bottle), Fleet.Tam, Ct));

    public static async Task<ItemStatus> Stand(Fleet fleet, string item) =>
        (await fleet.Page(Unit)).Items.Single(x => x.Item.Code == item).Status;

    /// <summary>Results by hand: what is not named is quiet.</summary>
    public static Task<SampleRow> Results(Fleet fleet, long id, params (Measurand Measurand, double Value)[] loud)
    {
        var typed = new Dictionary<string, string?>
        {
            ["Fe"] = "20",
            ["Cu"] = "5",
            ["Pb"] = "3",
            ["Al"] = "3",
            ["Cr"] = "1",
            ["Sn"] = "1",
            ["Ni"] = "1",
            ["Si"] = "5",
            ["Na"] = "5",
            ["K"] = "2",
            ["water"] = "<0.02",
        };
        foreach (var (measurand, value) in loud)
            typed[measurand.Code()] = value.ToString(CultureInfo.InvariantCulture);
        return Ok<TakeResults, SampleRow>(fleet, x => x.ByHand(id, typed, null, null, null, Fleet.Tam, Ct));
    }

    public static async Task<SignedSample> Sign(Fleet fleet, long id, SignInput input) =>
        await Ok<ReviewSample, SignedSample>(fleet, async x =>
            await x.Run(id, input with { Version = (await Row(fleet, id)).Version }, Fleet.Tam, Ct)
        );

    public static Task<SampleRow> Row(Fleet fleet, long id) =>
        fleet.Ask(db => db.Samples.AsNoTracking().WithVoided().SingleAsync(x => x.Id == id, Ct));

    public static async Task Send(Fleet fleet, params long[] ids)
    {
        var lab = await fleet.Ask(db => db.Labs.SingleAsync(Ct));
        await Ok<SendSamples, ConsignmentRow>(fleet, x => x.Run(ids, lab.Id, Fleet.Tam, Ct));
    }

    public static string Answer(long cursor, params (string Bottle, string Fe)[] results)
    {
        var list = string.Join(',', results.Select(x => $$$"""{"bottle":"{{{x.Bottle}}}","figures":{"Fe":{{{x.Fe}}},"water":"<0.02"}}"""));
        return $$"""{"results":[{{list}}],"cursor":{{cursor}}}""";
    }

    public static (string Field, string Code) Of(Refusal refusal) => (refusal.Field, refusal.Code);

    /// <summary>Works on to some hours, 25 days later, and takes a sample there.</summary>
    public static async Task<SampleRow> TakeAt(Fleet fleet, string item, double hours)
    {
        fleet.Clock.Advance(TimeSpan.FromDays(25));
        Assert.True((await fleet.Log(Unit, hours, fleet.Clock.GetUtcNow())).Done);
        return await Take(fleet, item, hours.ToString(CultureInfo.InvariantCulture));
    }

    public static async Task<SamplePage> Page(Fleet fleet, long id) => (await fleet.Do<SampleViews, SamplePage?>(x => x.One(id, Ct)))!;

    public static Task<Tray> Tray(Fleet fleet, TrayFilter? filter = null) => fleet.Do<SampleQueues, Tray>(x => x.Load(filter ?? new(), Ct));

    /// <summary>One round to the laboratories.</summary>
    public static Task<int> Round(Fleet fleet, bool atOnce = false) => fleet.Do<LabOutbox, int>(x => x.Round(atOnce, Ct));

    public static Task<LabRow> Lab(Fleet fleet) => fleet.Ask(db => db.Labs.AsNoTracking().SingleAsync(Ct));
}
