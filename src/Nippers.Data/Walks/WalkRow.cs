using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Nippers.Core.Defects;
using Nippers.Core.Hours;
using Nippers.Core.Numbers;
using Nippers.Core.Walk;
using Nippers.Data.Fleet;

namespace Nippers.Data.Walks;

/// <summary>How far a walk is.</summary>
public enum WalkState
{
    Open,
    Finished,
    Voided,
}

/// <summary>What it was like underfoot and overhead.</summary>
public enum Weather
{
    Dry,
    Rain,
    Frost,
    Heat,
    Wind,
}

/// <summary>What the machine stood on.</summary>
public enum Ground
{
    Level,
    Slope,
    Mud,
    Water,
    Ice,
}

/// <summary>A walk round a machine. While it is open its answers are rows; a finished one has them packed in one.</summary>
public sealed class WalkRow
{
    public long Id { get; set; }
    public int MachineId { get; set; }
    public Machine Machine { get; set; } = null!;
    public int VersionId { get; set; }
    public WalkListVersion Version { get; set; } = null!;
    public WalkRound Round { get; set; }
    public WalkState State { get; set; }

    /// <summary>Date at the site for which it stands.</summary>
    public DateOnly On { get; set; }
    public DateTimeOffset StartedAt { get; set; }
    public DateTimeOffset? FinishedAt { get; set; }
    public required string StartedBy { get; set; }
    public string? FinishedBy { get; set; }

    /// <summary>Entered from a paper sheet afterwards; it has no pace.</summary>
    public bool Late { get; set; }
    public MeterHours LifeHours { get; set; }
    public MeterHours ShownHours { get; set; }
    public Weather Weather { get; set; }
    public Ground Ground { get; set; }

    /// <summary>The checks that it holds; see WalkChecks.</summary>
    public required string Checks { get; set; }
    public int Due { get; set; }
    public int Answered { get; set; }
    public int Faults { get; set; }
    public int LeftOut { get; set; }

    /// <summary>Since when the machine stood as it was parked; null when it was moved, or nobody said so.</summary>
    public DateTimeOffset? ParkedAt { get; set; }

    /// <summary>Seconds that it takes as it is meant; 0 in walks of before this was told.</summary>
    public int HonestSeconds { get; set; }

    /// <summary>Safety-critical checks that were due and that nobody has made, then or later.</summary>
    public int NotChecked { get; set; }

    /// <summary>The answers of a finished walk, packed; empty while it is open.</summary>
    public string Answers { get; set; } = "";
    public string Note { get; set; } = "";

    /// <summary>Batch of the service items that it completed.</summary>
    public required string Batch { get; set; }

    /// <summary>The plain answer at its end.</summary>
    public RunStatus? RunStatus { get; set; }
    public MeterHours? UntilHours { get; set; }
    public DateOnly? UntilOn { get; set; }
    public DateTimeOffset? VoidedAt { get; set; }
    public string? VoidedBy { get; set; }
    public string? VoidReason { get; set; }

    /// <summary>How long it took; null while open and for late sheets.</summary>
    public TimeSpan? Took => FinishedAt is { } end && !Late ? end - StartedAt : null;

    public bool TooQuick => Took is { } took && Pace.TooQuick(took, Answered, HonestSeconds);
}

/// <summary>An answer of an open walk. Its revision lets two phones notice each other.</summary>
public sealed class WalkAnswerRow
{
    public long WalkId { get; set; }

    /// <summary>Code of the check, or <c>step:</c> and the code of a step that is ticked.</summary>
    public required string Code { get; set; }
    public int Revision { get; set; }
    public required string By { get; set; }
    public DateTimeOffset At { get; set; }
    public required string Answer { get; set; }
}

/// <summary>The figure that a measure was judged by.</summary>
public sealed class MeasureRow
{
    public long Id { get; set; }
    public int MachineId { get; set; }
    public required string CheckCode { get; set; }
    public double Value { get; set; }
    public DateTimeOffset At { get; set; }
    public DateOnly On { get; set; }
    public MeterHours LifeHours { get; set; }
    public long? WalkId { get; set; }

    /// <summary>The visit on which it was taken; null on a walk.</summary>
    public long? VisitId { get; set; }

    /// <summary>False when it was taken in the wrong posture, or its walk was voided.</summary>
    public bool Used { get; set; }
}

/// <summary>Fluid added between services.</summary>
public sealed class TopUpRow
{
    public long Id { get; set; }
    public int MachineId { get; set; }

    /// <summary>Code of the program's compartment.</summary>
    public required string Compartment { get; set; }
    public Litres Litres { get; set; }
    public DateTimeOffset At { get; set; }
    public MeterHours LifeHours { get; set; }
    public long? WalkId { get; set; }
    public required string By { get; set; }
    public DateTimeOffset? VoidedAt { get; set; }
    public string? VoidedBy { get; set; }
}

/// <summary>That a check of the longer cadences was made; decides when it comes again.</summary>
public sealed class CheckDoneRow
{
    public long WalkId { get; set; }
    public required string CheckCode { get; set; }
    public int MachineId { get; set; }
    public MeterHours LifeHours { get; set; }
    public bool Voided { get; set; }
}

/// <summary>A safety-critical check that a technician made after the walk that had left it out.</summary>
public sealed class LaterCheckRow
{
    public long WalkId { get; set; }
    public required string CheckCode { get; set; }
    public required string By { get; set; }
    public DateTimeOffset At { get; set; }
    public string Words { get; set; } = "";
}

internal sealed class LaterCheckRowMap : IEntityTypeConfiguration<LaterCheckRow>
{
    public void Configure(EntityTypeBuilder<LaterCheckRow> builder)
    {
        builder.ToTable("LaterChecks");
        builder.HasKey(x => new { x.WalkId, x.CheckCode });
        builder.HasOne<WalkRow>().WithMany().HasForeignKey(x => x.WalkId);
    }
}

internal sealed class WalkRowMap : IEntityTypeConfiguration<WalkRow>
{
    public void Configure(EntityTypeBuilder<WalkRow> builder)
    {
        builder.ToTable("Walks");
        builder.Ignore(x => x.Took).Ignore(x => x.TooQuick);
        builder.HasOne(x => x.Machine).WithMany().HasForeignKey(x => x.MachineId).OnDelete(DeleteBehavior.Restrict);
        builder.HasOne(x => x.Version).WithMany().HasForeignKey(x => x.VersionId).OnDelete(DeleteBehavior.Restrict);
        builder.HasIndex(x => new { x.MachineId, x.On });
        builder.HasIndex(x => x.On);
        builder.HasIndex(x => new { x.FinishedBy, x.On });
        builder.HasIndex(x => x.MachineId).HasFilter("NotChecked > 0").HasDatabaseName("IX_Walks_NotChecked");

        // One open walk of a round on a machine: two phones share it.
        builder.HasIndex(x => new { x.MachineId, x.Round }).IsUnique().HasFilter("State = 0").HasDatabaseName("IX_Walks_Open");
    }
}

internal sealed class WalkAnswerRowMap : IEntityTypeConfiguration<WalkAnswerRow>
{
    public void Configure(EntityTypeBuilder<WalkAnswerRow> builder)
    {
        builder.ToTable("WalkAnswers");
        builder.HasKey(x => new { x.WalkId, x.Code });
        builder.Property(x => x.Revision).IsConcurrencyToken();
        builder.HasOne<WalkRow>().WithMany().HasForeignKey(x => x.WalkId);
    }
}

internal sealed class MeasureRowMap : IEntityTypeConfiguration<MeasureRow>
{
    public void Configure(EntityTypeBuilder<MeasureRow> builder)
    {
        builder.ToTable("Measures");
        builder.HasIndex(x => new
        {
            x.MachineId,
            x.CheckCode,
            x.At,
        });
        builder.HasIndex(x => x.WalkId);
        builder.HasIndex(x => x.VisitId).HasFilter("VisitId IS NOT NULL");
        builder.HasOne<Machine>().WithMany().HasForeignKey(x => x.MachineId);
    }
}

internal sealed class TopUpRowMap : IEntityTypeConfiguration<TopUpRow>
{
    public void Configure(EntityTypeBuilder<TopUpRow> builder)
    {
        builder.ToTable("TopUps");
        builder.LeavesOutVoided(x => x.VoidedAt == null);
        builder.HasIndex(x => new
        {
            x.MachineId,
            x.Compartment,
            x.LifeHours,
        });
        builder.HasIndex(x => x.WalkId);
        builder.HasOne<Machine>().WithMany().HasForeignKey(x => x.MachineId);
    }
}

internal sealed class CheckDoneRowMap : IEntityTypeConfiguration<CheckDoneRow>
{
    public void Configure(EntityTypeBuilder<CheckDoneRow> builder)
    {
        builder.ToTable("ChecksDone");
        builder.HasKey(x => new { x.WalkId, x.CheckCode });
        builder.HasIndex(x => new
        {
            x.MachineId,
            x.CheckCode,
            x.LifeHours,
        });
        builder.HasOne<WalkRow>().WithMany().HasForeignKey(x => x.WalkId);
    }
}
