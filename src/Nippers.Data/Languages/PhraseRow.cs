using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace Nippers.Data.Languages;

/// <summary>What a planner says in another language for words of an own list, program or kind.</summary>
public sealed class PhraseRow
{
    /// <summary>The language, by its two letters.</summary>
    public required string Language { get; set; }

    /// <summary>The words as they stand in the list.</summary>
    public required string Text { get; set; }

    /// <summary>The same in the language.</summary>
    public required string Said { get; set; }
}

internal sealed class PhraseRowMap : IEntityTypeConfiguration<PhraseRow>
{
    public void Configure(EntityTypeBuilder<PhraseRow> builder) => builder.HasKey(x => new { x.Language, x.Text });
}
