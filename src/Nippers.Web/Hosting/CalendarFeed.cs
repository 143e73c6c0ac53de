using Ical.Net;
using Ical.Net.CalendarComponents;
using Ical.Net.DataTypes;
using Ical.Net.Serialization;
using Nippers.App.Languages;
using Nippers.App.People;
using Nippers.App.Units;
using Nippers.App.Weeks;
using Nippers.Views.Text;
using Nippers.Web.Pages.Visits;

namespace Nippers.Web.Hosting;

/// <summary>A person's visits for their calendar (RFC 5545), under a link that is their secret.</summary>
internal static class CalendarFeed
{
    /// <summary>Where links lead.</summary>
    public const string Path = "/calendar/{secret}.ics";

    /// <summary>How often a calendar may ask.</summary>
    private const string Every = "PT1H";

    public static void MapCalendar(this WebApplication app) =>
        app.MapGet(
                Path,
                async (string secret, Calendars calendars, PublicAddress address, Words words, HttpContext http, CancellationToken ct) =>
                {
                    if (await calendars.Read(secret, ct) is not { } person)
                        return Results.NotFound();

                    // It is written as its person reads, whatever the program asks for that fetches it.
                    using var units = PersonUnits.As(person.Choices.Units);
                    AllLanguages.Use(AllLanguages.Find(person.Choices.Language) ?? Language.English);
                    return Results.Text(Write(person, await address.Get(ct), words), "text/calendar; charset=utf-8");
                }
            )
            .AllowAnonymous()
            .ExcludeFromDescription();

    /// <summary>The calendar as text.</summary>
    /// <param name="person">Whose.</param>
    /// <param name="address">Where Nippers is reached; null while nobody said so, and events have no link.</param>
    /// <param name="w">Words.</param>
    internal static string Write(PersonCalendar person, string? address, Words w)
    {
        var calendar = new Calendar { ProductId = "-//Nippers//Plan by weeks//EN", Method = "PUBLISH" };
        calendar.AddProperty("X-WR-CALNAME", w["Calendar.Name", person.Name]);
        calendar.AddProperty("REFRESH-INTERVAL;VALUE=DURATION", Every);
        calendar.AddProperty("X-PUBLISHED-TTL", Every);
        foreach (var visit in person.Visits)
        {
            var parts = visit.Parts.Select(x => w["Calendar.Part", x.Pieces, x.Number]);
            var link = address is null ? null : address + VisitUrls.One(visit.Visit);
            calendar.Events.Add(
                new CalendarEvent
                {
                    Uid = visit.Uid,
                    Sequence = visit.Sequence,
                    DtStamp = new CalDateTime(visit.ChangedAt.UtcDateTime, "UTC"),
                    LastModified = new CalDateTime(visit.ChangedAt.UtcDateTime, "UTC"),
                    Start = new CalDateTime(visit.Begins.UtcDateTime, "UTC"),
                    End = new CalDateTime(visit.Ends.UtcDateTime, "UTC"),
                    Summary = w["Calendar.Visit", visit.Unit, VisitWords.Name(visit.NameHours, visit.Items, w)],
                    Location = visit.Site,
                    Description = string.Join(
                        '\n',
                        new[]
                        {
                            visit.Parts.Count > 0 ? w["Calendar.Take", string.Join(w["Format.Comma"], parts)] : null,
                            link,
                        }.OfType<string>()
                    ),
                    Url = link is null ? null : new Uri(link),
                }
            );
        }

        return new CalendarSerializer().SerializeToString(calendar)!;
    }
}
