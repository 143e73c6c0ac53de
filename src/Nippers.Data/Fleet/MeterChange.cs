using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Nippers.Core.Hours;

namespace Nippers.Data.Fleet;

/// <summary>A service meter taken off and another put on. Life hours go on; what the meter shows starts anew.</summary>
public sealed class MeterChange
{
    public int Id { get; set; }
    public int MachineId { get; set; }
    public DateTimeOffset At { get; set; }
    public MeterHours OldFinalHours { get; set; }
    public MeterHours NewStartHours { get; set; }
    public string Note { get; set; } = "";
    public required string By { get; set; }
    public DateTimeOffset EnteredAt { get; set; }
    public DateTimeOffset? VoidedAt { get; set; }
    public string? VoidedBy { get; set; }
    public string? VoidReason { get; set; }
}

internal sealed class MeterChangeMap : IEntityTypeConfiguration<MeterChange>
{
    public void Configure(EntityTypeBuilder<MeterChange> builder)
    {
        builder.LeavesOutVoided(x => x.VoidedAt == null);
        builder.HasIndex(x => new { x.MachineId, x.At });
        builder.HasOne<Machine>().WithMany().HasForeignKey(x => x.MachineId);
    }
}
