using System.Data.Common;
using System.Globalization;
using Microsoft.AspNetCore.Identity.EntityFrameworkCore;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Design;
using Microsoft.EntityFrameworkCore.Diagnostics;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Nippers.Core.Hours;
using Nippers.Core.Numbers;
using Nippers.Data.Defects;
using Nippers.Data.Feeds;
using Nippers.Data.Fleet;
using Nippers.Data.Languages;
using Nippers.Data.Mail;
using Nippers.Data.Oil;
using Nippers.Data.Parts;
using Nippers.Data.People;
using Nippers.Data.Programs;
using Nippers.Data.Records;
using Nippers.Data.Visits;
using Nippers.Data.Walks;
using Nippers.Data.Weeks;

namespace Nippers.Data;

/// <summary>The database: SQLite, WAL, one writer at a time by short immediate transactions.</summary>
public sealed class NippersDb : IdentityDbContext<NippersUser>
{
    private readonly DbContextOptions<NippersDb> _options;
    private readonly KeptConnections? _kept;
    private SqliteConnection? _connection;

    /// <summary>A context with a connection of its own.</summary>
    public NippersDb(DbContextOptions<NippersDb> options)
        : base(options) => _options = options;

    /// <summary>A context with a connection that the next one has after it.</summary>
    /// <param name="options">Where the database is, and how it is asked.</param>
    /// <param name="kept">The connections of the same database.</param>
    public NippersDb(DbContextOptions<NippersDb> options, KeptConnections kept)
        : this(options)
    {
        _kept = kept;
        _connection = kept.Take();
        Database.SetDbConnection(_connection, contextOwnsConnection: false);
    }

    public DbSet<Site> Sites => Set<Site>();
    public DbSet<Machine> Machines => Set<Machine>();
    public DbSet<MachineCompartment> MachineCompartments => Set<MachineCompartment>();
    public DbSet<ParkedRow> Parked => Set<ParkedRow>();
    public DbSet<MeterChange> MeterChanges => Set<MeterChange>();
    public DbSet<MachineStatusRow> Statuses => Set<MachineStatusRow>();
    public DbSet<ReadingRow> Readings => Set<ReadingRow>();
    public DbSet<OdometerRow> OdometerReadings => Set<OdometerRow>();
    public DbSet<CompletionRow> Completions => Set<CompletionRow>();
    public DbSet<AuditRow> Audit => Set<AuditRow>();
    public DbSet<EndedSession> EndedSessions => Set<EndedSession>();
    public DbSet<ResetCode> ResetCodes => Set<ResetCode>();
    public DbSet<BackupPlan> BackupPlans => Set<BackupPlan>();
    public DbSet<WriteKey> WriteKeys => Set<WriteKey>();
    public DbSet<ImportDraft> ImportDrafts => Set<ImportDraft>();
    public DbSet<ServiceProgram> Programs => Set<ServiceProgram>();
    public DbSet<ProgramCompartment> ProgramCompartments => Set<ProgramCompartment>();
    public DbSet<ProgramItem> ProgramItems => Set<ProgramItem>();
    public DbSet<WalkList> WalkLists => Set<WalkList>();
    public DbSet<WalkListVersion> WalkListVersions => Set<WalkListVersion>();
    public DbSet<MachineCheck> MachineChecks => Set<MachineCheck>();
    public DbSet<WalkRow> Walks => Set<WalkRow>();
    public DbSet<WalkAnswerRow> WalkAnswers => Set<WalkAnswerRow>();
    public DbSet<MeasureRow> Measures => Set<MeasureRow>();
    public DbSet<TopUpRow> TopUps => Set<TopUpRow>();
    public DbSet<CheckDoneRow> ChecksDone => Set<CheckDoneRow>();
    public DbSet<LaterCheckRow> LaterChecks => Set<LaterCheckRow>();
    public DbSet<ParkingRow> Parkings => Set<ParkingRow>();
    public DbSet<MachineCode> MachineCodes => Set<MachineCode>();
    public DbSet<WalkPhoto> WalkPhotos => Set<WalkPhoto>();
    public DbSet<DefectRow> Defects => Set<DefectRow>();
    public DbSet<DefectEvent> DefectEvents => Set<DefectEvent>();
    public DbSet<DefectPhoto> DefectPhotos => Set<DefectPhoto>();
    public DbSet<PhotoBytes> PhotoBytes => Set<PhotoBytes>();
    public DbSet<Stoppage> Stoppages => Set<Stoppage>();
    public DbSet<PartRow> Parts => Set<PartRow>();
    public DbSet<PartAlternate> PartAlternates => Set<PartAlternate>();
    public DbSet<FilterPosition> FilterPositions => Set<FilterPosition>();
    public DbSet<FilterLogRow> FilterLog => Set<FilterLogRow>();
    public DbSet<StockMove> StockMoves => Set<StockMove>();
    public DbSet<ShelfRow> Shelves => Set<ShelfRow>();
    public DbSet<WasteRow> Waste => Set<WasteRow>();
    public DbSet<OnBoardRow> OnBoard => Set<OnBoardRow>();
    public DbSet<FluidRow> Fluids => Set<FluidRow>();
    public DbSet<VisitRow> Visits => Set<VisitRow>();
    public DbSet<VisitItemRow> VisitItems => Set<VisitItemRow>();
    public DbSet<VisitDefect> VisitDefects => Set<VisitDefect>();
    public DbSet<StepRow> Steps => Set<StepRow>();
    public DbSet<StepMinutesRow> StepMinutes => Set<StepMinutesRow>();
    public DbSet<VanLine> VanLines => Set<VanLine>();
    public DbSet<StepPhoto> StepPhotos => Set<StepPhoto>();
    public DbSet<SampleRow> Samples => Set<SampleRow>();
    public DbSet<ReportRow> Reports => Set<ReportRow>();
    public DbSet<JudgementRow> Judgements => Set<JudgementRow>();
    public DbSet<BottleRow> Bottles => Set<BottleRow>();
    public DbSet<LabRow> Labs => Set<LabRow>();
    public DbSet<ConsignmentRow> Consignments => Set<ConsignmentRow>();
    public DbSet<UnmatchedResultRow> UnmatchedResults => Set<UnmatchedResultRow>();
    public DbSet<LimitRow> OilLimits => Set<LimitRow>();
    public DbSet<FleetLimitRow> FleetLimits => Set<FleetLimitRow>();
    public DbSet<NewOilRow> NewOils => Set<NewOilRow>();
    public DbSet<WorkRequestRow> WorkRequests => Set<WorkRequestRow>();
    public DbSet<DrainChangeRow> DrainChanges => Set<DrainChangeRow>();
    public DbSet<CoolantTestRow> CoolantTests => Set<CoolantTestRow>();
    public DbSet<Shop> Shop => Set<Shop>();
    public DbSet<CrewRow> Crew => Set<CrewRow>();
    public DbSet<AwayRow> Away => Set<AwayRow>();
    public DbSet<RoadRow> Roads => Set<RoadRow>();
    public DbSet<BusyRow> Busy => Set<BusyRow>();
    public DbSet<PlannedJob> PlannedJobs => Set<PlannedJob>();
    public DbSet<CalendarLink> CalendarLinks => Set<CalendarLink>();
    public DbSet<KeptPlan> KeptPlans => Set<KeptPlan>();
    public DbSet<DraftPlan> DraftPlans => Set<DraftPlan>();
    public DbSet<PartOrder> PartOrders => Set<PartOrder>();
    public DbSet<FeedRow> Feeds => Set<FeedRow>();
    public DbSet<FeedMachineRow> FeedMachines => Set<FeedMachineRow>();
    public DbSet<FeedPointRow> FeedPoints => Set<FeedPointRow>();
    public DbSet<FeedCodeRow> FeedCodes => Set<FeedCodeRow>();
    public DbSet<FeedPairRow> FeedPairs => Set<FeedPairRow>();
    public DbSet<MailServerRow> MailServers => Set<MailServerRow>();
    public DbSet<MailPerson> MailPeople => Set<MailPerson>();
    public DbSet<SiteContactRow> SiteContacts => Set<SiteContactRow>();
    public DbSet<MailRow> Mail => Set<MailRow>();
    public DbSet<MailTold> MailTold => Set<MailTold>();
    public DbSet<ApiToken> ApiTokens => Set<ApiToken>();
    public DbSet<PhraseRow> Phrases => Set<PhraseRow>();
    public DbSet<Installation> Installations => Set<Installation>();

    /// <summary>Some programs with all that belongs to them, by id; see <see cref="ProgramsKept"/>. Nobody changes what he gets here.</summary>
    public Task<Dictionary<int, ServiceProgram>> KeptPrograms(IReadOnlyCollection<int> ids, CancellationToken ct) =>
        ProgramsKept.For(_options).Of(this, ids, ct);

    /// <summary>How long a write waits for another program that writes, s; then whoever asked is told.</summary>
    public const int BusySeconds = 8;

    /// <summary>Connection string of a database file.</summary>
    public static string ConnectionString(string file) =>
        new SqliteConnectionStringBuilder
        {
            DataSource = file,
            ForeignKeys = true,
            DefaultTimeout = BusySeconds,
        }.ToString();

    /// <summary>Options for a database file.</summary>
    public static DbContextOptionsBuilder Configure(DbContextOptionsBuilder options, string file) =>
        Configure(options.UseSqlite(ConnectionString(file), Ask));

    /// <summary>Options for a connection that somebody else opens and closes.</summary>
    public static DbContextOptionsBuilder<NippersDb> Configure(DbContextOptionsBuilder<NippersDb> options, SqliteConnection connection)
    {
        Configure(options.UseSqlite(connection, Ask));
        return options;
    }

    // One parameter for a list, however long: the text of a question is then made once and not at each request.
    private static void Ask(SqliteDbContextOptionsBuilder options) =>
        options.UseParameterizedCollectionMode(ParameterTranslationMode.Parameter);

    private static DbContextOptionsBuilder Configure(DbContextOptionsBuilder options) =>
        options
            // Whether the migrations make the shape that is asked is asked once, by a test: it takes a second of each start.
            .ConfigureWarnings(x => x.Ignore(RelationalEventId.PendingModelChangesWarning))
            .AddInterceptors(
                Pragmas.Instance,
                AuditChain.Chaining.Instance,
                ProgramsKept.Counting.Instance,
                KeptConnections.Commands.Instance
            );

    /// <inheritdoc />
    public override void Dispose()
    {
        base.Dispose();
        GiveBack();
    }

    /// <inheritdoc />
    public override async ValueTask DisposeAsync()
    {
        await base.DisposeAsync();
        GiveBack();
    }

    private void GiveBack()
    {
        if (Interlocked.Exchange(ref _connection, null) is { } connection)
            _kept!.Give(connection);
    }

    protected override void ConfigureConventions(ModelConfigurationBuilder configurationBuilder)
    {
        base.ConfigureConventions(configurationBuilder);
        configurationBuilder.Properties<DateTimeOffset>().HaveConversion<InstantConverter>();
        configurationBuilder.Properties<Money>().HaveConversion<MoneyConverter>();
        configurationBuilder.Properties<Litres>().HaveConversion<LitresConverter>();
        configurationBuilder.Properties<MeterHours>().HaveConversion<HoursConverter>();
        configurationBuilder.Properties<Fleet.MachineKind>().HaveConversion<Fleet.MachineKindConverter>();
    }

    protected override void OnModelCreating(ModelBuilder builder)
    {
        base.OnModelCreating(builder);
        builder.ApplyConfigurationsFromAssembly(typeof(NippersDb).Assembly);
        KeptNames.Apply(builder);
    }

    /// <summary>
    /// Sets what SQLite keeps per connection, and keeps the connection for as long as its context lives: a page asks some twenty
    /// questions, and taking a connection from the pool and setting it up for each of them takes as long as the question.
    /// </summary>
    private sealed class Pragmas : DbConnectionInterceptor
    {
        public static readonly Pragmas Instance = new();
        private static readonly string Wait = string.Create(CultureInfo.InvariantCulture, $"PRAGMA busy_timeout={BusySeconds * 1000};");
        private static readonly string Text = "PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL; " + Wait;

        public override void ConnectionOpened(DbConnection connection, ConnectionEndEventData eventData)
        {
            using var command = connection.CreateCommand();
            // The provider asks whether a database is there through a read-only connection, and an empty file cannot be changed
            // to WAL through that.
            command.CommandText =
                new SqliteConnectionStringBuilder(connection.ConnectionString).Mode == SqliteOpenMode.ReadOnly ? Wait : Text;
            command.ExecuteNonQuery();
            eventData.Context?.Database.OpenConnection();
        }

        public override Task ConnectionOpenedAsync(
            DbConnection connection,
            ConnectionEndEventData eventData,
            CancellationToken cancellationToken = default
        )
        {
            // The provider has no asynchronous pragma; the call takes microseconds.
            ConnectionOpened(connection, eventData);
            return Task.CompletedTask;
        }
    }
}

/// <summary>For <c>dotnet ef</c> alone.</summary>
internal sealed class DesignTimeFactory : IDesignTimeDbContextFactory<NippersDb>
{
    public NippersDb CreateDbContext(string[] args)
    {
        var options = new DbContextOptionsBuilder<NippersDb>();
        NippersDb.Configure(options, "design.db");
        return new(options.Options);
    }
}
