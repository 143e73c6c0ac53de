using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace Nippers.Data.Records;

/// <summary>Who changed what, when, from what to what. Written in the transaction of the change.</summary>
public sealed class AuditRow
{
    public long Id { get; set; }
    public DateTimeOffset At { get; set; }
    public required string Who { get; set; }

    /// <summary>For example <c>reading.log</c>.</summary>
    public required string What { get; set; }
    public int? MachineId { get; set; }

    /// <summary>What it was done to, for example a unit or a program's code.</summary>
    public required string Subject { get; set; }
    public string? Before { get; set; }
    public string? After { get; set; }

    /// <summary>Print of this row and of the one before it; see <see cref="AuditChain"/>.</summary>
    public string Chain { get; set; } = "";
}

internal sealed class AuditRowMap : IEntityTypeConfiguration<AuditRow>
{
    public void Configure(EntityTypeBuilder<AuditRow> builder)
    {
        builder.ToTable("Audit");
        builder.HasIndex(x => new { x.MachineId, x.At });
        builder.HasIndex(x => x.At);
        builder.HasIndex(x => x.What);
    }
}

/// <summary>A write that was already done under a key, so that a repeat is harmless.</summary>
public sealed class WriteKey
{
    public required string Key { get; set; }
    public DateTimeOffset At { get; set; }

    /// <summary>What came of it, for answering the repeat.</summary>
    public required string Outcome { get; set; }

    /// <summary>Print of what was asked under it; null where a phone keeps the same in a shape of its own.</summary>
    public string? Print { get; set; }
}

internal sealed class WriteKeyMap : IEntityTypeConfiguration<WriteKey>
{
    public void Configure(EntityTypeBuilder<WriteKey> builder)
    {
        builder.HasKey(x => x.Key);
        builder.Property(x => x.Key).HasMaxLength(160);
    }
}

/// <summary>A file that was uploaded and shown, and waits to be applied.</summary>
public sealed class ImportDraft
{
    public required string Id { get; set; }
    public required string By { get; set; }
    public DateTimeOffset At { get; set; }
    public required string FileName { get; set; }
    public required string Text { get; set; }
}

internal sealed class ImportDraftMap : IEntityTypeConfiguration<ImportDraft>
{
    public void Configure(EntityTypeBuilder<ImportDraft> builder) => builder.HasKey(x => x.Id);
}
