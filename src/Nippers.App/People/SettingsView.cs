using Microsoft.EntityFrameworkCore;
using Nippers.Data;
using Nippers.Data.Fleet;

namespace Nippers.App.People;

/// <summary>What settings show, and the audit of what is done to accounts.</summary>
public sealed class SettingsView(NippersDb db, UnitOfWork writes)
{
    public Task<List<Site>> Sites(CancellationToken ct) => db.Sites.AsNoTracking().OrderBy(x => x.Name).ToListAsync(ct);

    /// <summary>Writes down what was done to an account; Identity keeps accounts itself.</summary>
    public Task<Outcome<Nothing>> Note(Actor actor, string what, string subject, object? before, object? after, CancellationToken ct) =>
        writes.Run(
            () =>
            {
                writes.Audit(actor, what, subject, null, before, after);
                return Task.FromResult(Outcome<Nothing>.Of(Nothing.Special));
            },
            ct
        );
}
