using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Nippers.Core.Defects;
using Nippers.Core.Hours;
using Nippers.Data.Fleet;

namespace Nippers.Data.Defects;

/// <summary>How far a defect is.</summary>
public enum DefectState
{
    Open,

    /// <summary>A stop that was repaired and waits for a second person to return the machine to service.</summary>
    Repaired,

    Closed,
    Voided,
}

/// <summary>Something wrong on a machine.</summary>
public sealed class DefectRow
{
    public long Id { get; set; }
    public int MachineId { get; set; }
    public Machine Machine { get; set; } = null!;

    /// <summary>Where: code of a walk station or a compartment, with a part after a colon where one is named.</summary>
    public required string Place { get; set; }

    /// <summary>Where, in words.</summary>
    public required string PlaceName { get; set; }
    public required string Words { get; set; }
    public DefectGrade Grade { get; set; }

    /// <summary>The grade with which it was found.</summary>
    public DefectGrade FoundGrade { get; set; }
    public SafetyPart Safety { get; set; }

    /// <summary>What it is on.</summary>
    public MachinePart Part { get; set; }
    public DefectState State { get; set; }
    public required string By { get; set; }
    public DateTimeOffset At { get; set; }

    /// <summary>Date at the site.</summary>
    public DateOnly On { get; set; }
    public MeterHours LifeHours { get; set; }

    /// <summary>Life hours to which the machine may run with it.</summary>
    public MeterHours? LimitHours { get; set; }

    /// <summary>Last day on which it may run with it.</summary>
    public DateOnly? LimitOn { get; set; }

    /// <summary>When the present clock began, ms: a visit since then that left it undone raises it.</summary>
    public DateTimeOffset ClockFrom { get; set; }
    public long? WalkId { get; set; }
    public string CheckCode { get; set; } = "";

    /// <summary>Fault codes that it stands for, with commas between them; empty for none.</summary>
    public string Code { get; set; } = "";
    public long? RepeatOf { get; set; }

    /// <summary>Fixed on the spot: asked for again from these life hours on; null when looked at since.</summary>
    public MeterHours? LookAgainHours { get; set; }

    /// <summary>A technician's wish to grade a stop down, waiting for a planner.</summary>
    public DefectGrade? DownTo { get; set; }
    public string? DownBy { get; set; }
    public string? DownReason { get; set; }
    public string? RepairedBy { get; set; }
    public DateTimeOffset? RepairedAt { get; set; }
    public MeterHours? RepairedHours { get; set; }
    public string? RepairWords { get; set; }
    public int? RepairMinutes { get; set; }
    public string? RepairParts { get; set; }
    public string? ReturnedBy { get; set; }
    public DateTimeOffset? ReturnedAt { get; set; }
    public string? ReturnWords { get; set; }
    public string? VoidedBy { get; set; }
    public string? VoidReason { get; set; }

    /// <summary>Somebody's wish to void it, waiting for a second person.</summary>
    public string? VoidAskedBy { get; set; }
    public string? VoidAskReason { get; set; }

    /// <summary>Who was told of the stop, by voice, and who says so.</summary>
    public string? ToldWhom { get; set; }
    public string? ToldBy { get; set; }
    public DateTimeOffset? ToldAt { get; set; }

    /// <summary>Counts changes, so that two people notice each other.</summary>
    public int Version { get; set; }

    public DefectClock Clock => new(Grade, LimitHours is { } hours ? hours : null, LimitOn);

    /// <summary>Whether it still stands against the machine.</summary>
    public bool Stands => State is DefectState.Open or DefectState.Repaired;
}

/// <summary>What happened to a defect.</summary>
public enum DefectAct
{
    Found,
    SeenAgain,
    GradedUp,
    DownAsked,
    GradedDown,
    DownRefused,
    Deferred,
    Raised,
    Repaired,
    Returned,
    Reopened,
    Said,
    Photo,
    Voided,
    LookedAgain,

    /// <summary>Found again on its check, and held against it.</summary>
    FoundAgain,

    /// <summary>Said to be worse.</summary>
    Worse,
    VoidAsked,
    VoidRefused,
    PartChanged,

    /// <summary>Somebody was told of the stop.</summary>
    Told,

    /// <summary>Somebody sees to the stop.</summary>
    Acknowledged,
}

/// <summary>One line of a defect's history.</summary>
public sealed class DefectEvent
{
    public long Id { get; set; }
    public long DefectId { get; set; }
    public DateTimeOffset At { get; set; }
    public required string By { get; set; }
    public DefectAct Act { get; set; }
    public string Words { get; set; } = "";
    public DefectGrade? From { get; set; }
    public DefectGrade? To { get; set; }
    public MeterHours? LimitHours { get; set; }
    public DateOnly? LimitOn { get; set; }

    /// <summary>The walk on which it was said; null for elsewhere.</summary>
    public long? WalkId { get; set; }

    /// <summary>What was found: the answer to the check, packed; empty for none.</summary>
    public string Answer { get; set; } = "";
}

/// <summary>A photo of a defect, re-encoded by Nippers. Bytes stand apart, so that lists do not read them.</summary>
public sealed class DefectPhoto
{
    public long Id { get; set; }
    public long DefectId { get; set; }
    public DateTimeOffset At { get; set; }
    public required string By { get; set; }
    public int Width { get; set; }
    public int Height { get; set; }
    public required PhotoBytes Bytes { get; set; }
}

/// <summary>A photo's bytes, JPEG.</summary>
public sealed class PhotoBytes
{
    public long PhotoId { get; set; }
    public required byte[] Whole { get; set; }
    public required byte[] Small { get; set; }
}

/// <summary>A time in which a machine was out of service.</summary>
public sealed class Stoppage
{
    public long Id { get; set; }
    public int MachineId { get; set; }
    public long DefectId { get; set; }
    public DateTimeOffset From { get; set; }
    public DateTimeOffset? To { get; set; }

    /// <summary>Whom the site wants told of it; empty when nobody was named.</summary>
    public string Contact { get; set; } = "";

    /// <summary>When word was sent to the contact; null while it was not: nobody knows.</summary>
    public DateTimeOffset? SentAt { get; set; }

    /// <summary>Who said that they see to it, and when; null while nobody has.</summary>
    public string? AcknowledgedBy { get; set; }
    public DateTimeOffset? AcknowledgedAt { get; set; }
}

internal sealed class DefectRowMap : IEntityTypeConfiguration<DefectRow>
{
    public void Configure(EntityTypeBuilder<DefectRow> builder)
    {
        builder.ToTable("Defects");
        builder.Ignore(x => x.Clock).Ignore(x => x.Stands);
        builder.Property(x => x.Version).IsConcurrencyToken();
        builder.HasOne(x => x.Machine).WithMany().HasForeignKey(x => x.MachineId).OnDelete(DeleteBehavior.Restrict);
        builder.HasIndex(x => new { x.State, x.Grade });
        builder.HasIndex(x => new { x.MachineId, x.State });
        builder.HasIndex(x => new { x.MachineId, x.Place });
        builder.HasIndex(x => x.WalkId).HasFilter("WalkId IS NOT NULL");
        builder.HasIndex(x => x.On);
        builder.HasIndex(x => x.RepairedAt);

        // Whether a limit has passed is asked for every look at what stands open: few of a long history have one.
        builder.HasIndex(x => x.LimitOn).HasFilter("LimitOn IS NOT NULL");
        builder.HasIndex(x => x.LimitHours).HasFilter("LimitTenths IS NOT NULL");
    }
}

internal sealed class DefectEventMap : IEntityTypeConfiguration<DefectEvent>
{
    public void Configure(EntityTypeBuilder<DefectEvent> builder)
    {
        builder.ToTable("DefectEvents");
        builder.HasIndex(x => new { x.DefectId, x.At });
        builder.HasIndex(x => x.WalkId).HasFilter("WalkId IS NOT NULL");
        builder.HasOne<DefectRow>().WithMany().HasForeignKey(x => x.DefectId);
    }
}

internal sealed class DefectPhotoMap : IEntityTypeConfiguration<DefectPhoto>
{
    public void Configure(EntityTypeBuilder<DefectPhoto> builder)
    {
        builder.ToTable("DefectPhotos");
        builder.HasIndex(x => x.DefectId);
        builder.HasOne<DefectRow>().WithMany().HasForeignKey(x => x.DefectId);
        builder.HasOne(x => x.Bytes).WithOne().HasForeignKey<PhotoBytes>(x => x.PhotoId);
    }
}

internal sealed class PhotoBytesMap : IEntityTypeConfiguration<PhotoBytes>
{
    public void Configure(EntityTypeBuilder<PhotoBytes> builder)
    {
        builder.ToTable("PhotoBytes");
        builder.HasKey(x => x.PhotoId);
    }
}

internal sealed class StoppageMap : IEntityTypeConfiguration<Stoppage>
{
    public void Configure(EntityTypeBuilder<Stoppage> builder)
    {
        builder.ToTable("Stoppages");
        builder.HasIndex(x => new { x.MachineId, x.From });
        builder.HasOne<DefectRow>().WithMany().HasForeignKey(x => x.DefectId);
    }
}
