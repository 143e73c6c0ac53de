using Microsoft.EntityFrameworkCore;
using Nippers.App.Oil;
using Nippers.Core.Hours;
using Nippers.Core.Numbers;
using Nippers.Core.Oil;
using Nippers.Data;
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
                        MadeAt = FleetMapping.Instant(x.Made, place, "made"),
                        By = x.By,
                        State = FleetMapping.Parse<ConsignmentState>(x.State, place, "state"),
                        Attempts = x.Attempts,
                        HandedAt = Instant(x.Handed, place),
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
                    Bulk<BottleRow>()
                        .Add(
                            new()
                            {
                                Code = x.Code,
                                MachineId = MachineOf(x.Unit, place),
                                Compartment = x.Compartment,
                                ItemCode = x.Item,
                                PreparedAt = FleetMapping.Instant(x.Prepared, place, "prepared"),
                                By = x.By,
                                SampleId = SampleOf(x.Sample, place),
                            }
                        );
                    break;
                case FleetCall x:
                    Bulk<WorkRequestRow>()
                        .Add(
                            new()
                            {
                                MachineId = MachineOf(x.Unit, place),
                                ItemCode = x.Item,
                                Reason = FleetMapping.Parse<WorkRequestReason>(x.Reason, place, "reason"),
                                At = FleetMapping.Instant(x.At, place, "at"),
                                DueHours = HoursOf(x.DueHours, place, "dueHours"),
                                On = DayOf(x.On, place),
                                SampleId = SampleOf(x.Sample, place),
                                AfterDefectId = Number(x.AfterDefect, _defectIds, place, "afterDefect"),
                                VoidedAt = Instant(x.VoidedAt, place),
                            }
                        );
                    break;
                case FleetDrainChange x:
                    Bulk<DrainChangeRow>()
                        .Add(
                            new()
                            {
                                MachineId = MachineOf(x.Unit, place),
                                Compartment = x.Compartment,
                                On = DayOf(x.On, place),
                                LifeHours = FleetMapping.Hours(x.LifeHours, place, "lifeHours"),
                                FromHours = FleetMapping.Hours(x.FromHours, place, "fromHours"),
                                ToHours = FleetMapping.Hours(x.ToHours, place, "toHours"),
                                Reason = FleetMapping.Parse<DrainReason>(x.Reason, place, "reason"),
                                SampleId = SampleOf(x.Sample, place),
                                By = x.By,
                                At = FleetMapping.Instant(x.At, place, "at"),
                            }
                        );
                    break;
                case FleetCoolantTest x:
                    Bulk<CoolantTestRow>()
                        .Add(
                            new()
                            {
                                MachineId = MachineOf(x.Unit, place),
                                On = DayOf(x.On, place),
                                LifeHours = FleetMapping.Hours(x.LifeHours, place, "lifeHours"),
                                Laboratory = x.Laboratory,
                                SharePercent = x.SharePercent,
                                FreezeC = x.FreezeC,
                                Ph = x.Ph,
                                Inhibitor = FleetMapping.ParseOrNull<Inhibitor>(x.Inhibitor, place, "inhibitor"),
                                ChloridePpm = x.ChloridePpm,
                                SulphatePpm = x.SulphatePpm,
                                WantedPercent = x.WantedPercent,
                                RefillPercent = x.RefillPercent,
                                Note = x.Note ?? "",
                                By = x.By,
                                At = FleetMapping.Instant(x.At, place, "at"),
                                VoidedAt = Instant(x.VoidedAt, place),
                                VoidedBy = x.VoidedBy,
                                Batch = x.Batch,
                            }
                        );
                    break;
                case FleetLooseResult x:
                    if (await db.UnmatchedResults.AnyAsync(y => y.Digest == x.Digest, ct))
                        throw new FleetFaultException("fleetTwice", place, x.Bottle);
                    Bulk<UnmatchedResultRow>()
                        .Add(
                            new()
                            {
                                LabId = LabOf(x.Lab, place),
                                ReceivedAt = FleetMapping.Instant(x.Received, place, "received"),
                                Bottle = x.Bottle,
                                Why = x.Why,
                                Result = System.Text.Json.JsonSerializer.Serialize(x.Result),
                                Digest = x.Digest,
                                SettledAt = Instant(x.Settled, place),
                                SettledBy = x.SettledBy,
                                SampleId = SampleOf(x.Sample, place),
                            }
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
                _nextSample = (await db.Samples.WithVoided().MaxAsync(x => (long?)x.Id, ct) ?? 0) + 1;
            var id = _nextSample++;
            _sampleIds.Add(id);
            var state = FleetMapping.Parse<SampleState>(record.State, place, "state");
            if (state >= SampleState.Reported && record.Case is null)
                throw new FleetFaultException("fleetBadField", place, "case");
            Bulk<SampleRow>()
                .Add(
                    new()
                    {
                        Id = id,
                        MachineId = MachineOf(record.Unit, place),
                        Compartment = record.Compartment,
                        ItemCode = record.Item,
                        Bottle = record.Bottle,
                        On = DayOf(record.On, place),
                        TakenAt = FleetMapping.Instant(record.Taken, place, "taken"),
                        LifeHours = FleetMapping.Hours(record.LifeHours, place, "lifeHours"),
                        OilHours = HoursOf(record.OilHours, place, "oilHours"),
                        AddedLitres = new Litres(record.AddedLitres),
                        Fluid = record.Fluid ?? "",
                        By = record.By,
                        VisitId = VisitOf(record.Visit, place),
                        Batch = record.Batch,
                        Kind = FleetMapping.Parse<OilKind>(record.Kind, place, "kind"),
                        Grade = record.Grade ?? "",
                        Family = record.Family ?? "",
                        Method = FleetMapping.ParseOrNull<DrawMethod>(record.Method, place, "method"),
                        Engine = FleetMapping.ParseOrNull<DrawState>(record.Engine, place, "engine"),
                        DrawnWrong = record.DrawnWrong == true,
                        Late = record.Late == true,
                        Note = record.Note ?? "",
                        State = state,
                        LabId = LabOf(record.Lab, place),
                        ConsignmentId = Number(record.Consignment, _boxIds, place, "consignment"),
                        SentAt = Instant(record.Sent, place),
                        ReportedAt = Instant(record.Reported, place),
                        Advised = FleetMapping.ParseOrNull<Assessment>(record.Advised, place, "advised"),
                        SignedAs = FleetMapping.ParseOrNull<Assessment>(record.Verdict, place, "verdict"),
                        SignedBy = record.SignedBy,
                        SignedAt = Instant(record.SignedAt, place),
                        SignedWords = record.SignedWords ?? "",
                        DefectId = Number(record.Defect, _defectIds, place, "defect"),
                        Version = 1,
                        VoidedAt = Instant(record.VoidedAt, place),
                        VoidedBy = record.VoidedBy,
                        VoidReason = record.VoidReason,
                    }
                );
            foreach (var report in record.Reports ?? [])
            {
                Bulk<ReportRow>()
                    .Add(
                        new()
                        {
                            SampleId = id,
                            ReceivedAt = FleetMapping.Instant(report.Received, place, "reports.received"),
                            Source = FleetMapping.Parse<ReportSource>(report.Source, place, "reports.source"),
                            LabId = LabOf(report.Lab, place),
                            By = report.By ?? "",
                            LabNumber = report.LabNumber ?? "",
                            Figures = FleetMapping.Figures(report.Figures, place),
                            Iso = report.Iso ?? "",
                            Comment = report.Comment ?? "",
                            ReplacedAt = Instant(report.Replaced, place),
                        }
                    );
            }

            if (record.Case is not { } given)
                return;
            var (whole, judgement) = FleetMapping.Case(given, place);
            Bulk<JudgementRow>()
                .Add(
                    new()
                    {
                        SampleId = id,
                        Values = OilCase.WriteValues(judgement.Values),
                        WearCompares = JudgeSample.WearCompares(judgement),
                        Whole = whole,
                    }
                );
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

        private static DateOnly DayOf(string day, string place) => FleetMapping.Day(day, place, "on");

        private static MeterHours? HoursOf(double? hours, string place, string field) =>
            hours is { } given ? FleetMapping.Hours(given, place, field) : null;
    }
}
