using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Nippers.Core.Hours;
using Nippers.Core.Numbers;
using Nippers.Data.Defects;
using Nippers.Data.Fleet;

namespace Nippers.Data.Visits;

/// <summary>How far a visit is.</summary>
public enum VisitState
{
    /// <summary>A date and a set of items.</summary>
    Planned,

    /// <summary>Its job card was made, and is being worked through.</summary>
    Open,

    Closed,

    /// <summary>Called off.</summary>
    Voided,
}

/// <summary>A service visit: a machine, a date, a set of items, and the job card that came of it.</summary>
public sealed class VisitRow
{
    public long Id { get; set; }
    public int MachineId { get; set; }
    public Machine Machine { get; set; } = null!;
    public VisitState State { get; set; }

    /// <summary>The date it is planned for, then the date on which it was done, at the site.</summary>
    public DateOnly On { get; set; }

    /// <summary>What it is called: the longest interval among its items, hours; 0 when none has hours.</summary>
    public int NameHours { get; set; }
    public required string PlannedBy { get; set; }
    public DateTimeOffset PlannedAt { get; set; }
    public string Note { get; set; } = "";

    /// <summary>Hands and elapsed minutes as planned, and as they were.</summary>
    public int HandsMinutes { get; set; }
    public int ElapsedMinutes { get; set; }
    public int SavedMinutes { get; set; }
    public int? RealMinutes { get; set; }
    public Money PartsCost { get; set; }
    public Money FluidsCost { get; set; }
    public Money LabourCost { get; set; }
    public Money CallOutCost { get; set; }
    public Money WasteCost { get; set; }

    /// <summary>The machine is brought to the workshop: its haulage is paid, and nobody is called out.</summary>
    public bool Hauled { get; set; }

    /// <summary>Two people are needed: the plan by weeks gives both the same day.</summary>
    public bool TwoPeople { get; set; }
    public Money HaulageCost { get; set; }

    /// <summary>The laboratory's fee for the bottles.</summary>
    public Money LabCost { get; set; }

    /// <summary>What it costs that the machine stands while it is worked on.</summary>
    public Money DowntimeCost { get; set; }
    public Money? RealPartsCost { get; set; }
    public Money? RealFluidsCost { get; set; }
    public Money? RealLabourCost { get; set; }
    public Money? RealLabCost { get; set; }
    public Money? RealDowntimeCost { get; set; }

    /// <summary>All that was planned to be paid.</summary>
    public Money PlannedCost => PartsCost + FluidsCost + LabourCost + LabCost + GoingCost + DowntimeCost;

    /// <summary>All that it came to; null while it is not closed.</summary>
    public Money? RealCost => RealPaid + (RealDowntimeCost ?? Money.Zero);

    /// <summary>The same without what the standing cost, as somebody else's offer has it; null while it is not closed.</summary>
    public Money? RealPaid => RealPartsCost + RealFluidsCost + RealLabourCost + (RealLabCost ?? Money.Zero) + GoingCost;

    // Who goes to the machine, or how it comes, is paid as planned.
    private Money GoingCost => CallOutCost + HaulageCost;

    /// <summary>What somebody else asked for the same.</summary>
    public Money? Quote { get; set; }

    /// <summary>The card as it was made, JSON; empty while planned.</summary>
    public string Card { get; set; } = "";

    /// <summary>Version of the program that the card was made from.</summary>
    public int ProgramVersion { get; set; }
    public string? OpenedBy { get; set; }
    public DateTimeOffset? OpenedAt { get; set; }

    /// <summary>It had run a short while before the card was opened.</summary>
    public bool CameWarm { get; set; }

    /// <summary>Whose lock is on it.</summary>
    public string? HeldBy { get; set; }

    /// <summary>Whom the holder hands it to; null when to nobody. It stays with the holder until that person's own lock is on.</summary>
    public string? HandedTo { get; set; }

    /// <summary>What the holder says to them.</summary>
    public string HandedWords { get; set; } = "";

    /// <summary>What is off or open on the machine by what was recorded, a line each; empty for nothing. Derived.</summary>
    public string StandsOpen { get; set; } = "";
    public MeterHours LifeHours { get; set; }
    public MeterHours ShownHours { get; set; }
    public string? ClosedBy { get; set; }
    public DateTimeOffset? ClosedAt { get; set; }

    /// <summary>Joins what its closing recorded.</summary>
    public string? Batch { get; set; }
    public string? VoidedBy { get; set; }
    public string? VoidReason { get; set; }
    public int Version { get; set; }
    public List<VisitItemRow> Items { get; set; } = [];
}

/// <summary>What became of an item of a visit.</summary>
public enum VisitItemState
{
    Planned,
    Done,
    Left,
}

public sealed class VisitItemRow
{
    public long VisitId { get; set; }
    public required string ItemCode { get; set; }
    public VisitItemState State { get; set; }

    /// <summary>Left: wrongPart, noTime, weather or other, and words.</summary>
    public string? Reason { get; set; }
    public string? ReasonWords { get; set; }

    /// <summary>Found on the way and added to the card.</summary>
    public bool Added { get; set; }
}

/// <summary>A defect that a visit repairs.</summary>
public sealed class VisitDefect
{
    public long VisitId { get; set; }
    public long DefectId { get; set; }
}

/// <summary>A line of a visit's pick list that went into the van, and came out of it again.</summary>
public sealed class VanLine
{
    public long VisitId { get; set; }

    /// <summary>What it is on the list: <c>gear:Stands</c>, <c>part:TO7-110</c>.</summary>
    public required string Line { get; set; }

    /// <summary>The same in words, as the list had it.</summary>
    public required string Words { get; set; }

    /// <summary>It is used again: it has to come back.</summary>
    public bool Returns { get; set; }
    public required string InBy { get; set; }
    public DateTimeOffset InAt { get; set; }
    public string? OutBy { get; set; }
    public DateTimeOffset? OutAt { get; set; }
}

/// <summary>An answer of a card. Its revision lets two people notice each other.</summary>
public sealed class StepRow
{
    public long VisitId { get; set; }
    public required string Code { get; set; }
    public int Revision { get; set; }
    public required string By { get; set; }
    public DateTimeOffset At { get; set; }

    /// <summary>JSON.</summary>
    public required string Answer { get; set; }

    /// <summary>Entered from a paper card: its time is the plan's, and teaches nothing.</summary>
    public bool Paper { get; set; }

    /// <summary>Defect that came of it.</summary>
    public long? DefectId { get; set; }
}

/// <summary>Minutes that steps take on a machine, as its closed cards say. Derived; one row a machine that has any.</summary>
public sealed class StepMinutesRow
{
    public int MachineId { get; set; }

    /// <summary>JSON: what a step is known by, with its minutes and how often it was timed.</summary>
    public required string Steps { get; set; }
}

/// <summary>A photo of a finding on a card.</summary>
public sealed class StepPhoto
{
    public long Id { get; set; }
    public long VisitId { get; set; }
    public required string Code { get; set; }
    public required string By { get; set; }
    public DateTimeOffset At { get; set; }
    public int Width { get; set; }
    public int Height { get; set; }
    public required byte[] Whole { get; set; }
    public required byte[] Small { get; set; }
}

/// <summary>The workshop's money, time and vessels. One row.</summary>
public sealed class Shop
{
    public int Id { get; set; } = 1;
    public string Currency { get; set; } = "";
    public Money LabourPerHour { get; set; }
    public Money CallOutCost { get; set; }

    /// <summary>Bringing a machine to the workshop and back.</summary>
    public Money HaulageCost { get; set; }

    /// <summary>The laboratory's fee for a sample.</summary>
    public Money LabFee { get; set; }

    /// <summary>What an hour costs in which a machine stands.</summary>
    public Money DowntimePerHour { get; set; }

    /// <summary>Items that come at least this often, hours, are the crew's between visits.</summary>
    public int CareHours { get; set; } = 60;
    public int HorizonDays { get; set; } = 180;
    public int PailLitres { get; set; } = 20;
    public bool OneAtATime { get; set; }
    public bool DrainHot { get; set; } = true;

    /// <summary>Vessels to drain into, a line each: name, litres and stream parted by semicolons.</summary>
    public string Vessels { get; set; } = "";

    /// <summary>Days that the plan by weeks looks ahead.</summary>
    public int PlanDays { get; set; } = 28;

    /// <summary>Share of each person's day that is kept for breakdowns, percent.</summary>
    public int ReservePercent { get; set; } = 25;

    /// <summary>What a minute on the road costs, beside the hands in it.</summary>
    public Money RoadPerMinute { get; set; } = new Money(50);

    /// <summary>What it weighs that a job which was announced is put elsewhere.</summary>
    public Money MovingCost { get; set; } = new Money(60_00);

    /// <summary>Days until a part that is missing is here, where nobody said when.</summary>
    public int PartsDays { get; set; } = 5;
    public int Version { get; set; }
}

internal sealed class VisitRowMap : IEntityTypeConfiguration<VisitRow>
{
    public void Configure(EntityTypeBuilder<VisitRow> builder)
    {
        builder.ToTable("Visits");
        builder.HasOne(x => x.Machine).WithMany().HasForeignKey(x => x.MachineId).OnDelete(DeleteBehavior.Restrict);
        builder.HasMany(x => x.Items).WithOne().HasForeignKey(x => x.VisitId);
        builder.Property(x => x.Version).IsConcurrencyToken();
        builder.HasIndex(x => new { x.State, x.On });
        builder.HasIndex(x => new { x.MachineId, x.On });
    }
}

internal sealed class VisitItemRowMap : IEntityTypeConfiguration<VisitItemRow>
{
    public void Configure(EntityTypeBuilder<VisitItemRow> builder)
    {
        builder.ToTable("VisitItems");
        builder.HasKey(x => new { x.VisitId, x.ItemCode });
    }
}

internal sealed class VisitDefectMap : IEntityTypeConfiguration<VisitDefect>
{
    public void Configure(EntityTypeBuilder<VisitDefect> builder)
    {
        builder.ToTable("VisitDefects");
        builder.HasKey(x => new { x.VisitId, x.DefectId });
        builder.HasOne<VisitRow>().WithMany().HasForeignKey(x => x.VisitId);
        builder.HasOne<DefectRow>().WithMany().HasForeignKey(x => x.DefectId);
    }
}

internal sealed class VanLineMap : IEntityTypeConfiguration<VanLine>
{
    public void Configure(EntityTypeBuilder<VanLine> builder)
    {
        builder.ToTable("VanLines");
        builder.HasKey(x => new { x.VisitId, x.Line });
        builder.HasOne<VisitRow>().WithMany().HasForeignKey(x => x.VisitId);
    }
}

internal sealed class StepRowMap : IEntityTypeConfiguration<StepRow>
{
    public void Configure(EntityTypeBuilder<StepRow> builder)
    {
        builder.ToTable("Steps");
        builder.HasKey(x => new { x.VisitId, x.Code });
        builder.HasOne<VisitRow>().WithMany().HasForeignKey(x => x.VisitId);
        builder.Property(x => x.Revision).IsConcurrencyToken();
    }
}

internal sealed class StepMinutesRowMap : IEntityTypeConfiguration<StepMinutesRow>
{
    public void Configure(EntityTypeBuilder<StepMinutesRow> builder)
    {
        builder.ToTable("StepMinutes");
        builder.HasKey(x => x.MachineId);
        builder.HasOne<Machine>().WithOne().HasForeignKey<StepMinutesRow>(x => x.MachineId);
    }
}

internal sealed class StepPhotoMap : IEntityTypeConfiguration<StepPhoto>
{
    public void Configure(EntityTypeBuilder<StepPhoto> builder)
    {
        builder.ToTable("StepPhotos");
        builder.HasOne<VisitRow>().WithMany().HasForeignKey(x => x.VisitId);
        builder.HasIndex(x => new { x.VisitId, x.Code });
    }
}

internal sealed class ShopMap : IEntityTypeConfiguration<Shop>
{
    public void Configure(EntityTypeBuilder<Shop> builder) => builder.ToTable("Shop");
}
