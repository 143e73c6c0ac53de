using System.Globalization;
using System.Text.Json;
using System.Text.Json.Serialization;
using Nippers.Core.Numbers;

namespace Nippers.Core.Hours;

/// <summary>Why a text is not a number of hours.</summary>
public enum HoursFault
{
    /// <summary>It is one.</summary>
    None,

    /// <summary>Nothing was entered.</summary>
    Empty,

    /// <summary>Letters, signs or an exponent stand in it.</summary>
    NotANumber,

    /// <summary>It has more than one decimal; meters show tenths.</summary>
    TooFine,

    /// <summary>It is below zero.</summary>
    Negative,

    /// <summary>It is above <see cref="MeterHours.Max"/>.</summary>
    TooLarge,
}

/// <summary>
/// Hours of a service meter, life hours, or what lies between two of them, as a whole number of tenths, so that sums and
/// comparisons are exact.
/// </summary>
/// <param name="Tenths">Tenths of an hour, to 9 999 999; below zero for a difference alone.</param>
/// <remarks>Rules 1. In JSON it is a number of hours.</remarks>
[JsonConverter(typeof(HoursAsNumber))]
public readonly record struct MeterHours(int Tenths) : IComparable<MeterHours>
{
    private const int MaxTenths = 9_999_999;
    private const int Decimals = 1;

    /// <summary>The most that is taken for real: 999 999.9 h, a hundred years of running.</summary>
    public static MeterHours Max { get; } = new(MaxTenths);

    /// <summary>No hours.</summary>
    public static MeterHours Zero => default;

    /// <summary>The value in hours.</summary>
    public double Value => Tenths / 10.0;

    /// <summary>The nearest hours that a meter can show: nothing below zero, nothing above <see cref="Max"/>.</summary>
    public MeterHours Clamped => new(Math.Clamp(Tenths, 0, MaxTenths));

    /// <summary>The nearest tenth to a number of hours.</summary>
    /// <param name="hours">Hours, 0 to 999 999.9.</param>
    /// <exception cref="ArgumentOutOfRangeException">Not a number, negative, or too large.</exception>
    public static MeterHours Of(double hours) =>
        TryOf(hours, out var value) == HoursFault.None
            ? value
            : throw new ArgumentOutOfRangeException(nameof(hours), hours, "Not a number of meter hours.");

    /// <summary>The nearest tenth to a number of hours, or why there is none.</summary>
    public static HoursFault TryOf(double hours, out MeterHours value)
    {
        value = default;
        if (double.IsNaN(hours))
            return HoursFault.NotANumber;
        if (hours < 0)
            return HoursFault.Negative;
        if (hours > MaxTenths / 10.0)
            return HoursFault.TooLarge;
        value = new((int)Math.Round(hours * 10, MidpointRounding.AwayFromZero));
        return HoursFault.None;
    }

    /// <summary>
    /// Reads what a person typed: digits, and one decimal after a dot or a comma. Blanks around it are forgiven, thousands that
    /// are parted, and an <c>h</c> after it.
    /// </summary>
    /// <param name="text">The text, possibly null.</param>
    /// <param name="value">The hours, or zero when there is a fault.</param>
    /// <returns><see cref="HoursFault.None"/> when <paramref name="value"/> holds the hours.</returns>
    public static HoursFault TryParse(string? text, out MeterHours value)
    {
        value = default;
        var digits = (text ?? "").Trim();
        if (digits.EndsWith('h') || digits.EndsWith('H'))
            digits = digits[..^1].TrimEnd();
        if (digits.Length == 0)
            return HoursFault.Empty;
        if (TypedNumber.TryParse(digits, Decimals, out var number) != NumberFault.None)
        {
            return digits.All(char.IsAsciiDigit) ? HoursFault.TooLarge : HoursFault.NotANumber;
        }

        if (number < 0)
            return HoursFault.Negative;
        if (number > MaxTenths / 10m)
            return HoursFault.TooLarge;
        if (number * 10 % 1 != 0)
            return HoursFault.TooFine;
        value = new((int)(number * 10));
        return HoursFault.None;
    }

    /// <inheritdoc/>
    public int CompareTo(MeterHours other) => Tenths.CompareTo(other.Tenths);

    /// <summary>The higher of two.</summary>
    public static MeterHours Most(MeterHours left, MeterHours right) => left > right ? left : right;

    /// <summary>The lower of two.</summary>
    public static MeterHours Least(MeterHours left, MeterHours right) => left < right ? left : right;

    /// <summary>Hours and hours more.</summary>
    public static MeterHours operator +(MeterHours left, MeterHours right) => new(left.Tenths + right.Tenths);

    /// <summary>What lies between two, or hours less an offset; below zero when the right stands higher.</summary>
    public static MeterHours operator -(MeterHours left, MeterHours right) => new(left.Tenths - right.Tenths);

    /// <summary>Whether the left stands lower.</summary>
    public static bool operator <(MeterHours left, MeterHours right) => left.Tenths < right.Tenths;

    /// <summary>Whether the left stands higher.</summary>
    public static bool operator >(MeterHours left, MeterHours right) => left.Tenths > right.Tenths;

    /// <summary>Whether the left stands lower or level.</summary>
    public static bool operator <=(MeterHours left, MeterHours right) => left.Tenths <= right.Tenths;

    /// <summary>Whether the left stands higher or level.</summary>
    public static bool operator >=(MeterHours left, MeterHours right) => left.Tenths >= right.Tenths;

    /// <summary>One decimal, a dot, no grouping: <c>5412.6</c>.</summary>
    public override string ToString() => (Tenths / 10m).ToString("0.0", CultureInfo.InvariantCulture);

    private sealed class HoursAsNumber : JsonConverter<MeterHours>
    {
        public override MeterHours Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
            TryOf(reader.GetDouble(), out var hours) == HoursFault.None ? hours : throw new JsonException("Not a number of meter hours.");

        public override void Write(Utf8JsonWriter writer, MeterHours value, JsonSerializerOptions options) =>
            writer.WriteNumberValue(value.Tenths / 10m);
    }
}
