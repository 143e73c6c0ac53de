using Nippers.App.Mail;
using Nippers.Data.Mail;

namespace Nippers.App.Tests;

/// <summary>A mail server that answers what a test says.</summary>
public sealed class FakeMail : IMailLine
{
    /// <summary>What was taken.</summary>
    public List<MailRow> Taken { get; } = [];

    /// <summary>How often it was asked, taken or not.</summary>
    public int Asked { get; private set; }

    /// <summary>What it answers, by message; null takes it.</summary>
    public Func<MailRow, MailAnswer?> Answers { get; set; } = _ => null;

    public Task<MailAnswer> Send(MailServerRow server, MailRow mail, CancellationToken ct)
    {
        Asked++;
        if (Answers(mail) is { } answer)
            return Task.FromResult(answer);
        Taken.Add(mail);
        return Task.FromResult(new MailAnswer(null));
    }
}

/// <summary>Writes what a message tells, and no words about it.</summary>
public sealed class BareWriter : IMailWriter
{
    public Task<MailText> Write(MailDraft draft, string? address, DateOnly today) =>
        Task.FromResult(new MailText($"{draft.Kind} {string.Join(' ', draft.Things)}", draft.To.Language, address ?? ""));
}
