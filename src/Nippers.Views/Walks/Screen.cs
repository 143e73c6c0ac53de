using System.Globalization;
using Microsoft.AspNetCore.Components;
using Nippers.App;
using Nippers.Views.Text;

namespace Nippers.Views.Walks;

/// <summary>What every part of a screen knows: the words, who holds it, and what was refused of what it sent.</summary>
/// <param name="Words">The words.</param>
/// <param name="Person">Who holds it.</param>
/// <param name="MayWork">A technician or planner holds it, not an operator.</param>
public sealed record Screen(Words Words, string Person, bool MayWork)
{
    /// <summary>What was refused, shown beside its field.</summary>
    public IReadOnlyList<Refusal> Refusals { get; init; } = [];

    /// <summary>Zone in which the times of a refusal are told; null for universal time.</summary>
    public TimeZoneInfo? Zone { get; init; }

    /// <summary>Hidden field that shows that a form was ours; null on a phone, which sends no forms itself.</summary>
    public (string Name, string Value)? Token { get; init; }

    /// <summary>A fault as it was typed and refused; null shows an empty form.</summary>
    public FaultForm? Fault { get; init; }

    /// <summary>Something was refused of a field. A screen of many fields draws nothing for those of which it was not.</summary>
    public bool Refuses(string field) => Refusals.Count > 0 && Refusals.Any(x => x.Field == field);

    /// <summary>Name, id and class of an input, and what ties it to what was refused of it.</summary>
    /// <param name="name">Name of the field.</param>
    /// <param name="css">Classes beside the usual one.</param>
    public IReadOnlyDictionary<string, object> Field(string name, string? css = null)
    {
        var attributes = new Dictionary<string, object>(StringComparer.Ordinal)
        {
            ["id"] = name,
            ["name"] = name,
            ["class"] = css is null ? "input" : "input " + css,
        };
        if (Refuses(name))
            (attributes["aria-invalid"], attributes["aria-describedby"]) = ("true", name + "-wrong");
        return attributes;
    }

    /// <summary>A key that makes a repeat of a form harmless.</summary>
    public static string NewKey() => Guid.NewGuid().ToString("N", CultureInfo.InvariantCulture);
}

/// <summary>A part of a screen: it shows a model and asks nothing of anybody.</summary>
/// <typeparam name="T">What it shows.</typeparam>
public abstract class ScreenPart<T> : ComponentBase
{
    /// <summary>What it shows.</summary>
    [Parameter, EditorRequired]
    public T Model { get; set; } = default!;

    /// <summary>What every part of the screen knows.</summary>
    [Parameter, EditorRequired]
    public Screen Screen { get; set; } = null!;

    /// <summary>The words.</summary>
    protected Words W => Screen.Words;
}

/// <summary>The machines that a phone holds.</summary>
/// <param name="Machines">The machines.</param>
/// <param name="Now">Now, by the server's clock.</param>
public sealed record HomeCard(IReadOnlyList<Nippers.App.Phones.KitMachine> Machines, DateTimeOffset Now);

/// <summary>A machine on a phone, with the forms of what can be done without a network.</summary>
/// <param name="Machine">The machine.</param>
/// <param name="Now">Now, by the server's clock.</param>
/// <param name="Typed">What was typed and refused.</param>
/// <param name="Kept">Something was kept just now.</param>
/// <param name="List">What it is walked by; null for none.</param>
public sealed record MachineCard(
    Nippers.App.Phones.KitMachine Machine,
    DateTimeOffset Now,
    TypedFields Typed,
    bool Kept,
    Nippers.Core.Walk.CheckList? List = null
);

/// <summary>The card by which a machine is left in the evening.</summary>
/// <param name="Unit">The machine.</param>
/// <param name="Lines">What it has to be done.</param>
/// <param name="Position">What to do to stand so that levels read true; empty where the list says nothing.</param>
/// <param name="Typed">What was typed and refused.</param>
/// <param name="Action">Where the form goes; null on a phone.</param>
public sealed record EveningCard(
    string Unit,
    IReadOnlyList<Nippers.Core.Walk.ParkingLine> Lines,
    string Position,
    TypedFields Typed,
    string? Action = null
)
{
    /// <summary>The card of a machine.</summary>
    public static EveningCard Of(
        Nippers.Data.Fleet.Machine machine,
        Nippers.Core.Walk.CheckList? list,
        TypedFields typed,
        string? action = null
    ) =>
        new(
            machine.Unit,
            list is null ? [] : Nippers.Core.Walk.ParkingCard.Of(list, machine.OptionWords),
            list?.Postures.FirstOrDefault(x => x.Code == Nippers.Core.Walk.Posture.Levels)?.Words ?? "",
            typed,
            action
        );
}

/// <summary>What waits to be sent.</summary>
/// <param name="Entries">Each with why it was refused; empty where it was not.</param>
public sealed record OutboxCard(IReadOnlyList<(Nippers.App.Phones.PhoneEntry Entry, string Reason)> Entries);

/// <summary>A machine that is out of service, and where it is told why.</summary>
/// <param name="Unit">The machine's unit number.</param>
/// <param name="Answer">May it run.</param>
public sealed record StoppedMachine(string Unit, Nippers.Core.Defects.RunAnswer Answer);

/// <summary>How a machine was left, asked in the morning.</summary>
public sealed record ParkedCard(Nippers.Data.Walks.ParkingRow Parking, Nippers.App.Walks.StartWalkInput Input, TimeZoneInfo Zone);

/// <summary>The start of a walk as it was typed.</summary>
/// <param name="Start">What is known of the machine.</param>
/// <param name="Input">What was typed.</param>
/// <param name="DidYouMean">Hours that may have been meant.</param>
public sealed record StartCard(
    Nippers.App.Walks.WalkStart Start,
    Nippers.App.Walks.StartWalkInput Input,
    IReadOnlyList<Nippers.Core.Hours.MeterHours> DidYouMean
);

/// <summary>The sign-off of a walk as it was typed.</summary>
/// <param name="Walk">The walk.</param>
/// <param name="LeftOut">Why the rest was left out.</param>
/// <param name="Note">Words for the record.</param>
public sealed record SignOff(Nippers.App.Walks.WalkContext Walk, string? LeftOut = null, string? Note = null);
