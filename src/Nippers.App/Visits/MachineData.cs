using Microsoft.EntityFrameworkCore;
using Nippers.Core.Fluids;
using Nippers.Core.Numbers;
using Nippers.Core.Service;
using Nippers.Data;
using Nippers.Data.Fleet;
using Nippers.Data.Programs;
using Nippers.Data.Queries;

namespace Nippers.App.Visits;

/// <summary>What a machine's manual says of a compartment, as entered.</summary>
public sealed record CompartmentInput(
    string Code,
    string? Capacity,
    string? Fluid,
    string? FilterLitres,
    string? DrainPoints,
    string? PlugTorque,
    string? PlugSeal,
    string? Socket,
    string? PressureSeconds,
    string? Hub
);

/// <summary>What a machine's manual says for its service, as entered.</summary>
public sealed record MachineDataInput(
    IReadOnlyList<CompartmentInput> Compartments,
    string? BleedMethod,
    string? BleedPoints,
    string? CrankSeconds,
    string? RestSeconds,
    string? CrankRepeats
);

/// <summary>A compartment with what is entered of it.</summary>
public sealed record CompartmentData(ProgramCompartment Compartment, MachineCompartment? Own);

/// <summary>The service data of a machine.</summary>
public sealed record MachineDataPage(Machine Machine, IReadOnlyList<CompartmentData> Compartments);

/// <summary>Reads and keeps what a machine's own manual says for its service: capacities, fluids, plugs, bleeding.</summary>
public sealed class MachineData(NippersDb db, UnitOfWork writes)
{
    private const double MostLitres = 5000;
    private const int LongestWords = 60;

    public async Task<MachineDataPage?> Page(string unit, CancellationToken ct)
    {
        var machine = await db
            .Machines.AsNoTracking()
            .Include(x => x.Site)
            .Include(x => x.Compartments)
            .SingleOrDefaultAsync(x => x.Unit == unit, ct);
        if (machine is null)
            return null;
        var options = machine.OptionWords;
        var all = await db.ProgramContents(machine.ProgramId, ct);
        return new(
            machine,
            [
                .. all.Where(x => x.Stream.Length > 0 && OptionRule.Holds(x.Needs, options))
                    .Select(x => new CompartmentData(x, machine.Compartments.Find(y => y.Code == x.Code))),
            ]
        );
    }

    public Task<Outcome<Nothing>> Save(string unit, MachineDataInput input, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var machine = await db.Machines.Include(x => x.Compartments).SingleOrDefaultAsync(x => x.Unit == unit, ct);
                if (machine is null)
                    return Outcome<Nothing>.Refused(Refusals.NoSuchUnit("unit", unit, Array.Empty<string>()));
                var known = (await db.ProgramContents(machine.ProgramId, ct)).ToDictionary(x => x.Code, StringComparer.Ordinal);
                var refusals = new List<Refusal>();
                foreach (var entered in input.Compartments)
                {
                    string Field(string name) => $"{name}-{entered.Code}";
                    if (!known.TryGetValue(entered.Code, out var compartment))
                    {
                        refusals.Add(Refusals.NoSuchCompartment(""));
                        continue;
                    }

                    var capacity = Typed.Volume(entered.Capacity, Field("capacity"), 0.05, MostLitres, refusals);
                    var filters = Typed.Volume(entered.FilterLitres, Field("filterLitres"), 0, MostLitres, refusals) ?? Litres.Zero;
                    if (filters > capacity)
                        refusals.Add(Refusals.FilterAboveCapacity(Field("filterLitres")));
                    var points = Typed.Whole(entered.DrainPoints, Field("drainPoints"), 1, 12, refusals) ?? 1;
                    var seconds = Typed.Optional(entered.PressureSeconds, Field("pressureSeconds"), 1, 60, refusals);
                    var hub = Typed.Words(entered.Hub, Field("hub"), 20, refusals);
                    if (hub.Length > 0 && !IsHub(hub))
                        refusals.Add(Refusals.HubShape(Field("hub")));
                    var fluid = Typed.Words(entered.Fluid, Field("fluid"), LongestWords, refusals);
                    if (
                        fluid.Length > 0
                        && FluidRange.Parse(compartment.Fluids) is { IsEmpty: false } ranges
                        && ranges.All(x => x.Fluid != fluid)
                    )
                        refusals.Add(Refusals.FluidNotListed(Field("fluid"), ranges.Select(x => x.Fluid).ToList()));
                    var own = machine.Compartments.Find(x => x.Code == entered.Code);
                    var (torque, seal, socket) = (
                        Typed.Words(entered.PlugTorque, Field("plugTorque"), LongestWords, refusals),
                        Typed.Words(entered.PlugSeal, Field("plugSeal"), LongestWords, refusals),
                        Typed.Words(entered.Socket, Field("socket"), LongestWords, refusals)
                    );
                    if (
                        own is null
                        && capacity is null
                        && filters == Litres.Zero
                        && points == 1
                        && seconds is null
                        && (hub + fluid + torque + seal + socket).Length == 0
                    )
                        continue;
                    if (own is null)
                        machine.Compartments.Add(own = new() { Code = entered.Code });
                    (own.CapacityLitres, own.FilterLitres, own.DrainPoints, own.PressureSeconds, own.Hub, own.Fluid) = (
                        capacity,
                        filters,
                        points,
                        seconds,
                        hub,
                        fluid
                    );
                    (own.PlugTorque, own.PlugSeal, own.Socket) = (torque, seal, socket);
                }

                var method = Typed.Words(input.BleedMethod, "bleedMethod", LongestWords, refusals);
                var bleed = Typed.Words(input.BleedPoints, "bleedPoints", 200, refusals, needed: method.Length > 0);
                var (crank, rest, repeats) = (
                    Typed.Whole(input.CrankSeconds, "crankSeconds", 1, 120, refusals),
                    Typed.Whole(input.RestSeconds, "restSeconds", 1, 1800, refusals),
                    Typed.Whole(input.CrankRepeats, "crankRepeats", 1, 20, refusals)
                );
                if (method.Length > 0)
                {
                    if (crank is null)
                        refusals.Add(Refusals.Needed("crankSeconds"));
                    if (rest is null)
                        refusals.Add(Refusals.Needed("restSeconds"));
                    if (repeats is null)
                        refusals.Add(Refusals.Needed("crankRepeats"));
                }

                if (refusals.Count > 0)
                    return Outcome<Nothing>.Refused(refusals);
                (machine.BleedMethod, machine.BleedPoints, machine.CrankSeconds, machine.RestSeconds, machine.CrankRepeats) = (
                    method,
                    bleed,
                    crank ?? 0,
                    rest ?? 0,
                    repeats ?? 0
                );
                writes.Audit(
                    actor,
                    "machine.data",
                    unit,
                    machine.Id,
                    null,
                    new
                    {
                        compartments = machine.Compartments.Select(x => new
                        {
                            x.Code,
                            x.CapacityLitres,
                            x.Fluid,
                            x.PlugTorque,
                        }),
                        method,
                    }
                );
                return Outcome<Nothing>.Of(Nothing.Special);
            },
            ct
        );

    /// <summary>Clock hours of drain, level and fill plug, for example <c>6 3 12</c>.</summary>
    internal static bool IsHub(string text) =>
        text.Split(' ', StringSplitOptions.RemoveEmptyEntries) is { Length: 3 } hours
        && hours.All(x =>
            int.TryParse(x, System.Globalization.NumberStyles.None, System.Globalization.CultureInfo.InvariantCulture, out var hour)
            && hour is >= 1 and <= 12
        );
}
