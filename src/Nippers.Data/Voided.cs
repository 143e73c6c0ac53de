using System.Linq.Expressions;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace Nippers.Data;

/// <summary>
/// What was undone stays in the database and counts no more: questions leave it out unless they say that they want it. Walks,
/// visits and defects have a state for this and are not left out.
/// </summary>
public static class Voided
{
    private const string Filter = "NotVoided";

    /// <summary>Rows and those that were undone: for histories, files and numbers that are used up.</summary>
    public static IQueryable<T> WithVoided<T>(this IQueryable<T> rows)
        where T : class => rows.IgnoreQueryFilters([Filter]);

    internal static void LeavesOutVoided<T>(this EntityTypeBuilder<T> builder, Expression<Func<T, bool>> counts)
        where T : class => builder.HasQueryFilter(Filter, counts);
}
