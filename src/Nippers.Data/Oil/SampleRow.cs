using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Nippers.Core.Hours;
using Nippers.Core.Numbers;
using Nippers.Core.Oil;
using Nippers.Data.Fleet;

namespace Nippers.Data.Oil;

/// <summary>Where a sample is on its way.</summary>
public enum SampleState
{
    /// <summary>In its bottle.</summary>
    Taken,

    /// <summary>On its way to a laboratory, or there.</summary>
    Sent,

    /// <summary>Results are in; nobody has signed a verdict.</summary>
    Reported,

    /// <summary>A verdict is signed.</summary>
    Judged,
}

/// <summary>A sample of oil that was taken.</summary>
public sealed class SampleRow
{
    public long Id { get; set; }
    public int MachineId { get; set; }
    public Machine Machine { get; set; } = null!;
    public required string Compartment { get; set; }
    public required string ItemCode { get; set; }

    /// <summary>What is written on the bottle.</summary>
    public required string Bottle { get; set; }
    public DateOnly On { get; set; }
    public DateTimeOffset TakenAt { get; set; }
    public MeterHours LifeHours { get; set; }

    /// <summary>Hours on the oil; null when no change is on record.</summary>
    public MeterHours? OilHours { get; set; }

    /// <summary>Litres added since that change.</summary>
    public Litres AddedLitres { get; set; }
    public string Fluid { get; set; } = "";
    public required string By { get; set; }
    public long? VisitId { get; set; }
    public required string Batch { get; set; }

    /// <summary>Where the oil works.</summary>
    public OilKind Kind { get; set; }

    /// <summary>Viscosity grade; empty when not known.</summary>
    public string Grade { get; set; } = "";

    /// <summary>Fluid family, for limits of the own fleet.</summary>
    public string Family { get; set; } = "";
    public DrawMethod? Method { get; set; }
    public DrawState? Engine { get; set; }

    /// <summary>Somebody said that it was drawn in a way that falsifies it.</summary>
    public bool DrawnWrong { get; set; }

    /// <summary>Taken later than its window allows.</summary>
    public bool Late { get; set; }
    public string Note { get; set; } = "";
    public SampleState State { get; set; }
    public int? LabId { get; set; }
    public long? ConsignmentId { get; set; }
    public DateTimeOffset? SentAt { get; set; }
    public DateTimeOffset? ReportedAt { get; set; }

    /// <summary>What the rules advise; null before results.</summary>
    public Assessment? Advised { get; set; }

    /// <summary>What a person signed.</summary>
    public Assessment? SignedAs { get; set; }
    public string? SignedBy { get; set; }
    public DateTimeOffset? SignedAt { get; set; }

    /// <summary>Why the signed verdict is not the advised one; words of the signature otherwise.</summary>
    public string SignedWords { get; set; } = "";
    public long? DefectId { get; set; }
    public int Version { get; set; }
    public DateTimeOffset? VoidedAt { get; set; }
    public string? VoidedBy { get; set; }
    public string? VoidReason { get; set; }
}

/// <summary>Where results came from.</summary>
public enum ReportSource
{
    Online,
    File,
    Hand,
}

/// <summary>What a laboratory reported of a sample. A later report with other figures is a correction: both are kept.</summary>
public sealed class ReportRow
{
    public long Id { get; set; }
    public long SampleId { get; set; }
    public DateTimeOffset ReceivedAt { get; set; }
    public ReportSource Source { get; set; }
    public int? LabId { get; set; }
    public string By { get; set; } = "";
    public string LabNumber { get; set; } = "";

    /// <summary>Figures as given, as a JSON object: short name of the measurand to a number or a text such as <c>&lt;1</c>.</summary>
    public required string Figures { get; set; }

    /// <summary>Cleanliness code; empty when not counted.</summary>
    public string Iso { get; set; } = "";
    public string Comment { get; set; } = "";

    /// <summary>When a correction replaced it.</summary>
    public DateTimeOffset? ReplacedAt { get; set; }
}

/// <summary>What the rules made of a sample. Derived, but kept: what a person signed is what stands.</summary>
public sealed class JudgementRow
{
    public long SampleId { get; set; }

    /// <summary>Values that compare, as a JSON object; later samples are held against them.</summary>
    public required string Values { get; set; }

    /// <summary>Whether wear metals of it may be held against others.</summary>
    public bool WearCompares { get; set; }

    /// <summary>All of it, as JSON; see KeptJudgement in App.</summary>
    public required string Whole { get; set; }
}

/// <summary>A code that was given out for a bottle of a compartment.</summary>
public sealed class BottleRow
{
    public long Id { get; set; }
    public required string Code { get; set; }
    public int MachineId { get; set; }
    public required string Compartment { get; set; }
    public required string ItemCode { get; set; }
    public DateTimeOffset PreparedAt { get; set; }
    public required string By { get; set; }

    /// <summary>The sample that went into it.</summary>
    public long? SampleId { get; set; }
}

internal sealed class SampleRowMap : IEntityTypeConfiguration<SampleRow>
{
    public void Configure(EntityTypeBuilder<SampleRow> builder)
    {
        builder.ToTable("Samples");
        builder.LeavesOutVoided(x => x.VoidedAt == null);
        builder.HasOne(x => x.Machine).WithMany().HasForeignKey(x => x.MachineId);
        builder.HasIndex(x => new
        {
            x.MachineId,
            x.Compartment,
            x.LifeHours,
        });

        // A bottle is drawn once; one that was voided may be drawn again.
        builder.HasIndex(x => x.Bottle).IsUnique().HasFilter("VoidedMs IS NULL");
        builder.HasIndex(x => new { x.State, x.TakenAt });
        builder.HasIndex(x => x.ConsignmentId).HasFilter("ConsignmentId IS NOT NULL");

        // What samples across machines are compared by, all of it in the index: thousands of rows a look.
        builder
            .HasIndex(x => new
            {
                x.Kind,
                x.On,
                x.Family,
                x.Compartment,
                x.MachineId,
                x.LifeHours,
            })
            .HasFilter("VoidedMs IS NULL AND Advised IS NOT NULL AND NOT DrawnWrong")
            .HasDatabaseName("IX_Samples_Judged");

        // Most samples of a long history belong to no visit: counted among the others, they would keep the index from being used.
        builder.HasIndex(x => x.VisitId).HasFilter("VisitId IS NOT NULL");
        builder.Property(x => x.Version).IsConcurrencyToken();
    }
}

internal sealed class ReportRowMap : IEntityTypeConfiguration<ReportRow>
{
    public void Configure(EntityTypeBuilder<ReportRow> builder)
    {
        builder.ToTable("Reports");
        builder.HasOne<SampleRow>().WithMany().HasForeignKey(x => x.SampleId);
    }
}

internal sealed class JudgementRowMap : IEntityTypeConfiguration<JudgementRow>
{
    public void Configure(EntityTypeBuilder<JudgementRow> builder)
    {
        builder.ToTable("Judgements");
        builder.HasKey(x => x.SampleId);
        builder.HasOne<SampleRow>().WithOne().HasForeignKey<JudgementRow>(x => x.SampleId);
    }
}

internal sealed class BottleRowMap : IEntityTypeConfiguration<BottleRow>
{
    public void Configure(EntityTypeBuilder<BottleRow> builder)
    {
        builder.ToTable("Bottles");
        builder.HasOne<Machine>().WithMany().HasForeignKey(x => x.MachineId);
        builder.HasIndex(x => x.Code).IsUnique();
    }
}
