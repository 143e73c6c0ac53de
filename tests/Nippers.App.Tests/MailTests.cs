using Microsoft.EntityFrameworkCore;
using Nippers.App.Defects;
using Nippers.App.Mail;
using Nippers.Core.Defects;
using Nippers.Core.Oil;
using Nippers.Data.Defects;
using Nippers.Data.Mail;
using Nippers.Data.People;
using static Nippers.App.Tests.Outcomes;

namespace Nippers.App.Tests;

/// <summary>Who is told of what, when and how often.</summary>
public sealed class MailTests
{
    private const string Mara = "mara@fleet.invalid";
    private const string Tam = "tam@fleet.invalid";
    private const string Gate = "gate@fleet.invalid";
    private static readonly Actor Planner = new("Mara Quill", Roles.Planner);
    private static readonly Actor Ines = new("Ines Varrow", Roles.Operator);

    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    private static MailServerInput Server =>
        new(0, "mail.invalid", "587", MailSecurity.StartTls, "nippers", "secret", "nippers@fleet.invalid", false, true);

    private static MailChoiceInput Choice(string address, MailWhen stops = MailWhen.Morning, MailWhen samples = MailWhen.Morning) =>
        new(0, address, false, "06:00", stops, samples, MailWhen.Morning, MailWhen.Morning, MailWhen.Morning);

    /// <summary>A loader, Tam first on its site's list, then the gate's mailbox, then Mara.</summary>
    private static async Task<Fleet> Given(bool on = true)
    {
        var fleet = await Fleet.WithLoader();
        var yard = await fleet.Ask(async db =>
        {
            foreach (var (id, name) in new[] { ("tam", "Tam Ollery"), ("mara", "Mara Quill"), ("bea", "Bea Lund") })
                db.Users.Add(
                    new NippersUser
                    {
                        Id = id,
                        UserName = id,
                        FullName = name,
                        Language = id == "tam" ? "es" : "",
                    }
                );
            await db.SaveChangesAsync(Ct);
            return await db.Sites.Where(x => x.Name == "Yard").Select(x => x.Id).SingleAsync(Ct);
        });
        await Ok<MailBook, MailPerson>(fleet, x => x.Choose("tam", Choice(Tam), Fleet.Tam, Ct));
        await Ok<MailBook, MailPerson>(fleet, x => x.Choose("mara", Choice(Mara, MailWhen.AtOnce, MailWhen.AtOnce), Planner, Ct));
        foreach (
            var contact in new ContactInput[]
            {
                new("tam", null, null, null),
                new(null, "The gate", Gate, "es"),
                new("mara", null, null, null),
            }
        )
            await Ok<MailBook, SiteContactRow>(fleet, x => x.AddContact(yard, contact, Planner, Ct));
        await Ok<MailBook, MailServerRow>(fleet, x => x.SaveServer(Server with { On = on }, Planner, Ct));
        return fleet;
    }

    private static Task<DefectRow> Report(
        Fleet fleet,
        DefectGrade grade = DefectGrade.Stop,
        string words = "Boom cracked",
        string? hours = null
    ) => Ok<ReportDefect, DefectRow>(fleet, x => x.Run(
                new()
                {
                    Unit = "WL-01",
                    Words = words,
                    Grade = grade,
                    LimitHours = hours,
                    On = MachinePart.Other,
                },
                Ines,
                Ct
            ));

    /// <summary>Looks, writes and sends.</summary>
    private static async Task Round(Fleet fleet, TimeSpan? later = null)
    {
        if (later is { } by)
            fleet.Clock.Advance(by);
        await fleet.Do<MailRound, int>(x => x.Run(Ct));
        await fleet.Do<MailPost, int>(x => x.Run(false, Ct));
    }

    private static (MailKind, string)[] Taken(Fleet fleet) => [.. fleet.Mail.Taken.Select(x => (x.Kind, x.Address))];

    private static TimeSpan Minutes(double minutes) => TimeSpan.FromMinutes(minutes);

    [Fact]
    public async Task A_stop_is_told_at_once_to_the_first_of_the_list_and_to_who_chose_it_and_to_nobody_twice()
    {
        await using var fleet = await Given();
        await Report(fleet);
        for (var i = 0; i < 5; i++)
            await Round(fleet);
        Assert.Equal([(MailKind.Stop, Tam), (MailKind.Stop, Mara)], Taken(fleet));
        Assert.Contains("Boom cracked", fleet.Mail.Taken[0].Subject, StringComparison.Ordinal);
        Assert.Equal("es", fleet.Mail.Taken[0].Text);
        Assert.Equal(Fleet.Now, (await fleet.Ask(db => db.Stoppages.SingleAsync(Ct))).SentAt);
    }

    [Fact]
    public async Task The_next_of_the_list_is_told_every_quarter_of_an_hour_and_then_the_first_again()
    {
        await using var fleet = await Given();
        await Report(fleet);
        await Round(fleet);
        await Round(fleet, Minutes(14.9));
        Assert.Equal(2, fleet.Mail.Taken.Count);
        await Round(fleet, Minutes(0.1));
        await Round(fleet, Minutes(15));
        await Round(fleet, Minutes(15));
        Assert.Equal([(MailKind.StopAgain, Gate), (MailKind.StopAgain, Mara), (MailKind.StopAgain, Tam)], Taken(fleet)[2..]);
        Assert.Contains("Told = System", fleet.Mail.Taken[2].Subject, StringComparison.Ordinal);
    }

    [Fact]
    public async Task It_ends_when_somebody_acknowledges_it_or_repairs_it_and_what_waits_is_dropped()
    {
        await using var fleet = await Given();
        var defect = await Report(fleet);
        await Round(fleet);

        // Written, and not gone yet.
        fleet.Clock.Advance(Minutes(15));
        await fleet.Do<MailRound, int>(x => x.Run(Ct));
        Assert.Equal("technicianNeeded", (await Refused<DefectNotes, DefectRow>(fleet, x => x.Acknowledge(defect.Id, Ines, Ct))).Code);
        await Ok<DefectNotes, DefectRow>(fleet, x => x.Acknowledge(defect.Id, Fleet.Bea, Ct));
        await Round(fleet);
        for (var i = 0; i < 4; i++)
            await Round(fleet, Minutes(16));
        Assert.Equal(2, fleet.Mail.Taken.Count);
        Assert.Equal(1, await fleet.Ask(db => db.Mail.CountAsync(x => x.State == MailState.Dropped, Ct)));
        var row = await fleet.Ask(db => db.Stoppages.SingleAsync(Ct));
        Assert.Equal((Fleet.Bea.Name, Fleet.Bea.Name), (row.AcknowledgedBy, (await fleet.Ask(db => db.Defects.SingleAsync(Ct))).ToldWhom));

        // Said again by another it stays the first one's.
        await Ok<DefectNotes, DefectRow>(fleet, x => x.Acknowledge(defect.Id, Fleet.Tam, Ct));
        Assert.Equal(Fleet.Bea.Name, (await fleet.Ask(db => db.Stoppages.AsNoTracking().SingleAsync(Ct))).AcknowledgedBy);
    }

    [Fact]
    public async Task Worse_and_returned_to_service_are_new_messages_to_all_who_were_told()
    {
        await using var fleet = await Given();
        var defect = await Report(fleet);
        await Round(fleet);
        await Ok<DefectNotes, DefectRow>(fleet, x => x.Acknowledge(defect.Id, Fleet.Bea, Ct));
        fleet.Clock.Advance(Minutes(5));
        await fleet.Ask(db =>
        {
            db.DefectEvents.Add(
                new()
                {
                    DefectId = defect.Id,
                    At = fleet.Clock.GetUtcNow(),
                    By = Ines.Name,
                    Act = DefectAct.Worse,
                    Words = "crack is through",
                }
            );
            return db.SaveChangesAsync(Ct);
        });
        await Round(fleet);
        await Round(fleet);
        Assert.Equal([(MailKind.Worse, Mara), (MailKind.Worse, Tam)], Taken(fleet)[2..].Order());
        await Ok<RepairDefect, DefectRow>(fleet, x => x.Repair(defect.Id, new("welded", null, null, null, null), Fleet.Tam, Ct));
        await Round(fleet);
        Assert.Equal(4, fleet.Mail.Taken.Count);
        await Ok<RepairDefect, DefectRow>(fleet, x => x.Release(defect.Id, true, "tried", Fleet.Bea, Ct));
        await Round(fleet);
        await Round(fleet, Minutes(16));
        Assert.Equal([(MailKind.Over, Mara), (MailKind.Over, Tam)], Taken(fleet)[4..].Order());
        Assert.Contains("End = Returned, EndedBy = Bea Lund, StillStopped = False", fleet.Mail.Taken[^1].Subject, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_stop_that_ends_while_another_stands_says_so()
    {
        await using var fleet = await Given();
        var defect = await Report(fleet);
        await Report(fleet, words: "Seat belt torn");
        await Round(fleet);
        await Ok<RepairDefect, DefectRow>(fleet, x => x.Repair(defect.Id, new("welded", null, null, null, null), Fleet.Tam, Ct));
        await Ok<RepairDefect, DefectRow>(fleet, x => x.Release(defect.Id, true, "tried", Fleet.Bea, Ct));
        await Round(fleet);
        Assert.Contains(fleet.Mail.Taken, x =>
            x.Kind == MailKind.Over
            && x.Subject.Contains("End = Returned, EndedBy = Bea Lund, StillStopped = True", StringComparison.Ordinal)
        );
    }

    [Fact]
    public async Task A_limit_that_passes_is_a_stop_and_told_as_one()
    {
        await using var fleet = await Given();
        await Report(fleet, DefectGrade.Limit, "Hose sweats", "4");
        await Round(fleet);
        Assert.Empty(fleet.Mail.Taken);
        await fleet.Log("WL-01", 360.5, fleet.Clock.GetUtcNow());
        await Round(fleet);
        Assert.Equal([(MailKind.Stop, Tam), (MailKind.Stop, Mara)], Taken(fleet));

        // Not who found it stopped it: its limit has.
        Assert.All(fleet.Mail.Taken, x => Assert.Contains($"By = {DefectClocks.ClockName}, ", x.Subject, StringComparison.Ordinal));
    }

    [Fact]
    public async Task What_stood_long_before_messages_were_switched_on_is_told_in_the_morning_only()
    {
        await using var fleet = await Given(on: false);
        await Report(fleet);
        await Round(fleet, TimeSpan.FromHours(14));
        var version = (await fleet.Ask(db => db.MailServers.SingleAsync(Ct))).Version;
        await Ok<MailBook, MailServerRow>(fleet, x => x.SaveServer(Server with { Version = version }, Planner, Ct));
        await Round(fleet);
        Assert.Empty(fleet.Mail.Taken);

        // Six in the morning at the site.
        await Round(fleet, TimeSpan.FromHours(8.5));
        Assert.Equal([(MailKind.Morning, Mara), (MailKind.Morning, Tam)], Taken(fleet).Order());
    }

    [Theory]
    [InlineData(MailState.Waiting, 1)]
    [InlineData(MailState.Sent, 1)]
    public async Task Killed_between_writing_and_sending_or_after_it_nothing_is_lost_and_nothing_is_twice(MailState before, int times)
    {
        await using var fleet = await Given();
        await Report(fleet);
        await fleet.Do<MailRound, int>(x => x.Run(Ct));
        if (before == MailState.Sent)
            await fleet.Do<MailPost, int>(x => x.Run(false, Ct));

        // A process that begins anew knows what the file says and nothing else.
        await using var again = Fleet.On(fleet.File);
        await Round(again);
        await Round(again);
        Assert.Equal(times, fleet.Mail.Taken.Concat(again.Mail.Taken).Count(x => x.Address == Tam));
    }

    [Fact]
    public async Task A_server_that_is_away_is_asked_ever_later_and_everything_goes_when_it_is_back()
    {
        await using var fleet = await Given();
        fleet.Mail.Answers = _ => new("mailDown", Server: true);
        await Report(fleet);
        var asked = new List<double>();
        for (var second = 0; second <= 1200; second += 5)
        {
            var before = fleet.Mail.Asked;
            await Round(fleet, TimeSpan.FromSeconds(5));
            if (fleet.Mail.Asked > before)
                asked.Add(second);
        }

        Assert.Equal([15, 30, 60, 120, 240, 300, 300], asked.Zip(asked.Skip(1), (a, b) => b - a));
        var server = await fleet.Ask(db => db.MailServers.AsNoTracking().SingleAsync(Ct));
        Assert.Equal(("mailDown", Fleet.Now.AddSeconds(5)), (server.LastFault, server.FailingSince));
        Assert.True(await fleet.Do<MailBook, bool>(x => x.Fails(Ct)));

        // Nobody was told, so nobody's quarter of an hour has begun.
        Assert.Equal(2, await fleet.Ask(db => db.Mail.CountAsync(Ct)));
        fleet.Mail.Answers = _ => null;
        await Round(fleet, Minutes(5));
        Assert.Equal([(MailKind.Stop, Tam), (MailKind.Stop, Mara)], Taken(fleet));
        Assert.False(await fleet.Do<MailBook, bool>(x => x.Fails(Ct)));
    }

    [Fact]
    public async Task An_address_that_is_not_taken_is_shown_and_the_next_of_the_list_is_told_without_waiting()
    {
        await using var fleet = await Given();
        fleet.Mail.Answers = x => x.Address == Tam ? new("mailAddress", Final: true) : null;
        await Report(fleet);
        await Round(fleet);
        await Round(fleet);
        Assert.Equal([(MailKind.Stop, Mara), (MailKind.StopAgain, Gate)], Taken(fleet));
        Assert.True(await fleet.Do<MailBook, bool>(x => x.Fails(Ct)));
        var lost = await fleet.Ask(db => db.Mail.AsNoTracking().SingleAsync(x => x.State == MailState.Refused, Ct));
        Assert.Equal((Tam, "mailAddress"), (lost.Address, lost.LastFault));
        fleet.Mail.Answers = _ => null;
        await Ok<MailBook, Nothing>(fleet, x => x.Again(lost.Id, Planner, Ct));
        await Round(fleet);
        Assert.Contains((MailKind.Stop, Tam), Taken(fleet));
    }

    [Fact]
    public async Task Where_no_address_of_a_list_is_taken_it_is_not_tried_without_end()
    {
        await using var fleet = await Given();
        fleet.Mail.Answers = _ => new("mailAddress", Final: true);
        await Report(fleet);
        for (var i = 0; i < 10; i++)
            await Round(fleet);
        Assert.Equal(3, await fleet.Ask(db => db.Mail.CountAsync(x => x.Turn != null, Ct)));
        await Round(fleet, Minutes(15));
        Assert.Equal(4, await fleet.Ask(db => db.Mail.CountAsync(x => x.Turn != null, Ct)));
    }

    [Fact]
    public async Task One_message_that_is_put_off_holds_up_no_other()
    {
        await using var fleet = await Given();
        fleet.Mail.Answers = x => x.Address == Tam ? new("mailLater") : null;
        await Report(fleet);
        await Round(fleet);
        Assert.Equal([(MailKind.Stop, Mara)], Taken(fleet));

        // Nor the next of the list: that mailbox may be full for days.
        await Round(fleet, Minutes(15));
        Assert.Equal((MailKind.StopAgain, Gate), Taken(fleet)[^1]);
        await Round(fleet, TimeSpan.FromDays(4));
        Assert.Equal(MailState.Refused, (await fleet.Ask(db => db.Mail.FirstAsync(x => x.Address == Tam, Ct))).State);
    }

    [Fact]
    public async Task The_morning_comes_once_a_day_at_its_hour_at_the_site_and_not_when_there_is_nothing()
    {
        await using var fleet = await Given();
        await fleet.Ask(db => db.Sites.ExecuteUpdateAsync(x => x.SetProperty(s => s.TimeZone, "America/Lima"), Ct));

        // 02:30 there.
        await Ok<MailBook, MailPerson>(fleet, x => x.Choose("tam", Choice(Tam) with { Version = 1, MorningAt = "06:30" }, Fleet.Tam, Ct));
        await Ok<MailBook, MailPerson>(fleet, x => x.Choose("mara", Choice("") with { Version = 1 }, Planner, Ct));
        await Report(fleet, DefectGrade.Limit, "Hose sweats", "4");
        await Round(fleet, Minutes(239));
        Assert.Empty(fleet.Mail.Taken);
        await Round(fleet, Minutes(1));
        Assert.Equal([(MailKind.Morning, Tam)], Taken(fleet));
        Assert.Contains("Hose sweats", fleet.Mail.Taken[0].Subject, StringComparison.Ordinal);
        for (var hour = 0; hour < 30; hour++)
            await Round(fleet, TimeSpan.FromHours(1));

        // The next morning has no news, and none is told twice.
        Assert.Single(fleet.Mail.Taken, x => x.Subject.Contains("Hose sweats", StringComparison.Ordinal));
    }

    [Fact]
    public async Task Somebody_who_begins_after_the_hour_is_told_from_tomorrow_on()
    {
        await using var fleet = await Given();
        await Report(fleet, DefectGrade.Limit, "Hose sweats", "4");
        await Round(fleet, Minutes(30));
        Assert.Empty(fleet.Mail.Taken);
        await Round(fleet, TimeSpan.FromHours(23));
        Assert.Equal([(MailKind.Morning, Mara), (MailKind.Morning, Tam)], Taken(fleet).Order());
    }

    [Fact]
    public async Task A_missed_walk_is_told_in_the_morning_after_it()
    {
        await using var fleet = await Given();
        await fleet.Ask(async db =>
        {
            // Walked on Monday, worked on Tuesday without.
            db.Walks.Add(
                new()
                {
                    MachineId = 1,
                    On = new(2026, 3, 16),
                    StartedAt = Fleet.Now,
                    FinishedAt = Fleet.Now,
                    State = Data.Walks.WalkState.Finished,
                    Round = Core.Walk.WalkRound.Whole,
                    Answered = 40,
                    StartedBy = "Ines Varrow",
                    Checks = "",
                    Batch = "b",
                    VersionId = await db.WalkListVersions.Select(x => x.Id).FirstAsync(Ct),
                }
            );
            return await db.SaveChangesAsync(Ct);
        });
        foreach (var (hours, later) in new[] { (358.0, 10), (364.0, 24) })
        {
            fleet.Clock.Advance(TimeSpan.FromHours(later));
            Assert.True((await fleet.Log("WL-01", hours, fleet.Clock.GetUtcNow())).Done);
        }

        await Round(fleet, TimeSpan.FromHours(13));
        Assert.Contains("WalkThing", Assert.Single(fleet.Mail.Taken, x => x.Address == Tam).Subject, StringComparison.Ordinal);
        Assert.Contains("walk-1-20260317", fleet.Mail.Taken[0].Subject, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_sample_that_asks_for_something_is_told_as_each_chose()
    {
        await using var fleet = await Given();
        await fleet.Ask(db =>
        {
            foreach (var (verdict, bottle) in new[] { (Assessment.Watch, "A1"), (Assessment.Act, "A2"), (Assessment.Critical, "A3") })
                db.Samples.Add(
                    new()
                    {
                        MachineId = 1,
                        Compartment = "engine",
                        ItemCode = "engine-oil-sample",
                        Bottle = bottle,
                        On = new(2026, 3, 10),
                        TakenAt = Fleet.Now.AddDays(-6),
                        LifeHours = new(3000),
                        By = "Tam Ollery",
                        Batch = "b",
                        State = Data.Oil.SampleState.Reported,
                        ReportedAt = Fleet.Now,
                        Advised = verdict,
                    }
                );
            return db.SaveChangesAsync(Ct);
        });
        await Round(fleet);
        await Round(fleet);
        Assert.Equal([(MailKind.Sample, Mara), (MailKind.Sample, Mara)], Taken(fleet));
        await Round(fleet, TimeSpan.FromHours(23));
        var morning = Assert.Single(fleet.Mail.Taken, x => x.Kind == MailKind.Morning);
        Assert.Equal(Tam, morning.Address);
        Assert.Contains("A2", morning.Subject, StringComparison.Ordinal);
        Assert.Contains("A3", morning.Subject, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Who_is_switched_off_or_hears_of_another_site_only_is_told_nothing()
    {
        await using var fleet = await Given();
        await fleet.Ask(async db =>
        {
            db.Sites.Add(new() { Name = "Pit", TimeZone = "UTC" });
            await db.SaveChangesAsync(Ct);
            var pit = await db.Sites.Where(x => x.Name == "Pit").Select(x => x.Id).SingleAsync(Ct);
            await db.Users.Where(x => x.Id == "mara").ExecuteUpdateAsync(x => x.SetProperty(u => u.SiteId, pit), Ct);
            return await db
                .Users.Where(x => x.Id == "tam")
                .ExecuteUpdateAsync(x => x.SetProperty(u => u.LockoutEnd, DateTimeOffset.MaxValue), Ct);
        });
        await Report(fleet);
        await Round(fleet);
        Assert.Equal([(MailKind.Stop, Gate)], Taken(fleet));

        // On the site's list she is told, wherever she is.
        await Round(fleet, Minutes(15));
        Assert.Equal((MailKind.StopAgain, Mara), Taken(fleet)[^1]);
    }

    [Theory]
    [InlineData("host", "")]
    [InlineData("host", "not a host")]
    [InlineData("host", "127.0.0.1")]
    [InlineData("host", "::1")]
    [InlineData("port", "0")]
    [InlineData("port", "65536")]
    [InlineData("port", "")]
    [InlineData("from", "nobody")]
    [InlineData("from", "Nippers <n@x.invalid>")]
    [InlineData("from", "a@b.invalid\r\nBcc: c@d.invalid")]
    public async Task A_server_that_cannot_be_is_refused_beside_its_field(string field, string value)
    {
        await using var fleet = await Fleet.Empty();
        var input = field switch
        {
            "host" => Server with { Host = value },
            "port" => Server with { Port = value },
            _ => Server with { From = value },
        };
        Assert.Equal(field, (await Refused<MailBook, MailServerRow>(fleet, x => x.SaveServer(input, Planner, Ct))).Field);
    }

    [Fact]
    public async Task A_password_goes_over_no_open_line_is_kept_hidden_and_to_no_other_server()
    {
        await using var fleet = await Given();
        Assert.Equal("terces", (await fleet.Ask(db => db.MailServers.SingleAsync(Ct))).Password);
        Assert.Equal(
            "openPassword",
            (
                await Refused<MailBook, MailServerRow>(fleet, x =>
                    x.SaveServer(Server with { Version = 1, Security = MailSecurity.Open }, Planner, Ct)
                )
            ).Code
        );
        await Ok<MailBook, MailServerRow>(fleet, x => x.SaveServer(Server with { Version = 1, Password = "" }, Planner, Ct));
        Assert.Equal("terces", (await fleet.Ask(db => db.MailServers.AsNoTracking().SingleAsync(Ct))).Password);
        await Ok<MailBook, MailServerRow>(fleet, x =>
            x.SaveServer(Server with { Version = 2, Password = "", Host = "other.invalid" }, Planner, Ct)
        );
        Assert.Equal("", (await fleet.Ask(db => db.MailServers.AsNoTracking().SingleAsync(Ct))).Password);
        Assert.DoesNotContain(await fleet.Ask(db => db.Audit.Select(x => x.After ?? "").ToListAsync(Ct)), x =>
            x.Contains("secret", StringComparison.Ordinal) || x.Contains("terces", StringComparison.Ordinal)
        );
        Assert.Equal("changedMeanwhile", (await Refused<MailBook, MailServerRow>(fleet, x => x.SaveServer(Server, Planner, Ct))).Code);
    }

    [Theory]
    [InlineData("address", "nobody", "06:00", MailWhen.AtOnce, MailWhen.Morning)]
    [InlineData("morningAt", "a@b.invalid", "6 o'clock", MailWhen.AtOnce, MailWhen.Morning)]
    [InlineData("stops", "a@b.invalid", "06:00", null, MailWhen.Morning)]
    [InlineData("stops", "a@b.invalid", "06:00", (MailWhen)9, MailWhen.Morning)]
    [InlineData("walks", "a@b.invalid", "06:00", MailWhen.AtOnce, MailWhen.AtOnce)]
    public async Task A_choice_that_cannot_be_is_refused_beside_its_field(
        string field,
        string address,
        string at,
        MailWhen? stops,
        MailWhen walks
    )
    {
        await using var fleet = await Given();
        var input = Choice(address) with { Version = 1, MorningAt = at, Stops = stops, Walks = walks };
        Assert.Equal(field, (await Refused<MailBook, MailPerson>(fleet, x => x.Choose("tam", input, Fleet.Tam, Ct))).Field);
    }

    [Fact]
    public async Task A_list_is_put_in_order_and_holds_nobody_twice()
    {
        await using var fleet = await Given();
        async Task<SiteContacts> List() => (await fleet.Do<MailBook, MailPage>(x => x.Load(Ct))).Sites.Single(x => x.Site == "Yard");
        var list = await List();
        Assert.Equal(["Tam Ollery", "The gate", "Mara Quill"], list.List.Select(x => x.Name));
        await Ok<MailBook, Nothing>(fleet, x => x.ChangeContact(list.List[2].Id, false, Planner, Ct));
        await Ok<MailBook, Nothing>(fleet, x => x.ChangeContact(list.List[0].Id, true, Planner, Ct));
        Assert.Equal(["Mara Quill", "The gate"], (await List()).List.Select(x => x.Name));
        Assert.Equal(
            "contactUser",
            (
                await Refused<MailBook, SiteContactRow>(fleet, x => x.AddContact(list.SiteId, new("mara", null, null, null), Planner, Ct))
            ).Field
        );
        Assert.Equal(
            "contactAddress",
            (
                await Refused<MailBook, SiteContactRow>(fleet, x =>
                    x.AddContact(list.SiteId, new(null, "Gate", Gate.ToUpperInvariant(), "en"), Planner, Ct)
                )
            ).Field
        );
    }

    [Fact]
    public async Task What_is_old_is_forgotten_and_what_waits_is_not()
    {
        await using var fleet = await Given();
        await Report(fleet);
        fleet.Mail.Answers = x => x.Address == Tam ? new("mailLater") : null;
        await Round(fleet);
        await Round(fleet, TimeSpan.FromDays(MailRound.KeepDays + 1));
        Assert.DoesNotContain(await fleet.Ask(db => db.Mail.AsNoTracking().ToListAsync(Ct)), x =>
            x.State == MailState.Sent && x.MadeAt < fleet.Clock.GetUtcNow().AddDays(-MailRound.KeepDays)
        );
        Assert.Contains(await fleet.Ask(db => db.Mail.AsNoTracking().ToListAsync(Ct)), x => x.Address == Tam);
    }
}
