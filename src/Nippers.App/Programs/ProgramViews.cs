using Microsoft.EntityFrameworkCore;
using Nippers.Data;
using Nippers.Data.Fleet;
using Nippers.Data.Programs;
using Nippers.Data.Queries;

namespace Nippers.App.Programs;

/// <summary>A program in the list.</summary>
public sealed record ProgramLine(string Code, string Name, MachineKind Kind, bool Starter, int Items, int Machines);

/// <summary>A program with the units that follow it.</summary>
public sealed record ProgramPage(ServiceProgram Program, IReadOnlyList<string> Units);

/// <summary>Reads programs.</summary>
public sealed class ProgramViews(NippersDb db)
{
    public Task<List<ProgramLine>> List(CancellationToken ct) =>
        db
            .Programs.AsNoTracking()
            .OrderBy(x => x.Starter)
            .ThenBy(x => x.Name)
            .Select(x => new ProgramLine(
                x.Code,
                x.Name,
                x.Kind,
                x.Starter,
                x.Items.Count,
                db.Machines.Count(m => m.ProgramId == x.Id && !m.Retired)
            ))
            .ToListAsync(ct);

    public async Task<ProgramPage?> One(string code, CancellationToken ct)
    {
        var id = await db.Programs.Where(x => x.Code == code).Select(x => (int?)x.Id).SingleOrDefaultAsync(ct);
        if (id is not { } found)
            return null;
        var program = (await db.ProgramsWithItems([found], ct))[found];
        return new(
            program,
            await db.Machines.Where(x => x.ProgramId == found && !x.Retired).OrderBy(x => x.Unit).Select(x => x.Unit).ToListAsync(ct)
        );
    }
}
