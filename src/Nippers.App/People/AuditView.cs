using Microsoft.EntityFrameworkCore;
using Nippers.App.Readings;
using Nippers.Data;
using Nippers.Data.Records;

namespace Nippers.App.People;

/// <summary>Which entries are looked for.</summary>
/// <param name="Who">Part of the name of who did it.</param>
/// <param name="Group">First word of what was done, for example <c>person</c>.</param>
/// <param name="Of">Part of what it was done to, for example a unit.</param>
/// <param name="From">First day, UTC, as typed.</param>
/// <param name="To">Last day, UTC, as typed.</param>
/// <param name="Before">Number of an entry: older ones alone.</param>
public sealed record AuditFilter(
    string? Who = null,
    string? Group = null,
    string? Of = null,
    string? From = null,
    string? To = null,
    long? Before = null
);

/// <summary>An entry as a file has it; times in UTC.</summary>
public sealed record AuditCsvRow(long Number, string At, string Who, string What, string Subject, string Before, string After);

/// <summary>Entries of the audit, newest first.</summary>
/// <param name="Rows">The entries.</param>
/// <param name="Older">Number from which the older ones follow; null when there are none.</param>
/// <param name="Refusals">What of the filter made no sense; nothing is shown then.</param>
public sealed record AuditPage(IReadOnlyList<AuditRow> Rows, long? Older, IReadOnlyList<Refusal> Refusals);

/// <summary>Who changed what, and when, for planners.</summary>
public sealed class AuditView(NippersDb db)
{
    private const int PageSize = 60;

    /// <summary>First words of what is done, in the order in which they are offered.</summary>
    public static IReadOnlyList<string> Groups { get; } =
    [
        "person",
        "token",
        "backups",
        "site",
        "shop",
        "fleet",
        "machine",
        "reading",
        "meter",
        "work",
        "walk",
        "walkList",
        "defect",
        "visit",
        "sample",
        "result",
        "lab",
        "oilLimits",
        "program",
        "part",
        "stock",
        "waste",
        "phrase",
    ];

    /// <summary>A page of entries.</summary>
    public async Task<AuditPage> Page(AuditFilter filter, CancellationToken ct)
    {
        var refusals = new List<Refusal>();
        var found = Found(filter, refusals);
        if (refusals.Count > 0)
            return new([], null, refusals);
        if (filter.Before is { } before)
            found = found.Where(x => x.Id < before);
        var rows = await found.OrderByDescending(x => x.Id).Take(PageSize + 1).ToListAsync(ct);
        return new([.. rows.Take(PageSize)], rows.Count > PageSize ? rows[PageSize - 1].Id : null, []);
    }

    /// <summary>All entries of a filter, the oldest first; none where the filter makes no sense.</summary>
    public IAsyncEnumerable<AuditCsvRow> Csv(AuditFilter filter)
    {
        var refusals = new List<Refusal>();
        var found = Found(filter, refusals);
        return (refusals.Count > 0 ? found.Take(0) : found)
            .OrderBy(x => x.Id)
            .Select(x => new AuditCsvRow(x.Id, Formats.Iso.Instant(x.At), x.Who, x.What, x.Subject, x.Before ?? "", x.After ?? ""))
            .AsAsyncEnumerable();
    }

    private IQueryable<AuditRow> Found(AuditFilter filter, List<Refusal> refusals)
    {
        var rows = db.Audit.AsNoTracking();
        if (!string.IsNullOrWhiteSpace(filter.Who))
            rows = rows.Where(x => x.Who.Contains(filter.Who.Trim()));
        if (!string.IsNullOrWhiteSpace(filter.Of))
            rows = rows.Where(x => x.Subject.Contains(filter.Of.Trim()));
        if (!string.IsNullOrWhiteSpace(filter.Group))
        {
            // Between "person." and "person/", as the index has it.
            var (first, after) = (filter.Group.Trim() + ".", filter.Group.Trim() + "/");
#pragma warning disable CA1309 // Asked of the database, which compares by bytes.
            rows = rows.Where(x => string.Compare(x.What, first) >= 0 && string.Compare(x.What, after) < 0);
#pragma warning restore CA1309
        }

        if (Day(filter.From, "from", refusals) is { } from)
            rows = rows.Where(x => x.At >= from);
        if (Day(filter.To, "to", refusals) is { } to)
        {
            var end = to.AddDays(1);
            rows = rows.Where(x => x.At < end);
        }

        return rows;
    }

    private static DateTimeOffset? Day(string? typed, string field, List<Refusal> refusals)
    {
        if (string.IsNullOrWhiteSpace(typed))
            return null;
        if (LocalTime.ParseDate(typed) is { } day && day < DateOnly.MaxValue)
            return new(day.ToDateTime(TimeOnly.MinValue), TimeSpan.Zero);
        refusals.Add(Refusals.NotADate(field));
        return null;
    }
}
