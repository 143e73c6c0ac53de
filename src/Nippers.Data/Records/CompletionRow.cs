using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
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
    public int LifeTenths { get; set; }

    /// <summary>What the meter showed, tenths.</summary>
    public int ShownTenths { get; set; }
    public string Note { get; set; } = "";
    public required string By { get; set; }

    /// <summary>Baseline: who says so.</summary>
    public string? SaidBy { get; set; }
    public long EnteredMs { get; set; }

    /// <summary>Joins what was recorded in one go.</summary>
    public required string Batch { get; set; }
    public long? VoidedMs { get; set; }
    public string? VoidedBy { get; set; }
    public string? VoidReason { get; set; }

    public Completion ToCompletion() => new(ItemCode, DoneOn, new(LifeTenths));
}

internal sealed class CompletionRowMap : IEntityTypeConfiguration<CompletionRow>
{
    public void Configure(EntityTypeBuilder<CompletionRow> builder)
    {
        builder.ToTable("Completions");
        builder.HasOne<Machine>().WithMany().HasForeignKey(x => x.MachineId);
        builder
            .HasIndex(x => new
            {
                x.MachineId,
                x.ItemCode,
                x.LifeTenths,
                x.DoneOn,
            })
            .HasFilter("VoidedMs IS NULL");
        builder.HasIndex(x => new { x.MachineId, x.EnteredMs });
        builder.HasIndex(x => x.Batch);
    }
}
