using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Nippers.Core.Walk;
using Nippers.Data.Fleet;

namespace Nippers.Data.Walks;

/// <summary>How a machine was left in the evening, so that what is read cold in the morning is true.</summary>
public sealed class ParkingRow
{
    public long Id { get; set; }
    public int MachineId { get; set; }

    /// <summary>Date at the site.</summary>
    public DateOnly On { get; set; }

    /// <summary>When the engine was stopped for the day, as the card was signed.</summary>
    public DateTimeOffset At { get; set; }
    public required string By { get; set; }

    /// <summary>What was done, names of <see cref="ParkingLine"/> with spaces between them.</summary>
    public required string Done { get; set; }
    public string Note { get; set; } = "";

    /// <summary>Whether a line of the card was done.</summary>
    public bool Has(ParkingLine line) => Lines.Contains(line);

    /// <summary>The lines that were done.</summary>
    public IReadOnlyList<ParkingLine> Lines => ParkingCard.Read(Done);
}

/// <summary>What a code on a machine's display means, once somebody has said so.</summary>
public sealed class MachineCode
{
    public int MachineId { get; set; }

    /// <summary>The code as it is written.</summary>
    public required string Code { get; set; }
    public required string Meaning { get; set; }
    public required string By { get; set; }
    public DateTimeOffset At { get; set; }
}

/// <summary>A photo of something that was looked at and found right, asked for by chance.</summary>
public sealed class WalkPhoto
{
    public long Id { get; set; }
    public long WalkId { get; set; }
    public required string CheckCode { get; set; }
    public required string By { get; set; }
    public DateTimeOffset At { get; set; }
    public int Width { get; set; }
    public int Height { get; set; }
    public required byte[] Whole { get; set; }
    public required byte[] Small { get; set; }
}

internal sealed class ParkingRowMap : IEntityTypeConfiguration<ParkingRow>
{
    public void Configure(EntityTypeBuilder<ParkingRow> builder)
    {
        builder.ToTable("Parkings");
        builder.Ignore(x => x.Lines);
        builder.HasIndex(x => new { x.MachineId, x.At });
        builder.HasIndex(x => x.On);
        builder.HasOne<Machine>().WithMany().HasForeignKey(x => x.MachineId);
    }
}

internal sealed class MachineCodeMap : IEntityTypeConfiguration<MachineCode>
{
    public void Configure(EntityTypeBuilder<MachineCode> builder)
    {
        builder.ToTable("MachineCodes");
        builder.HasKey(x => new { x.MachineId, x.Code });
        builder.HasOne<Machine>().WithMany().HasForeignKey(x => x.MachineId);
    }
}

internal sealed class WalkPhotoMap : IEntityTypeConfiguration<WalkPhoto>
{
    public void Configure(EntityTypeBuilder<WalkPhoto> builder)
    {
        builder.ToTable("WalkPhotos");
        builder.HasIndex(x => x.WalkId);
        builder.HasOne<WalkRow>().WithMany().HasForeignKey(x => x.WalkId);
    }
}
