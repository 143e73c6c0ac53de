using System.Globalization;
using System.Text.Json;
using Nippers.App.Walks;
using Nippers.Core.Defects;
using Nippers.Core.Numbers;
using Nippers.Core.Walk;
using Nippers.Data.Defects;
using Nippers.Data.Fleet;
using Nippers.Data.Walks;
using Nippers.Formats;
using Nippers.Formats.Fleet;

namespace Nippers.App.Exchange;

/// <summary>Walks and defects, between rows and records.</summary>
public static partial class FleetMapping
{
    public static FleetWalkList ToRecord(WalkList list, IEnumerable<WalkListVersion> versions) =>
        new(
            list.Code,
            list.Name,
            list.Kind.Wire,
            list.Starter,
            [.. versions.OrderBy(x => x.Version).Select(x => new FleetWalkListVersion(x.Version, Iso.Instant(x.At), x.By, Json(x.Body)))]
        );

    public static FleetLimit ToRecord(MachineCheck x) =>
        new(
            x.CheckCode,
            x.Name,
            x.Low,
            x.WatchBelow,
            x.High,
            x.New,
            x.NewAtHours?.Value,
            x.MarkLitres?.Value,
            x.Method is { } method ? Word(method) : null,
            OrNull(x.Note)
        );

    public static FleetWalk ToRecord(
        WalkRow x,
        string unit,
        string list,
        int version,
        IReadOnlyList<string> codes,
        IReadOnlyList<WalkAnswerRow> open,
        IReadOnlyList<MeasureRow> measures,
        IReadOnlyList<string> done,
        IReadOnlyList<LaterCheckRow> later,
        IReadOnlyList<WalkPhoto>? photos = null
    ) =>
        new(
            unit,
            list,
            version,
            Word(x.Round),
            Word(x.State),
            Iso.Day(x.On),
            Iso.Instant(x.StartedAt),
            x.StartedBy,
            x.ShownHours.Value,
            x.LifeHours.Value,
            Word(x.Weather),
            Word(x.Ground),
            codes,
            x.Answered,
            x.Faults,
            x.LeftOut,
            x.Batch,
            x.Answers.Length > 0 ? Json(x.Answers) : null,
            open.Count > 0
                ?
                [
                    .. open.OrderBy(a => a.Code, StringComparer.Ordinal)
                        .Select(a => new FleetOpenAnswer(a.Code, a.Revision, a.By, Iso.Instant(a.At), a.Answer)),
                ]
                : null,
            measures.Count > 0
                ?
                [
                    .. measures
                        .OrderBy(m => m.CheckCode, StringComparer.Ordinal)
                        .Select(m => new FleetMeasure(m.CheckCode, m.Value, m.Used ? null : true)),
                ]
                : null,
            done.Count > 0 ? [.. done.Order(StringComparer.Ordinal)] : null,
            x.FinishedAt is { } finished ? Iso.Instant(finished) : null,
            x.FinishedBy,
            x.Late ? true : null,
            OrNull(x.Note),
            x.RunStatus is { } verdict ? Word(verdict) : null,
            x.UntilHours?.Value,
            x.UntilOn is { } on ? Iso.Day(on) : null,
            x.VoidedAt is { } voided ? Iso.Instant(voided) : null,
            x.VoidedBy,
            x.VoidReason,
            x.NotChecked > 0 ? x.NotChecked : null,
            x.HonestSeconds > 0 ? x.HonestSeconds : null,
            later.Count > 0
                ?
                [
                    .. later
                        .OrderBy(l => l.CheckCode, StringComparer.Ordinal)
                        .Select(l => new FleetLaterCheck(l.CheckCode, l.By, Iso.Instant(l.At), OrNull(l.Words))),
                ]
                : null,
            x.ParkedAt is { } parked ? Iso.Instant(parked) : null,
            photos is { Count: > 0 }
                ?
                [
                    .. photos
                        .OrderBy(p => p.Id)
                        .Select(p => new FleetWalkPhoto(p.CheckCode, Iso.Instant(p.At), p.By, p.Width, p.Height, p.Whole, p.Small)),
                ]
                : null
        );

    public static FleetParking ToRecord(ParkingRow x) =>
        new(Iso.Day(x.On), Iso.Instant(x.At), x.By, [.. x.Done.Split(' ').Select(JsonNamingPolicy.CamelCase.ConvertName)], OrNull(x.Note));

    public static ParkingRow ToRow(FleetParking x, int machineId, string place) =>
        new()
        {
            MachineId = machineId,
            On = Day(x.On, place, "parkings.on"),
            At = Instant(x.At, place, "parkings.at"),
            By = x.By,
            Done = ParkingCard.Write(x.Done.Select(line => Parse<ParkingLine>(line, place, "parkings.done"))),
            Note = x.Note ?? "",
        };

    public static FleetMachineCode ToRecord(MachineCode x) => new(x.Code, x.Meaning, x.By, Iso.Instant(x.At));

    public static MachineCode ToRow(FleetMachineCode x, int machineId, string place) =>
        new()
        {
            MachineId = machineId,
            Code = FaultCode.Parse(x.Code)?.ToString() ?? throw new FleetFaultException("fleetBadField", place, "codes.code"),
            Meaning = x.Meaning,
            By = x.By,
            At = Instant(x.At, place, "codes.at"),
        };

    public static FleetTopUp ToRecord(TopUpRow x, string unit, long? walk) =>
        new(
            unit,
            x.Compartment,
            x.Litres.Value,
            Iso.Instant(x.At),
            x.LifeHours.Value,
            x.By,
            walk,
            x.VoidedAt is { } voided ? Iso.Instant(voided) : null,
            x.VoidedBy
        );

    public static FleetDefect ToRecord(
        DefectRow x,
        string unit,
        long? walk,
        long? repeatOf,
        IEnumerable<DefectEvent> events,
        Func<long, long?> walkNumber,
        IEnumerable<Stoppage> stoppages,
        IEnumerable<DefectPhoto> photos
    ) =>
        new(
            unit,
            x.Place,
            x.PlaceName,
            x.Words,
            Word(x.Grade),
            Word(x.FoundGrade),
            Word(x.Safety),
            Word(x.State),
            x.By,
            Iso.Instant(x.At),
            Iso.Day(x.On),
            x.LifeHours.Value,
            Iso.Instant(x.ClockFrom),
            x.Version,
            [
                .. events
                    .OrderBy(e => e.At)
                    .ThenBy(e => e.Id)
                    .Select(e => new FleetDefectEvent(
                        Iso.Instant(e.At),
                        e.By,
                        Word(e.Act),
                        OrNull(e.Words),
                        e.From is { } from ? Word(from) : null,
                        e.To is { } to ? Word(to) : null,
                        e.LimitHours?.Value,
                        e.LimitOn is { } limit ? Iso.Day(limit) : null,
                        e.WalkId is { } at ? walkNumber(at) : null,
                        OrNull(e.Answer)
                    )),
            ],
            [
                .. stoppages
                    .OrderBy(s => s.From)
                    .ThenBy(s => s.Id)
                    .Select(s => new FleetStoppage(
                        Iso.Instant(s.From),
                        s.To is { } to ? Iso.Instant(to) : null,
                        OrNull(s.Contact),
                        s.SentAt is { } sent ? Iso.Instant(sent) : null,
                        s.AcknowledgedBy,
                        s.AcknowledgedAt is { } at ? Iso.Instant(at) : null
                    )),
            ],
            [
                .. photos
                    .OrderBy(p => p.Id)
                    .Select(p => new FleetPhoto(Iso.Instant(p.At), p.By, p.Width, p.Height, p.Bytes.Whole, p.Bytes.Small)),
            ],
            x.LimitHours?.Value,
            x.LimitOn is { } on ? Iso.Day(on) : null,
            walk,
            OrNull(x.CheckCode),
            OrNull(x.Code),
            repeatOf,
            x.LookAgainHours?.Value,
            x.DownTo is { } down ? Word(down) : null,
            x.DownBy,
            x.DownReason,
            x.RepairedBy,
            x.RepairedAt is { } repaired ? Iso.Instant(repaired) : null,
            x.RepairedHours?.Value,
            x.RepairWords,
            x.RepairMinutes,
            x.RepairParts,
            x.ReturnedBy,
            x.ReturnedAt is { } returned ? Iso.Instant(returned) : null,
            x.ReturnWords,
            x.VoidedBy,
            x.VoidReason,
            Word(x.Part),
            x.VoidAskedBy,
            x.VoidAskReason,
            x.ToldWhom,
            x.ToldBy,
            x.ToldAt is { } told ? Iso.Instant(told) : null
        );

    public static (WalkList List, List<WalkListVersion> Versions) ToRows(FleetWalkList record, string place)
    {
        if (record.Versions.Count == 0)
            throw Bad(place, "versions");
        var list = new WalkList
        {
            Code = record.Code,
            Name = record.Name,
            Kind = KindOf(record.Kind, place),
            Starter = record.Starter,
            Version = record.Versions.Max(x => x.Version),
        };
        return (
            list,
            [
                .. record.Versions.Select(
                    (x, i) =>
                        new WalkListVersion
                        {
                            List = list,
                            Version = x.Version,
                            At = Instant(x.At, place, $"versions[{i}].at"),
                            By = x.By,
                            Body = Body(x.Body, place, $"versions[{i}].body"),
                        }
                ),
            ]
        );
    }

    public static MachineCheck ToRow(FleetLimit x, int machineId, string place) =>
        new()
        {
            MachineId = machineId,
            CheckCode = x.Check,
            Name = x.Name,
            Low = x.Low,
            WatchBelow = x.WatchBelow,
            High = x.High,
            New = x.New,
            NewAtHours = x.NewAtHours is { } hours ? Hours(hours, place, "limits.newAtHours") : null,
            MarkLitres =
                x.MarkLitres is null ? null
                : x.MarkLitres > 0 ? new Litres(x.MarkLitres.Value)
                : throw Bad(place, "limits.markLitres"),
            Method = x.Method is { } method ? Parse<SagMethod>(method, place, "limits.method") : null,
            Note = x.Note ?? "",
        };

    public static DefectRow ToRow(FleetDefect x, int machineId, string place) =>
        new()
        {
            MachineId = machineId,
            Place = x.Place,
            PlaceName = x.PlaceName,
            Words = x.Words,
            Grade = Parse<DefectGrade>(x.Grade, place, "grade"),
            FoundGrade = Parse<DefectGrade>(x.FoundGrade, place, "foundGrade"),
            Safety = Parse<SafetyPart>(x.Safety, place, "safety"),
            State = Parse<DefectState>(x.State, place, "state"),
            By = x.By,
            At = Instant(x.At, place, "at"),
            On = Day(x.On, place, "on"),
            LifeHours = Hours(x.LifeHours, place, "lifeHours"),
            ClockFrom = Instant(x.ClockFrom, place, "clockFrom"),
            Version = x.Version,
            LimitHours = x.LimitHours is { } limit ? Hours(limit, place, "limitHours") : null,
            LimitOn = x.LimitOn is { } on ? Day(on, place, "limitOn") : null,
            CheckCode = x.Check ?? "",
            Code = x.Code ?? "",
            LookAgainHours = x.LookAgainHours is { } again ? Hours(again, place, "lookAgainHours") : null,
            DownTo = x.DownTo is { } down ? Parse<DefectGrade>(down, place, "downTo") : null,
            DownBy = x.DownBy,
            DownReason = x.DownReason,
            RepairedBy = x.RepairedBy,
            RepairedAt = x.RepairedAt is { } repaired ? Instant(repaired, place, "repairedAt") : null,
            RepairedHours = x.RepairedHours is { } hours ? Hours(hours, place, "repairedHours") : null,
            RepairWords = x.RepairWords,
            RepairMinutes = x.RepairMinutes,
            RepairParts = x.RepairParts,
            ReturnedBy = x.ReturnedBy,
            ReturnedAt = x.ReturnedAt is { } returned ? Instant(returned, place, "returnedAt") : null,
            ReturnWords = x.ReturnWords,
            VoidedBy = x.VoidedBy,
            VoidReason = x.VoidReason,

            // Files of before name no part: the words and the safety-critical thing tell it.
            Part =
                x.Part is { } part ? Parse<MachinePart>(part, place, "part")
                : Parse<SafetyPart>(x.Safety, place, "safety") is var safety and not SafetyPart.None ? MachineParts.Of(safety)
                : MachineParts.Proposed(x.Words).FirstOrDefault(),
            VoidAskedBy = x.VoidAskedBy,
            VoidAskReason = x.VoidAskReason,
            ToldWhom = x.ToldWhom,
            ToldBy = x.ToldBy,
            ToldAt = x.ToldAt is { } told ? Instant(told, place, "toldAt") : null,
        };

    public static DefectEvent ToRow(FleetDefectEvent x, long defectId, string place) =>
        new()
        {
            DefectId = defectId,
            At = Instant(x.At, place, "events.at"),
            By = x.By,
            Act = Parse<DefectAct>(x.Act, place, "events.act"),
            Words = x.Words ?? "",
            From = x.From is { } from ? Parse<DefectGrade>(from, place, "events.from") : null,
            To = x.To is { } to ? Parse<DefectGrade>(to, place, "events.to") : null,
            LimitHours = x.LimitHours is { } limit ? Hours(limit, place, "events.limitHours") : null,
            LimitOn = x.LimitOn is { } on ? Day(on, place, "events.limitOn") : null,
            Answer = x.Answer is { } answer ? OneAnswer(answer, place, "events.answer") : "",
        };

    private static string OneAnswer(string answer, string place, string field)
    {
        try
        {
            return PackedAnswers.WriteOne(PackedAnswers.ReadOne(answer));
        }
        catch (JsonException)
        {
            throw Bad(place, field);
        }
    }

    /// <summary>Takes a site's working time; what is not told stays as usual.</summary>
    internal static void SetWorking(Site site, FleetSite record, string place)
    {
        if (record.WorkDays is { } days)
            site.WorkDays = days.Select(x => 1 << (int)Parse<DayOfWeek>(x, place, "workDays")).Aggregate(0, (a, b) => a | b);
        if (record.ShiftFrom is { } from)
            site.ShiftFrom = Minutes(from, place, "shiftFrom");
        if (record.ShiftTo is { } to)
            site.ShiftTo = Minutes(to, place, "shiftTo");
        if (site.ShiftTo <= site.ShiftFrom || site.WorkDays == 0)
            throw Bad(place, "shiftTo");
        (site.LowC, site.HighC) = (record.LowC, record.HighC);
        (site.Contact, site.StopsEachWalk) = (record.Contact ?? "", record.StopsEachWalk == true);
        if ((site.LowC is null) != (site.HighC is null) || site.LowC >= site.HighC)
            throw Bad(place, "highC");
    }

    internal static string Body(JsonElement body, string place, string field)
    {
        try
        {
            var list = ListJson.Read(body.GetRawText());
            if (list.Stations.IsDefaultOrEmpty || list.Postures.IsDefault || list.Parts.IsDefault || list.Checks.IsDefault)
                throw Bad(place, field);
            return PlanBounds.Fits(list) ? ListJson.Write(list) : throw Bad(place, field);
        }
        catch (JsonException)
        {
            throw Bad(place, field);
        }
    }

    private static JsonElement Json(string text)
    {
        using var document = JsonDocument.Parse(text);
        return document.RootElement.Clone();
    }

    private static string Minutes(int minutes) => string.Create(CultureInfo.InvariantCulture, $"{minutes / 60:00}:{minutes % 60:00}");

    private static int Minutes(string text, string place, string field) =>
        TimeOnly.TryParseExact(text, "HH:mm", CultureInfo.InvariantCulture, DateTimeStyles.None, out var time)
            ? time.Hour * 60 + time.Minute
            : throw Bad(place, field);
}
