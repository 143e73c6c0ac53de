using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Nippers.Core.Hours;
using Nippers.Core.Oil;
using Nippers.Data.Fleet;

namespace Nippers.Data.Oil;

/// <summary>A limit that a planner set: for all compartments of a kind, or for one of a machine.</summary>
public sealed class LimitRow
{
    public int Id { get; set; }
    public OilKind Kind { get; set; }

    /// <summary>Null: a default for the kind.</summary>
    public int? MachineId { get; set; }
    public string Compartment { get; set; } = "";

    /// <summary>Short name of the measurand; <c>iso</c> for the target of cleanliness.</summary>
    public required string Measurand { get; set; }
    public double Watch { get; set; }
    public double Act { get; set; }

    /// <summary>Target of cleanliness, for example <c>18/16/13</c>.</summary>
    public string Target { get; set; } = "";
}

/// <summary>Limits from the own fleet's values, derived now and then so that no page looks through all samples.</summary>
public sealed class FleetLimitRow
{
    public OilKind Kind { get; set; }
    public required string Family { get; set; }
    public required string Measurand { get; set; }
    public double Watch { get; set; }
    public double Act { get; set; }
    public int Values { get; set; }
    public DateTimeOffset ComputedAt { get; set; }
}

/// <summary>Where the figures of a new oil come from.</summary>
public enum NewOilSource
{
    DataSheet,
    ReferenceSample,
}

/// <summary>A fluid's grade and its figures when new.</summary>
public sealed class NewOilRow
{
    public int Id { get; set; }

    /// <summary>The fluid as the crew calls it.</summary>
    public required string Fluid { get; set; }
    public string Grade { get; set; } = "";

    /// <summary>Fluids of one family share limits of the own fleet.</summary>
    public string Family { get; set; } = "";
    public double? Viscosity { get; set; }
    public double? Tbn { get; set; }
    public double? Tan { get; set; }
    public double? Oxidation { get; set; }

    /// <summary>Additives, ppm, as a JSON object; empty when not known.</summary>
    public string Additives { get; set; } = "";
    public NewOilSource Source { get; set; }
    public string By { get; set; } = "";
    public DateTimeOffset At { get; set; }
    public int Version { get; set; }
}

/// <summary>Why an item was called before its interval is over.</summary>
public enum WorkRequestReason
{
    /// <summary>A sample that is to be repeated sooner.</summary>
    Resample,

    /// <summary>Work that a verdict asks for.</summary>
    Assessment,
}

/// <summary>An item that is due before its interval is over. Work recorded after it answers it.</summary>
public sealed class WorkRequestRow
{
    public long Id { get; set; }
    public int MachineId { get; set; }
    public required string ItemCode { get; set; }
    public WorkRequestReason Reason { get; set; }
    public DateTimeOffset At { get; set; }

    /// <summary>Life hours at which it is due; null while it waits for a repair.</summary>
    public MeterHours? DueHours { get; set; }
    public DateOnly On { get; set; }
    public long? SampleId { get; set; }

    /// <summary>The defect whose repair starts its hours.</summary>
    public long? AfterDefectId { get; set; }
    public DateTimeOffset? VoidedAt { get; set; }
}

/// <summary>A change of the interval between oil changes, by analysis.</summary>
public sealed class DrainChangeRow
{
    public long Id { get; set; }
    public int MachineId { get; set; }
    public required string Compartment { get; set; }
    public DateOnly On { get; set; }
    public MeterHours LifeHours { get; set; }
    public MeterHours FromHours { get; set; }
    public MeterHours ToHours { get; set; }
    public DrainReason Reason { get; set; }
    public long? SampleId { get; set; }
    public required string By { get; set; }
    public DateTimeOffset At { get; set; }
}

/// <summary>A test of a machine's coolant.</summary>
public sealed class CoolantTestRow
{
    public long Id { get; set; }
    public int MachineId { get; set; }
    public DateOnly On { get; set; }
    public MeterHours LifeHours { get; set; }
    public bool Laboratory { get; set; }
    public double? SharePercent { get; set; }
    public double? FreezeC { get; set; }
    public double? Ph { get; set; }
    public Inhibitor? Inhibitor { get; set; }
    public double? ChloridePpm { get; set; }
    public double? SulphatePpm { get; set; }

    /// <summary>Share wanted and share of what is filled in, percent, when it was judged.</summary>
    public double WantedPercent { get; set; }
    public double RefillPercent { get; set; }
    public string Note { get; set; } = "";
    public required string By { get; set; }
    public DateTimeOffset At { get; set; }

    /// <summary>Batch of the completion that was recorded with it; null where the program asks for no test.</summary>
    public string? Batch { get; set; }
    public DateTimeOffset? VoidedAt { get; set; }
    public string? VoidedBy { get; set; }
}

internal sealed class LimitRowMap : IEntityTypeConfiguration<LimitRow>
{
    public void Configure(EntityTypeBuilder<LimitRow> builder)
    {
        builder.ToTable("OilLimits");
        builder.HasOne<Machine>().WithMany().HasForeignKey(x => x.MachineId);
        builder
            .HasIndex(x => new
            {
                x.MachineId,
                x.Compartment,
                x.Kind,
                x.Measurand,
            })
            .IsUnique();
    }
}

internal sealed class FleetLimitRowMap : IEntityTypeConfiguration<FleetLimitRow>
{
    public void Configure(EntityTypeBuilder<FleetLimitRow> builder)
    {
        builder.ToTable("FleetLimits");
        builder.HasKey(x => new
        {
            x.Kind,
            x.Family,
            x.Measurand,
        });
    }
}

internal sealed class NewOilRowMap : IEntityTypeConfiguration<NewOilRow>
{
    public void Configure(EntityTypeBuilder<NewOilRow> builder)
    {
        builder.ToTable("NewOils");
        builder.HasIndex(x => x.Fluid).IsUnique();
        builder.Property(x => x.Version).IsConcurrencyToken();
    }
}

internal sealed class WorkRequestRowMap : IEntityTypeConfiguration<WorkRequestRow>
{
    public void Configure(EntityTypeBuilder<WorkRequestRow> builder)
    {
        builder.ToTable("WorkRequests");
        builder.LeavesOutVoided(x => x.VoidedAt == null);
        builder.HasOne<Machine>().WithMany().HasForeignKey(x => x.MachineId);
        builder.HasIndex(x => new { x.MachineId, x.ItemCode });
        builder.HasIndex(x => x.AfterDefectId);
    }
}

internal sealed class DrainChangeRowMap : IEntityTypeConfiguration<DrainChangeRow>
{
    public void Configure(EntityTypeBuilder<DrainChangeRow> builder)
    {
        builder.ToTable("DrainChanges");
        builder.HasOne<Machine>().WithMany().HasForeignKey(x => x.MachineId);
        builder.HasIndex(x => new { x.MachineId, x.Compartment });
    }
}

internal sealed class CoolantTestRowMap : IEntityTypeConfiguration<CoolantTestRow>
{
    public void Configure(EntityTypeBuilder<CoolantTestRow> builder)
    {
        builder.ToTable("CoolantTests");
        builder.LeavesOutVoided(x => x.VoidedAt == null);
        builder.HasOne<Machine>().WithMany().HasForeignKey(x => x.MachineId);
        builder.HasIndex(x => new { x.MachineId, x.LifeHours });
        builder.HasIndex(x => x.Batch);
    }
}
