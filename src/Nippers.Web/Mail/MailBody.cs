namespace Nippers.Web.Mail;

/// <summary>What a message says, before it is text or HTML: both are made of this, so that neither says more than the other.</summary>
/// <param name="Subject">Its subject.</param>
/// <param name="Language">Of its words, by two letters.</param>
/// <param name="Head">Its first line.</param>
/// <param name="Grave">It is about something that may hurt somebody.</param>
/// <param name="Warning">What must not happen; null for none.</param>
/// <param name="Sections">What it tells.</param>
/// <param name="Foot">Why it came, and where that is changed.</param>
/// <param name="FootLink">Where; null while nobody said where Nippers is reached.</param>
public sealed record MailBody(
    string Subject,
    string Language,
    string Head,
    bool Grave,
    string? Warning,
    IReadOnlyList<MailSection> Sections,
    string Foot,
    string? FootLink
);

/// <summary>Things of one kind.</summary>
public sealed record MailSection(string? Head, IReadOnlyList<MailBlock> Blocks);

/// <summary>One thing.</summary>
/// <param name="Title">What.</param>
/// <param name="Facts">Name and value of what is known of it.</param>
/// <param name="LinkWords">What the link says.</param>
/// <param name="Link">Its page; null while nobody said where Nippers is reached.</param>
public sealed record MailBlock(string Title, IReadOnlyList<(string Name, string Value)> Facts, string LinkWords, string? Link);
