using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Nippers.App.Visits;
using Nippers.App.Weeks;
using Nippers.Data.Fleet;
using Nippers.Data.People;
using Nippers.Data.Visits;
using static Nippers.App.Tests.CardRig;
using static Nippers.App.Tests.Outcomes;

namespace Nippers.App.Tests;

/// <summary>What stands behind a calendar's private link.</summary>
public sealed class CalendarTests
{
    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    /// <summary>A visit on the loader, given to Tam whose days begin at another site.</summary>
    private static async Task<(Fleet Fleet, long Visit)> Given(string zone = "Europe/London", string on = "2026-03-27", int turns = 1)
    {
        var fleet = await Ready();
        var id = (await Ok<PlanVisit, VisitRow>(fleet, x => x.Save(null, new(Unit, on, [EngineOil]), Fleet.Tam, Ct))).Id;
        await fleet.Ask(async db =>
        {
            db.Users.Add(
                new NippersUser
                {
                    Id = "tam",
                    UserName = "tam",
                    FullName = "Tam Ollery",
                }
            );
            db.Sites.Add(new Site { Name = "Pit", TimeZone = zone });
            await db.SaveChangesAsync(Ct);
            var sites = await db.Sites.ToDictionaryAsync(x => x.Name, x => x.Id, Ct);
            db.Crew.Add(
                new()
                {
                    UserId = "tam",
                    SiteId = sites["Pit"],
                    Minutes = "0 480 480 480 480 480 0",
                }
            );
            db.Roads.Add(
                new()
                {
                    FromId = Math.Min(sites["Pit"], sites["Yard"]),
                    ToId = Math.Max(sites["Pit"], sites["Yard"]),
                    Minutes = 20,
                }
            );
            for (var turn = 1; turn <= turns; turn++)
                db.PlannedJobs.Add(
                    new()
                    {
                        VisitId = id,
                        Part = turn,
                        UserId = "tam",
                        On = DateOnly.Parse(on, CultureInfo.InvariantCulture),
                        Turn = turn,
                        Minutes = 90,
                    }
                );
            return await db.SaveChangesAsync(Ct);
        });
        return (fleet, id);
    }

    private static Task<string> Link(Fleet fleet) => Ok<Calendars, string>(fleet, x => x.Make("tam", Fleet.Tam, Ct));

    private static Task<PersonCalendar?> Read(Fleet fleet, string link) => fleet.Do<Calendars, PersonCalendar?>(x => x.Read(link, Ct));

    [Fact]
    public async Task A_link_shows_its_persons_visits_with_site_and_parts()
    {
        var (fleet, id) = await Given();
        await using var _ = fleet;
        var calendar = (await Read(fleet, await Link(fleet)))!;
        var visit = Assert.Single(calendar.Visits);
        Assert.Equal(("Tam Ollery", id, Unit, "Yard"), (calendar.Name, visit.Visit, visit.Unit, visit.Site));
        Assert.Equal([("UM7-110", 1)], visit.Parts);
        Assert.Equal(90, (visit.Ends - visit.Begins).TotalMinutes);
    }

    [Theory]
    [InlineData("Europe/London", "2026-03-27", "2026-03-27T07:20:00Z")]
    [InlineData("Europe/London", "2026-03-30", "2026-03-30T06:20:00Z")]
    [InlineData("Asia/Kathmandu", "2026-03-27", "2026-03-27T01:35:00Z")]
    [InlineData("America/St_Johns", "2026-03-27", "2026-03-27T09:50:00Z")]
    public async Task A_visit_begins_after_the_way_there_by_the_clock_of_where_the_day_begins(string zone, string on, string begins)
    {
        var (fleet, _) = await Given(zone, on);
        await using var __ = fleet;
        Assert.Equal(DateTimeOffset.Parse(begins, CultureInfo.InvariantCulture), (await Read(fleet, await Link(fleet)))!.Visits[0].Begins);
    }

    [Fact]
    public async Task One_job_follows_the_other_and_the_way_to_one_site_is_driven_once()
    {
        var (fleet, _) = await Given(turns: 2);
        await using var __ = fleet;
        var visits = (await Read(fleet, await Link(fleet)))!.Visits;
        Assert.Equal(visits[0].Ends, visits[1].Begins);
        Assert.Equal(2, visits.Select(x => x.Uid).Distinct().Count());
    }

    [Fact]
    public async Task A_visit_that_is_moved_keeps_its_name_and_counts_on_and_one_that_is_cancelled_is_gone()
    {
        var (fleet, id) = await Given();
        await using var _ = fleet;
        var link = await Link(fleet);
        var before = (await Read(fleet, link))!.Visits[0];
        var row = await Row(fleet, id);
        await Ok<PlanVisit, VisitRow>(fleet, x => x.Save(id, new(Unit, "2026-04-02", [EngineOil], Version: row.Version), Fleet.Tam, Ct));
        var after = (await Read(fleet, link))!.Visits[0];
        Assert.Equal((before.Uid, before.Sequence + 1), (after.Uid, after.Sequence));
        Assert.Equal(new DateTime(2026, 4, 2), after.Begins.UtcDateTime.Date);
        Assert.True(after.ChangedAt > before.ChangedAt);
        await Ok<PlanVisit, VisitRow>(fleet, x => x.Cancel(id, "rain", Fleet.Tam, Ct));
        Assert.Empty((await Read(fleet, link))!.Visits);
    }

    [Fact]
    public async Task A_link_ends_when_another_is_made_or_it_is_ended_or_its_person_is_switched_off()
    {
        var (fleet, _) = await Given();
        await using var __ = fleet;
        var first = await Link(fleet);
        var second = await Link(fleet);
        Assert.Null(await Read(fleet, first));
        Assert.NotNull(await Read(fleet, second));
        Assert.Null(await Read(fleet, ""));
        Assert.Null(await Read(fleet, second[..^1]));
        await fleet.Ask(db => db.Users.ExecuteUpdateAsync(x => x.SetProperty(u => u.LockoutEnd, DateTimeOffset.MaxValue), Ct));
        Assert.Null(await Read(fleet, second));
        await fleet.Ask(db => db.Users.ExecuteUpdateAsync(x => x.SetProperty(u => u.LockoutEnd, (DateTimeOffset?)null), Ct));
        Assert.NotNull(await Read(fleet, second));
        await Ok<Calendars, Nothing>(fleet, x => x.Revoke("tam", Fleet.Tam, Ct));
        Assert.Null(await Read(fleet, second));
        Assert.Null(await fleet.Do<Calendars, DateTimeOffset?>(x => x.MadeAt("tam", Ct)));
    }

    [Fact]
    public async Task The_secret_itself_is_kept_nowhere()
    {
        var (fleet, _) = await Given();
        await using var __ = fleet;
        var link = await Link(fleet);
        Assert.DoesNotContain(link, await fleet.Ask(db => db.CalendarLinks.Select(x => x.Hash).ToListAsync(Ct)));
        Assert.DoesNotContain(await fleet.Ask(db => db.Audit.Select(x => x.Subject + x.After + x.Before).ToListAsync(Ct)), x =>
            x.Contains(link, StringComparison.Ordinal)
        );
    }
}
