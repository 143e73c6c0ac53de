using System.Diagnostics;
using System.Globalization;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Nippers.App.Mail;
using Nippers.Core.Hours;
using Nippers.Data;
using Nippers.Data.Feeds;
using Nippers.Data.Mail;

namespace Nippers.Bench;

/// <summary>
/// What feeds and messages leave in the big database: each machine in a feed for three days, a hundred codes, a thousand messages.
/// </summary>
internal static class BigTold
{
    private const int Messages = 1000;
    private const int CodeEvery = 5;
    private const int Points = 3 * 24 * 4;
    private const int Rounds = 10;

    /// <summary>Puts it there, where it is not, and says how long a round of messages takes.</summary>
    public static async Task Make(IServiceProvider services, NippersDb db, CancellationToken ct)
    {
        if (!await db.Feeds.AnyAsync(ct))
            await Fill(db, ct);
        await db.MailServers.ExecuteUpdateAsync(x => x.SetProperty(s => s.On, true), ct);
        var round = services.GetRequiredService<MailRound>();
        await round.Run(ct);
        var times = new List<double>();
        for (var i = 0; i < Rounds; i++)
        {
            db.ChangeTracker.Clear();
            var watch = Stopwatch.StartNew();
            await round.Run(ct);
            times.Add(watch.Elapsed.TotalMilliseconds);
        }

        await db.MailServers.ExecuteUpdateAsync(x => x.SetProperty(s => s.On, false), ct);
        times.Sort();
        Console.WriteLine(
            string.Create(CultureInfo.InvariantCulture, $"mail: a round {times[Rounds / 2]:0.0} ms, the slowest {times[^1]:0.0} ms")
        );
    }

    private static async Task Fill(NippersDb db, CancellationToken ct)
    {
        var now = DateTimeOffset.UtcNow;
        var feed = db.Feeds.Add(new() { Name = "Bench", Url = "http://127.0.0.1:9/" }).Entity;
        var user = await db.Users.OrderBy(x => x.Id).FirstAsync(ct);
        db.MailServers.Add(
            new()
            {
                Host = "127.0.0.1",
                Port = 9,
                From = "nippers@bench.invalid",
                OwnNetwork = true,
                Since = now,
            }
        );
        db.MailPeople.Add(
            new()
            {
                UserId = user.Id,
                Address = "bench@bench.invalid",
                AllSites = true,
                MorningAt = 0,
                Stops = MailWhen.AtOnce,
                Samples = MailWhen.AtOnce,
                Limits = MailWhen.Morning,
                Walks = MailWhen.Morning,
                Stock = MailWhen.Morning,
            }
        );
        db.SiteContacts.AddRange((await db.Sites.ToListAsync(ct)).Select(x => new SiteContactRow { SiteId = x.Id, UserId = user.Id }));
        await db.SaveChangesAsync(ct);
        var machines = await db.Machines.OrderBy(x => x.Id).ToListAsync(ct);
        foreach (var machine in machines)
        {
            db.FeedMachines.Add(
                new()
                {
                    FeedId = feed.Id,
                    Equipment = machine.Unit,
                    MachineId = machine.Id,
                    SeenAt = now,
                    Hours = 1000,
                    HoursAt = now,
                    IdleHours = 300,
                    FuelPercent = 60,
                    FuelAt = now,
                    OffsetHours = 12,
                    Pairs = 9,
                }
            );
            if (machine.Id % CodeEvery == 0)
                db.FeedCodes.Add(
                    new()
                    {
                        MachineId = machine.Id,
                        Code = "97/15",
                        Since = now,
                        LifeHours = new MeterHours(10_000),
                    }
                );
        }

        for (var i = 0; i < Messages; i++)
        {
            db.Mail.Add(
                new()
                {
                    Kind = MailKind.Morning,
                    State = MailState.Sent,
                    Address = "bench@bench.invalid",
                    Name = "Bench",
                    UserId = user.Id,
                    MadeAt = now.AddHours(-i),
                    SentAt = now.AddHours(-i),
                    Subject = "Message",
                    Text = "text",
                    Html = "<p>text</p>",
                }
            );
        }

        await db.SaveChangesAsync(ct);
        db.ChangeTracker.Clear();
        await using var transaction = await db.Database.BeginTransactionAsync(ct);
        using var points = new BulkRows<FeedPointRow>(db);
        foreach (var row in await db.FeedMachines.Select(x => x.Id).ToListAsync(ct))
        {
            for (var i = 0; i < Points; i++)
            {
                points.Add(
                    new FeedPointRow
                    {
                        FeedMachineId = row,
                        At = now.AddMinutes(-15 * i),
                        Hours = 1000 - (i * 0.1),
                    }
                );
            }
        }

        await transaction.CommitAsync(ct);
    }
}
