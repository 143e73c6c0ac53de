using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using Nippers.Core.Defects;
using Nippers.Core.Hours;
using Nippers.Data;
using Nippers.Data.Defects;
using Nippers.Data.Fleet;
using Nippers.Data.Queries;
using Nippers.Data.Records;

namespace Nippers.App.Defects;

/// <summary>Raises defects whose limit has passed. Runs wherever a machine's standing is derived, so that no clock is forgotten.</summary>
public sealed class DefectClocks(NippersDb db)
{
    /// <summary>Whom the history names for what the clock did.</summary>
    public const string ClockName = "Nippers";

    // A service is what comes round after this many hours; greasing is no visit.
    private static readonly MeterHours VisitHours = new(2000);

    private sealed record Visit(int MachineId, DateTimeOffset EnteredAt);

    /// <summary>Raises what has passed on some machines; the caller's transaction holds it.</summary>
    /// <returns>Open defects of these machines, as they now are.</returns>
    public async Task<ILookup<int, DefectRow>> Apply(
        IReadOnlyCollection<MachineFacts> machines,
        DateTimeOffset now,
        CancellationToken ct,
        bool raise = true
    )
    {
        var ids = machines.Select(x => x.Machine.Id).ToList();
        var defects = await db
            .Defects.Where(x => ids.Contains(x.MachineId) && (x.State == DefectState.Open || x.State == DefectState.Repaired))
            .ToListAsync(ct);
        var byMachine = defects.ToLookup(x => x.MachineId);
        if (defects.Count == 0 || !raise)
            return byMachine;

        var visits = (
            await Visits(
                [
                    .. defects
                        .Where(x => x is { Grade: DefectGrade.NextService, LimitHours: null, LimitOn: null })
                        .Select(x => x.MachineId)
                        .Distinct(),
                ],
                ct
            )
        ).ToDictionary(x => x.MachineId, x => x.EnteredAt);
        foreach (var facts in machines)
        {
            var hours = DefectService.LastHours(facts);
            var today = LocalDay.Of(now, facts.Zone);
            foreach (var defect in byMachine[facts.Machine.Id].Where(x => x.State == DefectState.Open || x.Grade == DefectGrade.Limit))
            {
                // The day of the visit itself is still open: its repairs may be written after its services.
                var visited =
                    visits.TryGetValue(defect.MachineId, out var at) && at > defect.ClockFrom && LocalDay.Of(at, facts.Zone) < today;
                if (defect.Clock.Passed(hours, today, visited))
                    Raise(defect, facts.Machine, hours, today, now);
            }
        }

        await db.SaveChangesAsync(ct);
        return byMachine;
    }

    /// <summary>Machines with a defect whose limit may have passed by now.</summary>
    /// <param name="now">Now.</param>
    /// <param name="ct">Cancels.</param>
    /// <param name="among">Machines to look at; null for all.</param>
    public Task<List<int>> Passed(DateTimeOffset now, CancellationToken ct, IQueryable<int>? among = null)
    {
        // Somewhere it is tomorrow already; the exact day is asked per machine.
        var day = DateOnly.FromDateTime(now.UtcDateTime).AddDays(1);
        return (among is null ? db.Defects : db.Defects.Where(x => among.Contains(x.MachineId)))
            .Where(x =>
                (x.State == DefectState.Open || (x.State == DefectState.Repaired && x.Grade == DefectGrade.Limit))
                && x.Grade != DefectGrade.Stop
                && (
                    x.LimitOn < day
                    || (x.LimitHours != null && db.Statuses.Any(s => s.MachineId == x.MachineId && s.LastHours > x.LimitHours))
                )
            )
            .Select(x => x.MachineId)
            .Distinct()
            .ToListAsync(ct);
    }

    private void Raise(DefectRow defect, Machine machine, MeterHours hours, DateOnly today, DateTimeOffset now)
    {
        var from = defect.Grade;
        var raised = defect.Clock.Raised(hours, today);
        db.DefectEvents.Add(
            new()
            {
                DefectId = defect.Id,
                At = now,
                By = ClockName,
                Act = DefectAct.Raised,
                From = from,
                To = raised.Grade,
                LimitHours = defect.LimitHours,
                LimitOn = defect.LimitOn,
            }
        );
        db.Audit.Add(
            new()
            {
                At = now,
                Who = ClockName,
                What = "defect.raised",
                Subject = string.Create(System.Globalization.CultureInfo.InvariantCulture, $"{machine.Unit} #{defect.Id}"),
                MachineId = defect.MachineId,
                Before = JsonSerializer.Serialize(new { grade = from.ToString() }),
                After = JsonSerializer.Serialize(new { grade = raised.Grade.ToString() }),
            }
        );
        defect.Grade = raised.Grade;
        defect.LimitHours = raised.LimitHours;
        defect.LimitOn = raised.LimitOn;
        defect.ClockFrom = now;
        defect.Version++;
        if (raised.Grade == DefectGrade.Stop)
            db.Stoppages.Add(
                new()
                {
                    MachineId = defect.MachineId,
                    DefectId = defect.Id,
                    From = now,
                    Contact = machine.Site.Contact,
                }
            );
    }

    private async Task<List<Visit>> Visits(List<int> machineIds, CancellationToken ct) =>
        machineIds.Count == 0
            ? []
            : await db
                .Completions.Where(x => machineIds.Contains(x.MachineId) && x.Kind == CompletionKind.Work)
                .Join(
                    db.Machines,
                    c => c.MachineId,
                    m => m.Id,
                    (c, m) =>
                        new
                        {
                            c.MachineId,
                            c.ItemCode,
                            c.EnteredAt,
                            m.ProgramId,
                        }
                )
                .Where(x => db.ProgramItems.Any(i => i.ProgramId == x.ProgramId && i.Code == x.ItemCode && i.EveryHours >= VisitHours))
                .GroupBy(x => x.MachineId)
                .Select(g => new Visit(g.Key, g.Max(x => x.EnteredAt)))
                .ToListAsync(ct);
}
