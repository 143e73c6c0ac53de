using System.Globalization;

namespace Nippers.Core.Numbers;

/// <summary>A volume as it is kept: litres. What a person reads and types goes through their choice of units.</summary>
/// <param name="Value">Litres, 0 or more.</param>
public readonly record struct Litres(double Value) : IComparable<Litres>
{
    /// <summary>Nothing.</summary>
    public static Litres Zero => default;

    /// <summary>Both together.</summary>
    public static Litres operator +(Litres left, Litres right) => new(left.Value + right.Value);

    /// <inheritdoc/>
    public int CompareTo(Litres other) => Value.CompareTo(other.Value);

    /// <summary>Whether the left is less.</summary>
    public static bool operator <(Litres left, Litres right) => left.Value < right.Value;

    /// <summary>Whether the left is more.</summary>
    public static bool operator >(Litres left, Litres right) => left.Value > right.Value;

    /// <summary>Whether the left is not more.</summary>
    public static bool operator <=(Litres left, Litres right) => left.Value <= right.Value;

    /// <summary>Whether the left is not less.</summary>
    public static bool operator >=(Litres left, Litres right) => left.Value >= right.Value;

    /// <summary>The figure alone, with a dot.</summary>
    public override string ToString() => Value.ToString(CultureInfo.InvariantCulture);
}
