using System.Diagnostics.CodeAnalysis;
using System.Globalization;
using System.Text.RegularExpressions;
using Nippers.App.Readings;
using Nippers.App.Units;
using Nippers.Core.Hours;
using Nippers.Core.Numbers;
using UnitsNet.Units;

namespace Nippers.App;

/// <summary>Turns what people type into figures, or into the refusal that stands beside the field.</summary>
public static partial class Typed
{
    /// <summary>Longest reason, and what is said of a defect or a repair, characters.</summary>
    public const int LongestWords = 1000;

    /// <summary>Longest code of an item, a program, a check or a list, characters.</summary>
    public const int LongestCode = 60;

    private const int Decimals = 3;

    /// <summary>A number that has to be there.</summary>
    public static double? Number(string? text, string field, double least, double most, List<Refusal> refusals)
    {
        if (!string.IsNullOrWhiteSpace(text))
            return Optional(text, field, least, most, refusals);
        refusals.Add(Refusals.Needed(field));
        return null;
    }

    /// <summary>A number that has to be there, whatever its size.</summary>
    public static double? Number(string? text, string field, List<Refusal> refusals) =>
        Number(text, field, double.MinValue, double.MaxValue, refusals);

    /// <summary>A number of any size, or nothing.</summary>
    public static double? Optional(string? text, string field, List<Refusal> refusals) =>
        Optional(text, field, double.MinValue, double.MaxValue, refusals);

    /// <summary>A number, or nothing.</summary>
    public static double? Optional(string? text, string field, double least, double most, List<Refusal> refusals) =>
        Optional(text, field, least, most, Decimals, refusals);

    private static double? Optional(string? text, string field, double least, double most, int decimals, List<Refusal> refusals)
    {
        var fault = TypedNumber.TryParse(text, Decimals, out var typed);
        if (fault == NumberFault.Empty)
            return null;
        var number = (double)typed;
        if (fault == NumberFault.None && number >= least && number <= most)
            return Math.Round(number, decimals);
        refusals.Add(
            fault switch
            {
                NumberFault.Ambiguous => Refusals.DecimalComma(field),
                NumberFault.NotANumber => Refusals.NotANumber(field),
                _ => Refusals.Between(field, least, most),
            }
        );
        return null;
    }

    /// <summary>A volume in the person's unit, or in one that is typed behind it, or nothing.</summary>
    /// <param name="text">What was typed.</param>
    /// <param name="field">The field.</param>
    /// <param name="least">Least, litres.</param>
    /// <param name="most">Most, litres.</param>
    /// <param name="refusals">Takes what is wrong with it; limits are said in the person's unit.</param>
    public static Litres? Volume(string? text, string field, double least, double most, List<Refusal> refusals) =>
        Quantity(text, field, least, most, VolumeUnit.Liter, x => Quantities.Shown(new(x)), x => Quantities.Kept(x).Value, refusals)
            is { } litres
            ? new Litres(litres)
            : null;

    /// <summary>A temperature in the person's unit or a typed one, in degrees Celsius, or nothing; limits in degrees Celsius.</summary>
    public static double? Temperature(string? text, string field, double least, double most, List<Refusal> refusals) =>
        Quantity(
            text,
            field,
            least,
            most,
            TemperatureUnit.DegreeCelsius,
            Quantities.ShownTemperature,
            Quantities.KeptTemperature,
            refusals
        );

    /// <summary>A length in the person's unit or a typed one, in millimetres, or nothing; limits in millimetres.</summary>
    public static double? Length(string? text, string field, double least, double most, List<Refusal> refusals) =>
        Quantity(text, field, least, most, LengthUnit.Millimeter, Quantities.ShownLength, Quantities.KeptLength, refusals);

    /// <summary>A volume of any size in the person's unit or a typed one, or nothing: who judges the answer has its limits.</summary>
    public static Litres? Volume(string? text, string field, List<Refusal> refusals) => Volume(text, field, -Anything, Anything, refusals);

    /// <summary>A length of any size in the person's unit or a typed one, in millimetres, or nothing.</summary>
    public static double? Length(string? text, string field, List<Refusal> refusals) => Length(text, field, -Anything, Anything, refusals);

    // In another unit a figure needs more of them to come back as it was kept.
    private static int Figures(Enum kept) =>
        kept.Equals(PersonUnits.Current.Volume) || kept.Equals(PersonUnits.Current.Temperature) || kept.Equals(PersonUnits.Current.Length)
            ? Decimals
            : Quantities.MostFieldDecimals;

    // More than any quantity is, and little enough to be converted.
    private const double Anything = 1e12;

    private static double? Quantity(
        string? text,
        string field,
        double least,
        double most,
        Enum kept,
        Func<double, double> shown,
        Func<double, double> read,
        List<Refusal> refusals
    )
    {
        if (TypedUnits.Other(text, kept, field, refusals) is not { } other)
            return Optional(text, field, shown(least), shown(most), Figures(kept), refusals) is { } typed ? read(typed) : null;
        if (other.Figure is null || (other.Figure >= least && other.Figure <= most))
            return other.Figure;
        refusals.Add(Refusals.Between(field, shown(least), shown(most)));
        return null;
    }

    /// <summary>Hours, or nothing.</summary>
    public static MeterHours? Hours(string? text, string field, List<Refusal> refusals)
    {
        if (string.IsNullOrWhiteSpace(text))
            return null;
        if (HoursInput.Read(field, text, out var hours) is not { } fault)
            return hours;
        refusals.Add(fault);
        return null;
    }

    /// <summary>
    /// One figure in a line of several, zero and up; null when it is none or too large. What is wrong is said of the whole line.
    /// </summary>
    public static double? Cell(string text, double most) =>
        TypedNumber.TryParse(text, Decimals, out var number) == NumberFault.None && number >= 0 && (double)number <= most
            ? (double)number
            : null;

    /// <summary>A whole number, or nothing.</summary>
    public static int? Whole(string? text, string field, int least, int most, List<Refusal> refusals)
    {
        if (string.IsNullOrWhiteSpace(text))
            return null;
        if (
            int.TryParse(text.Trim(), NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out var number)
            && number >= least
            && number <= most
        )
            return number;
        refusals.Add(Refusals.WholeBetween(field, least, most));
        return null;
    }

    /// <summary>Money with two decimals; nothing is nothing.</summary>
    public static Money? Money(string? text, string field, List<Refusal> refusals) =>
        Optional(text, field, 0, 1_000_000, refusals) is { } amount ? Core.Numbers.Money.Of(amount) : null;

    /// <summary>Whether it is a reason, which everybody gives who takes something back; what stands against it where it is none.</summary>
    public static bool IsReason([NotNullWhen(true)] string? reason, string field, [NotNullWhen(false)] out Refusal? fault)
    {
        fault = string.IsNullOrWhiteSpace(reason) ? Refusals.ReasonNeeded(field) : TooLong(reason, field);
        return fault is null;
    }

    /// <summary>Whether words say what was seen or done; what stands against them where they don't.</summary>
    public static bool IsSaid([NotNullWhen(true)] string? words, string field, [NotNullWhen(false)] out Refusal? fault)
    {
        fault = string.IsNullOrWhiteSpace(words) ? Refusals.WordsNeeded(field) : TooLong(words, field);
        return fault is null;
    }

    /// <summary>What stands against words of a defect or a repair that are too long, if they are.</summary>
    public static Refusal? TooLong(string? words, string field) =>
        words?.Length > LongestWords ? Refusals.TooLong(field, LongestWords) : null;

    /// <summary>Whether something may be a code: small letters, digits and dashes between them.</summary>
    public static bool IsCode(string text) => text.Length <= LongestCode && CodeShape().IsMatch(text);

    /// <summary>Words, cut of blanks around them.</summary>
    public static string Words(string? text, string field, int longest, List<Refusal> refusals, bool needed = false)
    {
        var words = (text ?? "").Trim();
        if (needed && words.Length == 0)
            refusals.Add(Refusals.Needed(field));
        if (words.Length > longest)
            refusals.Add(Refusals.TooLong(field, longest));
        return words;
    }

    [GeneratedRegex("^[a-z0-9]+(-[a-z0-9]+)*$")]
    private static partial Regex CodeShape();
}
