using Microsoft.EntityFrameworkCore;
using Nippers.App.Units;
using Nippers.Core.Hours;
using Nippers.Core.Numbers;
using Nippers.Core.Service;
using Nippers.Core.Walk;
using Nippers.Data;
using Nippers.Data.Queries;
using Nippers.Data.Walks;

namespace Nippers.App.Walks;

/// <summary>A check that a machine can have limits of its own for, with what was entered.</summary>
public sealed record LimitLine(WalkCheck Check, MachineCheck? Own, MeterHours OffsetHours);

/// <summary>Limits of one check, as entered.</summary>
public sealed record LimitInput(
    string Check,
    string? Low,
    string? WatchBelow,
    string? High,
    string? New,
    string? NewAt,
    string? MarkLitres,
    SagMethod? Method,
    string? Note
);

/// <summary>What a machine's own manual, tyres or setup say of its checks.</summary>
public sealed class MachineLimits(NippersDb db, UnitOfWork writes)
{
    private const double Most = 10_000;
    private const int LongestNote = 120;

    /// <summary>Checks of a machine that have limits; null for an unknown unit.</summary>
    public async Task<IReadOnlyList<LimitLine>?> Run(string unit, CancellationToken ct)
    {
        var facts = await db.FactsOf(unit, writes.Now, ct);
        if (facts is null)
            return null;
        var own = await db.ChecksOf(facts.Machine.Id, ct);
        var offset = facts.Offsets.At(writes.Now);
        return (await db.ListOf(facts.Machine, ct))
            ?.ToList()
            .Checks.Where(x => x.Kind is CheckKind.Measure or CheckKind.Level && OptionRule.Holds(x.Needs, facts.Machine.OptionWords))
            .Select(x => new LimitLine(x, own.GetValueOrDefault(x.Code), offset))
            .ToList()
            ?? [];
    }

    /// <summary>Keeps the limits of one check.</summary>
    public Task<Outcome<MachineCheck>> Save(string unit, LimitInput input, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var facts = await db.FactsOf(unit, writes.Now, ct);
                if (facts is null)
                    return Outcome<MachineCheck>.Refused(Refusals.NoSuchUnit("unit", unit, Array.Empty<string>()));
                var check = (await db.ListOf(facts.Machine, ct))?.ToList().Checks.FirstOrDefault(x => x.Code == input.Check);
                if (check is null)
                    return Outcome<MachineCheck>.Refused(Refusals.NoSuchCheck("", input.Check));
                var refusals = new List<Refusal>();
                double? Number(string field, string? text) => TypedUnits.Optional(text, check.Unit, field, 0, Most, refusals);
                var (low, watch, high) = (Number("low", input.Low), Number("watchBelow", input.WatchBelow), Number("high", input.High));
                var asNew = Number("new", input.New);
                var marks = Typed.Volume(input.MarkLitres, "markLitres", 0, Most, refusals);
                var newAt = Typed.Hours(input.NewAt, "newAt", refusals) + facts.Offsets.At(writes.Now);

                if (low > high)
                    refusals.Add(Refusals.HighBelowLow());
                if (marks == Litres.Zero)
                    refusals.Add(Refusals.AboveZero("markLitres"));
                if (asNew is not null && !check.Wear)
                    refusals.Add(Refusals.NotAWearPart());
                if (asNew is not null && low is null && high is null)
                    refusals.Add(Refusals.WearNeedsLimit());
                if (asNew is not null && (asNew == low || asNew == high))
                    refusals.Add(Refusals.NewIsLimit());
                if (input.Note?.Length > LongestNote)
                    refusals.Add(Refusals.TooLong("note", LongestNote));
                if (refusals.Count > 0)
                    return Outcome<MachineCheck>.Refused(refusals);

                var row = await db.MachineChecks.SingleOrDefaultAsync(
                    x => x.MachineId == facts.Machine.Id && x.CheckCode == check.Code,
                    ct
                );
                var before = row is null ? null : Describe(row);
                row ??= db.MachineChecks.Add(new() { MachineId = facts.Machine.Id, CheckCode = check.Code }).Entity;
                (row.Name, row.Low, row.WatchBelow, row.High, row.New, row.NewAtHours) = (check.Name, low, watch, high, asNew, newAt);
                (row.MarkLitres, row.Method, row.Note) = (marks, check.Sag ? input.Method : null, input.Note?.Trim() ?? "");
                writes.Audit(actor, "limits.save", unit, facts.Machine.Id, before, Describe(row));
                await writes.RefreshStatus([facts.Machine.Id], ct);
                return Outcome<MachineCheck>.Of(row);
            },
            ct
        );

    private static object Describe(MachineCheck x) =>
        new
        {
            x.CheckCode,
            x.Low,
            x.WatchBelow,
            x.High,
            x.New,
            x.NewAtHours,
            x.MarkLitres,
            x.Method,
            x.Note,
        };
}
