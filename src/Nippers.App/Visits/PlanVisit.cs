using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Nippers.App.Readings;
using Nippers.Core.Jobs;
using Nippers.Core.Numbers;
using Nippers.Data;
using Nippers.Data.Visits;

namespace Nippers.App.Visits;

/// <summary>A visit as it is ticked together.</summary>
/// <param name="Unit">The machine.</param>
/// <param name="On">Date at the site.</param>
/// <param name="Items">Codes of items, worn parts and defects.</param>
/// <param name="Note">Words.</param>
/// <param name="Quote">What somebody else asked for the same, in money.</param>
/// <param name="Version">Version of the visit that is changed; 0 for a new one.</param>
/// <param name="Hauled">The machine is brought to the workshop.</param>
/// <param name="TwoPeople">Two people are needed.</param>
public sealed record PlanInput(
    string Unit,
    string? On,
    IReadOnlyCollection<string> Items,
    string? Note = null,
    string? Quote = null,
    int Version = 0,
    bool Hauled = false,
    bool TwoPeople = false
);

/// <summary>What a choice of items on a date comes to, before anything is kept.</summary>
/// <param name="Visit">The visit as chosen.</param>
/// <param name="LeftDue">Not chosen, and due by then.</param>
/// <param name="Others">Not chosen, the soonest first.</param>
/// <param name="Take">What to take along.</param>
/// <param name="Elapsed">Minutes on the card, waits overlapping.</param>
/// <param name="Saved">Minutes that overlapping saves.</param>
/// <param name="NextVisit">The visit that would follow by the plan; null when none.</param>
/// <param name="Parted">More was proposed than one card holds: what presses most was chosen, and the rest is a visit of its own.</param>
public sealed record VisitDraft(
    VisitProposal Proposal,
    ProposedVisit Visit,
    IReadOnlyList<VisitCandidate> LeftDue,
    IReadOnlyList<VisitCandidate> Others,
    TakeList Take,
    int Elapsed,
    int Saved,
    ProposedVisit? NextVisit,
    bool Parted
);

/// <summary>Plans visits: shows what a choice comes to, keeps it, changes it, calls it off.</summary>
public sealed class PlanVisit(NippersDb db, UnitOfWork writes, VisitProposals proposals)
{
    private const int LongestNote = 1000;
    private const int LongestAhead = 400;

    /// <summary>What a choice comes to; nothing is kept. Without items: the proposal nearest to the date.</summary>
    public async Task<Outcome<VisitDraft>> Draft(PlanInput input, CancellationToken ct)
    {
        var proposal = await proposals.Of(input.Unit, ct);
        if (proposal is null)
            return Outcome<VisitDraft>.Refused(Refusals.NoSuchUnit("unit", input.Unit, Array.Empty<string>()));
        var refusals = new List<Refusal>();
        var on = string.IsNullOrWhiteSpace(input.On)
            ? proposal.Visits.Count > 0
                ? proposal.Visits[0].On
                : proposal.Now.Today
            : LocalTime.ParseDate(input.On);
        if (on is null)
            refusals.Add(Refusals.NotADate("on"));
        else if (on < proposal.Now.Today)
            refusals.Add(Refusals.DateInPast(proposal.Now.Today));
        else if (on > proposal.Now.Today.AddDays(LongestAhead))
            refusals.Add(Refusals.DateTooFar(proposal.Now.Today.AddDays(LongestAhead)));
        if (refusals.Count > 0)
            return Outcome<VisitDraft>.Refused(refusals);

        var day = on!.Value.DayNumber - proposal.Now.Today.DayNumber;
        var chosen =
            input.Items.Count > 0
                ? proposal.Candidates.Where(x => input.Items.Contains(x.Code)).ToList()
                : proposal.Visits.FirstOrDefault(x => x.On == on)?.Items.Select(x => x.Candidate).ToList() ?? [];
        var worked = Worked(proposal, day, chosen, new(input.Hauled, input.TwoPeople));
        var parted = false;
        while (!worked.Done && input.Items.Count == 0 && Halves(chosen) is { Later.Count: > 0 } halves)
        {
            (chosen, parted) = (halves.Pressing, true);
            worked = Worked(proposal, day, chosen, new(input.Hauled, input.TwoPeople));
        }

        if (!worked.Done)
            return Outcome<VisitDraft>.Refused(worked.Refusals);
        var (visit, card) = worked.Value!;
        var codes = chosen.Select(x => x.Code).ToList();
        var covered = codes.SelectMany(proposal.Sheet.CoveredBy).Select(x => x.Code).ToHashSet(StringComparer.Ordinal);
        var others = proposal
            .Candidates.Where(x => !codes.Contains(x.Code) && !covered.Contains(x.Code))
            .OrderBy(x => x.Plan.DueDay)
            .ToList();
        return Outcome<VisitDraft>.Of(
            new(
                proposal,
                visit,
                [.. others.Where(x => x.Plan.DueDay <= day && !x.Care)],
                others,
                await TakeList.Of(db, proposal.Sheet, codes, card.Steps, ct),
                card.Elapsed,
                card.OneAfterAnother - card.Elapsed,
                proposal.Visits.FirstOrDefault(x => x.On > on),
                parted
            )
        );
    }

    /// <summary>What sends somebody out; crew's care, and what only joins or waits, does not.</summary>
    internal static IEnumerable<VisitCandidate> Driving(IEnumerable<VisitCandidate> chosen) =>
        chosen.Where(x => !x.Care && !x.Joins && !x.Waits);

    /// <summary>
    /// Halves a choice of which no card can be made, for it would hold more steps than one can: what presses most with all that joins it,
    /// and the rest. Nothing is left for the rest where a single item is chosen.
    /// </summary>
    internal static (List<VisitCandidate> Pressing, List<VisitCandidate> Later) Halves(List<VisitCandidate> chosen)
    {
        var driving = Driving(chosen).OrderBy(x => x.Plan.DueDay).ThenBy(x => x.Code, StringComparer.Ordinal).ToList();
        var later = driving.Count < 2 ? [] : driving.Skip((driving.Count + 1) / 2).ToHashSet();
        return ([.. chosen.Where(x => !later.Contains(x))], [.. chosen.Where(later.Contains)]);
    }

    /// <summary>A visit and the card that comes of it, by which its hands and money are reckoned.</summary>
    internal sealed record WorkedVisit(ProposedVisit Visit, JobCard Card);

    /// <summary>How a visit is made.</summary>
    /// <param name="Hauled">The machine comes to the shop.</param>
    /// <param name="Two">Two people are needed.</param>
    internal readonly record struct HowVisited(bool Hauled, bool Two)
    {
        /// <summary>How many people are paid for its minutes: both are there for all of them.</summary>
        public int People => Two ? 2 : 1;
    }

    /// <summary>What a choice of a machine's items comes to on a day: what is planned is the same sum as what is closed.</summary>
    internal static Outcome<WorkedVisit> Worked(VisitProposal proposal, int day, IReadOnlyCollection<VisitCandidate> chosen, HowVisited how)
    {
        var visit = VisitProposals.ToVisit(
            proposal.Sheet,
            proposal.Now.Today,
            day,
            [.. chosen.Select(x => new ProposedItem(x, x.Plan.DueDay - day))]
        );
        var codes = chosen.Select(x => x.Code).ToList();
        var made = CardMaking.Try(() => CardMaking.Make(proposal.Sheet, codes, DefectsOf(chosen), StepHeat.Cold));
        if (!made.Done)
            return Outcome<WorkedVisit>.Refused(made.Refusals);
        var card = made.Value!;

        // All hands of the card are paid.
        var shop = proposal.Sheet.Shop;
        var money = visit.Money with
        {
            Minutes = card.Hands * how.People,
            Labour = shop.Labour(card.Hands * how.People),
            Lab = shop.Lab(card.Steps.Count(x => x.Input == InputKind.Bottle)),
            CallOut = how.Hauled ? 0 : visit.Money.CallOut,
            Haulage = how.Hauled ? shop.Shop.HaulageCost.Value : 0,
            Downtime = shop.Downtime(card.Elapsed),
        };
        return Outcome<WorkedVisit>.Of(new(visit with { Money = money }, card));
    }

    /// <summary>Keeps a new visit, or changes one that is planned.</summary>
    /// <param name="id">The visit that is changed; null for a new one.</param>
    /// <param name="input">What was chosen.</param>
    /// <param name="actor">Who plans.</param>
    /// <param name="ct">Cancels.</param>
    public Task<Outcome<VisitRow>> Save(long? id, PlanInput input, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var refusals = new List<Refusal>();
                var note = Typed.Words(input.Note, "note", LongestNote, refusals);
                var quote = Typed.Money(input.Quote, "quote", refusals);
                if (input.Items.Count == 0)
                    refusals.Add(Refusals.VisitEmpty());
                if (string.IsNullOrWhiteSpace(input.On))
                    refusals.Add(Refusals.NotADate("on"));
                if (refusals.Count > 0)
                    return Outcome<VisitRow>.Refused(refusals);
                var draft = await Draft(input, ct);
                if (!draft.Done)
                    return Outcome<VisitRow>.Refused(draft.Refusals);
                var known = draft.Value!.Proposal.Candidates.Select(x => x.Code).ToHashSet(StringComparer.Ordinal);
                if (input.Items.Where(x => !known.Contains(x)).ToList() is { Count: > 0 } strangers)
                    return Outcome<VisitRow>.Refused(Refusals.NoSuchItem("items", string.Join(", ", strangers)));

                var machine = draft.Value.Proposal.Sheet.Facts.Machine;
                var row = id is null
                    ? null
                    : await db
                        .Visits.AsSplitQuery()
                        .Include(x => x.Items)
                        .SingleOrDefaultAsync(x => x.Id == id && x.MachineId == machine.Id, ct);
                if (id is not null && row is null)
                    return Outcome<VisitRow>.Refused(Refusals.NoSuchVisit());
                if (row is not null && row.State != VisitState.Planned)
                    return Outcome<VisitRow>.Refused(Refusals.VisitNotPlanned());
                if (row is not null && row.Version != input.Version)
                    return Outcome<VisitRow>.Refused(Refusals.ChangedMeanwhile());
                if (
                    await db.Visits.AnyAsync(
                        x =>
                            x.MachineId == machine.Id
                            && x.Id != (id ?? 0)
                            && x.On == draft.Value.Visit.On
                            && (x.State == VisitState.Planned || x.State == VisitState.Open),
                        ct
                    )
                )
                {
                    return Outcome<VisitRow>.Refused(Refusals.VisitThatDay(draft.Value.Visit.On));
                }

                row ??= db
                    .Visits.Add(
                        new()
                        {
                            MachineId = machine.Id,
                            PlannedBy = actor.Name,
                            PlannedAt = writes.Now,
                        }
                    )
                    .Entity;
                Fill(row, draft.Value.Visit, draft.Value.Elapsed, draft.Value.Saved);
                (row.Note, row.Quote, row.Hauled, row.TwoPeople) = (note, quote, input.Hauled, input.TwoPeople);
                row.Version++;
                await db.SaveChangesAsync(ct);
                await SetItems(row, draft.Value, ct);
                await MovePlanned(row, ct);
                writes.Audit(
                    actor,
                    id is null ? "visit.plan" : "visit.change",
                    Subject(machine.Unit, row.Id),
                    machine.Id,
                    null,
                    new
                    {
                        row.On,
                        input.Items,
                        input.TwoPeople,
                    }
                );
                return Outcome<VisitRow>.Of(row);
            },
            ct
        );

    /// <summary>Calls a visit off that is not begun; what was due stays due.</summary>
    public Task<Outcome<VisitRow>> Cancel(long id, string? reason, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var row = await db.Visits.Include(x => x.Machine).SingleOrDefaultAsync(x => x.Id == id, ct);
                if (row is null)
                    return Outcome<VisitRow>.Refused(Refusals.NoSuchVisit());
                if (row.State != VisitState.Planned)
                    return Outcome<VisitRow>.Refused(Refusals.VisitNotPlanned());
                if (!Typed.IsReason(reason, "reason", out var unreasoned))
                    return Outcome<VisitRow>.Refused(unreasoned);
                row.State = VisitState.Voided;
                await db.PlannedJobs.Where(x => x.VisitId == row.Id).ExecuteDeleteAsync(ct);
                (row.VoidedBy, row.VoidReason) = (actor.Name, reason.Trim());
                row.Version++;
                writes.Audit(actor, "visit.callOff", Subject(row.Machine.Unit, row.Id), row.MachineId, new { row.On }, new { reason });
                return Outcome<VisitRow>.Of(row);
            },
            ct
        );

    // A defect takes its time on the card too: what is planned is what will be worked.
    private static List<JobDefect> DefectsOf(IEnumerable<VisitCandidate> chosen) =>
        [
            .. chosen
                .Where(x => x.Code.StartsWith(VisitProposals.DefectPrefix, StringComparison.Ordinal))
                .Select(x => new JobDefect(
                    long.Parse(x.Code[VisitProposals.DefectPrefix.Length..], CultureInfo.InvariantCulture),
                    x.Name,
                    ""
                )),
        ];

    internal static string Subject(string unit, long id) => string.Create(CultureInfo.InvariantCulture, $"{unit} visit {id}");

    /// <summary>Writes what a visit comes to into its row.</summary>
    internal static void Fill(VisitRow row, ProposedVisit visit, int elapsed, int saved)
    {
        var money = visit.Money;
        row.On = visit.On;
        row.NameHours = (int)(visit.NameHours ?? 0);
        (row.HandsMinutes, row.ElapsedMinutes, row.SavedMinutes) = ((int)Math.Ceiling(money.Minutes), elapsed, saved);
        (row.PartsCost, row.FluidsCost, row.LabourCost, row.CallOutCost, row.WasteCost) = (
            Money.Of(money.Parts),
            Money.Of(money.Fluids),
            Money.Of(money.Labour),
            Money.Of(money.CallOut),
            Money.Of(money.Waste)
        );
        (row.LabCost, row.HaulageCost, row.DowntimeCost) = (Money.Of(money.Lab), Money.Of(money.Haulage), Money.Of(money.Downtime));
    }

    private async Task SetItems(VisitRow row, VisitDraft draft, CancellationToken ct)
    {
        db.VisitItems.RemoveRange(row.Items);
        await db.VisitDefects.Where(x => x.VisitId == row.Id).ExecuteDeleteAsync(ct);
        await db.SaveChangesAsync(ct);
        AddItems(db, row, draft.Visit.Items.Select(x => x.Candidate.Code));
    }

    /// <summary>
    /// A visit that a person puts on another day stays there: whoever was to do it does it then, until the weeks are planned anew.
    /// </summary>
    private async Task MovePlanned(VisitRow row, CancellationToken ct)
    {
        var jobs = await db.PlannedJobs.Where(x => x.VisitId == row.Id).OrderBy(x => x.Part).ToListAsync(ct);
        if (!row.TwoPeople)
        {
            db.PlannedJobs.RemoveRange(jobs.Where(x => x.Helps));
            jobs.RemoveAll(x => x.Helps);
        }

        if (jobs.Count == 0 || jobs[0].On == row.On)
            return;
        var days = row.On.DayNumber - jobs[0].On.DayNumber;
        foreach (var job in jobs)
        {
            (job.On, job.Pinned, job.Round) = (job.On.AddDays(days), true, "");
            (job.Sequence, job.ChangedAt) = (job.Sequence + 1, writes.Now);
        }
    }

    /// <summary>Gives a visit its items and defects.</summary>
    internal static void AddItems(NippersDb db, VisitRow row, IEnumerable<string> codes)
    {
        foreach (var code in codes)
        {
            if (code.StartsWith(VisitProposals.DefectPrefix, StringComparison.Ordinal))
                db.VisitDefects.Add(
                    new()
                    {
                        VisitId = row.Id,
                        DefectId = long.Parse(code[VisitProposals.DefectPrefix.Length..], CultureInfo.InvariantCulture),
                    }
                );
            else
                db.VisitItems.Add(new() { VisitId = row.Id, ItemCode = code });
        }
    }
}
