using System.Linq.Expressions;
using Microsoft.EntityFrameworkCore;
using Nippers.App.Kinds;
using Nippers.App.Today;
using Nippers.Data;
using Nippers.Data.Fleet;

namespace Nippers.App.Machines;

/// <summary>A machine in the list.</summary>
public sealed record MachineLine(
    string Unit,
    MachineKind Kind,
    string Make,
    string Model,
    string Serial,
    string Site,
    string ProgramCode,
    string ProgramName,
    bool Retired,
    string? KindName
);

/// <summary>What a machine can be given when it is entered: sites and programs.</summary>
public sealed record MachineChoices(
    IReadOnlyList<string> Sites,
    IReadOnlyList<(string Code, string Name, MachineKind Kind)> Programs,
    IReadOnlyList<(string Code, string Name)> WalkLists,
    IReadOnlyList<KindChoice> Kinds
);

/// <summary>Lists machines, and what can be chosen for one.</summary>
public sealed class MachineList(NippersDb db)
{
    private static readonly Expression<Func<Machine, MachineLine>> Line = x => new MachineLine(
        x.Unit,
        x.Kind,
        x.Make,
        x.Model,
        x.Serial,
        x.Site.Name,
        x.Program.Code,
        x.Program.Name,
        x.Retired,
        x.WalkList!.Name
    );

    /// <summary>Units in use.</summary>
    public Task<List<string>> Units(CancellationToken ct) => db.Units(ct);

    public Task<int> Count(CancellationToken ct) => db.Machines.CountAsync(ct);

    public Task<List<MachineLine>> Run(int skip, int take, CancellationToken ct) =>
        db.Machines.AsNoTracking().OrderBy(x => x.Retired).ThenBy(x => x.Unit).Skip(skip).Take(take).Select(Line).ToListAsync(ct);

    /// <summary>One machine as it stands in the list; null when there is no such unit.</summary>
    public Task<MachineLine?> One(string unit, CancellationToken ct) =>
        db.Machines.AsNoTracking().Where(x => x.Unit == unit).Select(Line).SingleOrDefaultAsync(ct)!;

    /// <summary>Names of the options that decide something on machines of a kind.</summary>
    public Task<IReadOnlySet<string>> OptionsOf(MachineKind kind, CancellationToken ct) => KindCatalog.OptionsOf(db, kind, ct);

    public async Task<MachineChoices> Choices(CancellationToken ct)
    {
        var sites = await db.Sites.AsNoTracking().OrderBy(x => x.Name).Select(x => x.Name).ToListAsync(ct);
        var programs = await db
            .Programs.AsNoTracking()
            .OrderBy(x => x.Starter)
            .ThenBy(x => x.Name)
            .Select(x => new
            {
                x.Code,
                x.Name,
                x.Kind,
            })
            .ToListAsync(ct);
        var lists = await db
            .WalkLists.AsNoTracking()
            .OrderBy(x => x.Starter)
            .ThenBy(x => x.Name)
            .Select(x => new { x.Code, x.Name })
            .ToListAsync(ct);
        return new(
            sites,
            [.. programs.Select(x => (x.Code, x.Name, x.Kind))],
            [.. lists.Select(x => (x.Code, x.Name))],
            [.. await KindCatalog.Choices(db, ct), new(MachineKind.Other, "")]
        );
    }

    /// <summary>A machine as its edit form needs it; null when there is none.</summary>
    public async Task<(MachineInput Input, int Version)?> ForEdit(string unit, CancellationToken ct)
    {
        var x = await db.Machines.AsNoTracking().Include(m => m.Site).Include(m => m.Program).SingleOrDefaultAsync(m => m.Unit == unit, ct);
        if (x is null)
            return null;
        return (
            new MachineInput
            {
                OldUnit = x.Unit,
                Version = x.Version,
                Unit = x.Unit,
                Kind = x.Kind,
                Make = x.Make,
                Model = x.Model,
                Serial = x.Serial,
                Note = x.Note,
                Site = x.Site.Name,
                Program = x.Program.Code,
                History = x.History,
                CommissionedOn = Formats.Iso.Day(x.CommissionedOn),
                CommissionedHours = x.CommissionedHours.ToString(),
                Duty = x.Duty,
                PlannedHoursPerDay = x.PlannedHoursPerDay.ToString(System.Globalization.CultureInfo.InvariantCulture),
                CommissionedKm = x.CommissionedKm?.ToString(System.Globalization.CultureInfo.InvariantCulture),
                PlannedKmPerDay =
                    x.PlannedKmPerDay > 0 ? x.PlannedKmPerDay.ToString(System.Globalization.CultureInfo.InvariantCulture) : null,
                Options = [.. x.OptionWords],
                Retired = x.Retired,
                WalkList = await db.WalkLists.Where(l => l.Id == x.WalkListId).Select(l => l.Code).SingleOrDefaultAsync(ct),
            },
            x.Version
        );
    }
}
