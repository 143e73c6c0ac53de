using Microsoft.EntityFrameworkCore;
using Nippers.App.Walks;
using Nippers.Core.Walk;
using Nippers.Data;
using Nippers.Data.Fleet;

namespace Nippers.Bench;

/// <summary>Walks and defects of the big database: 600 k walks with 25 M answers, measures and defects with rows of their own.</summary>
internal static class BigWalks
{
    private const int Walks = 1200;
    private const int Defects = 40;
    private const int MeasureEvery = 8;

    public static async Task Make(NippersDb db, IReadOnlyList<Machine> machines, DateTimeOffset start, CancellationToken ct)
    {
        var lists = await db.WalkListVersions.AsNoTracking().Include(x => x.List).ToListAsync(ct);
        await using var transaction = await db.Database.BeginTransactionAsync(ct);
        using var walks = new BulkRows(
            db,
            "Walks",
            "Id",
            "MachineId",
            "VersionId",
            "Round",
            "State",
            "On",
            "StartedMs",
            "FinishedMs",
            "StartedBy",
            "FinishedBy",
            "Late",
            "LifeTenths",
            "ShownTenths",
            "Weather",
            "Ground",
            "Checks",
            "Due",
            "Answered",
            "Faults",
            "LeftOut",
            "Answers",
            "Note",
            "Batch",
            "RunStatus"
        );
        using var measures = new BulkRows(db, "Measures", "MachineId", "CheckCode", "Value", "AtMs", "On", "LifeTenths", "WalkId", "Used");
        using var done = new BulkRows(db, "ChecksDone", "WalkId", "CheckCode", "MachineId", "LifeTenths", "Voided");
        using var defects = new BulkRows(
            db,
            "Defects",
            "MachineId",
            "Place",
            "PlaceName",
            "Words",
            "Grade",
            "FoundGrade",
            "Safety",
            "State",
            "By",
            "AtMs",
            "On",
            "LifeTenths",
            "LimitTenths",
            "LimitOn",
            "ClockFromMs",
            "CheckCode",
            "Code",
            "Version",
            "RepairedBy",
            "RepairedMs",
            "RepairedTenths",
            "RepairWords"
        );
        long id = 0;
        var span = (DateTimeOffset.UtcNow.AddHours(-20) - start).TotalMilliseconds;
        foreach (var machine in machines)
        {
            var version = lists.First(x => x.List.Kind == machine.Kind);
            var list = version.ToList();
            var route = WalkRoute
                .Steps(
                    list,
                    WalkRoute.Due(list, machine.OptionWords, WalkRound.Whole, new Dictionary<string, Core.Hours.MeterHours>(), default)
                )
                .SelectMany(x => x.Checks)
                .ToList();
            var codes = route.ConvertAll(x => x.Code);
            var checks = WalkChecks.Pack(codes, list);
            var answers = PackedAnswers.Pack(
                codes,
                route.ToDictionary(
                    x => x.Code,
                    x =>
                        x.Kind switch
                        {
                            CheckKind.Level => new LevelAnswer(0.75, FluidLook.Clear) { Ticked = true },
                            CheckKind.Measure => new MeasureAnswer([.. Enumerable.Repeat(30d, x.Figures)]) { Ticked = true },
                            CheckKind.Count or CheckKind.Grease => new PointsAnswer([.. x.Points.Select(_ => PointState.Good)])
                            {
                                Ticked = true,
                            },
                            CheckKind.Drain => new DrainAnswer(DrainAmount.None),
                            _ => CheckAnswer.Plain,
                        }
                )
            );
            var measured = route.FindAll(x => x.Kind == CheckKind.Measure);
            var longer = route.FindAll(x => WalkRoute.IntervalHours(x.Cadence) is not null);
            int Life(double share) => (int)(share * 1826 * (30 + machine.Id % 40));
            string Day(DateTimeOffset at) => at.ToString("yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture);
            for (var i = 0; i < Walks; i++)
            {
                var share = (i + 1) / (double)Walks;
                var at = start.AddMilliseconds(span * share);
                var ms = at.ToUnixTimeMilliseconds();
                walks.Add(
                    ++id,
                    machine.Id,
                    version.Id,
                    0,
                    1,
                    Day(at),
                    ms,
                    ms + 480_000,
                    "Bea Lund",
                    "Bea Lund",
                    false,
                    Life(share),
                    Life(share),
                    0,
                    0,
                    checks,
                    codes.Count,
                    codes.Count,
                    0,
                    0,
                    answers,
                    "",
                    $"walk-{id}",
                    0
                );
                if (i % MeasureEvery != 0)
                    continue;
                foreach (var check in measured)
                    measures.Add(machine.Id, check.Code, 30.0, ms, Day(at), Life(share), id, true);
                foreach (var check in longer)
                    done.Add(id, check.Code, machine.Id, Life(share), false);
            }

            for (var i = 0; i < Defects; i++)
            {
                var share = (i + 1) / (Defects + 1.0);
                var at = start.AddMilliseconds(span * share);
                var (open, ms) = (i >= Defects - 3, at.ToUnixTimeMilliseconds());
                var grade = open ? i % 3 : 1;
                defects.Add(
                    machine.Id,
                    $"engine:part-{i}",
                    "Engine",
                    "Weeps at a joint",
                    grade,
                    grade,
                    0,
                    open ? 0 : 2,
                    "Bea Lund",
                    ms,
                    Day(at),
                    Life(share),
                    grade == 2 ? Life(1) + 400 : null,
                    null,
                    ms,
                    "",
                    "",
                    1,
                    open ? null : "Tam Ollery",
                    open ? null : ms + 86_400_000,
                    open ? null : Life(share),
                    open ? null : "New seal"
                );
            }
        }

        await transaction.CommitAsync(ct);
    }
}
