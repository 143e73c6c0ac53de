using System.Text.Json;
using Nippers.App.Visits;
using Nippers.Core.Jobs;
using Nippers.Core.Numbers;
using Nippers.Core.Parts;
using Nippers.Data.Parts;
using Nippers.Data.Visits;
using Nippers.Formats;
using Nippers.Formats.Fleet;

namespace Nippers.App.Exchange;

/// <summary>Visits, parts and what closing a card writes, between rows and records.</summary>
public static partial class FleetMapping
{
    public static FleetShop ToRecord(Shop x, IEnumerable<FluidRow> fluids) =>
        new(
            x.Currency,
            x.LabourPerHour.Value,
            x.CallOutCost.Value,
            x.CareHours,
            x.HorizonDays,
            x.PailLitres,
            x.OneAtATime,
            x.DrainHot,
            x.Vessels,
            [.. fluids.OrderBy(f => f.Name, StringComparer.Ordinal).Select(f => new FleetFluid(f.Name, f.PerLitre.Value))],
            OrNull(x.HaulageCost),
            OrNull(x.LabFee),
            OrNull(x.DowntimePerHour),
            x.PlanDays,
            x.ReservePercent,
            x.PartsDays,
            x.RoadPerMinute.Value,
            x.MovingCost.Value
        );

    private static double? OrNull(Money money) => money == Core.Numbers.Money.Zero ? null : money.Value;

    public static FleetPart ToRecord(PartRow x) =>
        new(x.Number, x.Name, Word(x.Kind), x.Price.Value, OrNull(x.Make), x.LengthMm, x.OuterMm, x.SealMm, OrNull(x.Thread));

    public static FleetAlternate ToRecord(PartAlternate x, string part, string other) => new(part, other, x.SaysWho, x.By, Iso.Day(x.On));

    public static FleetPosition ToRecord(FilterPosition x) =>
        new(
            x.Code,
            x.Name,
            x.ItemCode,
            Word(x.Prefill),
            Word(x.Turn),
            x.Litres.Value,
            x.Part?.Number,
            x.LengthMm,
            x.OuterMm,
            x.SealMm,
            OrNull(x.Thread)
        );

    public static FleetVisit ToRecord(
        VisitRow x,
        string unit,
        IEnumerable<long> defects,
        IEnumerable<FleetStep> steps,
        IEnumerable<VanLine> van
    ) =>
        new(
            unit,
            Word(x.State),
            Iso.Day(x.On),
            x.NameHours,
            x.PlannedBy,
            Iso.Instant(x.PlannedAt),
            [
                .. x
                    .Items.OrderBy(i => i.ItemCode, StringComparer.Ordinal)
                    .Select(i => new FleetVisitItem(
                        i.ItemCode,
                        Word(i.State),
                        i.Reason,
                        i.ReasonWords is { Length: > 0 } words ? words : null,
                        i.Added ? true : null
                    )),
            ],
            [.. defects.Order()],
            x.HandsMinutes,
            x.ElapsedMinutes,
            x.SavedMinutes,
            x.PartsCost.Value,
            x.FluidsCost.Value,
            x.LabourCost.Value,
            x.CallOutCost.Value,
            x.WasteCost.Value,
            OrNull(x.Note),
            x.Card.Length > 0 ? Json(x.Card) : null,
            x.Card.Length > 0 ? x.ProgramVersion : null,
            steps.ToList() is { Count: > 0 } given ? given : null,
            x.Quote?.Value,
            x.OpenedBy,
            Instant(x.OpenedAt),
            x.OpenedAt is null ? null : x.ShownHours.Value,
            x.OpenedAt is null ? null : x.LifeHours.Value,
            x.ClosedBy,
            Instant(x.ClosedAt),
            x.Batch,
            x.RealMinutes,
            x.RealPartsCost?.Value,
            x.RealFluidsCost?.Value,
            x.RealLabourCost?.Value,
            x.VoidedBy,
            x.VoidReason,
            x.CameWarm ? true : null,
            x.HeldBy,
            x.HandedTo,
            OrNull(x.HandedWords),
            van.Select(v => new FleetVanLine(
                    v.Line,
                    v.Words,
                    v.InBy,
                    Iso.Instant(v.InAt),
                    v.Returns ? true : null,
                    v.OutBy,
                    Instant(v.OutAt)
                ))
                .ToList()
                is { Count: > 0 } lines
                ? lines
                : null,
            x.Hauled ? true : null,
            OrNull(x.HaulageCost),
            OrNull(x.LabCost),
            OrNull(x.DowntimeCost),
            x.RealLabCost?.Value,
            x.RealDowntimeCost?.Value,
            x.TwoPeople ? true : null
        );

    public static FleetStep ToRecord(StepRow x, long? defect, IReadOnlyCollection<StepPhoto> photos) =>
        new(
            x.Code,
            x.By,
            Iso.Instant(x.At),
            Json(x.Answer),
            defect,
            photos.Count == 0
                ? null
                : [.. photos.OrderBy(p => p.Id).Select(p => new FleetPhoto(Iso.Instant(p.At), p.By, p.Width, p.Height, p.Whole, p.Small))],
            x.Paper ? true : null
        );

    public static FleetFilterLog ToRecord(FilterLogRow x, string unit, long? visit) =>
        new(
            unit,
            x.Position,
            x.PositionName,
            Word(x.State),
            x.Part,
            Iso.Day(x.On),
            x.LifeHours.Value,
            x.By,
            Iso.Instant(x.EnteredAt),
            OrNull(x.Batch),
            OrNull(x.Make),
            visit,
            x.Metal is { } metal ? Word(metal) : null,
            OrNull(x.Words),
            Instant(x.VoidedAt),
            x.VoidedBy
        );

    public static FleetStock ToRecord(StockMove x, string part, string site, long? visit) =>
        new(part, site, x.Quantity, Word(x.Kind), Iso.Instant(x.At), x.By, OrNull(x.Note), visit);

    public static FleetWaste ToRecord(WasteRow x, string? unit, long? visit) =>
        new(
            Iso.Day(x.On),
            x.Stream,
            x.Amount,
            x.Place,
            x.By,
            Iso.Instant(x.EnteredAt),
            unit,
            visit,
            OrNull(x.Batch),
            Instant(x.VoidedAt),
            x.VoidedBy
        );

    public static FleetOnBoard ToRecord(OnBoardRow x, string unit, long? visit) =>
        new(unit, x.Compartment, x.Fluid, x.Litres.Value, Iso.Day(x.On), x.LifeHours.Value, x.Batch, visit, Instant(x.VoidedAt));

    // What a file from before the plan by weeks does not say is what a new workshop begins with.
    private static readonly Shop NewShop = new();

    internal static Shop ToRow(FleetShop x, string place) =>
        new()
        {
            PlanDays = Between(x.PlanDays ?? NewShop.PlanDays, 7, 56, place, "planDays"),
            ReservePercent = Between(x.ReservePercent ?? NewShop.ReservePercent, 0, 80, place, "reservePercent"),
            PartsDays = Between(x.PartsDays ?? NewShop.PartsDays, 0, 120, place, "partsDays"),
            RoadPerMinute = Money(x.RoadPerMinute ?? NewShop.RoadPerMinute.Value, place, "roadPerMinute"),
            MovingCost = Money(x.Moving ?? NewShop.MovingCost.Value, place, "moving"),
            Currency = x.Currency,
            LabourPerHour = Money(x.LabourPerHour, place, "labourPerHour"),
            CallOutCost = Money(x.CallOut, place, "callOut"),
            HaulageCost = Money(x.Haulage ?? 0, place, "haulage"),
            LabFee = Money(x.LabFee ?? 0, place, "labFee"),
            DowntimePerHour = Money(x.DowntimePerHour ?? 0, place, "downtimePerHour"),
            CareHours = Between(x.CareHours, 10, 200, place, "careHours"),
            HorizonDays = Between(x.HorizonDays, 30, 400, place, "horizonDays"),
            PailLitres = Between(x.PailLitres, 1, 1000, place, "pailLitres"),
            OneAtATime = x.OneAtATime,
            DrainHot = x.DrainHot,
            Vessels = WorkshopService.ReadVessels(x.Vessels) is null ? throw Bad(place, "vessels") : x.Vessels,
            Version = 1,
        };

    internal static PartRow ToRow(FleetPart x, string place) =>
        new()
        {
            Number = x.Number.Trim().Length is > 0 and <= 30 ? x.Number : throw Bad(place, "number"),
            Name = x.Name,
            Make = x.Make ?? "",
            Kind = Parse<PartKind>(x.Kind, place, "kind"),
            LengthMm = x.LengthMm,
            OuterMm = x.OuterMm,
            SealMm = x.SealMm,
            Thread = x.Thread ?? "",
            Price = Money(x.Price, place, "price"),
            Version = 1,
        };

    internal static FilterPosition ToRow(FleetPosition x, int machineId, int? partId, string place) =>
        new()
        {
            MachineId = machineId,
            Code = x.Code,
            Name = x.Name,
            ItemCode = x.Item,
            PartId = partId,
            LengthMm = x.LengthMm,
            OuterMm = x.OuterMm,
            SealMm = x.SealMm,
            Thread = x.Thread ?? "",
            Prefill = Parse<PrefillRule>(x.Prefill, place, "positions.prefill"),
            Turn = Parse<TurnRule>(x.Turn, place, "positions.turn"),
            Litres = x.Litres >= 0 ? new Litres(x.Litres) : throw Bad(place, "positions.litres"),
        };

    internal static VisitRow ToRow(FleetVisit x, int machineId, string place)
    {
        var state = Parse<VisitState>(x.State, place, "state");
        if (state is VisitState.Open or VisitState.Closed && (x.Card is null || x.Opened is null))
            throw Bad(place, "card");
        return new()
        {
            MachineId = machineId,
            State = state,
            On = Day(x.On, place, "on"),
            NameHours = x.NameHours,
            PlannedBy = x.PlannedBy,
            PlannedAt = Instant(x.Planned, place, "planned"),
            Note = x.Note ?? "",
            HandsMinutes = x.HandsMinutes,
            ElapsedMinutes = x.ElapsedMinutes,
            SavedMinutes = x.SavedMinutes,
            PartsCost = Money(x.Parts, place, "parts"),
            FluidsCost = Money(x.Fluids, place, "fluids"),
            LabourCost = Money(x.Labour, place, "labour"),
            CallOutCost = Money(x.CallOut, place, "callOut"),
            Hauled = x.Hauled == true,
            TwoPeople = x.TwoPeople == true,
            HaulageCost = Money(x.Haulage ?? 0, place, "haulage"),
            LabCost = Money(x.Lab ?? 0, place, "lab"),
            DowntimeCost = Money(x.Downtime ?? 0, place, "downtime"),
            RealLabCost = Money(x.RealLab, place, "realLab"),
            RealDowntimeCost = Money(x.RealDowntime, place, "realDowntime"),
            WasteCost = Money(x.Waste, place, "waste"),
            Quote = Money(x.Quote, place, "quote"),
            Card = x.Card is { } card ? Card(card, place) : "",
            ProgramVersion = x.ProgramVersion ?? 0,
            OpenedBy = x.OpenedBy,
            OpenedAt = x.Opened is { } opened ? Instant(opened, place, "opened") : null,
            ShownHours = x.Hours is { } hours ? Hours(hours, place, "hours") : default,
            LifeHours = x.LifeHours is { } life ? Hours(life, place, "lifeHours") : default,
            ClosedBy = x.ClosedBy,
            ClosedAt = x.Closed is { } closed ? Instant(closed, place, "closed") : null,
            Batch = x.Batch,
            RealMinutes = x.RealMinutes,
            RealPartsCost = Money(x.RealParts, place, "realParts"),
            RealFluidsCost = Money(x.RealFluids, place, "realFluids"),
            RealLabourCost = Money(x.RealLabour, place, "realLabour"),
            VoidedBy = x.VoidedBy,
            VoidReason = x.VoidReason,
            CameWarm = x.CameWarm == true,
            HeldBy = x.HeldBy,
            HandedTo = x.HandedTo,
            HandedWords = x.HandedWords ?? "",
            Version = 1,
            Items =
            [
                .. x.Items.Select(
                    (i, n) =>
                        new VisitItemRow
                        {
                            ItemCode = i.Item,
                            State = Parse<VisitItemState>(i.State, place, $"items[{n}].state"),
                            Reason = i.Reason,
                            ReasonWords = i.Words,
                            Added = i.Added ?? false,
                        }
                ),
            ],
        };
    }

    /// <param name="x">The step.</param>
    /// <param name="visitId">Its visit.</param>
    /// <param name="step">The step of the card that it answers.</param>
    /// <param name="old">The file is of version 1.</param>
    /// <param name="place">Where it stands in the file.</param>
    internal static StepRow ToRow(FleetStep x, long visitId, JobStep? step, bool old, string place)
    {
        if (step is null)
            throw Bad(place, "steps.code");
        var answer = JsonSerializer.Serialize(x.Answer);
        try
        {
            if (old)
                answer = OldAnswers.Step(answer, step.Input);
            if (JobContext.ReadAnswer(answer).To(InputKindOf.Answer) != step.Input)
                throw Bad(place, "steps.answer");
        }
        catch (JsonException)
        {
            throw Bad(place, "steps.answer");
        }

        return new()
        {
            VisitId = visitId,
            Code = x.Code,
            By = x.By,
            At = Instant(x.At, place, "steps.at"),
            Answer = answer,
            Paper = x.Paper == true,
            Revision = 1,
        };
    }

    internal static FilterLogRow ToRow(FleetFilterLog x, int machineId, long? visit, string place) =>
        new()
        {
            MachineId = machineId,
            Position = x.Position,
            PositionName = x.Name,
            State = Parse<FilterLogState>(x.State, place, "state"),
            Part = x.Part,
            Make = x.Make ?? "",
            On = Day(x.On, place, "on"),
            LifeHours = Hours(x.LifeHours, place, "lifeHours"),
            By = x.By,
            EnteredAt = Instant(x.Entered, place, "entered"),
            VisitId = visit,
            Metal = x.Metal is { } metal ? Parse<MetalFinding>(metal, place, "metal") : null,
            Words = x.Words ?? "",
            Batch = x.Batch ?? "",
            VoidedAt = x.VoidedAt is { } at ? Instant(at, place, "voidedAt") : null,
            VoidedBy = x.VoidedBy,
        };

    /// <summary>The card as it was written, when it can be read as one.</summary>
    private static string Card(JsonElement card, string place)
    {
        var text = JsonSerializer.Serialize(card);
        try
        {
            var read = CardMaking.Read(text);
            if (read.Steps.IsDefault || read.Steps.DistinctBy(x => x.Code).Count() < read.Steps.Length)
                throw Bad(place, "card.steps");
            return CardMaking.Write(read);
        }
        catch (JsonException)
        {
            throw Bad(place, "card");
        }
    }

    private static string? Instant(DateTimeOffset? at) => at is { } then ? Iso.Instant(then) : null;

    internal static Money Money(double amount, string place, string field) =>
        amount is >= 0 and <= 10_000_000 ? Core.Numbers.Money.Of(amount) : throw Bad(place, field);

    private static Money? Money(double? amount, string place, string field) => amount is { } given ? Money(given, place, field) : null;
}
