using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Nippers.App.Oil;
using Nippers.Core.Walk;
using Nippers.Data;
using Nippers.Data.Feeds;
using Nippers.Data.Queries;
using Nippers.Formats.Feeds;

namespace Nippers.App.Feeds;

/// <summary>A feed, as entered.</summary>
public sealed record FeedInput(int? Id, int Version, string? Name, string? Url, string? Token, bool OwnNetwork, bool On);

/// <summary>A machine of a feed, as it is shown.</summary>
/// <param name="Row">What it said last.</param>
/// <param name="Unit">Our machine; null while nobody has said which.</param>
public sealed record FeedMachineLine(FeedMachineRow Row, string? Unit);

/// <summary>The page of feeds.</summary>
/// <param name="Feeds">Feeds, by name.</param>
/// <param name="Machines">A page of their machines: those that ask something first.</param>
/// <param name="Units">Machines of ours that have none.</param>
/// <param name="Page">Which page of machines, from 1.</param>
/// <param name="Pages">How many there are.</param>
/// <param name="StopSpns">Parameter numbers that stop a machine besides those that Nippers knows.</param>
public sealed record FeedsPage(
    IReadOnlyList<FeedRow> Feeds,
    IReadOnlyList<FeedMachineLine> Machines,
    IReadOnlyList<string> Units,
    int Page,
    int Pages,
    IReadOnlyList<int> StopSpns
);

/// <summary>What a machine's feed says, for its page.</summary>
/// <param name="Row">What it said last.</param>
/// <param name="Feed">The feed's name; empty for a program.</param>
public sealed record MachineFeed(FeedMachineRow Row, string Feed);

/// <summary>Feeds: where they are, which machine is which, and what was replaced.</summary>
public sealed class FeedBook(NippersDb db, UnitOfWork writes, ISecrets secrets, FeedIntake intake)
{
    private const int LongestName = 60;
    private const int LongestUrl = 400;
    private const int LongestToken = 400;
    private const int MostStopSpns = 50;

    private const int PageSize = 60;

    /// <summary>The page.</summary>
    /// <param name="page">Which page of machines, from 1.</param>
    /// <param name="ct">Cancels.</param>
    public async Task<FeedsPage> Load(int page, CancellationToken ct)
    {
        var pages = Math.Max(1, (await db.FeedMachines.CountAsync(x => !x.Ignored, ct) + PageSize - 1) / PageSize);
        page = Math.Clamp(page, 1, pages);
        var feeds = await db.Feeds.AsNoTracking().OrderBy(x => x.Name).ToListAsync(ct);
        var rows = await db
            .FeedMachines.AsNoTracking()
            .Where(x => !x.Ignored)
            .OrderByDescending(x => x.MachineId == null)
            .ThenByDescending(x => x.Away != FeedAway.Nothing)
            .ThenBy(x => x.Equipment)
            .Skip((page - 1) * PageSize)
            .Take(PageSize)
            .Select(x => new { Row = x, Unit = db.Machines.Where(m => m.Id == x.MachineId).Select(m => m.Unit).FirstOrDefault() })
            .ToListAsync(ct);
        return new(
            feeds,
            [.. rows.Select(x => new FeedMachineLine(x.Row, x.Unit))],
            await db
                .Machines.Where(x => !x.Retired && !db.FeedMachines.Any(f => f.MachineId == x.Id))
                .OrderBy(x => x.Unit)
                .Select(x => x.Unit)
                .ToListAsync(ct),
            page,
            pages,
            [.. (await db.StopSpns(ct)).Order()]
        );
    }

    /// <summary>Keeps the parameter numbers that stop a machine besides those that Nippers knows.</summary>
    /// <param name="typed">Numbers with commas or blanks between them; empty for none.</param>
    /// <param name="actor">Who says so.</param>
    /// <param name="ct">Cancels.</param>
    public Task<Outcome<Nothing>> SaveStopSpns(string? typed, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var words = (typed ?? "").Split([',', ';', ' ', '\n', '\r'], StringSplitOptions.RemoveEmptyEntries);
                var refused = words.FirstOrDefault(x =>
                    !int.TryParse(x, NumberStyles.None, CultureInfo.InvariantCulture, out var spn) || spn is < 1 or > FaultCode.LargestSpn
                );
                if (refused is not null)
                    return Outcome<Nothing>.Refused(Refusals.NotASpn(refused[..Math.Min(refused.Length, LongestName)]));
                if (words.Length > MostStopSpns)
                    return Outcome<Nothing>.Refused(Refusals.CodesTooMany("stopSpns", MostStopSpns));
                var row = await db.Installations.SingleOrDefaultAsync(ct);
                var before = row?.StopSpns ?? "";
                if (row is null)
                    db.Installations.Add(row = new());
                var spns = words.Select(x => int.Parse(x, CultureInfo.InvariantCulture)).Distinct().Order();
                row.StopSpns = string.Join(' ', spns.Select(x => x.ToString(CultureInfo.InvariantCulture)));
                writes.Audit(actor, "feed.stopSpns", row.StopSpns, null, new { spns = before }, new { spns = row.StopSpns });
                return Outcome<Nothing>.Of(Nothing.Special);
            },
            ct
        );

    /// <summary>What the feed of a machine says; null where it has none.</summary>
    public async Task<MachineFeed?> Of(int machineId, CancellationToken ct) =>
        await db
            .FeedMachines.AsNoTracking()
            .Where(x => x.MachineId == machineId)
            .Select(x => new MachineFeed(x, db.Feeds.Where(f => f.Id == x.FeedId).Select(f => f.Name).FirstOrDefault() ?? ""))
            .FirstOrDefaultAsync(ct);

    /// <summary>Keeps a feed.</summary>
    public Task<Outcome<FeedRow>> Save(FeedInput input, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var refusals = new List<Refusal>();
                var row = input.Id is { } id ? await db.Feeds.SingleOrDefaultAsync(x => x.Id == id, ct) : null;
                if (input.Id is not null && (row is null || row.Version != input.Version))
                    return Outcome<FeedRow>.Refused(Refusals.ChangedMeanwhile());
                var name = Typed.Words(input.Name, "name", LongestName, refusals, needed: true);
                var url = Typed.Words(input.Url, "url", LongestUrl, refusals, needed: true);
                var token = Typed.Words(input.Token, "token", LongestToken, refusals);
                if (!LabAddress.Fits(url))
                    refusals.Add(Refusals.NotAnAddress());
                else if (!input.OwnNetwork && LabAddress.SaysInside(url))
                    refusals.Add(Refusals.InsideNetwork());
                if (await db.Feeds.AnyAsync(x => x.Name == name && x.Id != (input.Id ?? 0), ct))
                    refusals.Add(Refusals.CodeTaken("name", name));
                if (refusals.Count > 0)
                    return Outcome<FeedRow>.Refused(refusals);
                var before = row is null
                    ? null
                    : new
                    {
                        row.Name,
                        row.Url,
                        row.OwnNetwork,
                        row.On,
                    };
                if (row is null)
                    db.Feeds.Add(row = new() { Name = name, Url = url });

                // No other host gets the token that was given for this one.
                if (row.Url != url)
                    row.Token = "";
                if (token.Length > 0)
                    row.Token = secrets.Hide(token);
                (row.Name, row.Url, row.OwnNetwork, row.On) = (name, url, input.OwnNetwork, input.On);
                (row.Failures, row.LastFault, row.NextAskAt) = (0, "", null);
                row.Version++;
                writes.Audit(
                    actor,
                    "feed.save",
                    name,
                    null,
                    before,
                    new
                    {
                        name,
                        url,
                        input.OwnNetwork,
                        input.On,
                        newToken = token.Length > 0,
                    }
                );
                return Outcome<FeedRow>.Of(row);
            },
            ct
        );

    /// <summary>Says which of ours a feed's machine is, or that it is none.</summary>
    /// <param name="id">The feed's machine.</param>
    /// <param name="unit">Ours; empty for none.</param>
    /// <param name="actor">Who says so.</param>
    /// <param name="ct">Cancels.</param>
    public Task<Outcome<FeedMachineRow>> Link(int id, string? unit, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var row = await db.FeedMachines.SingleOrDefaultAsync(x => x.Id == id, ct);
                if (row is null)
                    return Outcome<FeedMachineRow>.Refused(Refusals.ChangedMeanwhile());
                int? machine = null;
                if (!string.IsNullOrWhiteSpace(unit))
                {
                    machine = await db.Machines.Where(x => x.Unit == unit.Trim()).Select(x => (int?)x.Id).SingleOrDefaultAsync(ct);
                    if (machine is null)
                        return Outcome<FeedMachineRow>.Refused(Refusals.NoSuchUnit("unit", unit.Trim(), []));
                    if (await db.FeedMachines.AnyAsync(x => x.MachineId == machine && x.Id != id, ct))
                        return Outcome<FeedMachineRow>.Refused(Refusals.CodeTaken("unit", unit.Trim()));
                }

                // Another machine's dash says nothing of this feed.
                if (row.MachineId != machine)
                {
                    await db.FeedPairs.Where(x => x.FeedMachineId == id).ExecuteDeleteAsync(ct);
                    (row.OffsetHours, row.Pairs, row.Away, row.AwayAt, row.AwayHours) = (null, 0, FeedAway.Nothing, null, 0);
                }

                (row.MachineId, row.Ignored) = (machine, machine is null);
                if (machine is not null)
                    await intake.Fit(row, ct);
                row.Version++;
                writes.Audit(actor, "feed.link", row.Equipment, machine, null, new { unit, row.Ignored });
                return Outcome<FeedMachineRow>.Of(row);
            },
            ct
        );

    /// <summary>
    /// Says that the feed's box was replaced: its hours begin anew, and are believed when they were held against the dash again.
    /// </summary>
    public Task<Outcome<FeedMachineRow>> Replaced(int id, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var row = await db.FeedMachines.SingleOrDefaultAsync(x => x.Id == id, ct);
                if (row is not { AwayAt: { } at })
                    return Outcome<FeedMachineRow>.Refused(Refusals.ChangedMeanwhile());
                var before = new { row.OffsetHours, row.Hours };
                row.PairsFrom = at;
                (row.Away, row.AwayAt, row.AwayHours, row.Hours, row.HoursAt) = (FeedAway.Nothing, null, 0, null, null);
                await db.FeedPoints.Where(x => x.FeedMachineId == id && x.At < at).ExecuteDeleteAsync(ct);
                await intake.Fit(row, ct);
                row.Version++;
                writes.Audit(actor, "feed.replaced", row.Equipment, row.MachineId, before, new { at });
                return Outcome<FeedMachineRow>.Of(row);
            },
            ct
        );

    /// <summary>Takes what a program says of one machine.</summary>
    /// <param name="unit">The machine.</param>
    /// <param name="report">What it says.</param>
    /// <param name="ct">Cancels.</param>
    public Task<Outcome<FeedMachineRow>> Tell(string unit, FeedReport report, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var machine = await db.Machines.Where(x => x.Unit == unit).Select(x => (int?)x.Id).SingleOrDefaultAsync(ct);
                if (machine is null)
                    return Outcome<FeedMachineRow>.Refused(Refusals.NoSuchUnit("unit", unit, []));
                var row = await db.FeedMachines.SingleOrDefaultAsync(x => x.MachineId == machine, ct);
                if (row is { FeedId: not null })
                    return Outcome<FeedMachineRow>.Refused(Refusals.HasFeed(unit));
                row ??= db.FeedMachines.Add(new() { Equipment = unit, MachineId = machine }).Entity;
                await intake.Take(row, report, ct);
                return row.LastFault switch
                {
                    "" => Outcome<FeedMachineRow>.Of(row),
                    "feedFuture" => Outcome<FeedMachineRow>.Refused(Refusals.FeedFuture()),
                    "feedReading" => Outcome<FeedMachineRow>.Refused(Refusals.FeedReading()),
                    _ => Outcome<FeedMachineRow>.Refused(Refusals.FeedFigure()),
                };
            },
            ct
        );
}
