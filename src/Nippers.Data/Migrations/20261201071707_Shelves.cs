using Microsoft.EntityFrameworkCore.Migrations;
using Nippers.Data.Parts;

#nullable disable

namespace Nippers.Data.Migrations
{
    /// <inheritdoc />
    public partial class Shelves : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropIndex(
                name: "IX_Waste_VisitId",
                table: "Waste");

            migrationBuilder.DropIndex(
                name: "IX_StockMoves_VisitId",
                table: "StockMoves");

            migrationBuilder.DropIndex(
                name: "IX_Samples_ConsignmentId",
                table: "Samples");

            migrationBuilder.DropIndex(
                name: "IX_Samples_Kind_On",
                table: "Samples");

            migrationBuilder.DropIndex(
                name: "IX_Samples_VisitId",
                table: "Samples");

            migrationBuilder.DropIndex(
                name: "IX_FilterLog_VisitId",
                table: "FilterLog");

            migrationBuilder.DropIndex(
                name: "IX_Defects_WalkId",
                table: "Defects");

            migrationBuilder.DropIndex(
                name: "IX_DefectEvents_WalkId",
                table: "DefectEvents");

            migrationBuilder.CreateTable(
                name: "Shelves",
                columns: table => new
                {
                    PartId = table.Column<int>(type: "INTEGER", nullable: false),
                    SiteId = table.Column<int>(type: "INTEGER", nullable: false),
                    Count = table.Column<int>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Shelves", x => new { x.PartId, x.SiteId });
                    table.ForeignKey(
                        name: "FK_Shelves_Parts_PartId",
                        column: x => x.PartId,
                        principalTable: "Parts",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "FK_Shelves_Sites_SiteId",
                        column: x => x.SiteId,
                        principalTable: "Sites",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Restrict);
                });

            migrationBuilder.CreateIndex(
                name: "IX_Waste_VisitId",
                table: "Waste",
                column: "VisitId",
                filter: "VisitId IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_StockMoves_VisitId",
                table: "StockMoves",
                column: "VisitId",
                filter: "VisitId IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_Samples_ConsignmentId",
                table: "Samples",
                column: "ConsignmentId",
                filter: "ConsignmentId IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_Samples_Judged",
                table: "Samples",
                columns: new[] { "Kind", "On", "Family", "Compartment", "MachineId", "LifeTenths" },
                filter: "VoidedMs IS NULL AND Advised IS NOT NULL AND NOT DrawnWrong");

            migrationBuilder.CreateIndex(
                name: "IX_Samples_VisitId",
                table: "Samples",
                column: "VisitId",
                filter: "VisitId IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_FilterLog_VisitId",
                table: "FilterLog",
                column: "VisitId",
                filter: "VisitId IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_Defects_LimitOn",
                table: "Defects",
                column: "LimitOn",
                filter: "LimitOn IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_Defects_LimitTenths",
                table: "Defects",
                column: "LimitTenths",
                filter: "LimitTenths IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_Defects_WalkId",
                table: "Defects",
                column: "WalkId",
                filter: "WalkId IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_DefectEvents_WalkId",
                table: "DefectEvents",
                column: "WalkId",
                filter: "WalkId IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_Shelves_SiteId",
                table: "Shelves",
                column: "SiteId");

            migrationBuilder.Sql(ShelfTriggers.Summed);
            migrationBuilder.Sql(ShelfTriggers.Sql);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.Sql(ShelfTriggers.Gone);
            migrationBuilder.DropTable(
                name: "Shelves");

            migrationBuilder.DropIndex(
                name: "IX_Waste_VisitId",
                table: "Waste");

            migrationBuilder.DropIndex(
                name: "IX_StockMoves_VisitId",
                table: "StockMoves");

            migrationBuilder.DropIndex(
                name: "IX_Samples_ConsignmentId",
                table: "Samples");

            migrationBuilder.DropIndex(
                name: "IX_Samples_Judged",
                table: "Samples");

            migrationBuilder.DropIndex(
                name: "IX_Samples_VisitId",
                table: "Samples");

            migrationBuilder.DropIndex(
                name: "IX_FilterLog_VisitId",
                table: "FilterLog");

            migrationBuilder.DropIndex(
                name: "IX_Defects_LimitOn",
                table: "Defects");

            migrationBuilder.DropIndex(
                name: "IX_Defects_LimitTenths",
                table: "Defects");

            migrationBuilder.DropIndex(
                name: "IX_Defects_WalkId",
                table: "Defects");

            migrationBuilder.DropIndex(
                name: "IX_DefectEvents_WalkId",
                table: "DefectEvents");

            migrationBuilder.CreateIndex(
                name: "IX_Waste_VisitId",
                table: "Waste",
                column: "VisitId");

            migrationBuilder.CreateIndex(
                name: "IX_StockMoves_VisitId",
                table: "StockMoves",
                column: "VisitId");

            migrationBuilder.CreateIndex(
                name: "IX_Samples_ConsignmentId",
                table: "Samples",
                column: "ConsignmentId");

            migrationBuilder.CreateIndex(
                name: "IX_Samples_Kind_On",
                table: "Samples",
                columns: new[] { "Kind", "On" });

            migrationBuilder.CreateIndex(
                name: "IX_Samples_VisitId",
                table: "Samples",
                column: "VisitId");

            migrationBuilder.CreateIndex(
                name: "IX_FilterLog_VisitId",
                table: "FilterLog",
                column: "VisitId");

            migrationBuilder.CreateIndex(
                name: "IX_Defects_WalkId",
                table: "Defects",
                column: "WalkId");

            migrationBuilder.CreateIndex(
                name: "IX_DefectEvents_WalkId",
                table: "DefectEvents",
                column: "WalkId");
        }
    }
}
