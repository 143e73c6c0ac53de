using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Nippers.Data.Defects;
using Nippers.Data.Fleet;
using Nippers.Data.People;

namespace Nippers.Data.Mail;

/// <summary>How the line to a mail server is kept from being read.</summary>
public enum MailSecurity
{
    /// <summary>It is not: for a server on one's own machine.</summary>
    Open,

    /// <summary>Begins open and is closed before anything is said (RFC 3207).</summary>
    StartTls,

    /// <summary>Closed from the first byte (RFC 8314).</summary>
    Tls,
}

/// <summary>Through which server messages go. There is one row, or none while nobody named one.</summary>
public sealed class MailServerRow
{
    public int Id { get; set; }
    public required string Host { get; set; }
    public int Port { get; set; }
    public MailSecurity Security { get; set; }

    /// <summary>The name that it asks for; empty for none.</summary>
    public string User { get; set; } = "";

    /// <summary>The password that it asks for, encrypted; empty for none.</summary>
    public string Password { get; set; } = "";

    /// <summary>The address from which messages come.</summary>
    public required string From { get; set; }

    /// <summary>It stands in the installation's own network: only then an address of such a one is spoken to.</summary>
    public bool OwnNetwork { get; set; }

    /// <summary>Messages are written and go out.</summary>
    public bool On { get; set; }

    /// <summary>What was before is not told: a fleet's history is no news.</summary>
    public DateTimeOffset Since { get; set; }

    /// <summary>Failures running, when the next try is, and what was wrong: a code of a refusal.</summary>
    public int Failures { get; set; }
    public DateTimeOffset? NextTryAt { get; set; }
    public string LastFault { get; set; } = "";
    public DateTimeOffset? FailingSince { get; set; }
    public int Version { get; set; }
}

/// <summary>When somebody is told of a thing.</summary>
public enum MailWhen
{
    Never,

    /// <summary>In the one message of the morning.</summary>
    Morning,

    /// <summary>As soon as it is known.</summary>
    AtOnce,
}

/// <summary>Of what a person is told, where and when.</summary>
public sealed class MailPerson
{
    public required string UserId { get; set; }
    public required string Address { get; set; }

    /// <summary>Of all sites; otherwise of their own.</summary>
    public bool AllSites { get; set; }

    /// <summary>When the morning's message goes, minutes after midnight at their site.</summary>
    public int MorningAt { get; set; }

    /// <summary>The day for which it was last looked at.</summary>
    public DateOnly? MorningOn { get; set; }
    public MailWhen Stops { get; set; }
    public MailWhen Samples { get; set; }

    /// <summary>Defects whose limit runs out within a day: in the morning or never.</summary>
    public MailWhen Limits { get; set; }
    public MailWhen Walks { get; set; }
    public MailWhen Stock { get; set; }
    public int Version { get; set; }
}

/// <summary>Somebody on a site's list: who is told of a stop first, and who next while nobody acknowledges it.</summary>
public sealed class SiteContactRow
{
    public int Id { get; set; }
    public int SiteId { get; set; }

    /// <summary>Their place in the list, from 0.</summary>
    public int Turn { get; set; }

    /// <summary>Who, where they sign in; null for somebody who does not.</summary>
    public string? UserId { get; set; }

    /// <summary>Name and address of somebody who does not sign in; empty otherwise.</summary>
    public string Name { get; set; } = "";
    public string Address { get; set; } = "";

    /// <summary>The language in which somebody reads who does not sign in, by its two letters.</summary>
    public string Language { get; set; } = "";
}

/// <summary>What a message is about.</summary>
public enum MailKind
{
    /// <summary>A machine was stopped, to somebody for the first time.</summary>
    Stop,

    /// <summary>The same, to the next of the list: nobody has acknowledged it.</summary>
    StopAgain,

    /// <summary>A stop got worse.</summary>
    Worse,

    /// <summary>A stop is over.</summary>
    Over,

    /// <summary>A machine runs that must not, or that nobody has looked at.</summary>
    Ran,

    /// <summary>A sample asks for something.</summary>
    Sample,

    /// <summary>The one message of the morning.</summary>
    Morning,

    /// <summary>Somebody tried whether messages arrive.</summary>
    Trial,
}

/// <summary>Where a message is.</summary>
public enum MailState
{
    Waiting,
    Sent,

    /// <summary>Not taken, and not tried any more.</summary>
    Refused,

    /// <summary>Not needed any more before it went.</summary>
    Dropped,
}

/// <summary>A message to one person, as it was written.</summary>
public sealed class MailRow
{
    public long Id { get; set; }
    public MailKind Kind { get; set; }
    public MailState State { get; set; }
    public required string Address { get; set; }
    public required string Name { get; set; }

    /// <summary>Who, where they sign in.</summary>
    public string? UserId { get; set; }

    /// <summary>The stop that it tells of.</summary>
    public long? StoppageId { get; set; }

    /// <summary>It went to the site's list, as the so-manieth turn from 0; null for those who chose it.</summary>
    public int? Turn { get; set; }
    public DateTimeOffset MadeAt { get; set; }
    public required string Subject { get; set; }
    public required string Text { get; set; }
    public required string Html { get; set; }
    public int Attempts { get; set; }
    public DateTimeOffset? NextTryAt { get; set; }
    public string LastFault { get; set; } = "";
    public DateTimeOffset? SentAt { get; set; }
}

/// <summary>What somebody was told: nothing is told twice.</summary>
public sealed class MailTold
{
    /// <summary>A user's id, or the address of somebody without one.</summary>
    public required string Who { get; set; }

    /// <summary>What, by a key of its own.</summary>
    public required string What { get; set; }
    public long MailId { get; set; }

    /// <summary>The message in which.</summary>
    public MailRow Mail { get; set; } = null!;
}

internal sealed class MailServerRowMap : IEntityTypeConfiguration<MailServerRow>
{
    public void Configure(EntityTypeBuilder<MailServerRow> builder)
    {
        builder.ToTable("MailServer");
        builder.Property(x => x.Version).IsConcurrencyToken();
    }
}

internal sealed class MailPersonMap : IEntityTypeConfiguration<MailPerson>
{
    public void Configure(EntityTypeBuilder<MailPerson> builder)
    {
        builder.ToTable("MailPeople");
        builder.HasKey(x => x.UserId);
        builder.HasOne<NippersUser>().WithOne().HasForeignKey<MailPerson>(x => x.UserId);
        builder.Property(x => x.Version).IsConcurrencyToken();
    }
}

internal sealed class SiteContactRowMap : IEntityTypeConfiguration<SiteContactRow>
{
    public void Configure(EntityTypeBuilder<SiteContactRow> builder)
    {
        builder.ToTable("SiteContacts");
        builder.HasOne<Site>().WithMany().HasForeignKey(x => x.SiteId);
        builder.HasOne<NippersUser>().WithMany().HasForeignKey(x => x.UserId);
        builder.HasIndex(x => new { x.SiteId, x.Turn });
    }
}

internal sealed class MailRowMap : IEntityTypeConfiguration<MailRow>
{
    public void Configure(EntityTypeBuilder<MailRow> builder)
    {
        builder.ToTable("Mail");
        builder.HasIndex(x => new { x.State, x.NextTryAt });
        builder.HasIndex(x => x.StoppageId);
        builder.HasOne<Stoppage>().WithMany().HasForeignKey(x => x.StoppageId);
    }
}

internal sealed class MailToldMap : IEntityTypeConfiguration<MailTold>
{
    public void Configure(EntityTypeBuilder<MailTold> builder)
    {
        builder.ToTable("MailTold");
        builder.HasKey(x => new { x.Who, x.What });
        builder.HasIndex(x => x.What);
        builder.HasOne(x => x.Mail).WithMany().HasForeignKey(x => x.MailId);
    }
}
