using System.Collections.Immutable;
using Nippers.Core.Defects;

namespace Nippers.Core.Walk;

/// <summary>What a parameter number of SAE J1939 stands for.</summary>
/// <param name="Spn">The suspect parameter number.</param>
/// <param name="Words">What it is, in English.</param>
/// <param name="Part">The part of the machine that it speaks of.</param>
/// <param name="Stops">The machine does not work on until a technician has looked, whatever the failure mode says.</param>
public sealed record CodeMeaning(int Spn, string Words, MachinePart Part, bool Stops = false);

/// <summary>What it rests on that a code stops a machine.</summary>
public enum CodeStop
{
    /// <summary>It does not.</summary>
    None,

    /// <summary>Its number's public meaning.</summary>
    Public,

    /// <summary>A planner has named its number.</summary>
    Listed,

    /// <summary>What somebody has said that it means on that machine.</summary>
    Own,
}

/// <summary>The public meaning of fault codes, and which of them stop a machine.</summary>
/// <remarks>Rules 7 and 15. A sensor that fails leaves a pressure unknown: the mode does not make such a code milder.</remarks>
public static class CodeMeanings
{
    /// <summary>The parameters whose public meaning Nippers tells.</summary>
    public static ImmutableArray<CodeMeaning> All { get; } =
    [
        new(94, "Fuel delivery pressure", MachinePart.Engine),
        new(97, "Water in fuel", MachinePart.Engine),
        new(98, "Engine oil level", MachinePart.Engine),
        new(100, "Engine oil pressure", MachinePart.Engine, true),
        new(102, "Intake air pressure", MachinePart.Engine),
        new(105, "Intake air temperature", MachinePart.Engine),
        new(107, "Air filter restriction", MachinePart.Engine),
        new(110, "Engine coolant temperature", MachinePart.Engine, true),
        new(111, "Coolant level", MachinePart.Engine, true),
        new(116, "Brake application pressure", MachinePart.Brakes, true),
        new(117, "Brake pressure, first circuit", MachinePart.Brakes, true),
        new(118, "Brake pressure, second circuit", MachinePart.Brakes, true),
        new(127, "Transmission oil pressure", MachinePart.Drive),
        new(158, "Voltage at the key switch", MachinePart.Electrics),
        new(168, "Battery voltage", MachinePart.Electrics),
        new(175, "Engine oil temperature", MachinePart.Engine),
        new(177, "Transmission oil temperature", MachinePart.Drive),
        new(190, "Engine speed", MachinePart.Engine),
        new(1638, "Hydraulic oil temperature", MachinePart.Hydraulics),
        new(1761, "DEF tank level", MachinePart.Engine),
        new(3251, "Particulate filter, difference of pressure", MachinePart.Engine),
        new(3719, "Particulate filter, soot load", MachinePart.Engine),
    ];

    private static readonly ImmutableDictionary<int, CodeMeaning> BySpn = All.ToImmutableDictionary(x => x.Spn);

    /// <summary>What a code of the standard stands for; null where Nippers does not know it.</summary>
    public static CodeMeaning? Of(FaultCode code) => code.Spn is { } spn ? BySpn.GetValueOrDefault(spn) : null;

    /// <summary>How the parameter fails, in English; null for a mode that the standard keeps for later.</summary>
    /// <param name="fmi">Failure mode identifier, 0 to <see cref="FaultCode.LargestFmi"/>.</param>
    public static string? Mode(int fmi) =>
        fmi switch
        {
            0 => "far above its limit",
            1 => "far below its limit",
            2 => "comes and goes",
            3 => "voltage too high",
            4 => "voltage too low",
            5 => "current too low, or a broken wire",
            6 => "current too high, or a wire to ground",
            7 => "sticks or slips",
            8 => "signal not as it should be",
            9 => "told too rarely",
            10 => "changes faster than it can",
            11 => "cause not known",
            12 => "device or part is bad",
            13 => "out of calibration",
            14 => "see the manual",
            15 => "a little above its limit",
            16 => "above its limit",
            17 => "a little below its limit",
            18 => "below its limit",
            19 => "told wrongly by another device",
            20 => "drifts high",
            21 => "drifts low",
            31 => "condition is there",
            _ => null,
        };

    /// <summary>What a code says, in English: the parameter, and how it fails. A code that is not known says its figures alone.</summary>
    /// <param name="code">The code.</param>
    /// <param name="own">What somebody has said that it means on this machine; null where nobody has.</param>
    public static string Words(FaultCode code, string? own = null)
    {
        if (own is { Length: > 0 })
            return own;
        var what = Of(code)?.Words ?? $"Fault code {code}";
        return code.Fmi is { } fmi && Mode(fmi) is { } mode ? $"{what}: {mode}" : what;
    }

    /// <summary>Whether a code stops a machine.</summary>
    /// <inheritdoc cref="StopOf"/>
    public static bool Stops(FaultCode code, IReadOnlySet<int>? more = null, string? own = null) =>
        StopOf(code, more, own) != CodeStop.None;

    /// <summary>What it rests on that a code stops a machine.</summary>
    /// <param name="code">The code.</param>
    /// <param name="more">Numbers that stop besides, as the machines' manuals say; null for none.</param>
    /// <param name="own">What somebody has said that it means; null where nobody has.</param>
    public static CodeStop StopOf(FaultCode code, IReadOnlySet<int>? more = null, string? own = null) =>
        Of(code) is { Stops: true } ? CodeStop.Public
        : code.Spn is { } spn && more?.Contains(spn) == true ? CodeStop.Listed
        : MachineParts.Said(own) is [{ Least: DefectGrade.Stop }, ..] ? CodeStop.Own
        : CodeStop.None;

    /// <summary>The part that a defect of a code is on.</summary>
    /// <param name="code">The code.</param>
    /// <param name="own">What somebody has said that it means; null where nobody has.</param>
    public static MachinePart PartOf(FaultCode code, string? own = null) =>
        MachineParts.Said(own) is [{ } spoken, ..] ? spoken.Part : Of(code)?.Part ?? MachinePart.Electrics;
}
