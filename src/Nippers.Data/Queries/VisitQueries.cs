using System.Linq.Expressions;
using System.Reflection;
using Nippers.Data.Visits;

namespace Nippers.Data.Queries;

/// <summary>How visits are read.</summary>
public static class VisitQueries
{
    /// <summary>A visit without its card, which may be a hundred thousand characters long, nor machine and items.</summary>
    public static Expression<Func<VisitRow, VisitRow>> WithoutCard { get; } = MakeWithoutCard();

    private static Expression<Func<VisitRow, VisitRow>> MakeWithoutCard()
    {
        var row = Expression.Parameter(typeof(VisitRow), "x");
        var kept = typeof(VisitRow)
            .GetProperties(BindingFlags.Public | BindingFlags.Instance)
            .Where(x => x.CanWrite && x.Name is not (nameof(VisitRow.Card) or nameof(VisitRow.Machine) or nameof(VisitRow.Items)));
        return Expression.Lambda<Func<VisitRow, VisitRow>>(
            Expression.MemberInit(Expression.New(typeof(VisitRow)), kept.Select(x => Expression.Bind(x, Expression.Property(row, x)))),
            row
        );
    }
}
