using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Nippers.App.Oil;
using Nippers.Core.Hours;
using Nippers.Core.Numbers;
using Nippers.Core.Oil;
using Nippers.Data;
using Nippers.Data.Fleet;
using Nippers.Data.Oil;
using Nippers.Data.Programs;

namespace Nippers.Bench;

/// <summary>Five years of oil samples in the big database: 300 of each machine, judged and signed but for the newest.</summary>
internal static class BigSamples
{
    /// <summary>Samples of a machine.</summary>
    public const int OfMachine = 300;

    public static async Task Make(
        NippersDb db,
        IReadOnlyList<Machine> machines,
        IReadOnlyList<ServiceProgram> programs,
        DateTimeOffset start,
        CancellationToken ct
    )
    {
        db.Labs.Add(new() { Name = "Sannet Oil Laboratory", Usual = true });
        await db.SaveChangesAsync(ct);
        var lab = (await db.Labs.SingleAsync(ct)).Id;
        await using var transaction = await db.Database.BeginTransactionAsync(ct);
        using var samples = new BulkRows<SampleRow>(db);
        using var reports = new BulkRows<ReportRow>(db);
        using var judgements = new BulkRows<JudgementRow>(db);
        long id = 0;
        foreach (var machine in machines)
        {
            var places = OilCatalog.Places(machine, programs.Single(x => x.Id == machine.ProgramId));
            for (var i = 0; i < OfMachine; i++)
            {
                var place = places[i % places.Count];
                var (sample, limits, earlier) = OilSamples.Case((int)(id * 4) + (int)place.Kind);
                var share = (i + 1.0) / (OfMachine + 1);
                var at = start.AddDays(1820 * share);
                var life = (int)(share * 1826 * (30 + machine.Id % 40));
                var oil = new OilCase(sample, limits, earlier);
                var judged = oil.Judge();
                var newest = i >= OfMachine - 1;
                id++;
                samples.Add(
                    new()
                    {
                        Id = id,
                        MachineId = machine.Id,
                        Compartment = place.Compartment.Code,
                        ItemCode = place.Item.Code,
                        Bottle = BottleCode.Of(id),
                        On = DateOnly.FromDateTime(at.UtcDateTime),
                        TakenAt = at,
                        LifeHours = new MeterHours(life),
                        OilHours = new MeterHours(2000),
                        AddedLitres = new Litres(0.0),
                        Fluid = "15W-40",
                        By = "Tam Ollery",
                        Batch = $"s{id}",
                        Kind = place.Kind,
                        Grade = sample.Grade!.Text,
                        Family = sample.Grade.Text,
                        Method = 0,
                        Engine = 0,
                        DrawnWrong = false,
                        Late = false,
                        Note = "",
                        State = newest ? SampleState.Reported : SampleState.Judged,
                        LabId = lab,
                        SentAt = at,
                        ReportedAt = at,
                        Advised = judged.Assessment,
                        SignedAs = newest ? null : judged.Assessment,
                        SignedBy = newest ? null : "Tam Ollery",
                        SignedAt = newest ? null : at,
                        SignedWords = "",
                        Version = 1,
                    }
                );
                var figures = sample
                    .Results.All.Where(x => Measurands.Reported.Contains(x.Measurand))
                    .ToDictionary(x => x.Measurand.Code(), x => x.Value.ToString("0.##", CultureInfo.InvariantCulture));
                reports.Add(
                    new()
                    {
                        SampleId = id,
                        ReceivedAt = at,
                        Source = 0,
                        LabId = lab,
                        By = LabOutbox.Name,
                        LabNumber = "",
                        Figures = OilCase.WriteFigures(figures),
                        Iso = sample.Iso?.ToString() ?? "",
                        Comment = "No remarks.",
                    }
                );
                judgements.Add(
                    new()
                    {
                        SampleId = id,
                        Values = OilCase.WriteValues(judged.Values),
                        WearCompares = true,
                        Whole = oil.Write(),
                    }
                );
            }
        }

        await transaction.CommitAsync(ct);
    }
}
