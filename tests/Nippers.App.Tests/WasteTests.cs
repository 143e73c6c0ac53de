using Microsoft.EntityFrameworkCore;
using Nippers.App.Parts;
using Nippers.Data.Parts;

namespace Nippers.App.Tests;

/// <summary>What left as waste, by month and one by one.</summary>
public sealed class WasteTests
{
    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    private static WasteRow Of(DateOnly on, string stream, double amount, int? machine = null, bool voided = false) =>
        new()
        {
            On = on,
            Stream = stream,
            Amount = amount,
            Place = "Drum",
            MachineId = machine,
            By = "Tam Ollery",
            EnteredAt = Fleet.Now,
            VoidedAt = voided ? Fleet.Now : null,
        };

    [Fact]
    public async Task Waste_is_summed_by_month_and_kind_and_each_line_says_of_which_machine()
    {
        await using var fleet = await Fleet.WithLoader();
        await fleet.AddMachine("WL-77");
        var today = DateOnly.FromDateTime(Fleet.Now.UtcDateTime);
        await fleet.Ask(async db =>
        {
            var machines = await db.Machines.ToDictionaryAsync(x => x.Unit, x => x.Id, Ct);
            db.Waste.AddRange(
                Of(today, "oil", 20, machines["WL-77"]),
                Of(today, "oil", 1.5),
                Of(today, "filters", 3, machines["WL-77"]),
                Of(today, "oil", 400, machines["WL-77"], voided: true),
                Of(today.AddMonths(-1), "oil", 7, machines["WL-01"]),
                Of(today.AddMonths(-14), "oil", 900)
            );
            return await db.SaveChangesAsync(Ct);
        });

        var log = await fleet.Do<PartViews, WasteLog>(x => x.Waste(Ct));
        Assert.Equal([(3, 21.5, 3d), (2, 7, 0)], log.Months.Select(x => (x.Month.Month, Sum(x, "oil"), Sum(x, "filters"))));
        Assert.Equal(["WL-77", null, "WL-77", "WL-01"], log.Rows.OrderBy(x => x.Row.Id).Select(x => x.Unit));

        static double Sum(WasteMonth month, string stream) => month.Amounts.GetValueOrDefault(stream);
    }
}
