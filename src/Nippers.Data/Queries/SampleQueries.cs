using System.Text.Json;
using Nippers.Data.Oil;

namespace Nippers.Data.Queries;

/// <summary>Questions about bottles and samples that more than one place asks.</summary>
public static class SampleQueries
{
    /// <summary>Bottles that were prepared and hold nothing yet. One whose sample was withdrawn has been used.</summary>
    public static IQueryable<BottleRow> FreeBottles(this NippersDb db) =>
        db.Bottles.WithVoided().Where(x => x.SampleId == null && !db.Samples.Any(s => s.Bottle == x.Code));

    /// <summary>
    /// One figure of many judged samples, with the day of each, by sample; those that have none are not there. SQLite takes it out of
    /// the kept text, which saves reading all the other figures.
    /// </summary>
    /// <param name="db">The database.</param>
    /// <param name="samples">Which samples.</param>
    /// <param name="measurand">Code of what was measured.</param>
    /// <param name="ct">Cancels.</param>
    public static async Task<Dictionary<long, (DateOnly On, double Value)>> ValuesOf(
        this NippersDb db,
        IEnumerable<long> samples,
        string measurand,
        CancellationToken ct
    )
    {
        var rows = await db.Plain(
            $"""
            SELECT s.Id, s."On", json_extract(j."Values", {"$." + measurand}) AS Figure
            FROM json_each({JsonSerializer.Serialize(samples)}) i
                JOIN Samples s ON s.Id = i.value JOIN Judgements j ON j.SampleId = s.Id
            WHERE Figure IS NOT NULL
            """,
            x => (Id: x.GetInt64(0), On: x.GetFieldValue<DateOnly>(1), Value: x.GetDouble(2)),
            ct
        );
        return rows.ToDictionary(x => x.Id, x => (x.On, x.Value));
    }
}
