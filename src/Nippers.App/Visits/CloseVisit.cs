using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Nippers.App.Defects;
using Nippers.App.Oil;
using Nippers.App.Parts;
using Nippers.Core.Defects;
using Nippers.Core.Jobs;
using Nippers.Core.Numbers;
using Nippers.Core.Oil;
using Nippers.Core.Service;
using Nippers.Data;
using Nippers.Data.Oil;
using Nippers.Data.Parts;
using Nippers.Data.Queries;
using Nippers.Data.Records;
using Nippers.Data.Visits;

namespace Nippers.App.Visits;

/// <summary>The end of a card, as entered.</summary>
/// <param name="Minutes">Minutes that it really took, hands and waiting.</param>
/// <param name="Note">Words for the record.</param>
/// <param name="Version">Version that the person had on the screen.</param>
/// <param name="LockedOut">
/// It can't be finished: the locks stay on, what is not done is left, and the machine is stopped by a defect that names what is open.
/// </param>
public sealed record CloseInput(string? Minutes, string? Note, int Version, bool LockedOut = false);

/// <summary>
/// Closes a card: completions, filter log, fluids on board, stock, waste, samples and repaired defects, in one transaction. And
/// takes all of it back.
/// </summary>
public sealed class CloseVisit(
    NippersDb db,
    UnitOfWork writes,
    WorkshopService book,
    ReportDefect report,
    RepairDefect repair,
    OilCatalog oil,
    TakeSample take
)
{
    private const int MostMinutes = 20_000;
    private const int LongestNote = 2000;

    public Task<Outcome<VisitRow>> Run(long id, CloseInput input, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var job = await JobContext.Load(db, id, ct);
                if (job is null)
                    return Outcome<VisitRow>.Refused(Refusals.NoSuchVisit());
                var row = job.Row;
                if (row.State == VisitState.Closed)
                    return Outcome<VisitRow>.Refused(Refusals.VisitClosed(row.ClosedBy));
                if (!job.IsOpen)
                    return Outcome<VisitRow>.Refused(Refusals.CardNotOpen());
                if (row.Version != input.Version)
                    return Outcome<VisitRow>.Refused(Refusals.ChangedMeanwhile());
                var refusals = new List<Refusal>();
                var minutes = Typed.Whole(input.Minutes, "minutes", 1, MostMinutes, refusals);
                if (minutes is null && refusals.Count == 0)
                    refusals.Add(Refusals.Needed("minutes"));
                var note = Typed.Words(input.Note, "note", LongestNote, refusals, needed: input.LockedOut);
                if (input.LockedOut && job.State.Now != MachineState.Isolated)
                    refusals.Add(Refusals.NotLockedOut());
                foreach (var fault in input.LockedOut ? [] : job.State.CloseFaults.GroupBy(x => x.Fault))
                    refusals.Add(new("", CodeOf(fault.Key), fault.Select(x => x.Step.Words).Take(4).ToList(), fault.Count()));
                if (refusals.Count > 0)
                    return Outcome<VisitRow>.Refused(refusals);

                if (input.LockedOut && await StayLockedOut(job, note, actor, ct) is { Count: > 0 } against)
                    return Outcome<VisitRow>.Refused(against);
                var batch = "visit-" + Guid.NewGuid().ToString("N", CultureInfo.InvariantCulture)[..12];
                var shop = await book.Load(ct);
                await Samples(job, batch, ct);
                Coolants(job, batch);
                var done = await Complete(job, batch, actor, ct);
                var parts = await FilterLog(job, batch, actor, ct);
                var fluids = await OnBoard(job, batch, shop, ct);
                Waste(job, batch, actor);
                db.Measures.AddRange(
                    CardFigures.Of(
                        row,
                        job.Card,
                        job.Card.Steps.Where(job.State.IsDone)
                            .ToDictionary(x => x.Code, x => (job.State.AnswerOf(x)!, job.Rows[x.Code].At), StringComparer.Ordinal)
                    )
                );
                foreach (
                    var step in job.Card.Steps.Where(x =>
                        x.Defect is not null && job.State.AnswerOf(x) is TickAnswer { Done: true } or LookAnswer { Ok: true }
                    )
                )
                {
                    if (!await db.Defects.AnyAsync(x => x.Id == step.Defect && x.State == Data.Defects.DefectState.Open, ct))
                        continue;
                    var answer = job.State.AnswerOf(step)!;
                    var mended = await repair.Mend(
                        step.Defect!.Value,
                        new(
                            answer.Note ?? step.Words,
                            null,
                            null,
                            null,
                            null,
                            OwnerRemoved: await db.Defects.AnyAsync(x => x.Id == step.Defect && x.By == job.Rows[step.Code].By, ct),
                            OwnerTried: answer.Note
                        ),
                        actor,
                        ct
                    );
                    if (!mended.Done)
                        return Outcome<VisitRow>.Refused(mended.Refusals);
                }

                row.State = VisitState.Closed;
                (row.ClosedBy, row.ClosedAt, row.Batch) = (actor.Name, writes.Now, batch);
                row.RealMinutes = minutes;
                var paid = minutes!.Value * new PlanVisit.HowVisited(row.Hauled, row.TwoPeople).People;
                (row.RealPartsCost, row.RealFluidsCost, row.RealLabourCost) = (parts, fluids, Money.Of(shop.Labour(paid)));
                var bottles = job.Card.Steps.Count(x => x.Input == InputKind.Bottle && job.State.IsDone(x));
                var stood = CardTimes.Stood(
                    job.Rows.Values.Select(x => x.At),
                    TimeZoneInfo.FindSystemTimeZoneById(row.Machine.Site.TimeZone)
                );
                (row.RealLabCost, row.RealDowntimeCost) = (Money.Of(shop.Lab(bottles)), Money.Of(shop.Downtime(stood)));
                if (note.Length > 0)
                    row.Note = note;
                row.Version++;
                writes.Audit(
                    actor,
                    "visit.close",
                    PlanVisit.Subject(row.Machine.Unit, id),
                    row.MachineId,
                    null,
                    new
                    {
                        row.On,
                        done,
                        left = row.Items.Where(x => x.State == VisitItemState.Left).Select(x => x.ItemCode),
                        minutes,
                    }
                );
                await CardTimes.Refresh(db, row.MachineId, ct);
                await writes.RefreshStatus([row.MachineId], ct);
                return Outcome<VisitRow>.Of(row);
            },
            ct
        );

    /// <summary>
    /// Leaves what is not done, and stops the machine by a defect that names who locked it out, what is open, and why.
    /// </summary>
    /// <returns>What stands against it.</returns>
    private async Task<List<Refusal>> StayLockedOut(JobContext job, string why, Actor actor, CancellationToken ct)
    {
        foreach (var item in job.Row.Items.Where(x => x.State != VisitItemState.Left))
        {
            if (job.State.OutcomeOf(item.ItemCode) == ItemOutcome.Open && !job.Card.Covered.ContainsKey(item.ItemCode))
                (item.State, item.Reason, item.ReasonWords) = (VisitItemState.Left, LeaveItem.LockedOut, why);
        }

        List<string> open =
        [
            .. job.State.OpenDrains.Select(x => x.Step.Words),
            .. job.State.Unfilled.Select(x => x.Words),
            .. job.State.OpenNow,
        ];
        var outcome = await report.Add(
            new()
            {
                Unit = job.Row.Machine.Unit,
                PartBySaying = true,
                Part = LockPart,
                Grade = DefectGrade.Stop,
                Words = string.Format(
                    CultureInfo.InvariantCulture,
                    JobTables.LockedOut.Words,
                    job.Holder ?? actor.Name,
                    open.Count == 0 ? "-" : string.Join("; ", open.Distinct(StringComparer.Ordinal).Take(MostOpen)),
                    why
                ),
            },
            actor,
            ct
        );
        return [.. outcome.Refusals];
    }

    private const string LockPart = "lockout";
    private const int MostOpen = 12;

    private static string CodeOf(CloseFault fault) =>
        fault switch
        {
            CloseFault.OpenDrain => "closeOpenDrain",
            CloseFault.Unfilled => "closeUnfilled",
            CloseFault.NotHome => "closeNotHome",
            CloseFault.CardStep => "closeCardStep",
            _ => "closeOpenItem",
        };

    /// <summary>
    /// Opens a closed card again and takes back all that its closing recorded. Defects that were repaired stay so: they are
    /// repaired.
    /// </summary>
    public Task<Outcome<VisitRow>> Reopen(long id, string? reason, Actor actor, CancellationToken ct) =>
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
                if (row.State != VisitState.Closed)
                    return Outcome<VisitRow>.Refused(Refusals.VisitNotClosed());
                if (!Typed.IsReason(reason, "reason", out var unreasoned))
                    return Outcome<VisitRow>.Refused(unreasoned);
                var (now, who, why, batch) = (writes.Now, actor.Name, reason.Trim(), row.Batch);
                await db
                    .Completions.Where(x => x.MachineId == row.MachineId && x.Batch == batch)
                    .ExecuteUpdateAsync(
                        x => x.SetProperty(m => m.VoidedAt, now).SetProperty(m => m.VoidedBy, who).SetProperty(m => m.VoidReason, why),
                        ct
                    );
                await db.Measures.Where(x => x.VisitId == id).ExecuteDeleteAsync(ct);
                await db
                    .FilterLog.Where(x => x.VisitId == id && x.Batch == batch)
                    .ExecuteUpdateAsync(x => x.SetProperty(m => m.VoidedAt, now).SetProperty(m => m.VoidedBy, who), ct);
                await db
                    .Waste.Where(x => x.VisitId == id)
                    .ExecuteUpdateAsync(x => x.SetProperty(m => m.VoidedAt, now).SetProperty(m => m.VoidedBy, who), ct);
                await db.OnBoard.Where(x => x.VisitId == id).ExecuteUpdateAsync(x => x.SetProperty(m => m.VoidedAt, now), ct);

                // A bottle of which results are in stays what it is: the card is its record, not its reason.
                await take.Withdraw(db.Samples.Where(x => x.VisitId == id && x.State < SampleState.Reported), who, why, ct);
                await db
                    .CoolantTests.Where(x => x.Batch == batch)
                    .ExecuteUpdateAsync(x => x.SetProperty(m => m.VoidedAt, now).SetProperty(m => m.VoidedBy, who), ct);
                foreach (
                    var taken in await db
                        .StockMoves.Where(x => x.VisitId == id)
                        .GroupBy(x => new { x.PartId, x.SiteId })
                        .Select(g => new { g.Key, Sum = g.Sum(x => x.Quantity) })
                        .Where(x => x.Sum != 0)
                        .ToListAsync(ct)
                )
                {
                    db.StockMoves.Add(
                        new()
                        {
                            PartId = taken.Key.PartId,
                            SiteId = taken.Key.SiteId,
                            Quantity = -taken.Sum,
                            Kind = StockMoveKind.Return,
                            At = now,
                            By = who,
                            Note = why,
                            VisitId = id,
                        }
                    );
                }

                row.Items.ForEach(x => x.State = x.State == VisitItemState.Done ? VisitItemState.Planned : x.State);
                row.State = VisitState.Open;
                (row.ClosedBy, row.ClosedAt, row.Batch) = (null, null, null);
                (row.RealMinutes, row.RealPartsCost, row.RealFluidsCost, row.RealLabourCost) = (null, null, null, null);
                (row.RealLabCost, row.RealDowntimeCost) = (null, null);
                row.Version++;
                writes.Audit(actor, "visit.reopen", PlanVisit.Subject(row.Machine.Unit, id), row.MachineId, new { batch }, new { reason });
                await CardTimes.Refresh(db, row.MachineId, ct);
                await writes.RefreshStatus([row.MachineId], ct);
                return Outcome<VisitRow>.Of(row);
            },
            ct
        );

    /// <summary>Completes what was done, and what that covers.</summary>
    private async Task<List<string>> Complete(JobContext job, string batch, Actor actor, CancellationToken ct)
    {
        var row = job.Row;
        var known = await db
            .ProgramItems.Where(x => x.ProgramId == row.Machine.ProgramId && !x.Off)
            .Select(x => new { x.Code, x.Needs })
            .ToListAsync(ct);
        var options = row.Machine.OptionWords;
        var fits = known.Where(x => OptionRule.Holds(x.Needs, options)).Select(x => x.Code).ToHashSet(StringComparer.Ordinal);
        var left = row.Items.Where(x => x.State == VisitItemState.Left).ToDictionary(x => x.ItemCode, StringComparer.Ordinal);
        foreach (var item in row.Items.Where(x => x.State != VisitItemState.Left))
        {
            // What another item was to do is left with it.
            var by = job.Card.Covered.TryGetValue(item.ItemCode, out var code) ? left.GetValueOrDefault(code) : null;
            (item.State, item.Reason, item.ReasonWords) = by is null
                ? (VisitItemState.Done, null, null)
                : (VisitItemState.Left, by.Reason, by.ReasonWords);
        }

        var done = row.Items.Where(x => x.State == VisitItemState.Done).Select(x => x.ItemCode).ToHashSet(StringComparer.Ordinal);
        done.UnionWith(job.Card.Covered.Where(x => done.Contains(x.Value)).Select(x => x.Key).ToList());
        foreach (var code in done.Where(fits.Contains).Order(StringComparer.Ordinal))
        {
            db.Completions.Add(
                new()
                {
                    MachineId = row.MachineId,
                    ItemCode = code,
                    Kind = CompletionKind.Work,
                    DoneOn = row.On,
                    LifeHours = row.LifeHours,
                    ShownHours = row.ShownHours,
                    By = actor.Name,
                    EnteredAt = writes.Now,
                    Batch = batch,
                }
            );
        }

        return [.. done.Order(StringComparer.Ordinal)];
    }

    /// <summary>Writes what was fitted, and takes it from the shelf of the machine's site.</summary>
    /// <returns>What the parts cost.</returns>
    private async Task<Money> FilterLog(JobContext job, string batch, Actor actor, CancellationToken ct)
    {
        var fitted = job
            .Card.Steps.Where(x => x.Input == InputKind.Filter && job.State.IsDone(x))
            .Select(x => (Step: x, Answer: (FilterAnswer)job.State.AnswerOf(x)!))
            .ToList();
        var numbers = fitted.Select(x => x.Answer.Part!).ToHashSet(StringComparer.Ordinal);
        var parts = await db.Parts.Where(x => numbers.Contains(x.Number)).ToDictionaryAsync(x => x.Number, StringComparer.Ordinal, ct);
        var names = await db
            .FilterPositions.Where(x => x.MachineId == job.Row.MachineId)
            .ToDictionaryAsync(x => x.Code, x => x.Name, StringComparer.Ordinal, ct);
        var cost = Money.Zero;
        foreach (var (step, answer) in fitted)
        {
            db.FilterLog.Add(
                new()
                {
                    MachineId = job.Row.MachineId,
                    Position = step.Position,
                    PositionName = names.GetValueOrDefault(step.Position, step.Position),
                    Part = answer.Part!,
                    Make = answer.Make ?? "",
                    On = job.Row.On,
                    LifeHours = job.Row.LifeHours,
                    By = job.Rows[step.Code].By,
                    EnteredAt = writes.Now,
                    VisitId = job.Row.Id,
                    Metal = answer.Metal,
                    Words = answer.Reason ?? "",
                    Batch = batch,
                }
            );
            if (!parts.TryGetValue(answer.Part!, out var part))
                continue;
            cost += part.Price;
            db.StockMoves.Add(
                new()
                {
                    PartId = part.Id,
                    SiteId = job.Row.Machine.SiteId,
                    Quantity = -1,
                    Kind = StockMoveKind.Issue,
                    At = writes.Now,
                    By = actor.Name,
                    VisitId = job.Row.Id,
                }
            );
        }

        return cost;
    }

    /// <summary>Writes which fluid is on board since when, and how much.</summary>
    private async Task<Money> OnBoard(JobContext job, string batch, ShopPage shop, CancellationToken ct)
    {
        double money = 0;
        var own = await db
            .MachineCompartments.Where(x => x.MachineId == job.Row.MachineId)
            .ToDictionaryAsync(x => x.Code, StringComparer.Ordinal, ct);
        foreach (var fill in job.Card.Steps.Where(x => x.Input == InputKind.Fill && job.State.IsDone(x)))
        {
            var added = job
                .Card.Steps.Where(x =>
                    x.Item == fill.Item && x.Input == InputKind.Level && job.State.IsDone(x) && (x.Litres is not null || x.BeforeRun)
                )
                .Sum(job.State.LitresOf);
            var litres = job.State.LitresOf(fill) + added;
            money += shop.PriceOf(fill.Fluid, litres);

            // Topping up for a filter leaves the old oil in: nothing new is on board.
            if (!job.Card.Steps.Any(x => x is { Input: InputKind.Tick, Opens.Length: > 0 } && x.Item == fill.Item))
                continue;
            db.OnBoard.Add(
                new()
                {
                    MachineId = job.Row.MachineId,
                    Compartment = fill.Compartment,
                    Fluid = fill.Fluid,
                    Litres = new Litres(litres),
                    On = job.Row.On,
                    LifeHours = job.Row.LifeHours,
                    VisitId = job.Row.Id,
                    Batch = batch,
                }
            );
            if (!own.TryGetValue(fill.Compartment, out var compartment))
                db.MachineCompartments.Add(compartment = new() { MachineId = job.Row.MachineId, Code = fill.Compartment });
            if (fill.Fluid.Length > 0)
                compartment.Fluid = fill.Fluid;
        }

        return Money.Of(money);
    }

    private void Waste(JobContext job, string batch, Actor actor)
    {
        var place = job.Card.Steps.Where(x => x.Input == InputKind.Waste)
            .Select(x => (job.State.AnswerOf(x) as WasteAnswer)?.Place)
            .FirstOrDefault(x => x is not null)
            ?? "";
        void Add(string stream, double amount) =>
            db.Waste.Add(
                new()
                {
                    On = job.Row.On,
                    Stream = stream,
                    Amount = amount,
                    Place = place,
                    MachineId = job.Row.MachineId,
                    VisitId = job.Row.Id,
                    By = actor.Name,
                    EnteredAt = writes.Now,
                    Batch = batch,
                }
            );
        foreach (
            var stream in job
                .Card.Steps.Where(x => x.Input == InputKind.Drained && job.State.IsDone(x))
                .GroupBy(x => x.Stream.Length > 0 ? x.Stream : "oil")
        )
        {
            if (stream.Sum(job.State.LitresOf) is > 0 and var litres)
                Add(stream.Key, litres);
        }

        if (job.Card.Steps.Count(x => x.Input == InputKind.Filter && job.State.IsDone(x)) is > 0 and var filters)
            Add(PartCatalog.FilterStream, filters);
    }

    /// <summary>Keeps the coolant tests of the card with those of the machine.</summary>
    private void Coolants(JobContext job, string batch)
    {
        foreach (var step in job.Card.Steps.Where(x => x.Input == InputKind.Coolant && job.State.IsDone(x)))
        {
            var answer = (CoolantAnswer)job.State.AnswerOf(step)!;
            db.CoolantTests.Add(
                new()
                {
                    MachineId = job.Row.MachineId,
                    On = job.Row.On,
                    LifeHours = job.Row.LifeHours,
                    SharePercent = answer.Share!.Value,
                    WantedPercent = CoolantTests.UsualShare,
                    RefillPercent = CoolantTests.UsualRefill,
                    Note = answer.Note ?? "",
                    By = job.Rows[step.Code].By,
                    At = job.Rows[step.Code].At,
                    Batch = batch,
                }
            );
        }
    }

    /// <summary>Keeps the samples that were drawn on the card, each as it was before its oil was changed.</summary>
    private async Task Samples(JobContext job, string batch, CancellationToken ct)
    {
        var drawn = job.Card.Steps.Where(x => x.Input == InputKind.Bottle && job.State.IsDone(x)).ToList();
        if (drawn.Count == 0)
            return;
        var machine = (await oil.Load(job.Row.Machine.Unit, ct))!;
        var places = OilCatalog.Places(machine, machine.Program).ToDictionary(x => x.Item.Code, StringComparer.Ordinal);
        var facts = (await db.FactsOf(machine.Unit, writes.Now, ct))!;
        foreach (var step in drawn)
        {
            if (!places.TryGetValue(step.Item, out var place))
                continue;
            var mark = Bottles.ReadMark(((BottleAnswer)job.State.AnswerOf(step)!).Bottle!).Mark;
            if (await db.Samples.SingleOrDefaultAsync(x => x.VisitId == job.Row.Id && x.Bottle == mark, ct) is { } judged)
            {
                // Its results were in before the card was taken up again, and it stayed: a bottle is drawn once.
                judged.Batch = batch;
                continue;
            }

            var row = await take.Make(
                machine,
                place,
                mark,
                job.Row.LifeHours,
                job.Row.On,
                batch,
                job.Row.LifeHours.Value > TakeSample.Latest(facts, place),
                job.Rows[step.Code].By,
                ct
            );
            var drained = job.Card.Steps.Any(x => x.Input == InputKind.Drained && x.Compartment == step.Compartment && job.State.IsDone(x));
            row.Method = Drawing.MethodOf(place.Kind, place.Method == DrawMethod.LivePort, drained);
            row.Engine = row.Method == DrawMethod.LivePort ? DrawState.Running : DrawState.Warm;
            (row.TakenAt, row.VisitId) = (job.Rows[step.Code].At, job.Row.Id);
            db.Samples.Add(row);
            await db.SaveChangesAsync(ct);
            if (await db.Bottles.SingleOrDefaultAsync(x => x.Code == mark, ct) is { } prepared)
                prepared.SampleId = row.Id;
        }
    }
}
