using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Nippers.Core.Hours;
using Nippers.Data.Fleet;

namespace Nippers.Data.Records;

/// <summary>What an odometer showed.</summary>
public sealed class OdometerRow
{
    public long Id { get; set; }
    public int MachineId { get; set; }
    public DateTimeOffset At { get; set; }

    /// <summary>Tenths of a kilometre, 0 to 9 999 999.</summary>
    public int KmTenths { get; set; }
    public required string By { get; set; }
    public DateTimeOffset EnteredAt { get; set; }

    /// <summary>Who said that it really shows so, where it was unusual; null elsewhere.</summary>
    public string? DecidedBy { get; set; }

    /// <summary>Unusual, and nobody has said yet that it really shows so: nothing is reckoned by it.</summary>
    public bool ToConfirm { get; set; }
    public DateTimeOffset? VoidedAt { get; set; }
    public string? VoidedBy { get; set; }
    public string? VoidReason { get; set; }

    /// <summary>As the judge takes it: a meter of kilometres.</summary>
    public Reading ToReading() => new(At, new(KmTenths));
}

internal sealed class OdometerRowMap : IEntityTypeConfiguration<OdometerRow>
{
    public void Configure(EntityTypeBuilder<OdometerRow> builder)
    {
        builder.ToTable("OdometerReadings");
        builder.LeavesOutVoided(x => x.VoidedAt == null);
        builder.HasIndex(x => new { x.MachineId, x.At });
        builder.HasOne<Machine>().WithMany().HasForeignKey(x => x.MachineId);
    }
}
