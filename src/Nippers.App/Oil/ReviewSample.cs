using System.Collections.Immutable;
using Microsoft.EntityFrameworkCore;
using Nippers.App.Defects;
using Nippers.Core.Defects;
using Nippers.Core.Hours;
using Nippers.Core.Oil;
using Nippers.Core.Service;
using Nippers.Data;
using Nippers.Data.Oil;
using Nippers.Data.Programs;
using Nippers.Data.Queries;

namespace Nippers.App.Oil;

/// <summary>A signature, as entered.</summary>
public sealed record SignInput
{
    public int Version { get; init; }
    public Assessment? Assessment { get; init; }

    /// <summary>Why it is not the advised one; needed then.</summary>
    public string? Words { get; init; }

    /// <summary>Grade of the defect that is opened; null for none. A stop always opens one.</summary>
    public DefectGrade? Defect { get; init; }
    public string? DefectWords { get; init; }
    public string? LimitHours { get; init; }
    public string? LimitDays { get; init; }

    /// <summary>Items that are due now.</summary>
    public IReadOnlyCollection<string> DueNow { get; init; } = [];

    /// <summary>Since the last change nothing but this fluid was added.</summary>
    public bool SameFluid { get; init; }

    /// <summary>Something in the sample's history says that it is not this machine's: it is set aside from trends.</summary>
    public bool NotTrue { get; init; }
}

/// <summary>Work that a verdict suggests.</summary>
public sealed record SuggestedWork(ProgramItem Item, bool Ticked);

/// <summary>What a signature would do.</summary>
/// <param name="Work">Work it could call; ticked: the advice calls it, or the signature before did and it is due still.</param>
/// <param name="Drains">The interval between oil changes by the verdict that is signed; empty where analysis may not change it.</param>
/// <param name="Rule">Base, step and cap of that interval.</param>
/// <param name="CurrentHours">The interval before this sample.</param>
public sealed record SignedActions(
    IReadOnlyList<SuggestedWork> Work,
    IReadOnlyDictionary<Assessment, DrainStep> Drains,
    DrainRule? Rule,
    double? CurrentHours
);

/// <summary>What a signature did.</summary>
public sealed record SignedSample(SampleRow Sample, long? DefectId, DrainStep? Drain);

/// <summary>
/// Signs the verdict on a sample, or overrules it, and lets it act: defect, next sample, work due now, interval between oil
/// changes.
/// </summary>
public sealed class ReviewSample(NippersDb db, UnitOfWork writes, ReportDefect report, OilCatalog book, JudgeSample judge)
{
    private const int LongestWords = 1000;

    public Task<Outcome<SignedSample>> Run(long id, SignInput input, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var sample = await db.Samples.Include(x => x.Machine).SingleOrDefaultAsync(x => x.Id == id, ct);
                if (sample is null)
                    return Outcome<SignedSample>.Refused(Refusals.NoSuchSample());
                if (sample.State < SampleState.Reported || sample.Advised is not { } advised)
                    return Outcome<SignedSample>.Refused(Refusals.SampleNotReported());
                if (sample.Version != input.Version)
                    return Outcome<SignedSample>.Refused(Refusals.ChangedMeanwhile());
                var refusals = new List<Refusal>();
                if (input.Assessment is null)
                    refusals.Add(Refusals.Needed("verdict"));
                var words = Typed.Words(
                    input.Words,
                    "words",
                    LongestWords,
                    refusals,
                    needed: input.Assessment is { } other && other != advised
                );
                var verdict = input.Assessment ?? advised;
                if (verdict == Assessment.Critical && input.Defect is not (null or DefectGrade.Stop))
                    refusals.Add(Refusals.StopNeedsStop());
                if (refusals.Count > 0)
                    return Outcome<SignedSample>.Refused(refusals);

                var facts = (await db.FactsOf(sample.Machine.Unit, writes.Now, ct))!;
                var known = facts.Items.Select(x => x.Code).ToHashSet(StringComparer.Ordinal);
                if (input.DueNow.FirstOrDefault(x => !known.Contains(x)) is { } stranger)
                    return Outcome<SignedSample>.Refused(Refusals.NoSuchItem("dueNow", stranger));

                // Signed again after a correction: what the first signature called for is called no longer.
                await db.WorkRequests.Where(x => x.SampleId == id).ExecuteUpdateAsync(x => x.SetProperty(m => m.VoidedAt, writes.Now), ct);
                var before = new
                {
                    sample.State,
                    sample.SignedAs,
                    sample.SignedBy,
                };
                (sample.State, sample.SignedAs, sample.SignedBy, sample.SignedAt, sample.SignedWords) = (
                    SampleState.Judged,
                    verdict,
                    actor.Name,
                    writes.Now,
                    words
                );
                sample.DrawnWrong |= input.NotTrue;
                sample.Version++;
                writes.Audit(
                    actor,
                    "sample.sign",
                    TakeSample.Subject(sample.Machine.Unit, sample),
                    sample.MachineId,
                    before,
                    new
                    {
                        verdict,
                        advised,
                        words,
                        input.Defect,
                        input.DueNow,
                        input.NotTrue,
                    }
                );
                await db.SaveChangesAsync(ct);
                if (input.NotTrue)
                    await judge.After(sample, ct);

                var grade = verdict == Assessment.Critical ? DefectGrade.Stop : input.Defect;
                if (grade is { } asked && sample.DefectId is null)
                {
                    var opened = await report.Add(ToDefect(sample, asked, input), actor, ct);
                    if (!opened.Done)
                        return Outcome<SignedSample>.Refused([
                            .. opened.Refusals.Select(x => x.Field == "words" ? x with { Field = "defectWords" } : x),
                        ]);
                    sample.DefectId = opened.Value!.Id;
                }

                var waits =
                    sample.DefectId is { } found
                    && await db.Defects.AnyAsync(x => x.Id == found && x.State == Data.Defects.DefectState.Open, ct);
                Call(sample, facts, verdict, input, waits);
                var drain = await Drain(sample, facts, input.SameFluid, input.NotTrue, actor, ct);
                await writes.RefreshStatus([sample.MachineId], ct);
                return Outcome<SignedSample>.Of(new(sample, sample.DefectId, drain));
            },
            ct
        );

    /// <summary>What signing a verdict would offer: work, and the interval between oil changes.</summary>
    internal async Task<SignedActions> Offer(MachineFacts facts, SampleRow sample, OilJudgement judgement, CancellationToken ct)
    {
        var work = Suggested(facts, sample, judgement);
        if (sample.SignedAs is not null)
        {
            var called = await db
                .WorkRequests.Where(x => x.SampleId == sample.Id && x.Reason == WorkRequestReason.Assessment)
                .Select(x => x.ItemCode)
                .ToListAsync(ct);
            var open = facts.Items.Where(x => called.Contains(x.Code) && facts.Due(x).Basis == DueBasis.Called).ToList();
            work =
            [
                .. work.Select(x => x with { Ticked = open.Contains(x.Item) }),
                .. open.Except(work.Select(x => x.Item)).Select(x => new SuggestedWork(x, true)),
            ];
        }

        var (rule, current, _) = await Interval(sample, facts, ct);
        if (rule is null)
            return new(work, ImmutableDictionary<Assessment, DrainStep>.Empty, null, null);
        var (since, approved, fresh) = (
            await SinceCurrent(sample, judgement.Assessment, ct),
            Approved(facts, sample, true),
            (await book.NewOf(sample.Fluid, ct)).Tbn
        );
        DrainStep As(Assessment verdict) =>
            DrainAdvice.After(
                rule,
                current!.Value,
                sample.Kind,
                [.. since.SkipLast(1), since[^1] with { Assessment = verdict }],
                approved,
                fresh
            );
        return new(work, Enum.GetValues<Assessment>().ToDictionary(x => x, As), rule, current);
    }

    private static List<SuggestedWork> Suggested(MachineFacts facts, SampleRow sample, OilJudgement judgement)
    {
        var work = new List<SuggestedWork>();
        var fluid = facts.Items.FirstOrDefault(x => x.Compartment == sample.Compartment && x.ChangesFluid);
        foreach (var pattern in judgement.Patterns)
        {
            var acts =
                judgement.Assessment >= Assessment.Act
                && (pattern.Evidence.Any(x => judgement.LimitGrades[(int)x] == 2) || OilPatterns.ActsAlways(pattern.Code));
            foreach (var code in OilPatterns.AsksFor(pattern.Code, sample.Kind))
            {
                var item = code == OilPatterns.ChangeOfFluid ? fluid : facts.Items.FirstOrDefault(x => x.Code == code);
                if (item is null)
                    continue;
                var at = work.FindIndex(x => x.Item.Code == item.Code);
                if (at < 0)
                    work.Add(new(item, acts));
                else if (acts)
                    work[at] = work[at] with { Ticked = true };
            }
        }

        return work;
    }

    /// <summary>Base, step and cap of a compartment with the interval now; null where analysis may not change it.</summary>
    internal static (DrainRule? Rule, double? CurrentHours) RuleOf(MachineFacts facts, string compartment)
    {
        var place = facts.Machine.Program.Compartments.Find(x => x.Code == compartment);
        var item = facts.Items.FirstOrDefault(x => x.Compartment == compartment && x.ChangesFluid);
        if (
            place is not { DrainStepHours: { } step, DrainCapHours: { } cap }
            || item?.ForDue().Interval(facts.Machine.Duty) is not { } hours
        )
            return (null, null);
        return (new(hours, step.Value, cap.Value), facts.Orders.GetValueOrDefault(item.Code)?.Earned?.Value ?? hours);
    }

    private static DefectInput ToDefect(SampleRow sample, DefectGrade grade, SignInput input) =>
        new()
        {
            Unit = sample.Machine.Unit,
            Place = sample.Compartment,
            Part = "oil",
            On = MachineParts.OfCompartment(sample.Compartment),
            PartBySaying = true,
            Words = input.DefectWords,
            Grade = grade,
            LimitHours = input.LimitHours,
            LimitDays = input.LimitDays,
        };

    /// <summary>Calls the next sample, and the work that is due now.</summary>
    private void Call(SampleRow sample, MachineFacts facts, Assessment verdict, SignInput input, bool waitsForRepair)
    {
        var last = DefectService.LastHours(facts);
        var today = LocalDay.Of(writes.Now, facts.Zone);
        WorkRequestRow New(string item, WorkRequestReason reason, MeterHours? due) =>
            new()
            {
                MachineId = sample.MachineId,
                ItemCode = item,
                Reason = reason,
                At = writes.Now,
                DueHours = due,
                On = today,
                SampleId = sample.Id,
            };
        foreach (var item in input.DueNow.Where(x => x != sample.ItemCode))
            db.WorkRequests.Add(New(item, WorkRequestReason.Assessment, last));
        var place = facts.Items.FirstOrDefault(x => x.Code == sample.ItemCode);
        var interval = place?.ForDue().Interval(facts.Machine.Duty) ?? LimitSet.ReferenceHours(sample.Kind);
        switch (verdict)
        {
            case Assessment.Watch:
                db.WorkRequests.Add(
                    New(
                        sample.ItemCode,
                        WorkRequestReason.Resample,
                        MeterHours.Most(last, sample.LifeHours + Rounded(OilJudge.NextSampleHours(verdict, interval)!.Value))
                    )
                );
                break;
            case Assessment.Act:
                var call = New(
                    sample.ItemCode,
                    WorkRequestReason.Resample,
                    waitsForRepair ? null : last + Rounded(OilJudge.HoursAfterRepair)
                );
                call.AfterDefectId = waitsForRepair ? sample.DefectId : null;
                db.WorkRequests.Add(call);
                break;
            case Assessment.Critical:
                db.WorkRequests.Add(New(sample.ItemCode, WorkRequestReason.Resample, last));
                break;
        }
    }

    /// <summary>
    /// The interval that this sample found, and the change that its earlier signature made to it, if that is the last one.
    /// </summary>
    private async Task<(DrainRule? Rule, double? Hours, DrainChangeRow? Own)> Interval(
        SampleRow sample,
        MachineFacts facts,
        CancellationToken ct
    )
    {
        var (rule, current) = RuleOf(facts, sample.Compartment);
        if (rule is null)
            return (null, null, null);
        var last = await db
            .DrainChanges.Where(x => x.MachineId == sample.MachineId && x.Compartment == sample.Compartment)
            .OrderByDescending(x => x.At)
            .ThenByDescending(x => x.Id)
            .FirstOrDefaultAsync(ct);
        return last?.SampleId == sample.Id ? (rule, last.FromHours.Value, last) : (rule, current, null);
    }

    /// <summary>
    /// Changes the interval between oil changes where the verdict earns or loses it. Signed again, it begins where the first
    /// signature began.
    /// </summary>
    private async Task<DrainStep?> Drain(
        SampleRow sample,
        MachineFacts facts,
        bool sameFluid,
        bool notTrue,
        Actor actor,
        CancellationToken ct
    )
    {
        var (rule, current, own) = await Interval(sample, facts, ct);
        if (rule is null)
            return null;
        if (own is not null)
        {
            await SetInterval(db, sample.MachineId, sample.Compartment, rule, current!.Value, ct);
            db.DrainChanges.Remove(own);
            await db.SaveChangesAsync(ct);
        }

        if (notTrue)
            return null;
        var step = DrainAdvice.After(
            rule,
            current!.Value,
            sample.Kind,
            await SinceCurrent(sample, sample.SignedAs!.Value, ct),
            Approved(facts, sample, sameFluid),
            (await book.NewOf(sample.Fluid, ct)).Tbn
        );
        if (step.Hours == current)
            return step;
        await Change(db, writes.Now, facts, sample.Compartment, rule, current.Value, step, sample.Id, actor.Name, ct);
        writes.Audit(
            actor,
            "drain.change",
            $"{facts.Machine.Unit} {sample.Compartment}",
            sample.MachineId,
            new { hours = current },
            new { hours = step.Hours, step.Reason }
        );
        return step;
    }

    /// <summary>Sets the interval of a compartment and keeps why.</summary>
    internal static async Task Change(
        NippersDb db,
        DateTimeOffset at,
        MachineFacts facts,
        string compartment,
        DrainRule rule,
        double current,
        DrainStep step,
        long? sampleId,
        string by,
        CancellationToken ct
    )
    {
        await SetInterval(db, facts.Machine.Id, compartment, rule, step.Hours, ct);
        db.DrainChanges.Add(
            new()
            {
                MachineId = facts.Machine.Id,
                Compartment = compartment,
                On = LocalDay.Of(at, facts.Zone),
                LifeHours = DefectService.LastHours(facts),
                FromHours = Rounded(current),
                ToHours = Rounded(step.Hours),
                Reason = step.Reason,
                SampleId = sampleId,
                By = by,
                At = at,
            }
        );
    }

    private static async Task SetInterval(
        NippersDb db,
        int machineId,
        string compartment,
        DrainRule rule,
        double hours,
        CancellationToken ct
    )
    {
        var own = await db.MachineCompartments.SingleOrDefaultAsync(x => x.MachineId == machineId && x.Code == compartment, ct);
        if (own is null)
            db.MachineCompartments.Add(own = new() { MachineId = machineId, Code = compartment });
        own.DrainHours = hours == rule.BaseHours ? null : Rounded(hours);
    }

    /// <summary>Signed samples since the interval last changed, this one last.</summary>
    private async Task<IReadOnlyList<DrainSample>> SinceCurrent(SampleRow sample, Assessment verdict, CancellationToken ct)
    {
        var since = await db
            .DrainChanges.Where(x => x.MachineId == sample.MachineId && x.Compartment == sample.Compartment && x.SampleId != sample.Id)
            .MaxAsync(x => (DateTimeOffset?)x.At, ct)
            ?? DateTimeOffset.MinValue;
        var rows = await db
            .Samples.AsNoTracking()
            .Where(x =>
                x.MachineId == sample.MachineId
                && x.Compartment == sample.Compartment
                && x.SignedAs != null
                && x.Id != sample.Id
                && !x.DrawnWrong
                && x.SignedAt > since
                && x.LifeHours <= sample.LifeHours
            )
            .OrderByDescending(x => x.LifeHours)
            .Take(DrainAdvice.Needed)
            .ToListAsync(ct);
        rows.Reverse();
        var ids = rows.Select(x => x.Id).Append(sample.Id).ToList();
        var tbn = await db.Judgements.Where(x => ids.Contains(x.SampleId)).ToDictionaryAsync(x => x.SampleId, x => x.Values, ct);
        DrainSample Of(SampleRow x, Assessment v) =>
            new(v, x.Late, tbn.TryGetValue(x.Id, out var values) ? OilCase.ReadValues(values)[Measurand.Tbn] : null, x.OilHours?.Value);
        return [.. rows.Select(x => Of(x, x.SignedAs!.Value)), Of(sample, verdict)];
    }

    /// <summary>Whether the program approves the fluid for it, and nothing else was added.</summary>
    private static bool Approved(MachineFacts facts, SampleRow sample, bool sameFluid)
    {
        var approved = facts
            .Machine.Program.Compartments.Find(x => x.Code == sample.Compartment)
            ?.DrainFluids.Split(';', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries)
            ?? [];
        return sameFluid && approved.Contains(sample.Fluid);
    }

    private static MeterHours Rounded(double hours) => new((int)Math.Round(hours * 10));
}
