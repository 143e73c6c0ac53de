using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Nippers.App.Languages;
using Nippers.Core.Numbers;
using Nippers.Core.Quick;
using Nippers.Core.Service;
using Nippers.Data;
using Nippers.Data.Programs;
using Nippers.Data.Queries;
using Nippers.Data.Walks;

namespace Nippers.App.Walks;

/// <summary>A top-up as it was understood.</summary>
public sealed record ValidatedTopUp(
    ProgramCompartment? Compartment,
    double Litres,
    IReadOnlyList<string> Near,
    IReadOnlyList<Refusal> Refusals
);

/// <summary>A top-up that was kept.</summary>
public sealed record LoggedTopUp(long Id, string Compartment, double Litres);

/// <summary>Keeps fluid that was added outside a walk.</summary>
public sealed class LogTopUp(NippersDb db, UnitOfWork writes, Defects.ReportDefect report)
{
    /// <summary>Least litres of one top-up.</summary>
    public const double Least = 0.1;

    /// <summary>Most litres of one top-up.</summary>
    public const double Most = 200;

    /// <summary>What a typed top-up means; nothing is kept.</summary>
    public async Task<ValidatedTopUp> Validate(string unit, string? litresText, string? compartment, CancellationToken ct)
    {
        var refusals = new List<Refusal>();
        var litres = Typed.Volume(litresText, "litres", Least, Most, refusals)?.Value ?? 0;
        if (string.IsNullOrWhiteSpace(litresText))
            refusals.Add(Refusals.Needed("litres"));
        var machine = await db.Machines.AsNoTracking().SingleOrDefaultAsync(x => x.Unit == unit, ct);
        if (machine is null)
            return new(null, litres, [], [Refusals.NoSuchUnit("unit", unit, Array.Empty<string>())]);
        var places = (await db.ProgramContents(machine.ProgramId, ct)).Where(x => OptionRule.Holds(x.Needs, machine.OptionWords)).ToList();
        var typed = (compartment ?? "").Trim();
        IEnumerable<string> Called(ProgramCompartment place) =>
            [place.Code, place.Name, .. AllLanguages.All.Select(x => x.Say(place.Name))];
        var found = places.Find(x => Called(x).Contains(typed, StringComparer.OrdinalIgnoreCase))
            ?? (
                places.Where(x => Called(x).Any(name => name.StartsWith(typed, StringComparison.OrdinalIgnoreCase))).ToList() is [var only]
                    ? only
                    : null
            );
        var near = found is null ? NearestNames.Of(typed, places.Select(x => x.Code)).ToList() : [];
        if (found is null)
            refusals.Add(Refusals.NoSuchCompartmentHere(typed, near));
        return new(found, litres, near, refusals);
    }

    /// <summary>Keeps a top-up.</summary>
    public Task<Outcome<LoggedTopUp>> Run(
        string unit,
        string? litresText,
        string? compartment,
        string? key,
        Actor actor,
        CancellationToken ct
    ) =>
        writes.Run(
            async () =>
            {
                var validated = await Validate(unit, litresText, compartment, ct);
                if (validated.Refusals.Count > 0)
                    return Outcome<LoggedTopUp>.Refused(validated.Refusals);
                var body = new
                {
                    what = "topUp",
                    unit,
                    litresText,
                    compartment,
                };
                if (
                    await writes.AgainById(
                        actor,
                        key,
                        body,
                        kept => Task.FromResult(new LoggedTopUp(kept, validated.Compartment!.Name, validated.Litres)),
                        ct
                    ) is
                    { } again
                )
                    return again;

                var facts = (await db.FactsOf(unit, writes.Now, ct))!;
                var row = new TopUpRow
                {
                    MachineId = facts.Machine.Id,
                    Compartment = validated.Compartment!.Code,
                    Litres = new Litres(validated.Litres),
                    At = writes.Now,
                    LifeHours = Defects.DefectService.LastHours(facts),
                    By = actor.Name,
                };
                db.TopUps.Add(row);
                await db.SaveChangesAsync(ct);
                if (
                    (await db.ListOf(facts.Machine, ct))
                        ?.ToList()
                        .Checks.FirstOrDefault(x => x.Sealed && x.Compartment == row.Compartment) is
                    { } sealedCheck
                )
                {
                    // A sealed drive that needed oil leaks: rules 6.
                    var leak = await report.Add(
                        new()
                        {
                            Unit = unit,
                            Check = sealedCheck.Code,
                            Words = string.Create(CultureInfo.InvariantCulture, $"+{row.Litres:0.##} L {validated.Compartment.Name}"),
                            LimitHours = Defects.UsualLimit.Hours,
                            LimitDays = Defects.UsualLimit.Days,
                        },
                        actor,
                        ct
                    );
                    if (!leak.Done)
                        return Outcome<LoggedTopUp>.Refused(leak.Refusals);
                }

                writes.Remember(actor, key, row.Id.ToString(CultureInfo.InvariantCulture));
                writes.Audit(actor, "topUp.log", unit, row.MachineId, null, new { row.Compartment, row.Litres });
                return Outcome<LoggedTopUp>.Of(new(row.Id, validated.Compartment.Name, row.Litres.Value));
            },
            ct
        );

    /// <summary>Takes a top-up back.</summary>
    public Task<Outcome<Nothing>> Void(string unit, long id, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var row = await db.TopUps.SingleOrDefaultAsync(
                    x => x.Id == id && db.Machines.Any(m => m.Id == x.MachineId && m.Unit == unit),
                    ct
                );
                if (row is null)
                    return Outcome<Nothing>.Refused(Refusals.TopUpGone());
                if (actor.Role == Roles.Operator && row.By != actor.Name)
                    return Outcome<Nothing>.Refused(Refusals.TechnicianNeeded());
                (row.VoidedAt, row.VoidedBy) = (writes.Now, actor.Name);
                writes.Audit(actor, "topUp.void", unit, row.MachineId, new { row.Compartment, row.Litres }, null);
                return Outcome<Nothing>.Of(Nothing.Special);
            },
            ct
        );
}
