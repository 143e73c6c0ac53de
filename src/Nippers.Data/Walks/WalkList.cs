using System.Collections.Concurrent;
using System.Text.Json;
using System.Text.Json.Serialization;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata.Builders;
using Nippers.Core.Hours;
using Nippers.Core.Numbers;
using Nippers.Core.Walk;
using Nippers.Data.Fleet;

namespace Nippers.Data.Walks;

/// <summary>What is walked on machines of a kind. Its body is kept by version, so that an old walk still knows what it asked.</summary>
public sealed class WalkList
{
    public int Id { get; set; }
    public required string Code { get; set; }

    /// <summary>Name of the list, and for kinds that a planner added also the name of the kind.</summary>
    public required string Name { get; set; }

    /// <summary>The kind that it is taken for unless a machine names another.</summary>
    public MachineKind Kind { get; set; }

    /// <summary>Written from general trade knowledge; the machine's own manual overrides it.</summary>
    public bool Starter { get; set; }

    /// <summary>Counts saves, so that two editors notice each other. The body of the newest version has this number.</summary>
    public int Version { get; set; }
}

/// <summary>The body of a list at one version; never changed.</summary>
public sealed class WalkListVersion
{
    public int Id { get; set; }
    public int ListId { get; set; }
    public WalkList List { get; set; } = null!;
    public int Version { get; set; }
    public DateTimeOffset At { get; set; }
    public required string By { get; set; }
    public required string Body { get; set; }

    /// <summary>The list, where it is known without its text; null elsewhere.</summary>
    public CheckList? Known { get; init; }

    public CheckList ToList() => Known ?? ListJson.Read(Body);
}

/// <summary>Between a list and its text.</summary>
public static class ListJson
{
    public static JsonSerializerOptions Options { get; } =
        new()
        {
            PropertyNamingPolicy = JsonNamingPolicy.CamelCase,
            AllowOutOfOrderMetadataProperties = true,
            DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingDefault,
            Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
            Converters =
            {
                new JsonStringEnumConverter(JsonNamingPolicy.CamelCase, allowIntegerValues: false),
                new Years.DateConverter(),
                new Years.InstantConverter(),
            },
        };

    /// <summary>Reads a value of one of several kinds.</summary>
    /// <exception cref="JsonException">It is none, or does not say of which kind it is.</exception>
    public static T ReadKind<T>(string text)
        where T : class
    {
        try
        {
            return JsonSerializer.Deserialize<T>(text, Options) ?? throw new JsonException("empty");
        }
        catch (NotSupportedException fault)
        {
            // Thrown where the kind is missing: to whoever sent the text it is broken like any other.
            throw new JsonException("no kind", fault);
        }
    }

    public static string Write(CheckList list) => JsonSerializer.Serialize(list, Options);

    // A body is never changed, and each answer on a walk needs one: reading fifty checks anew was half of its time.
    private const int MostKept = 200;
    private static readonly ConcurrentDictionary<string, CheckList> Kept = new(StringComparer.Ordinal);

    /// <exception cref="JsonException">The text is no list.</exception>
    public static CheckList Read(string body)
    {
        if (Kept.TryGetValue(body, out var known))
            return known;
        if (Kept.Count >= MostKept)
            Kept.Clear();
        return Kept[body] = JsonSerializer.Deserialize<CheckList>(body, Options) ?? throw new JsonException("empty");
    }
}

/// <summary>What one machine's manual, tyres or setup say of a check.</summary>
public sealed class MachineCheck
{
    public int Id { get; set; }
    public int MachineId { get; set; }
    public required string CheckCode { get; set; }

    /// <summary>Name of the check when this was entered.</summary>
    public string Name { get; set; } = "";
    public double? Low { get; set; }
    public double? WatchBelow { get; set; }
    public double? High { get; set; }

    /// <summary>Wear part: its measure when new.</summary>
    public double? New { get; set; }

    /// <summary>Wear part: life hours at which it was last replaced; measures before that are another part's.</summary>
    public MeterHours? NewAtHours { get; set; }

    /// <summary>Level: litres between the marks.</summary>
    public Litres? MarkLitres { get; set; }
    public SagMethod? Method { get; set; }

    /// <summary>For example the tyre fitted and its ballast, or where the figures come from.</summary>
    public string Note { get; set; } = "";

    public CheckLimits ToLimits() => new(Low, WatchBelow, High, New, MarkLitres?.Value, Method, Note);
}

internal sealed class WalkListMap : IEntityTypeConfiguration<WalkList>
{
    public void Configure(EntityTypeBuilder<WalkList> builder)
    {
        builder.ToTable("WalkLists");
        builder.HasIndex(x => x.Code).IsUnique();
        builder.Property(x => x.Version).IsConcurrencyToken();
    }
}

internal sealed class WalkListVersionMap : IEntityTypeConfiguration<WalkListVersion>
{
    public void Configure(EntityTypeBuilder<WalkListVersion> builder)
    {
        builder.ToTable("WalkListVersions");
        builder.Ignore(x => x.Known);
        builder.HasIndex(x => new { x.ListId, x.Version }).IsUnique();
        builder.HasOne(x => x.List).WithMany().HasForeignKey(x => x.ListId).OnDelete(DeleteBehavior.Restrict);
    }
}

internal sealed class MachineCheckMap : IEntityTypeConfiguration<MachineCheck>
{
    public void Configure(EntityTypeBuilder<MachineCheck> builder)
    {
        builder.ToTable("MachineChecks");
        builder.HasIndex(x => new { x.MachineId, x.CheckCode }).IsUnique();
        builder.Property(x => x.Method).HasConversion<string>();
        builder.HasOne<Machine>().WithMany().HasForeignKey(x => x.MachineId);
    }
}
