using System.Net;
using System.Text.RegularExpressions;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Time.Testing;
using Nippers.App;
using Nippers.App.Defects;
using Nippers.App.Mail;
using Nippers.Core.Defects;
using Nippers.Data.Defects;
using Nippers.Data.Mail;
using Nippers.StandIns;
using Nippers.Tests;
using Nippers.Web.Hosting;
using Nippers.Web.Mail;

namespace Nippers.Web.Tests;

/// <summary>Messages as they are written, as they go over the line to a real server that feels as it likes, and their pages.</summary>
public sealed partial class MailTests
{
    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    [GeneratedRegex("https?://[^ \"<\n]+")]
    private static partial Regex Links();

    /// <summary>The demo with a stand-in server.</summary>
    private static async Task<(DemoApp App, MailStand Stand)> Given()
    {
        var stand = new MailStand(0);
        stand.Start();
        var app = await DemoApp.Start(with: x => x with { MailPatience = Long });
        using var mara = await Visitor.As(app, "mara");
        Assert.Equal(
            HttpStatusCode.Redirect,
            (
                await mara.Submit(
                    "/settings/mail",
                    "form:has(#host)",
                    ("host", "127.0.0.1"),
                    ("port", stand.Port.ToString(System.Globalization.CultureInfo.InvariantCulture)),
                    ("security", "Open"),
                    ("from", "nippers@fleet.invalid"),
                    ("ownNetwork", "true"),
                    ("on", "true")
                )
            ).StatusCode
        );
        return (app, stand);
    }

    private static async Task<DefectRow> Report(DemoApp app, string unit, string words = "Boom cracked")
    {
        await using var scope = app.Services.CreateAsyncScope();
        var outcome = await scope
            .ServiceProvider.GetRequiredService<ReportDefect>()
            .Run(
                new()
                {
                    Unit = unit,
                    Words = words,
                    Grade = DefectGrade.Stop,
                    On = MachinePart.Other,
                },
                new("Ines Varrow", Roles.Operator),
                Ct
            );
        Assert.True(outcome.Done, string.Join(", ", outcome.Refusals));
        return outcome.Value!;
    }

    private static async Task Round(DemoApp app)
    {
        await using var scope = app.Services.CreateAsyncScope();
        await scope.ServiceProvider.GetRequiredService<MailRound>().Run(Ct);
        await scope.ServiceProvider.GetRequiredService<MailPost>().Run(false, Ct);
    }

    [Fact]
    public async Task A_stop_says_what_where_who_what_must_not_happen_and_has_one_link()
    {
        var (app, stand) = await Given();
        await using var _ = app;
        await using var __ = stand;
        await app.Ask(db => db.Users.Where(x => x.UserName == "tam").ExecuteUpdateAsync(x => x.SetProperty(u => u.Language, "es"), Ct));
        var defect = await Report(app, "DZ-02", "Ripper shank <cracked> & loose");
        await Round(app);
        var mail = Assert.Single(stand.Taken, x =>
            x.To.StartsWith("mara@", StringComparison.Ordinal) && x.Subject.Contains("DZ-02", StringComparison.Ordinal)
        );
        Assert.Equal("DZ-02 is out of service: Ripper shank <cracked> & loose", mail.Subject);
        foreach (var said in new[] { "Ripper shank <cracked> & loose", "Ines Varrow", "must not run or be moved", "Site: " })
            Assert.Contains(said, mail.Text, StringComparison.Ordinal);
        Assert.Contains("Ripper shank &lt;cracked&gt; &amp; loose", mail.Html, StringComparison.Ordinal);
        Assert.DoesNotContain("<cracked>", mail.Html, StringComparison.Ordinal);
        var page = $"/defects/{defect.Id}";
        Assert.Single(Links().Matches(mail.Text), x => x.Value.EndsWith(page, StringComparison.Ordinal));

        // The same to somebody who reads Spanish, and is on the site's list.
        var other = Assert.Single(stand.Taken, x =>
            x.To.StartsWith("tam@", StringComparison.Ordinal) && x.Subject.Contains("DZ-02", StringComparison.Ordinal)
        );
        Assert.Contains("fuera de servicio", other.Subject, StringComparison.Ordinal);
        Assert.Contains("no debe trabajar ni moverse", other.Text, StringComparison.Ordinal);
        Assert.Contains("<html lang=\"es\">", other.Html, StringComparison.Ordinal);
        Assert.DoesNotContain("must not", other.Text + other.Html, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Every_kind_is_written_in_each_language_with_all_its_places_filled()
    {
        await using var app = await DemoApp.Start();
        var writer = app.Services.GetRequiredService<IMailWriter>();
        var stop = new StopThing("w", 1, "Yard", 7, "EX-01", "Kelvar 220", "Boom", "Cracked", "Ines", DemoApp.Now, "Europe/London");
        MailThing[] things =
        [
            stop,
            new LimitThing("l", 1, "Yard", 8, "EX-02", "Hose sweats", new(2026, 11, 26), 3.2),
            new WalkThing("d", 1, "Yard", "EX-03", new(2026, 11, 24)),
            new WalkThing("e", 1, "Yard", "EX-03", new(2026, 11, 23)),
            new SampleThing(
                "s",
                1,
                "Yard",
                9,
                "EX-04",
                "Kelvar 220",
                "Engine",
                "B-1",
                Core.Oil.Assessment.Critical,
                null,
                new(2026, 11, 20)
            ),
            new StockThing("p", 1, "Yard", "TO7-121", "Fuel filter", 3, 1, new(2026, 12, 1)),
        ];
        var drafts = new (MailKind Kind, int? Turn, MailThing[] Things)[]
        {
            (MailKind.Stop, 0, [stop]),
            (MailKind.Stop, null, [stop with { By = DefectClocks.ClockName }]),
            (MailKind.StopAgain, 2, [stop with { Told = ["Tam"] }]),
            (MailKind.StopAgain, 1, [stop with { Told = [] }]),
            (MailKind.Worse, null, [stop with { Worse = "through" }]),
            (MailKind.Over, null, [stop with { End = StopEnd.Returned, EndedBy = "Bea" }]),
            (MailKind.Over, null, [stop with { End = StopEnd.Voided, StillStopped = true }]),
            (MailKind.Over, null, [stop with { End = StopEnd.GradedDown }]),
            (MailKind.Ran, null, [Running(RanThough.Stopped)]),
            (MailKind.Ran, null, [Running(RanThough.Card)]),
            (MailKind.Ran, null, [Running(RanThough.NotWalked)]),
            (MailKind.Sample, null, [things[4]]),
            (MailKind.Morning, null, things),
            (MailKind.Trial, null, []),
        };
        foreach (var (kind, turn, told) in drafts)
        {
            var texts = new List<string>();
            foreach (var language in new[] { "", "es" })
            {
                foreach (var address in new[] { "https://nippers.invalid", null })
                {
                    var text = await writer.Write(
                        new(new("tam", "tam", "Tam", "t@x.invalid", language, "us"), kind, told, [], null, turn),
                        address,
                        new(2026, 11, 25)
                    );
                    Assert.DoesNotMatch(@"\{\d\}|Mail\.[A-Z]", text.Subject + text.Text + text.Html);
                    Assert.Equal(address is not null, Links().IsMatch(text.Text));
                    texts.Add(text.Text);
                }
            }

            Assert.NotEqual(texts[0], texts[2]);
        }

        // One line a machine, its days in order, and no word that another stop has ended.
        var morning = await writer.Write(
            new(new("t", null, "T", "t@x.invalid", "", ""), MailKind.Morning, things, []),
            null,
            new(2026, 11, 25)
        );
        Assert.Contains("EX-03: 23 Nov, 24 Nov", morning.Text, StringComparison.Ordinal);
        var over = await writer.Write(
            new(new("t", null, "T", "t@x.invalid", "", ""), MailKind.Over, [stop with { End = StopEnd.Returned, StillStopped = true }], []),
            null,
            new(2026, 11, 25)
        );
        Assert.Contains("must still not run", over.Text, StringComparison.Ordinal);
    }

    private static RanThing Running(RanThough though) =>
        new("r", 1, "Yard", "EX-01", "Kelvar 220", though, 1.4, DemoApp.Now, "Europe/London");

    [Theory]
    [InlineData(MailMood.Down, "mailDown", true, false)]
    [InlineData(MailMood.Slow, "mailSlow", false, false)]
    [InlineData(MailMood.Rubbish, "mailShape", false, false)]
    [InlineData(MailMood.Refuses, "mailAddress", false, true)]
    [InlineData(MailMood.Later, "mailLater", false, false)]
    [InlineData(MailMood.Well, null, false, false)]
    public async Task What_a_server_says_is_understood(MailMood mood, string? fault, bool server, bool final)
    {
        await using var stand = new MailStand(0) { Mood = mood };
        stand.Start();
        var slow = mood == MailMood.Slow;
        var answer = await Line(slow ? TimeSpan.FromSeconds(3) : null).Send(ServerAt(stand.Port), Message(), Ct);

        // Where it is given up, in the greeting or after it, is the machine's own speed.
        Assert.Equal(new MailAnswer(fault, final, slow ? answer.Server : server), answer);
        Assert.Equal(mood == MailMood.Well ? 1 : 0, stand.Taken.Count);
    }

    [Fact]
    public async Task A_server_that_is_not_there_inside_a_network_or_of_another_key_is_a_fault_of_the_server()
    {
        var line = Line();
        await using var stand = new MailStand(0);
        var port = stand.Port;
        Assert.Equal(new MailAnswer("mailDown", Server: true), await line.Send(ServerAt(port), Message(), Ct));
        stand.Start();
        var inside = ServerAt(port);
        inside.OwnNetwork = false;
        Assert.Equal(new MailAnswer("labInside", Server: true), await line.Send(inside, Message(), Ct));
        var foreign = ServerAt(port);
        foreign.Password = "lost";
        Assert.Equal(new MailAnswer("mailPassword", Server: true), await line.Send(foreign, Message(), Ct));
        var closed = ServerAt(port);
        closed.Security = MailSecurity.StartTls;
        Assert.True((await line.Send(closed, Message(), Ct)) is { Fault: "mailShape", Server: true });
        Assert.Empty(stand.Taken);
    }

    // A slow machine is not a slow server.
    private static readonly TimeSpan Long = TimeSpan.FromMinutes(2);

    private static SmtpLine Line(TimeSpan? patience = null)
    {
        var settings = new WebSettings("", 0, new FakeTimeProvider(DemoApp.Now)) { MailPatience = patience ?? Long };
        return new(new ShownSecrets(), settings);
    }

    private static MailServerRow ServerAt(int port) =>
        new()
        {
            Host = "127.0.0.1",
            Port = port,
            From = "nippers@fleet.invalid",
            OwnNetwork = true,
            On = true,
        };

    private static MailRow Message() =>
        new()
        {
            Id = 5,
            Kind = MailKind.Stop,
            Address = "tam@fleet.invalid",
            Name = "Tam Ölléry",
            MadeAt = DemoApp.Now,
            Subject = "Árbol – EX-01",
            Text = "text",
            Html = "<p>html</p>",
        };

    /// <summary>A day on which the server feels as it likes, and stops happen: each message arrives, and none is another twice.</summary>
    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    public async Task Through_a_day_of_moods_nothing_is_lost_and_nothing_is_told_twice(int seed)
    {
        var (app, stand) = await Given();
        await using var _ = app;
        await using var __ = stand;
        var chance = new Random(seed);
        var units = await app.Ask(db => db.Machines.OrderBy(x => x.Id).Select(x => x.Unit).Take(6).ToListAsync(Ct));
        MailMood[] moods = [MailMood.Well, MailMood.Down, MailMood.Half, MailMood.Rubbish, MailMood.Later, MailMood.Well];
        var defects = new List<long>();
        for (var quarter = 0; quarter < 48; quarter++)
        {
            if (quarter % 8 == 0)
                defects.Add((await Report(app, units[quarter / 8], $"Cracked {quarter}")).Id);
            stand.Mood = moods[chance.Next(moods.Length)];
            for (var i = 0; i < 3; i++)
            {
                app.Clock.Advance(TimeSpan.FromMinutes(5));
                await Round(app);
            }
        }

        stand.Mood = MailMood.Well;
        for (var i = 0; i < 8; i++)
        {
            app.Clock.Advance(TimeSpan.FromMinutes(1));
            await Round(app);
        }

        var rows = await app.Ask(db => db.Mail.AsNoTracking().ToListAsync(Ct));
        Assert.DoesNotContain(rows, x => x.State is MailState.Refused);

        // What was taken and whose line broke came again under the same name: the reader has it once.
        var arrived = stand.Taken.GroupBy(x => x.Id).ToDictionary(x => x.Key, x => x.First());
        Assert.All(stand.Taken.GroupBy(x => x.Id), x => Assert.Single(x.Select(y => (y.To, y.Subject, y.Text)).Distinct()));
        Assert.Equal(rows.Count(x => x.State == MailState.Sent), arrived.Count);
        var first = rows.Where(x => x is { Kind: MailKind.Stop, StoppageId: not null }).ToList();
        var fresh = await app.Ask(db => db.Stoppages.Where(x => defects.Contains(x.DefectId)).Select(x => x.Id).ToListAsync(Ct));
        Assert.All(fresh, x => Assert.Contains(first, m => m.StoppageId == x && m.Turn == 0));
        Assert.Equal(first.Count, first.Select(x => (x.StoppageId, x.Address)).Distinct().Count());

        // Nobody acknowledged them: to each of a list in its turn, a quarter of an hour after the one before had gone, or later;
        // where that one was put off, a quarter of an hour after it was laid out.
        foreach (var stop in fresh)
        {
            var turns = rows.Where(x => x.StoppageId == stop && x.Turn is not null).OrderBy(x => x.Turn).ToList();
            Assert.Equal(Enumerable.Range(0, turns.Count), turns.Select(x => x.Turn!.Value));
            Assert.All(turns.Zip(turns.Skip(1)), x =>
            {
                var gone = x.First.SentAt < x.Second.MadeAt;
                Assert.True(gone || x.First.Attempts > 1);
                Assert.True(x.Second.MadeAt - (gone ? x.First.SentAt : x.First.MadeAt) >= MailRound.TurnEvery);
            });
        }
    }

    [Fact]
    public async Task A_planner_sees_what_fails_tries_again_and_reads_what_went()
    {
        var (app, stand) = await Given();
        await using var _ = app;
        await using var __ = stand;
        stand.Mood = MailMood.Down;
        await Report(app, "DZ-02");
        await Round(app);
        app.Clock.Advance(TimeSpan.FromMinutes(6));
        using var mara = await Visitor.As(app, "mara");
        using var tam = await Visitor.As(app, "tam");
        Assert.NotNull((await mara.Read("/")).QuerySelector("[data-mail-fails]"));
        Assert.Null((await tam.Read("/")).QuerySelector("[data-mail-fails]"));
        var page = await mara.Read("/settings/mail");
        Assert.Equal("mailDown", page.QuerySelector("[data-mail-fault]")!.GetAttribute("data-mail-fault"));
        stand.Mood = MailMood.Well;
        await mara.Submit("/settings/mail", "form[action$='Now']");
        page = await mara.Read("/settings/mail");
        Assert.Null(page.QuerySelector("[data-mail-fault]"));
        Assert.Null((await mara.Read("/")).QuerySelector("[data-mail-fails]"));
        var mail = page.QuerySelector("[data-mail=Sent] a")!;
        Assert.Contains(
            "must not run",
            (await mara.Read(mail.GetAttribute("href")!)).QuerySelector("pre")!.TextContent,
            StringComparison.Ordinal
        );

        // One whose address nobody has is given up, shown, and tried again by hand.
        stand.Mood = MailMood.Refuses;
        await tam.Submit("/mail", "form[action$='Try']");
        await Round(app);
        page = await mara.Read("/settings/mail");
        Assert.Contains("no such address", page.QuerySelector("[data-mail=Refused]")!.TextContent, StringComparison.Ordinal);
        stand.Mood = MailMood.Well;
        await mara.Submit("/settings/mail", "[data-mail=Refused] form");
        await Round(app);
        Assert.Contains(stand.Taken, x => x.Subject == "Messages from Nippers arrive");
    }

    [Fact]
    public async Task What_is_refused_stands_beside_its_field_and_nothing_typed_is_lost()
    {
        await using var app = await DemoApp.Start();
        using var mara = await Visitor.As(app, "mara");
        var page = await Visitor.Parse(
            await mara.Submit(
                "/settings/mail",
                "form:has(#host)",
                ("host", "10.0.0.1"),
                ("port", "99999"),
                ("from", "nobody"),
                ("user", "us")
            )
        );
        foreach (var field in new[] { "host", "port", "from" })
            Assert.NotNull(page.QuerySelector($"#{field}-wrong"));
        Assert.Equal("us", page.QuerySelector("#user")!.GetAttribute("value"));
        page = await Visitor.Parse(await mara.Submit("/mail", "form:has(#address)", ("address", "no address"), ("morningAt", "")));
        Assert.NotNull(page.QuerySelector("#address-wrong"));
        Assert.NotNull(page.QuerySelector("#morningAt-wrong"));
        Assert.Equal("no address", page.QuerySelector("#address")!.GetAttribute("value"));
        page = await Visitor.Parse(await mara.Submit("/settings/mail", "[data-site] form[action$='Add']", ("contactName", "The gate")));
        Assert.NotNull(page.QuerySelector("#contactAddress-wrong"));
        Assert.NotNull(page.QuerySelector("[data-site] details[open]"));
        Assert.Equal(0, await app.Ask(db => db.MailServers.CountAsync(Ct)));
    }

    [Fact]
    public async Task A_stop_is_acknowledged_on_its_page_by_a_technician_and_not_by_an_operator()
    {
        var (app, stand) = await Given();
        await using var _ = app;
        await using var __ = stand;
        var defect = await Report(app, "DZ-02");
        await Round(app);
        using var ines = await Visitor.As(app, "ines");
        var page = await ines.Read($"/defects/{defect.Id}");
        Assert.NotNull(page.QuerySelector("[data-acknowledged=no]"));
        Assert.Null(page.QuerySelector("form[action$='acknowledge']"));
        Assert.Equal(2, page.QuerySelectorAll("[data-acknowledged] [data-mail=Sent]").Length);
        using var tam = await Visitor.As(app, "tam");
        Assert.Equal(HttpStatusCode.Redirect, (await tam.Submit($"/defects/{defect.Id}", "form[action$='acknowledge']")).StatusCode);
        page = await ines.Read($"/defects/{defect.Id}");
        Assert.Contains("Tam Ollery sees to it", page.QuerySelector("[data-acknowledged=yes]")!.TextContent, StringComparison.Ordinal);

        // It is still out of service.
        Assert.NotNull(page.QuerySelector(".stop-note"));
    }
}
