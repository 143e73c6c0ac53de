using Nippers.Core.Numbers;
using UnitsNet;

namespace Nippers.App.Units;

/// <summary>The one place where what is kept becomes what a person reads, and what they type becomes what is kept.</summary>
public static class Quantities
{
    /// <summary>Decimals of a volume on a screen.</summary>
    public const int VolumeDecimals = 2;

    /// <summary>A kept volume in the person's unit.</summary>
    public static double Shown(Litres kept) => Volume.FromLiters(kept.Value).As(PersonUnits.Current.Volume);

    /// <summary>What a person typed, in litres.</summary>
    public static Litres Kept(double typed) => new(new Volume(typed, PersonUnits.Current.Volume).Liters);
}
