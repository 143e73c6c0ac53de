using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Nippers.Data.Migrations
{
    /// <inheritdoc />
    public partial class Samples : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<int>(
                name: "SamplesDue",
                table: "Standings",
                type: "INTEGER",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<int>(
                name: "Advised",
                table: "Samples",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.AddColumn<long>(
                name: "ConsignmentId",
                table: "Samples",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.AddColumn<long>(
                name: "DefectId",
                table: "Samples",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.AddColumn<bool>(
                name: "DrawnWrong",
                table: "Samples",
                type: "INTEGER",
                nullable: false,
                defaultValue: false);

            migrationBuilder.AddColumn<int>(
                name: "Engine",
                table: "Samples",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "Family",
                table: "Samples",
                type: "TEXT",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<string>(
                name: "Grade",
                table: "Samples",
                type: "TEXT",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<int>(
                name: "Kind",
                table: "Samples",
                type: "INTEGER",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<int>(
                name: "LabId",
                table: "Samples",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.AddColumn<bool>(
                name: "Late",
                table: "Samples",
                type: "INTEGER",
                nullable: false,
                defaultValue: false);

            migrationBuilder.AddColumn<int>(
                name: "Method",
                table: "Samples",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "Note",
                table: "Samples",
                type: "TEXT",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<long>(
                name: "ReportedMs",
                table: "Samples",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.AddColumn<long>(
                name: "SentMs",
                table: "Samples",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.AddColumn<int>(
                name: "SignedAs",
                table: "Samples",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "SignedBy",
                table: "Samples",
                type: "TEXT",
                nullable: true);

            migrationBuilder.AddColumn<long>(
                name: "SignedMs",
                table: "Samples",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "SignedWords",
                table: "Samples",
                type: "TEXT",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<int>(
                name: "State",
                table: "Samples",
                type: "INTEGER",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<int>(
                name: "Version",
                table: "Samples",
                type: "INTEGER",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<string>(
                name: "VoidReason",
                table: "Samples",
                type: "TEXT",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "VoidedBy",
                table: "Samples",
                type: "TEXT",
                nullable: true);

            migrationBuilder.AddColumn<int>(
                name: "DrainCapTenths",
                table: "ProgramCompartments",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "DrainFluids",
                table: "ProgramCompartments",
                type: "TEXT",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<int>(
                name: "DrainStepTenths",
                table: "ProgramCompartments",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.AddColumn<int>(
                name: "DrainTenths",
                table: "MachineCompartments",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.CreateTable(
                name: "Bottles",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Code = table.Column<string>(type: "TEXT", nullable: false),
                    MachineId = table.Column<int>(type: "INTEGER", nullable: false),
                    Compartment = table.Column<string>(type: "TEXT", nullable: false),
                    ItemCode = table.Column<string>(type: "TEXT", nullable: false),
                    PreparedMs = table.Column<long>(type: "INTEGER", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    SampleId = table.Column<long>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Bottles", x => x.Id);
                    table.ForeignKey(
                        name: "FK_Bottles_Machines_MachineId",
                        column: x => x.MachineId,
                        principalTable: "Machines",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "Calls",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    MachineId = table.Column<int>(type: "INTEGER", nullable: false),
                    ItemCode = table.Column<string>(type: "TEXT", nullable: false),
                    Reason = table.Column<int>(type: "INTEGER", nullable: false),
                    AtMs = table.Column<long>(type: "INTEGER", nullable: false),
                    DueTenths = table.Column<int>(type: "INTEGER", nullable: true),
                    On = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    SampleId = table.Column<long>(type: "INTEGER", nullable: true),
                    AfterDefectId = table.Column<long>(type: "INTEGER", nullable: true),
                    VoidedMs = table.Column<long>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Calls", x => x.Id);
                    table.ForeignKey(
                        name: "FK_Calls_Machines_MachineId",
                        column: x => x.MachineId,
                        principalTable: "Machines",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "CoolantTests",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    MachineId = table.Column<int>(type: "INTEGER", nullable: false),
                    On = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    LifeTenths = table.Column<int>(type: "INTEGER", nullable: false),
                    Laboratory = table.Column<bool>(type: "INTEGER", nullable: false),
                    SharePercent = table.Column<double>(type: "REAL", nullable: true),
                    FreezeC = table.Column<double>(type: "REAL", nullable: true),
                    Ph = table.Column<double>(type: "REAL", nullable: true),
                    Inhibitor = table.Column<int>(type: "INTEGER", nullable: true),
                    ChloridePpm = table.Column<double>(type: "REAL", nullable: true),
                    SulphatePpm = table.Column<double>(type: "REAL", nullable: true),
                    WantedPercent = table.Column<double>(type: "REAL", nullable: false),
                    RefillPercent = table.Column<double>(type: "REAL", nullable: false),
                    Note = table.Column<string>(type: "TEXT", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    AtMs = table.Column<long>(type: "INTEGER", nullable: false),
                    VoidedMs = table.Column<long>(type: "INTEGER", nullable: true),
                    VoidedBy = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_CoolantTests", x => x.Id);
                    table.ForeignKey(
                        name: "FK_CoolantTests_Machines_MachineId",
                        column: x => x.MachineId,
                        principalTable: "Machines",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "DrainChanges",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    MachineId = table.Column<int>(type: "INTEGER", nullable: false),
                    Compartment = table.Column<string>(type: "TEXT", nullable: false),
                    On = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    LifeTenths = table.Column<int>(type: "INTEGER", nullable: false),
                    FromTenths = table.Column<int>(type: "INTEGER", nullable: false),
                    ToTenths = table.Column<int>(type: "INTEGER", nullable: false),
                    Reason = table.Column<int>(type: "INTEGER", nullable: false),
                    SampleId = table.Column<long>(type: "INTEGER", nullable: true),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    AtMs = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_DrainChanges", x => x.Id);
                    table.ForeignKey(
                        name: "FK_DrainChanges_Machines_MachineId",
                        column: x => x.MachineId,
                        principalTable: "Machines",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "FleetLimits",
                columns: table => new
                {
                    Kind = table.Column<int>(type: "INTEGER", nullable: false),
                    Family = table.Column<string>(type: "TEXT", nullable: false),
                    Measurand = table.Column<string>(type: "TEXT", nullable: false),
                    Watch = table.Column<double>(type: "REAL", nullable: false),
                    Act = table.Column<double>(type: "REAL", nullable: false),
                    Values = table.Column<int>(type: "INTEGER", nullable: false),
                    ComputedMs = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_FleetLimits", x => new { x.Kind, x.Family, x.Measurand });
                });

            migrationBuilder.CreateTable(
                name: "Judgements",
                columns: table => new
                {
                    SampleId = table.Column<long>(type: "INTEGER", nullable: false),
                    Values = table.Column<string>(type: "TEXT", nullable: false),
                    WearCompares = table.Column<bool>(type: "INTEGER", nullable: false),
                    Whole = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Judgements", x => x.SampleId);
                    table.ForeignKey(
                        name: "FK_Judgements_Samples_SampleId",
                        column: x => x.SampleId,
                        principalTable: "Samples",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "Labs",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Name = table.Column<string>(type: "TEXT", nullable: false),
                    Url = table.Column<string>(type: "TEXT", nullable: false),
                    Token = table.Column<string>(type: "TEXT", nullable: false),
                    Columns = table.Column<string>(type: "TEXT", nullable: false),
                    Usual = table.Column<bool>(type: "INTEGER", nullable: false),
                    Cursor = table.Column<long>(type: "INTEGER", nullable: false),
                    Failures = table.Column<int>(type: "INTEGER", nullable: false),
                    NextAskMs = table.Column<long>(type: "INTEGER", nullable: true),
                    LastFault = table.Column<string>(type: "TEXT", nullable: false),
                    Version = table.Column<int>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Labs", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "LooseResults",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    LabId = table.Column<int>(type: "INTEGER", nullable: true),
                    ReceivedMs = table.Column<long>(type: "INTEGER", nullable: false),
                    Bottle = table.Column<string>(type: "TEXT", nullable: false),
                    Why = table.Column<string>(type: "TEXT", nullable: false),
                    Result = table.Column<string>(type: "TEXT", nullable: false),
                    Digest = table.Column<string>(type: "TEXT", nullable: false),
                    SettledMs = table.Column<long>(type: "INTEGER", nullable: true),
                    SettledBy = table.Column<string>(type: "TEXT", nullable: true),
                    SampleId = table.Column<long>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_LooseResults", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "NewOils",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Fluid = table.Column<string>(type: "TEXT", nullable: false),
                    Grade = table.Column<string>(type: "TEXT", nullable: false),
                    Family = table.Column<string>(type: "TEXT", nullable: false),
                    Viscosity = table.Column<double>(type: "REAL", nullable: true),
                    Tbn = table.Column<double>(type: "REAL", nullable: true),
                    Tan = table.Column<double>(type: "REAL", nullable: true),
                    Oxidation = table.Column<double>(type: "REAL", nullable: true),
                    Additives = table.Column<string>(type: "TEXT", nullable: false),
                    Source = table.Column<int>(type: "INTEGER", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    AtMs = table.Column<long>(type: "INTEGER", nullable: false),
                    Version = table.Column<int>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_NewOils", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "OilLimits",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Kind = table.Column<int>(type: "INTEGER", nullable: false),
                    MachineId = table.Column<int>(type: "INTEGER", nullable: true),
                    Compartment = table.Column<string>(type: "TEXT", nullable: false),
                    Measurand = table.Column<string>(type: "TEXT", nullable: false),
                    Watch = table.Column<double>(type: "REAL", nullable: false),
                    Act = table.Column<double>(type: "REAL", nullable: false),
                    Target = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_OilLimits", x => x.Id);
                    table.ForeignKey(
                        name: "FK_OilLimits_Machines_MachineId",
                        column: x => x.MachineId,
                        principalTable: "Machines",
                        principalColumn: "Id");
                });

            migrationBuilder.CreateTable(
                name: "Reports",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    SampleId = table.Column<long>(type: "INTEGER", nullable: false),
                    ReceivedMs = table.Column<long>(type: "INTEGER", nullable: false),
                    Source = table.Column<int>(type: "INTEGER", nullable: false),
                    LabId = table.Column<int>(type: "INTEGER", nullable: true),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    LabNumber = table.Column<string>(type: "TEXT", nullable: false),
                    Figures = table.Column<string>(type: "TEXT", nullable: false),
                    Iso = table.Column<string>(type: "TEXT", nullable: false),
                    Comment = table.Column<string>(type: "TEXT", nullable: false),
                    ReplacedMs = table.Column<long>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Reports", x => x.Id);
                    table.ForeignKey(
                        name: "FK_Reports_Samples_SampleId",
                        column: x => x.SampleId,
                        principalTable: "Samples",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "Consignments",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    LabId = table.Column<int>(type: "INTEGER", nullable: false),
                    MadeMs = table.Column<long>(type: "INTEGER", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    State = table.Column<int>(type: "INTEGER", nullable: false),
                    Attempts = table.Column<int>(type: "INTEGER", nullable: false),
                    NextTryMs = table.Column<long>(type: "INTEGER", nullable: true),
                    LastFault = table.Column<string>(type: "TEXT", nullable: false),
                    HandedMs = table.Column<long>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Consignments", x => x.Id);
                    table.ForeignKey(
                        name: "FK_Consignments_Labs_LabId",
                        column: x => x.LabId,
                        principalTable: "Labs",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateIndex(
                name: "IX_Samples_ConsignmentId",
                table: "Samples",
                column: "ConsignmentId");

            migrationBuilder.CreateIndex(
                name: "IX_Samples_Kind_On",
                table: "Samples",
                columns: new[] { "Kind", "On" });

            migrationBuilder.CreateIndex(
                name: "IX_Samples_State_TakenMs",
                table: "Samples",
                columns: new[] { "State", "TakenMs" });

            migrationBuilder.CreateIndex(
                name: "IX_Bottles_Code",
                table: "Bottles",
                column: "Code",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_Bottles_MachineId",
                table: "Bottles",
                column: "MachineId");

            migrationBuilder.CreateIndex(
                name: "IX_Calls_AfterDefectId",
                table: "Calls",
                column: "AfterDefectId");

            migrationBuilder.CreateIndex(
                name: "IX_Calls_MachineId_ItemCode",
                table: "Calls",
                columns: new[] { "MachineId", "ItemCode" });

            migrationBuilder.CreateIndex(
                name: "IX_Consignments_LabId",
                table: "Consignments",
                column: "LabId");

            migrationBuilder.CreateIndex(
                name: "IX_Consignments_State",
                table: "Consignments",
                column: "State");

            migrationBuilder.CreateIndex(
                name: "IX_CoolantTests_MachineId_LifeTenths",
                table: "CoolantTests",
                columns: new[] { "MachineId", "LifeTenths" });

            migrationBuilder.CreateIndex(
                name: "IX_DrainChanges_MachineId_Compartment",
                table: "DrainChanges",
                columns: new[] { "MachineId", "Compartment" });

            migrationBuilder.CreateIndex(
                name: "IX_Labs_Name",
                table: "Labs",
                column: "Name",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_LooseResults_Digest",
                table: "LooseResults",
                column: "Digest",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_NewOils_Fluid",
                table: "NewOils",
                column: "Fluid",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_OilLimits_MachineId_Compartment_Kind_Measurand",
                table: "OilLimits",
                columns: new[] { "MachineId", "Compartment", "Kind", "Measurand" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_Reports_SampleId",
                table: "Reports",
                column: "SampleId");

            // Samples from before know only their compartment; its kind tells where the oil works.
            migrationBuilder.Sql("""
                UPDATE "Samples" SET "Kind" = CASE (SELECT c."Kind" FROM "ProgramCompartments" c JOIN "Machines" m ON m."ProgramId" = c."ProgramId" WHERE m."Id" = "Samples"."MachineId" AND c."Code" = "Samples"."Compartment")
                    WHEN 'Engine' THEN 0 WHEN 'Hydraulic' THEN 1 WHEN 'Transmission' THEN 3 ELSE 2 END;
                """);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "Bottles");

            migrationBuilder.DropTable(
                name: "Calls");

            migrationBuilder.DropTable(
                name: "Consignments");

            migrationBuilder.DropTable(
                name: "CoolantTests");

            migrationBuilder.DropTable(
                name: "DrainChanges");

            migrationBuilder.DropTable(
                name: "FleetLimits");

            migrationBuilder.DropTable(
                name: "Judgements");

            migrationBuilder.DropTable(
                name: "LooseResults");

            migrationBuilder.DropTable(
                name: "NewOils");

            migrationBuilder.DropTable(
                name: "OilLimits");

            migrationBuilder.DropTable(
                name: "Reports");

            migrationBuilder.DropTable(
                name: "Labs");

            migrationBuilder.DropIndex(
                name: "IX_Samples_ConsignmentId",
                table: "Samples");

            migrationBuilder.DropIndex(
                name: "IX_Samples_Kind_On",
                table: "Samples");

            migrationBuilder.DropIndex(
                name: "IX_Samples_State_TakenMs",
                table: "Samples");

            migrationBuilder.DropColumn(
                name: "SamplesDue",
                table: "Standings");

            migrationBuilder.DropColumn(
                name: "Advised",
                table: "Samples");

            migrationBuilder.DropColumn(
                name: "ConsignmentId",
                table: "Samples");

            migrationBuilder.DropColumn(
                name: "DefectId",
                table: "Samples");

            migrationBuilder.DropColumn(
                name: "DrawnWrong",
                table: "Samples");

            migrationBuilder.DropColumn(
                name: "Engine",
                table: "Samples");

            migrationBuilder.DropColumn(
                name: "Family",
                table: "Samples");

            migrationBuilder.DropColumn(
                name: "Grade",
                table: "Samples");

            migrationBuilder.DropColumn(
                name: "Kind",
                table: "Samples");

            migrationBuilder.DropColumn(
                name: "LabId",
                table: "Samples");

            migrationBuilder.DropColumn(
                name: "Late",
                table: "Samples");

            migrationBuilder.DropColumn(
                name: "Method",
                table: "Samples");

            migrationBuilder.DropColumn(
                name: "Note",
                table: "Samples");

            migrationBuilder.DropColumn(
                name: "ReportedMs",
                table: "Samples");

            migrationBuilder.DropColumn(
                name: "SentMs",
                table: "Samples");

            migrationBuilder.DropColumn(
                name: "SignedAs",
                table: "Samples");

            migrationBuilder.DropColumn(
                name: "SignedBy",
                table: "Samples");

            migrationBuilder.DropColumn(
                name: "SignedMs",
                table: "Samples");

            migrationBuilder.DropColumn(
                name: "SignedWords",
                table: "Samples");

            migrationBuilder.DropColumn(
                name: "State",
                table: "Samples");

            migrationBuilder.DropColumn(
                name: "Version",
                table: "Samples");

            migrationBuilder.DropColumn(
                name: "VoidReason",
                table: "Samples");

            migrationBuilder.DropColumn(
                name: "VoidedBy",
                table: "Samples");

            migrationBuilder.DropColumn(
                name: "DrainCapTenths",
                table: "ProgramCompartments");

            migrationBuilder.DropColumn(
                name: "DrainFluids",
                table: "ProgramCompartments");

            migrationBuilder.DropColumn(
                name: "DrainStepTenths",
                table: "ProgramCompartments");

            migrationBuilder.DropColumn(
                name: "DrainTenths",
                table: "MachineCompartments");
        }
    }
}
