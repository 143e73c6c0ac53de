namespace Nippers.Data.Parts;

/// <summary>
/// What keeps the shelves: each move that is written, changed or taken away is added to its shelf by the database. SQLite drops a
/// table's triggers with it: a migration that builds <c>StockMoves</c> anew has to make them again.
/// </summary>
public static class ShelfTriggers
{
    internal const string Came = "ShelfTakesMove";
    private const string Went = "ShelfLosesMove";
    private const string Changed = "ShelfChangesMove";

    private const string Take = """
        INSERT INTO "Shelves" ("PartId", "SiteId", "Count") VALUES (NEW."PartId", NEW."SiteId", NEW."Quantity")
        ON CONFLICT ("PartId", "SiteId") DO UPDATE SET "Count" = "Count" + excluded."Count";
        """;

    private const string Give = """
        UPDATE "Shelves" SET "Count" = "Count" - OLD."Quantity" WHERE "PartId" = OLD."PartId" AND "SiteId" = OLD."SiteId";
        """;

    /// <summary>Fills the shelves, which are empty, with the sums of all moves that there are.</summary>
    internal const string Summed = """
        INSERT INTO "Shelves" ("PartId", "SiteId", "Count")
        SELECT "PartId", "SiteId", SUM("Quantity") FROM "StockMoves" GROUP BY "PartId", "SiteId";
        """;

    /// <summary>The triggers as they are made.</summary>
    public static string Sql { get; } =
        $"""
            CREATE TRIGGER "{Came}" AFTER INSERT ON "StockMoves" BEGIN
            {Take}
            END;
            CREATE TRIGGER "{Went}" AFTER DELETE ON "StockMoves" BEGIN
            {Give}
            END;
            CREATE TRIGGER "{Changed}" AFTER UPDATE OF "PartId", "SiteId", "Quantity" ON "StockMoves" BEGIN
            {Give}
            {Take}
            END;

            """;

    /// <summary>Takes them away.</summary>
    internal static string Gone { get; } =
        $"""
            DROP TRIGGER "{Came}";
            DROP TRIGGER "{Went}";
            DROP TRIGGER "{Changed}";
            """;
}
