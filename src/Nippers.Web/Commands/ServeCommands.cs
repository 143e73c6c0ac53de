using System.CommandLine;
using System.Net;
using System.Security.Cryptography;
using System.Security.Cryptography.X509Certificates;
using Nippers.App;
using Nippers.Data;
using Nippers.Web.Hosting;

namespace Nippers.Web.Commands;

/// <summary>Commands that serve pages.</summary>
public static class ServeCommands
{
    private const int DefaultPort = 5080;

    /// <summary>The port to listen on.</summary>
    public static Option<int> Port() => new("--port") { Description = "Port to listen on.", DefaultValueFactory = _ => DefaultPort };

    public static Command Serve()
    {
        var db = new Option<FileInfo>("--db") { Description = "Database file.", Required = true };
        var fresh = new Option<bool>("--new") { Description = "Make the database; without it a missing one is an error." };
        var everywhere = new Option<bool>("--everywhere")
        {
            Description = "Listen on all addresses of this machine; without it on itself alone, as behind a proxy.",
        };
        var https = new Option<FileInfo?>("--https")
        {
            Description = "Certificate to speak https with: a PEM file with its chain, or a PFX without a password.",
        };
        var key = new Option<FileInfo?>("--https-key") { Description = "The certificate's key, PEM, where it lies in a file of its own." };
        var proxy = new Option<IPAddress[]>("--proxy")
        {
            Description = "Address of a proxy whose word on who asked, and how, is believed. May be said more than once.",
            CustomParser = x =>
            {
                var found = x.Tokens.Select(y => IPAddress.TryParse(y.Value, out var ip) ? ip : null).ToList();
                if (found.Contains(null))
                    x.AddError(CommandWords.Say("--proxy needs an address such as 10.0.0.7."));
                return [.. found.OfType<IPAddress>()];
            },
        };
        var health = new Option<bool>("--health") { Description = "Answer on /healthz how the installation does, to anybody." };
        var metrics = new Option<bool>("--metrics") { Description = "Show figures on /metrics, to anybody." };
        var lines = new Option<bool>("--log-json") { Description = "A line of JSON for each request and each fault, on standard error." };
        var cold = new Option<bool>("--cold")
        {
            Description = "Go through no page before somebody asks: a quicker start, and slower first pages.",
        };
        var port = Port();
        var command = new Command("serve", "Serves a fleet. The first visit asks for the first planner.")
        {
            db,
            fresh,
            port,
            everywhere,
            https,
            key,
            proxy,
            health,
            metrics,
            lines,
            cold,
        };
        command.SetAction(
            async (given, ct) =>
            {
                var file = given.GetValue(db)!;
                if (!file.Exists && !given.GetValue(fresh))
                    return await FileCommands.Say(Guard.BadInput, $"There is no database {file}. With --new it is made.");
                if (file.Exists && DatabaseMark.IsDemo(file.FullName))
                    return await FileCommands.Say(
                        Guard.BadInput,
                        $"{file} is a demo: its passwords are known to everybody. Only demo serves it."
                    );
                if (!TryRead(given.GetValue(https), given.GetValue(key), out var certificate))
                    return await FileCommands.Say(
                        Guard.BadInput,
                        $"{given.GetValue(https)?.FullName ?? given.GetValue(key)?.FullName} holds no certificate with its key that can be read."
                    );
                return await Run(
                    new(file.FullName, given.GetValue(port), TimeProvider.System)
                    {
                        LocalOnly = !given.GetValue(everywhere),
                        Health = given.GetValue(health),
                        Metrics = given.GetValue(metrics),
                        WarmUp = !given.GetValue(cold),
                        LogTo = given.GetValue(lines) ? Console.Error : null,
                        Certificate = certificate,
                        Proxies = given.GetValue(proxy) ?? [],
                    },
                    null,
                    ct
                );
            }
        );
        return command;
    }

    /// <summary>Reads a certificate with its key.</summary>
    /// <returns>False when a file is named that holds none.</returns>
    private static bool TryRead(FileInfo? file, FileInfo? key, out X509Certificate2? certificate)
    {
        certificate = null;
        if (file is null)
            return key is null;
        try
        {
            if (file.Extension is ".pfx" or ".p12")
            {
                certificate = X509CertificateLoader.LoadPkcs12FromFile(file.FullName, password: null);
            }
            else
            {
                // Loaded once more from memory: some platforms can't serve with a key that was read from text.
                using var read = X509Certificate2.CreateFromPemFile(file.FullName, key?.FullName);
                certificate = X509CertificateLoader.LoadPkcs12(read.Export(X509ContentType.Pkcs12), password: null);
            }

            return certificate.HasPrivateKey;
        }
        catch (Exception fault) when (fault is CryptographicException or IOException or UnauthorizedAccessException)
        {
            return false;
        }
    }

    /// <summary>Serves until it is stopped.</summary>
    /// <param name="settings">File, port, clock.</param>
    /// <param name="fill">Fills the database before the first request; null leaves it as it is.</param>
    /// <param name="ct">Stops it.</param>
    public static Task<int> Run(WebSettings settings, Func<IServiceProvider, Task>? fill, CancellationToken ct) =>
        Guard.Alone(settings.DatabaseFile, "Stop that one, or serve another file.", async () =>
        {
            await using var app = NippersHost.Create(settings);
            await Startup.Prepare(app.Services, settings, ct);
            if (fill is not null)
                await fill(app.Services);
            await app.StartAsync(ct);
            var at = new Uri(app.Urls.First().Replace("[::]", "localhost", StringComparison.Ordinal));
            await Console.Error.WriteLineAsync(CommandWords.Say($"Nippers is at {at.Scheme}://localhost:{at.Port}/ (Ctrl+C stops it)"));
            if (await app.Services.GetRequiredService<SetupCode>().ToTell(app.Services, ct) is { } code)
                await Console.Error.WriteLineAsync(
                    CommandWords.Say($"Nobody is known here yet. The first planner's account asks for this code: {code}")
                );
            await app.WaitForShutdownAsync(ct);
            return 0;
        });
}

/// <summary>What happens before the first request.</summary>
public static class Startup
{
    /// <summary>Migrates, and adds what an empty database needs.</summary>
    public static async Task Prepare(IServiceProvider services, WebSettings settings, CancellationToken ct)
    {
        // Before the first account is in it: no copy of it may ever be served as a fleet.
        if (settings.Offered.Count > 0)
            DatabaseMark.MarkDemo(settings.DatabaseFile);
        await using var scope = services.CreateAsyncScope();
        var setup = scope.ServiceProvider.GetRequiredService<Setup>();
        if (await setup.Migrate(ct) is { } copy)
            await Console.Error.WriteLineAsync(CommandWords.Say($"The database was brought up to date; the old one is at {copy}."));
        await People.AddRoles(scope.ServiceProvider);
        if (settings.Offered.Count > 0)
            await People.AddOffered(scope.ServiceProvider, settings.Offered);
        else
            await setup.AddStarters(ct);
    }
}
