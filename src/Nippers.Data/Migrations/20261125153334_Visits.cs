using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Nippers.Data.Migrations
{
    /// <inheritdoc />
    public partial class Visits : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<int>(
                name: "HighC",
                table: "Sites",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.AddColumn<int>(
                name: "LowC",
                table: "Sites",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "Access",
                table: "ProgramItems",
                type: "TEXT",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<string>(
                name: "Covers",
                table: "ProgramItems",
                type: "TEXT",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<int>(
                name: "Minutes",
                table: "ProgramItems",
                type: "INTEGER",
                nullable: false,
                defaultValue: 5);

            migrationBuilder.AddColumn<string>(
                name: "Work",
                table: "ProgramItems",
                type: "TEXT",
                nullable: false,
                defaultValue: "Check");

            migrationBuilder.AddColumn<int>(
                name: "DrainMinutes",
                table: "ProgramCompartments",
                type: "INTEGER",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<string>(
                name: "Fluids",
                table: "ProgramCompartments",
                type: "TEXT",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<int>(
                name: "SettleMinutes",
                table: "ProgramCompartments",
                type: "INTEGER",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<string>(
                name: "Stream",
                table: "ProgramCompartments",
                type: "TEXT",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<string>(
                name: "Traits",
                table: "ProgramCompartments",
                type: "TEXT",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<string>(
                name: "BleedMethod",
                table: "Machines",
                type: "TEXT",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<string>(
                name: "BleedPoints",
                table: "Machines",
                type: "TEXT",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<int>(
                name: "CrankRepeats",
                table: "Machines",
                type: "INTEGER",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<int>(
                name: "CrankSeconds",
                table: "Machines",
                type: "INTEGER",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<int>(
                name: "RestSeconds",
                table: "Machines",
                type: "INTEGER",
                nullable: false,
                defaultValue: 0);

            migrationBuilder.AddColumn<int>(
                name: "DrainPoints",
                table: "MachineCompartments",
                type: "INTEGER",
                nullable: false,
                defaultValue: 1);

            migrationBuilder.AddColumn<double>(
                name: "FilterLitres",
                table: "MachineCompartments",
                type: "REAL",
                nullable: false,
                defaultValue: 0.0);

            migrationBuilder.AddColumn<string>(
                name: "Hub",
                table: "MachineCompartments",
                type: "TEXT",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<string>(
                name: "PlugSeal",
                table: "MachineCompartments",
                type: "TEXT",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<string>(
                name: "PlugTorque",
                table: "MachineCompartments",
                type: "TEXT",
                nullable: false,
                defaultValue: "");

            migrationBuilder.AddColumn<double>(
                name: "PressureSeconds",
                table: "MachineCompartments",
                type: "REAL",
                nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "Socket",
                table: "MachineCompartments",
                type: "TEXT",
                nullable: false,
                defaultValue: "");

            migrationBuilder.CreateTable(
                name: "FilterLog",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    MachineId = table.Column<int>(type: "INTEGER", nullable: false),
                    Position = table.Column<string>(type: "TEXT", nullable: false),
                    PositionName = table.Column<string>(type: "TEXT", nullable: false),
                    State = table.Column<int>(type: "INTEGER", nullable: false),
                    Part = table.Column<string>(type: "TEXT", nullable: false),
                    Make = table.Column<string>(type: "TEXT", nullable: false),
                    On = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    LifeTenths = table.Column<int>(type: "INTEGER", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    EnteredMs = table.Column<long>(type: "INTEGER", nullable: false),
                    VisitId = table.Column<long>(type: "INTEGER", nullable: true),
                    Metal = table.Column<int>(type: "INTEGER", nullable: true),
                    Words = table.Column<string>(type: "TEXT", nullable: false),
                    Batch = table.Column<string>(type: "TEXT", nullable: false),
                    VoidedMs = table.Column<long>(type: "INTEGER", nullable: true),
                    VoidedBy = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_FilterLog", x => x.Id);
                    table.ForeignKey(
                        name: "FK_FilterLog_Machines_MachineId",
                        column: x => x.MachineId,
                        principalTable: "Machines",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "Fluids",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Name = table.Column<string>(type: "TEXT", nullable: false),
                    CentsPerLitre = table.Column<int>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Fluids", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "OnBoard",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    MachineId = table.Column<int>(type: "INTEGER", nullable: false),
                    Compartment = table.Column<string>(type: "TEXT", nullable: false),
                    Fluid = table.Column<string>(type: "TEXT", nullable: false),
                    Litres = table.Column<double>(type: "REAL", nullable: false),
                    On = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    LifeTenths = table.Column<int>(type: "INTEGER", nullable: false),
                    VisitId = table.Column<long>(type: "INTEGER", nullable: true),
                    Batch = table.Column<string>(type: "TEXT", nullable: false),
                    VoidedMs = table.Column<long>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_OnBoard", x => x.Id);
                    table.ForeignKey(
                        name: "FK_OnBoard_Machines_MachineId",
                        column: x => x.MachineId,
                        principalTable: "Machines",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "Parts",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Number = table.Column<string>(type: "TEXT", nullable: false),
                    Name = table.Column<string>(type: "TEXT", nullable: false),
                    Make = table.Column<string>(type: "TEXT", nullable: false),
                    Kind = table.Column<string>(type: "TEXT", nullable: false),
                    LengthMm = table.Column<double>(type: "REAL", nullable: true),
                    OuterMm = table.Column<double>(type: "REAL", nullable: true),
                    SealMm = table.Column<double>(type: "REAL", nullable: true),
                    Thread = table.Column<string>(type: "TEXT", nullable: false),
                    PriceCents = table.Column<int>(type: "INTEGER", nullable: false),
                    Version = table.Column<int>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Parts", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "Samples",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    MachineId = table.Column<int>(type: "INTEGER", nullable: false),
                    Compartment = table.Column<string>(type: "TEXT", nullable: false),
                    ItemCode = table.Column<string>(type: "TEXT", nullable: false),
                    Bottle = table.Column<string>(type: "TEXT", nullable: false),
                    On = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    TakenMs = table.Column<long>(type: "INTEGER", nullable: false),
                    LifeTenths = table.Column<int>(type: "INTEGER", nullable: false),
                    OilTenths = table.Column<int>(type: "INTEGER", nullable: true),
                    AddedLitres = table.Column<double>(type: "REAL", nullable: false),
                    Fluid = table.Column<string>(type: "TEXT", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    VisitId = table.Column<long>(type: "INTEGER", nullable: true),
                    Batch = table.Column<string>(type: "TEXT", nullable: false),
                    VoidedMs = table.Column<long>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Samples", x => x.Id);
                    table.ForeignKey(
                        name: "FK_Samples_Machines_MachineId",
                        column: x => x.MachineId,
                        principalTable: "Machines",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "Shop",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Currency = table.Column<string>(type: "TEXT", nullable: false),
                    LabourCentsPerHour = table.Column<int>(type: "INTEGER", nullable: false),
                    CallOutCents = table.Column<int>(type: "INTEGER", nullable: false),
                    CareHours = table.Column<int>(type: "INTEGER", nullable: false),
                    HorizonDays = table.Column<int>(type: "INTEGER", nullable: false),
                    PailLitres = table.Column<int>(type: "INTEGER", nullable: false),
                    OneAtATime = table.Column<bool>(type: "INTEGER", nullable: false),
                    DrainHot = table.Column<bool>(type: "INTEGER", nullable: false),
                    Vessels = table.Column<string>(type: "TEXT", nullable: false),
                    Version = table.Column<int>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Shop", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "Visits",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    MachineId = table.Column<int>(type: "INTEGER", nullable: false),
                    State = table.Column<int>(type: "INTEGER", nullable: false),
                    On = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    NameHours = table.Column<int>(type: "INTEGER", nullable: false),
                    PlannedBy = table.Column<string>(type: "TEXT", nullable: false),
                    PlannedMs = table.Column<long>(type: "INTEGER", nullable: false),
                    Note = table.Column<string>(type: "TEXT", nullable: false),
                    HandsMinutes = table.Column<int>(type: "INTEGER", nullable: false),
                    ElapsedMinutes = table.Column<int>(type: "INTEGER", nullable: false),
                    SavedMinutes = table.Column<int>(type: "INTEGER", nullable: false),
                    RealMinutes = table.Column<int>(type: "INTEGER", nullable: true),
                    PartsCents = table.Column<int>(type: "INTEGER", nullable: false),
                    FluidsCents = table.Column<int>(type: "INTEGER", nullable: false),
                    LabourCents = table.Column<int>(type: "INTEGER", nullable: false),
                    CallOutCents = table.Column<int>(type: "INTEGER", nullable: false),
                    WasteCents = table.Column<int>(type: "INTEGER", nullable: false),
                    RealPartsCents = table.Column<int>(type: "INTEGER", nullable: true),
                    RealFluidsCents = table.Column<int>(type: "INTEGER", nullable: true),
                    RealLabourCents = table.Column<int>(type: "INTEGER", nullable: true),
                    QuoteCents = table.Column<int>(type: "INTEGER", nullable: true),
                    Card = table.Column<string>(type: "TEXT", nullable: false),
                    ProgramVersion = table.Column<int>(type: "INTEGER", nullable: false),
                    OpenedBy = table.Column<string>(type: "TEXT", nullable: true),
                    OpenedMs = table.Column<long>(type: "INTEGER", nullable: true),
                    LifeTenths = table.Column<int>(type: "INTEGER", nullable: false),
                    ShownTenths = table.Column<int>(type: "INTEGER", nullable: false),
                    ClosedBy = table.Column<string>(type: "TEXT", nullable: true),
                    ClosedMs = table.Column<long>(type: "INTEGER", nullable: true),
                    Batch = table.Column<string>(type: "TEXT", nullable: true),
                    VoidedBy = table.Column<string>(type: "TEXT", nullable: true),
                    VoidReason = table.Column<string>(type: "TEXT", nullable: true),
                    Version = table.Column<int>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Visits", x => x.Id);
                    table.ForeignKey(
                        name: "FK_Visits_Machines_MachineId",
                        column: x => x.MachineId,
                        principalTable: "Machines",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Restrict);
                });

            migrationBuilder.CreateTable(
                name: "Waste",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    On = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    Stream = table.Column<string>(type: "TEXT", nullable: false),
                    Amount = table.Column<double>(type: "REAL", nullable: false),
                    Place = table.Column<string>(type: "TEXT", nullable: false),
                    MachineId = table.Column<int>(type: "INTEGER", nullable: true),
                    VisitId = table.Column<long>(type: "INTEGER", nullable: true),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    EnteredMs = table.Column<long>(type: "INTEGER", nullable: false),
                    Batch = table.Column<string>(type: "TEXT", nullable: false),
                    VoidedMs = table.Column<long>(type: "INTEGER", nullable: true),
                    VoidedBy = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Waste", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "FilterPositions",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    MachineId = table.Column<int>(type: "INTEGER", nullable: false),
                    Code = table.Column<string>(type: "TEXT", nullable: false),
                    Name = table.Column<string>(type: "TEXT", nullable: false),
                    ItemCode = table.Column<string>(type: "TEXT", nullable: false),
                    PartId = table.Column<int>(type: "INTEGER", nullable: true),
                    LengthMm = table.Column<double>(type: "REAL", nullable: true),
                    OuterMm = table.Column<double>(type: "REAL", nullable: true),
                    SealMm = table.Column<double>(type: "REAL", nullable: true),
                    Thread = table.Column<string>(type: "TEXT", nullable: false),
                    Prefill = table.Column<string>(type: "TEXT", nullable: false),
                    Turn = table.Column<string>(type: "TEXT", nullable: false),
                    Litres = table.Column<double>(type: "REAL", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_FilterPositions", x => x.Id);
                    table.ForeignKey(
                        name: "FK_FilterPositions_Machines_MachineId",
                        column: x => x.MachineId,
                        principalTable: "Machines",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "FK_FilterPositions_Parts_PartId",
                        column: x => x.PartId,
                        principalTable: "Parts",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Restrict);
                });

            migrationBuilder.CreateTable(
                name: "PartAlternates",
                columns: table => new
                {
                    PartId = table.Column<int>(type: "INTEGER", nullable: false),
                    OtherId = table.Column<int>(type: "INTEGER", nullable: false),
                    SaysWho = table.Column<string>(type: "TEXT", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    On = table.Column<DateOnly>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_PartAlternates", x => new { x.PartId, x.OtherId });
                    table.ForeignKey(
                        name: "FK_PartAlternates_Parts_OtherId",
                        column: x => x.OtherId,
                        principalTable: "Parts",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Restrict);
                    table.ForeignKey(
                        name: "FK_PartAlternates_Parts_PartId",
                        column: x => x.PartId,
                        principalTable: "Parts",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "StockMoves",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    PartId = table.Column<int>(type: "INTEGER", nullable: false),
                    SiteId = table.Column<int>(type: "INTEGER", nullable: false),
                    Quantity = table.Column<int>(type: "INTEGER", nullable: false),
                    Kind = table.Column<int>(type: "INTEGER", nullable: false),
                    AtMs = table.Column<long>(type: "INTEGER", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    Note = table.Column<string>(type: "TEXT", nullable: false),
                    VisitId = table.Column<long>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_StockMoves", x => x.Id);
                    table.ForeignKey(
                        name: "FK_StockMoves_Parts_PartId",
                        column: x => x.PartId,
                        principalTable: "Parts",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "FK_StockMoves_Sites_SiteId",
                        column: x => x.SiteId,
                        principalTable: "Sites",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Restrict);
                });

            migrationBuilder.CreateTable(
                name: "StepPhotos",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    VisitId = table.Column<long>(type: "INTEGER", nullable: false),
                    Code = table.Column<string>(type: "TEXT", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    AtMs = table.Column<long>(type: "INTEGER", nullable: false),
                    Width = table.Column<int>(type: "INTEGER", nullable: false),
                    Height = table.Column<int>(type: "INTEGER", nullable: false),
                    Whole = table.Column<byte[]>(type: "BLOB", nullable: false),
                    Small = table.Column<byte[]>(type: "BLOB", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_StepPhotos", x => x.Id);
                    table.ForeignKey(
                        name: "FK_StepPhotos_Visits_VisitId",
                        column: x => x.VisitId,
                        principalTable: "Visits",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "Steps",
                columns: table => new
                {
                    VisitId = table.Column<long>(type: "INTEGER", nullable: false),
                    Code = table.Column<string>(type: "TEXT", nullable: false),
                    Revision = table.Column<int>(type: "INTEGER", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    AtMs = table.Column<long>(type: "INTEGER", nullable: false),
                    Answer = table.Column<string>(type: "TEXT", nullable: false),
                    DefectId = table.Column<long>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Steps", x => new { x.VisitId, x.Code });
                    table.ForeignKey(
                        name: "FK_Steps_Visits_VisitId",
                        column: x => x.VisitId,
                        principalTable: "Visits",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "VisitDefects",
                columns: table => new
                {
                    VisitId = table.Column<long>(type: "INTEGER", nullable: false),
                    DefectId = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_VisitDefects", x => new { x.VisitId, x.DefectId });
                    table.ForeignKey(
                        name: "FK_VisitDefects_Defects_DefectId",
                        column: x => x.DefectId,
                        principalTable: "Defects",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "FK_VisitDefects_Visits_VisitId",
                        column: x => x.VisitId,
                        principalTable: "Visits",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "VisitItems",
                columns: table => new
                {
                    VisitId = table.Column<long>(type: "INTEGER", nullable: false),
                    ItemCode = table.Column<string>(type: "TEXT", nullable: false),
                    State = table.Column<int>(type: "INTEGER", nullable: false),
                    Reason = table.Column<string>(type: "TEXT", nullable: true),
                    ReasonWords = table.Column<string>(type: "TEXT", nullable: true),
                    Added = table.Column<bool>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_VisitItems", x => new { x.VisitId, x.ItemCode });
                    table.ForeignKey(
                        name: "FK_VisitItems_Visits_VisitId",
                        column: x => x.VisitId,
                        principalTable: "Visits",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateIndex(
                name: "IX_FilterLog_Batch",
                table: "FilterLog",
                column: "Batch");

            migrationBuilder.CreateIndex(
                name: "IX_FilterLog_MachineId_Position_LifeTenths",
                table: "FilterLog",
                columns: new[] { "MachineId", "Position", "LifeTenths" });

            migrationBuilder.CreateIndex(
                name: "IX_FilterPositions_MachineId_Code",
                table: "FilterPositions",
                columns: new[] { "MachineId", "Code" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_FilterPositions_PartId",
                table: "FilterPositions",
                column: "PartId");

            migrationBuilder.CreateIndex(
                name: "IX_Fluids_Name",
                table: "Fluids",
                column: "Name",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_OnBoard_MachineId_Compartment_LifeTenths",
                table: "OnBoard",
                columns: new[] { "MachineId", "Compartment", "LifeTenths" });

            migrationBuilder.CreateIndex(
                name: "IX_PartAlternates_OtherId",
                table: "PartAlternates",
                column: "OtherId");

            migrationBuilder.CreateIndex(
                name: "IX_Parts_Number",
                table: "Parts",
                column: "Number",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_Samples_Bottle",
                table: "Samples",
                column: "Bottle");

            migrationBuilder.CreateIndex(
                name: "IX_Samples_MachineId_Compartment_LifeTenths",
                table: "Samples",
                columns: new[] { "MachineId", "Compartment", "LifeTenths" });

            migrationBuilder.CreateIndex(
                name: "IX_StepPhotos_VisitId_Code",
                table: "StepPhotos",
                columns: new[] { "VisitId", "Code" });

            migrationBuilder.CreateIndex(
                name: "IX_StockMoves_PartId_SiteId_Quantity",
                table: "StockMoves",
                columns: new[] { "PartId", "SiteId", "Quantity" });

            migrationBuilder.CreateIndex(
                name: "IX_StockMoves_SiteId",
                table: "StockMoves",
                column: "SiteId");

            migrationBuilder.CreateIndex(
                name: "IX_StockMoves_VisitId",
                table: "StockMoves",
                column: "VisitId");

            migrationBuilder.CreateIndex(
                name: "IX_VisitDefects_DefectId",
                table: "VisitDefects",
                column: "DefectId");

            migrationBuilder.CreateIndex(
                name: "IX_Visits_MachineId_On",
                table: "Visits",
                columns: new[] { "MachineId", "On" });

            migrationBuilder.CreateIndex(
                name: "IX_Visits_State_On",
                table: "Visits",
                columns: new[] { "State", "On" });

            migrationBuilder.CreateIndex(
                name: "IX_Waste_On",
                table: "Waste",
                column: "On");

            migrationBuilder.CreateIndex(
                name: "IX_Waste_VisitId",
                table: "Waste",
                column: "VisitId");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "FilterLog");

            migrationBuilder.DropTable(
                name: "FilterPositions");

            migrationBuilder.DropTable(
                name: "Fluids");

            migrationBuilder.DropTable(
                name: "OnBoard");

            migrationBuilder.DropTable(
                name: "PartAlternates");

            migrationBuilder.DropTable(
                name: "Samples");

            migrationBuilder.DropTable(
                name: "Shop");

            migrationBuilder.DropTable(
                name: "StepPhotos");

            migrationBuilder.DropTable(
                name: "Steps");

            migrationBuilder.DropTable(
                name: "StockMoves");

            migrationBuilder.DropTable(
                name: "VisitDefects");

            migrationBuilder.DropTable(
                name: "VisitItems");

            migrationBuilder.DropTable(
                name: "Waste");

            migrationBuilder.DropTable(
                name: "Parts");

            migrationBuilder.DropTable(
                name: "Visits");

            migrationBuilder.DropColumn(
                name: "HighC",
                table: "Sites");

            migrationBuilder.DropColumn(
                name: "LowC",
                table: "Sites");

            migrationBuilder.DropColumn(
                name: "Access",
                table: "ProgramItems");

            migrationBuilder.DropColumn(
                name: "Covers",
                table: "ProgramItems");

            migrationBuilder.DropColumn(
                name: "Minutes",
                table: "ProgramItems");

            migrationBuilder.DropColumn(
                name: "Work",
                table: "ProgramItems");

            migrationBuilder.DropColumn(
                name: "DrainMinutes",
                table: "ProgramCompartments");

            migrationBuilder.DropColumn(
                name: "Fluids",
                table: "ProgramCompartments");

            migrationBuilder.DropColumn(
                name: "SettleMinutes",
                table: "ProgramCompartments");

            migrationBuilder.DropColumn(
                name: "Stream",
                table: "ProgramCompartments");

            migrationBuilder.DropColumn(
                name: "Traits",
                table: "ProgramCompartments");

            migrationBuilder.DropColumn(
                name: "BleedMethod",
                table: "Machines");

            migrationBuilder.DropColumn(
                name: "BleedPoints",
                table: "Machines");

            migrationBuilder.DropColumn(
                name: "CrankRepeats",
                table: "Machines");

            migrationBuilder.DropColumn(
                name: "CrankSeconds",
                table: "Machines");

            migrationBuilder.DropColumn(
                name: "RestSeconds",
                table: "Machines");

            migrationBuilder.DropColumn(
                name: "DrainPoints",
                table: "MachineCompartments");

            migrationBuilder.DropColumn(
                name: "FilterLitres",
                table: "MachineCompartments");

            migrationBuilder.DropColumn(
                name: "Hub",
                table: "MachineCompartments");

            migrationBuilder.DropColumn(
                name: "PlugSeal",
                table: "MachineCompartments");

            migrationBuilder.DropColumn(
                name: "PlugTorque",
                table: "MachineCompartments");

            migrationBuilder.DropColumn(
                name: "PressureSeconds",
                table: "MachineCompartments");

            migrationBuilder.DropColumn(
                name: "Socket",
                table: "MachineCompartments");
        }
    }
}
