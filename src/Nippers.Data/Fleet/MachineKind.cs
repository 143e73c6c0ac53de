using System.Diagnostics.CodeAnalysis;
using System.Globalization;
using Microsoft.EntityFrameworkCore.Storage.ValueConversion;

namespace Nippers.Data.Fleet;

/// <summary>
/// What a machine is, by the code of its kind: one that ships as a folder of tables, or one that a planner made by copying.
/// It decides walk list, starter program and drawing.
/// </summary>
public readonly partial record struct MachineKind : IParsable<MachineKind>
{
    private const string OtherCode = "other";
    private readonly string? _code;

    private MachineKind(string code) => _code = code == OtherCode ? null : code;

    /// <summary>Small letters with dashes, for example <c>wheel-loader</c>.</summary>
    public string Code => _code ?? OtherCode;

    /// <summary>The code as files, tables and programs write it: <c>wheelLoader</c>.</summary>
    public string Wire => Dash().Replace(Code, x => x.Groups[1].Value.ToUpperInvariant());

    /// <summary>A kind that nothing is known of but its machine's own walk list.</summary>
    public static MachineKind Other { get; } = new(OtherCode);

    /// <summary>The kind of a code.</summary>
    /// <exception cref="FormatException">It is no code.</exception>
    public static MachineKind Of(string code) => Parse(code, null);

    /// <inheritdoc/>
    public static MachineKind Parse(string s, IFormatProvider? provider) =>
        TryParse(s, provider, out var kind) ? kind : throw new FormatException($"'{s}' is no kind of machine.");

    /// <summary>Reads <c>wheel-loader</c>, <c>wheelLoader</c> and <c>WheelLoader</c>.</summary>
    public static bool TryParse([NotNullWhen(true)] string? s, IFormatProvider? provider, out MachineKind result)
    {
        var code = Capital().Replace((s ?? "").Trim(), x => (x.Index > 0 ? "-" : "") + x.Value.ToLower(CultureInfo.InvariantCulture));
        result = Shape().IsMatch(code) ? new(code) : default;
        return Shape().IsMatch(code);
    }

    /// <summary>The code.</summary>
    public override string ToString() => Code;

    [System.Text.RegularExpressions.GeneratedRegex("-([a-z])")]
    private static partial System.Text.RegularExpressions.Regex Dash();

    [System.Text.RegularExpressions.GeneratedRegex("[A-Z]")]
    private static partial System.Text.RegularExpressions.Regex Capital();

    // A dash before a figure would be lost in the written form.
    [System.Text.RegularExpressions.GeneratedRegex("^[a-z][a-z0-9]{0,29}(-[a-z][a-z0-9]{0,29}){0,5}$")]
    private static partial System.Text.RegularExpressions.Regex Shape();
}

/// <summary>Keeps a kind as its code.</summary>
public sealed class MachineKindConverter() : ValueConverter<MachineKind, string>(x => x.Code, x => MachineKind.Of(x));
