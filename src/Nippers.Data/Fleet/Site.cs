using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Nippers.Core.Defects;

namespace Nippers.Data.Fleet;

/// <summary>A place where machines stand; its zone decides what a day is.</summary>
public sealed class Site
{
    public int Id { get; set; }
    public required string Name { get; set; }

    /// <summary>IANA name, for example <c>Europe/London</c>.</summary>
    public required string TimeZone { get; set; }

    /// <summary>Working days as bits, Sunday the lowest.</summary>
    public int WorkDays { get; set; } = 0b1111110;

    /// <summary>Start and end of the shift, minutes after midnight.</summary>
    public int ShiftFrom { get; set; } = 7 * 60;
    public int ShiftTo { get; set; } = 17 * 60;

    /// <summary>Outside temperatures expected until the next change of fluids, degrees C; null when nobody said.</summary>
    public int? LowC { get; set; }
    public int? HighC { get; set; }

    /// <summary>Who is told when a machine stops: a name, with a number to call; empty when nobody was named.</summary>
    public string Contact { get; set; } = "";

    /// <summary>Stop buttons, isolators and alarms are tried on every walk, not each 50 h.</summary>
    public bool StopsEachWalk { get; set; }

    public WorkingTime Working =>
        new(
            Enum.GetValues<DayOfWeek>().Where(day => (WorkDays & (1 << (int)day)) != 0).ToHashSet(),
            new(ShiftFrom / 60, ShiftFrom % 60),
            new(ShiftTo / 60, ShiftTo % 60)
        );
}

internal sealed class SiteMap : IEntityTypeConfiguration<Site>
{
    public void Configure(EntityTypeBuilder<Site> builder)
    {
        builder.HasIndex(x => x.Name).IsUnique();
        builder.Ignore(x => x.Working);
        builder.Property(x => x.WorkDays).HasDefaultValue(0b1111110);
        builder.Property(x => x.ShiftFrom).HasDefaultValue(7 * 60);
        builder.Property(x => x.ShiftTo).HasDefaultValue(17 * 60);
    }
}
