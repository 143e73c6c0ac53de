using Microsoft.EntityFrameworkCore;
using Nippers.App.Oil;
using Nippers.Core.Oil;
using Nippers.Data.Oil;
using Nippers.Formats.Fleet;

namespace Nippers.App.Exchange;

public sealed partial class ImportFleet
{
    /// <summary>Samples, laboratories, limits and coolant.</summary>
    private sealed partial class Import
    {
        private readonly Dictionary<string, int> _labs = new(StringComparer.Ordinal);
        private readonly List<long> _boxIds = [];
        private readonly List<long> _sampleIds = [];
        private long _nextSample;

        private async Task TakeOil(FleetRecord record, string place)
        {
            switch (record)
            {
                case FleetLab x:
                    await Take(x, place);
                    break;
                case FleetNewOil x:
                    if (!await db.NewOils.AnyAsync(y => y.Fluid == x.Fluid, ct))
                        await Keep(FleetMapping.ToRow(x, place));
                    break;
                case FleetOilLimit x:
                    await Take(x, place);
                    break;
                case FleetConsignment x:
                    var box = new ConsignmentRow
                    {
                        LabId = LabOf(x.Lab, place)!.Value,
                        MadeMs = FleetMapping.Instant(x.Made, place, "made"),
                        By = x.By,
                        State = FleetMapping.Parse<ConsignmentState>(x.State, place, "state"),
                        Attempts = x.Attempts,
                        HandedMs = Ms(x.Handed, place),
                    };
                    await Keep(box);
                    _boxIds.Add(box.Id);
                    break;
                case FleetSample x:
                    await Take(x, place);
                    break;
                case FleetBottle x:
                    if (BottleCode.Read(x.Code) != x.Code)
                        throw new FleetFaultException("fleetBadField", place, "code");
                    if (await db.Bottles.AnyAsync(y => y.Code == x.Code, ct))
                        throw new FleetFaultException("fleetTwice", place, x.Code);
                    Bulk("Bottles", "Code", "MachineId", "Compartment", "ItemCode", "PreparedMs", "By", "SampleId")
                        .Add(
                            x.Code,
                            MachineOf(x.Unit, place),
                            x.Compartment,
                            x.Item,
                            FleetMapping.Instant(x.Prepared, place, "prepared"),
                            x.By,
                            SampleOf(x.Sample, place)
                        );
                    break;
                case FleetCall x:
                    Bulk(
                            "WorkRequests",
                            "MachineId",
                            "ItemCode",
                            "Reason",
                            "AtMs",
                            "DueTenths",
                            "On",
                            "SampleId",
                            "AfterDefectId",
                            "VoidedMs"
                        )
                        .Add(
                            MachineOf(x.Unit, place),
                            x.Item,
                            (int)FleetMapping.Parse<WorkRequestReason>(x.Reason, place, "reason"),
                            FleetMapping.Instant(x.At, place, "at"),
                            TenthsOf(x.DueHours, place, "dueHours"),
                            DayOf(x.On, place),
                            SampleOf(x.Sample, place),
                            Number(x.AfterDefect, _defectIds, place, "afterDefect"),
                            Ms(x.VoidedAt, place)
                        );
                    break;
                case FleetDrainChange x:
                    Bulk(
                            "DrainChanges",
                            "MachineId",
                            "Compartment",
                            "On",
                            "LifeTenths",
                            "FromTenths",
                            "ToTenths",
                            "Reason",
                            "SampleId",
                            "By",
                            "AtMs"
                        )
                        .Add(
                            MachineOf(x.Unit, place),
                            x.Compartment,
                            DayOf(x.On, place),
                            FleetMapping.Tenths(x.LifeHours, place, "lifeHours"),
                            FleetMapping.Tenths(x.FromHours, place, "fromHours"),
                            FleetMapping.Tenths(x.ToHours, place, "toHours"),
                            (int)FleetMapping.Parse<DrainReason>(x.Reason, place, "reason"),
                            SampleOf(x.Sample, place),
                            x.By,
                            FleetMapping.Instant(x.At, place, "at")
                        );
                    break;
                case FleetCoolantTest x:
                    Bulk(
                            "CoolantTests",
                            "MachineId",
                            "On",
                            "LifeTenths",
                            "Laboratory",
                            "SharePercent",
                            "FreezeC",
                            "Ph",
                            "Inhibitor",
                            "ChloridePpm",
                            "SulphatePpm",
                            "WantedPercent",
                            "RefillPercent",
                            "Note",
                            "By",
                            "AtMs",
                            "VoidedMs",
                            "VoidedBy",
                            "Batch"
                        )
                        .Add(
                            MachineOf(x.Unit, place),
                            DayOf(x.On, place),
                            FleetMapping.Tenths(x.LifeHours, place, "lifeHours"),
                            x.Laboratory,
                            x.SharePercent,
                            x.FreezeC,
                            x.Ph,
                            (int?)FleetMapping.ParseOrNull<Inhibitor>(x.Inhibitor, place, "inhibitor"),
                            x.ChloridePpm,
                            x.SulphatePpm,
                            x.WantedPercent,
                            x.RefillPercent,
                            x.Note ?? "",
                            x.By,
                            FleetMapping.Instant(x.At, place, "at"),
                            Ms(x.VoidedAt, place),
                            x.VoidedBy,
                            x.Batch
                        );
                    break;
                case FleetLooseResult x:
                    if (await db.UnmatchedResults.AnyAsync(y => y.Digest == x.Digest, ct))
                        throw new FleetFaultException("fleetTwice", place, x.Bottle);
                    Bulk(
                            "UnmatchedResults",
                            "LabId",
                            "ReceivedMs",
                            "Bottle",
                            "Why",
                            "Result",
                            "Digest",
                            "SettledMs",
                            "SettledBy",
                            "SampleId"
                        )
                        .Add(
                            LabOf(x.Lab, place),
                            FleetMapping.Instant(x.Received, place, "received"),
                            x.Bottle,
                            x.Why,
                            System.Text.Json.JsonSerializer.Serialize(x.Result),
                            x.Digest,
                            Ms(x.Settled, place),
                            x.SettledBy,
                            SampleOf(x.Sample, place)
                        );
                    break;
            }
        }

        /// <summary>A laboratory that is known by its name stays as it is.</summary>
        private async Task Take(FleetLab record, string place)
        {
            var row = await db.Labs.AsNoTracking().SingleOrDefaultAsync(x => x.Name == record.Name, ct);
            if (row is null)
                await Keep(row = FleetMapping.ToRow(record, place));
            if (!_labs.TryAdd(record.Name, row.Id))
                throw new FleetFaultException("fleetTwice", place, record.Name);
        }

        private async Task Take(FleetOilLimit record, string place)
        {
            var machine = record.Unit is { } unit ? MachineOf(unit, place) : (int?)null;
            var row = FleetMapping.ToRow(record, machine, place);
            if (
                await db.OilLimits.AnyAsync(
                    x => x.MachineId == machine && x.Compartment == row.Compartment && x.Kind == row.Kind && x.Measurand == row.Measurand,
                    ct
                )
            )
                return;
            await Keep(row);
        }

        private async Task Take(FleetSample record, string place)
        {
            if (_nextSample == 0)
                _nextSample = (await db.Samples.MaxAsync(x => (long?)x.Id, ct) ?? 0) + 1;
            var id = _nextSample++;
            _sampleIds.Add(id);
            var state = FleetMapping.Parse<SampleState>(record.State, place, "state");
            if (state >= SampleState.Reported && record.Case is null)
                throw new FleetFaultException("fleetBadField", place, "case");
            Bulk(
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
                    "VisitId",
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
                    "ConsignmentId",
                    "SentMs",
                    "ReportedMs",
                    "Advised",
                    "SignedAs",
                    "SignedBy",
                    "SignedMs",
                    "SignedWords",
                    "DefectId",
                    "Version",
                    "VoidedMs",
                    "VoidedBy",
                    "VoidReason"
                )
                .Add(
                    id,
                    MachineOf(record.Unit, place),
                    record.Compartment,
                    record.Item,
                    record.Bottle,
                    DayOf(record.On, place),
                    FleetMapping.Instant(record.Taken, place, "taken"),
                    FleetMapping.Tenths(record.LifeHours, place, "lifeHours"),
                    TenthsOf(record.OilHours, place, "oilHours"),
                    record.AddedLitres,
                    record.Fluid ?? "",
                    record.By,
                    VisitOf(record.Visit, place),
                    record.Batch,
                    (int)FleetMapping.Parse<OilKind>(record.Kind, place, "kind"),
                    record.Grade ?? "",
                    record.Family ?? "",
                    (int?)FleetMapping.ParseOrNull<DrawMethod>(record.Method, place, "method"),
                    (int?)FleetMapping.ParseOrNull<DrawState>(record.Engine, place, "engine"),
                    record.DrawnWrong == true,
                    record.Late == true,
                    record.Note ?? "",
                    (int)state,
                    LabOf(record.Lab, place),
                    Number(record.Consignment, _boxIds, place, "consignment"),
                    Ms(record.Sent, place),
                    Ms(record.Reported, place),
                    (int?)FleetMapping.ParseOrNull<Assessment>(record.Advised, place, "advised"),
                    (int?)FleetMapping.ParseOrNull<Assessment>(record.Verdict, place, "verdict"),
                    record.SignedBy,
                    Ms(record.SignedAt, place),
                    record.SignedWords ?? "",
                    Number(record.Defect, _defectIds, place, "defect"),
                    1,
                    Ms(record.VoidedAt, place),
                    record.VoidedBy,
                    record.VoidReason
                );
            foreach (var report in record.Reports ?? [])
            {
                Bulk("Reports", "SampleId", "ReceivedMs", "Source", "LabId", "By", "LabNumber", "Figures", "Iso", "Comment", "ReplacedMs")
                    .Add(
                        id,
                        FleetMapping.Instant(report.Received, place, "reports.received"),
                        (int)FleetMapping.Parse<ReportSource>(report.Source, place, "reports.source"),
                        LabOf(report.Lab, place),
                        report.By ?? "",
                        report.LabNumber ?? "",
                        FleetMapping.Figures(report.Figures, place),
                        report.Iso ?? "",
                        report.Comment ?? "",
                        Ms(report.Replaced, place)
                    );
            }

            if (record.Case is not { } given)
                return;
            var (whole, judgement) = FleetMapping.Case(given, place);
            Bulk("Judgements", "SampleId", "Values", "WearCompares", "Whole")
                .Add(id, OilCase.WriteValues(judgement.Values), JudgeSample.WearCompares(judgement), whole);
        }

        private async Task Keep<T>(T row)
            where T : class
        {
            db.Add(row);
            await db.SaveChangesAsync(ct);
        }

        private int? LabOf(string? name, string place) =>
            name is null ? null
            : _labs.TryGetValue(name, out var id) ? id
            : throw new FleetFaultException("fleetBadField", place, "lab");

        private long? SampleOf(long? number, string place) => Number(number, _sampleIds, place, "sample");

        private static string DayOf(string day, string place) => Formats.Iso.Day(FleetMapping.Day(day, place, "on"));

        private static int? TenthsOf(double? hours, string place, string field) =>
            hours is { } given ? FleetMapping.Tenths(given, place, field) : null;
    }
}
