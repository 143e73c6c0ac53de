using Nippers.Data.Oil;

namespace Nippers.Data.Queries;

/// <summary>Questions about bottles and samples that more than one place asks.</summary>
public static class SampleQueries
{
    /// <summary>Bottles that were prepared and hold nothing yet. One whose sample was withdrawn has been used.</summary>
    public static IQueryable<BottleRow> FreeBottles(this NippersDb db) =>
        db.Bottles.WithVoided().Where(x => x.SampleId == null && !db.Samples.Any(s => s.Bottle == x.Code));
}
