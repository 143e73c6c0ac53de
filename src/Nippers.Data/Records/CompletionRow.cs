using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Nippers.Core.Hours;
using Nippers.Core.Service;
using Nippers.Data.Fleet;

namespace Nippers.Data.Records;

/// <summary>Whether an item was seen done, or somebody said that it had been.</summary>
public enum CompletionKind
{
    Work,
    Baseline,
}

/// <summary>An item done on a machine.</summary>
public sealed class CompletionRow
{
    public long Id { get; set; }
    public int MachineId { get; set; }
    public required string ItemCode { get; set; }
    public CompletionKind Kind { get; set; }

    /// <summary>Date at the site.</summary>
    public DateOnly DoneOn { get; set; }
    public MeterHours LifeHours { get; set; }

    /// <summary>What the meter showed.</summary>
    public MeterHours ShownHours { get; set; }
    public string Note { get; set; } = "";
    public required string By { get; set; }

    /// <summary>Baseline: who says so.</summary>
    public string? SaidBy { get; set; }
    public DateTimeOffset EnteredAt { get; set; }

    /// <summary>Joins what was recorded in one go.</summary>
    public required string Batch { get; set; }
    public DateTimeOffset? VoidedAt { get; set; }
    public string? VoidedBy { get; set; }
    public string? VoidReason { get; set; }

    public Completion ToCompletion() => new(ItemCode, DoneOn, LifeHours);
}

internal sealed class CompletionRowMap : IEntityTypeConfiguration<CompletionRow>
{
    public void Configure(EntityTypeBuilder<CompletionRow> builder)
    {
        builder.ToTable("Completions");
        builder.LeavesOutVoided(x => x.VoidedAt == null);
        builder.HasOne<Machine>().WithMany().HasForeignKey(x => x.MachineId);
        builder
            .HasIndex(x => new
            {
                x.MachineId,
                x.ItemCode,
                x.LifeHours,
                x.DoneOn,
            })
            .HasFilter("VoidedMs IS NULL");
        builder.HasIndex(x => new { x.MachineId, x.EnteredAt });
        builder.HasIndex(x => x.Batch);
    }
}
