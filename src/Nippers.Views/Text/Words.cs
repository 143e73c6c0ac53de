using System.Collections;
using System.Collections.Concurrent;
using System.Globalization;
using System.Resources;
using Nippers.App;
using Nippers.App.Languages;
using Nippers.App.Units;
using Nippers.Core.Hours;
using Nippers.Core.Numbers;

namespace Nippers.Views.Text;

/// <summary>The words on screens, from Words.resx: never glued, always whole sentences with places to fill.</summary>
public sealed class Words
{
    private static readonly ResourceManager Texts = new(typeof(Words));

    // Resource look-ups take a lock each, and a page asks hundreds of times.
    private static readonly ConcurrentDictionary<string, string> Found = new(StringComparer.Ordinal);

    /// <summary>The words of a key, its places filled. A key without words is a defect that a test finds.</summary>
    public string this[string key, params object?[] args] => Fill(key, null, args);

    /// <summary>Whether a key has words.</summary>
    public bool Has(string key) => Find(key) is not null;

    /// <summary>Words that are data, such as a check's of a walk list, in the language of whom the page is for.</summary>
    public string Say(string? text) => AllLanguages.Current.Say(text);

    /// <summary>Where a defect is; one that has no place is of the machine as a whole.</summary>
    public string Place(string placeName) => placeName.Length > 0 ? Say(placeName) : this["Defect.WholeMachine"];

    /// <summary>Several of them in a line.</summary>
    public string SayAll(IEnumerable<string> texts) => string.Join(this["Format.Semicolon"], texts.Select(Say));

    /// <summary>The words for a count: <c>key.one</c> or <c>key.other</c>; place 0 is the count.</summary>
    public string Plural(string key, int count, params object?[] args) =>
        this[count == 1 ? key + ".one" : key + ".other", [count, .. args]];

    /// <summary>The words of a refusal, its times as they are at the site.</summary>
    public string Refused(Refusal refusal, TimeZoneInfo? zone = null) => Fill("Refused." + refusal.Code, zone, [.. refusal.Args]);

    /// <summary>Life or meter hours with one decimal: <c>5,412.6</c>.</summary>
    public static string Hours(double hours) =>
        (Math.Round(hours * 10, MidpointRounding.AwayFromZero) / 10).ToString("N1", CultureInfo.CurrentCulture);

    /// <summary>Life or meter hours with one decimal: <c>5,412.6</c>.</summary>
    public static string Hours(MeterHours hours) => Hours(hours.Value);

    /// <summary>Hours without decimals where they are whole: tiers, intervals, distances.</summary>
    public static string Whole(double hours) => hours.ToString("#,0.##", CultureInfo.CurrentCulture);

    /// <summary>Hours without decimals where they are whole.</summary>
    public static string Whole(MeterHours hours) => Whole(hours.Value);

    /// <summary>A distance in hours for reading at a glance: tenths below ten, whole hours above.</summary>
    public static string Distance(double hours) =>
        Math.Abs(hours) < 9.95
            ? Math.Abs(hours).ToString("0.0", CultureInfo.CurrentCulture)
            : Math.Abs(hours).ToString("#,0", CultureInfo.CurrentCulture);

    /// <summary>A volume with its unit, as the person reads it: <c>12.5 L</c>.</summary>
    /// <remarks>
    /// Less than a gallon is poured by quarts, and they stand behind it: never alone, for the field beside takes gallons.
    /// </remarks>
    public string Volume(Litres litres) =>
        InQuarts(litres)
            ? this["Unit.GallonQuarts", Figure(litres), Whole(Math.Round(Quantities.Quarts(litres), 1))]
            : this["Unit." + PersonUnits.Current.Volume, Figure(litres)];

    private static bool InQuarts(Litres litres) =>
        PersonUnits.Current.Volume == UnitsNet.Units.VolumeUnit.UsGallon && litres.Value != 0 && Math.Abs(Quantities.Shown(litres)) < 0.995;

    /// <summary>A volume with its unit.</summary>
    /// <param name="litres">Litres.</param>
    public string Volume(double litres) => Volume(new Litres(litres));

    /// <summary>A volume to be added, always with one decimal, so that a row of them reads evenly: <c>2.0 L</c>.</summary>
    /// <param name="litres">Litres.</param>
    public string ToAdd(double litres) =>
        InQuarts(new(litres))
            ? Volume(litres)
            : this["Unit." + PersonUnits.Current.Volume, Quantities.Shown(new Litres(litres)).ToString("0.0", CultureInfo.CurrentCulture)];

    /// <summary>A volume in the person's unit, its unit standing elsewhere.</summary>
    public static string Figure(Litres litres) => Whole(Math.Round(Quantities.Shown(litres), Quantities.VolumeDecimals));

    /// <summary>The sign of the unit in which the person reads volumes: <c>L</c>.</summary>
    public string VolumeUnit => this["UnitSign." + PersonUnits.Current.Volume];

    /// <summary>A temperature with its unit, as the person reads it: <c>-12 °C</c>.</summary>
    /// <param name="celsius">Degrees Celsius.</param>
    public string Temperature(double celsius) =>
        this[
            "Unit." + PersonUnits.Current.Temperature,
            Whole(Math.Round(Quantities.ShownTemperature(celsius), Quantities.TemperatureDecimals))
        ];

    /// <summary>The sign of the unit in which the person reads temperatures.</summary>
    public string TemperatureUnit => this["UnitSign." + PersonUnits.Current.Temperature];

    /// <summary>A length in the person's unit, its unit standing elsewhere.</summary>
    /// <param name="millimetres">Millimetres.</param>
    public static string LengthFigure(double millimetres) =>
        Whole(Math.Round(Quantities.ShownLength(millimetres), Quantities.LengthDecimals));

    /// <summary>The sign of the unit in which the person reads lengths.</summary>
    public string LengthUnit => this["UnitSign." + PersonUnits.Current.Length];

    private const int MeasureDecimals = 2;

    /// <summary>What a check or a step measured, in the person's unit, that unit standing elsewhere.</summary>
    /// <param name="kept">In the unit of its list.</param>
    /// <param name="unit">That unit, as the list writes it.</param>
    public static string Measure(double kept, string unit) => Whole(Math.Round(Measures.Shown(kept, unit), MeasureDecimals));

    /// <summary>The same; a dash where there is none.</summary>
    public static string Measure(double? kept, string unit) => kept is { } figure ? Measure(figure, unit) : "–";

    /// <summary>The sign of the unit in which the person reads it.</summary>
    /// <param name="unit">The unit of its list, as the list writes it.</param>
    public string MeasureUnit(string unit) => Measures.Instead(unit) is { } mine ? this["UnitSign." + mine] : unit;

    /// <summary>The limits of what is measured, in the reader's unit: from one to the other, or the one that there is.</summary>
    /// <param name="low">The least, in the list's unit; null for none.</param>
    /// <param name="high">The most, in the list's unit; null for none.</param>
    /// <param name="unit">The list's unit.</param>
    public string Limits(double? low, double? high, string unit) =>
        (low, high) switch
        {
            ({ } least, null) => this["Figure.AtLeast", Measure(least, unit), MeasureUnit(unit)],
            (null, { } most) => this["Figure.AtMost", Measure(most, unit), MeasureUnit(unit)],
            _ => this["Figure.Limits", Measure(low, unit), Measure(high, unit), MeasureUnit(unit)],
        };

    /// <summary>Day and month; the year where it is not this one.</summary>
    public string Date(DateOnly date, DateOnly? today = null) =>
        date.ToString(this[today?.Year == date.Year ? "Format.Day" : "Format.DayYear"], CultureInfo.CurrentCulture);

    /// <summary>Date and time at a site.</summary>
    public string Time(DateTimeOffset at, TimeZoneInfo? zone = null) =>
        TimeZoneInfo.ConvertTime(at, zone ?? TimeZoneInfo.Utc).ToString(this["Format.Time"], CultureInfo.CurrentCulture);

    /// <summary>The words of an enum's value: <c>Kind.WheelLoader</c>.</summary>
    public string Of<T>(T value)
        where T : struct, Enum => this[$"{typeof(T).Name}.{value}"];

    /// <summary>What kind a machine is: an own one has the name of its walk list, or of its code.</summary>
    public string Kind(Nippers.Data.Fleet.MachineKind kind, string? listName = null)
    {
        if (App.Kinds.KindFolders.Find(kind) is { } folder)
            return Say(folder.Name);
        if (listName is { Length: > 0 } || kind == Nippers.Data.Fleet.MachineKind.Other)
            return listName is { Length: > 0 } ? Say(listName) : this["Kind.Other"];
        var name = kind.Code.Replace('-', ' ');
        return char.ToUpper(name[0], CultureInfo.CurrentCulture) + name[1..];
    }

    private string Fill(string key, TimeZoneInfo? zone, object?[] args)
    {
        if (Find(key) is not { } text)
            return key;
        return args.Length == 0 ? text : string.Format(CultureInfo.CurrentCulture, text, [.. args.Select(arg => Show(arg, zone))]);
    }

    // A key without words is itself; names in the data (an unknown option, say) reach this, so those are not kept.
    private static string? Find(string key)
    {
        if (AllLanguages.Current.Word(key) is { } said)
            return said;
        if (Found.TryGetValue(key, out var text))
            return text;
        return Texts.GetString(key, CultureInfo.InvariantCulture) is { } found ? Found.GetOrAdd(key, found) : null;
    }

    private object? Show(object? arg, TimeZoneInfo? zone) =>
        arg switch
        {
            MeterHours hours => Hours(hours.Value),
            DateOnly date => Date(date),
            DateTimeOffset at => Time(at, zone),
            // What fills a place is a name of a list or a program as often as not: it is said like the words round it.
            string text => Say(text),
            IEnumerable many => string.Join(this["Format.Comma"], many.Cast<object?>().Select(x => Show(x, zone))),
            _ => arg,
        };
}
