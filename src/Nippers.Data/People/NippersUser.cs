using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace Nippers.Data.People;

/// <summary>Someone who signs in.</summary>
public sealed class NippersUser : IdentityUser
{
    /// <summary>The name that stands behind records.</summary>
    public string FullName { get; set; } = "";

    /// <summary>The site whose machines come first; null for none.</summary>
    public int? SiteId { get; set; }
}

/// <summary>A bearer token of the API. Only its hash is kept.</summary>
public sealed class ApiToken
{
    public int Id { get; set; }
    public required string Name { get; set; }
    public required string Hash { get; set; }
    public required string Role { get; set; }
    public required string MadeBy { get; set; }
    public DateTimeOffset MadeAt { get; set; }
    public DateTimeOffset? UsedAt { get; set; }
    public DateTimeOffset? RevokedAt { get; set; }
}

internal sealed class ApiTokenMap : IEntityTypeConfiguration<ApiToken>
{
    public void Configure(EntityTypeBuilder<ApiToken> builder) => builder.HasIndex(x => x.Hash).IsUnique();
}
