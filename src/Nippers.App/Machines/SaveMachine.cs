using System.Text.RegularExpressions;
using Microsoft.EntityFrameworkCore;
using Nippers.App.Kinds;
using Nippers.App.Readings;
using Nippers.Core.Hours;
using Nippers.Core.Service;
using Nippers.Data;
using Nippers.Data.Fleet;
using Nippers.Data.Records;

namespace Nippers.App.Machines;

/// <summary>A machine as entered.</summary>
public sealed record MachineInput
{
    /// <summary>Null for a new one.</summary>
    public string? OldUnit { get; init; }
    public int Version { get; init; }
    public string? Unit { get; init; }

    /// <summary>What it is; null for a word that is no kind.</summary>
    public MachineKind? Kind { get; init; } = KindFolders.All[0].Kind;
    public string? Make { get; init; }
    public string? Model { get; init; }
    public string? Serial { get; init; }
    public string? Note { get; init; }
    public string? Site { get; init; }
    public string? Program { get; init; }
    public History History { get; init; }
    public string? CommissionedOn { get; init; }
    public string? CommissionedHours { get; init; }
    public Duty Duty { get; init; }
    public string? PlannedHoursPerDay { get; init; }

    /// <summary>Kilometres of its odometer at commissioning; empty for a machine without one.</summary>
    public string? CommissionedKm { get; init; }

    /// <summary>Kilometres a calendar day.</summary>
    public string? PlannedKmPerDay { get; init; }
    public IReadOnlyCollection<string> Options { get; init; } = [];
    public bool Retired { get; init; }

    /// <summary>Code of the walk list; empty: that of its kind.</summary>
    public string? WalkList { get; init; }
}

/// <summary>Brings a machine in, new or used, or changes what is known of it.</summary>
public sealed partial class SaveMachine(NippersDb db, UnitOfWork writes)
{
    private const int LongestName = 60;

    /// <summary>The most that an odometer shows, kilometres.</summary>
    public const int MostKm = 999_999;

    /// <summary>The most that is driven in a day, kilometres.</summary>
    public const int MostKmPerDay = 2400;

    // The address of a new machine's form.
    private const string NotAUnit = "NEW";

    public Task<Outcome<Machine>> Run(MachineInput input, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var refusals = new List<Refusal>();
                var unit = (input.Unit ?? "").Trim().ToUpperInvariant();
                if (!UnitShape().IsMatch(unit) || unit == NotAUnit)
                    refusals.Add(Refusals.UnitShape());
                if (unit != input.OldUnit && await db.Machines.AnyAsync(x => x.Unit == unit, ct))
                    refusals.Add(Refusals.UnitTaken(unit));
                foreach (var (field, text) in new[] { ("make", input.Make), ("model", input.Model) })
                {
                    if (string.IsNullOrWhiteSpace(text))
                        refusals.Add(Refusals.Needed(field));
                    else if (text.Length > LongestName)
                        refusals.Add(Refusals.TooLong(field, LongestName));
                }

                var site = await db.Sites.SingleOrDefaultAsync(x => x.Name == input.Site, ct);
                if (site is null)
                    refusals.Add(Refusals.NoSuchSite("site"));
                var program = await db.Programs.SingleOrDefaultAsync(x => x.Code == input.Program, ct);
                if (program is null)
                    refusals.Add(Refusals.NoSuchProgram("program"));
                var list = string.IsNullOrEmpty(input.WalkList)
                    ? null
                    : await db.WalkLists.SingleOrDefaultAsync(x => x.Code == input.WalkList, ct);
                if (
                    input.Kind is not { } kind
                    || (kind != MachineKind.Other && (await KindCatalog.Choices(db, ct)).All(x => x.Kind != kind))
                )
                    refusals.Add(Refusals.NoSuchMachineKind("kind", input.Kind?.Code));
                var named = !string.IsNullOrEmpty(input.WalkList);
                if (list is null && (named || !await db.WalkLists.AnyAsync(x => x.Kind == input.Kind, ct)))
                    refusals.Add(Refusals.NoSuchWalkList("walkList"));
                var on = LocalTime.ParseDate(input.CommissionedOn);
                if (on is null)
                    refusals.Add(Refusals.NotADate("commissionedOn"));
                else if (site is not null && on > LocalDay.Of(writes.Now, TimeZoneInfo.FindSystemTimeZoneById(site.TimeZone)))
                    refusals.Add(Refusals.DateInFuture("commissionedOn"));
                if (HoursInput.Read("commissionedHours", input.CommissionedHours, out var hours) is { } fault)
                    refusals.Add(fault);
                var planned = Typed.Number(input.PlannedHoursPerDay, "plannedHoursPerDay", 0, 24, refusals);
                var km = Typed.Whole(input.CommissionedKm, "commissionedKm", 0, MostKm, refusals);
                var kmPerDay = Typed.Optional(input.PlannedKmPerDay, "plannedKmPerDay", 0, MostKmPerDay, refusals);

                if (input.Options.FirstOrDefault(x => !MachineOptions.Knows(x)) is { } strange)
                    refusals.Add(Refusals.NoSuchOption("options", strange));

                var machine = input.OldUnit is null ? null : await db.Machines.SingleOrDefaultAsync(x => x.Unit == input.OldUnit, ct);
                if (input.OldUnit is not null && machine is null)
                    return Outcome<Machine>.Refused(Refusals.NoSuchUnit("unit", input.OldUnit, Array.Empty<string>()));
                if (machine is not null && machine.Version != input.Version)
                    return Outcome<Machine>.Refused(Refusals.ChangedMeanwhile());
                if (machine is not null && on is { } day && await FirstRecord(machine.Id, ct) is { } first && LocalDay.Of(first) < day)
                    refusals.Add(Refusals.RecordsBefore(LocalDay.Of(first)));
                if (refusals.Count > 0)
                    return Outcome<Machine>.Refused(refusals);

                var before = machine is null ? null : Describe(machine);
                machine ??= db
                    .Machines.Add(
                        new Machine
                        {
                            Unit = unit,
                            Make = "",
                            Model = "",
                        }
                    )
                    .Entity;
                machine.Unit = unit;
                machine.Kind = input.Kind!.Value;
                machine.Make = input.Make!.Trim();
                machine.Model = input.Model!.Trim();
                machine.Serial = input.Serial?.Trim() ?? "";
                machine.Note = input.Note?.Trim() ?? "";
                machine.SiteId = site!.Id;
                machine.ProgramId = program!.Id;
                machine.History = input.History;
                machine.CommissionedOn = on!.Value;
                machine.CommissionedHours = hours;
                machine.Duty = input.Duty;
                machine.PlannedHoursPerDay = planned!.Value;
                machine.CommissionedKm = km;
                machine.PlannedKmPerDay = kmPerDay ?? 0;
                machine.Options = string.Join(' ', input.Options.Order(StringComparer.Ordinal));
                machine.Retired = input.Retired;
                machine.WalkListId = list?.Id;
                machine.Version++;
                await db.SaveChangesAsync(ct);
                writes.Audit(actor, "machine.save", unit, machine.Id, before, Describe(machine));
                await writes.RefreshStatus([machine.Id], ct);
                return Outcome<Machine>.Of(machine);
            },
            ct
        );

    private Task<DateTimeOffset?> FirstRecord(int machineId, CancellationToken ct) =>
        db.Readings.Where(x => x.MachineId == machineId && x.State == ReadingState.Accepted).MinAsync(x => (DateTimeOffset?)x.At, ct);

    private static object Describe(Machine machine) =>
        new
        {
            machine.Unit,
            machine.Kind,
            machine.Make,
            machine.Model,
            machine.Serial,
            machine.SiteId,
            machine.ProgramId,
            machine.History,
            machine.CommissionedOn,
            commissionedHours = machine.CommissionedHours.Value,
            machine.Duty,
            machine.PlannedHoursPerDay,
            machine.CommissionedKm,
            machine.PlannedKmPerDay,
            machine.Options,
            machine.Retired,
            machine.WalkListId,
        };

    [GeneratedRegex("^[A-Z0-9][A-Z0-9 -]{0,15}$")]
    private static partial Regex UnitShape();
}
