using Microsoft.AspNetCore.Identity;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Migrations;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.DependencyInjection.Extensions;
using Nippers.App.Defects;
using Nippers.App.Exchange;
using Nippers.App.Kinds;
using Nippers.App.Machines;
using Nippers.App.Oil;
using Nippers.App.Parts;
using Nippers.App.People;
using Nippers.App.Phones;
using Nippers.App.Programs;
using Nippers.App.Quick;
using Nippers.App.Readings;
using Nippers.App.Statuses;
using Nippers.App.Today;
using Nippers.App.Visits;
using Nippers.App.Walks;
using Nippers.App.Work;
using Nippers.Data;
using Nippers.Data.People;

namespace Nippers.App;

/// <summary>Puts the use cases together, alike for pages, API, command line and tests.</summary>
public static class Services
{
    public static IServiceCollection AddNippers(this IServiceCollection services, string databaseFile)
    {
        // One set of options for all: programs are kept by them.
        services.AddSingleton(_ => new KeptConnections(databaseFile));
        services.AddDbContext<NippersDb>(
            options => NippersDb.Configure(options, databaseFile),
            ServiceLifetime.Scoped,
            ServiceLifetime.Singleton
        );
        services.AddSingleton<WriteGate>();
        services.AddScoped<DefectClocks>().AddScoped<StatusKeeper>().AddScoped<Standings>().AddScoped<UnitOfWork>();
        services
            .AddScoped<DefectService>()
            .AddScoped<ReportDefect>()
            .AddScoped<GradeDefect>()
            .AddScoped<RepairDefect>()
            .AddScoped<DefectNotes>()
            .AddScoped<VouchCheck>()
            .AddScoped<DefectViews>();
        services.AddScoped<LogReading>().AddScoped<DecideReading>().AddScoped<ReplaceMeter>().AddScoped<LogOdometer>();
        services.AddScoped<RecordWork>().AddScoped<VoidWork>().AddScoped<DeclareBaseline>();
        services
            .AddScoped<SaveMachine>()
            .AddScoped<ParkMachine>()
            .AddScoped<MachineView>()
            .AddScoped<MachineList>()
            .AddScoped<MachineHistory>();
        services.AddScoped<ChangeProgram>().AddScoped<ProgramViews>();
        services
            .AddScoped<StartWalk>()
            .AddScoped<LeaveMachine>()
            .AddScoped<Today.PersonView>()
            .AddScoped<SaveAnswer>()
            .AddScoped<FinishWalk>()
            .AddScoped<VoidWalk>()
            .AddScoped<WalkViews>()
            .AddScoped<MachineLimits>()
            .AddScoped<LogTopUp>()
            .AddScoped<SubmitWalk>()
            .AddScoped<WalkFeed>()
            .AddScoped<ChangeWalkList>()
            .AddScoped<KindCatalog>()
            .AddScoped<UnitNames>()
            .AddScoped<ReadingFeed>()
            .AddScoped<Somebody>()
            .AddScoped<PhoneKits>()
            .AddScoped<TakeEntry>();
        services
            .AddScoped<WorkshopService>()
            .AddScoped<VisitProposals>()
            .AddScoped<PlanVisit>()
            .AddScoped<OpenCard>()
            .AddScoped<SaveStep>()
            .AddScoped<LeaveItem>()
            .AddScoped<HandOver>()
            .AddScoped<Van>()
            .AddScoped<EnterCard>()
            .AddScoped<CloseVisit>()
            .AddScoped<VisitViews>()
            .AddScoped<MachineData>();
        services.AddSingleton<PlansKept>().AddSingleton<NeedsKept>().AddScoped<PartNeeds>().AddScoped<PartCatalog>().AddScoped<PartViews>();
        services
            .AddScoped<OilCatalog>()
            .AddScoped<JudgeSample>()
            .AddScoped<TakeSample>()
            .AddScoped<Bottles>()
            .AddScoped<SendSamples>()
            .AddScoped<TakeResults>()
            .AddScoped<LabOutbox>()
            .AddScoped<LabImport>()
            .AddScoped<ReviewSample>();
        services
            .AddSingleton<LimitsDerived>()
            .AddScoped<DrainWatch>()
            .AddScoped<FleetLimits>()
            .AddScoped<OilLimits>()
            .AddScoped<NewOils>()
            .AddScoped<Labs>()
            .AddScoped<CoolantTests>()
            .AddScoped<SampleQueues>()
            .AddScoped<SampleViews>();
        services
            .AddSingleton<Weeks.PlanDesk>()
            .AddScoped<Weeks.CrewBook>()
            .AddScoped<Weeks.FleetJobs>()
            .AddScoped<Weeks.PlanWeeks>()
            .AddScoped<Weeks.WeekViews>()
            .AddScoped<Weeks.Calendars>();
        services
            .AddScoped<Feeds.FeedIntake>()
            .AddScoped<Feeds.FeedCodes>()
            .AddScoped<Feeds.FeedHours>()
            .AddScoped<Feeds.FeedRound>()
            .AddScoped<Feeds.FeedBook>()
            .AddScoped<Feeds.TelemetryImport>();
        services.AddScoped<Mail.MailRound>().AddScoped<Mail.MailPost>().AddScoped<Mail.MailBook>();
        services.AddScoped<TodayView>().AddScoped<QuickRun>();
        services
            .AddScoped<ExportFleet>()
            .AddScoped<ExportVisits>()
            .AddScoped<OilExport>()
            .AddScoped<ImportFleet>()
            .AddScoped<ReadingsImport>();
        services.TryAddSingleton<IPasswordHasher<NippersUser>>(_ => new PasswordHasher<NippersUser>());
        services.AddScoped<PeopleBook>().AddScoped<AuditView>().AddScoped<Backups.Backups>().AddScoped<Backups.HealthView>();
        services.AddSingleton<Languages.PhrasesKept>().AddScoped<Languages.PhraseBook>();
        services.AddScoped<ApiTokens>().AddScoped<FirstSite>().AddScoped<SettingsView>().AddScoped<PublicAddress>().AddScoped<Setup>();
        return services;
    }
}

/// <summary>A database that a newer program made.</summary>
public sealed class NewerDatabaseException : Exception;

/// <summary>A database with tables of something else.</summary>
public sealed class StrangeDatabaseException : Exception;

/// <summary>Brings a database to the newest shape, and a new one to its starter programs.</summary>
public sealed class Setup(NippersDb db, TimeProvider clock)
{
    // EF Core's own, learn.microsoft.com/ef/core/providers/sqlite/limitations.
    private const string MigrationLock = "__EFMigrationsLock";

    /// <summary>Applies migrations, after a copy of the file beside it when there is something to migrate.</summary>
    /// <returns>The copy's path; null when none was needed.</returns>
    public async Task<string?> Migrate(CancellationToken ct)
    {
        string? copy = null;
        await Know(ct);
        if (!(await db.Database.GetPendingMigrationsAsync(ct)).Any())
            return null;
        if ((await db.Database.GetAppliedMigrationsAsync(ct)).Any())
        {
            copy = $"{db.Database.GetDbConnection().DataSource}.{clock.GetUtcNow():yyyyMMdd-HHmmss}.bak";
            await db.BackUp(copy, ct);
        }

        // Whoever was killed while it migrated left its lock behind, and EF Core waits for it for ever. Nobody else is at work on this
        // file: whoever migrates it has it alone.
        await db.Database.ExecuteSqlRawAsync("DROP TABLE IF EXISTS " + MigrationLock, ct);
        await db.Database.MigrateAsync(ct);
        return copy;
    }

    /// <summary>Refuses what this program cannot know: it would read it wrongly, and write it so.</summary>
    /// <exception cref="NewerDatabaseException">A newer program made it.</exception>
    /// <exception cref="StrangeDatabaseException">It holds tables of something else.</exception>
    public async Task Know(CancellationToken ct)
    {
        // Looked at without touching it: a connection that works sets how the file keeps its log.
        var file = db.Database.GetDbConnection().DataSource;
        if (!File.Exists(file))
            return;
        var text = new SqliteConnectionStringBuilder
        {
            DataSource = file,
            Mode = SqliteOpenMode.ReadOnly,
            Pooling = false,
        }.ToString();
        await using var look = new SqliteConnection(text);
        await look.OpenAsync(ct);
        var tables = await Names(look, "SELECT name FROM sqlite_master WHERE type = 'table'", ct);
        if (!tables.Contains(HistoryRepository.DefaultTableName))
        {
            if (tables.Exists(x => x != MigrationLock))
                throw new StrangeDatabaseException();
            return;
        }

        var applied = await Names(look, $"SELECT MigrationId FROM {HistoryRepository.DefaultTableName}", ct);
        if (applied.Except(db.Database.GetMigrations()).Any())
            throw new NewerDatabaseException();
    }

    private static async Task<List<string>> Names(SqliteConnection look, string sql, CancellationToken ct)
    {
        await using var command = look.CreateCommand();
        command.CommandText = sql;
        await using var rows = await command.ExecuteReaderAsync(ct);
        var names = new List<string>();
        while (await rows.ReadAsync(ct))
            names.Add(rows.GetString(0));
        return names;
    }

    /// <summary>
    /// Adds the starter programs and walk lists that are not there yet, those of kinds that came with a newer Nippers too, and a first
    /// site. What is there under a starter's code stays as it is.
    /// </summary>
    public async Task AddStarters(CancellationToken ct)
    {
        var programs = await db.Programs.Select(x => x.Code).ToListAsync(ct);
        if (programs.Count > 0)
            await CompletePrograms(ct);
        db.Programs.AddRange(StarterPrograms.All().Where(x => !programs.Contains(x.Code)));
        var lists = await db.WalkLists.Select(x => x.Code).ToListAsync(ct);
        db.WalkListVersions.AddRange(StarterLists.Rows().Where(x => !lists.Contains(x.List.Code)));
        if (!await db.Sites.AnyAsync(ct))
            db.Sites.Add(new() { Name = "Yard", TimeZone = "UTC" });
        await db.SaveChangesAsync(ct);
    }

    /// <summary>Programs from before visits say nothing of work, minutes and fluids: they take it from the starters, by code.</summary>
    private async Task CompletePrograms(CancellationToken ct)
    {
        var bare = await db
            .Programs.AsSplitQuery()
            .Include(x => x.Items)
            .Include(x => x.Compartments)
            .Where(x => x.Compartments.Count > 0 && x.Compartments.All(c => c.Stream == ""))
            .ToListAsync(ct);
        if (bare.Count == 0)
            return;
        var items = StarterPrograms
            .All()
            .SelectMany(x => x.Items)
            .GroupBy(x => x.Code)
            .ToDictionary(x => x.Key, x => x.First(), StringComparer.Ordinal);
        var compartments = StarterPrograms
            .All()
            .SelectMany(x => x.Compartments)
            .GroupBy(x => x.Code)
            .ToDictionary(x => x.Key, x => x.First(), StringComparer.Ordinal);
        foreach (var program in bare)
        {
            program.Version++;
            foreach (var item in program.Items)
            {
                if (!items.TryGetValue(item.Code, out var like))
                    continue;
                var covers = like.Covers.Split(' ').Where(x => program.Items.Exists(i => i.Code == x));
                (item.Work, item.Minutes, item.Covers, item.Access) = (like.Work, like.Minutes, string.Join(' ', covers), like.Access);
            }

            foreach (var compartment in program.Compartments)
            {
                if (!compartments.TryGetValue(compartment.Code, out var like))
                    continue;
                (compartment.Stream, compartment.Traits, compartment.DrainMinutes, compartment.SettleMinutes, compartment.Fluids) = (
                    like.Stream,
                    like.Traits,
                    like.DrainMinutes,
                    like.SettleMinutes,
                    like.Fluids
                );
            }
        }
    }
}
