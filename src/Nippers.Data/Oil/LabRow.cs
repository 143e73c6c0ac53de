using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace Nippers.Data.Oil;

/// <summary>A laboratory that samples go to.</summary>
public sealed class LabRow
{
    public int Id { get; set; }
    public required string Name { get; set; }

    /// <summary>Where it takes lists and gives results; empty for one that answers by letter or file.</summary>
    public string Url { get; set; } = "";

    /// <summary>The token that it asks for, encrypted; empty for none.</summary>
    public string Token { get; set; } = "";

    /// <summary>It stands in the installation's own network: only then an address of such a one is spoken to.</summary>
    public bool OwnNetwork { get; set; }

    /// <summary>How the columns of its files are read, as JSON; empty before the first one.</summary>
    public string Columns { get; set; } = "";

    /// <summary>Samples go here unless another is chosen.</summary>
    public bool Usual { get; set; }

    /// <summary>Where its results were last read to.</summary>
    public long Cursor { get; set; }

    /// <summary>Failed questions running, and when the next one is asked.</summary>
    public int Failures { get; set; }
    public DateTimeOffset? NextAskAt { get; set; }
    public string LastFault { get; set; } = "";
    public int Version { get; set; }
}

/// <summary>Where a consignment is.</summary>
public enum ConsignmentState
{
    /// <summary>Waits to be handed over.</summary>
    Waiting,

    /// <summary>The laboratory has the list.</summary>
    HandedOver,

    /// <summary>All results are in.</summary>
    Answered,
}

/// <summary>Samples that went to a laboratory together.</summary>
public sealed class ConsignmentRow
{
    public long Id { get; set; }
    public int LabId { get; set; }
    public DateTimeOffset MadeAt { get; set; }
    public required string By { get; set; }
    public ConsignmentState State { get; set; }
    public int Attempts { get; set; }
    public DateTimeOffset? NextTryAt { get; set; }
    public string LastFault { get; set; } = "";
    public DateTimeOffset? HandedAt { get; set; }
}

/// <summary>Results that no bottle belongs to; kept aside until somebody says whose they are.</summary>
public sealed class UnmatchedResultRow
{
    public long Id { get; set; }
    public int? LabId { get; set; }
    public DateTimeOffset ReceivedAt { get; set; }
    public required string Bottle { get; set; }

    /// <summary>Why it was kept aside: a code of a refusal.</summary>
    public required string Why { get; set; }

    /// <summary>The result as it came, as JSON.</summary>
    public required string Result { get; set; }

    /// <summary>Tells a repeat.</summary>
    public required string Digest { get; set; }
    public DateTimeOffset? SettledAt { get; set; }
    public string? SettledBy { get; set; }
    public long? SampleId { get; set; }
}

internal sealed class LabRowMap : IEntityTypeConfiguration<LabRow>
{
    public void Configure(EntityTypeBuilder<LabRow> builder)
    {
        builder.ToTable("Labs");
        builder.HasIndex(x => x.Name).IsUnique();
        builder.Property(x => x.Version).IsConcurrencyToken();
    }
}

internal sealed class ConsignmentRowMap : IEntityTypeConfiguration<ConsignmentRow>
{
    public void Configure(EntityTypeBuilder<ConsignmentRow> builder)
    {
        builder.ToTable("Consignments");
        builder.HasOne<LabRow>().WithMany().HasForeignKey(x => x.LabId);
        builder.HasIndex(x => x.State);
    }
}

internal sealed class UnmatchedResultRowMap : IEntityTypeConfiguration<UnmatchedResultRow>
{
    public void Configure(EntityTypeBuilder<UnmatchedResultRow> builder)
    {
        builder.ToTable("UnmatchedResults");
        builder.HasIndex(x => x.Digest).IsUnique();
    }
}
