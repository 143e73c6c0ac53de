using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Serialization;
using Nippers.Core.Hours;
using Nippers.Core.Service;
using Nippers.Data.Fleet;

namespace Nippers.App.Standings;

/// <summary>
/// A due point as a standing row keeps it, letters for names because Today reads thousands: code, daily, basis, school,
/// interval, months, due hours, due day, base hours, base day, windows, strict, too early by.
/// </summary>
internal sealed record StoredPoint(
    string C, bool D, int B, int S, double? I = null, int? M = null, double? H = null, int? O = null, double K = 0, int L = 0, double W = 0, int V = 0, bool X = false, double? E = null)
{
    public static StoredPoint Of(DuePoint x, bool daily) => new(
        x.ItemCode, daily, (int)x.Basis, (int)x.School, x.IntervalHours, x.IntervalMonths, x.DueHours, x.DueOn?.DayNumber, x.BaseHours, x.BaseOn.DayNumber, x.WindowHours, x.WindowDays, x.Strict, x.TooEarlyBy);

    public DuePoint ToPoint() => new()
    {
        ItemCode = C,
        Basis = (DueBasis)B,
        School = (School)S,
        IntervalHours = I,
        IntervalMonths = M,
        DueHours = H,
        DueOn = O is { } day ? DateOnly.FromDayNumber(day) : null,
        BaseHours = K,
        BaseOn = DateOnly.FromDayNumber(L),
        WindowHours = W,
        WindowDays = V,
        Strict = X,
        TooEarlyBy = E,
    };
}

internal sealed record StoredStanding(List<StoredPoint> Points, List<ParkedSpan> Parked);

[JsonSourceGenerationOptions(DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingDefault)]
[JsonSerializable(typeof(StoredStanding))]
internal sealed partial class StandingJson : JsonSerializerContext;

/// <summary>Due points of a machine, daily care apart.</summary>
public sealed record MachineDues(ImmutableArray<DuePoint> Service, ImmutableArray<DuePoint> Daily);

/// <summary>Turns a machine's use and due points into a standing row and back.</summary>
public static class StandingCodec
{
    internal static string Encode(MachineDues dues, UsePerDay use) => JsonSerializer.Serialize(
        new StoredStanding([.. dues.Service.Select(x => StoredPoint.Of(x, false)), .. dues.Daily.Select(x => StoredPoint.Of(x, true))], [.. use.Parked]),
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
        return (use, new([.. stored.Points.Where(x => !x.D).Select(x => x.ToPoint())], [.. stored.Points.Where(x => x.D).Select(x => x.ToPoint())]));
    }
}
