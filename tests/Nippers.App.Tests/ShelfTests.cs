using CsCheck;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;
using Nippers.App.Exchange;
using Nippers.App.Parts;
using Nippers.Data;
using Nippers.Data.Parts;
using Nippers.Data.Queries;
using static Nippers.App.Tests.Outcomes;

namespace Nippers.App.Tests;

/// <summary>What stands on a shelf is the sum of what was moved, whoever moved it and however it was written.</summary>
public sealed class ShelfTests
{
    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    // The sums are taken from the moves themselves: what the database keeps is held against them.
    private static async Task AssertSums(NippersDb db)
    {
        var sums = await db
            .StockMoves.GroupBy(x => new { x.PartId, x.SiteId })
            .Select(g => new
            {
                g.Key.PartId,
                g.Key.SiteId,
                Count = g.Sum(x => x.Quantity),
            })
            .ToListAsync(Ct);
        var shelves = await db.Shelves.AsNoTracking().ToListAsync(Ct);

        // A shelf from which every move was taken away stays and is empty.
        Assert.Equal(
            sums.Where(x => x.Count != 0).Select(x => (x.PartId, x.SiteId, x.Count)).Order(),
            shelves.Where(x => x.Count != 0).Select(x => (x.PartId, x.SiteId, x.Count)).Order()
        );
        Assert.Equal(0, await db.ShelvesAstray(Ct));
    }

    private static async Task<(int[] Parts, int[] Sites)> Stores(NippersDb db)
    {
        db.Parts.AddRange(new() { Number = "P-1", Name = "Oil filter" }, new() { Number = "P-2", Name = "Fuel filter" });
        db.Sites.Add(new() { Name = "Quarry", TimeZone = "Europe/Madrid" });
        await db.SaveChangesAsync(Ct);
        return (await db.Parts.Select(x => x.Id).ToArrayAsync(Ct), await db.Sites.Select(x => x.Id).ToArrayAsync(Ct));
    }

    [Fact]
    public async Task However_moves_are_written_changed_and_taken_away_a_shelf_is_their_sum()
    {
        await using var fleet = await Fleet.WithLoader();
        await fleet.Ask(async db =>
        {
            var (parts, sites) = await Stores(db);
            var step = Gen.Select(Gen.Int[0, 3], Gen.Int[0, parts.Length - 1], Gen.Int[0, sites.Length - 1], Gen.Int[-9, 9]);
            await step.List[1, 12]
                .SampleAsync(
                    async steps =>
                    {
                        foreach (var (kind, part, site, pieces) in steps)
                            await Do(db, kind, parts[part], sites[site], pieces);
                        await AssertSums(db);
                    },
                    iter: 60,
                    threads: 1
                );
            return 0;
        });
    }

    private static async Task Do(NippersDb db, int kind, int part, int site, int pieces)
    {
        switch (kind)
        {
            case 0:
                await db.StockMoves.OrderBy(x => x.Id).Take(1).ExecuteDeleteAsync(Ct);
                break;
            case 1:
                await db
                    .StockMoves.OrderByDescending(x => x.Id)
                    .Take(2)
                    .ExecuteUpdateAsync(x => x.SetProperty(m => m.SiteId, site).SetProperty(m => m.Quantity, m => m.Quantity + pieces), Ct);
                break;
            default:
                db.StockMoves.Add(
                    new()
                    {
                        PartId = part,
                        SiteId = site,
                        Quantity = pieces,
                        Kind = StockMoveKind.Count,
                        At = Fleet.Now,
                        By = Fleet.Tam.Name,
                    }
                );
                await db.SaveChangesAsync(Ct);
                break;
        }
    }

    [Fact]
    public async Task What_people_and_fleet_files_move_stands_on_the_shelf_at_once_and_what_is_refused_does_not()
    {
        await using var fleet = await Fleet.WithLoader();
        await fleet.Ask(Stores);
        Task<StockMove> Move(StockMoveKind kind, string pieces) =>
            Ok<PartCatalog, StockMove>(fleet, x => x.Move("P-1", "Quarry", kind, pieces, null, null, Fleet.Tam, Ct));
        await Move(StockMoveKind.Receipt, "7");
        await Move(StockMoveKind.Issue, "2");
        await Move(StockMoveKind.Count, "4");
        Assert.Equal(
            "stockShort",
            await CardRig.RefusedWith<PartCatalog, StockMove>(fleet, x =>
                x.Move("P-1", "Quarry", StockMoveKind.Issue, "5", null, null, Fleet.Tam, Ct)
            )
        );
        Assert.Equal([4], await fleet.Ask(db => db.Shelves.Select(x => x.Count).ToListAsync(Ct)));

        await using var other = await Fleet.Empty();
        using var file = new MemoryStream();
        await fleet.Do<ExportFleet>(x => x.Run(file, null, Ct));
        file.Position = 0;
        await Ok<ImportFleet, ImportedFleet>(other, x => x.Run(file, Fleet.Tam, null, Ct));
        Assert.Equal([4], await other.Ask(db => db.Shelves.Select(x => x.Count).ToListAsync(Ct)));
        await other.Ask(async db =>
        {
            await AssertSums(db);
            return 0;
        });
    }

    [Fact]
    public async Task Shelves_of_a_database_that_had_none_are_summed_when_it_is_moved()
    {
        await using var fleet = await Fleet.Empty();
        var options = new DbContextOptionsBuilder<NippersDb>();
        NippersDb.Configure(options, fleet.File + ".old");
        await using var db = new NippersDb(options.Options);
        await db.Database.OpenConnectionAsync(Ct);
        await db.GetService<IMigrator>().MigrateAsync("SecondPerson", Ct);
        await db.Database.ExecuteSqlRawAsync("PRAGMA foreign_keys = OFF", Ct);
        foreach (var (part, site, pieces) in new[] { (1, 1, 5), (1, 1, -2), (1, 2, 4), (2, 1, 1) })
        {
            await db.Database.ExecuteSqlAsync(
                $"""
                INSERT INTO StockMoves (PartId, SiteId, Quantity, Kind, AtMs, "By", Note) VALUES ({part}, {site}, {pieces}, 0, 0, 'tam', '')
                """,
                Ct
            );
        }

        await db.GetService<IMigrator>().MigrateAsync("Shelves", Ct);
        Assert.Equal(
            [(1, 1, 3), (1, 2, 4), (2, 1, 1)],
            (await db.Shelves.AsNoTracking().ToListAsync(Ct)).Select(x => (x.PartId, x.SiteId, x.Count)).Order()
        );

        // Back again and forth: nothing of it is left behind.
        await db.GetService<IMigrator>().MigrateAsync("SecondPerson", Ct);
        await db.Database.ExecuteSqlRawAsync("DELETE FROM StockMoves WHERE SiteId = 2", Ct);
        await db.GetService<IMigrator>().MigrateAsync("Shelves", Ct);
        await AssertSums(db);
    }

    [Fact]
    public async Task The_last_moves_of_a_part_are_found_without_reading_those_of_others()
    {
        await using var fleet = await Fleet.WithLoader();
        var plan = await fleet.Ask(async db =>
        {
            await Stores(db);
            var question = db.StockMoves.Where(x => x.PartId == 1).OrderByDescending(x => x.Id).Take(40).ToQueryString();
            await db.Database.OpenConnectionAsync(Ct);
            await using var command = db.Database.GetDbConnection().CreateCommand();
            command.CommandText =
                "EXPLAIN QUERY PLAN " + question[question.IndexOf("SELECT", StringComparison.Ordinal)..].Replace("@p", "40");
            await using var reader = await command.ExecuteReaderAsync(Ct);
            var said = new List<string>();
            while (await reader.ReadAsync(Ct))
                said.Add(reader.GetString(3));
            return said;
        });
        Assert.Contains("(PartId=?)", Assert.Single(plan), StringComparison.Ordinal);
    }
}
