using System.Net;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Nippers.App;
using Nippers.App.Oil;
using Nippers.App.Statuses;
using Nippers.Core.Hours;
using Nippers.Data;
using Nippers.Data.Fleet;
using Nippers.Data.Records;
using Nippers.Web.Hosting;

namespace Nippers.Bench;

/// <summary>How much is in a database that is measured.</summary>
/// <param name="Machines">Machines.</param>
/// <param name="Readings">Readings of each.</param>
/// <param name="Completions">Items done on each.</param>
/// <param name="Whole">Walks, visits and samples too.</param>
internal sealed record FleetSize(int Machines, int Readings, int Completions, bool Whole);

/// <summary>The big database: 500 machines and five years, 1.2 M readings, 600 k completions, 600 k walks, 150 k oil samples.</summary>
internal static class BigDatabase
{
    /// <summary>The password of its one account.</summary>
    public const string Password = "spring tide";

    private const int Machines = 500;
    private const int Readings = 2400;
    private const int Completions = 1200;
    private static readonly DateTimeOffset Start = DateTimeOffset.UtcNow.Date.AddDays(-1826);

    public static WebSettings Settings(string file) =>
        new(file, 0, TimeProvider.System, Quiet: true)
        {
            LocalOnly = true,
            SignInsPerMinute = 100_000,
            Offered = [new("mara", "Mara Quill", Roles.Planner, Password)],
        };

    /// <summary>Its planner, signed in.</summary>
    public static async Task<HttpClient> SignedIn(Uri address, CancellationToken ct)
    {
        var client = new HttpClient(new HttpClientHandler { CookieContainer = new CookieContainer() })
        {
            BaseAddress = address,
            Timeout = TimeSpan.FromMinutes(5),
        };
        await Forms.SignIn(client, "mara", Password, ct);
        return client;
    }

    /// <summary>Makes it, and its many walks, visits and samples with it.</summary>
    public static Task Make(string file, CancellationToken ct) => Make(file, new(Machines, Readings, Completions, Whole: true), ct);

    /// <summary>Makes a database.</summary>
    /// <param name="file">Where.</param>
    /// <param name="size">How much is in it.</param>
    /// <param name="ct">Cancels.</param>
    public static async Task Make(string file, FleetSize size, CancellationToken ct)
    {
        Console.Error.WriteLine($"Making {file}");
        Directory.CreateDirectory(Path.GetDirectoryName(file)!);
        foreach (var old in new[] { "", "-wal", "-shm" })
            File.Delete(file + old);
        await using var app = NippersHost.Create(Settings(file));
        await Web.Commands.Startup.Prepare(app.Services, Settings(file), ct);
        await using var scope = app.Services.CreateAsyncScope();
        var db = scope.ServiceProvider.GetRequiredService<NippersDb>();
        await scope.ServiceProvider.GetRequiredService<Setup>().AddStarters(ct);
        var programs = await db.Programs.Include(x => x.Items).ToListAsync(ct);
        var site = await db.Sites.FirstAsync(ct);
        for (var i = 0; i < size.Machines; i++)
        {
            var program = programs[i % programs.Count];
            db.Machines.Add(
                new Machine
                {
                    Unit = $"M-{i + 1:000}",
                    Kind = program.Kind,
                    Make = "Torvane",
                    Model = "T 24",
                    SiteId = site.Id,
                    ProgramId = program.Id,
                    CommissionedOn = DateOnly.FromDateTime(Start.DateTime),
                    PlannedHoursPerDay = 5,
                    Options = "ac aftertreatment=def attachment=none linkage=greased",
                    Version = 1,
                }
            );
        }

        await db.SaveChangesAsync(ct);
        var machines = await db.Machines.AsNoTracking().OrderBy(x => x.Id).ToListAsync(ct);
        await using (var transaction = await db.Database.BeginTransactionAsync(ct))
        {
            using var readings = new BulkRows<ReadingRow>(db);
            using var completions = new BulkRows<CompletionRow>(db);
            var span = (DateTimeOffset.UtcNow.AddHours(-2) - Start).TotalMilliseconds;
            foreach (var machine in machines)
            {
                var items = programs.Single(x => x.Id == machine.ProgramId).Items.Where(x => x.EveryHours > new MeterHours(100)).ToList();
                MeterHours Life(double share) => new((int)(share * 1826 * (30 + machine.Id % 40)));
                for (var i = 1; i <= size.Readings; i++)
                {
                    var at = Start.AddMilliseconds((long)(span * i / size.Readings));
                    readings.Add(
                        new()
                        {
                            MachineId = machine.Id,
                            At = at,
                            ShownHours = Life(i / (double)size.Readings),
                            LifeHours = Life(i / (double)size.Readings),
                            State = 0,
                            Source = 0,
                            By = "Bea Lund",
                            EnteredAt = at,
                        }
                    );
                }

                for (var i = 0; i < size.Completions; i++)
                {
                    var share = (i / items.Count * items.Count + machine.Id % items.Count) / (double)(size.Completions + 60);
                    var at = Start.AddMilliseconds(span * share);
                    completions.Add(
                        new()
                        {
                            MachineId = machine.Id,
                            ItemCode = items[i % items.Count].Code,
                            Kind = 0,
                            DoneOn = DateOnly.FromDateTime(at.UtcDateTime),
                            LifeHours = Life(share),
                            ShownHours = Life(share),
                            Note = "",
                            By = "Tam Ollery",
                            EnteredAt = at,
                            Batch = $"b{machine.Id}-{i / items.Count}",
                        }
                    );
                }
            }

            await transaction.CommitAsync(ct);
        }

        if (size.Whole)
        {
            await BigWalks.Make(db, machines, Start, ct);
            await BigVisits.Make(db, machines, Start, ct);
            await BigSamples.Make(
                db,
                machines,
                await db.Programs.AsNoTracking().Include(x => x.Items).Include(x => x.Compartments).AsSplitQuery().ToListAsync(ct),
                Start,
                ct
            );
        }

        await db.Database.ExecuteSqlAsync($"ANALYZE", ct);
        await scope.ServiceProvider.GetRequiredService<Standings>().Rebuild(DateTimeOffset.UtcNow, ct);
        await scope.ServiceProvider.GetRequiredService<FleetLimits>().Derive(ct);
        SqliteConnection.ClearAllPools();
        Console.Error.WriteLine($"Made: {new FileInfo(file).Length >> 20} MB");
    }
}
