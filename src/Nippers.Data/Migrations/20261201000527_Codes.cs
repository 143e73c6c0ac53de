using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Nippers.Data.Migrations
{
    /// <inheritdoc />
    public partial class Codes : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "StopSpns",
                table: "Installations",
                type: "TEXT",
                nullable: false,
                defaultValue: "");

            migrationBuilder.CreateTable(
                name: "FeedCodes",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    MachineId = table.Column<int>(type: "INTEGER", nullable: false),
                    Code = table.Column<string>(type: "TEXT", nullable: false),
                    SinceMs = table.Column<long>(type: "INTEGER", nullable: false),
                    LifeTenths = table.Column<int>(type: "INTEGER", nullable: false),
                    Times = table.Column<int>(type: "INTEGER", nullable: false),
                    GoneMs = table.Column<long>(type: "INTEGER", nullable: true),
                    GoneTenths = table.Column<int>(type: "INTEGER", nullable: true),
                    RepeatOf = table.Column<long>(type: "INTEGER", nullable: true),
                    DefectId = table.Column<long>(type: "INTEGER", nullable: true),
                    LookedBy = table.Column<string>(type: "TEXT", nullable: true),
                    LookedMs = table.Column<long>(type: "INTEGER", nullable: true),
                    LookedWords = table.Column<string>(type: "TEXT", nullable: true),
                    Version = table.Column<int>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_FeedCodes", x => x.Id);
                    table.ForeignKey(
                        name: "FK_FeedCodes_Defects_DefectId",
                        column: x => x.DefectId,
                        principalTable: "Defects",
                        principalColumn: "Id");
                    table.ForeignKey(
                        name: "FK_FeedCodes_Machines_MachineId",
                        column: x => x.MachineId,
                        principalTable: "Machines",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateIndex(
                name: "IX_FeedCodes_DefectId_LookedMs",
                table: "FeedCodes",
                columns: new[] { "DefectId", "LookedMs" });

            migrationBuilder.CreateIndex(
                name: "IX_FeedCodes_MachineId_Code",
                table: "FeedCodes",
                columns: new[] { "MachineId", "Code" });
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "FeedCodes");

            migrationBuilder.DropColumn(
                name: "StopSpns",
                table: "Installations");
        }
    }
}
