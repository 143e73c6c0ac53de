namespace Nippers.Core.Fluids;

/// <summary>How much oil goes in at a change with a filter.</summary>
/// <param name="FirstFillLitres">What is poured before the first start.</param>
/// <param name="ExpectedTopUpLitres">What the run is expected to take into the filter.</param>
/// <param name="TotalLitres">What is on board at the end.</param>
/// <remarks>Rules 6.</remarks>
public readonly record struct Fill(double FirstFillLitres, double ExpectedTopUpLitres, double TotalLitres)
{
    /// <summary>The fill of a compartment.</summary>
    /// <param name="capacityWithFilterLitres">Capacity with filter, litres, above zero.</param>
    /// <param name="filterLitres">What the filter holds, litres, from zero to the capacity.</param>
    /// <param name="preFilled">Whether the filter was filled before it was fitted.</param>
    /// <exception cref="ArgumentOutOfRangeException">A volume lies outside its range.</exception>
    public static Fill Of(double capacityWithFilterLitres, double filterLitres, bool preFilled)
    {
        ArgumentOutOfRangeException.ThrowIfNegativeOrZero(capacityWithFilterLitres);
        ArgumentOutOfRangeException.ThrowIfNegative(filterLitres);
        ArgumentOutOfRangeException.ThrowIfGreaterThan(filterLitres, capacityWithFilterLitres);
        return new(capacityWithFilterLitres - filterLitres, preFilled ? 0 : filterLitres, capacityWithFilterLitres);
    }

    /// <summary>Pails for one waste stream: the drains and a tenth, in whole pails.</summary>
    /// <param name="drainLitres">Volumes drained, litres.</param>
    /// <param name="pailLitres">What a pail holds, litres, above zero.</param>
    /// <exception cref="ArgumentOutOfRangeException">The pail holds nothing.</exception>
    public static int Pails(IEnumerable<double> drainLitres, double pailLitres)
    {
        ArgumentOutOfRangeException.ThrowIfNegativeOrZero(pailLitres);

        // A sum of decimals may end a hair above a whole pail.
        return (int)Math.Ceiling(drainLitres.Sum() * Reserve / pailLitres - Rounding);
    }

    private const double Reserve = 1.1;
    private const double Rounding = 1e-9;
}

/// <summary>What a dipstick or sight glass answers.</summary>
/// <param name="AddLitres">Litres to add, never past high.</param>
/// <param name="DrainLitres">Litres above high.</param>
/// <remarks>Rules 6. Positions are shares: 0 is the low mark, 1 the high mark.</remarks>
public readonly record struct Dipstick(double AddLitres, double DrainLitres)
{
    /// <summary>Reads a stick.</summary>
    /// <param name="reading">Where the oil stands: below 0 is under low, above 1 over high.</param>
    /// <param name="target">Where it should stand; what lies above high is taken as high.</param>
    /// <param name="betweenMarksLitres">Litres between low and high, above zero.</param>
    /// <exception cref="ArgumentOutOfRangeException">The volume is not above zero.</exception>
    public static Dipstick Of(double reading, double target, double betweenMarksLitres)
    {
        ArgumentOutOfRangeException.ThrowIfNegativeOrZero(betweenMarksLitres);
        var add = (Math.Min(target, 1) - reading) * betweenMarksLitres;
        return new(Math.Max(0, add), Math.Max(0, reading - 1) * betweenMarksLitres);
    }
}
