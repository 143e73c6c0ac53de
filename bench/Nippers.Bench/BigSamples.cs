using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Nippers.App.Oil;
using Nippers.Core.Oil;
using Nippers.Data;
using Nippers.Data.Fleet;
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
        using var samples = new BulkRows(
            db,
            "Samples",
            "Id",
            "MachineId",
            "Compartment",
            "ItemCode",
            "Bottle",
            "On",
            "TakenMs",
            "LifeTenths",
            "OilTenths",
            "AddedLitres",
            "Fluid",
            "By",
            "Batch",
            "Kind",
            "Grade",
            "Family",
            "Method",
            "Engine",
            "DrawnWrong",
            "Late",
            "Note",
            "State",
            "LabId",
            "SentMs",
            "ReportedMs",
            "Advised",
            "SignedAs",
            "SignedBy",
            "SignedMs",
            "SignedWords",
            "Version"
        );
        using var reports = new BulkRows(
            db,
            "Reports",
            "SampleId",
            "ReceivedMs",
            "Source",
            "LabId",
            "By",
            "LabNumber",
            "Figures",
            "Iso",
            "Comment"
        );
        using var judgements = new BulkRows(db, "Judgements", "SampleId", "Values", "WearCompares", "Whole");
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
                var ms = at.ToUnixTimeMilliseconds();
                id++;
                samples.Add(
                    id,
                    machine.Id,
                    place.Compartment.Code,
                    place.Item.Code,
                    BottleCode.Of(id),
                    at.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture),
                    ms,
                    life,
                    2000,
                    0.0,
                    "15W-40",
                    "Tam Ollery",
                    $"s{id}",
                    (int)place.Kind,
                    sample.Grade!.Text,
                    sample.Grade.Text,
                    0,
                    0,
                    false,
                    false,
                    "",
                    newest ? 2 : 3,
                    lab,
                    ms,
                    ms,
                    (int)judged.Assessment,
                    newest ? null : (int)judged.Assessment,
                    newest ? null : "Tam Ollery",
                    newest ? null : ms,
                    "",
                    1
                );
                var figures = sample
                    .Results.All.Where(x => Measurands.Reported.Contains(x.Measurand))
                    .ToDictionary(x => x.Measurand.Code(), x => x.Value.ToString("0.##", CultureInfo.InvariantCulture));
                reports.Add(id, ms, 0, lab, LabOutbox.Name, "", OilCase.WriteFigures(figures), sample.Iso?.ToString() ?? "", "No remarks.");
                judgements.Add(id, OilCase.WriteValues(judged.Values), true, oil.Write());
            }
        }

        await transaction.CommitAsync(ct);
    }
}
