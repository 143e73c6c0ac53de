using System.Globalization;
using Nippers.Core.Walk;
using Nippers.Views.Text;

namespace Nippers.Views.Walks;

/// <summary>A place on the stick that can be tapped, with what it answers.</summary>
/// <param name="Percent">Of the way from low to high.</param>
/// <param name="Name">Where that is.</param>
/// <param name="Answers">Litres to add, or what else follows.</param>
public sealed record StickMark(int Percent, string Name, string Answers);

/// <summary>A place on the stick as a row of the screen.</summary>
/// <param name="Mark">The place.</param>
/// <param name="Chosen">It is what was answered.</param>
/// <param name="Id">Id of its button; null for none.</param>
/// <param name="Name">Name of its field.</param>
public sealed record StickRow(StickMark Mark, bool Chosen, string? Id = null, string Name = "level");

/// <summary>
/// The dipstick: tap where the oil stands, and it answers in litres to add, never past high. Its places are radio
/// buttons drawn as a stick, so that it works by keyboard, in gloves, and without scripts.
/// </summary>
public static class DipstickMarks
{
    private static readonly int[] Places = [115, 100, 75, 50, 25, 0, -20];

    /// <summary>The places from the top of the stick down.</summary>
    public static IEnumerable<StickMark> Of(WalkCheck check, Words words) => Of(check.MarkLitres, words);

    /// <summary>The same by the litres between the marks; null when they are not known.</summary>
    public static IEnumerable<StickMark> Of(double? markLitres, Words words)
    {
        foreach (var percent in Places)
        {
            var add = markLitres is { } marks ? Core.Fluids.Dipstick.Of(percent / 100.0, 1, marks).AddLitres : (double?)null;
            var answers =
                percent > 100 ? words["Stick.TooMuch"]
                : percent == 100 ? words["Stick.Full"]
                : add is { } litres ? words["Stick.Add", words.ToAdd(litres)]
                : percent < 0 ? words["Stick.AddUnknown"]
                : "";
            yield return new(percent, words[$"Stick.At.{percent.ToString(CultureInfo.InvariantCulture)}"], answers);
        }
    }
}
