using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Nippers.Core.Hours;
using Nippers.Data.Defects;
using Nippers.Data.Fleet;
using Nippers.Data.Records;

namespace Nippers.Data.Feeds;

/// <summary>Where a maker says what its machines do.</summary>
public sealed class FeedRow
{
    public int Id { get; set; }
    public required string Name { get; set; }

    /// <summary>The page that is asked first.</summary>
    public required string Url { get; set; }

    /// <summary>The token that it asks for, encrypted; empty for none.</summary>
    public string Token { get; set; } = "";

    /// <summary>It stands in the installation's own network: only then an address of such a one is spoken to.</summary>
    public bool OwnNetwork { get; set; }

    /// <summary>It is asked.</summary>
    public bool On { get; set; }

    /// <summary>Failed questions running, and when the next one is asked.</summary>
    public int Failures { get; set; }
    public DateTimeOffset? NextAskAt { get; set; }
    public string LastFault { get; set; } = "";

    /// <summary>When it last answered.</summary>
    public DateTimeOffset? AnsweredAt { get; set; }
    public int Version { get; set; }
}

/// <summary>What of a feed does not fit.</summary>
public enum FeedAway
{
    Nothing,

    /// <summary>The dash, read by a person, says something else.</summary>
    Dash,

    /// <summary>Its hours went back, or on faster than time.</summary>
    Leap,
}

/// <summary>A machine of a feed: what it said last.</summary>
public sealed class FeedMachineRow
{
    public int Id { get; set; }

    /// <summary>The feed; null for a program that tells of one machine by the interface.</summary>
    public int? FeedId { get; set; }

    /// <summary>Its number there.</summary>
    public required string Equipment { get; set; }
    public string Serial { get; set; } = "";

    /// <summary>Our machine; null while nobody has said which it is.</summary>
    public int? MachineId { get; set; }

    /// <summary>A person said that it is none of ours: it is asked about no more.</summary>
    public bool Ignored { get; set; }

    /// <summary>When it was last heard of, and what was wrong with that; empty for nothing.</summary>
    public DateTimeOffset SeenAt { get; set; }
    public string LastFault { get; set; } = "";

    /// <summary>Its hours by the feed, and for when they hold.</summary>
    public double? Hours { get; set; }
    public DateTimeOffset? HoursAt { get; set; }
    public double? IdleHours { get; set; }
    public double? FuelPercent { get; set; }
    public DateTimeOffset? FuelAt { get; set; }
    public double? DefPercent { get; set; }
    public DateTimeOffset? DefAt { get; set; }

    /// <summary>What has to be added to the feed's hours for life hours; null while it is not known.</summary>
    public double? OffsetHours { get; set; }

    /// <summary>How many pairs that rests on.</summary>
    public int Pairs { get; set; }

    /// <summary>What does not fit, when and by how much, hours: a person says whether feed or dash was replaced.</summary>
    public FeedAway Away { get; set; }
    public DateTimeOffset? AwayAt { get; set; }
    public double AwayHours { get; set; }

    /// <summary>Pairs count from here: the feed's box was replaced.</summary>
    public DateTimeOffset? PairsFrom { get; set; }
    public int Version { get; set; }
}

/// <summary>Hours that a feed reported in the last days.</summary>
public sealed class FeedPointRow
{
    public long Id { get; set; }
    public int FeedMachineId { get; set; }
    public DateTimeOffset At { get; set; }
    public double Hours { get; set; }
}

/// <summary>A reading of the dash, and what the feed said within an hour of it.</summary>
public sealed class FeedPairRow
{
    public int FeedMachineId { get; set; }
    public long ReadingId { get; set; }
    public double FeedHours { get; set; }
}

/// <summary>A fault code of a machine, as its feed told of it.</summary>
public sealed class FeedCodeRow
{
    public long Id { get; set; }
    public int MachineId { get; set; }

    /// <summary>The code, SPN/FMI.</summary>
    public required string Code { get; set; }

    /// <summary>When it appeared, and life hours then.</summary>
    public DateTimeOffset Since { get; set; }
    public MeterHours LifeHours { get; set; }

    /// <summary>How often it came while this stands: a code may come and go.</summary>
    public int Times { get; set; } = 1;

    /// <summary>When the feed told of it no longer, and life hours then; null while it does.</summary>
    public DateTimeOffset? GoneAt { get; set; }
    public MeterHours? GoneHours { get; set; }

    /// <summary>The same code before it, within the hours of a repeat.</summary>
    public long? RepeatOf { get; set; }

    /// <summary>The defect that was written down of it; null for none.</summary>
    public long? DefectId { get; set; }

    /// <summary>Who has looked and found nothing to write down, when, and what they saw.</summary>
    public string? LookedBy { get; set; }
    public DateTimeOffset? LookedAt { get; set; }
    public string? LookedWords { get; set; }
    public int Version { get; set; }
}

internal sealed class FeedCodeRowMap : IEntityTypeConfiguration<FeedCodeRow>
{
    public void Configure(EntityTypeBuilder<FeedCodeRow> builder)
    {
        builder.ToTable("FeedCodes");
        builder.HasOne<Machine>().WithMany().HasForeignKey(x => x.MachineId);
        builder.HasOne<DefectRow>().WithMany().HasForeignKey(x => x.DefectId);
        builder.HasIndex(x => new { x.MachineId, x.Code });
        builder.HasIndex(x => new { x.DefectId, x.LookedAt });
        builder.Property(x => x.Version).IsConcurrencyToken();
    }
}

internal sealed class FeedRowMap : IEntityTypeConfiguration<FeedRow>
{
    public void Configure(EntityTypeBuilder<FeedRow> builder)
    {
        builder.ToTable("Feeds");
        builder.HasIndex(x => x.Name).IsUnique();
        builder.Property(x => x.Version).IsConcurrencyToken();
    }
}

internal sealed class FeedMachineRowMap : IEntityTypeConfiguration<FeedMachineRow>
{
    public void Configure(EntityTypeBuilder<FeedMachineRow> builder)
    {
        builder.ToTable("FeedMachines");
        builder.HasOne<FeedRow>().WithMany().HasForeignKey(x => x.FeedId);
        builder.HasOne<Machine>().WithMany().HasForeignKey(x => x.MachineId);
        builder.HasIndex(x => new { x.FeedId, x.Equipment }).IsUnique();
        builder.HasIndex(x => x.MachineId).IsUnique();
        builder.Property(x => x.Version).IsConcurrencyToken();
    }
}

internal sealed class FeedPairRowMap : IEntityTypeConfiguration<FeedPairRow>
{
    public void Configure(EntityTypeBuilder<FeedPairRow> builder)
    {
        builder.ToTable("FeedPairs");
        builder.HasKey(x => new { x.FeedMachineId, x.ReadingId });
        builder.HasOne<FeedMachineRow>().WithMany().HasForeignKey(x => x.FeedMachineId);
        builder.HasOne<ReadingRow>().WithMany().HasForeignKey(x => x.ReadingId);
    }
}

internal sealed class FeedPointRowMap : IEntityTypeConfiguration<FeedPointRow>
{
    public void Configure(EntityTypeBuilder<FeedPointRow> builder)
    {
        builder.ToTable("FeedPoints");
        builder.HasOne<FeedMachineRow>().WithMany().HasForeignKey(x => x.FeedMachineId);
        builder.HasIndex(x => new { x.FeedMachineId, x.At }).IsUnique();
    }
}
