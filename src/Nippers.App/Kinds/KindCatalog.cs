using System.Text.RegularExpressions;
using Microsoft.EntityFrameworkCore;
using Nippers.App.Programs;
using Nippers.Core.Walk;
using Nippers.Data;
using Nippers.Data.Fleet;
using Nippers.Data.Queries;
using Nippers.Data.Walks;

namespace Nippers.App.Kinds;

/// <summary>A kind that can be chosen.</summary>
public sealed record KindChoice(MachineKind Kind, string Name);

/// <summary>A kind in the overview.</summary>
/// <param name="Kind">Its code.</param>
/// <param name="Name">What it is called.</param>
/// <param name="Ships">It came with Nippers.</param>
/// <param name="Lists">Its walk lists, own ones first.</param>
/// <param name="Programs">Its programs, own ones first.</param>
/// <param name="Machines">Machines of it that are not retired.</param>
public sealed record KindLine(
    MachineKind Kind,
    string Name,
    bool Ships,
    IReadOnlyList<(string Code, string Name)> Lists,
    IReadOnlyList<(string Code, string Name)> Programs,
    int Machines
);

/// <summary>The kinds of machines: those that ship, and those that planners made by copying one.</summary>
public sealed partial class KindCatalog(NippersDb db, UnitOfWork writes)
{
    private const int LongestName = 40;

    /// <summary>What can be chosen for a machine.</summary>
    public static async Task<IReadOnlyList<KindChoice>> Choices(NippersDb db, CancellationToken ct)
    {
        var own = await db.OwnKinds(ct);
        return
        [
            .. KindFolders.All.Select(x => new KindChoice(x.Kind, x.Name)),
            .. own.Where(x => KindFolders.Find(x.Kind) is null).DistinctBy(x => x.Kind).Select(x => new KindChoice(x.Kind, x.Name)),
        ];
    }

    /// <summary>How the sag of a track is measured on a kind that a planner made; null where its list does not say.</summary>
    public static async Task<SagMethod?> SagOf(NippersDb db, MachineKind kind, CancellationToken ct)
    {
        var body = await db
            .WalkListVersions.AsNoTracking()
            .Where(x => x.List.Kind == kind && !x.List.Starter && x.Version == x.List.Version)
            .OrderBy(x => x.ListId)
            .Select(x => x.Body)
            .FirstOrDefaultAsync(ct);
        return body is null ? null : ListJson.Read(body).Sag;
    }

    /// <summary>Option words that decide something on a kind: in its lists and its programs.</summary>
    public static async Task<IReadOnlySet<string>> OptionsOf(NippersDb db, MachineKind kind, CancellationToken ct)
    {
        var programs = await db
            .Programs.AsNoTracking()
            .AsSplitQuery()
            .Include(x => x.Items)
            .Include(x => x.Compartments)
            .Where(x => x.Kind == kind)
            .ToListAsync(ct);
        var bodies = await db
            .WalkListVersions.AsNoTracking()
            .Where(x => x.List.Kind == kind && x.Version == x.List.Version)
            .Select(x => x.Body)
            .ToListAsync(ct);
        return programs
            .SelectMany(x => x.Items.Select(i => i.Needs).Concat(x.Compartments.Select(c => c.Needs)))
            .Concat(bodies.SelectMany(x => ListJson.Read(x).Checks.Select(c => c.Needs)))
            .SelectMany(x => x.Split(' ', StringSplitOptions.RemoveEmptyEntries))
            .Select(x => x.TrimStart('!').Split('=')[0])
            .ToHashSet(StringComparer.Ordinal);
    }

    /// <summary>All kinds.</summary>
    public async Task<IReadOnlyList<KindLine>> All(CancellationToken ct)
    {
        var lists = await db.WalkLists.AsNoTracking().OrderBy(x => x.Starter).ThenBy(x => x.Name).ToListAsync(ct);
        var programs = await db
            .Programs.AsNoTracking()
            .OrderBy(x => x.Starter)
            .ThenBy(x => x.Name)
            .Select(x => new
            {
                x.Kind,
                x.Code,
                x.Name,
            })
            .ToListAsync(ct);
        var machines = await db
            .Machines.Where(x => !x.Retired)
            .GroupBy(x => x.Kind)
            .Select(g => new { g.Key, Count = g.Count() })
            .ToDictionaryAsync(x => x.Key, x => x.Count, ct);
        return
        [
            .. (await Choices(db, ct)).Select(x => new KindLine(
                x.Kind,
                x.Name,
                KindFolders.Find(x.Kind) is not null,
                [.. lists.Where(l => l.Kind == x.Kind).Select(l => (l.Code, l.Name))],
                [.. programs.Where(p => p.Kind == x.Kind).Select(p => (p.Code, p.Name))],
                machines.GetValueOrDefault(x.Kind)
            )),
        ];
    }

    /// <summary>One kind; null when there is none.</summary>
    public async Task<KindLine?> One(MachineKind kind, CancellationToken ct) => (await All(ct)).FirstOrDefault(x => x.Kind == kind);

    /// <summary>
    /// Makes an own kind from another, its walk list and its program alike, all of it or nothing. Both can be changed afterwards
    /// without touching where they came from.
    /// </summary>
    /// <returns>The new kind.</returns>
    public Task<Outcome<KindLine>> Copy(MachineKind from, string? newName, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                if (await One(from, ct) is not { Lists: [var list, ..] } source)
                    return Outcome<KindLine>.Refused(Refusals.NoSuchMachineKind("", from.Code));
                var refusals = new List<Refusal>();
                var name = Typed.Words(newName, "name", LongestName, refusals, needed: true);
                if (refusals.Count > 0)
                    return Outcome<KindLine>.Refused(refusals);
                if (!MachineKind.TryParse(CodeOf(name), null, out var kind))
                    return Outcome<KindLine>.Refused(Refusals.KindNeedsLetters());
                if (await Taken(kind, ct))
                    return Outcome<KindLine>.Refused(Refusals.KindTaken(name));

                var body = await db.WalkListVersions.Where(x => x.List.Code == list.Code).OrderByDescending(x => x.Version).FirstAsync(ct);
                db.WalkListVersions.Add(
                    new()
                    {
                        List = new()
                        {
                            Code = "walk-" + kind.Code,
                            Name = name,
                            Kind = kind,
                            Version = 1,
                        },
                        Version = 1,
                        At = writes.Now,
                        By = actor.Name,
                        Body = body.Body,
                    }
                );
                if (source.Programs is [var program, ..])
                    db.Programs.Add(await ChangeProgram.Copied(db, program.Code, "program-" + kind.Code, name, kind, ct));
                writes.Audit(actor, "kind.copy", kind.Code, null, new { from = from.Code }, new { name });
                await db.SaveChangesAsync(ct);
                return Outcome<KindLine>.Of((await One(kind, ct))!);
            },
            ct
        );

    private async Task<bool> Taken(MachineKind kind, CancellationToken ct) =>
        kind == MachineKind.Other
        || KindFolders.Find(kind) is not null
        || await db.WalkLists.AnyAsync(x => x.Kind == kind || x.Code == "walk-" + kind.Code, ct)
        || await db.Programs.AnyAsync(x => x.Kind == kind || x.Code == "program-" + kind.Code, ct);

    /// <summary>The code that a name gives: small letters and figures, dashes between words; a figure joins its word.</summary>
    private static string CodeOf(string name) => BeforeFigure().Replace(NotLetters().Replace(name.ToLowerInvariant(), "-").Trim('-'), "");

    [GeneratedRegex("[^a-z0-9]+")]
    private static partial Regex NotLetters();

    [GeneratedRegex("-(?=[0-9])")]
    private static partial Regex BeforeFigure();
}
