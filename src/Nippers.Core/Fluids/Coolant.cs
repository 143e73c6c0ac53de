namespace Nippers.Core.Fluids;

/// <summary>Shares of concentrate in a coolant, and what they freeze at.</summary>
/// <remarks>Rules 6.</remarks>
public static class Coolant
{
    private static readonly (double Percent, double Celsius)[] Freezes = [(0, 0), (20, -8), (33, -18), (40, -24), (50, -37), (60, -52)];
    private const double Rounding = 1e-9;

    /// <summary>Litres to drain and replace to bring a system from one share to another.</summary>
    /// <param name="volumeLitres">Volume of the system, litres, above zero.</param>
    /// <param name="share">Share of concentrate in it, 0 to 1.</param>
    /// <param name="wanted">Share wanted, 0 to 1.</param>
    /// <param name="refill">Share of what is filled in, 0 to 1.</param>
    /// <returns>Litres from zero to the volume; null when the refill does not reach the share wanted.</returns>
    /// <exception cref="ArgumentOutOfRangeException">The volume is not above zero.</exception>
    public static double? Replace(double volumeLitres, double share, double wanted, double refill)
    {
        ArgumentOutOfRangeException.ThrowIfNegativeOrZero(volumeLitres);
        if (share == wanted)
            return 0;
        if (refill == share)
            return null;
        var litres = volumeLitres * (wanted - share) / (refill - share);
        return litres >= 0 && litres <= volumeLitres * (1 + Rounding) ? Math.Min(litres, volumeLitres) : null;
    }

    /// <summary>Typical freeze point of ethylene glycol in water. The product's own chart goes before it.</summary>
    /// <param name="percent">Percent by volume.</param>
    /// <returns>Degrees Celsius; null outside 0 to 60 percent.</returns>
    public static double? FreezePoint(double percent)
    {
        if (double.IsNaN(percent) || percent < 0 || percent > Freezes[^1].Percent)
            return null;
        var above = Array.FindIndex(Freezes, x => x.Percent >= percent);
        if (above == 0)
            return Freezes[0].Celsius;
        var (low, high) = (Freezes[above - 1], Freezes[above]);
        return low.Celsius + (high.Celsius - low.Celsius) * (percent - low.Percent) / (high.Percent - low.Percent);
    }
}
