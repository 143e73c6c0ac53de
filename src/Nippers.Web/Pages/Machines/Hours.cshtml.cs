using System.Collections.Immutable;
using Microsoft.AspNetCore.Mvc;
using Nippers.App.Machines;
using Nippers.App.Readings;
using Nippers.Core.Hours;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Machines;

/// <summary>Logs hours, from the machine, from Today, or on its own.</summary>
public sealed class HoursModel(LogReading log, MachineView view, Words words) : NippersPage
{
    public string Unit { get; private set; } = "";

    public MeterFace? Meter { get; private set; }

    public string? Hours { get; private set; }

    public string? At { get; private set; }

    public string? From { get; private set; }

    public long? Replaces { get; private set; }

    public ImmutableArray<MeterHours> DidYouMean { get; private set; } = [];

    public async Task<IActionResult> OnGet(string unit, [FromQuery] string? from, [FromQuery] long? replaces, CancellationToken ct)
    {
        (From, Replaces) = (from, replaces);
        if (!await Load(unit, ct))
            return NotFound();
        if (Meter!.Wrong is { } wrong)
        {
            Hours = wrong.ShownHours.ToString();
            At = TimeZoneInfo
                .ConvertTime(wrong.At, Meter.Zone)
                .ToString("yyyy-MM-ddTHH:mm", System.Globalization.CultureInfo.InvariantCulture);
            var validated = await log.Validate(new(unit, Hours, At: wrong.At), ct);
            DidYouMean = validated.Judgement?.DidYouMean ?? [];
        }

        return IsHtmx ? Part("_LogHours", this) : Page();
    }

    public async Task<IActionResult> OnPost(string unit, string? hours, string? at, string? from, long? replaces, CancellationToken ct)
    {
        (Hours, At, From, Replaces) = (hours, at, from, replaces);
        var outcome = await log.Run(new(unit, hours, at, Key: Key, Replaces: replaces), Actor, ct);
        if (outcome.Done)
        {
            var back = from == "today" ? "/" : MachineUrls.One(unit);
            return Done(back, LoggedWords.Of(outcome.Value!, unit, words), LoggedWords.Undo(outcome.Value!, unit));
        }

        if (!await Load(unit, ct))
            return NotFound();
        DidYouMean = outcome.Value?.Judgement?.DidYouMean ?? [];
        Refuse(outcome.Refusals, Meter!.Zone);
        return IsHtmx ? Part("_LogHours", this) : Page();
    }

    /// <summary>Bad addresses lead here by GET as well.</summary>
    private async Task<bool> Load(string unit, CancellationToken ct)
    {
        Unit = unit;
        Meter = await view.Meter(unit, Replaces, ct);
        return Meter is not null;
    }
}
