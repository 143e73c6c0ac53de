using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace Nippers.Data.Fleet;

/// <summary>A place where machines stand; its zone decides what a day is.</summary>
public sealed class Site
{
    public int Id { get; set; }
    public required string Name { get; set; }

    /// <summary>IANA name, for example <c>Europe/London</c>.</summary>
    public required string TimeZone { get; set; }
}

internal sealed class SiteMap : IEntityTypeConfiguration<Site>
{
    public void Configure(EntityTypeBuilder<Site> builder) => builder.HasIndex(x => x.Name).IsUnique();
}
