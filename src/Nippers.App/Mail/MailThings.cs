using Nippers.Core.Oil;
using Nippers.Data.Mail;

namespace Nippers.App.Mail;

/// <summary>Something that people are told.</summary>
/// <param name="What">Its key: nobody is told it twice.</param>
/// <param name="SiteId">Where.</param>
/// <param name="Site">Where, by name.</param>
public abstract record MailThing(string What, int SiteId, string Site);

/// <summary>How a stop ended, as far as it has.</summary>
public enum StopEnd
{
    /// <summary>It stands.</summary>
    None,

    /// <summary>A second person returned the machine to service.</summary>
    Returned,

    /// <summary>It was entered in error.</summary>
    Voided,

    /// <summary>The defect stands with a lower grade.</summary>
    GradedDown,
}

/// <summary>A stop.</summary>
/// <param name="What">Its key.</param>
/// <param name="SiteId">Where.</param>
/// <param name="Site">Where, by name.</param>
/// <param name="Defect">The defect's number.</param>
/// <param name="Unit">The machine.</param>
/// <param name="Machine">Make and model.</param>
/// <param name="Place">Where on it.</param>
/// <param name="Words">What is wrong.</param>
/// <param name="By">Who found it, or what passed: the clock's name.</param>
/// <param name="At">When it became a stop.</param>
/// <param name="Zone">The site's time zone.</param>
/// <param name="Worse">What was said when it got worse; null when it did not.</param>
/// <param name="End">How it ended.</param>
/// <param name="EndedBy">Who ended it.</param>
/// <param name="StillStopped">Something else still keeps the machine out of service.</param>
/// <param name="Told">Who was told before, one after another.</param>
public sealed record StopThing(
    string What,
    int SiteId,
    string Site,
    long Defect,
    string Unit,
    string Machine,
    string Place,
    string Words,
    string By,
    DateTimeOffset At,
    string Zone,
    string? Worse = null,
    StopEnd End = StopEnd.None,
    string EndedBy = "",
    bool StillStopped = false,
    IReadOnlyList<string>? Told = null
) : MailThing(What, SiteId, Site);

/// <summary>Why a machine should not have run.</summary>
public enum RanThough
{
    /// <summary>It is out of service.</summary>
    Stopped,

    /// <summary>A job card is open on it: hands may be in it.</summary>
    Card,

    /// <summary>Nobody has walked round it today.</summary>
    NotWalked,
}

/// <summary>A machine whose feed's hours grow though it should not run.</summary>
/// <param name="What">Its key.</param>
/// <param name="SiteId">Where.</param>
/// <param name="Site">Where, by name.</param>
/// <param name="Unit">The machine.</param>
/// <param name="Machine">Make and model.</param>
/// <param name="Though">Why it should not.</param>
/// <param name="Hours">Hours that it ran.</param>
/// <param name="From">From when on.</param>
/// <param name="Zone">The site's time zone.</param>
public sealed record RanThing(
    string What,
    int SiteId,
    string Site,
    string Unit,
    string Machine,
    RanThough Though,
    double Hours,
    DateTimeOffset From,
    string Zone
) : MailThing(What, SiteId, Site);

/// <summary>A defect with which a machine may run not much longer.</summary>
/// <param name="What">Its key.</param>
/// <param name="SiteId">Where.</param>
/// <param name="Site">Where, by name.</param>
/// <param name="Defect">The defect's number.</param>
/// <param name="Unit">The machine.</param>
/// <param name="Words">What is wrong.</param>
/// <param name="On">The last day; null when hours alone limit it.</param>
/// <param name="Hours">Hours that are left; null when a day alone limits it.</param>
public sealed record LimitThing(string What, int SiteId, string Site, long Defect, string Unit, string Words, DateOnly? On, double? Hours)
    : MailThing(What, SiteId, Site);

/// <summary>A day on which a machine worked and nobody walked round it.</summary>
public sealed record WalkThing(string What, int SiteId, string Site, string Unit, DateOnly On) : MailThing(What, SiteId, Site);

/// <summary>A sample that asks for something.</summary>
/// <param name="What">Its key.</param>
/// <param name="SiteId">Where.</param>
/// <param name="Site">Where, by name.</param>
/// <param name="Sample">The sample.</param>
/// <param name="Unit">The machine.</param>
/// <param name="Machine">Make and model.</param>
/// <param name="Compartment">From where.</param>
/// <param name="Bottle">What is written on the bottle.</param>
/// <param name="Verdict">Act or stop.</param>
/// <param name="SignedBy">Who signed it; null while it is advised by the rules alone.</param>
/// <param name="On">When it was taken.</param>
public sealed record SampleThing(
    string What,
    int SiteId,
    string Site,
    long Sample,
    string Unit,
    string Machine,
    string Compartment,
    string Bottle,
    Assessment Verdict,
    string? SignedBy,
    DateOnly On
) : MailThing(What, SiteId, Site);

/// <summary>A part of which planned visits take more than there is and comes in time.</summary>
/// <param name="What">Its key.</param>
/// <param name="SiteId">Where.</param>
/// <param name="Site">Where, by name.</param>
/// <param name="Number">Its number.</param>
/// <param name="Name">Its name.</param>
/// <param name="Needed">Pieces that visits take.</param>
/// <param name="Here">Pieces on the shelf, or ordered and here in time.</param>
/// <param name="First">When the first is needed.</param>
public sealed record StockThing(string What, int SiteId, string Site, string Number, string Name, int Needed, int Here, DateOnly First)
    : MailThing(What, SiteId, Site);

/// <summary>Whom a message is for.</summary>
/// <param name="Who">The key under which it is remembered what they were told.</param>
/// <param name="UserId">Who, where they sign in.</param>
/// <param name="Name">Their name.</param>
/// <param name="Address">Their address.</param>
/// <param name="Language">In which they read.</param>
/// <param name="Units">In which they read.</param>
public sealed record MailReader(string Who, string? UserId, string Name, string Address, string Language, string Units);

/// <summary>A message before it is written.</summary>
/// <param name="To">For whom.</param>
/// <param name="Kind">What about.</param>
/// <param name="Things">What it tells.</param>
/// <param name="Keys">What is remembered as told.</param>
/// <param name="Stoppage">The stop that it is about.</param>
/// <param name="Turn">The turn of the site's list.</param>
public sealed record MailDraft(
    MailReader To,
    MailKind Kind,
    IReadOnlyList<MailThing> Things,
    IReadOnlyList<string> Keys,
    long? Stoppage = null,
    int? Turn = null
);

/// <summary>A message as it goes.</summary>
public sealed record MailText(string Subject, string Text, string Html);

/// <summary>Writes messages in their readers' language and units.</summary>
public interface IMailWriter
{
    /// <summary>Writes one.</summary>
    /// <param name="draft">What it tells, and whom.</param>
    /// <param name="address">Where Nippers is reached; null while nobody said so, and there are no links.</param>
    /// <param name="today">The reader's day.</param>
    Task<MailText> Write(MailDraft draft, string? address, DateOnly today);
}

/// <summary>The line to a mail server.</summary>
public interface IMailLine
{
    /// <summary>Hands a message over.</summary>
    /// <returns>Whether it was taken.</returns>
    Task<MailAnswer> Send(MailServerRow server, MailRow mail, CancellationToken ct);
}

/// <summary>What a mail server said.</summary>
/// <param name="Fault">Code of what went wrong; null when the message was taken.</param>
/// <param name="Final">It will not be taken another time either.</param>
/// <param name="Server">It is the server that does not work, not this message.</param>
public sealed record MailAnswer(string? Fault, bool Final = false, bool Server = false);
