namespace Nippers.Core.Numbers;

/// <summary>The middle of figures.</summary>
public static class Median
{
    /// <summary>The middle one; of an even number of them halfway between the two in the middle.</summary>
    /// <param name="values">The figures, in any order and unit.</param>
    /// <exception cref="InvalidOperationException">There is none.</exception>
    public static double Of(IEnumerable<double> values)
    {
        var sorted = values.Order().ToList();
        if (sorted.Count == 0)
            throw new InvalidOperationException("there is no middle of nothing");
        return (sorted[(sorted.Count - 1) / 2] + sorted[sorted.Count / 2]) / 2;
    }
}
