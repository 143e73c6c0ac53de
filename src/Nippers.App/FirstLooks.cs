using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Nippers.App.Machines;
using Nippers.App.Oil;
using Nippers.App.Parts;
using Nippers.App.Phones;
using Nippers.App.Today;
using Nippers.App.Visits;
using Nippers.App.Walks;
using Nippers.Core.Oil;
using Nippers.Data;
using Nippers.Data.Visits;

namespace Nippers.App;

/// <summary>What people open first, to be gone through once before they do.</summary>
public static class FirstLooks
{
    /// <summary>
    /// Each reads what its page reads, and changes what its page would: standing rows that are due, limits that have passed.
    /// </summary>
    public static IReadOnlyList<Func<IServiceProvider, CancellationToken, Task>> All { get; } =
    [
        (x, ct) => x.GetRequiredService<TodayView>().Run(new(), ct),
        (x, ct) => x.GetRequiredService<PartNeeds>().Renew(ct),
        (x, ct) => x.GetRequiredService<VisitViews>().List(new(), ct),
        (x, ct) => x.GetRequiredService<PhoneKits>().All(works: true, ct),
        (x, ct) => x.GetRequiredService<SampleQueues>().Load(new(), ct),
        (x, ct) => x.GetRequiredService<SampleViews>().Fleet(OilKind.Engine, Measurand.Fe, null, ct),
        async (x, ct) =>
        {
            var db = x.GetRequiredService<NippersDb>();
            if (await db.Machines.Where(m => !m.Retired).OrderBy(m => m.Id).Select(m => m.Unit).FirstOrDefaultAsync(ct) is not { } unit)
                return;
            var view = x.GetRequiredService<MachineView>();
            await view.Overview((await view.Run(unit, ct))!, ct);
            await x.GetRequiredService<WalkViews>().Start(unit, ct);
            await x.GetRequiredService<PlanVisit>().Draft(new(unit, null, []), ct);
        },
        async (x, ct) =>
        {
            var open = x.GetRequiredService<NippersDb>().Visits.Where(v => v.State == VisitState.Open).OrderBy(v => v.Id).Select(v => v.Id);
            foreach (var id in await open.Take(1).ToListAsync(ct))
                await x.GetRequiredService<VisitViews>().Job(id, ct);
        },
        // Each zone is a file: some hundred are read when a list of them is asked for the first time.
        (_, _) =>
        {
            _ = TimeZoneInfo.GetSystemTimeZones();
            return Task.CompletedTask;
        },
    ];
}
