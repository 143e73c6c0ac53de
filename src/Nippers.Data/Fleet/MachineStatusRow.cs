using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Nippers.Core.Defects;
using Nippers.Core.Hours;
using Nippers.Core.Service;

namespace Nippers.Data.Fleet;

/// <summary>
/// What Today needs of a machine, derived from its readings, completions and program and kept beside them.
/// Written in the transaction that changes any of those; see docs/decisions/0003-standing-rows.md.
/// </summary>
public sealed class MachineStatusRow
{
    public int MachineId { get; set; }
    public Machine Machine { get; set; } = null!;

    /// <summary>When it was derived.</summary>
    public DateTimeOffset ComputedAt { get; set; }
    public DateTimeOffset LastAt { get; set; }
    public MeterHours LastHours { get; set; }

    /// <summary>Life hours less what the meter shows now.</summary>
    public MeterHours OffsetHours { get; set; }
    public bool HasReading { get; set; }
    public double HoursPerDay { get; set; }
    public double Sigma { get; set; }
    public double RateSigma { get; set; }
    public UseBasis Basis { get; set; }
    public double CoveredDays { get; set; }
    public bool Stale { get; set; }
    public bool Parked { get; set; }
    public int Unconfirmed { get; set; }

    /// <summary>Most pressing standing of its service items; daily care is counted apart.</summary>
    public DueStatus Worst { get; set; }
    public int Overdue { get; set; }
    public int Due { get; set; }
    public int Coming { get; set; }
    public int NoRecord { get; set; }
    public int DailyOpen { get; set; }

    /// <summary>Sorts machines of one standing: hours, or days as hours, that are left; the least first.</summary>
    public double Urgency { get; set; }

    /// <summary>A stop defect stands: the machine does not work.</summary>
    public bool OutOfService { get; set; }

    /// <summary>Defects that stand.</summary>
    public int Defects { get; set; }

    /// <summary>Least limit of its limit defects: life hours and date.</summary>
    public MeterHours? DefectLimitHours { get; set; }
    public DateOnly? DefectLimitOn { get; set; }

    /// <summary>A stop is open of which nobody says that anybody was told.</summary>
    public bool Untold { get; set; }

    /// <summary>A job card is open on it.</summary>
    public bool CardOpen { get; set; }

    /// <summary>Who holds its locks while the card is open; null where nobody says.</summary>
    public string? CardBy { get; set; }

    /// <summary>What is off or open on it while the card is open, a line each; null for nothing.</summary>
    public string? CardOff { get; set; }

    /// <summary>Safety-critical checks that were due on its last walk and that nobody has made.</summary>
    public int NotChecked { get; set; }

    /// <summary>May it run, in life hours.</summary>
    public RunAnswer Answer =>
        OutOfService || CardOpen ? RunAnswer.Out(OutOfService, CardOpen, CardBy, CardOff)
        : NotChecked > 0 ? new(RunStatus.NotChecked, DefectLimitHours, DefectLimitOn)
        : DefectLimitHours is null && DefectLimitOn is null ? new(RunStatus.NoStopFound)
        : new(RunStatus.RunUntil, DefectLimitHours is { } hours ? hours : null, DefectLimitOn);

    /// <summary>Date of the last finished walk.</summary>
    public DateOnly? WalkedOn { get; set; }

    /// <summary>When the last finished walk of the last days was signed off.</summary>
    public DateTimeOffset? WalkedAt { get; set; }

    /// <summary>Working days of the last week on which it worked and nobody walked round it.</summary>
    public int MissedWalks { get; set; }

    /// <summary>Samples that are due or overdue.</summary>
    public int SamplesDue { get; set; }

    /// <summary>Due points and resolved parked spans, packed; read by StatusCodec.</summary>
    public required byte[] Points { get; set; }
}

internal sealed class MachineStatusRowMap : IEntityTypeConfiguration<MachineStatusRow>
{
    public void Configure(EntityTypeBuilder<MachineStatusRow> builder)
    {
        builder.ToTable("Statuses");
        builder.HasKey(x => x.MachineId);
        builder.Ignore(x => x.Answer);
        builder.HasOne(x => x.Machine).WithOne().HasForeignKey<MachineStatusRow>(x => x.MachineId);
        builder.HasIndex(x => new { x.Worst, x.Urgency });

        // In the order of Today, with all that is counted, beside the packed points: of thousands the first are read without the rest.
        builder
            .HasIndex(x => new
            {
                x.OutOfService,
                x.Worst,
                x.Urgency,
                x.MachineId,
                x.ComputedAt,
                x.CardOpen,
                x.NotChecked,
                x.Unconfirmed,
                x.Stale,
                x.Parked,
                x.MissedWalks,
                x.WalkedOn,
                x.Untold,
            })
            .IsDescending(true, true, false, false, false, false, false, false, false, false, false, false, false)
            .HasDatabaseName("IX_Statuses_Counted");
    }
}
