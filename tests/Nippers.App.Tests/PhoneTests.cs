using System.IO.Compression;
using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using Nippers.App.Defects;
using Nippers.App.Phones;
using Nippers.App.Walks;
using Nippers.Core.Defects;
using Nippers.Core.Hours;
using Nippers.Core.Walk;
using Nippers.Data.Defects;
using Nippers.Data.Walks;
using static Nippers.App.Tests.WalkRig;

namespace Nippers.App.Tests;

/// <summary>What is done on a phone without a network: judged there as on the server, and taken once.</summary>
public sealed class PhoneTests
{
    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    private long _seq;

    private PhoneEntry Entry(
        Fleet fleet,
        EntryKind kind,
        string walk = "",
        string step = "",
        TimeSpan ago = default,
        TimeSpan ahead = default,
        params (string Name, string? Value)[] fields
    ) =>
        new()
        {
            Key = Guid.NewGuid().ToString("N"),
            Seq = ++_seq,
            Kind = kind,
            Unit = "WL-01",
            Walk = walk,
            Step = step,
            At = fleet.Clock.GetUtcNow() - ago + ahead,
            AheadMs = (long)ahead.TotalMilliseconds,
            Fields = fields.GroupBy(x => x.Name).ToDictionary(x => x.Key, IReadOnlyList<string?> (x) => [.. x.Select(y => y.Value)]),
        };

    private static Task<Outcome<TakenEntry>> Take(Fleet fleet, PhoneEntry entry, Actor? actor = null, params byte[][] photos) =>
        fleet.Do<TakeEntry, Outcome<TakenEntry>>(x => x.Run(entry, photos, actor ?? Ines, Ct));

    private async Task<(long Id, string Batch)> Begun(Fleet fleet, string batch = "walk-0123456789ab")
    {
        var begun = await Take(
            fleet,
            Entry(fleet, EntryKind.Start, batch, fields: [("hours", "360"), ("parts", "Ordinary"), ("weather", "Rain")])
        );
        Assert.Empty(begun.Refusals);
        return (begun.Value!.WalkId!.Value, batch);
    }

    private static (string, string?)[] Good(WalkCheck check) =>
        [
            ("check", check.Code),
            ("seen", "sound"),
            ("level", "75"),
            ("look", "Clear"),
            .. Enumerable.Repeat(("figures", (string?)(check.Unit == "V" ? "25.2" : "3.6")), check.Figures),
            .. check.Points.Select((_, i) => ($"points[{i}]", (string?)"Good")),
            ("drained", "None"),
            ("ticked", "true"),
        ];

    [Fact]
    public async Task A_walk_done_without_a_network_is_taken_entry_by_entry_and_a_repeat_changes_nothing()
    {
        await using var fleet = await Fleet.WithLoader();
        var (id, batch) = await Begun(fleet);
        var walk = await Context(fleet, id);
        Assert.Equal((batch, Weather.Rain, "Ines Varrow"), (walk.Row.Batch, walk.Row.Weather, walk.Row.StartedBy));
        var entries = walk
            .Steps.SelectMany(step =>
                step.Kind == StepKind.Station
                    ? step.Checks.Select(x => Entry(fleet, EntryKind.Answer, batch, step.Code, fields: Good(x)))
                    : [Entry(fleet, EntryKind.Tick, batch, step.Code, fields: ("done", "true"))]
            )
            .Append(Entry(fleet, EntryKind.Finish, batch, fields: ("note", "rain")))
            .ToList();
        foreach (var entry in entries)
            Assert.Empty((await Take(fleet, entry)).Refusals);
        var before = await fleet.Fingerprint();
        foreach (var entry in entries)
            Assert.True((await Take(fleet, entry)).Value!.Repeat);
        Assert.Equal(before, await fleet.Fingerprint());
        var row = (await Context(fleet, id)).Row;
        Assert.Equal((WalkState.Finished, 0, "rain"), (row.State, row.LeftOut, row.Note));
        Assert.Equal(1, await fleet.Ask(db => db.Walks.CountAsync(Ct)));
    }

    [Fact]
    public async Task The_phone_judges_and_shows_what_the_server_does_with_the_same_answers()
    {
        await using var fleet = await Fleet.WithLoader();
        await fleet.Do<ReportDefect, Outcome<DefectRow>>(x =>
            x.Run(
                new()
                {
                    Unit = "WL-01",
                    Check = "engine-oil-level",
                    Words = "low oil",
                },
                Ines,
                Ct
            )
        );
        var (id, batch) = await Begun(fleet);
        var (state, lists) = (await fleet.Do<PhoneKits, (PhoneWalk, IReadOnlyList<KitList>)?>(x => x.Walk(id, Ct)))!.Value;
        var list = lists.Single(x => x.Version == state.Version).Body;
        var phone = new PhoneBook(state, list, null, Ines);
        var chance = new Random(13);
        string[] levels = ["115", "75", "0", "-20"];
        string[] looks = ["Clear", "Dark", "Milky", "Gritty"];
        foreach (var step in (await Context(fleet, id)).Steps.Where(x => x.Engine == EngineState.Off))
        {
            var asked = new List<PhoneEntry>();
            if (step.Kind != StepKind.Station)
                asked.Add(Entry(fleet, EntryKind.Tick, batch, step.Code, fields: ("done", "true")));
            foreach (var check in step.Checks)
            {
                var fields = Good(check)
                    .Select(x =>
                        x.Item1 switch
                        {
                            "seen" when chance.Next(6) == 0 => (x.Item1, "fault"),
                            "level" => (x.Item1, levels[chance.Next(levels.Length)]),
                            "look" => (x.Item1, looks[chance.Next(looks.Length)]),
                            "drained" => (x.Item1, "ALot"),
                            _ => x,
                        }
                    )
                    .ToArray();
                asked.Add(Entry(fleet, EntryKind.Answer, batch, step.Code, fields: fields));
            }

            foreach (var entry in asked)
            {
                var here = phone.Take(entry);
                var there = await Take(fleet, entry);
                Assert.Equal(there.Refusals.Select(x => (x.Field, x.Code)), here.Select(x => (x.Field, x.Code)));
            }
        }

        var (on, server) = (phone.Context, await Context(fleet, id));
        Assert.Equal(server.Answers.Keys.Order(), on.Answers.Keys.Order());
        Assert.All(server.Checks, x => Assert.Equal(server.ResultOf(x), on.ResultOf(x)));
        Assert.Equal(server.StopFound, on.StopFound);
        Assert.Equal(server.Answer, on.Answer);
        Assert.Equal(server.FaultsWithoutDefect.Select(x => x.Code), on.FaultsWithoutDefect.Select(x => x.Code));
        Assert.Equal(
            server.Defects.Select(x => (x.Id, x.Grade, x.LimitHours, x.LimitOn)),
            on.Defects.Select(x => (x.Id, x.Grade, x.LimitHours, x.LimitOn))
        );
        Assert.Equal(server.NotChecked.Select(x => x.Code), on.NotChecked.Select(x => x.Code));
    }

    [Fact]
    public async Task A_fault_a_worse_and_who_was_told_reach_the_defect_that_the_phone_made()
    {
        await using var fleet = await Fleet.WithLoader();
        var (id, batch) = await Begun(fleet);
        var (state, lists) = (await fleet.Do<PhoneKits, (PhoneWalk, IReadOnlyList<KitList>)?>(x => x.Walk(id, Ct)))!.Value;
        var phone = new PhoneBook(state, lists.Single(x => x.Version == state.Version).Body, null, Ines);
        var seen = Entry(
            fleet,
            EntryKind.Answer,
            batch,
            "off-left",
            fields: [("check", "tyres-left"), ("seen", "fault"), ("ticked", "true")]
        );
        var fault = Entry(fleet, EntryKind.Fault, batch, "off-left", fields: [("check", "tyres-left"), ("usual", "cord showing")]);
        foreach (var entry in new[] { seen, fault })
        {
            Assert.Empty(phone.Take(entry));
            Assert.Empty((await Take(fleet, entry)).Refusals);
        }

        var made = phone.Context.Found.Single();
        Assert.Equal((-fault.Seq, DefectGrade.Stop), (made.Id, made.Grade));
        Assert.True(phone.Context.StopFound);
        var told = Entry(
            fleet,
            EntryKind.Told,
            batch,
            "off-left",
            fields: [("defect", $"{made.Id}"), ("defectKey", phone.KeyOf(made.Id)), ("whom", "Bea")]
        );
        Assert.Empty(phone.Take(told));
        Assert.Empty((await Take(fleet, told)).Refusals);
        var kept = await fleet.Ask(db => db.Defects.SingleAsync(Ct));
        Assert.Equal(("Bea", DefectGrade.Stop, id), (kept.ToldWhom, kept.Grade, kept.WalkId));
        Assert.Equal(("Bea", kept.Words), (phone.Context.Found.Single().ToldWhom, made.Words));
    }

    [Theory]
    [InlineData(10, "fault")]
    [InlineData(40, "sound")]
    public async Task Of_two_answers_the_later_counts_and_both_are_on_record(int minutesAgo, string stands)
    {
        await using var fleet = await Fleet.WithLoader();
        var (id, batch) = await Begun(fleet);
        fleet.Clock.Advance(TimeSpan.FromMinutes(60));
        var check = (await Context(fleet, id)).Checks.First(x => x is { Kind: CheckKind.Look, AsksTick: false });

        // The other phone answered half an hour ago.
        Assert.True(
            (await Take(fleet, Entry(fleet, EntryKind.Answer, batch, ago: TimeSpan.FromMinutes(30), fields: Good(check)), Fleet.Tam)).Done
        );
        var mine = Entry(
            fleet,
            EntryKind.Answer,
            batch,
            ago: TimeSpan.FromMinutes(minutesAgo),
            fields: [("check", check.Code), ("seen", "fault")]
        );
        Assert.True((await Take(fleet, mine)).Done);
        var answer = (await Context(fleet, id)).Answers[check.Code];
        Assert.Equal(stands == "sound", answer is SeenAnswer { Ok: true });
        var audit = await fleet.Ask(db => db.Audit.SingleAsync(x => x.What == "walk.answer.later", Ct));
        var (lost, won) = stands == "sound" ? ("Ines", "Tam") : ("Tam", "Ines");
        Assert.Contains(lost, audit.Before);
        Assert.Contains(won, audit.After);
    }

    [Theory]
    [InlineData(60)]
    [InlineData(-60)]
    public async Task A_phone_whose_clock_is_wrong_by_an_hour_is_kept_at_the_right_time(int minutes)
    {
        await using var fleet = await Fleet.WithLoader();
        var (id, batch) = await Begun(fleet);
        fleet.Clock.Advance(TimeSpan.FromMinutes(30));
        var done = fleet.Clock.GetUtcNow() - TimeSpan.FromMinutes(10);
        var check = (await Context(fleet, id)).Checks[0];
        var entry = Entry(
            fleet,
            EntryKind.Answer,
            batch,
            ago: TimeSpan.FromMinutes(10),
            ahead: TimeSpan.FromMinutes(minutes),
            fields: Good(check)
        );
        Assert.Equal(done.AddMinutes(minutes), entry.At);
        Assert.True((await Take(fleet, entry)).Done);
        Assert.Equal(done, (await Context(fleet, id)).Rows[check.Code].At);
    }

    [Fact]
    public async Task What_lies_in_the_future_is_kept_as_now()
    {
        await using var fleet = await Fleet.WithLoader();
        var (id, batch) = await Begun(fleet);
        var check = (await Context(fleet, id)).Checks[0];
        Assert.True((await Take(fleet, Entry(fleet, EntryKind.Answer, batch, ago: -TimeSpan.FromHours(3), fields: Good(check)))).Done);
        Assert.Equal(fleet.Clock.GetUtcNow(), (await Context(fleet, id)).Rows[check.Code].At);
    }

    [Fact]
    public async Task Two_phones_that_began_apart_walk_one_walk()
    {
        await using var fleet = await Fleet.WithLoader();
        var (first, _) = await Begun(fleet);
        var (second, batch) = await Begun(fleet, "walk-ba9876543210");
        Assert.Equal(first, second);
        var check = (await Context(fleet, first)).Checks[0];
        var taken = await Take(fleet, Entry(fleet, EntryKind.Answer, batch, fields: Good(check)));
        Assert.Equal(first, taken.Value!.WalkId);
        Assert.Contains(check.Code, (await Context(fleet, first)).Answers.Keys);
    }

    [Fact]
    public async Task What_cannot_be_taken_says_why_and_changes_nothing()
    {
        await using var fleet = await Fleet.WithLoader();
        var (id, batch) = await Begun(fleet);
        var check = (await Context(fleet, id)).Checks[0];
        var before = await fleet.Fingerprint();
        Assert.Equal("noSuchWalk", Code(await Take(fleet, Entry(fleet, EntryKind.Answer, "walk-unknown", fields: Good(check)))));
        Assert.Equal(
            "noSuchDefect",
            Code(await Take(fleet, Entry(fleet, EntryKind.Told, batch, fields: [("defect", "-9"), ("whom", "x")])))
        );
        Assert.Equal("noSuchDefect", Code(await Take(fleet, Entry(fleet, EntryKind.Again, batch, fields: ("again", "Worse")))));
        Assert.NotEqual("", Code(await Take(fleet, Entry(fleet, EntryKind.Hours, fields: ("hours", "nonsense")))));
        Assert.NotEqual("", Code(await Take(fleet, Entry(fleet, EntryKind.TopUp, fields: [("litres", "1"), ("compartment", "nowhere")]))));
        Assert.Equal(before, await fleet.Fingerprint());

        await fleet.Do<VoidWalk, Outcome<WalkRow>>(x => x.Run(id, "wrong machine", Fleet.Tam, Ct));
        var late = Entry(fleet, EntryKind.Answer, batch, fields: Good(check));
        Assert.Equal("walkNotOpen", Code(await Take(fleet, late)));

        // It was refused, so it is not known: sent again it is refused again, not taken for done.
        Assert.Equal("walkNotOpen", Code(await Take(fleet, late)));
    }

    [Theory]
    [InlineData(null, "1.5", 1.5)]
    [InlineData("metric", "1.5", 1.5)]
    [InlineData("us", "1.5", 5.68)]
    [InlineData("us", "1 qt", 0.946)]
    [InlineData("us", "1,5 L", 1.5)]
    public async Task What_a_phone_sends_is_read_in_the_units_that_its_form_was_shown_in(string? units, string typed, double litres)
    {
        await using var fleet = await Fleet.WithLoader();
        var entry = Entry(fleet, EntryKind.TopUp, fields: [("litres", typed), ("compartment", "engine")]) with { Units = units };
        using var server = Units.PersonUnits.As("us");

        Assert.True((await Take(fleet, entry)).Done);

        Assert.Equal(litres, await fleet.Ask(db => db.TopUps.Select(x => x.Litres.Value).SingleAsync(Ct)), 1e-2);
    }

    [Fact]
    public async Task Hours_a_top_up_and_a_defect_outside_a_walk_are_kept_once_at_their_time()
    {
        await using var fleet = await Fleet.WithLoader();
        fleet.Clock.Advance(TimeSpan.FromHours(5));
        var ago = TimeSpan.FromHours(2);
        PhoneEntry[] entries =
        [
            Entry(fleet, EntryKind.Hours, ago: ago, fields: ("hours", "361.5")),
            Entry(fleet, EntryKind.TopUp, ago: ago, fields: [("litres", "1.5"), ("compartment", "engine")]),
            Entry(
                fleet,
                EntryKind.Defect,
                ago: ago,
                fields: [("words", "service brake does not hold"), ("on", "Brakes"), ("grade", "Watch")]
            ),
            Entry(fleet, EntryKind.Defect, ago: ago, fields: [("words", "seat torn"), ("on", "Body"), ("grade", "Watch")]),
        ];
        Assert.Equal(["", "", "gradeSafety", ""], (await Task.WhenAll(entries.Select(Each))).Select(Code));
        Assert.All([entries[0], entries[1], entries[3]], x => Assert.True(Take(fleet, x).Result.Value!.Repeat));
        var at = fleet.Clock.GetUtcNow() - ago;
        Assert.Equal(
            at,
            await fleet.Ask(db => db.Readings.Where(x => x.ShownHours == MeterHours.Of(361.5)).Select(x => x.At).SingleAsync(Ct))
        );
        Assert.Equal(at, await fleet.Ask(db => db.TopUps.Select(x => x.At).SingleAsync(Ct)));
        Assert.Equal(at, await fleet.Ask(db => db.Defects.Select(x => x.At).SingleAsync(Ct)));

        Task<Outcome<TakenEntry>> Each(PhoneEntry entry) => Take(fleet, entry);
    }

    [Fact]
    public async Task A_phone_holds_the_meter_so_that_it_judges_hours_as_the_server_does()
    {
        await using var fleet = await Fleet.WithLoader();
        for (var day = 20; day >= 1; day--)
            await fleet.Log("WL-01", 300 + (20 - day) * 2.5, Fleet.Now.AddDays(-day));
        var kit = (await fleet.Do<PhoneKits, PhoneKit>(x => x.All(works: true, Ct))).Machines.Single(x => x.Unit == "WL-01");
        var machine = kit.ToMachine();
        foreach (var shown in new[] { 300, 347.5, 349, 352.4, 380, 410, 3000, 350.0 })
        {
            var here = new List<Refusal>();
            var on = Readings.LogReading.Judge(machine, kit.ToRecord(), kit.Offset, MeterHours.Of(shown), Fleet.Now, Fleet.Now, here);
            var there = await fleet.Do<Readings.LogReading, Readings.ValidatedReading>(x =>
                x.Validate(new("WL-01", shown.ToString("0.0", System.Globalization.CultureInfo.InvariantCulture)), Ct)
            );
            Assert.Equal(there.Judgement!.Code, on.Code);
            Assert.Equal(there.Refusals.Select(x => x.Code), here.Select(x => x.Code));
        }
    }

    [Fact]
    public async Task A_hundred_machines_with_a_quarter_of_daily_readings_and_a_walk_each_weigh_less_than_300_kB()
    {
        await using var fleet = await Fleet.WithLoader();
        var (id, batch) = await Begun(fleet);
        foreach (var check in (await Context(fleet, id)).Checks)
            Assert.Empty((await Take(fleet, Entry(fleet, EntryKind.Answer, batch, fields: Good(check)))).Refusals);
        Assert.Empty((await Take(fleet, Entry(fleet, EntryKind.Finish, batch))).Refusals);
        await fleet.Ask(async db =>
        {
            var chance = new Random(7);
            var like = await db.Machines.AsNoTracking().SingleAsync(Ct);
            var walk = await db.Walks.AsNoTracking().SingleAsync(Ct);
            for (var i = 1; i <= 99; i++)
            {
                var machine = new Data.Fleet.Machine
                {
                    Unit = $"WL-{i + 1:00}",
                    Kind = like.Kind,
                    Make = like.Make,
                    Model = like.Model,
                    SiteId = like.SiteId,
                    ProgramId = like.ProgramId,
                    History = like.History,
                    CommissionedOn = like.CommissionedOn,
                    PlannedHoursPerDay = like.PlannedHoursPerDay,
                    Options = like.Options,
                };
                db.Machines.Add(machine);
                await db.SaveChangesAsync(Ct);
                for (var (day, hours) = (90, 100.0); day >= 1; day--, hours += Math.Round(chance.NextDouble() * 9, 1))
                {
                    db.Readings.Add(
                        new()
                        {
                            MachineId = machine.Id,
                            At = Fleet.Now.AddDays(-day).AddMinutes(chance.Next(600)),
                            ShownHours = MeterHours.Of(hours),
                            LifeHours = MeterHours.Of(hours),
                            By = "Tam Ollery",
                            EnteredAt = Fleet.Now,
                        }
                    );
                }

                db.Walks.Add(
                    new()
                    {
                        MachineId = machine.Id,
                        VersionId = walk.VersionId,
                        State = WalkState.Finished,
                        On = walk.On,
                        StartedAt = walk.StartedAt,
                        StartedBy = walk.StartedBy,
                        LifeHours = walk.LifeHours,
                        Checks = walk.Checks,
                        Answers = walk.Answers,
                        Batch = $"walk-{i}",
                    }
                );
                await db.SaveChangesAsync(Ct);
                db.ChangeTracker.Clear();
            }

            return 0;
        });
        var kit = await fleet.Do<PhoneKits, PhoneKit>(x => x.All(works: true, Ct));
        Assert.Equal(100, kit.Machines.Count);
        Assert.True(kit.Machines.Count(x => x.Readings.Count >= 170) >= 99);
        Assert.All(kit.Machines, x => Assert.NotNull(x.Last));
        using var packed = new MemoryStream();
        await using (var brotli = new BrotliStream(packed, CompressionLevel.Fastest, leaveOpen: true))
            await JsonSerializer.SerializeAsync(brotli, kit, ListJson.Options, Ct);
        Assert.InRange(packed.Length, 20_000, 300_000);
    }

    [Theory]
    [InlineData(6, 30, true)]
    [InlineData(-2, 30, false)]
    [InlineData(-30, 30, false)]
    public void A_standing_older_than_the_shift_is_not_known(int heardAtHour, int minute, bool known)
    {
        var kit = new KitMachine
        {
            Id = 1,
            Unit = "WL-01",
            Kind = "wheel-loader",
            Make = "m",
            Model = "m",
            Site = new("Yard", "Europe/London", "", false, 6 * 60, 17 * 60, 127),
            At = new DateTimeOffset(2026, 3, 16, 0, minute, 0, TimeSpan.Zero).AddHours(heardAtHour),
        };
        Assert.Equal(known, kit.IsOfThisShift(new(2026, 3, 16, 11, 0, 0, TimeSpan.Zero)));
    }
}
