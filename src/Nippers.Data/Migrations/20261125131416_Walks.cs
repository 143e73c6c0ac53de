using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Nippers.Data.Migrations
{
    /// <inheritdoc />
    public partial class Walks : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<DateOnly>(
                name: "DefectLimitOn",
                table: "Standings",
                type: "TEXT",
                nullable: true);

            migrationBuilder.AddColumn<int>(
                name: "DefectLimitTenths",
                table: "Standings",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.AddColumn<int>(
                name: "Defects",
                table: "Standings",
                type: "INTEGER",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<int>(
                name: "MissedWalks",
                table: "Standings",
                type: "INTEGER",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<bool>(
                name: "OutOfService",
                table: "Standings",
                type: "INTEGER",
                nullable: false,
                defaultValue: false);

            migrationBuilder.AddColumn<DateOnly>(
                name: "WalkedOn",
                table: "Standings",
                type: "TEXT",
                nullable: true);

            migrationBuilder.AddColumn<int>(
                name: "ShiftFrom",
                table: "Sites",
                type: "INTEGER",
                nullable: false,
                defaultValue: 420);

            migrationBuilder.AddColumn<int>(
                name: "ShiftTo",
                table: "Sites",
                type: "INTEGER",
                nullable: false,
                defaultValue: 1020);

            migrationBuilder.AddColumn<int>(
                name: "WorkDays",
                table: "Sites",
                type: "INTEGER",
                nullable: false,
                defaultValue: 126);

            migrationBuilder.AddColumn<int>(
                name: "WalkListId",
                table: "Machines",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.CreateTable(
                name: "Defects",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    MachineId = table.Column<int>(type: "INTEGER", nullable: false),
                    Place = table.Column<string>(type: "TEXT", nullable: false),
                    PlaceName = table.Column<string>(type: "TEXT", nullable: false),
                    Words = table.Column<string>(type: "TEXT", nullable: false),
                    Grade = table.Column<int>(type: "INTEGER", nullable: false),
                    FoundGrade = table.Column<int>(type: "INTEGER", nullable: false),
                    Safety = table.Column<int>(type: "INTEGER", nullable: false),
                    State = table.Column<int>(type: "INTEGER", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    AtMs = table.Column<long>(type: "INTEGER", nullable: false),
                    On = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    LifeTenths = table.Column<int>(type: "INTEGER", nullable: false),
                    LimitTenths = table.Column<int>(type: "INTEGER", nullable: true),
                    LimitOn = table.Column<DateOnly>(type: "TEXT", nullable: true),
                    ClockFromMs = table.Column<long>(type: "INTEGER", nullable: false),
                    WalkId = table.Column<long>(type: "INTEGER", nullable: true),
                    CheckCode = table.Column<string>(type: "TEXT", nullable: false),
                    Code = table.Column<string>(type: "TEXT", nullable: false),
                    RepeatOf = table.Column<long>(type: "INTEGER", nullable: true),
                    LookAgainTenths = table.Column<int>(type: "INTEGER", nullable: true),
                    DownTo = table.Column<int>(type: "INTEGER", nullable: true),
                    DownBy = table.Column<string>(type: "TEXT", nullable: true),
                    DownReason = table.Column<string>(type: "TEXT", nullable: true),
                    RepairedBy = table.Column<string>(type: "TEXT", nullable: true),
                    RepairedMs = table.Column<long>(type: "INTEGER", nullable: true),
                    RepairedTenths = table.Column<int>(type: "INTEGER", nullable: true),
                    RepairWords = table.Column<string>(type: "TEXT", nullable: true),
                    RepairMinutes = table.Column<int>(type: "INTEGER", nullable: true),
                    RepairParts = table.Column<string>(type: "TEXT", nullable: true),
                    ReturnedBy = table.Column<string>(type: "TEXT", nullable: true),
                    ReturnedMs = table.Column<long>(type: "INTEGER", nullable: true),
                    ReturnWords = table.Column<string>(type: "TEXT", nullable: true),
                    VoidedBy = table.Column<string>(type: "TEXT", nullable: true),
                    VoidReason = table.Column<string>(type: "TEXT", nullable: true),
                    Version = table.Column<int>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Defects", x => x.Id);
                    table.ForeignKey(
                        name: "FK_Defects_Machines_MachineId",
                        column: x => x.MachineId,
                        principalTable: "Machines",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Restrict);
                });

            migrationBuilder.CreateTable(
                name: "MachineChecks",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    MachineId = table.Column<int>(type: "INTEGER", nullable: false),
                    CheckCode = table.Column<string>(type: "TEXT", nullable: false),
                    Name = table.Column<string>(type: "TEXT", nullable: false),
                    Low = table.Column<double>(type: "REAL", nullable: true),
                    WatchBelow = table.Column<double>(type: "REAL", nullable: true),
                    High = table.Column<double>(type: "REAL", nullable: true),
                    New = table.Column<double>(type: "REAL", nullable: true),
                    NewAtTenths = table.Column<int>(type: "INTEGER", nullable: true),
                    MarkLitres = table.Column<double>(type: "REAL", nullable: true),
                    Method = table.Column<string>(type: "TEXT", nullable: true),
                    Note = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_MachineChecks", x => x.Id);
                    table.ForeignKey(
                        name: "FK_MachineChecks_Machines_MachineId",
                        column: x => x.MachineId,
                        principalTable: "Machines",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "Measures",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    MachineId = table.Column<int>(type: "INTEGER", nullable: false),
                    CheckCode = table.Column<string>(type: "TEXT", nullable: false),
                    Value = table.Column<double>(type: "REAL", nullable: false),
                    AtMs = table.Column<long>(type: "INTEGER", nullable: false),
                    On = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    LifeTenths = table.Column<int>(type: "INTEGER", nullable: false),
                    WalkId = table.Column<long>(type: "INTEGER", nullable: true),
                    Used = table.Column<bool>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Measures", x => x.Id);
                    table.ForeignKey(
                        name: "FK_Measures_Machines_MachineId",
                        column: x => x.MachineId,
                        principalTable: "Machines",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "TopUps",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    MachineId = table.Column<int>(type: "INTEGER", nullable: false),
                    Compartment = table.Column<string>(type: "TEXT", nullable: false),
                    Litres = table.Column<double>(type: "REAL", nullable: false),
                    AtMs = table.Column<long>(type: "INTEGER", nullable: false),
                    LifeTenths = table.Column<int>(type: "INTEGER", nullable: false),
                    WalkId = table.Column<long>(type: "INTEGER", nullable: true),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    VoidedMs = table.Column<long>(type: "INTEGER", nullable: true),
                    VoidedBy = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_TopUps", x => x.Id);
                    table.ForeignKey(
                        name: "FK_TopUps_Machines_MachineId",
                        column: x => x.MachineId,
                        principalTable: "Machines",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "WalkLists",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Code = table.Column<string>(type: "TEXT", nullable: false),
                    Name = table.Column<string>(type: "TEXT", nullable: false),
                    Kind = table.Column<string>(type: "TEXT", nullable: false),
                    Starter = table.Column<bool>(type: "INTEGER", nullable: false),
                    Version = table.Column<int>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_WalkLists", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "DefectEvents",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    DefectId = table.Column<long>(type: "INTEGER", nullable: false),
                    AtMs = table.Column<long>(type: "INTEGER", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    Act = table.Column<int>(type: "INTEGER", nullable: false),
                    Words = table.Column<string>(type: "TEXT", nullable: false),
                    From = table.Column<int>(type: "INTEGER", nullable: true),
                    To = table.Column<int>(type: "INTEGER", nullable: true),
                    LimitTenths = table.Column<int>(type: "INTEGER", nullable: true),
                    LimitOn = table.Column<DateOnly>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_DefectEvents", x => x.Id);
                    table.ForeignKey(
                        name: "FK_DefectEvents_Defects_DefectId",
                        column: x => x.DefectId,
                        principalTable: "Defects",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "DefectPhotos",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    DefectId = table.Column<long>(type: "INTEGER", nullable: false),
                    AtMs = table.Column<long>(type: "INTEGER", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    Width = table.Column<int>(type: "INTEGER", nullable: false),
                    Height = table.Column<int>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_DefectPhotos", x => x.Id);
                    table.ForeignKey(
                        name: "FK_DefectPhotos_Defects_DefectId",
                        column: x => x.DefectId,
                        principalTable: "Defects",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "Stoppages",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    MachineId = table.Column<int>(type: "INTEGER", nullable: false),
                    DefectId = table.Column<long>(type: "INTEGER", nullable: false),
                    FromMs = table.Column<long>(type: "INTEGER", nullable: false),
                    ToMs = table.Column<long>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Stoppages", x => x.Id);
                    table.ForeignKey(
                        name: "FK_Stoppages_Defects_DefectId",
                        column: x => x.DefectId,
                        principalTable: "Defects",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "WalkListVersions",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    ListId = table.Column<int>(type: "INTEGER", nullable: false),
                    Version = table.Column<int>(type: "INTEGER", nullable: false),
                    AtMs = table.Column<long>(type: "INTEGER", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    Body = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_WalkListVersions", x => x.Id);
                    table.ForeignKey(
                        name: "FK_WalkListVersions_WalkLists_ListId",
                        column: x => x.ListId,
                        principalTable: "WalkLists",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Restrict);
                });

            migrationBuilder.CreateTable(
                name: "PhotoBytes",
                columns: table => new
                {
                    PhotoId = table.Column<long>(type: "INTEGER", nullable: false),
                    Whole = table.Column<byte[]>(type: "BLOB", nullable: false),
                    Small = table.Column<byte[]>(type: "BLOB", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_PhotoBytes", x => x.PhotoId);
                    table.ForeignKey(
                        name: "FK_PhotoBytes_DefectPhotos_PhotoId",
                        column: x => x.PhotoId,
                        principalTable: "DefectPhotos",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "Walks",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    MachineId = table.Column<int>(type: "INTEGER", nullable: false),
                    VersionId = table.Column<int>(type: "INTEGER", nullable: false),
                    Round = table.Column<int>(type: "INTEGER", nullable: false),
                    State = table.Column<int>(type: "INTEGER", nullable: false),
                    On = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    StartedMs = table.Column<long>(type: "INTEGER", nullable: false),
                    FinishedMs = table.Column<long>(type: "INTEGER", nullable: true),
                    StartedBy = table.Column<string>(type: "TEXT", nullable: false),
                    FinishedBy = table.Column<string>(type: "TEXT", nullable: true),
                    Late = table.Column<bool>(type: "INTEGER", nullable: false),
                    LifeTenths = table.Column<int>(type: "INTEGER", nullable: false),
                    ShownTenths = table.Column<int>(type: "INTEGER", nullable: false),
                    ReadingId = table.Column<long>(type: "INTEGER", nullable: true),
                    Weather = table.Column<int>(type: "INTEGER", nullable: false),
                    Ground = table.Column<int>(type: "INTEGER", nullable: false),
                    Checks = table.Column<string>(type: "TEXT", nullable: false),
                    Due = table.Column<int>(type: "INTEGER", nullable: false),
                    Answered = table.Column<int>(type: "INTEGER", nullable: false),
                    Faults = table.Column<int>(type: "INTEGER", nullable: false),
                    LeftOut = table.Column<int>(type: "INTEGER", nullable: false),
                    Answers = table.Column<string>(type: "TEXT", nullable: false),
                    Note = table.Column<string>(type: "TEXT", nullable: false),
                    Batch = table.Column<string>(type: "TEXT", nullable: false),
                    Verdict = table.Column<int>(type: "INTEGER", nullable: true),
                    UntilTenths = table.Column<int>(type: "INTEGER", nullable: true),
                    UntilOn = table.Column<DateOnly>(type: "TEXT", nullable: true),
                    VoidedMs = table.Column<long>(type: "INTEGER", nullable: true),
                    VoidedBy = table.Column<string>(type: "TEXT", nullable: true),
                    VoidReason = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Walks", x => x.Id);
                    table.ForeignKey(
                        name: "FK_Walks_Machines_MachineId",
                        column: x => x.MachineId,
                        principalTable: "Machines",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Restrict);
                    table.ForeignKey(
                        name: "FK_Walks_WalkListVersions_VersionId",
                        column: x => x.VersionId,
                        principalTable: "WalkListVersions",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Restrict);
                });

            migrationBuilder.CreateTable(
                name: "ChecksDone",
                columns: table => new
                {
                    WalkId = table.Column<long>(type: "INTEGER", nullable: false),
                    CheckCode = table.Column<string>(type: "TEXT", nullable: false),
                    MachineId = table.Column<int>(type: "INTEGER", nullable: false),
                    LifeTenths = table.Column<int>(type: "INTEGER", nullable: false),
                    Voided = table.Column<bool>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_ChecksDone", x => new { x.WalkId, x.CheckCode });
                    table.ForeignKey(
                        name: "FK_ChecksDone_Walks_WalkId",
                        column: x => x.WalkId,
                        principalTable: "Walks",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "WalkAnswers",
                columns: table => new
                {
                    WalkId = table.Column<long>(type: "INTEGER", nullable: false),
                    Code = table.Column<string>(type: "TEXT", nullable: false),
                    Revision = table.Column<int>(type: "INTEGER", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    AtMs = table.Column<long>(type: "INTEGER", nullable: false),
                    Answer = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_WalkAnswers", x => new { x.WalkId, x.Code });
                    table.ForeignKey(
                        name: "FK_WalkAnswers_Walks_WalkId",
                        column: x => x.WalkId,
                        principalTable: "Walks",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateIndex(
                name: "IX_Machines_WalkListId",
                table: "Machines",
                column: "WalkListId");

            migrationBuilder.CreateIndex(
                name: "IX_ChecksDone_MachineId_CheckCode_LifeTenths",
                table: "ChecksDone",
                columns: new[] { "MachineId", "CheckCode", "LifeTenths" });

            migrationBuilder.CreateIndex(
                name: "IX_DefectEvents_DefectId_AtMs",
                table: "DefectEvents",
                columns: new[] { "DefectId", "AtMs" });

            migrationBuilder.CreateIndex(
                name: "IX_DefectPhotos_DefectId",
                table: "DefectPhotos",
                column: "DefectId");

            migrationBuilder.CreateIndex(
                name: "IX_Defects_MachineId_Place",
                table: "Defects",
                columns: new[] { "MachineId", "Place" });

            migrationBuilder.CreateIndex(
                name: "IX_Defects_MachineId_State",
                table: "Defects",
                columns: new[] { "MachineId", "State" });

            migrationBuilder.CreateIndex(
                name: "IX_Defects_State_Grade",
                table: "Defects",
                columns: new[] { "State", "Grade" });

            migrationBuilder.CreateIndex(
                name: "IX_Defects_WalkId",
                table: "Defects",
                column: "WalkId");

            migrationBuilder.CreateIndex(
                name: "IX_MachineChecks_MachineId_CheckCode",
                table: "MachineChecks",
                columns: new[] { "MachineId", "CheckCode" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_Measures_MachineId_CheckCode_AtMs",
                table: "Measures",
                columns: new[] { "MachineId", "CheckCode", "AtMs" });

            migrationBuilder.CreateIndex(
                name: "IX_Measures_WalkId",
                table: "Measures",
                column: "WalkId");

            migrationBuilder.CreateIndex(
                name: "IX_Stoppages_DefectId",
                table: "Stoppages",
                column: "DefectId");

            migrationBuilder.CreateIndex(
                name: "IX_Stoppages_MachineId_FromMs",
                table: "Stoppages",
                columns: new[] { "MachineId", "FromMs" });

            migrationBuilder.CreateIndex(
                name: "IX_TopUps_MachineId_Compartment_LifeTenths",
                table: "TopUps",
                columns: new[] { "MachineId", "Compartment", "LifeTenths" });

            migrationBuilder.CreateIndex(
                name: "IX_TopUps_WalkId",
                table: "TopUps",
                column: "WalkId");

            migrationBuilder.CreateIndex(
                name: "IX_WalkLists_Code",
                table: "WalkLists",
                column: "Code",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_WalkListVersions_ListId_Version",
                table: "WalkListVersions",
                columns: new[] { "ListId", "Version" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_Walks_MachineId_On",
                table: "Walks",
                columns: new[] { "MachineId", "On" });

            migrationBuilder.CreateIndex(
                name: "IX_Walks_On",
                table: "Walks",
                column: "On");

            migrationBuilder.CreateIndex(
                name: "IX_Walks_Open",
                table: "Walks",
                columns: new[] { "MachineId", "Round" },
                unique: true,
                filter: "State = 0");

            migrationBuilder.CreateIndex(
                name: "IX_Walks_VersionId",
                table: "Walks",
                column: "VersionId");

            migrationBuilder.AddForeignKey(
                name: "FK_Machines_WalkLists_WalkListId",
                table: "Machines",
                column: "WalkListId",
                principalTable: "WalkLists",
                principalColumn: "Id",
                onDelete: ReferentialAction.Restrict);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropForeignKey(
                name: "FK_Machines_WalkLists_WalkListId",
                table: "Machines");

            migrationBuilder.DropTable(
                name: "ChecksDone");

            migrationBuilder.DropTable(
                name: "DefectEvents");

            migrationBuilder.DropTable(
                name: "MachineChecks");

            migrationBuilder.DropTable(
                name: "Measures");

            migrationBuilder.DropTable(
                name: "PhotoBytes");

            migrationBuilder.DropTable(
                name: "Stoppages");

            migrationBuilder.DropTable(
                name: "TopUps");

            migrationBuilder.DropTable(
                name: "WalkAnswers");

            migrationBuilder.DropTable(
                name: "DefectPhotos");

            migrationBuilder.DropTable(
                name: "Walks");

            migrationBuilder.DropTable(
                name: "Defects");

            migrationBuilder.DropTable(
                name: "WalkListVersions");

            migrationBuilder.DropTable(
                name: "WalkLists");

            migrationBuilder.DropIndex(
                name: "IX_Machines_WalkListId",
                table: "Machines");

            migrationBuilder.DropColumn(
                name: "DefectLimitOn",
                table: "Standings");

            migrationBuilder.DropColumn(
                name: "DefectLimitTenths",
                table: "Standings");

            migrationBuilder.DropColumn(
                name: "Defects",
                table: "Standings");

            migrationBuilder.DropColumn(
                name: "MissedWalks",
                table: "Standings");

            migrationBuilder.DropColumn(
                name: "OutOfService",
                table: "Standings");

            migrationBuilder.DropColumn(
                name: "WalkedOn",
                table: "Standings");

            migrationBuilder.DropColumn(
                name: "ShiftFrom",
                table: "Sites");

            migrationBuilder.DropColumn(
                name: "ShiftTo",
                table: "Sites");

            migrationBuilder.DropColumn(
                name: "WorkDays",
                table: "Sites");

            migrationBuilder.DropColumn(
                name: "WalkListId",
                table: "Machines");
        }
    }
}
