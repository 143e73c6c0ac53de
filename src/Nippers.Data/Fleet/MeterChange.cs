using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace Nippers.Data.Fleet;

/// <summary>A service meter taken off and another put on. Life hours go on; what the meter shows starts anew.</summary>
public sealed class MeterChange
{
    public int Id { get; set; }
    public int MachineId { get; set; }
    public long AtMs { get; set; }
    public int OldFinalTenths { get; set; }
    public int NewStartTenths { get; set; }
    public string Note { get; set; } = "";
    public required string By { get; set; }
    public long EnteredMs { get; set; }
    public long? VoidedMs { get; set; }
    public string? VoidedBy { get; set; }
    public string? VoidReason { get; set; }
}

internal sealed class MeterChangeMap : IEntityTypeConfiguration<MeterChange>
{
    public void Configure(EntityTypeBuilder<MeterChange> builder)
    {
        builder.HasIndex(x => new { x.MachineId, x.AtMs });
        builder.HasOne<Machine>().WithMany().HasForeignKey(x => x.MachineId);
    }
}
