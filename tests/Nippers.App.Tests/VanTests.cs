using Microsoft.EntityFrameworkCore;
using Nippers.App.Visits;
using Nippers.Data.Visits;
using static Nippers.App.Tests.CardRig;
using static Nippers.App.Tests.Outcomes;

namespace Nippers.App.Tests;

/// <summary>A pick list into the van, and out of it.</summary>
public sealed class VanTests
{
    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    private static (string, string, bool) Line(string name, bool returns) => (name, name + " in words", returns);

    [Fact]
    public async Task What_is_used_again_is_asked_for_by_name_until_it_is_back()
    {
        await using var fleet = await Ready();
        var id = await Planned(fleet, EngineOil);
        await Ok<Van, VisitRow>(fleet, x =>
            x.Load(id, [Line("gear:Stands", true), Line("part:UM7-110", false), Line("gear:Rags", false)], Fleet.Tam, Ct)
        );
        Assert.Equal(3, (await fleet.Do<Van, IReadOnlyList<VanLine>>(x => x.Of(id, Ct))).Count);

        // One was not there after all; what stays keeps who put it in.
        await Ok<Van, VisitRow>(fleet, x => x.Load(id, [Line("gear:Stands", true), Line("part:UM7-110", false)], Fleet.Bea, Ct));
        var van = await fleet.Do<Van, IReadOnlyList<VanLine>>(x => x.Of(id, Ct));
        Assert.Equal([("gear:Stands", "Tam Ollery"), ("part:UM7-110", "Tam Ollery")], van.Select(x => (x.Line, x.InBy)).Order());

        await Ok<Van, VisitRow>(fleet, x => x.Unload(id, ["part:UM7-110", "gear:None"], Fleet.Bea, Ct));
        Assert.All(await fleet.Do<Van, IReadOnlyList<VanLine>>(x => x.Of(id, Ct)), x => Assert.Null(x.OutAt));
        await Ok<Van, VisitRow>(fleet, x => x.Unload(id, ["gear:Stands"], Fleet.Bea, Ct));
        var back = (await fleet.Do<Van, IReadOnlyList<VanLine>>(x => x.Of(id, Ct))).Single(x => x.Returns);
        Assert.Equal(("Bea Lund", true), (back.OutBy, back.OutAt is not null));
    }

    [Fact]
    public async Task A_visit_that_is_called_off_loads_no_van()
    {
        await using var fleet = await Ready();
        var id = await Planned(fleet, EngineOil);
        await Ok<PlanVisit, VisitRow>(fleet, x => x.Cancel(id, "rain", Fleet.Tam, Ct));
        Assert.Equal("noSuchVisit", await RefusedWith<Van, VisitRow>(fleet, x => x.Load(id, [Line("gear:Stands", true)], Fleet.Tam, Ct)));
        Assert.Equal("noSuchVisit", await RefusedWith<Van, VisitRow>(fleet, x => x.Unload(99, ["gear:Stands"], Fleet.Tam, Ct)));
        Assert.False(await fleet.Ask(db => db.VanLines.AnyAsync(Ct)));
    }
}
