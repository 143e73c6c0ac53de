using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Time.Testing;
using Nippers.Data;
using Nippers.Demo;
using Nippers.Web.Commands;
using Nippers.Web.Hosting;

namespace Nippers.Tests;

/// <summary>The whole application on a free port, with the demo fleet or an empty database and a clock that stands.</summary>
public sealed class DemoApp : IAsyncDisposable
{
    private static readonly Lazy<Task<byte[]>> Template = new(MakeTemplate);

    private readonly string _folder;
    private readonly Microsoft.AspNetCore.Builder.WebApplication _app;

    private DemoApp(string folder, FakeTimeProvider clock, Microsoft.AspNetCore.Builder.WebApplication app)
    {
        (_folder, Clock, _app) = (folder, clock, app);
        Address = new Uri($"http://127.0.0.1:{new Uri(app.Urls.First()).Port}/");
    }

    /// <summary>The morning on which every test begins, whatever the day is outside: a Wednesday.</summary>
    public static DateTimeOffset Now { get; } = DemoDatabase.MorningOf(new(2026, 11, 25));

    /// <summary>Between two rounds to the laboratories: seldom, for a clock that is set forward by days rings each of them.</summary>
    public static readonly TimeSpan LabRound = TimeSpan.FromMinutes(10);

    public FakeTimeProvider Clock { get; }

    public Uri Address { get; }

    /// <summary>The database file.</summary>
    public string File => Path.Combine(_folder, "fleet.db");

    public IServiceProvider Services => _app.Services;

    /// <summary>Starts with the demo fleet, or with nothing and nobody.</summary>
    public static async Task<DemoApp> Start(
        bool demo = true,
        int signInsPerMinute = 10_000,
        bool health = false,
        int apiCallsPerMinute = 600,
        Func<WebSettings, WebSettings>? with = null
    )
    {
        var folder = Directory.CreateTempSubdirectory("nippers-web-").FullName;
        var file = Path.Combine(folder, "fleet.db");
        if (demo)
            await System.IO.File.WriteAllBytesAsync(file, await Template.Value);
        var clock = new FakeTimeProvider(Now);
        var settings = new WebSettings(file, 0, clock, Quiet: true)
        {
            Offered = demo ? DemoAccounts.All : [],
            SignInsPerMinute = signInsPerMinute,
            LocalOnly = true,
            LabRound = LabRound,
            MailRound = LabRound,
            FeedRound = LabRound,
            Health = health,
            ApiCallsPerMinute = apiCallsPerMinute,
        };
        settings = with?.Invoke(settings) ?? settings;
        var app = NippersHost.Create(settings);
        await Startup.Prepare(app.Services, settings, default);
        await app.StartAsync();
        return new(folder, clock, app);
    }

    public async Task<T> Ask<T>(Func<NippersDb, Task<T>> question)
    {
        await using var scope = Services.CreateAsyncScope();
        return await question(scope.ServiceProvider.GetRequiredService<NippersDb>());
    }

    public async ValueTask DisposeAsync()
    {
        await _app.StopAsync();
        await _app.DisposeAsync();
        Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
        Directory.Delete(_folder, recursive: true);
    }

    private static async Task<byte[]> MakeTemplate()
    {
        var folder = Directory.CreateTempSubdirectory("nippers-demo-").FullName;
        var settings = new WebSettings(Path.Combine(folder, "demo.db"), 0, new FakeTimeProvider(Now), Quiet: true)
        {
            Offered = DemoAccounts.All,
            LocalOnly = true,
        };
        await using (var app = NippersHost.Create(settings))
        {
            await Startup.Prepare(app.Services, settings, default);
            await DemoDatabase.Fill(app.Services, default);
            await using var scope = app.Services.CreateAsyncScope();
            await scope.ServiceProvider.GetRequiredService<NippersDb>().BackUp(Path.Combine(folder, "copy.db"), default);
        }

        Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
        var bytes = await System.IO.File.ReadAllBytesAsync(Path.Combine(folder, "copy.db"));
        Directory.Delete(folder, recursive: true);
        return bytes;
    }
}
