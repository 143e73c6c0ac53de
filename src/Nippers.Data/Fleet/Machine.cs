using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Nippers.Core.Hours;
using Nippers.Core.Numbers;
using Nippers.Core.Service;
using Nippers.Data.Programs;

namespace Nippers.Data.Fleet;

/// <summary>A machine of the fleet.</summary>
public sealed class Machine
{
    public int Id { get; set; }

    /// <summary>What is painted on it, for example <c>EX-04</c>. Kept in capitals.</summary>
    public required string Unit { get; set; }
    public MachineKind Kind { get; set; }
    public required string Make { get; set; }
    public required string Model { get; set; }
    public string Serial { get; set; } = "";
    public string Note { get; set; } = "";
    public int SiteId { get; set; }
    public Site Site { get; set; } = null!;
    public int ProgramId { get; set; }
    public ServiceProgram Program { get; set; } = null!;

    /// <summary>The walk list it is walked by; null: that of its kind.</summary>
    public int? WalkListId { get; set; }
    public Walks.WalkList? WalkList { get; set; }
    public History History { get; set; }
    public DateOnly CommissionedOn { get; set; }

    /// <summary>Life hours at commissioning.</summary>
    public MeterHours CommissionedHours { get; set; }
    public Duty Duty { get; set; }

    /// <summary>Hours a calendar day that the planner expects.</summary>
    public double PlannedHoursPerDay { get; set; }

    /// <summary>Kilometres of its odometer at commissioning; null for a machine without one.</summary>
    public int? CommissionedKm { get; set; }

    /// <summary>Kilometres a calendar day that the planner expects; 0 where nobody said.</summary>
    public double PlannedKmPerDay { get; set; }

    /// <summary>Option words parted by blanks, sorted; see OptionRule in Core.</summary>
    public string Options { get; set; } = "";

    /// <summary>Sold or scrapped: kept with its records, left out of lists.</summary>
    public bool Retired { get; set; }

    /// <summary>Counts saves, so that two editors notice each other.</summary>
    public int Version { get; set; }

    /// <summary>How fuel is bled, as its manual says; empty when not entered.</summary>
    public string BleedMethod { get; set; } = "";

    /// <summary>Bleed points in order.</summary>
    public string BleedPoints { get; set; } = "";
    public int CrankSeconds { get; set; }
    public int RestSeconds { get; set; }
    public int CrankRepeats { get; set; }

    public List<MachineCompartment> Compartments { get; set; } = [];

    public IReadOnlySet<string> OptionWords => Options.Split(' ', StringSplitOptions.RemoveEmptyEntries).ToHashSet(StringComparer.Ordinal);

    public DueMachine ForDue() => new(History, CommissionedOn, CommissionedHours, Duty);
}

/// <summary>What this machine's own manual says of a compartment.</summary>
public sealed class MachineCompartment
{
    public int Id { get; set; }
    public int MachineId { get; set; }

    /// <summary>Code of the program's compartment.</summary>
    public required string Code { get; set; }

    /// <summary>Capacity with filter, litres; null when not entered.</summary>
    public Litres? CapacityLitres { get; set; }

    /// <summary>Fluid in it as the crew calls it.</summary>
    public string Fluid { get; set; } = "";

    /// <summary>Litres that its filters hold.</summary>
    public Litres FilterLitres { get; set; }

    /// <summary>Drain plugs: two drives, both ends of an axle.</summary>
    public int DrainPoints { get; set; } = 1;

    /// <summary>Torque of the drain plug as the manual writes it; empty when not entered.</summary>
    public string PlugTorque { get; set; } = "";

    /// <summary>Part number of the plug's seal.</summary>
    public string PlugSeal { get; set; } = "";

    /// <summary>Wrench or socket for the plug.</summary>
    public string Socket { get; set; } = "";

    /// <summary>Engine: longest seconds to oil pressure.</summary>
    public double? PressureSeconds { get; set; }

    /// <summary>Interval between oil changes that analysis earned; null: that of the program.</summary>
    public MeterHours? DrainHours { get; set; }

    /// <summary>Hub: plug positions as clock hours, drain, level and fill.</summary>
    public string Hub { get; set; } = "";
}

internal sealed class MachineMap : IEntityTypeConfiguration<Machine>
{
    public void Configure(EntityTypeBuilder<Machine> builder)
    {
        builder.HasIndex(x => x.Unit).IsUnique();

        // What lists are filtered by, without the rest of a wide row.
        builder
            .HasIndex(x => new
            {
                x.Id,
                x.Retired,
                x.SiteId,
                x.Kind,
            })
            .HasDatabaseName("IX_Machines_Listed");
        builder.Property(x => x.History).HasConversion<string>();
        builder.Property(x => x.Duty).HasConversion<string>();
        builder.Property(x => x.Version).IsConcurrencyToken();
        builder.Ignore(x => x.OptionWords);
        builder.HasOne(x => x.Site).WithMany().OnDelete(DeleteBehavior.Restrict);
        builder.HasOne(x => x.Program).WithMany().OnDelete(DeleteBehavior.Restrict);
        builder.HasOne(x => x.WalkList).WithMany().HasForeignKey(x => x.WalkListId).OnDelete(DeleteBehavior.Restrict);
        builder.HasMany(x => x.Compartments).WithOne().HasForeignKey(x => x.MachineId);
    }
}

internal sealed class MachineCompartmentMap : IEntityTypeConfiguration<MachineCompartment>
{
    public void Configure(EntityTypeBuilder<MachineCompartment> builder)
    {
        builder.HasIndex(x => new { x.MachineId, x.Code }).IsUnique();
        builder.Property(x => x.DrainPoints).HasDefaultValue(1);
    }
}
