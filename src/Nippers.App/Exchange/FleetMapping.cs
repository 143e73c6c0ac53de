using Nippers.App.Machines;
using Nippers.App.Programs;
using Nippers.Core;
using Nippers.Core.Fluids;
using Nippers.Core.Hours;
using Nippers.Core.Jobs;
using Nippers.Core.Numbers;
using Nippers.Core.Service;
using Nippers.Data.Fleet;
using Nippers.Data.Parts;
using Nippers.Data.Programs;
using Nippers.Data.Records;
using Nippers.Data.Walks;
using Nippers.Formats;
using Nippers.Formats.Fleet;

namespace Nippers.App.Exchange;

/// <summary>Between rows of the database and records of a fleet file.</summary>
public static partial class FleetMapping
{
    public static FleetSite ToRecord(Site site) =>
        new(
            site.Name,
            site.TimeZone,
            [.. Enum.GetValues<DayOfWeek>().Where(site.Working.Days.Contains).Select(Word)],
            Minutes(site.ShiftFrom),
            Minutes(site.ShiftTo),
            site.LowC,
            site.HighC,
            OrNull(site.Contact),
            site.StopsEachWalk ? true : null
        );

    public static FleetProgram ToRecord(ServiceProgram program) =>
        new(
            program.Code,
            program.Name,
            program.Kind.Wire,
            Word(program.IntervalBasis),
            program.CreditPercent,
            program.WindowPercent,
            program.LeastWindowHours.Value,
            program.ComingDays,
            program.Starter,
            [
                .. program
                    .Compartments.OrderBy(x => x.Position)
                    .Select(x => new FleetCompartment(
                        x.Code,
                        x.Name,
                        Word(x.Kind),
                        OrNull(x.Needs),
                        OrNull(x.Stream),
                        OrNull(x.Traits),
                        OrNull(x.DrainMinutes),
                        OrNull(x.SettleMinutes),
                        OrNull(x.Fluids),
                        x.DrainStepHours?.Value,
                        x.DrainCapHours?.Value,
                        OrNull(x.DrainFluids)
                    )),
            ],
            [
                .. program
                    .Items.OrderBy(x => x.Position)
                    .Select(x => new FleetItem(
                        x.Code,
                        x.Name,
                        x.Compartment,
                        x.Once,
                        1.0 / (int)x.DutyFactor,
                        x.Strict,
                        x.Points,
                        x.Qualified,
                        x.Off,
                        x.EveryHours?.Value,
                        x.EveryMonths,
                        x.FirstAtHours?.Value,
                        x.IntervalBasis is { } school ? Word(school) : null,
                        OrNull(x.Needs),
                        OrNull(x.Caution),
                        Word(x.Work),
                        x.Minutes,
                        OrNull(x.Covers),
                        OrNull(x.Access),
                        x.EveryKm
                    )),
            ]
        );

    public static FleetMachine ToRecord(
        Machine machine,
        string site,
        string program,
        IEnumerable<ParkedRow> parked,
        IEnumerable<MeterChange> changes,
        string? walkList = null,
        IReadOnlyCollection<MachineCheck>? limits = null,
        IReadOnlyCollection<FilterPosition>? positions = null,
        IReadOnlyCollection<ParkingRow>? parkings = null,
        IReadOnlyCollection<MachineCode>? codes = null,
        IReadOnlyCollection<OdometerRow>? odometer = null
    ) =>
        new(
            machine.Unit,
            machine.Kind.Wire,
            machine.Make,
            machine.Model,
            site,
            program,
            Word(machine.History),
            Iso.Day(machine.CommissionedOn),
            machine.CommissionedHours.Value,
            Word(machine.Duty),
            machine.PlannedHoursPerDay,
            machine.Retired,
            [
                .. machine
                    .Compartments.OrderBy(x => x.Code, StringComparer.Ordinal)
                    .Select(x => new FleetMachineCompartment(
                        x.Code,
                        x.CapacityLitres?.Value,
                        OrNull(x.Fluid),
                        x.FilterLitres > Litres.Zero ? x.FilterLitres.Value : null,
                        x.DrainPoints == 1 ? null : x.DrainPoints,
                        OrNull(x.PlugTorque),
                        OrNull(x.PlugSeal),
                        OrNull(x.Socket),
                        x.PressureSeconds,
                        OrNull(x.Hub),
                        x.DrainHours?.Value
                    )),
            ],
            [
                .. parked
                    .OrderBy(x => x.From)
                    .Select(x => new FleetParked(Iso.Instant(x.From), x.By, x.To is { } to ? Iso.Instant(to) : null, OrNull(x.Reason))),
            ],
            [
                .. changes
                    .OrderBy(x => x.At)
                    .Select(x => new FleetMeterChange(
                        Iso.Instant(x.At),
                        x.OldFinalHours.Value,
                        x.NewStartHours.Value,
                        x.By,
                        Iso.Instant(x.EnteredAt),
                        OrNull(x.Note),
                        x.VoidedAt is { } voided ? Iso.Instant(voided) : null,
                        x.VoidedBy,
                        x.VoidReason
                    )),
            ],
            OrNull(machine.Serial),
            OrNull(machine.Note),
            OrNull(machine.Options),
            walkList,
            limits is { Count: > 0 } ? [.. limits.OrderBy(x => x.CheckCode, StringComparer.Ordinal).Select(ToRecord)] : null,
            positions is { Count: > 0 } ? [.. positions.OrderBy(x => x.Code, StringComparer.Ordinal).Select(ToRecord)] : null,
            machine.BleedMethod.Length == 0
                ? null
                : new(machine.BleedMethod, machine.BleedPoints, machine.CrankSeconds, machine.RestSeconds, machine.CrankRepeats),
            parkings is { Count: > 0 } ? [.. parkings.Select(ToRecord)] : null,
            codes is { Count: > 0 } ? [.. codes.Select(ToRecord)] : null,
            machine.CommissionedKm,
            machine.PlannedKmPerDay > 0 ? machine.PlannedKmPerDay : null,
            odometer is { Count: > 0 }
                ?
                [
                    .. odometer.Select(x => new FleetOdometer(
                        Iso.Instant(x.At),
                        x.KmTenths / 10.0,
                        x.By,
                        Iso.Instant(x.EnteredAt),
                        x.DecidedBy,
                        x.VoidedAt is { } voided ? Iso.Instant(voided) : null,
                        x.VoidedBy,
                        x.VoidReason,
                        x.ToConfirm ? true : null
                    )),
                ]
                : null
        );

    /// <summary>A row of an odometer.</summary>
    public static OdometerRow ToRow(FleetOdometer x, int machineId, string place) =>
        new()
        {
            MachineId = machineId,
            At = Instant(x.At, place, "odometer.at"),
            KmTenths = Hours(x.Km, place, "odometer.km").Tenths,
            By = x.By,
            EnteredAt = Instant(x.Entered, place, "odometer.entered"),
            DecidedBy = x.DecidedBy,
            ToConfirm = x.ToConfirm == true,
            VoidedAt = x.VoidedAt is { } at ? Instant(at, place, "odometer.voidedAt") : null,
            VoidedBy = x.VoidedBy,
            VoidReason = x.VoidReason,
        };

    public static FleetReading ToRecord(ReadingRow row, string unit) =>
        new(
            unit,
            Iso.Instant(row.At),
            row.ShownHours.Value,
            row.LifeHours.Value,
            Word(row.State),
            Word(row.Source),
            row.By,
            Iso.Instant(row.EnteredAt),
            row.DecidedBy,
            row.Reason
        );

    public static FleetCompletion ToRecord(CompletionRow row, string unit) =>
        new(
            unit,
            row.ItemCode,
            Word(row.Kind),
            Iso.Day(row.DoneOn),
            row.ShownHours.Value,
            row.LifeHours.Value,
            row.By,
            Iso.Instant(row.EnteredAt),
            row.Batch,
            OrNull(row.Note),
            row.SaidBy,
            row.VoidedAt is { } voided ? Iso.Instant(voided) : null,
            row.VoidedBy,
            row.VoidReason
        );

    public static ServiceProgram ToRow(FleetProgram record, string place) =>
        new()
        {
            Code = record.Code,
            Name = record.Name,
            Kind = KindOf(record.Kind, place),
            IntervalBasis = Parse<IntervalBasis>(record.IntervalBasis, place, "school"),
            CreditPercent = Between(record.CreditPercent, 0, 50, place, "creditPercent"),
            WindowPercent = Between(record.WindowPercent, 0, 50, place, "windowPercent"),
            LeastWindowHours = Hours(record.LeastWindowHours, place, "leastWindowHours"),
            ComingDays = Between(record.ComingDays, 1, 365, place, "comingDays"),
            Starter = record.Starter,
            Version = 1,
            Compartments =
            [
                .. record.Compartments.Select(
                    (x, i) =>
                        new ProgramCompartment
                        {
                            Code = x.Code,
                            Name = x.Name,
                            Kind = Parse<CompartmentKind>(x.Kind, place, $"compartments[{i}].kind"),
                            Needs = Rule(x.Needs, place, $"compartments[{i}].needs"),
                            Position = i + 1,
                            Stream = x.Stream is null or "oil" or "coolant" or "fuel"
                                ? x.Stream ?? ""
                                : throw Bad(place, $"compartments[{i}].stream"),
                            Traits = x.Traits ?? "",
                            DrainStepHours = x.DrainStepHours is { } step
                                ? Above0(Hours(step, place, "compartments.drainStepHours"), place, "compartments.drainStepHours")
                                : null,
                            DrainCapHours = x.DrainCapHours is { } cap
                                ? Above0(Hours(cap, place, "compartments.drainCapHours"), place, "compartments.drainCapHours")
                                : null,
                            DrainFluids = x.DrainFluids ?? "",
                            DrainMinutes = Between(x.DrainMinutes ?? 0, 0, 600, place, $"compartments[{i}].drainMinutes"),
                            SettleMinutes = Between(x.SettleMinutes ?? 0, 0, 600, place, $"compartments[{i}].settleMinutes"),
                            Fluids = FluidRange.Parse(x.Fluids ?? "") is null
                                ? throw Bad(place, $"compartments[{i}].fluids")
                                : x.Fluids ?? "",
                        }
                ),
            ],
            Items = [.. record.Items.Select((x, i) => ToRow(x, i, record, place))],
        };

    private static ProgramItem ToRow(FleetItem x, int i, FleetProgram program, string place)
    {
        if (!program.Compartments.Any(c => c.Code == x.Compartment))
            throw new FleetFaultException("fleetNoCompartment", place, program.Code, x.Code, x.Compartment);
        return new ProgramItem
        {
            Code = x.Code,
            Name = x.Name,
            Compartment = x.Compartment,
            Position = i + 1,
            EveryHours = x.EveryHours is { } every
                ? Above0(Hours(every, place, $"items[{i}].everyHours"), place, $"items[{i}].everyHours")
                : null,
            EveryMonths = x.EveryMonths is { } months ? Between(months, 1, 240, place, $"items[{i}].everyMonths") : null,
            EveryKm = x.EveryKm is { } km ? Between(km, 1, ChangeProgram.MostKm, place, $"items[{i}].everyKm") : null,
            FirstAtHours = x.FirstAtHours is { } first
                ? Above0(Hours(first, place, $"items[{i}].firstAtHours"), place, $"items[{i}].firstAtHours")
                : null,
            Once = x.Once,
            DutyFactor = x.DutyFactor switch
            {
                1 => DutyFactor.Whole,
                0.5 => DutyFactor.Half,
                0.25 => DutyFactor.Quarter,
                _ => throw Bad(place, $"items[{i}].dutyFactor"),
            },
            Strict = x.Strict,
            IntervalBasis = x.IntervalBasis is { } school ? Parse<IntervalBasis>(school, place, $"items[{i}].school") : null,
            Needs = Rule(x.Needs, place, $"items[{i}].needs"),
            Points = Between(x.Points, 0, 200, place, $"items[{i}].points"),
            Qualified = x.Qualified,
            Caution = x.Caution ?? "",
            Off = x.Off,
            Work = x.Work is { } work ? Parse<ItemWork>(work, place, $"items[{i}].work") : ItemWork.Check,
            Minutes = Between(x.Minutes ?? 5, 0, 2000, place, $"items[{i}].minutes"),
            Covers = x.Covers ?? "",
            Access = x.Access ?? "",
        };
    }

    public static Machine ToRow(FleetMachine record, int siteId, int programId, string place) =>
        new()
        {
            Unit = record.Unit,
            Kind = KindOf(record.Kind, place),
            Make = record.Make,
            Model = record.Model,
            Serial = record.Serial ?? "",
            Note = record.Note ?? "",
            SiteId = siteId,
            ProgramId = programId,
            History = Parse<History>(record.History, place, "history"),
            CommissionedOn = Day(record.CommissionedOn, place, "commissionedOn"),
            CommissionedHours = Hours(record.CommissionedHours, place, "commissionedHours"),
            Duty = Parse<Duty>(record.Duty, place, "duty"),
            PlannedHoursPerDay = record.PlannedHoursPerDay is >= 0 and <= 24
                ? record.PlannedHoursPerDay
                : throw Bad(place, "plannedHoursPerDay"),
            CommissionedKm = record.CommissionedKm is { } km ? Between(km, 0, SaveMachine.MostKm, place, "commissionedKm") : null,
            PlannedKmPerDay = record.PlannedKmPerDay is null or (>= 0 and <= SaveMachine.MostKmPerDay)
                ? record.PlannedKmPerDay ?? 0
                : throw Bad(place, "plannedKmPerDay"),
            Options = Rule(record.Options, place, "options"),
            Retired = record.Retired,
            Version = 1,
            Compartments =
            [
                .. record.Compartments.Select(x => new MachineCompartment
                {
                    Code = x.Code,
                    DrainHours = x.DrainHours is { } drain
                        ? Above0(Hours(drain, place, "compartments.drainHours"), place, "compartments.drainHours")
                        : null,
                    CapacityLitres =
                        x.CapacityLitres is null ? null
                        : x.CapacityLitres > 0 ? new Litres(x.CapacityLitres.Value)
                        : throw Bad(place, "compartments.capacityLitres"),
                    Fluid = x.Fluid ?? "",
                    FilterLitres = x.FilterLitres is null or >= 0
                        ? new Litres(x.FilterLitres ?? 0)
                        : throw Bad(place, "compartments.filterLitres"),
                    DrainPoints = Between(x.DrainPoints ?? 1, 1, 12, place, "compartments.drainPoints"),
                    PlugTorque = x.PlugTorque ?? "",
                    PlugSeal = x.PlugSeal ?? "",
                    Socket = x.Socket ?? "",
                    PressureSeconds = x.PressureSeconds,
                    Hub = x.Hub is null || Visits.MachineData.IsHub(x.Hub) ? x.Hub ?? "" : throw Bad(place, "compartments.hub"),
                }),
            ],
            BleedMethod = record.Bleed?.Method ?? "",
            BleedPoints = record.Bleed?.Points ?? "",
            CrankSeconds = record.Bleed?.CrankSeconds ?? 0,
            RestSeconds = record.Bleed?.RestSeconds ?? 0,
            CrankRepeats = record.Bleed?.Repeats ?? 0,
        };

    public static ParkedRow ToRow(FleetParked record, int machineId, string place) =>
        new()
        {
            MachineId = machineId,
            From = Instant(record.From, place, "parked.from"),
            To = record.To is { } to ? Instant(to, place, "parked.to") : null,
            Reason = record.Reason ?? "",
            By = record.By,
        };

    public static MeterChange ToRow(FleetMeterChange record, int machineId, string place) =>
        new()
        {
            MachineId = machineId,
            At = Instant(record.At, place, "meterChanges.at"),
            OldFinalHours = Hours(record.OldFinal, place, "meterChanges.oldFinal"),
            NewStartHours = Hours(record.NewStart, place, "meterChanges.newStart"),
            Note = record.Note ?? "",
            By = record.By,
            EnteredAt = Instant(record.Entered, place, "meterChanges.entered"),
            VoidedAt = record.VoidedAt is { } at ? Instant(at, place, "meterChanges.voidedAt") : null,
            VoidedBy = record.VoidedBy,
            VoidReason = record.VoidReason,
        };

    internal static MachineKind KindOf(string code, string place) =>
        MachineKind.TryParse(code, null, out var kind) ? kind : throw Bad(place, "kind");

    internal static T Parse<T>(string word, string place, string field)
        where T : struct, Enum => WireName.Parse<T>(word) ?? throw Bad(place, field);

    internal static MeterHours Hours(double hours, string place, string field) =>
        MeterHours.TryOf(hours, out var value) == HoursFault.None ? value : throw Bad(place, field);

    internal static DateTimeOffset Instant(string text, string place, string field) =>
        Iso.TryInstant(text, out var at) ? at : throw Bad(place, field);

    internal static DateOnly Day(string text, string place, string field) => Iso.TryDay(text, out var day) ? day : throw Bad(place, field);

    internal static string Word<T>(T value)
        where T : struct, Enum => WireName.Of(value);

    private static int? OrNull(int number) => number == 0 ? null : number;

    private static string? OrNull(string text) => text.Length == 0 ? null : text;

    private static int Between(int value, int from, int to, string place, string field) =>
        value >= from && value <= to ? value : throw Bad(place, field);

    private static MeterHours Above0(MeterHours hours, string place, string field) =>
        hours > MeterHours.Zero ? hours : throw Bad(place, field);

    private static string Rule(string? words, string place, string field) =>
        (words ?? "").Split(' ', StringSplitOptions.RemoveEmptyEntries).All(word => MachineOptions.Knows(word.TrimStart('!')))
            ? words ?? ""
            : throw Bad(place, field);

    private static FleetFaultException Bad(string place, string field) => new("fleetBadField", place, field);
}
