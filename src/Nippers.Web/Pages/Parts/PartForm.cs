using System.Globalization;
using Nippers.App.Parts;
using Nippers.App.Units;
using Nippers.Data.Parts;

namespace Nippers.Web.Pages.Parts;

/// <summary>A part as its form posts it.</summary>
public sealed class PartPost
{
    public int Version { get; set; }
    public string? Number { get; set; }
    public string? Name { get; set; }
    public string? Make { get; set; }
    public PartKind Kind { get; set; }
    public string? LengthMm { get; set; }
    public string? OuterMm { get; set; }
    public string? SealMm { get; set; }
    public string? Thread { get; set; }
    public string? Price { get; set; }

    public static PartPost Of(PartRow part) =>
        new()
        {
            Version = part.Version,
            Number = part.Number,
            Name = part.Name,
            Make = part.Make,
            Kind = part.Kind,
            LengthMm = Quantities.TypedLength(part.LengthMm),
            OuterMm = Quantities.TypedLength(part.OuterMm),
            SealMm = Quantities.TypedLength(part.SealMm),
            Thread = part.Thread,
            Price = (part.Price.Value).ToString("0.00", CultureInfo.InvariantCulture),
        };

    public PartInput ToInput(string? oldNumber) =>
        new()
        {
            OldNumber = oldNumber,
            Version = Version,
            Number = Number,
            Name = Name,
            Make = Make,
            Kind = Kind,
            LengthMm = LengthMm,
            OuterMm = OuterMm,
            SealMm = SealMm,
            Thread = Thread,
            Price = Price,
        };
}
