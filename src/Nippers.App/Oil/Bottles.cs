using Microsoft.EntityFrameworkCore;
using Nippers.Core.Oil;
using Nippers.Data;
using Nippers.Data.Oil;
using Nippers.Data.Queries;

namespace Nippers.App.Oil;

/// <summary>A bottle to prepare: a machine and the item that samples.</summary>
public sealed record BottleWish(string Unit, string Item);

/// <summary>Gives out bottle codes, so that labels can be printed before the samples are taken.</summary>
public sealed class Bottles(NippersDb db, UnitOfWork writes, OilCatalog book)
{
    private const int MostAtOnce = 120;

    /// <summary>Gives a code to each wish; one that was given out before and is still empty is given again.</summary>
    public Task<Outcome<IReadOnlyList<string>>> Prepare(IReadOnlyCollection<BottleWish> wishes, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                if (wishes.Count == 0)
                    return Outcome<IReadOnlyList<string>>.Refused(Refusals.NoneChosen());
                if (wishes.Count > MostAtOnce)
                    return Outcome<IReadOnlyList<string>>.Refused(Refusals.TooManyChosen(MostAtOnce));
                var codes = new List<string>();
                foreach (var unit in wishes.GroupBy(x => x.Unit))
                {
                    var machine = await book.Load(unit.Key, ct);
                    if (machine is null)
                        return Outcome<IReadOnlyList<string>>.Refused(Refusals.NoSuchUnit("", unit.Key, Array.Empty<string>()));
                    var places = OilCatalog.Places(machine, machine.Program).ToDictionary(x => x.Item.Code, StringComparer.Ordinal);
                    foreach (var wish in unit)
                    {
                        if (!places.TryGetValue(wish.Item, out var place))
                            return Outcome<IReadOnlyList<string>>.Refused(Refusals.NoSuchItem("", wish.Item));
                        var bottle = await db.FreeBottles()
                            .FirstOrDefaultAsync(x => x.MachineId == machine.Id && x.ItemCode == wish.Item, ct)
                            ?? await New(db, machine.Id, place.Compartment.Code, wish.Item, writes.Now, actor.Name, ct);
                        codes.Add(bottle.Code);
                    }
                }

                return Outcome<IReadOnlyList<string>>.Of(codes);
            },
            ct
        );

    /// <summary>The next code. It is kept at once, inside the caller's transaction, so that the one after it is another.</summary>
    internal static async Task<BottleRow> New(
        NippersDb db,
        int machineId,
        string compartment,
        string item,
        DateTimeOffset now,
        string by,
        CancellationToken ct
    )
    {
        // Beyond what was ever given out, also by another database that a fleet file came from.
        var number = Math.Max(
            await db.Bottles.MaxAsync(x => (long?)x.Id, ct) ?? 0,
            await db.Samples.WithVoided().MaxAsync(x => (long?)x.Id, ct) ?? 0
        );
        string code;
        do
        {
            code = BottleCode.Of(++number);
        } while (await db.Bottles.AnyAsync(x => x.Code == code, ct) || await db.Samples.WithVoided().AnyAsync(x => x.Bottle == code, ct));
        var row = new BottleRow
        {
            Code = code,
            MachineId = machineId,
            Compartment = compartment,
            ItemCode = item,
            PreparedAt = now,
            By = by,
        };
        db.Bottles.Add(row);
        await db.SaveChangesAsync(ct);
        return row;
    }

    /// <summary>Reads what is written on a bottle. Another laboratory's mark is taken as it is; a slip in one of ours is told.</summary>
    public static (string Mark, string? Fault) ReadMark(string typed)
    {
        var mark = BottleCode.Scanned(typed) ?? "";
        if (BottleCode.Read(mark) is { } code)
            return (code, null);
        return (mark, BottleCode.HasShape(mark) ? "bottleSlip" : null);
    }
}
