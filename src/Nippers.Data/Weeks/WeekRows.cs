using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Nippers.Data.Fleet;
using Nippers.Data.Parts;
using Nippers.Data.People;
using Nippers.Data.Visits;

namespace Nippers.Data.Weeks;

/// <summary>What the plan by weeks knows of somebody; without a row their site's own days hold.</summary>
public sealed class CrewRow
{
    public required string UserId { get; set; }

    /// <summary>Where their days begin and end.</summary>
    public int SiteId { get; set; }

    /// <summary>Not planned for: they do other work.</summary>
    public bool Off { get; set; }

    /// <summary>Minutes of each day of the week, Sunday first, with blanks between.</summary>
    public required string Minutes { get; set; }

    /// <summary>What they are qualified for beside a technician's own work, by kind of place, with blanks between.</summary>
    public string Subjects { get; set; } = "";
    public int Version { get; set; }
}

/// <summary>Days on which somebody is not there.</summary>
public sealed class AwayRow
{
    public long Id { get; set; }
    public required string UserId { get; set; }
    public DateOnly From { get; set; }
    public DateOnly To { get; set; }
    public string Why { get; set; } = "";
}

/// <summary>Minutes from one site to another, the same both ways. The lower number stands first.</summary>
public sealed class RoadRow
{
    public int FromId { get; set; }
    public int ToId { get; set; }
    public int Minutes { get; set; }
}

/// <summary>Days on which a machine must work, so that nobody services it.</summary>
public sealed class BusyRow
{
    public long Id { get; set; }
    public int MachineId { get; set; }
    public DateOnly From { get; set; }
    public DateOnly To { get; set; }
    public string Why { get; set; } = "";
    public required string By { get; set; }
}

/// <summary>Who does a visit, and when: a part of a kept plan. A visit longer than a day has several, in order.</summary>
public sealed class PlannedJob
{
    public long Id { get; set; }
    public long VisitId { get; set; }
    public VisitRow Visit { get; set; } = null!;

    /// <summary>1, or which of several days.</summary>
    public int Part { get; set; } = 1;

    /// <summary>It is the second person's of that day: whoever helps.</summary>
    public bool Helps { get; set; }
    public required string UserId { get; set; }
    public DateOnly On { get; set; }

    /// <summary>Which of that person's jobs of that day, from 1.</summary>
    public int Turn { get; set; }
    public int Minutes { get; set; }

    /// <summary>A person put it there: a plan made anew leaves it.</summary>
    public bool Pinned { get; set; }

    /// <summary>Visits that are one round for samples bear the same; empty for none.</summary>
    public string Round { get; set; } = "";

    /// <summary>How often it was put elsewhere or given to somebody else: calendars take the later one.</summary>
    public int Sequence { get; set; }

    /// <summary>When it was put where it stands.</summary>
    public DateTimeOffset ChangedAt { get; set; }
}

/// <summary>A person's private calendar link. Only its hash is kept; making another one ends it.</summary>
public sealed class CalendarLink
{
    public required string UserId { get; set; }
    public required string Hash { get; set; }
    public DateTimeOffset MadeAt { get; set; }
}

/// <summary>The plan that holds. There is one row, or none while none was kept.</summary>
public sealed class KeptPlan
{
    public int Id { get; set; } = 1;
    public DateOnly From { get; set; }
    public int Days { get; set; }
    public DateTimeOffset At { get; set; }
    public required string By { get; set; }

    /// <summary>What it costs by rule, and what no plan can be below, in money.</summary>
    public double Cost { get; set; }
    public double Bound { get; set; }

    /// <summary>The fleet's plan as it was kept, JSON: what was left out and why stands in it.</summary>
    public required string Body { get; set; }
    public int Version { get; set; }
}

/// <summary>A plan that a planner looks at and has not kept. Each has one.</summary>
public sealed class DraftPlan
{
    public required string UserId { get; set; }
    public DateTimeOffset At { get; set; }

    /// <summary>JSON.</summary>
    public required string Body { get; set; }
    public int Version { get; set; }
}

/// <summary>Parts that were ordered and are not here yet.</summary>
public sealed class PartOrder
{
    public long Id { get; set; }
    public int PartId { get; set; }
    public int SiteId { get; set; }
    public int Quantity { get; set; }
    public DateOnly ExpectedOn { get; set; }
    public required string By { get; set; }
    public DateTimeOffset At { get; set; }
}

internal sealed class CrewRowMap : IEntityTypeConfiguration<CrewRow>
{
    public void Configure(EntityTypeBuilder<CrewRow> builder)
    {
        builder.ToTable("Crew");
        builder.HasKey(x => x.UserId);
        builder.HasOne<NippersUser>().WithOne().HasForeignKey<CrewRow>(x => x.UserId);
        builder.HasOne<Site>().WithMany().HasForeignKey(x => x.SiteId).OnDelete(DeleteBehavior.Restrict);
        builder.Property(x => x.Version).IsConcurrencyToken();
    }
}

internal sealed class AwayRowMap : IEntityTypeConfiguration<AwayRow>
{
    public void Configure(EntityTypeBuilder<AwayRow> builder)
    {
        builder.ToTable("Away");
        builder.HasOne<NippersUser>().WithMany().HasForeignKey(x => x.UserId);
        builder.HasIndex(x => x.To);
    }
}

internal sealed class RoadRowMap : IEntityTypeConfiguration<RoadRow>
{
    public void Configure(EntityTypeBuilder<RoadRow> builder)
    {
        builder.ToTable("Roads");
        builder.HasKey(x => new { x.FromId, x.ToId });
        builder.HasOne<Site>().WithMany().HasForeignKey(x => x.FromId);
        builder.HasOne<Site>().WithMany().HasForeignKey(x => x.ToId);
    }
}

internal sealed class BusyRowMap : IEntityTypeConfiguration<BusyRow>
{
    public void Configure(EntityTypeBuilder<BusyRow> builder)
    {
        builder.ToTable("Busy");
        builder.HasOne<Machine>().WithMany().HasForeignKey(x => x.MachineId);
        builder.HasIndex(x => x.To);
    }
}

internal sealed class PlannedJobMap : IEntityTypeConfiguration<PlannedJob>
{
    public void Configure(EntityTypeBuilder<PlannedJob> builder)
    {
        builder.ToTable("PlannedJobs");
        builder.HasOne(x => x.Visit).WithMany().HasForeignKey(x => x.VisitId);
        builder.HasOne<NippersUser>().WithMany().HasForeignKey(x => x.UserId);
        builder
            .HasIndex(x => new
            {
                x.VisitId,
                x.Part,
                x.Helps,
            })
            .IsUnique();
        builder.HasIndex(x => x.On);
    }
}

internal sealed class CalendarLinkMap : IEntityTypeConfiguration<CalendarLink>
{
    public void Configure(EntityTypeBuilder<CalendarLink> builder)
    {
        builder.ToTable("CalendarLinks");
        builder.HasKey(x => x.UserId);
        builder.HasIndex(x => x.Hash).IsUnique();
        builder.HasOne<NippersUser>().WithOne().HasForeignKey<CalendarLink>(x => x.UserId);
    }
}

internal sealed class KeptPlanMap : IEntityTypeConfiguration<KeptPlan>
{
    public void Configure(EntityTypeBuilder<KeptPlan> builder)
    {
        builder.ToTable("KeptPlan");
        builder.Property(x => x.Version).IsConcurrencyToken();
    }
}

internal sealed class DraftPlanMap : IEntityTypeConfiguration<DraftPlan>
{
    public void Configure(EntityTypeBuilder<DraftPlan> builder)
    {
        builder.ToTable("DraftPlans");
        builder.HasKey(x => x.UserId);
        builder.HasOne<NippersUser>().WithOne().HasForeignKey<DraftPlan>(x => x.UserId);
        builder.Property(x => x.Version).IsConcurrencyToken();
    }
}

internal sealed class PartOrderMap : IEntityTypeConfiguration<PartOrder>
{
    public void Configure(EntityTypeBuilder<PartOrder> builder)
    {
        builder.ToTable("PartOrders");
        builder.HasOne<PartRow>().WithMany().HasForeignKey(x => x.PartId);
        builder.HasOne<Site>().WithMany().HasForeignKey(x => x.SiteId);
    }
}
