using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Nippers.Data.Migrations
{
    /// <inheritdoc />
    public partial class Feeds : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateTable(
                name: "Feeds",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Name = table.Column<string>(type: "TEXT", nullable: false),
                    Url = table.Column<string>(type: "TEXT", nullable: false),
                    Token = table.Column<string>(type: "TEXT", nullable: false),
                    OwnNetwork = table.Column<bool>(type: "INTEGER", nullable: false),
                    On = table.Column<bool>(type: "INTEGER", nullable: false),
                    Failures = table.Column<int>(type: "INTEGER", nullable: false),
                    NextAskMs = table.Column<long>(type: "INTEGER", nullable: true),
                    LastFault = table.Column<string>(type: "TEXT", nullable: false),
                    AnsweredMs = table.Column<long>(type: "INTEGER", nullable: true),
                    Version = table.Column<int>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Feeds", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "FeedMachines",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    FeedId = table.Column<int>(type: "INTEGER", nullable: true),
                    Equipment = table.Column<string>(type: "TEXT", nullable: false),
                    Serial = table.Column<string>(type: "TEXT", nullable: false),
                    MachineId = table.Column<int>(type: "INTEGER", nullable: true),
                    Ignored = table.Column<bool>(type: "INTEGER", nullable: false),
                    SeenMs = table.Column<long>(type: "INTEGER", nullable: false),
                    LastFault = table.Column<string>(type: "TEXT", nullable: false),
                    Hours = table.Column<double>(type: "REAL", nullable: true),
                    HoursMs = table.Column<long>(type: "INTEGER", nullable: true),
                    IdleHours = table.Column<double>(type: "REAL", nullable: true),
                    FuelPercent = table.Column<double>(type: "REAL", nullable: true),
                    FuelMs = table.Column<long>(type: "INTEGER", nullable: true),
                    DefPercent = table.Column<double>(type: "REAL", nullable: true),
                    DefMs = table.Column<long>(type: "INTEGER", nullable: true),
                    OffsetHours = table.Column<double>(type: "REAL", nullable: true),
                    Pairs = table.Column<int>(type: "INTEGER", nullable: false),
                    Away = table.Column<int>(type: "INTEGER", nullable: false),
                    AwayMs = table.Column<long>(type: "INTEGER", nullable: true),
                    AwayHours = table.Column<double>(type: "REAL", nullable: false),
                    PairsFromMs = table.Column<long>(type: "INTEGER", nullable: true),
                    Version = table.Column<int>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_FeedMachines", x => x.Id);
                    table.ForeignKey(
                        name: "FK_FeedMachines_Feeds_FeedId",
                        column: x => x.FeedId,
                        principalTable: "Feeds",
                        principalColumn: "Id");
                    table.ForeignKey(
                        name: "FK_FeedMachines_Machines_MachineId",
                        column: x => x.MachineId,
                        principalTable: "Machines",
                        principalColumn: "Id");
                });

            migrationBuilder.CreateTable(
                name: "FeedPairs",
                columns: table => new
                {
                    FeedMachineId = table.Column<int>(type: "INTEGER", nullable: false),
                    ReadingId = table.Column<long>(type: "INTEGER", nullable: false),
                    FeedHours = table.Column<double>(type: "REAL", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_FeedPairs", x => new { x.FeedMachineId, x.ReadingId });
                    table.ForeignKey(
                        name: "FK_FeedPairs_FeedMachines_FeedMachineId",
                        column: x => x.FeedMachineId,
                        principalTable: "FeedMachines",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "FK_FeedPairs_Readings_ReadingId",
                        column: x => x.ReadingId,
                        principalTable: "Readings",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "FeedPoints",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    FeedMachineId = table.Column<int>(type: "INTEGER", nullable: false),
                    AtMs = table.Column<long>(type: "INTEGER", nullable: false),
                    Hours = table.Column<double>(type: "REAL", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_FeedPoints", x => x.Id);
                    table.ForeignKey(
                        name: "FK_FeedPoints_FeedMachines_FeedMachineId",
                        column: x => x.FeedMachineId,
                        principalTable: "FeedMachines",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateIndex(
                name: "IX_FeedMachines_FeedId_Equipment",
                table: "FeedMachines",
                columns: new[] { "FeedId", "Equipment" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_FeedMachines_MachineId",
                table: "FeedMachines",
                column: "MachineId",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_FeedPairs_ReadingId",
                table: "FeedPairs",
                column: "ReadingId");

            migrationBuilder.CreateIndex(
                name: "IX_FeedPoints_FeedMachineId_AtMs",
                table: "FeedPoints",
                columns: new[] { "FeedMachineId", "AtMs" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_Feeds_Name",
                table: "Feeds",
                column: "Name",
                unique: true);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "FeedPairs");

            migrationBuilder.DropTable(
                name: "FeedPoints");

            migrationBuilder.DropTable(
                name: "FeedMachines");

            migrationBuilder.DropTable(
                name: "Feeds");
        }
    }
}
