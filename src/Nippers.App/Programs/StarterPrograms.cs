using System.Globalization;
using Nippers.App.Kinds;
using Nippers.Core.Hours;
using Nippers.Core.Jobs;
using Nippers.Core.Service;
using Nippers.Data.Fleet;
using Nippers.Data.Programs;

namespace Nippers.App.Programs;

/// <summary>The programs that ship: written from general trade knowledge, overridden by each machine's own manual.</summary>
/// <remarks>Each stands in the folder of its kind.</remarks>
public static class StarterPrograms
{
    private sealed record ItemLine(
        string Code,
        string Name,
        string Compartment,
        string Hours,
        string Months,
        string First,
        string Once,
        string Duty,
        string Strict,
        string IntervalBasis,
        string Needs,
        string Points,
        string Qualified,
        string Caution,
        string Work,
        string Minutes,
        string Covers,
        string Access,
        string Km
    );

    private sealed record CompartmentLine(
        string Code,
        string Name,
        CompartmentKind Kind,
        string Needs,
        string Stream,
        string Traits,
        int Drain,
        int Settle,
        string Fluids,
        string DrainStep,
        string DrainCap,
        string DrainFluids
    );

    private sealed record CautionLine(string Code, string Text);

    /// <summary>Code of the starter program of a kind.</summary>
    public static string CodeOf(MachineKind kind) => "starter-" + kind.Code;

    /// <summary>All starters, new objects at each call.</summary>
    public static IReadOnlyList<ServiceProgram> All()
    {
        var cautions = KindFolders.SharedRows<CautionLine>("cautions").ToDictionary(x => x.Code, x => x.Text, StringComparer.Ordinal);
        return
        [
            .. KindFolders.All.Select(kind => new ServiceProgram
            {
                Code = CodeOf(kind.Kind),
                Name = kind.Name + ", starter",
                Kind = kind.Kind,
                IntervalBasis = IntervalBasis.Fixed,
                Starter = true,
                Version = 1,
                Compartments =
                [
                    .. KindFolders
                        .Rows<CompartmentLine>(kind, "compartments")
                        .Select(
                            (x, i) =>
                                new ProgramCompartment
                                {
                                    Code = x.Code,
                                    Name = x.Name,
                                    Kind = x.Kind,
                                    Needs = x.Needs,
                                    Position = i + 1,
                                    Stream = x.Stream,
                                    Traits = x.Traits,
                                    DrainMinutes = x.Drain,
                                    SettleMinutes = x.Settle,
                                    Fluids = x.Fluids.Replace(" | ", "; ", StringComparison.Ordinal),
                                    DrainStepHours = Hours(x.DrainStep),
                                    DrainCapHours = Hours(x.DrainCap),
                                    DrainFluids = x.DrainFluids.Replace(" | ", "; ", StringComparison.Ordinal),
                                }
                        ),
                ],
                Items = [.. KindFolders.Rows<ItemLine>(kind, "items").Select((x, i) => ToItem(x, i + 1, cautions))],
            }),
        ];
    }

    private static ProgramItem ToItem(ItemLine line, int position, Dictionary<string, string> cautions) =>
        new()
        {
            Code = line.Code,
            Name = line.Name,
            Compartment = line.Compartment,
            Position = position,
            EveryHours = Hours(line.Hours),
            EveryMonths = line.Months.Length > 0 ? int.Parse(line.Months, CultureInfo.InvariantCulture) : null,
            EveryKm = line.Km.Length > 0 ? int.Parse(line.Km, CultureInfo.InvariantCulture) : null,
            FirstAtHours = Hours(line.First),
            Once = line.Once == "yes",
            DutyFactor = line.Duty switch
            {
                "" => DutyFactor.Whole,
                "0.5" => DutyFactor.Half,
                "0.25" => DutyFactor.Quarter,
                _ => throw new InvalidDataException($"{line.Code}: duty {line.Duty}"),
            },
            Strict = line.Strict == "yes",
            IntervalBasis = line.IntervalBasis.Length > 0 ? Enum.Parse<IntervalBasis>(line.IntervalBasis, ignoreCase: true) : null,
            Needs = line.Needs,
            Points = int.Parse(line.Points, CultureInfo.InvariantCulture),
            Qualified = line.Qualified == "yes",
            Caution = cautions[line.Caution],
            Work = Enum.Parse<ItemWork>(line.Work),
            Minutes = int.Parse(line.Minutes, CultureInfo.InvariantCulture),
            Covers = line.Covers,
            Access = line.Access,
        };

    private static MeterHours? Hours(string hours) =>
        hours.Length == 0 ? null : MeterHours.Of(double.Parse(hours, CultureInfo.InvariantCulture));
}
