using System.Buffers;
using System.Globalization;
using System.Net;
using System.Net.Sockets;
using System.Text;
using MimeKit;
using SmtpServer;
using SmtpServer.Mail;
using SmtpServer.Protocol;
using SmtpServer.Storage;

namespace Nippers.StandIns;

/// <summary>How the mail server feels.</summary>
public enum MailMood
{
    Well,

    /// <summary>Says that it is not there for anybody.</summary>
    Down,

    /// <summary>Lets wait.</summary>
    Slow,

    /// <summary>Takes a message and breaks the line before it has said so.</summary>
    Half,

    /// <summary>Answers what is no answer.</summary>
    Rubbish,

    /// <summary>Knows no address.</summary>
    Refuses,

    /// <summary>Not now.</summary>
    Later,
}

/// <summary>A message that came.</summary>
/// <param name="Number">Its place, from 1.</param>
/// <param name="Id">Its identifier: the same message twice has the same.</param>
/// <param name="To">For whom.</param>
/// <param name="Subject">Its subject.</param>
/// <param name="Text">Its words.</param>
/// <param name="Html">The same as HTML.</param>
public sealed record TakenMail(int Number, string Id, string To, string Subject, string Text, string Html);

/// <summary>A small mail server: takes everything, sends nothing on, and shows what it got.</summary>
/// <param name="port">Port on this machine; 0 takes a free one.</param>
public sealed class MailStand(int port) : MessageStore, IMailboxFilter, IAsyncDisposable
{
    // As one listens that has come too far behind to be waited for.
    private static readonly TimeSpan SlowBy = TimeSpan.FromSeconds(40);
    private readonly Lock _lock = new();
    private readonly List<TakenMail> _taken = [];
    private readonly CancellationTokenSource _end = new();
    private Task _runs = Task.CompletedTask;

    /// <summary>How it feels.</summary>
    public MailMood Mood { get; set; }

    /// <summary>Where it listens.</summary>
    public int Port { get; } = port == 0 ? FreePort() : port;

    /// <summary>What came, oldest first.</summary>
    public IReadOnlyList<TakenMail> Taken
    {
        get
        {
            lock (_lock)
                return [.. _taken];
        }
    }

    /// <summary>Begins to listen, on this machine alone.</summary>
    public void Start()
    {
        var options = new SmtpServerOptionsBuilder()
            .ServerName("stand-in")
            .Endpoint(x => x.Endpoint(new IPEndPoint(IPAddress.Loopback, Port)))
            .Build();
        var services = new SmtpServer.ComponentModel.ServiceProvider();
        services.Add((IMessageStore)this);
        services.Add((IMailboxFilter)this);
        _runs = new SmtpServer.SmtpServer(options, services).StartAsync(_end.Token);
    }

    /// <summary>Shows what came, on pages of a server.</summary>
    public void Map(WebApplication app)
    {
        app.MapGet("/mail", () => Results.Text(List(), "text/html; charset=utf-8"));
        app.MapGet("/mail/{number:int}", (int number) =>
            Find(number) is { } mail ? Results.Text(mail.Html, "text/html; charset=utf-8") : Results.NotFound()
        );
        app.MapGet("/mail/{number:int}/text", (int number) =>
            Find(number) is { } mail ? Results.Text(mail.Text, "text/plain; charset=utf-8") : Results.NotFound()
        );
        app.MapPost("/mail/mood/{mood}", (MailMood mood) =>
        {
            Mood = mood;
            return Results.NoContent();
        });
    }

    public async Task<bool> CanAcceptFromAsync(ISessionContext context, IMailbox from, int size, CancellationToken cancellationToken)
    {
        switch (Mood)
        {
            case MailMood.Down:
                throw new SmtpResponseException(new((SmtpReplyCode)421, "not here"), true);
            case MailMood.Rubbish:
                throw new SmtpResponseException(new((SmtpReplyCode)42, "<html>Back soon</html>"), true);
            case MailMood.Slow:
                await Task.Delay(SlowBy, cancellationToken);
                return true;
            default:
                return true;
        }
    }

    public Task<bool> CanDeliverToAsync(ISessionContext context, IMailbox to, IMailbox from, CancellationToken cancellationToken) =>
        Mood switch
        {
            MailMood.Refuses => throw new SmtpResponseException(SmtpResponse.MailboxUnavailable),
            MailMood.Later => throw new SmtpResponseException(new((SmtpReplyCode)450, "not now")),
            _ => Task.FromResult(true),
        };

    public override async Task<SmtpResponse> SaveAsync(
        ISessionContext context,
        IMessageTransaction transaction,
        ReadOnlySequence<byte> buffer,
        CancellationToken cancellationToken
    )
    {
        using var stream = new MemoryStream(buffer.ToArray());
        var letter = await MimeMessage.LoadAsync(stream, cancellationToken);
        lock (_lock)
            _taken.Add(
                new(
                    _taken.Count + 1,
                    letter.MessageId ?? "",
                    string.Join(", ", letter.To.Mailboxes.Select(x => x.Address)),
                    letter.Subject ?? "",
                    letter.TextBody ?? "",
                    letter.HtmlBody ?? ""
                )
            );
        if (Mood == MailMood.Half)
        {
            Mood = MailMood.Well;
            await context.Pipe.Output.CompleteAsync();
            throw new IOException("broken off");
        }

        return SmtpResponse.Ok;
    }

    public async ValueTask DisposeAsync()
    {
        await _end.CancelAsync();
        try
        {
            await _runs;
        }
        catch (OperationCanceledException) { }

        _end.Dispose();
    }

    private TakenMail? Find(int number) => Taken.FirstOrDefault(x => x.Number == number);

    private string List()
    {
        var page = new StringBuilder(
            "<!DOCTYPE html><html lang=\"en\"><meta charset=\"utf-8\"><title>Stand-in mail</title><h1>What the stand-in mail server got</h1>"
        );
        page.Append("<p>It sends nothing on. POST /mail/mood/{well|down|slow|half|rubbish|refuses|later}</p><ol>");
        foreach (var mail in Taken)
            page.Append(
                CultureInfo.InvariantCulture,
                $"<li><a href=\"/mail/{mail.Number}\">{WebUtility.HtmlEncode(mail.Subject)}</a> {WebUtility.HtmlEncode(mail.To)} <a href=\"/mail/{mail.Number}/text\">as text</a></li>"
            );
        return page.Append("</ol></html>").ToString();
    }

    private static int FreePort()
    {
        using var probe = new TcpListener(IPAddress.Loopback, 0);
        probe.Start();
        return ((IPEndPoint)probe.LocalEndpoint).Port;
    }
}
