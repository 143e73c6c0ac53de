using Nippers.Core.Hours;

namespace Nippers.App.Readings;

/// <summary>Turns typed hours into hours, or into the refusal that stands beside the field.</summary>
public static class HoursInput
{
    public static Refusal? Read(string field, string? text, out MeterHours hours) =>
        MeterHours.TryParse(text, out hours) switch
        {
            HoursFault.None => null,
            HoursFault.TooLarge => Refusals.HoursTooLarge(field, MeterHours.Max),
            var fault => new(field, "hours" + fault),
        };
}
