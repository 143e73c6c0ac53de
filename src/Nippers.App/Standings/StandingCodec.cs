using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Serialization;
using Nippers.Core.Hours;
using Nippers.Core.Service;
using Nippers.Data.Fleet;

namespace Nippers.App.Standings;

/// <summary>A due point as a standing row keeps it.</summary>
internal sealed record StoredPoint(DuePoint P, bool D);

internal sealed record StoredStanding(List<StoredPoint> Points, List<ParkedSpan> Parked);

[JsonSourceGenerationOptions(DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingDefault, IncludeFields = false)]
[JsonSerializable(typeof(StoredStanding))]
internal sealed partial class StandingJson : JsonSerializerContext;

/// <summary>Due points of a machine, daily care apart.</summary>
public sealed record MachineDues(ImmutableArray<DuePoint> Service, ImmutableArray<DuePoint> Daily);

/// <summary>Turns a machine's use and due points into a standing row and back.</summary>
public static class StandingCodec
{
    internal static string Encode(MachineDues dues, UsePerDay use) => JsonSerializer.Serialize(
        new StoredStanding([.. dues.Service.Select(x => new StoredPoint(x, false)), .. dues.Daily.Select(x => new StoredPoint(x, true))], [.. use.Parked]),
        StandingJson.Default.StoredStanding);

    /// <summary>Reads a row back into what the rules work with.</summary>
    public static (UsePerDay Use, MachineDues Dues) Decode(StandingRow row)
    {
        var stored = JsonSerializer.Deserialize(row.Points, StandingJson.Default.StoredStanding)!;
        var use = new UsePerDay
        {
            HoursPerDay = row.HoursPerDay,
            Sigma = row.Sigma,
            RateSigma = row.RateSigma,
            Basis = row.Basis,
            CoveredDays = row.CoveredDays,
            Last = new(row.LastMs, new(row.LastTenths)),
            HasReading = row.HasReading,
            Stale = row.Stale,
            Parked = [.. stored.Parked],
            AsOfMs = row.ComputedMs,
            Settings = UseSettings.Default,
        };
        return (use, new([.. stored.Points.Where(x => !x.D).Select(x => x.P)], [.. stored.Points.Where(x => x.D).Select(x => x.P)]));
    }
}
