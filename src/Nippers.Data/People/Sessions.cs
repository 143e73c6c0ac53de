using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;

namespace Nippers.Data.People;

/// <summary>A session that was signed out of before its cookie is too old.</summary>
public sealed class EndedSession
{
    /// <summary>The session.</summary>
    public required string Id { get; set; }
    public DateTimeOffset At { get; set; }
}

/// <summary>A code with which somebody sets another password, once. Only its hash is kept.</summary>
public sealed class ResetCode
{
    public required string UserId { get; set; }
    public required string Hash { get; set; }
    public DateTimeOffset Until { get; set; }

    /// <summary>Wrong codes typed since it was made.</summary>
    public int Wrong { get; set; }
}

internal sealed class EndedSessionMap : IEntityTypeConfiguration<EndedSession>
{
    public void Configure(EntityTypeBuilder<EndedSession> builder) => builder.HasIndex(x => x.At);
}

internal sealed class ResetCodeMap : IEntityTypeConfiguration<ResetCode>
{
    public void Configure(EntityTypeBuilder<ResetCode> builder)
    {
        builder.HasKey(x => x.UserId);
        builder.HasOne<NippersUser>().WithOne().HasForeignKey<ResetCode>(x => x.UserId).OnDelete(DeleteBehavior.Cascade);
    }
}
