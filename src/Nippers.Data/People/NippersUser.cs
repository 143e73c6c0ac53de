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

    /// <summary>The units in which they read and type, by their word: <c>metric</c>, <c>us</c>.</summary>
    public string Units { get; set; } = "metric";

    /// <summary>The language in which they read, by its two letters; empty for the browser's.</summary>
    public string Language { get; set; } = "";
}

/// <summary>A bearer token of the API. Only its hash is kept.</summary>
public sealed class ApiToken
{
    public int Id { get; set; }
    public required string Name { get; set; }
    public required string Hash { get; set; }
    public required string Role { get; set; }

    /// <summary>What it may do, of <see cref="TokenScopes.All"/>, with blanks between.</summary>
    public required string Scopes { get; set; }
    public required string MadeBy { get; set; }
    public DateTimeOffset MadeAt { get; set; }
    public DateTimeOffset? UsedAt { get; set; }
    public DateTimeOffset? RevokedAt { get; set; }

    /// <summary>From when on it is good for nothing.</summary>
    public DateTimeOffset ExpiresAt { get; set; }
}

/// <summary>What a token may do, each apart.</summary>
public static class TokenScopes
{
    /// <summary>Look at everything that the interface shows.</summary>
    public const string Read = "read";

    /// <summary>Log meter readings.</summary>
    public const string Hours = "hours";

    /// <summary>Send walks and report defects.</summary>
    public const string Walks = "walks";

    /// <summary>Keep samples that were taken.</summary>
    public const string Results = "results";

    public static IReadOnlyList<string> All { get; } = [Read, Hours, Walks, Results];
}

internal sealed class ApiTokenMap : IEntityTypeConfiguration<ApiToken>
{
    public void Configure(EntityTypeBuilder<ApiToken> builder) => builder.HasIndex(x => x.Hash).IsUnique();
}
