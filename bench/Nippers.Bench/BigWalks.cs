using Microsoft.EntityFrameworkCore;
using Nippers.App.Walks;
using Nippers.Core.Defects;
using Nippers.Core.Hours;
using Nippers.Core.Walk;
using Nippers.Data;
using Nippers.Data.Defects;
using Nippers.Data.Fleet;
using Nippers.Data.Walks;

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
        using var walks = new BulkRows<WalkRow>(db);
        using var measures = new BulkRows<MeasureRow>(db);
        using var done = new BulkRows<CheckDoneRow>(db);
        using var defects = new BulkRows<DefectRow>(db);
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
            MeterHours Life(double share) => new((int)(share * 1826 * (30 + machine.Id % 40)));
            DateOnly Day(DateTimeOffset at) => DateOnly.FromDateTime(at.UtcDateTime);
            for (var i = 0; i < Walks; i++)
            {
                var share = (i + 1) / (double)Walks;
                var at = start.AddMilliseconds(span * share);
                walks.Add(
                    new()
                    {
                        Id = ++id,
                        MachineId = machine.Id,
                        VersionId = version.Id,
                        Round = 0,
                        State = WalkState.Finished,
                        On = Day(at),
                        StartedAt = at,
                        FinishedAt = at.AddMinutes(8),
                        StartedBy = "Bea Lund",
                        FinishedBy = "Bea Lund",
                        Late = false,
                        LifeHours = Life(share),
                        ShownHours = Life(share),
                        Weather = 0,
                        Ground = 0,
                        Checks = checks,
                        Due = codes.Count,
                        Answered = codes.Count,
                        Faults = 0,
                        LeftOut = 0,
                        Answers = answers,
                        Note = "",
                        Batch = $"walk-{id}",
                        RunStatus = 0,
                    }
                );
                if (i % MeasureEvery != 0)
                    continue;
                foreach (var check in measured)
                    measures.Add(
                        new()
                        {
                            MachineId = machine.Id,
                            CheckCode = check.Code,
                            Value = 30.0,
                            At = at,
                            On = Day(at),
                            LifeHours = Life(share),
                            WalkId = id,
                            Used = true,
                        }
                    );
                foreach (var check in longer)
                    done.Add(
                        new()
                        {
                            WalkId = id,
                            CheckCode = check.Code,
                            MachineId = machine.Id,
                            LifeHours = Life(share),
                            Voided = false,
                        }
                    );
            }

            for (var i = 0; i < Defects; i++)
            {
                var share = (i + 1) / (Defects + 1.0);
                var at = start.AddMilliseconds(span * share);
                var open = i >= Defects - 3;
                var grade = open ? (DefectGrade)(i % 3) : DefectGrade.NextService;
                defects.Add(
                    new()
                    {
                        MachineId = machine.Id,
                        Place = $"engine:part-{i}",
                        PlaceName = "Engine",
                        Words = "Weeps at a joint",
                        Grade = grade,
                        FoundGrade = grade,
                        Safety = 0,
                        State = open ? DefectState.Open : DefectState.Closed,
                        By = "Bea Lund",
                        At = at,
                        On = Day(at),
                        LifeHours = Life(share),
                        LimitHours = grade == DefectGrade.Limit ? Life(1) + new MeterHours(400) : null,
                        ClockFrom = at,
                        CheckCode = "",
                        Code = "",
                        Version = 1,
                        RepairedBy = open ? null : "Tam Ollery",
                        RepairedAt = open ? null : at.AddDays(1),
                        RepairedHours = open ? null : Life(share),
                        RepairWords = open ? null : "New seal",
                    }
                );
            }
        }

        await transaction.CommitAsync(ct);
    }
}
