using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Nippers.Core.Hours;
using Nippers.Core.Jobs;
using Nippers.Core.Numbers;
using Nippers.Core.Parts;
using Nippers.Data.Fleet;

namespace Nippers.Data.Parts;

/// <summary>What a part is.</summary>
public enum PartKind
{
    Filter,
    Element,
    Seal,
    Other,
}

/// <summary>A part of the catalogue.</summary>
public sealed class PartRow
{
    public int Id { get; set; }

    /// <summary>Its number, in capitals.</summary>
    public required string Number { get; set; }
    public required string Name { get; set; }
    public string Make { get; set; } = "";
    public PartKind Kind { get; set; }
    public double? LengthMm { get; set; }
    public double? OuterMm { get; set; }
    public double? SealMm { get; set; }
    public string Thread { get; set; } = "";
    public Money Price { get; set; }

    /// <summary>Counts saves, so that two editors notice each other.</summary>
    public int Version { get; set; }

    public FilterSize Size => new(LengthMm, OuterMm, SealMm, Thread);
}

/// <summary>A part that may stand in for another, and who says so.</summary>
public sealed class PartAlternate
{
    public int PartId { get; set; }
    public int OtherId { get; set; }
    public required string SaysWho { get; set; }
    public required string By { get; set; }
    public DateOnly On { get; set; }
}

/// <summary>A place on a machine that a filter goes to.</summary>
public sealed class FilterPosition
{
    public int Id { get; set; }
    public int MachineId { get; set; }
    public required string Code { get; set; }
    public required string Name { get; set; }

    /// <summary>The program's item that changes it.</summary>
    public required string ItemCode { get; set; }
    public int? PartId { get; set; }
    public PartRow? Part { get; set; }
    public double? LengthMm { get; set; }
    public double? OuterMm { get; set; }
    public double? SealMm { get; set; }
    public string Thread { get; set; } = "";
    public PrefillRule Prefill { get; set; }
    public TurnRule Turn { get; set; }

    /// <summary>Litres it holds.</summary>
    public Litres Litres { get; set; }

    public FilterSize Size => new(LengthMm, OuterMm, SealMm, Thread);
}

/// <summary>Whether a filter was fitted, or did not fit.</summary>
public enum FilterLogState
{
    Fitted,
    Refused,
}

/// <summary>A line of the filter log.</summary>
public sealed class FilterLogRow
{
    public long Id { get; set; }
    public int MachineId { get; set; }
    public required string Position { get; set; }
    public required string PositionName { get; set; }
    public FilterLogState State { get; set; }
    public required string Part { get; set; }
    public string Make { get; set; } = "";
    public DateOnly On { get; set; }
    public MeterHours LifeHours { get; set; }
    public required string By { get; set; }
    public DateTimeOffset EnteredAt { get; set; }
    public long? VisitId { get; set; }

    /// <summary>What the filter that came off held.</summary>
    public MetalFinding? Metal { get; set; }

    /// <summary>Refused: what did not fit, measured and asked for.</summary>
    public string Words { get; set; } = "";
    public required string Batch { get; set; }
    public DateTimeOffset? VoidedAt { get; set; }
    public string? VoidedBy { get; set; }
}

/// <summary>Why a count changed.</summary>
public enum StockMoveKind
{
    Receipt,
    Issue,
    Count,
    Return,
}

/// <summary>Parts that came to a store or left it. What is there is the sum.</summary>
public sealed class StockMove
{
    public long Id { get; set; }
    public int PartId { get; set; }

    /// <summary>The store: a site.</summary>
    public int SiteId { get; set; }
    public int Quantity { get; set; }
    public StockMoveKind Kind { get; set; }
    public DateTimeOffset At { get; set; }
    public required string By { get; set; }
    public string Note { get; set; } = "";
    public long? VisitId { get; set; }
}

/// <summary>
/// What is there of a part in a store: the sum of its moves, kept by the database itself (<see cref="ShelfTriggers" />), so that no way
/// of writing a move can leave it behind. Nothing else writes it.
/// </summary>
public sealed class ShelfRow
{
    public int PartId { get; set; }
    public int SiteId { get; set; }

    /// <summary>Pieces; below zero where more was taken than was ever written to have come.</summary>
    public int Count { get; set; }
}

/// <summary>Waste that left for somewhere.</summary>
public sealed class WasteRow
{
    public long Id { get; set; }
    public DateOnly On { get; set; }

    /// <summary>oil, coolant, fuel or filters.</summary>
    public required string Stream { get; set; }

    /// <summary>Litres; for filters pieces.</summary>
    public double Amount { get; set; }
    public required string Place { get; set; }
    public int? MachineId { get; set; }
    public long? VisitId { get; set; }
    public required string By { get; set; }
    public DateTimeOffset EnteredAt { get; set; }
    public string Batch { get; set; } = "";
    public DateTimeOffset? VoidedAt { get; set; }
    public string? VoidedBy { get; set; }
}

/// <summary>A fluid that is on board of a compartment since a visit.</summary>
public sealed class OnBoardRow
{
    public long Id { get; set; }
    public int MachineId { get; set; }
    public required string Compartment { get; set; }
    public required string Fluid { get; set; }
    public Litres Litres { get; set; }
    public DateOnly On { get; set; }
    public MeterHours LifeHours { get; set; }
    public long? VisitId { get; set; }
    public required string Batch { get; set; }
    public DateTimeOffset? VoidedAt { get; set; }
}

/// <summary>A fluid that the workshop buys.</summary>
public sealed class FluidRow
{
    public int Id { get; set; }
    public required string Name { get; set; }
    public Money PerLitre { get; set; }
}

internal sealed class PartRowMap : IEntityTypeConfiguration<PartRow>
{
    public void Configure(EntityTypeBuilder<PartRow> builder)
    {
        builder.ToTable("Parts");
        builder.HasIndex(x => x.Number).IsUnique();
        builder.Property(x => x.Version).IsConcurrencyToken();
        builder.Property(x => x.Kind).HasConversion<string>();
        builder.Ignore(x => x.Size);
    }
}

internal sealed class PartAlternateMap : IEntityTypeConfiguration<PartAlternate>
{
    public void Configure(EntityTypeBuilder<PartAlternate> builder)
    {
        builder.ToTable("PartAlternates");
        builder.HasKey(x => new { x.PartId, x.OtherId });
        builder.HasOne<PartRow>().WithMany().HasForeignKey(x => x.PartId);
        builder.HasOne<PartRow>().WithMany().HasForeignKey(x => x.OtherId).OnDelete(DeleteBehavior.Restrict);
    }
}

internal sealed class FilterPositionMap : IEntityTypeConfiguration<FilterPosition>
{
    public void Configure(EntityTypeBuilder<FilterPosition> builder)
    {
        builder.ToTable("FilterPositions");
        builder.HasIndex(x => new { x.MachineId, x.Code }).IsUnique();
        builder.HasOne<Machine>().WithMany().HasForeignKey(x => x.MachineId);
        builder.HasOne(x => x.Part).WithMany().HasForeignKey(x => x.PartId).OnDelete(DeleteBehavior.Restrict);
        builder.Property(x => x.Prefill).HasConversion<string>();
        builder.Property(x => x.Turn).HasConversion<string>();
        builder.Ignore(x => x.Size);
    }
}

internal sealed class FilterLogMap : IEntityTypeConfiguration<FilterLogRow>
{
    public void Configure(EntityTypeBuilder<FilterLogRow> builder)
    {
        builder.ToTable("FilterLog");
        builder.LeavesOutVoided(x => x.VoidedAt == null);
        builder.HasOne<Machine>().WithMany().HasForeignKey(x => x.MachineId);
        builder.HasIndex(x => new
        {
            x.MachineId,
            x.Position,
            x.LifeHours,
        });
        builder.HasIndex(x => x.Batch);
        builder.HasIndex(x => x.VisitId).HasFilter("VisitId IS NOT NULL");
        builder.HasIndex(x => new { x.Part, x.State });
    }
}

internal sealed class StockMoveMap : IEntityTypeConfiguration<StockMove>
{
    public void Configure(EntityTypeBuilder<StockMove> builder)
    {
        builder.ToTable("StockMoves", x => x.HasTrigger(ShelfTriggers.Came));
        builder.HasOne<PartRow>().WithMany().HasForeignKey(x => x.PartId);
        builder.HasOne<Site>().WithMany().HasForeignKey(x => x.SiteId).OnDelete(DeleteBehavior.Restrict);
        builder.HasIndex(x => new
        {
            x.PartId,
            x.SiteId,
            x.Quantity,
        });

        // What came and went last, newest first: a part that nobody has touched for years would have all rows read.
        builder.HasIndex(x => x.PartId);
        builder.HasIndex(x => x.VisitId).HasFilter("VisitId IS NOT NULL");
    }
}

internal sealed class ShelfRowMap : IEntityTypeConfiguration<ShelfRow>
{
    public void Configure(EntityTypeBuilder<ShelfRow> builder)
    {
        builder.ToTable("Shelves");
        builder.HasKey(x => new { x.PartId, x.SiteId });
        builder.HasOne<PartRow>().WithMany().HasForeignKey(x => x.PartId);
        builder.HasOne<Site>().WithMany().HasForeignKey(x => x.SiteId).OnDelete(DeleteBehavior.Restrict);
    }
}

internal sealed class WasteRowMap : IEntityTypeConfiguration<WasteRow>
{
    public void Configure(EntityTypeBuilder<WasteRow> builder)
    {
        builder.ToTable("Waste");
        builder.LeavesOutVoided(x => x.VoidedAt == null);
        builder.HasIndex(x => x.On);
        builder.HasIndex(x => x.VisitId).HasFilter("VisitId IS NOT NULL");
    }
}

internal sealed class OnBoardRowMap : IEntityTypeConfiguration<OnBoardRow>
{
    public void Configure(EntityTypeBuilder<OnBoardRow> builder)
    {
        builder.ToTable("OnBoard");
        builder.LeavesOutVoided(x => x.VoidedAt == null);
        builder.HasOne<Machine>().WithMany().HasForeignKey(x => x.MachineId);
        builder.HasIndex(x => new
        {
            x.MachineId,
            x.Compartment,
            x.LifeHours,
        });
    }
}

internal sealed class FluidRowMap : IEntityTypeConfiguration<FluidRow>
{
    public void Configure(EntityTypeBuilder<FluidRow> builder)
    {
        builder.ToTable("Fluids");
        builder.HasIndex(x => x.Name).IsUnique();
    }
}
