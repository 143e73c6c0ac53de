using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Nippers.Core.Hours;
using Nippers.Data.Fleet;

namespace Nippers.Data.Records;

/// <summary>Whether a reading counts.</summary>
public enum ReadingState
{
    Accepted,

    /// <summary>Unusual: kept, feeds nothing until a person confirms it.</summary>
    Unconfirmed,

    Voided,
}

/// <summary>How a reading came in.</summary>
public enum ReadingSource
{
    Form,
    QuickLine,
    Work,
    Csv,
    Api,
    FleetFile,
    MeterChange,
    Walk,

    /// <summary>By itself, from the machine.</summary>
    Feed,
}

/// <summary>What a service meter showed.</summary>
public sealed class ReadingRow
{
    public long Id { get; set; }
    public int MachineId { get; set; }
    public DateTimeOffset At { get; set; }

    /// <summary>What the meter showed.</summary>
    public MeterHours ShownHours { get; set; }

    /// <summary>Life hours: shown plus the offset of meters replaced until then.</summary>
    public MeterHours LifeHours { get; set; }
    public ReadingState State { get; set; }
    public ReadingSource Source { get; set; }
    public required string By { get; set; }
    public DateTimeOffset EnteredAt { get; set; }

    /// <summary>Who confirmed or voided it.</summary>
    public string? DecidedBy { get; set; }
    public string? Reason { get; set; }

    public Reading ToReading() => new(At, LifeHours);
}

internal sealed class ReadingRowMap : IEntityTypeConfiguration<ReadingRow>
{
    public void Configure(EntityTypeBuilder<ReadingRow> builder)
    {
        builder.ToTable("Readings");
        builder.HasOne<Machine>().WithMany().HasForeignKey(x => x.MachineId);

        // Covers the use per day and the judge without touching the table.
        builder.HasIndex(x => new
        {
            x.MachineId,
            x.State,
            x.At,
            x.LifeHours,
        });
    }
}
