using Microsoft.EntityFrameworkCore;
using Nippers.App.Feeds;
using Nippers.App.Readings;
using Nippers.Core.Feeds;
using Nippers.Core.Hours;
using Nippers.Core.Jobs;
using Nippers.Data;
using Nippers.Data.Records;
using Nippers.Data.Visits;

namespace Nippers.App.Visits;

/// <summary>
/// Opens the job card of a planned visit: judges and logs the meter, and makes the card from what the program and the machine's
/// data say now.
/// </summary>
public sealed class OpenCard(NippersDb db, UnitOfWork writes, LogReading log, VisitProposals proposals, FeedHours feeds)
{
    /// <summary>Opens a card.</summary>
    /// <param name="id">The visit.</param>
    /// <param name="hours">What the meter shows.</param>
    /// <param name="confirmed">Unusual hours are right.</param>
    /// <param name="heat">How the machine comes: warm when it ran a short while ago. Null when nobody says, which is refused.</param>
    /// <param name="actor">Who opens it.</param>
    /// <param name="ct">Cancels.</param>
    public Task<Outcome<VisitRow>> Run(long id, string? hours, bool confirmed, StepHeat? heat, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var row = await db
                    .Visits.AsSplitQuery()
                    .Include(x => x.Machine)
                    .Include(x => x.Items)
                    .SingleOrDefaultAsync(x => x.Id == id, ct);
                if (row is null)
                    return Outcome<VisitRow>.Refused(Refusals.NoSuchVisit());
                if (row.State == VisitState.Open)
                    return Outcome<VisitRow>.Of(row);
                if (row.State != VisitState.Planned)
                    return Outcome<VisitRow>.Refused(Refusals.VisitNotPlanned());
                var reading = new LogReadingInput(row.Machine.Unit, hours, Source: ReadingSource.Work);
                var validated = await log.Validate(reading, ct);
                List<Refusal> refusals = [.. validated.Refusals, .. heat is null ? [Refusals.HeatNeeded("heat")] : Array.Empty<Refusal>()];
                if (refusals.Count > 0)
                    return Outcome<VisitRow>.Refused(refusals);
                if (validated.Judgement!.Code == ReadingCode.Check && !confirmed)
                {
                    return Outcome<VisitRow>.Refused(
                        Refusals.UnusualHours(
                            validated.Shown,
                            new MeterHours((int)Math.Round(validated.Judgement.Expected!.Value * 10)) - validated.OffsetHours
                        )
                    );
                }

                var offered = await feeds.Offer(row.MachineId, writes.Now, FeedAge.ForCard, ct);
                reading = reading with { Source = FeedHours.SourceOf(offered, validated.Shown, reading.Source) };
                await log.Keep(validated, reading, actor, ct, confirmed: confirmed);
                var proposal = (await proposals.Of(row.Machine.Unit, ct))!;
                var codes = row.Items.Select(x => x.ItemCode).ToList();
                var defects = await Defects(id, ct);
                var made = CardMaking.Try(() => CardMaking.Make(proposal.Sheet, codes, defects, heat!.Value, NamesOf(proposal)));
                if (!made.Done)
                    return Outcome<VisitRow>.Refused(made.Refusals);
                var card = made.Value!;
                row.Card = CardMaking.Write(CardMaking.Keep(proposal.Sheet, card, codes, NamesOf(proposal)));
                row.State = VisitState.Open;
                row.On = LocalDay.Of(writes.Now, proposal.Sheet.Facts.Zone);
                (row.OpenedBy, row.OpenedAt, row.HeldBy) = (actor.Name, writes.Now, actor.Name);
                row.CameWarm = heat == StepHeat.Warm;
                (row.LifeHours, row.ShownHours) = (validated.Shown + validated.OffsetHours, validated.Shown);
                row.ProgramVersion = proposal.Sheet.Facts.Machine.Program.Version;
                Plan(row, card);
                row.Version++;
                writes.Audit(
                    actor,
                    "visit.open",
                    PlanVisit.Subject(row.Machine.Unit, id),
                    row.MachineId,
                    null,
                    new { items = codes, hours = validated.Shown.Value }
                );

                // From here on hands are in it: it is out of service until the card is closed.
                await db.SaveChangesAsync(ct);
                await writes.RefreshStatus([row.MachineId], ct);
                return Outcome<VisitRow>.Of(row);
            },
            ct
        );

    /// <summary>Adds work that was found on the way to an open card; what is answered already stays as it is.</summary>
    public Task<Outcome<VisitRow>> Add(long id, string? item, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var context = await JobContext.Load(db, id, ct);
                return context is null ? Outcome<VisitRow>.Refused(Refusals.NoSuchVisit())
                    : !context.IsOpen ? Outcome<VisitRow>.Refused(Refusals.CardNotOpen())
                    : await AddWithin(context, item, actor, ct);
            },
            ct
        );

    /// <summary>The same inside the caller's transaction, of a card that is open.</summary>
    internal async Task<Outcome<VisitRow>> AddWithin(JobContext context, string? item, Actor actor, CancellationToken ct)
    {
        var row = context.Row;
        var id = row.Id;
        var proposal = (await proposals.Of(row.Machine.Unit, ct))!;
        if (item is null || proposal.Sheet.ItemOf(item) is null)
            return Outcome<VisitRow>.Refused(Refusals.NoSuchItem("item", item));
        var left = row.Items.Find(x => x.ItemCode == item);
        if (left is not null && left.State != VisitItemState.Left)
            return Outcome<VisitRow>.Refused(Refusals.ItemOnCard(context.NameOf(item)));

        if (left is not null)
            (left.State, left.Reason, left.ReasonWords) = (VisitItemState.Planned, null, null);
        else
            db.VisitItems.Add(
                new()
                {
                    VisitId = id,
                    ItemCode = item,
                    Added = true,
                }
            );

        // Of an item that was left and comes back, what was not done stands where the machine is no more.
        var before = context.Card.Steps.Where(x => x.Item != item || context.State.IsDone(x)).ToList();
        var order = context.Card.Order.Where(x => before.Exists(y => y.Code == x.Code));

        // What was there stays as it is; the new work is a card of its own behind it, on a machine that may be warm.
        var made = CardMaking.Try(() =>
            CardMaking.Make(proposal.Sheet, [item], [], StepHeat.Warm, NamesOf(proposal), [.. context.Card.Steps.Select(x => x.Code)])
        );
        if (!made.Done)
            return Outcome<VisitRow>.Refused(made.Refusals);
        var card = made.Value!;
        var begin = context.Card.Order.IsEmpty ? 0 : context.Card.Order.Max(x => x.End);
        List<string> codes = [.. row.Items.Select(x => x.ItemCode).Where(x => x != item), item];
        row.Card = CardMaking.Write(
            CardMaking.Keep(proposal.Sheet, card, codes, NamesOf(proposal)) with
            {
                Steps = [.. before, .. card.Steps],
                Order = [.. order, .. card.Order.Select(x => new OrderedStep(x.Code, x.Start + begin, x.End + begin))],
            }
        );
        row.HandsMinutes += card.Hands;
        row.ElapsedMinutes += card.Elapsed;
        row.SavedMinutes += card.OneAfterAnother - card.Elapsed;
        row.Version++;
        writes.Audit(actor, "visit.add", PlanVisit.Subject(row.Machine.Unit, id), row.MachineId, null, new { item });
        return Outcome<VisitRow>.Of(row);
    }

    private static void Plan(VisitRow row, JobCard card) =>
        (row.HandsMinutes, row.ElapsedMinutes, row.SavedMinutes) = (card.Hands, card.Elapsed, card.OneAfterAnother - card.Elapsed);

    private static Dictionary<string, string> NamesOf(VisitProposal proposal)
    {
        var names = proposal.Sheet.Facts.Items.ToDictionary(x => x.Code, x => x.Name, StringComparer.Ordinal);
        foreach (var candidate in proposal.Candidates)
            names.TryAdd(candidate.Code, candidate.Name);
        return names;
    }

    private async Task<List<JobDefect>> Defects(long id, CancellationToken ct)
    {
        var repaired = await db
            .VisitDefects.Where(x => x.VisitId == id)
            .Join(
                db.Defects,
                x => x.DefectId,
                x => x.Id,
                (v, d) =>
                    new
                    {
                        d.Id,
                        d.PlaceName,
                        d.Words,
                    }
            )
            .OrderBy(x => x.Id)
            .ToListAsync(ct);
        return [.. repaired.Select(x => new JobDefect(x.Id, VisitProposals.NameOf(x.PlaceName, x.Words), "", ""))];
    }
}
