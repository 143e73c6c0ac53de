using System.Globalization;
using System.Text.RegularExpressions;
using Microsoft.EntityFrameworkCore;
using Nippers.App.Readings;
using Nippers.Core.Numbers;
using Nippers.Core.Parts;
using Nippers.Data;
using Nippers.Data.Parts;
using Nippers.Data.Weeks;

namespace Nippers.App.Parts;

/// <summary>A part as entered.</summary>
public sealed record PartInput
{
    /// <summary>Number of the part that is changed; null for a new one.</summary>
    public string? OldNumber { get; init; }
    public int Version { get; init; }
    public string? Number { get; init; }
    public string? Name { get; init; }
    public string? Make { get; init; }
    public PartKind Kind { get; init; }
    public string? LengthMm { get; init; }
    public string? OuterMm { get; init; }
    public string? SealMm { get; init; }
    public string? Thread { get; init; }
    public string? Price { get; init; }
}

/// <summary>A filter position as entered.</summary>
public sealed record PositionInput
{
    /// <summary>Code of the position that is changed; null for a new one.</summary>
    public string? OldCode { get; init; }
    public string? Code { get; init; }
    public string? Name { get; init; }
    public string? Item { get; init; }
    public string? Part { get; init; }
    public string? LengthMm { get; init; }
    public string? OuterMm { get; init; }
    public string? SealMm { get; init; }
    public string? Thread { get; init; }
    public string? Litres { get; init; }
    public PrefillRule Prefill { get; init; }
    public TurnRule Turn { get; init; }
}

/// <summary>Keeps the catalogue, what may stand in for what, the shelves, the filter positions of machines, and the waste log.</summary>
public sealed partial class PartCatalog(NippersDb db, UnitOfWork writes)
{
    private const int LongestName = 80;
    private const double MostMm = 2000;
    private const int MostPieces = 10_000;

    public Task<Outcome<PartRow>> Save(PartInput input, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var refusals = new List<Refusal>();
                var number = (input.Number ?? "").Trim().ToUpperInvariant();
                if (!NumberShape().IsMatch(number))
                    refusals.Add(Refusals.PartNumberShape());
                else if (number != input.OldNumber && await db.Parts.AnyAsync(x => x.Number == number, ct))
                    refusals.Add(Refusals.PartTaken(number));
                if (input.OldNumber is not null && number != input.OldNumber)
                    refusals.Add(Refusals.CodeFixed("number"));
                var name = Typed.Words(input.Name, "name", LongestName, refusals, needed: true);
                var make = Typed.Words(input.Make, "make", LongestName, refusals);
                var size = ReadSize(input.LengthMm, input.OuterMm, input.SealMm, input.Thread, refusals);
                var price = Typed.Money(input.Price, "price", refusals) ?? Money.Zero;
                var part = input.OldNumber is null ? null : await db.Parts.SingleOrDefaultAsync(x => x.Number == input.OldNumber, ct);
                if (input.OldNumber is not null && part is null)
                    return Outcome<PartRow>.Refused(Refusals.PartUnknown("", input.OldNumber));
                if (part is not null && part.Version != input.Version)
                    return Outcome<PartRow>.Refused(Refusals.ChangedMeanwhile());
                if (refusals.Count > 0)
                    return Outcome<PartRow>.Refused(refusals);

                part ??= db.Parts.Add(new() { Number = number, Name = name }).Entity;
                (part.Name, part.Make, part.Kind, part.Price) = (name, make, input.Kind, price);
                (part.LengthMm, part.OuterMm, part.SealMm, part.Thread) = (size.LengthMm, size.OuterMm, size.SealMm, size.Thread);
                part.Version++;
                writes.Audit(
                    actor,
                    "part.save",
                    number,
                    null,
                    null,
                    new
                    {
                        name,
                        make,
                        size,
                        price,
                    }
                );
                return Outcome<PartRow>.Of(part);
            },
            ct
        );

    /// <summary>Says that a part may stand in for another, and who says so; both ways are two entries.</summary>
    public Task<Outcome<PartRow>> Interchange(string number, string? other, string? saysWho, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var refusals = new List<Refusal>();
                var part = await db.Parts.SingleOrDefaultAsync(x => x.Number == number, ct);
                var wanted = (other ?? "").Trim().ToUpperInvariant();
                var second = await db.Parts.SingleOrDefaultAsync(x => x.Number == wanted, ct);
                if (part is null)
                    return Outcome<PartRow>.Refused(Refusals.PartUnknown("", number));
                if (second is null)
                    refusals.Add(Refusals.PartUnknown("other", wanted));
                else if (second.Id == part.Id)
                    refusals.Add(Refusals.PartItself());
                else if (await db.PartAlternates.AnyAsync(x => x.PartId == part.Id && x.OtherId == second.Id, ct))
                    refusals.Add(Refusals.AlternateThere(wanted));
                var who = Typed.Words(saysWho, "saysWho", LongestName, refusals, needed: true);
                if (refusals.Count > 0)
                    return Outcome<PartRow>.Refused(refusals);
                db.PartAlternates.Add(
                    new()
                    {
                        PartId = part.Id,
                        OtherId = second!.Id,
                        SaysWho = who,
                        By = actor.Name,
                        On = DateOnly.FromDateTime(writes.Now.UtcDateTime),
                    }
                );
                writes.Audit(actor, "part.interchange", number, null, null, new { other = wanted, who });
                return Outcome<PartRow>.Of(part);
            },
            ct
        );

    /// <summary>Takes an alternate back.</summary>
    public Task<Outcome<PartRow>> NoInterchange(string number, string other, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var part = await db.Parts.SingleOrDefaultAsync(x => x.Number == number, ct);
                var row = part is null
                    ? null
                    : await db.PartAlternates.SingleOrDefaultAsync(
                        x => x.PartId == part.Id && db.Parts.Any(p => p.Id == x.OtherId && p.Number == other),
                        ct
                    );
                if (row is null)
                    return Outcome<PartRow>.Refused(Refusals.PartUnknown("other", other));
                db.PartAlternates.Remove(row);
                writes.Audit(actor, "part.noInterchange", number, null, new { other, row.SaysWho }, null);
                return Outcome<PartRow>.Of(part!);
            },
            ct
        );

    /// <summary>Parts come to a store, leave it, or are counted there.</summary>
    public Task<Outcome<StockMove>> Move(
        string number,
        string? site,
        StockMoveKind kind,
        string? quantity,
        string? note,
        string? key,
        Actor actor,
        CancellationToken ct
    ) =>
        writes.Run(
            async () =>
            {
                var body = new
                {
                    what = "stock",
                    number,
                    site,
                    kind,
                    quantity,
                    note,
                };
                if (await writes.AgainById(actor, key, body, kept => db.StockMoves.SingleAsync(x => x.Id == kept, ct), ct) is { } again)
                    return again;

                var refusals = new List<Refusal>();
                var part = await db.Parts.SingleOrDefaultAsync(x => x.Number == number, ct);
                if (part is null)
                    return Outcome<StockMove>.Refused(Refusals.PartUnknown("", number));
                var store = await db.Sites.SingleOrDefaultAsync(x => x.Name == site, ct);
                if (store is null)
                    refusals.Add(Refusals.NoSuchSite("site"));
                var pieces = Typed.Whole(quantity, "quantity", kind == StockMoveKind.Count ? 0 : 1, MostPieces, refusals);
                if (pieces is null && refusals.Count == 0)
                    refusals.Add(Refusals.Needed("quantity"));
                var words = Typed.Words(note, "note", 200, refusals);
                if (refusals.Count > 0)
                    return Outcome<StockMove>.Refused(refusals);
                var there = await db.Shelves.Where(x => x.PartId == part.Id && x.SiteId == store!.Id).SumAsync(x => x.Count, ct);
                if (kind == StockMoveKind.Issue && pieces > there)
                    return Outcome<StockMove>.Refused(Refusals.StockShort(there, store!.Name));
                var move = new StockMove
                {
                    PartId = part.Id,
                    SiteId = store!.Id,
                    Quantity = kind switch
                    {
                        StockMoveKind.Issue => -pieces!.Value,
                        StockMoveKind.Count => pieces!.Value - there,
                        _ => pieces!.Value,
                    },
                    Kind = kind,
                    At = writes.Now,
                    By = actor.Name,
                    Note = words,
                };
                db.StockMoves.Add(move);
                await db.SaveChangesAsync(ct);
                writes.Remember(actor, key, move.Id.ToString(CultureInfo.InvariantCulture));
                writes.Audit(
                    actor,
                    "stock.move",
                    number,
                    null,
                    new { there },
                    new
                    {
                        kind,
                        store.Name,
                        move.Quantity,
                    }
                );
                return Outcome<StockMove>.Of(move);
            },
            ct
        );

    /// <summary>Keeps that pieces were ordered for a store, and the day on which they come: the plan by weeks waits for it.</summary>
    public Task<Outcome<PartOrder>> Order(
        string number,
        string? site,
        string? quantity,
        string? expected,
        Actor actor,
        CancellationToken ct
    ) =>
        writes.Run(
            async () =>
            {
                var refusals = new List<Refusal>();
                var part = await db.Parts.SingleOrDefaultAsync(x => x.Number == number, ct);
                if (part is null)
                    return Outcome<PartOrder>.Refused(Refusals.PartUnknown("", number));
                var store = await db.Sites.SingleOrDefaultAsync(x => x.Name == site, ct);
                if (store is null)
                    refusals.Add(Refusals.NoSuchSite("orderSite"));
                var pieces = Typed.Whole(quantity, "ordered", 1, MostPieces, refusals);
                if (pieces is null && refusals.Count == 0)
                    refusals.Add(Refusals.Needed("ordered"));
                if (LocalTime.ParseDate(expected) is not { } on)
                    refusals.Add(Refusals.NotADate("expected"));
                else if (on < DateOnly.FromDateTime(writes.Now.UtcDateTime).AddDays(-1))
                    refusals.Add(Refusals.DateInPast(DateOnly.FromDateTime(writes.Now.UtcDateTime)) with { Field = "expected" });
                if (refusals.Count > 0)
                    return Outcome<PartOrder>.Refused(refusals);
                var order = db
                    .PartOrders.Add(
                        new()
                        {
                            PartId = part.Id,
                            SiteId = store!.Id,
                            Quantity = pieces!.Value,
                            ExpectedOn = LocalTime.ParseDate(expected)!.Value,
                            By = actor.Name,
                            At = writes.Now,
                        }
                    )
                    .Entity;
                writes.Audit(
                    actor,
                    "part.order",
                    number,
                    null,
                    null,
                    new
                    {
                        store.Name,
                        order.Quantity,
                        order.ExpectedOn,
                    }
                );
                return Outcome<PartOrder>.Of(order);
            },
            ct
        );

    /// <summary>An order that came goes onto its store's shelf; one that will not come is taken out.</summary>
    public Task<Outcome<Nothing>> EndOrder(string number, long id, bool came, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var order = await db.PartOrders.SingleOrDefaultAsync(
                    x => x.Id == id && db.Parts.Any(p => p.Id == x.PartId && p.Number == number),
                    ct
                );
                if (order is null)
                    return Outcome<Nothing>.Refused(Refusals.ChangedMeanwhile());
                db.PartOrders.Remove(order);
                if (came)
                {
                    db.StockMoves.Add(
                        new()
                        {
                            PartId = order.PartId,
                            SiteId = order.SiteId,
                            Quantity = order.Quantity,
                            Kind = StockMoveKind.Receipt,
                            At = writes.Now,
                            By = actor.Name,
                        }
                    );
                }

                writes.Audit(actor, came ? "part.came" : "part.orderOut", number, null, new { order.Quantity, order.ExpectedOn }, null);
                return Outcome<Nothing>.Of(Nothing.Special);
            },
            ct
        );

    /// <summary>Enters or changes a filter position of a machine.</summary>
    public Task<Outcome<FilterPosition>> SavePosition(string unit, PositionInput input, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var machine = await db.Machines.SingleOrDefaultAsync(x => x.Unit == unit, ct);
                if (machine is null)
                    return Outcome<FilterPosition>.Refused(Refusals.NoSuchUnit("unit", unit, Array.Empty<string>()));
                var refusals = new List<Refusal>();
                var code = (input.Code ?? "").Trim();
                if (!Typed.IsCode(code))
                    refusals.Add(Refusals.CodeShape());
                else if (code != input.OldCode && await db.FilterPositions.AnyAsync(x => x.MachineId == machine.Id && x.Code == code, ct))
                    refusals.Add(Refusals.CodeTaken("code", code));
                if (input.OldCode is not null && code != input.OldCode)
                    refusals.Add(Refusals.CodeFixed("code"));
                var name = Typed.Words(input.Name, "name", LongestName, refusals, needed: true);
                if (!await db.ProgramItems.AnyAsync(x => x.ProgramId == machine.ProgramId && x.Code == input.Item, ct))
                    refusals.Add(Refusals.NoSuchItem("item", input.Item));
                var number = (input.Part ?? "").Trim().ToUpperInvariant();
                var part = number.Length == 0 ? null : await db.Parts.SingleOrDefaultAsync(x => x.Number == number, ct);
                if (number.Length > 0 && part is null)
                    refusals.Add(Refusals.PartUnknown("part", number));
                var size = ReadSize(input.LengthMm, input.OuterMm, input.SealMm, input.Thread, refusals);
                var litres = Typed.Volume(input.Litres, "litres", 0, 200, refusals) ?? Litres.Zero;
                var row = input.OldCode is null
                    ? null
                    : await db.FilterPositions.SingleOrDefaultAsync(x => x.MachineId == machine.Id && x.Code == input.OldCode, ct);
                if (input.OldCode is not null && row is null)
                    return Outcome<FilterPosition>.Refused(Refusals.NoSuchPosition(input.OldCode));
                if (refusals.Count > 0)
                    return Outcome<FilterPosition>.Refused(refusals);

                row ??= db
                    .FilterPositions.Add(
                        new()
                        {
                            MachineId = machine.Id,
                            Code = code,
                            Name = name,
                            ItemCode = input.Item!,
                        }
                    )
                    .Entity;
                (row.Name, row.ItemCode, row.PartId, row.Litres, row.Prefill, row.Turn) = (
                    name,
                    input.Item!,
                    part?.Id,
                    litres,
                    input.Prefill,
                    input.Turn
                );
                (row.LengthMm, row.OuterMm, row.SealMm, row.Thread) = (size.LengthMm, size.OuterMm, size.SealMm, size.Thread);
                writes.Audit(
                    actor,
                    "position.save",
                    unit,
                    machine.Id,
                    null,
                    new
                    {
                        code,
                        name,
                        input.Item,
                        part = number,
                        size,
                    }
                );
                return Outcome<FilterPosition>.Of(row);
            },
            ct
        );

    /// <summary>Takes a filter position off a machine; its log stays.</summary>
    public Task<Outcome<Nothing>> RemovePosition(string unit, string code, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var row = await db.FilterPositions.SingleOrDefaultAsync(
                    x => x.Code == code && db.Machines.Any(m => m.Id == x.MachineId && m.Unit == unit),
                    ct
                );
                if (row is null)
                    return Outcome<Nothing>.Refused(Refusals.NoSuchPosition(code));
                db.FilterPositions.Remove(row);
                writes.Audit(actor, "position.remove", unit, row.MachineId, new { row.Code, row.Name }, null);
                return Outcome<Nothing>.Of(Nothing.Special);
            },
            ct
        );

    /// <summary>Waste that left by another way than a visit.</summary>
    public Task<Outcome<WasteRow>> LogWaste(
        string? stream,
        string? amount,
        string? place,
        string? date,
        string? key,
        Actor actor,
        CancellationToken ct
    ) =>
        writes.Run(
            async () =>
            {
                var body = new
                {
                    what = "waste",
                    stream,
                    amount,
                    place,
                    date,
                };
                if (await writes.AgainById(actor, key, body, kept => db.Waste.SingleAsync(x => x.Id == kept, ct), ct) is { } again)
                    return again;

                var refusals = new List<Refusal>();
                if (!WasteStreams.Contains(stream))
                    refusals.Add(Refusals.Needed("stream"));
                var much =
                    string.IsNullOrWhiteSpace(amount) || stream == FilterStream
                        ? Typed.Number(amount, "amount", 0.1, MostWaste, refusals)
                        : Typed.Volume(amount, "amount", 0.1, MostWaste, refusals)?.Value;
                var where = Typed.Words(place, "place", LongestName, refusals, needed: true);
                var today = DateOnly.FromDateTime(writes.Now.UtcDateTime);
                var on = string.IsNullOrWhiteSpace(date) ? today : LocalTime.ParseDate(date);
                if (on is null)
                    refusals.Add(Refusals.NotADate("on"));
                else if (on > today.AddDays(1))
                    refusals.Add(Refusals.DateInFuture("on"));
                if (refusals.Count > 0)
                    return Outcome<WasteRow>.Refused(refusals);
                var row = new WasteRow
                {
                    On = on!.Value,
                    Stream = stream!,
                    Amount = much!.Value,
                    Place = where,
                    By = actor.Name,
                    EnteredAt = writes.Now,
                };
                db.Waste.Add(row);
                await db.SaveChangesAsync(ct);
                writes.Remember(actor, key, row.Id.ToString(CultureInfo.InvariantCulture));
                writes.Audit(
                    actor,
                    "waste.log",
                    stream!,
                    null,
                    null,
                    new
                    {
                        row.On,
                        row.Amount,
                        row.Place,
                    }
                );
                return Outcome<WasteRow>.Of(row);
            },
            ct
        );

    private const double MostWaste = 100_000;

    /// <summary>Kinds of waste that are told apart.</summary>
    public static IReadOnlyList<string> WasteStreams { get; } = ["oil", "coolant", "fuel", FilterStream];

    /// <summary>The one that is counted and not measured.</summary>
    public const string FilterStream = "filters";

    private static FilterSize ReadSize(string? length, string? outer, string? seal, string? thread, List<Refusal> refusals) =>
        new(
            Typed.Length(length, "lengthMm", 1, MostMm, refusals),
            Typed.Length(outer, "outerMm", 1, MostMm, refusals),
            Typed.Length(seal, "sealMm", 1, MostMm, refusals),
            Typed.Words(thread, "thread", 24, refusals)
        );

    [GeneratedRegex("^[A-Z0-9][A-Z0-9 ./-]{1,29}$")]
    private static partial Regex NumberShape();
}
