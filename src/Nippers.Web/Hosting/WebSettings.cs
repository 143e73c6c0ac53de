using System.Net;
using System.Security.Cryptography.X509Certificates;

namespace Nippers.Web.Hosting;

/// <summary>How the application is started.</summary>
/// <param name="DatabaseFile">The database.</param>
/// <param name="Port">Port on all addresses; 0 takes a free one.</param>
/// <param name="Clock">The clock.</param>
/// <param name="Quiet">No log on the console.</param>
public sealed record WebSettings(string DatabaseFile, int Port, TimeProvider Clock, bool Quiet = false)
{
    /// <summary>Sign-in attempts an address may make in a minute. Tests sign in more often.</summary>
    public int SignInsPerMinute { get; init; } = 20;

    /// <summary>Calls a token may make in a minute; an address may make four times as many.</summary>
    public int ApiCallsPerMinute { get; init; } = 600;

    /// <summary>Between two rounds to the laboratories.</summary>
    public TimeSpan LabRound { get; init; } = TimeSpan.FromSeconds(10);

    /// <summary>Between two looks whether a feed has to be asked.</summary>
    public TimeSpan FeedRound { get; init; } = TimeSpan.FromSeconds(30);

    /// <summary>Between two looks at what people have to be told.</summary>
    public TimeSpan MailRound { get; init; } = TimeSpan.FromSeconds(10);

    /// <summary>Longest wait for a mail server.</summary>
    public TimeSpan MailPatience { get; init; } = TimeSpan.FromSeconds(30);

    /// <summary>
    /// Accounts that are made at the start and offered at sign-in. None for real use: the first person makes their own. A
    /// database with offered accounts is filled by who offers them, and gets no starters.
    /// </summary>
    public IReadOnlyList<OfferedAccount> Offered { get; init; } = [];

    /// <summary>Answer whoever watches the installation, on <see cref="Hosting.Health.Path"/>.</summary>
    public bool Health { get; init; }

    /// <summary>Show figures of how it does, on <see cref="Watching.Path"/>.</summary>
    public bool Metrics { get; init; }

    /// <summary>Where a line of JSON goes for each request and each fault; null: words on the console.</summary>
    public TextWriter? LogTo { get; init; }

    /// <summary>Listen on this machine alone.</summary>
    public bool LocalOnly { get; init; }

    /// <summary>Have what people open first compiled and worked out before they do.</summary>
    public bool WarmUp { get; init; }

    /// <summary>With which it speaks https by itself; null for plain http, as behind a proxy or on one's own machine.</summary>
    public X509Certificate2? Certificate { get; init; }

    /// <summary>Proxies whose word is believed on who asked, and how; nobody's when there are none.</summary>
    public IReadOnlyList<IPAddress> Proxies { get; init; } = [];

    /// <summary>People may reach it over https, so their browsers are told to keep to that.</summary>
    public bool IsSecure => Certificate is not null || Proxies.Count > 0;
}
