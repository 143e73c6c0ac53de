using Microsoft.EntityFrameworkCore;
using Nippers.Core.Oil;
using Nippers.Data;
using Nippers.Data.Oil;

namespace Nippers.App.Oil;

/// <summary>Judges samples by what was reported of them, inside the caller's transaction.</summary>
public sealed class JudgeSample(NippersDb db, OilCatalog book)
{
    /// <summary>Judges a sample by its newest report and keeps what the judgement rests on.</summary>
    internal async Task<OilJudgement> Judge(SampleRow sample, ReportRow report, CancellationToken ct)
    {
        var oil = await CaseOf(sample, report, ct);
        var judgement = oil.Judge();
        var row = await db.Judgements.FindAsync([sample.Id], ct);
        if (row is null)
            db.Judgements.Add(
                row = new()
                {
                    SampleId = sample.Id,
                    Values = "",
                    Whole = "",
                }
            );
        row.Values = OilCase.WriteValues(judgement.Values);
        row.WearCompares = WearCompares(judgement);
        row.Whole = oil.Write();
        sample.Advised = judgement.Assessment;
        return judgement;
    }

    /// <summary>
    /// Judges samples anew that nobody has signed, because something has changed that their judgement rests on. Signed ones keep
    /// what was signed.
    /// </summary>
    internal async Task Anew(IQueryable<SampleRow> samples, CancellationToken ct)
    {
        // Oldest first: each one is held against those before it.
        var open = await samples
            .Where(x => x.State == SampleState.Reported)
            .OrderBy(x => x.LifeHours)
            .ThenBy(x => x.TakenAt)
            .Join(db.Reports.Where(x => x.ReplacedAt == null), x => x.Id, x => x.SampleId, (s, r) => new { Sample = s, Report = r })
            .ToListAsync(ct);
        foreach (var x in open)
        {
            var before = x.Sample.Advised;
            await Judge(x.Sample, x.Report, ct);

            // Who has the old advice before them should look again before they sign.
            if (x.Sample.Advised != before)
                x.Sample.Version++;
            await db.SaveChangesAsync(ct);
        }
    }

    /// <summary>Judges those after a sample of the same compartment anew: its values came, changed, or count no longer.</summary>
    internal Task After(SampleRow changed, CancellationToken ct) =>
        Anew(
            db.Samples.Where(x =>
                x.MachineId == changed.MachineId
                && x.Compartment == changed.Compartment
                && x.Id != changed.Id
                && x.LifeHours >= changed.LifeHours
            ),
            ct
        );

    /// <summary>Whether wear metals of a sample may be held against others: neither too young an oil nor one of unknown hours.</summary>
    internal static bool WearCompares(OilJudgement judgement) =>
        (judgement.Doubts & (SampleDoubts.TooEarly | SampleDoubts.NoOilHours)) == 0;

    private async Task<OilCase> CaseOf(SampleRow sample, ReportRow report, CancellationToken ct)
    {
        var machine = await db.Machines.AsNoTracking().Include(x => x.Compartments).SingleAsync(x => x.Id == sample.MachineId, ct);
        var item = await db
            .ProgramItems.AsNoTracking()
            .SingleOrDefaultAsync(x => x.ProgramId == machine.ProgramId && x.Code == sample.ItemCode, ct);
        var (results, below) = OilCase.Numbers(report.Figures);
        var grade = sample.Grade.Length > 0 ? ViscosityGrade.Of(sample.Grade) : null;
        var viscosity = grade?.Measured ?? (results[Measurand.V100] is null ? Measurand.V40 : Measurand.V100);
        return new(
            new()
            {
                Kind = sample.Kind,
                Grade = grade,
                SumpLitres = machine.Compartments.Find(x => x.Code == sample.Compartment)?.CapacityLitres?.Value,
                IntervalHours = item?.ForDue().Interval(machine.Duty) ?? LimitSet.ReferenceHours(sample.Kind),
                MachineHours = sample.LifeHours.Value,
                OilHours = sample.OilHours?.Value,
                AddedLitres = sample.AddedLitres.Value,
                Results = results.With(Measurand.Viscosity, results[viscosity]),
                Below = below,
                Iso = Iso4406Code.Parse(report.Iso),
                New = await book.NewOf(sample.Fluid, ct),
            },
            await book.Limits(sample.Kind, sample.Family, sample.MachineId, sample.Compartment, ct),
            await book.Earlier(sample.MachineId, sample.Compartment, sample.LifeHours, sample.Id, ct)
        );
    }
}
