using System.Globalization;
using System.Text.Json;

namespace Nippers.StandIns;

/// <summary>How the feed feels.</summary>
public enum FeedMood
{
    Well,

    /// <summary>Tells what was long ago.</summary>
    Late,

    /// <summary>Does not answer.</summary>
    Silent,

    /// <summary>Its hours go back.</summary>
    JumpsBack,

    /// <summary>Its box was replaced: its hours are others.</summary>
    AnotherMeter,

    /// <summary>Answers what is no answer.</summary>
    Rubbish,

    /// <summary>Lets wait.</summary>
    Slow,

    /// <summary>Breaks off in the middle.</summary>
    Half,
}

/// <summary>A machine of the feed.</summary>
/// <param name="Id">Its number there.</param>
/// <param name="Serial">Its serial number.</param>
/// <param name="Hours">What its box showed when the stand-in began.</param>
/// <param name="PerDay">Hours that it works a day, spread evenly.</param>
/// <param name="IdleShare">Share of them without load.</param>
public sealed record FeedUnit(string Id, string Serial, double Hours, double PerDay, double IdleShare);

/// <summary>A small maker's feed: tells hours that grow with the clock, a few machines a page.</summary>
public sealed class FeedStand(IReadOnlyList<FeedUnit> units, TimeProvider clock, int perPage = 2)
{
    private const double OtherBox = 37.5;
    private const double Back = 120;
    private static readonly TimeSpan SlowBy = TimeSpan.FromSeconds(40);
    private static readonly TimeSpan LateBy = TimeSpan.FromHours(30);
    private readonly DateTimeOffset _began = clock.GetUtcNow();
    private readonly Dictionary<string, List<(int Spn, int Fmi)>> _codes = new(StringComparer.Ordinal);

    /// <summary>How it feels.</summary>
    public FeedMood Mood { get; set; }

    /// <summary>When its box was replaced, for <see cref="FeedMood.AnotherMeter"/>: it counts from then.</summary>
    public DateTimeOffset? Replaced { get; set; }

    /// <summary>What a machine's box shows at an instant.</summary>
    public double HoursAt(FeedUnit unit, DateTimeOffset at) =>
        Mood == FeedMood.AnotherMeter
            ? OtherBox + (at - (Replaced ?? _began)).TotalDays * unit.PerDay
            : unit.Hours + (at - _began).TotalDays * unit.PerDay;

    /// <summary>Shows or clears a code.</summary>
    public void Code(string id, int spn, int fmi, bool active)
    {
        if (!_codes.TryGetValue(id, out var list))
            _codes[id] = list = [];
        list.Remove((spn, fmi));
        if (active)
            list.Add((spn, fmi));
    }

    /// <summary>Answers on a server's addresses.</summary>
    public void Map(WebApplication app)
    {
        app.MapGet("/feed/v1/fleet", async (int? page, CancellationToken ct) =>
        {
            if (Mood == FeedMood.Slow)
                await Task.Delay(SlowBy, ct);
            return Mood switch
            {
                FeedMood.Silent => Results.StatusCode(StatusCodes.Status503ServiceUnavailable),
                FeedMood.Rubbish => Results.Text("<html>Back soon</html>", "text/html"),
                _ => Results.Text(Page(page ?? 1), "application/json"),
            };
        });
        app.MapPost("/feed/v1/mood/{mood}", (FeedMood mood) =>
        {
            (Mood, Replaced) = (mood, clock.GetUtcNow());
            return Results.NoContent();
        });
    }

    private string Page(int page)
    {
        var at = Mood == FeedMood.Late ? clock.GetUtcNow() - LateBy : clock.GetUtcNow();
        object Figure(string unit, double value) =>
            new Dictionary<string, object>
            {
                [unit] = Math.Round(value, 2),
                ["Datetime"] = at.ToString("yyyy-MM-ddTHH:mm:ssZ", CultureInfo.InvariantCulture),
            };
        object Machine(FeedUnit unit)
        {
            var hours = HoursAt(unit, at) - (Mood == FeedMood.JumpsBack ? Back : 0);
            return new
            {
                EquipmentHeader = new { EquipmentID = unit.Id, SerialNumber = unit.Serial },
                CumulativeOperatingHours = Figure("Hour", Math.Max(0, hours)),
                CumulativeIdleHours = Figure("Hour", Math.Max(0, hours * unit.IdleShare)),
                FuelRemaining = Figure("Percent", 64),
                DEFRemaining = Figure("Percent", 71),
                FaultCodes = _codes.GetValueOrDefault(unit.Id, []).Select(x => new { x.Spn, x.Fmi }),
            };
        }

        var text = JsonSerializer.Serialize(
            new
            {
                Fleet = new
                {
                    Equipment = units.Skip((page - 1) * perPage).Take(perPage).Select(Machine),
                    Links = page * perPage < units.Count
                        ? new[] { new { Rel = "Next", Href = $"/feed/v1/fleet?page={(page + 1).ToString(CultureInfo.InvariantCulture)}" } }
                        : [],
                },
            }
        );
        return Mood == FeedMood.Half ? text[..(text.Length / 2)] : text;
    }
}
