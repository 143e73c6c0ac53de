using System.Net.Sockets;
using MailKit;
using MailKit.Net.Smtp;
using MailKit.Security;
using MimeKit;
using Nippers.App;
using Nippers.App.Mail;
using Nippers.Data.Mail;
using Nippers.Web.Hosting;

namespace Nippers.Web.Mail;

/// <summary>Hands messages to a mail server (RFC 5321). A slow one is given up.</summary>
public sealed class SmtpLine(ISecrets secrets, WebSettings settings) : IMailLine
{
    /// <summary>Whom messages are from, by name.</summary>
    private const string Sender = "Nippers";

    public async Task<MailAnswer> Send(MailServerRow server, MailRow mail, CancellationToken ct)
    {
        using var patience = CancellationTokenSource.CreateLinkedTokenSource(ct);
        patience.CancelAfter(settings.MailPatience);

        // Until it has let us in, what goes wrong is the server's; from then on it may be this message's alone.
        var isIn = false;
        try
        {
            string? password = null;
            if (server.Password.Length > 0 && (password = secrets.Show(server.Password)) is null)
                return new("mailPassword", Server: true);
            using var socket = await OutsideLine.Connect(server.Host, server.Port, server.OwnNetwork, patience.Token);
            using var client = new SmtpClient();
            await client.ConnectAsync(socket, server.Host, server.Port, Options(server.Security), patience.Token);
            if (server.User.Length > 0)
                await client.AuthenticateAsync(server.User, password ?? "", patience.Token);
            isIn = true;
            await client.SendAsync(Letter(server, mail), patience.Token);

            // It was taken: a bad parting changes nothing of that.
            try
            {
                await client.DisconnectAsync(true, patience.Token);
            }
            catch (Exception fault) when (fault is IOException or SocketException or ProtocolException or OperationCanceledException) { }

            return new(null);
        }
        catch (SmtpCommandException fault)
        {
            return Said(fault);
        }
        catch (OperationCanceledException) when (!ct.IsCancellationRequested)
        {
            return new("mailSlow", Server: !isIn);
        }
        catch (OutsideLine.InsideException)
        {
            return new("labInside", Server: true);
        }
        catch (SslHandshakeException)
        {
            return new("mailTls", Server: true);
        }
        catch (AuthenticationException)
        {
            return new("mailNoEntry", Server: true);
        }
        catch (Exception fault) when (fault is ProtocolException or NotSupportedException)
        {
            return new("mailShape", Server: !isIn);
        }
        catch (Exception fault) when (fault is IOException or SocketException or ServiceNotConnectedException)
        {
            return new("mailDown", Server: !isIn);
        }
        catch (Exception fault) when (fault is ParseException or ArgumentException or FormatException)
        {
            return new("mailAddress", Final: true);
        }
    }

    private static MailAnswer Said(SmtpCommandException fault) =>
        fault switch
        {
            { StatusCode: SmtpStatusCode.ServiceNotAvailable } => new("mailDown", Server: true),
            { ErrorCode: SmtpErrorCode.SenderNotAccepted } => new("mailSender", Server: true),
            { StatusCode: >= (SmtpStatusCode)500 } => new(
                fault.ErrorCode == SmtpErrorCode.RecipientNotAccepted ? "mailAddress" : "mailRefused",
                Final: true
            ),
            _ => new("mailLater"),
        };

    private static SecureSocketOptions Options(MailSecurity security) =>
        security switch
        {
            MailSecurity.Tls => SecureSocketOptions.SslOnConnect,
            MailSecurity.StartTls => SecureSocketOptions.StartTls,
            _ => SecureSocketOptions.None,
        };

    private static MimeMessage Letter(MailServerRow server, MailRow mail)
    {
        var from = MailboxAddress.Parse(server.From);
        var letter = new MimeMessage
        {
            Subject = mail.Subject,
            Date = mail.MadeAt,

            // The same at every try, so that one that came after all is seen to be the same.
            MessageId = string.Create(
                System.Globalization.CultureInfo.InvariantCulture,
                $"{mail.MadeAt.ToUnixTimeMilliseconds()}.{mail.Id}.nippers@{from.Domain}"
            ),
            Body = new BodyBuilder { TextBody = mail.Text, HtmlBody = mail.Html }.ToMessageBody(),
        };
        letter.From.Add(new MailboxAddress(Sender, from.Address));
        letter.To.Add(new MailboxAddress(mail.Name, mail.Address));

        // Nobody's absence is to answer it (RFC 3834).
        letter.Headers.Add(HeaderId.AutoSubmitted, "auto-generated");
        if (mail.Kind is MailKind.Stop or MailKind.StopAgain or MailKind.Worse)
            letter.Importance = MessageImportance.High;
        return letter;
    }
}
