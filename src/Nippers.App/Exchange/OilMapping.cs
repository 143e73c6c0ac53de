using System.Text.Json;
using Nippers.App.Oil;
using Nippers.Core.Oil;
using Nippers.Data.Oil;
using Nippers.Formats;
using Nippers.Formats.Fleet;

namespace Nippers.App.Exchange;

/// <summary>Samples, laboratories, limits and coolant, between rows and records.</summary>
public static partial class FleetMapping
{
    public static FleetLab ToRecord(LabRow x) => new(x.Name, x.Usual, x.Cursor, OrNull(x.Url), JsonOrNull(x.Columns));

    public static FleetNewOil ToRecord(NewOilRow x) =>
        new(
            x.Fluid,
            Word(x.Source),
            x.By,
            Iso.Instant(x.At),
            OrNull(x.Grade),
            OrNull(x.Family),
            x.Viscosity,
            x.Tbn,
            x.Tan,
            x.Oxidation,
            JsonOrNull(x.Additives)
        );

    public static FleetOilLimit ToRecord(LimitRow x, string? unit) =>
        new(
            Word(x.Kind),
            x.Measurand,
            x.Target.Length > 0 ? null : x.Watch,
            x.Target.Length > 0 ? null : x.Act,
            unit,
            OrNull(x.Compartment),
            OrNull(x.Target)
        );

    public static FleetConsignment ToRecord(ConsignmentRow x, string lab) =>
        new(lab, Iso.Instant(x.MadeAt), x.By, Word(x.State), x.Attempts, Instant(x.HandedAt));

    internal static FleetSample ToRecord(
        SampleRow x,
        string unit,
        Func<int?, string?> lab,
        long? visit,
        long? consignment,
        long? defect,
        IEnumerable<ReportRow> reports,
        string? whole
    ) =>
        new(
            unit,
            x.Compartment,
            x.ItemCode,
            x.Bottle,
            Iso.Day(x.On),
            Iso.Instant(x.TakenAt),
            x.LifeHours.Value,
            x.AddedLitres.Value,
            x.By,
            x.Batch,
            Word(x.Kind),
            Word(x.State),
            x.OilHours?.Value,
            OrNull(x.Fluid),
            OrNull(x.Grade),
            OrNull(x.Family),
            WordOrNull(x.Method),
            WordOrNull(x.Engine),
            OrNull(x.DrawnWrong),
            OrNull(x.Late),
            OrNull(x.Note),
            visit,
            lab(x.LabId),
            consignment,
            Instant(x.SentAt),
            Instant(x.ReportedAt),
            WordOrNull(x.Advised),
            WordOrNull(x.SignedAs),
            x.SignedBy,
            Instant(x.SignedAt),
            OrNull(x.SignedWords),
            defect,
            reports
                .OrderBy(r => r.Id)
                .Select(r => new FleetReport(
                    Iso.Instant(r.ReceivedAt),
                    Word(r.Source),
                    Json(r.Figures),
                    OrNull(r.By),
                    lab(r.LabId),
                    OrNull(r.LabNumber),
                    OrNull(r.Iso),
                    OrNull(r.Comment),
                    Instant(r.ReplacedAt)
                ))
                .ToList()
                is { Count: > 0 } all
                ? all
                : null,
            whole is null ? null : Json(whole),
            Instant(x.VoidedAt),
            x.VoidedBy,
            x.VoidReason
        );

    public static FleetBottle ToRecord(BottleRow x, string unit, long? sample) =>
        new(x.Code, unit, x.Compartment, x.ItemCode, Iso.Instant(x.PreparedAt), x.By, sample);

    public static FleetCall ToRecord(WorkRequestRow x, string unit, long? sample, long? defect) =>
        new(unit, x.ItemCode, Word(x.Reason), Iso.Instant(x.At), Iso.Day(x.On), x.DueHours?.Value, sample, defect, Instant(x.VoidedAt));

    public static FleetDrainChange ToRecord(DrainChangeRow x, string unit, long? sample) =>
        new(
            unit,
            x.Compartment,
            Iso.Day(x.On),
            x.LifeHours.Value,
            x.FromHours.Value,
            x.ToHours.Value,
            Word(x.Reason),
            x.By,
            Iso.Instant(x.At),
            sample
        );

    public static FleetCoolantTest ToRecord(CoolantTestRow x, string unit) =>
        new(
            unit,
            Iso.Day(x.On),
            x.LifeHours.Value,
            x.Laboratory,
            x.WantedPercent,
            x.RefillPercent,
            x.By,
            Iso.Instant(x.At),
            x.SharePercent,
            x.FreezeC,
            x.Ph,
            WordOrNull(x.Inhibitor),
            x.ChloridePpm,
            x.SulphatePpm,
            OrNull(x.Note),
            Instant(x.VoidedAt),
            x.VoidedBy,
            x.Batch
        );

    internal static FleetLooseResult ToRecord(UnmatchedResultRow x, Func<int?, string?> lab, long? sample) =>
        new(x.Bottle, x.Why, Iso.Instant(x.ReceivedAt), Json(x.Result), x.Digest, lab(x.LabId), Instant(x.SettledAt), x.SettledBy, sample);

    internal static LabRow ToRow(FleetLab x, string place) =>
        new()
        {
            Name = x.Name.Trim().Length > 0 ? x.Name : throw Bad(place, "name"),
            Url = LabAddress.Fits(x.Url ?? "") ? x.Url ?? "" : throw Bad(place, "url"),
            Usual = x.Usual,
            Cursor = x.Cursor >= 0 ? x.Cursor : throw Bad(place, "cursor"),
            Columns = x.Columns is { } columns ? JsonSerializer.Serialize(columns) : "",
            Version = 1,
        };

    internal static NewOilRow ToRow(FleetNewOil x, string place) =>
        new()
        {
            Fluid = x.Fluid,
            Grade = x.Grade ?? "",
            Family = x.Family ?? "",
            Viscosity = x.Viscosity,
            Tbn = x.Tbn,
            Tan = x.Tan,
            Oxidation = x.Oxidation,
            Additives = x.Additives is { } additives ? Values(additives, place, "additives") : "",
            Source = Parse<NewOilSource>(x.Source, place, "source"),
            By = x.By,
            At = Instant(x.At, place, "at"),
            Version = 1,
        };

    internal static LimitRow ToRow(FleetOilLimit x, int? machineId, string place)
    {
        var isTarget = x.Measurand == Measurand.Iso.Code();
        if (
            isTarget
                ? Iso4406Code.Parse(x.Target) is null
                : Measurands.Parse(x.Measurand) is not { } known
                    || !Measurands.Limited.Contains(known)
                    || !(x.Watch > 0)
                    || !(x.Act > x.Watch)
        )
            throw Bad(place, "measurand");
        return new()
        {
            Kind = Parse<OilKind>(x.Kind, place, "kind"),
            MachineId = machineId,
            Compartment = x.Compartment ?? "",
            Measurand = x.Measurand,
            Watch = x.Watch ?? 0,
            Act = x.Act ?? 0,
            Target = x.Target ?? "",
        };
    }

    /// <summary>What a judgement rests on, as it is kept; it must be one.</summary>
    internal static (string Whole, OilJudgement Judgement) Case(JsonElement given, string place)
    {
        try
        {
            var oil = OilCase.Read(JsonSerializer.Serialize(given));
            return (oil.Write(), oil.Judge());
        }
        catch (Exception fault) when (fault is JsonException or InvalidOperationException or NullReferenceException or ArgumentException)
        {
            throw Bad(place, "case");
        }
    }

    internal static string Figures(JsonElement given, string place)
    {
        try
        {
            return OilCase.WriteFigures(OilCase.ReadFigures(JsonSerializer.Serialize(given)));
        }
        catch (JsonException)
        {
            throw Bad(place, "reports.figures");
        }
    }

    private static string Values(JsonElement given, string place, string field)
    {
        try
        {
            return OilCase.WriteValues(OilCase.ReadValues(JsonSerializer.Serialize(given)));
        }
        catch (JsonException)
        {
            throw Bad(place, field);
        }
    }

    internal static T? ParseOrNull<T>(string? word, string place, string field)
        where T : struct, Enum => word is null ? null : Parse<T>(word, place, field);

    private static string? WordOrNull<T>(T? value)
        where T : struct, Enum => value is { } given ? Word(given) : null;

    private static bool? OrNull(bool given) => given ? true : null;

    private static JsonElement? JsonOrNull(string text) => text.Length > 0 ? Json(text) : null;
}
