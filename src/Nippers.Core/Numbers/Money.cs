using System.Globalization;

namespace Nippers.Core.Numbers;

/// <summary>Money of the workshop's one currency, as whole hundredths, so that sums are exact.</summary>
/// <param name="Cents">Hundredths.</param>
public readonly record struct Money(long Cents) : IComparable<Money>
{
    /// <summary>No money.</summary>
    public static Money Zero => default;

    /// <summary>The amount in whole units of the currency.</summary>
    public double Value => Cents / 100.0;

    /// <summary>The nearest hundredth to an amount; half a hundredth goes to the even one.</summary>
    public static Money Of(double amount) => new((long)Math.Round(amount * 100));

    /// <summary>Both together.</summary>
    public static Money operator +(Money left, Money right) => new(left.Cents + right.Cents);

    /// <summary>What the left is more; below zero when it is less.</summary>
    public static Money operator -(Money left, Money right) => new(left.Cents - right.Cents);

    /// <inheritdoc/>
    public int CompareTo(Money other) => Cents.CompareTo(other.Cents);

    /// <summary>Whether the left is less.</summary>
    public static bool operator <(Money left, Money right) => left.Cents < right.Cents;

    /// <summary>Whether the left is more.</summary>
    public static bool operator >(Money left, Money right) => left.Cents > right.Cents;

    /// <summary>Whether the left is not more.</summary>
    public static bool operator <=(Money left, Money right) => left.Cents <= right.Cents;

    /// <summary>Whether the left is not less.</summary>
    public static bool operator >=(Money left, Money right) => left.Cents >= right.Cents;

    /// <summary>Two decimals and a dot, without a currency: <c>1200.50</c>.</summary>
    public override string ToString() => Value.ToString("0.00", CultureInfo.InvariantCulture);
}

/// <summary>Sums of the types that numbers are kept in.</summary>
public static class Sums
{
    /// <summary>All of it together.</summary>
    public static Money Total(this IEnumerable<Money> amounts) => amounts.Aggregate(Money.Zero, (sum, x) => sum + x);

    /// <summary>All of it together.</summary>
    public static Litres Total(this IEnumerable<Litres> volumes) => volumes.Aggregate(Litres.Zero, (sum, x) => sum + x);
}
