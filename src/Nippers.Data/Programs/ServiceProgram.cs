using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Nippers.Core.Hours;
using Nippers.Core.Jobs;
using Nippers.Core.Service;
using Nippers.Data.Fleet;

namespace Nippers.Data.Programs;

/// <summary>What has to be done to machines of a kind, and how often.</summary>
public sealed class ServiceProgram
{
    public int Id { get; set; }
    public required string Code { get; set; }
    public required string Name { get; set; }
    public MachineKind Kind { get; set; }
    public IntervalBasis IntervalBasis { get; set; }
    public int CreditPercent { get; set; } = 10;
    public int WindowPercent { get; set; } = 10;
    public MeterHours LeastWindowHours { get; set; } = new MeterHours(50);
    public int ComingDays { get; set; } = 30;

    /// <summary>Written from general trade knowledge; the machine's own manual overrides it.</summary>
    public bool Starter { get; set; }

    /// <summary>Counts saves, so that two editors notice each other.</summary>
    public int Version { get; set; }
    public List<ProgramCompartment> Compartments { get; set; } = [];
    public List<ProgramItem> Items { get; set; } = [];

    public DueSettings ForDue() => new(IntervalBasis, CreditPercent, WindowPercent, LeastWindowHours.Value, ComingDays);

    /// <summary>Items that belong on a machine and are not switched off, in order.</summary>
    /// <param name="options">The machine's option words.</param>
    public IEnumerable<ProgramItem> ItemsOn(IReadOnlySet<string> options) =>
        Items.Where(item => !item.Off && OptionRule.Holds(item.Needs, options)).OrderBy(item => item.Position);
}

/// <summary>What kind of place a compartment is.</summary>
public enum CompartmentKind
{
    Engine,
    Fuel,
    Air,
    Cooling,
    Hydraulic,
    Transmission,
    Gear,
    Aftertreatment,
    Electrical,
    Cab,
    Undercarriage,
    Structure,
    Attachment,
}

/// <summary>A place on the machine that items are done to.</summary>
public sealed class ProgramCompartment
{
    public int Id { get; set; }
    public int ProgramId { get; set; }
    public int Position { get; set; }
    public required string Code { get; set; }
    public required string Name { get; set; }
    public CompartmentKind Kind { get; set; }
    public string Needs { get; set; } = "";

    /// <summary>Waste stream of what it holds: oil, coolant, fuel; empty when it holds nothing.</summary>
    public string Stream { get; set; } = "";

    /// <summary>How it is drained and filled: round, levelplug, thick, slow, liveport, warmlevel.</summary>
    public string Traits { get; set; } = "";

    /// <summary>Minutes until it has run out, and until it has settled after the run.</summary>
    public int DrainMinutes { get; set; }
    public int SettleMinutes { get; set; }

    /// <summary>Fluids by outside temperature; see FluidRange in Core.</summary>
    public string Fluids { get; set; } = "";

    /// <summary>
    /// By how much analysis may lengthen the interval between oil changes at a time, and up to where; null: it may not.
    /// </summary>
    public MeterHours? DrainStepHours { get; set; }
    public MeterHours? DrainCapHours { get; set; }

    /// <summary>Fluids that are approved for it, parted by semicolons.</summary>
    public string DrainFluids { get; set; } = "";
}

/// <summary>One thing done to one place, as a program asks for it.</summary>
public sealed class ProgramItem
{
    public int Id { get; set; }
    public int ProgramId { get; set; }
    public int Position { get; set; }
    public required string Code { get; set; }
    public required string Name { get; set; }

    /// <summary>Code of the program's compartment.</summary>
    public required string Compartment { get; set; }
    public MeterHours? EveryHours { get; set; }
    public int? EveryMonths { get; set; }

    /// <summary>Kilometres of an odometer; null without.</summary>
    public int? EveryKm { get; set; }
    public MeterHours? FirstAtHours { get; set; }
    public bool Once { get; set; }
    public DutyFactor DutyFactor { get; set; } = DutyFactor.Whole;
    public bool Strict { get; set; }
    public IntervalBasis? IntervalBasis { get; set; }

    /// <summary>Option rule; empty: on every machine. See OptionRule in Core.</summary>
    public string Needs { get; set; } = "";

    /// <summary>How many points there are, for example grease fittings; 0 when not counted.</summary>
    public int Points { get; set; }

    /// <summary>Only by people qualified for it.</summary>
    public bool Qualified { get; set; }

    /// <summary>What kind of work it is; decides its steps on a job card.</summary>
    public ItemWork Work { get; set; }

    /// <summary>Minutes of its main step.</summary>
    public int Minutes { get; set; } = 5;

    /// <summary>Codes of items that are done with it, parted by blanks.</summary>
    public string Covers { get; set; } = "";

    /// <summary>What must be open for it: belly-pan, tilted-cab, raised-body, hood.</summary>
    public string Access { get; set; } = "";

    /// <summary>The caution that belongs to this work, in plain words.</summary>
    public string Caution { get; set; } = "";

    /// <summary>Switched off: kept for its history, not due.</summary>
    public bool Off { get; set; }

    /// <summary>It empties its compartment and fills it anew: from there hours on the oil and consumption count.</summary>
    public bool ChangesFluid => Work == ItemWork.Fluid;

    /// <summary>Part of daily care: ten hours or less.</summary>
    public bool IsDaily => EveryHours is { Tenths: > 0 and <= 100 };

    public ServiceItem ForDue() =>
        new(
            Code,
            EveryHours is { } every ? every : null,
            EveryMonths,
            FirstAtHours is { } first ? first : null,
            Once,
            DutyFactor,
            Strict,
            IntervalBasis,
            EveryKm
        );
}

internal sealed class ServiceProgramMap : IEntityTypeConfiguration<ServiceProgram>
{
    public void Configure(EntityTypeBuilder<ServiceProgram> builder)
    {
        builder.ToTable("Programs");
        builder.HasIndex(x => x.Code).IsUnique();
        builder.Property(x => x.IntervalBasis).HasConversion<string>();
        builder.Property(x => x.Version).IsConcurrencyToken();
        builder.HasMany(x => x.Compartments).WithOne().HasForeignKey(x => x.ProgramId);
        builder.HasMany(x => x.Items).WithOne().HasForeignKey(x => x.ProgramId);
    }
}

internal sealed class ProgramCompartmentMap : IEntityTypeConfiguration<ProgramCompartment>
{
    public void Configure(EntityTypeBuilder<ProgramCompartment> builder)
    {
        builder.HasIndex(x => new { x.ProgramId, x.Code }).IsUnique();
        builder.Property(x => x.Kind).HasConversion<string>();
    }
}

internal sealed class ProgramItemMap : IEntityTypeConfiguration<ProgramItem>
{
    public void Configure(EntityTypeBuilder<ProgramItem> builder)
    {
        builder.HasIndex(x => new { x.ProgramId, x.Code }).IsUnique();
        builder.Property(x => x.IntervalBasis).HasConversion<string>();
        builder.Property(x => x.Work).HasConversion<string>().HasDefaultValue(ItemWork.Check);
        builder.Property(x => x.Minutes).HasDefaultValue(5);
        builder.Ignore(x => x.IsDaily);
        builder.Ignore(x => x.ChangesFluid);
    }
}
