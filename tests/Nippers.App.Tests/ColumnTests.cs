using System.Globalization;
using System.Text.Json.Nodes;
using Microsoft.Data.Sqlite;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata;
using Nippers.App.Exchange;
using Nippers.Core.Hours;
using Nippers.Core.Numbers;
using Nippers.Data;

#pragma warning disable EF1002 // Names of tables, columns and indexes come from the model and the database themselves.

namespace Nippers.App.Tests;

/// <summary>
/// Each column of each table is in the fleet file, or named here with why it is not: a column that is added and forgotten in the
/// file would be lost on the day on which somebody moves house.
/// </summary>
public sealed class ColumnTests
{
    /// <summary>What a file does without, and why. A table alone stands for all its columns.</summary>
    private static readonly Dictionary<string, string> LeftOut = new()
    {
        ["Statuses"] = "derived",
        ["Shelves"] = "the sum of the moves",
        ["Visits.StandsOpen"] = "derived from the card's answers",
        ["StepMinutes"] = "derived from the answers of closed cards",
        ["FleetLimits"] = "derived",
        ["Measures"] = "derived from the answers of walks and cards",
        ["ChecksDone"] = "derived from the walk's answers",
        ["Walks.Due"] = "counted from the walk's checks",
        ["Audit"] = "belongs to this installation; a backup keeps it",
        ["WriteKeys"] = "belongs to this installation",
        ["ImportDrafts"] = "belongs to this installation",
        ["ApiTokens"] = "a secret",
        ["AspNetUsers"] = "a secret",
        ["ResetCodes"] = "a secret",
        ["EndedSessions"] = "belongs to this installation",
        ["BackupPlans"] = "belongs to this installation",
        ["Labs.Token"] = "a secret",
        ["Labs.OwnNetwork"] = "belongs to this installation",
        ["Installations"] = "belongs to this installation",
        ["Consignments.NextTryMs"] = "the line is tried anew",
        ["Consignments.LastFault"] = "the line is tried anew",
        ["Labs.NextAskMs"] = "the line is tried anew",
        ["Labs.LastFault"] = "the line is tried anew",
        ["Labs.Failures"] = "the line is tried anew",
        ["Judgements.Values"] = "derived from what it was judged by",
        ["Judgements.WearCompares"] = "derived from what it was judged by",
        ["Crew"] = "belongs to people, and the file has none",
        ["Away"] = "belongs to people, and the file has none",
        ["PlannedJobs"] = "belongs to people, and the file has none",
        ["DraftPlans"] = "belongs to people, and the file has none",
        ["KeptPlan"] = "names people, and the file has none: its visits are there, and are planned anew",
        ["CalendarLinks"] = "a secret",
        ["Feeds"] = "belongs to this installation",
        ["FeedMachines"] = "learned anew from what the feed says",
        ["FeedPoints"] = "learned anew from what the feed says",
        ["FeedPairs"] = "learned anew from what the feed says",
        ["FeedCodes.RepeatOf"] = "written as its number in the file",
        ["MailServer"] = "belongs to this installation",
        ["MailPeople"] = "belongs to people, and the file has none",
        ["SiteContacts"] = "belongs to people, and the file has none",
        ["Mail"] = "was said by this installation",
        ["MailTold"] = "was said by this installation",
        ["Roads"] = "said anew with the people of the plan by weeks",
        ["Busy"] = "said anew with the people of the plan by weeks",
        ["PartOrders"] = "belongs to this installation",
        ["Defects.RepeatOf"] = "written as its number in the file",
    };

    /// <summary>Counters that tell two people apart who change one thing.</summary>
    private static readonly string[] Counters = ["Version", "Revision"];

    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    [Fact]
    public async Task A_column_that_changes_changes_the_file()
    {
        await using var fleet = await Fleet.Empty();
        var file = await OneMachine();
        await fleet.Ask(async db =>
        {
            await db.Sites.ExecuteDeleteAsync(Ct);
            await db.WalkListVersions.ExecuteDeleteAsync(Ct);
            await db.WalkLists.ExecuteDeleteAsync(Ct);
            db.Programs.RemoveRange(db.Programs);

            // What is changed need not be allowed: the file shall hold whatever stands there.
            foreach (
                var index in await db
                    .Database.SqlQuery<string>($"SELECT name AS Value FROM sqlite_master WHERE type = 'index' AND sql IS NOT NULL")
                    .ToListAsync(Ct)
            )
                await db.Database.ExecuteSqlRawAsync($"DROP INDEX \"{index}\"", Ct);
            return await db.SaveChangesAsync(Ct);
        });
        var outcome = await fleet.Do<ImportFleet, Outcome<ImportedFleet>>(x => x.Run(new MemoryStream(file), Fleet.Tam, null, Ct));
        Assert.Empty(outcome.Refusals);
        var types = await fleet.Ask(db =>
            Task.FromResult(db.Model.GetEntityTypes().Where(x => x.ClrType.Assembly == typeof(NippersDb).Assembly).ToList())
        );
        await fleet.Ask(db => AddMissing(db, types));
        var before = await Export(fleet);
        Assert.StartsWith("{", before, StringComparison.Ordinal);
        var lost = new List<string>();
        foreach (var type in types)
        {
            foreach (var column in type.GetProperties().Where(x => !x.IsPrimaryKey() && !x.IsForeignKey()))
            {
                var table = StoreObjectIdentifier.Table(type.GetTableName()!);
                var name = column.GetColumnName(table)!;
                if (
                    LeftOut.ContainsKey(table.Name)
                    || LeftOut.ContainsKey($"{table.Name}.{name}")
                    || Counters.Contains(name)
                    || IsLink(name)
                )
                    continue;
                var change = await Change(fleet, table.Name, name, column);
                if (change is not { } undo)
                    lost.Add($"{table.Name} has no row");
                else
                {
                    if (await Export(fleet) == before)
                        lost.Add($"{table.Name}.{name}");
                    await undo();
                }
            }
        }

        Assert.Equal(before, await Export(fleet));
        Assert.True(lost.Count == 0, string.Join("\n", lost.Distinct()));
    }

    /// <summary>Points to another row; the file writes that row's number or name instead.</summary>
    private static bool IsLink(string column) => column.EndsWith("Id", StringComparison.Ordinal);

    /// <summary>A real file, cut down to one machine, so that writing it some four hundred times takes seconds.</summary>
    private static async Task<byte[]> OneMachine()
    {
        var path = Path.Combine(AppContext.BaseDirectory, "Fixtures", "fleet-version-1.json");
        var file = JsonNode.Parse(await File.ReadAllTextAsync(path, Ct))!.AsObject();
        var open = file["walks"]!.AsArray().First(x => x!["open"] is not null)!;
        var visit = file["visits"]!.AsArray().First(x => (string)x!["unit"]! == (string)open["unit"]! && x["steps"] is JsonArray)!;
        var machine = file["machines"]!.AsArray().First(x => (string)x!["unit"]! == (string)visit["unit"]!)!;
        Keep("programs", x => (string)x["code"]! == (string)machine["program"]!);
        foreach (var section in new[] { "machines", "readings", "walks" })
            Keep(section, x => (string)x["unit"]! == (string)visit["unit"]!);
        Keep("visits", x => x == visit);
        Keep("walkLists", x => (string)x["code"]! == (string)open["list"]!);
        return System.Text.Encoding.UTF8.GetBytes(file.ToJsonString());

        void Keep(string section, Func<JsonNode, bool> which)
        {
            var all = file[section]!.AsArray();
            foreach (var other in all.Where(x => !which(x!)).ToList())
                all.Remove(other);
        }
    }

    /// <summary>One row in each table that has none.</summary>
    private static async Task<int> AddMissing(NippersDb db, List<IEntityType> types)
    {
        var added = 0;
        var made = new HashSet<IEntityType>();
        while (made.Count < types.Count)
        {
            // What others point to comes first.
            var type = types.First(x =>
                !made.Contains(x) && x.GetForeignKeys().All(f => f.PrincipalEntityType == x || made.Contains(f.PrincipalEntityType))
            );
            made.Add(type);
            var table = type.GetTableName()!;
            if (LeftOut.ContainsKey(table) || await Any(db, table))
                continue;
            var row = Activator.CreateInstance(type.ClrType)!;
            foreach (var property in type.GetProperties().Where(x => x.PropertyInfo is not null))
            {
                if (property.GetContainingForeignKeys().FirstOrDefault() is { } link)
                    property.PropertyInfo!.SetValue(row, await First(db, link.PrincipalEntityType, property.ClrType));
                else if (!property.IsPrimaryKey() || property.ValueGenerated == ValueGenerated.Never)
                    property.PropertyInfo!.SetValue(row, Sample(property));
            }

            // A photo is shown, and written, with its step.
            if (row is Data.Visits.StepPhoto photo)
                (photo.VisitId, photo.Code) = await db.Steps.Select(x => ValueTuple.Create(x.VisitId, x.Code)).FirstAsync(Ct);
            db.Add(row);
            added += await db.SaveChangesAsync(Ct);
        }

        return added;
    }

    private static async Task<bool> Any(NippersDb db, string table) =>
        await db.Database.SqlQueryRaw<int>($"SELECT COUNT(*) AS Value FROM \"{table}\"").SingleAsync(Ct) > 0;

    private static async Task<object> First(NippersDb db, IEntityType type, Type wanted)
    {
        var column = type.FindPrimaryKey()!.Properties.Single().GetColumnName();
        var id = await db.Database.SqlQueryRaw<long>($"SELECT MIN(\"{column}\") AS Value FROM \"{type.GetTableName()}\"").SingleAsync(Ct);
        return Convert.ChangeType(id, Nullable.GetUnderlyingType(wanted) ?? wanted, CultureInfo.InvariantCulture);
    }

    private static object? Sample(IProperty property)
    {
        var type = Nullable.GetUnderlyingType(property.ClrType) ?? property.ClrType;
        if (property.Name == "VoidedAt" || (property.Name.EndsWith("Id", StringComparison.Ordinal) && property.IsNullable))
            return null;
        if (property.Name.EndsWith("Id", StringComparison.Ordinal) && type != typeof(string))
            return Convert.ChangeType(1, type, CultureInfo.InvariantCulture);
        if (type == typeof(string))
        {
            if (property.Name == "Target")
                return "";
            return property.Name is "Figures" or "Values" or "Whole" or "Columns" or "Additives" or "Card" or "Result"
                ? "{}"
                : "some " + property.Name;
        }

        if (type == typeof(DateOnly))
            return new DateOnly(2026, 2, 3);
        if (type == typeof(DateTimeOffset))
            return Fleet.Now;
        if (type == typeof(MeterHours))
            return new MeterHours(5000);
        if (type == typeof(Litres))
            return new Litres(2);
        if (type == typeof(byte[]))
            return new byte[] { 1, 2, 3 };
        if (type == typeof(bool))
            return true;
        return type.IsEnum ? Enum.ToObject(type, 0) : Convert.ChangeType(3, type, CultureInfo.InvariantCulture);
    }

    private static async Task<string> Export(Fleet fleet)
    {
        try
        {
            using var stream = new MemoryStream();
            await fleet.Do<ExportFleet>(x => x.Run(stream, null, Ct));
            return System.Text.Encoding.UTF8.GetString(stream.ToArray());
        }
        catch (Exception e)
            when (e is System.Text.Json.JsonException or InvalidOperationException or ArgumentException or KeyNotFoundException)
        {
            // A text that is read as more than text: it was read, so it is not forgotten.
            return e.Message;
        }
    }

    /// <summary>Changes a column of one row, behind the program's back; null when the table is empty.</summary>
    private static async Task<Func<Task>?> Change(Fleet fleet, string table, string column, IProperty property)
    {
        await using var connection = new SqliteConnection($"Data Source={fleet.File};Foreign Keys=False");
        await connection.OpenAsync(Ct);
        using var find = connection.CreateCommand();
        find.CommandText =
            $"""SELECT rowid, "{column}" FROM "{table}" ORDER BY "{column}" IS NULL OR "{column}" IN (0, ''), rowid LIMIT 1""";
        await using var reader = await find.ExecuteReaderAsync(Ct);
        if (!await reader.ReadAsync(Ct))
            return null;
        var (row, old) = (reader.GetInt64(0), reader.GetValue(1));
        await Set(Other(old, property));
        return () => Set(old);

        async Task Set(object value)
        {
            await using var writing = new SqliteConnection($"Data Source={fleet.File};Foreign Keys=False");
            await writing.OpenAsync(Ct);
            using var update = writing.CreateCommand();
            // Nothing of this has to outlive the test, and waiting for the disk would take most of its time.
            update.CommandText = $"""PRAGMA synchronous = OFF; UPDATE "{table}" SET "{column}" = $value WHERE rowid = $row""";
            update.Parameters.AddWithValue("$value", value);
            update.Parameters.AddWithValue("$row", row);
            await update.ExecuteNonQueryAsync(Ct);
        }
    }

    private static object Other(object old, IProperty property)
    {
        var kept = property.GetTypeMapping().Converter?.ProviderClrType ?? property.ClrType;
        var type = Nullable.GetUnderlyingType(kept) ?? kept;
        var own = Nullable.GetUnderlyingType(property.ClrType) ?? property.ClrType;
        if (own.IsEnum && type != typeof(string))
            return old is 0L ? 1 : 0;
        if (own.IsEnum)
            return Enum.GetNames(own).First(x => x != old as string);
        if (type == typeof(bool))
            return old is 0L or DBNull ? 1 : 0;
        if (type == typeof(DateOnly))
            return old is string day
                ? DateOnly.Parse(day, CultureInfo.InvariantCulture).AddDays(1).ToString("yyyy-MM-dd", CultureInfo.InvariantCulture)
                : "2026-02-03";
        if (type == typeof(TimeOnly))
            return old is "03:04:00" ? "04:05:00" : "03:04:00";
        if (type == typeof(byte[]))
            return old is byte[] bytes ? bytes.Append((byte)7).ToArray() : new byte[] { 7 };
        if (type == typeof(string))
            return old is string text ? text + "x" : "x";
        if (type == typeof(double))
            return old is double figure ? figure + 0.5 : 0.5;
        return old is long whole ? whole + 1000 : 1000;
    }
}
