using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Nippers.Core.Hours;

namespace Nippers.Data.Fleet;

/// <summary>A time in which a machine stands still by plan.</summary>
public sealed class ParkedRow
{
    public int Id { get; set; }
    public int MachineId { get; set; }
    public DateTimeOffset From { get; set; }
    public DateTimeOffset? To { get; set; }
    public string Reason { get; set; } = "";
    public required string By { get; set; }

    public ParkedSpan ToSpan() => new(From, To);
}

internal sealed class ParkedRowMap : IEntityTypeConfiguration<ParkedRow>
{
    public void Configure(EntityTypeBuilder<ParkedRow> builder)
    {
        builder.ToTable("Parked");
        builder.HasIndex(x => new { x.MachineId, x.From });
        builder.HasOne<Machine>().WithMany().HasForeignKey(x => x.MachineId);
    }
}
