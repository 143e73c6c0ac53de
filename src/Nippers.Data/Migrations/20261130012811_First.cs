using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Nippers.Data.Migrations
{
    /// <inheritdoc />
    public partial class First : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateTable(
                name: "ApiTokens",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Name = table.Column<string>(type: "TEXT", nullable: false),
                    Hash = table.Column<string>(type: "TEXT", nullable: false),
                    Role = table.Column<string>(type: "TEXT", nullable: false),
                    Scopes = table.Column<string>(type: "TEXT", nullable: false),
                    MadeBy = table.Column<string>(type: "TEXT", nullable: false),
                    MadeMs = table.Column<long>(type: "INTEGER", nullable: false),
                    UsedMs = table.Column<long>(type: "INTEGER", nullable: true),
                    RevokedMs = table.Column<long>(type: "INTEGER", nullable: true),
                    ExpiresMs = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_ApiTokens", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "AspNetRoles",
                columns: table => new
                {
                    Id = table.Column<string>(type: "TEXT", nullable: false),
                    Name = table.Column<string>(type: "TEXT", maxLength: 256, nullable: true),
                    NormalizedName = table.Column<string>(type: "TEXT", maxLength: 256, nullable: true),
                    ConcurrencyStamp = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_AspNetRoles", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "AspNetUsers",
                columns: table => new
                {
                    Id = table.Column<string>(type: "TEXT", nullable: false),
                    FullName = table.Column<string>(type: "TEXT", nullable: false),
                    SiteId = table.Column<int>(type: "INTEGER", nullable: true),
                    UserName = table.Column<string>(type: "TEXT", maxLength: 256, nullable: true),
                    NormalizedUserName = table.Column<string>(type: "TEXT", maxLength: 256, nullable: true),
                    Email = table.Column<string>(type: "TEXT", maxLength: 256, nullable: true),
                    NormalizedEmail = table.Column<string>(type: "TEXT", maxLength: 256, nullable: true),
                    EmailConfirmed = table.Column<bool>(type: "INTEGER", nullable: false),
                    PasswordHash = table.Column<string>(type: "TEXT", nullable: true),
                    SecurityStamp = table.Column<string>(type: "TEXT", nullable: true),
                    ConcurrencyStamp = table.Column<string>(type: "TEXT", nullable: true),
                    PhoneNumber = table.Column<string>(type: "TEXT", nullable: true),
                    PhoneNumberConfirmed = table.Column<bool>(type: "INTEGER", nullable: false),
                    TwoFactorEnabled = table.Column<bool>(type: "INTEGER", nullable: false),
                    LockoutEnd = table.Column<long>(type: "INTEGER", nullable: true),
                    LockoutEnabled = table.Column<bool>(type: "INTEGER", nullable: false),
                    AccessFailedCount = table.Column<int>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_AspNetUsers", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "Audit",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    AtMs = table.Column<long>(type: "INTEGER", nullable: false),
                    Who = table.Column<string>(type: "TEXT", nullable: false),
                    What = table.Column<string>(type: "TEXT", nullable: false),
                    MachineId = table.Column<int>(type: "INTEGER", nullable: true),
                    Subject = table.Column<string>(type: "TEXT", nullable: false),
                    Before = table.Column<string>(type: "TEXT", nullable: true),
                    After = table.Column<string>(type: "TEXT", nullable: true),
                    Chain = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Audit", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "BackupPlans",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Folder = table.Column<string>(type: "TEXT", nullable: true),
                    Second = table.Column<string>(type: "TEXT", nullable: true),
                    SecondMinutes = table.Column<int>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_BackupPlans", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "EndedSessions",
                columns: table => new
                {
                    Id = table.Column<string>(type: "TEXT", nullable: false),
                    AtMs = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_EndedSessions", x => x.Id);
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
                name: "Fluids",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Name = table.Column<string>(type: "TEXT", nullable: false),
                    PerLitreCents = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Fluids", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "ImportDrafts",
                columns: table => new
                {
                    Id = table.Column<string>(type: "TEXT", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    AtMs = table.Column<long>(type: "INTEGER", nullable: false),
                    FileName = table.Column<string>(type: "TEXT", nullable: false),
                    Text = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_ImportDrafts", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "Installations",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    PublicAddress = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Installations", x => x.Id);
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
                    OwnNetwork = table.Column<bool>(type: "INTEGER", nullable: false),
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
                    PriceCents = table.Column<long>(type: "INTEGER", nullable: false),
                    Version = table.Column<int>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Parts", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "Programs",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Code = table.Column<string>(type: "TEXT", nullable: false),
                    Name = table.Column<string>(type: "TEXT", nullable: false),
                    Kind = table.Column<string>(type: "TEXT", nullable: false),
                    IntervalBasis = table.Column<string>(type: "TEXT", nullable: false),
                    CreditPercent = table.Column<int>(type: "INTEGER", nullable: false),
                    WindowPercent = table.Column<int>(type: "INTEGER", nullable: false),
                    LeastWindowTenths = table.Column<int>(type: "INTEGER", nullable: false),
                    ComingDays = table.Column<int>(type: "INTEGER", nullable: false),
                    Starter = table.Column<bool>(type: "INTEGER", nullable: false),
                    Version = table.Column<int>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Programs", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "Shop",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Currency = table.Column<string>(type: "TEXT", nullable: false),
                    LabourPerHourCents = table.Column<long>(type: "INTEGER", nullable: false),
                    CallOutCostCents = table.Column<long>(type: "INTEGER", nullable: false),
                    HaulageCostCents = table.Column<long>(type: "INTEGER", nullable: false),
                    LabFeeCents = table.Column<long>(type: "INTEGER", nullable: false),
                    DowntimePerHourCents = table.Column<long>(type: "INTEGER", nullable: false),
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
                name: "Sites",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Name = table.Column<string>(type: "TEXT", nullable: false),
                    TimeZone = table.Column<string>(type: "TEXT", nullable: false),
                    WorkDays = table.Column<int>(type: "INTEGER", nullable: false, defaultValue: 126),
                    ShiftFrom = table.Column<int>(type: "INTEGER", nullable: false, defaultValue: 420),
                    ShiftTo = table.Column<int>(type: "INTEGER", nullable: false, defaultValue: 1020),
                    LowC = table.Column<int>(type: "INTEGER", nullable: true),
                    HighC = table.Column<int>(type: "INTEGER", nullable: true),
                    Contact = table.Column<string>(type: "TEXT", nullable: false),
                    StopsEachWalk = table.Column<bool>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Sites", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "UnmatchedResults",
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
                    table.PrimaryKey("PK_UnmatchedResults", x => x.Id);
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
                name: "WriteKeys",
                columns: table => new
                {
                    Key = table.Column<string>(type: "TEXT", maxLength: 160, nullable: false),
                    AtMs = table.Column<long>(type: "INTEGER", nullable: false),
                    Outcome = table.Column<string>(type: "TEXT", nullable: false),
                    Print = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_WriteKeys", x => x.Key);
                });

            migrationBuilder.CreateTable(
                name: "AspNetRoleClaims",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    RoleId = table.Column<string>(type: "TEXT", nullable: false),
                    ClaimType = table.Column<string>(type: "TEXT", nullable: true),
                    ClaimValue = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_AspNetRoleClaims", x => x.Id);
                    table.ForeignKey(
                        name: "FK_AspNetRoleClaims_AspNetRoles_RoleId",
                        column: x => x.RoleId,
                        principalTable: "AspNetRoles",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "AspNetUserClaims",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    UserId = table.Column<string>(type: "TEXT", nullable: false),
                    ClaimType = table.Column<string>(type: "TEXT", nullable: true),
                    ClaimValue = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_AspNetUserClaims", x => x.Id);
                    table.ForeignKey(
                        name: "FK_AspNetUserClaims_AspNetUsers_UserId",
                        column: x => x.UserId,
                        principalTable: "AspNetUsers",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "AspNetUserLogins",
                columns: table => new
                {
                    LoginProvider = table.Column<string>(type: "TEXT", nullable: false),
                    ProviderKey = table.Column<string>(type: "TEXT", nullable: false),
                    ProviderDisplayName = table.Column<string>(type: "TEXT", nullable: true),
                    UserId = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_AspNetUserLogins", x => new { x.LoginProvider, x.ProviderKey });
                    table.ForeignKey(
                        name: "FK_AspNetUserLogins_AspNetUsers_UserId",
                        column: x => x.UserId,
                        principalTable: "AspNetUsers",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "AspNetUserRoles",
                columns: table => new
                {
                    UserId = table.Column<string>(type: "TEXT", nullable: false),
                    RoleId = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_AspNetUserRoles", x => new { x.UserId, x.RoleId });
                    table.ForeignKey(
                        name: "FK_AspNetUserRoles_AspNetRoles_RoleId",
                        column: x => x.RoleId,
                        principalTable: "AspNetRoles",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                    table.ForeignKey(
                        name: "FK_AspNetUserRoles_AspNetUsers_UserId",
                        column: x => x.UserId,
                        principalTable: "AspNetUsers",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "AspNetUserTokens",
                columns: table => new
                {
                    UserId = table.Column<string>(type: "TEXT", nullable: false),
                    LoginProvider = table.Column<string>(type: "TEXT", nullable: false),
                    Name = table.Column<string>(type: "TEXT", nullable: false),
                    Value = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_AspNetUserTokens", x => new { x.UserId, x.LoginProvider, x.Name });
                    table.ForeignKey(
                        name: "FK_AspNetUserTokens_AspNetUsers_UserId",
                        column: x => x.UserId,
                        principalTable: "AspNetUsers",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "ResetCodes",
                columns: table => new
                {
                    UserId = table.Column<string>(type: "TEXT", nullable: false),
                    Hash = table.Column<string>(type: "TEXT", nullable: false),
                    UntilMs = table.Column<long>(type: "INTEGER", nullable: false),
                    Wrong = table.Column<int>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_ResetCodes", x => x.UserId);
                    table.ForeignKey(
                        name: "FK_ResetCodes_AspNetUsers_UserId",
                        column: x => x.UserId,
                        principalTable: "AspNetUsers",
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
                name: "ProgramCompartments",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    ProgramId = table.Column<int>(type: "INTEGER", nullable: false),
                    Position = table.Column<int>(type: "INTEGER", nullable: false),
                    Code = table.Column<string>(type: "TEXT", nullable: false),
                    Name = table.Column<string>(type: "TEXT", nullable: false),
                    Kind = table.Column<string>(type: "TEXT", nullable: false),
                    Needs = table.Column<string>(type: "TEXT", nullable: false),
                    Stream = table.Column<string>(type: "TEXT", nullable: false),
                    Traits = table.Column<string>(type: "TEXT", nullable: false),
                    DrainMinutes = table.Column<int>(type: "INTEGER", nullable: false),
                    SettleMinutes = table.Column<int>(type: "INTEGER", nullable: false),
                    Fluids = table.Column<string>(type: "TEXT", nullable: false),
                    DrainStepTenths = table.Column<int>(type: "INTEGER", nullable: true),
                    DrainCapTenths = table.Column<int>(type: "INTEGER", nullable: true),
                    DrainFluids = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_ProgramCompartments", x => x.Id);
                    table.ForeignKey(
                        name: "FK_ProgramCompartments_Programs_ProgramId",
                        column: x => x.ProgramId,
                        principalTable: "Programs",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "ProgramItems",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    ProgramId = table.Column<int>(type: "INTEGER", nullable: false),
                    Position = table.Column<int>(type: "INTEGER", nullable: false),
                    Code = table.Column<string>(type: "TEXT", nullable: false),
                    Name = table.Column<string>(type: "TEXT", nullable: false),
                    Compartment = table.Column<string>(type: "TEXT", nullable: false),
                    EveryTenths = table.Column<int>(type: "INTEGER", nullable: true),
                    EveryMonths = table.Column<int>(type: "INTEGER", nullable: true),
                    FirstAtTenths = table.Column<int>(type: "INTEGER", nullable: true),
                    Once = table.Column<bool>(type: "INTEGER", nullable: false),
                    DutyFactor = table.Column<int>(type: "INTEGER", nullable: false),
                    Strict = table.Column<bool>(type: "INTEGER", nullable: false),
                    IntervalBasis = table.Column<string>(type: "TEXT", nullable: true),
                    Needs = table.Column<string>(type: "TEXT", nullable: false),
                    Points = table.Column<int>(type: "INTEGER", nullable: false),
                    Qualified = table.Column<bool>(type: "INTEGER", nullable: false),
                    Work = table.Column<string>(type: "TEXT", nullable: false, defaultValue: "Check"),
                    Minutes = table.Column<int>(type: "INTEGER", nullable: false, defaultValue: 5),
                    Covers = table.Column<string>(type: "TEXT", nullable: false),
                    Access = table.Column<string>(type: "TEXT", nullable: false),
                    Caution = table.Column<string>(type: "TEXT", nullable: false),
                    Off = table.Column<bool>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_ProgramItems", x => x.Id);
                    table.ForeignKey(
                        name: "FK_ProgramItems_Programs_ProgramId",
                        column: x => x.ProgramId,
                        principalTable: "Programs",
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
                name: "Machines",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Unit = table.Column<string>(type: "TEXT", nullable: false),
                    Kind = table.Column<string>(type: "TEXT", nullable: false),
                    Make = table.Column<string>(type: "TEXT", nullable: false),
                    Model = table.Column<string>(type: "TEXT", nullable: false),
                    Serial = table.Column<string>(type: "TEXT", nullable: false),
                    Note = table.Column<string>(type: "TEXT", nullable: false),
                    SiteId = table.Column<int>(type: "INTEGER", nullable: false),
                    ProgramId = table.Column<int>(type: "INTEGER", nullable: false),
                    WalkListId = table.Column<int>(type: "INTEGER", nullable: true),
                    History = table.Column<string>(type: "TEXT", nullable: false),
                    CommissionedOn = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    CommissionedTenths = table.Column<int>(type: "INTEGER", nullable: false),
                    Duty = table.Column<string>(type: "TEXT", nullable: false),
                    PlannedHoursPerDay = table.Column<double>(type: "REAL", nullable: false),
                    Options = table.Column<string>(type: "TEXT", nullable: false),
                    Retired = table.Column<bool>(type: "INTEGER", nullable: false),
                    Version = table.Column<int>(type: "INTEGER", nullable: false),
                    BleedMethod = table.Column<string>(type: "TEXT", nullable: false),
                    BleedPoints = table.Column<string>(type: "TEXT", nullable: false),
                    CrankSeconds = table.Column<int>(type: "INTEGER", nullable: false),
                    RestSeconds = table.Column<int>(type: "INTEGER", nullable: false),
                    CrankRepeats = table.Column<int>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Machines", x => x.Id);
                    table.ForeignKey(
                        name: "FK_Machines_Programs_ProgramId",
                        column: x => x.ProgramId,
                        principalTable: "Programs",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Restrict);
                    table.ForeignKey(
                        name: "FK_Machines_Sites_SiteId",
                        column: x => x.SiteId,
                        principalTable: "Sites",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Restrict);
                    table.ForeignKey(
                        name: "FK_Machines_WalkLists_WalkListId",
                        column: x => x.WalkListId,
                        principalTable: "WalkLists",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Restrict);
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
                name: "Completions",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    MachineId = table.Column<int>(type: "INTEGER", nullable: false),
                    ItemCode = table.Column<string>(type: "TEXT", nullable: false),
                    Kind = table.Column<int>(type: "INTEGER", nullable: false),
                    DoneOn = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    LifeTenths = table.Column<int>(type: "INTEGER", nullable: false),
                    ShownTenths = table.Column<int>(type: "INTEGER", nullable: false),
                    Note = table.Column<string>(type: "TEXT", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    SaidBy = table.Column<string>(type: "TEXT", nullable: true),
                    EnteredMs = table.Column<long>(type: "INTEGER", nullable: false),
                    Batch = table.Column<string>(type: "TEXT", nullable: false),
                    VoidedMs = table.Column<long>(type: "INTEGER", nullable: true),
                    VoidedBy = table.Column<string>(type: "TEXT", nullable: true),
                    VoidReason = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Completions", x => x.Id);
                    table.ForeignKey(
                        name: "FK_Completions_Machines_MachineId",
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
                    Batch = table.Column<string>(type: "TEXT", nullable: true),
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
                    Part = table.Column<int>(type: "INTEGER", nullable: false),
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
                    VoidAskedBy = table.Column<string>(type: "TEXT", nullable: true),
                    VoidAskReason = table.Column<string>(type: "TEXT", nullable: true),
                    ToldWhom = table.Column<string>(type: "TEXT", nullable: true),
                    ToldBy = table.Column<string>(type: "TEXT", nullable: true),
                    ToldMs = table.Column<long>(type: "INTEGER", nullable: true),
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
                name: "MachineCodes",
                columns: table => new
                {
                    MachineId = table.Column<int>(type: "INTEGER", nullable: false),
                    Code = table.Column<string>(type: "TEXT", nullable: false),
                    Meaning = table.Column<string>(type: "TEXT", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    AtMs = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_MachineCodes", x => new { x.MachineId, x.Code });
                    table.ForeignKey(
                        name: "FK_MachineCodes_Machines_MachineId",
                        column: x => x.MachineId,
                        principalTable: "Machines",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "MachineCompartments",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    MachineId = table.Column<int>(type: "INTEGER", nullable: false),
                    Code = table.Column<string>(type: "TEXT", nullable: false),
                    CapacityLitres = table.Column<double>(type: "REAL", nullable: true),
                    Fluid = table.Column<string>(type: "TEXT", nullable: false),
                    FilterLitres = table.Column<double>(type: "REAL", nullable: false),
                    DrainPoints = table.Column<int>(type: "INTEGER", nullable: false, defaultValue: 1),
                    PlugTorque = table.Column<string>(type: "TEXT", nullable: false),
                    PlugSeal = table.Column<string>(type: "TEXT", nullable: false),
                    Socket = table.Column<string>(type: "TEXT", nullable: false),
                    PressureSeconds = table.Column<double>(type: "REAL", nullable: true),
                    DrainTenths = table.Column<int>(type: "INTEGER", nullable: true),
                    Hub = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_MachineCompartments", x => x.Id);
                    table.ForeignKey(
                        name: "FK_MachineCompartments_Machines_MachineId",
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
                    VisitId = table.Column<long>(type: "INTEGER", nullable: true),
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
                name: "MeterChanges",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    MachineId = table.Column<int>(type: "INTEGER", nullable: false),
                    AtMs = table.Column<long>(type: "INTEGER", nullable: false),
                    OldFinalTenths = table.Column<int>(type: "INTEGER", nullable: false),
                    NewStartTenths = table.Column<int>(type: "INTEGER", nullable: false),
                    Note = table.Column<string>(type: "TEXT", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    EnteredMs = table.Column<long>(type: "INTEGER", nullable: false),
                    VoidedMs = table.Column<long>(type: "INTEGER", nullable: true),
                    VoidedBy = table.Column<string>(type: "TEXT", nullable: true),
                    VoidReason = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_MeterChanges", x => x.Id);
                    table.ForeignKey(
                        name: "FK_MeterChanges_Machines_MachineId",
                        column: x => x.MachineId,
                        principalTable: "Machines",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
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
                name: "Parked",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    MachineId = table.Column<int>(type: "INTEGER", nullable: false),
                    FromMs = table.Column<long>(type: "INTEGER", nullable: false),
                    ToMs = table.Column<long>(type: "INTEGER", nullable: true),
                    Reason = table.Column<string>(type: "TEXT", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Parked", x => x.Id);
                    table.ForeignKey(
                        name: "FK_Parked_Machines_MachineId",
                        column: x => x.MachineId,
                        principalTable: "Machines",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "Parkings",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    MachineId = table.Column<int>(type: "INTEGER", nullable: false),
                    On = table.Column<DateOnly>(type: "TEXT", nullable: false),
                    AtMs = table.Column<long>(type: "INTEGER", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    Done = table.Column<string>(type: "TEXT", nullable: false),
                    Note = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Parkings", x => x.Id);
                    table.ForeignKey(
                        name: "FK_Parkings_Machines_MachineId",
                        column: x => x.MachineId,
                        principalTable: "Machines",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "Readings",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    MachineId = table.Column<int>(type: "INTEGER", nullable: false),
                    AtMs = table.Column<long>(type: "INTEGER", nullable: false),
                    ShownTenths = table.Column<int>(type: "INTEGER", nullable: false),
                    LifeTenths = table.Column<int>(type: "INTEGER", nullable: false),
                    State = table.Column<int>(type: "INTEGER", nullable: false),
                    Source = table.Column<int>(type: "INTEGER", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    EnteredMs = table.Column<long>(type: "INTEGER", nullable: false),
                    DecidedBy = table.Column<string>(type: "TEXT", nullable: true),
                    Reason = table.Column<string>(type: "TEXT", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Readings", x => x.Id);
                    table.ForeignKey(
                        name: "FK_Readings_Machines_MachineId",
                        column: x => x.MachineId,
                        principalTable: "Machines",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
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
                    Kind = table.Column<int>(type: "INTEGER", nullable: false),
                    Grade = table.Column<string>(type: "TEXT", nullable: false),
                    Family = table.Column<string>(type: "TEXT", nullable: false),
                    Method = table.Column<int>(type: "INTEGER", nullable: true),
                    Engine = table.Column<int>(type: "INTEGER", nullable: true),
                    DrawnWrong = table.Column<bool>(type: "INTEGER", nullable: false),
                    Late = table.Column<bool>(type: "INTEGER", nullable: false),
                    Note = table.Column<string>(type: "TEXT", nullable: false),
                    State = table.Column<int>(type: "INTEGER", nullable: false),
                    LabId = table.Column<int>(type: "INTEGER", nullable: true),
                    ConsignmentId = table.Column<long>(type: "INTEGER", nullable: true),
                    SentMs = table.Column<long>(type: "INTEGER", nullable: true),
                    ReportedMs = table.Column<long>(type: "INTEGER", nullable: true),
                    Advised = table.Column<int>(type: "INTEGER", nullable: true),
                    SignedAs = table.Column<int>(type: "INTEGER", nullable: true),
                    SignedBy = table.Column<string>(type: "TEXT", nullable: true),
                    SignedMs = table.Column<long>(type: "INTEGER", nullable: true),
                    SignedWords = table.Column<string>(type: "TEXT", nullable: false),
                    DefectId = table.Column<long>(type: "INTEGER", nullable: true),
                    Version = table.Column<int>(type: "INTEGER", nullable: false),
                    VoidedMs = table.Column<long>(type: "INTEGER", nullable: true),
                    VoidedBy = table.Column<string>(type: "TEXT", nullable: true),
                    VoidReason = table.Column<string>(type: "TEXT", nullable: true)
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
                name: "Statuses",
                columns: table => new
                {
                    MachineId = table.Column<int>(type: "INTEGER", nullable: false),
                    ComputedMs = table.Column<long>(type: "INTEGER", nullable: false),
                    LastMs = table.Column<long>(type: "INTEGER", nullable: false),
                    LastTenths = table.Column<int>(type: "INTEGER", nullable: false),
                    OffsetTenths = table.Column<int>(type: "INTEGER", nullable: false),
                    HasReading = table.Column<bool>(type: "INTEGER", nullable: false),
                    HoursPerDay = table.Column<double>(type: "REAL", nullable: false),
                    Sigma = table.Column<double>(type: "REAL", nullable: false),
                    RateSigma = table.Column<double>(type: "REAL", nullable: false),
                    Basis = table.Column<int>(type: "INTEGER", nullable: false),
                    CoveredDays = table.Column<double>(type: "REAL", nullable: false),
                    Stale = table.Column<bool>(type: "INTEGER", nullable: false),
                    Parked = table.Column<bool>(type: "INTEGER", nullable: false),
                    Unconfirmed = table.Column<int>(type: "INTEGER", nullable: false),
                    Worst = table.Column<int>(type: "INTEGER", nullable: false),
                    Overdue = table.Column<int>(type: "INTEGER", nullable: false),
                    Due = table.Column<int>(type: "INTEGER", nullable: false),
                    Coming = table.Column<int>(type: "INTEGER", nullable: false),
                    NoRecord = table.Column<int>(type: "INTEGER", nullable: false),
                    DailyOpen = table.Column<int>(type: "INTEGER", nullable: false),
                    Urgency = table.Column<double>(type: "REAL", nullable: false),
                    OutOfService = table.Column<bool>(type: "INTEGER", nullable: false),
                    Defects = table.Column<int>(type: "INTEGER", nullable: false),
                    DefectLimitTenths = table.Column<int>(type: "INTEGER", nullable: true),
                    DefectLimitOn = table.Column<DateOnly>(type: "TEXT", nullable: true),
                    Untold = table.Column<bool>(type: "INTEGER", nullable: false),
                    CardOpen = table.Column<bool>(type: "INTEGER", nullable: false),
                    CardBy = table.Column<string>(type: "TEXT", nullable: true),
                    CardOff = table.Column<string>(type: "TEXT", nullable: true),
                    NotChecked = table.Column<int>(type: "INTEGER", nullable: false),
                    WalkedOn = table.Column<DateOnly>(type: "TEXT", nullable: true),
                    WalkedMs = table.Column<long>(type: "INTEGER", nullable: true),
                    MissedWalks = table.Column<int>(type: "INTEGER", nullable: false),
                    SamplesDue = table.Column<int>(type: "INTEGER", nullable: false),
                    Points = table.Column<byte[]>(type: "BLOB", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Statuses", x => x.MachineId);
                    table.ForeignKey(
                        name: "FK_Statuses_Machines_MachineId",
                        column: x => x.MachineId,
                        principalTable: "Machines",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "StepMinutes",
                columns: table => new
                {
                    MachineId = table.Column<int>(type: "INTEGER", nullable: false),
                    Steps = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_StepMinutes", x => x.MachineId);
                    table.ForeignKey(
                        name: "FK_StepMinutes_Machines_MachineId",
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
                    PartsCostCents = table.Column<long>(type: "INTEGER", nullable: false),
                    FluidsCostCents = table.Column<long>(type: "INTEGER", nullable: false),
                    LabourCostCents = table.Column<long>(type: "INTEGER", nullable: false),
                    CallOutCostCents = table.Column<long>(type: "INTEGER", nullable: false),
                    WasteCostCents = table.Column<long>(type: "INTEGER", nullable: false),
                    Hauled = table.Column<bool>(type: "INTEGER", nullable: false),
                    HaulageCostCents = table.Column<long>(type: "INTEGER", nullable: false),
                    LabCostCents = table.Column<long>(type: "INTEGER", nullable: false),
                    DowntimeCostCents = table.Column<long>(type: "INTEGER", nullable: false),
                    RealPartsCostCents = table.Column<long>(type: "INTEGER", nullable: true),
                    RealFluidsCostCents = table.Column<long>(type: "INTEGER", nullable: true),
                    RealLabourCostCents = table.Column<long>(type: "INTEGER", nullable: true),
                    RealLabCostCents = table.Column<long>(type: "INTEGER", nullable: true),
                    RealDowntimeCostCents = table.Column<long>(type: "INTEGER", nullable: true),
                    QuoteCents = table.Column<long>(type: "INTEGER", nullable: true),
                    Card = table.Column<string>(type: "TEXT", nullable: false),
                    ProgramVersion = table.Column<int>(type: "INTEGER", nullable: false),
                    OpenedBy = table.Column<string>(type: "TEXT", nullable: true),
                    OpenedMs = table.Column<long>(type: "INTEGER", nullable: true),
                    CameWarm = table.Column<bool>(type: "INTEGER", nullable: false),
                    HeldBy = table.Column<string>(type: "TEXT", nullable: true),
                    HandedTo = table.Column<string>(type: "TEXT", nullable: true),
                    HandedWords = table.Column<string>(type: "TEXT", nullable: false),
                    StandsOpen = table.Column<string>(type: "TEXT", nullable: false),
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
                name: "WorkRequests",
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
                    table.PrimaryKey("PK_WorkRequests", x => x.Id);
                    table.ForeignKey(
                        name: "FK_WorkRequests_Machines_MachineId",
                        column: x => x.MachineId,
                        principalTable: "Machines",
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
                    Weather = table.Column<int>(type: "INTEGER", nullable: false),
                    Ground = table.Column<int>(type: "INTEGER", nullable: false),
                    Checks = table.Column<string>(type: "TEXT", nullable: false),
                    Due = table.Column<int>(type: "INTEGER", nullable: false),
                    Answered = table.Column<int>(type: "INTEGER", nullable: false),
                    Faults = table.Column<int>(type: "INTEGER", nullable: false),
                    LeftOut = table.Column<int>(type: "INTEGER", nullable: false),
                    ParkedMs = table.Column<long>(type: "INTEGER", nullable: true),
                    HonestSeconds = table.Column<int>(type: "INTEGER", nullable: false),
                    NotChecked = table.Column<int>(type: "INTEGER", nullable: false),
                    Answers = table.Column<string>(type: "TEXT", nullable: false),
                    Note = table.Column<string>(type: "TEXT", nullable: false),
                    Batch = table.Column<string>(type: "TEXT", nullable: false),
                    RunStatus = table.Column<int>(type: "INTEGER", nullable: true),
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
                    LimitOn = table.Column<DateOnly>(type: "TEXT", nullable: true),
                    WalkId = table.Column<long>(type: "INTEGER", nullable: true),
                    Answer = table.Column<string>(type: "TEXT", nullable: false)
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
                    ToMs = table.Column<long>(type: "INTEGER", nullable: true),
                    Contact = table.Column<string>(type: "TEXT", nullable: false),
                    SentMs = table.Column<long>(type: "INTEGER", nullable: true)
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
                    Paper = table.Column<bool>(type: "INTEGER", nullable: false),
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
                name: "VanLines",
                columns: table => new
                {
                    VisitId = table.Column<long>(type: "INTEGER", nullable: false),
                    Line = table.Column<string>(type: "TEXT", nullable: false),
                    Words = table.Column<string>(type: "TEXT", nullable: false),
                    Returns = table.Column<bool>(type: "INTEGER", nullable: false),
                    InBy = table.Column<string>(type: "TEXT", nullable: false),
                    InMs = table.Column<long>(type: "INTEGER", nullable: false),
                    OutBy = table.Column<string>(type: "TEXT", nullable: true),
                    OutMs = table.Column<long>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_VanLines", x => new { x.VisitId, x.Line });
                    table.ForeignKey(
                        name: "FK_VanLines_Visits_VisitId",
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
                name: "LaterChecks",
                columns: table => new
                {
                    WalkId = table.Column<long>(type: "INTEGER", nullable: false),
                    CheckCode = table.Column<string>(type: "TEXT", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    AtMs = table.Column<long>(type: "INTEGER", nullable: false),
                    Words = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_LaterChecks", x => new { x.WalkId, x.CheckCode });
                    table.ForeignKey(
                        name: "FK_LaterChecks_Walks_WalkId",
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

            migrationBuilder.CreateTable(
                name: "WalkPhotos",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    WalkId = table.Column<long>(type: "INTEGER", nullable: false),
                    CheckCode = table.Column<string>(type: "TEXT", nullable: false),
                    By = table.Column<string>(type: "TEXT", nullable: false),
                    AtMs = table.Column<long>(type: "INTEGER", nullable: false),
                    Width = table.Column<int>(type: "INTEGER", nullable: false),
                    Height = table.Column<int>(type: "INTEGER", nullable: false),
                    Whole = table.Column<byte[]>(type: "BLOB", nullable: false),
                    Small = table.Column<byte[]>(type: "BLOB", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_WalkPhotos", x => x.Id);
                    table.ForeignKey(
                        name: "FK_WalkPhotos_Walks_WalkId",
                        column: x => x.WalkId,
                        principalTable: "Walks",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
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

            migrationBuilder.CreateIndex(
                name: "IX_ApiTokens_Hash",
                table: "ApiTokens",
                column: "Hash",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_AspNetRoleClaims_RoleId",
                table: "AspNetRoleClaims",
                column: "RoleId");

            migrationBuilder.CreateIndex(
                name: "RoleNameIndex",
                table: "AspNetRoles",
                column: "NormalizedName",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_AspNetUserClaims_UserId",
                table: "AspNetUserClaims",
                column: "UserId");

            migrationBuilder.CreateIndex(
                name: "IX_AspNetUserLogins_UserId",
                table: "AspNetUserLogins",
                column: "UserId");

            migrationBuilder.CreateIndex(
                name: "IX_AspNetUserRoles_RoleId",
                table: "AspNetUserRoles",
                column: "RoleId");

            migrationBuilder.CreateIndex(
                name: "EmailIndex",
                table: "AspNetUsers",
                column: "NormalizedEmail");

            migrationBuilder.CreateIndex(
                name: "UserNameIndex",
                table: "AspNetUsers",
                column: "NormalizedUserName",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_Audit_AtMs",
                table: "Audit",
                column: "AtMs");

            migrationBuilder.CreateIndex(
                name: "IX_Audit_MachineId_AtMs",
                table: "Audit",
                columns: new[] { "MachineId", "AtMs" });

            migrationBuilder.CreateIndex(
                name: "IX_Audit_What",
                table: "Audit",
                column: "What");

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
                name: "IX_ChecksDone_MachineId_CheckCode_LifeTenths",
                table: "ChecksDone",
                columns: new[] { "MachineId", "CheckCode", "LifeTenths" });

            migrationBuilder.CreateIndex(
                name: "IX_Completions_Batch",
                table: "Completions",
                column: "Batch");

            migrationBuilder.CreateIndex(
                name: "IX_Completions_MachineId_EnteredMs",
                table: "Completions",
                columns: new[] { "MachineId", "EnteredMs" });

            migrationBuilder.CreateIndex(
                name: "IX_Completions_MachineId_ItemCode_LifeTenths_DoneOn",
                table: "Completions",
                columns: new[] { "MachineId", "ItemCode", "LifeTenths", "DoneOn" },
                filter: "VoidedMs IS NULL");

            migrationBuilder.CreateIndex(
                name: "IX_Consignments_LabId",
                table: "Consignments",
                column: "LabId");

            migrationBuilder.CreateIndex(
                name: "IX_Consignments_State",
                table: "Consignments",
                column: "State");

            migrationBuilder.CreateIndex(
                name: "IX_CoolantTests_Batch",
                table: "CoolantTests",
                column: "Batch");

            migrationBuilder.CreateIndex(
                name: "IX_CoolantTests_MachineId_LifeTenths",
                table: "CoolantTests",
                columns: new[] { "MachineId", "LifeTenths" });

            migrationBuilder.CreateIndex(
                name: "IX_DefectEvents_DefectId_AtMs",
                table: "DefectEvents",
                columns: new[] { "DefectId", "AtMs" });

            migrationBuilder.CreateIndex(
                name: "IX_DefectEvents_WalkId",
                table: "DefectEvents",
                column: "WalkId");

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
                name: "IX_Defects_On",
                table: "Defects",
                column: "On");

            migrationBuilder.CreateIndex(
                name: "IX_Defects_RepairedMs",
                table: "Defects",
                column: "RepairedMs");

            migrationBuilder.CreateIndex(
                name: "IX_Defects_State_Grade",
                table: "Defects",
                columns: new[] { "State", "Grade" });

            migrationBuilder.CreateIndex(
                name: "IX_Defects_WalkId",
                table: "Defects",
                column: "WalkId");

            migrationBuilder.CreateIndex(
                name: "IX_DrainChanges_MachineId_Compartment",
                table: "DrainChanges",
                columns: new[] { "MachineId", "Compartment" });

            migrationBuilder.CreateIndex(
                name: "IX_EndedSessions_AtMs",
                table: "EndedSessions",
                column: "AtMs");

            migrationBuilder.CreateIndex(
                name: "IX_FilterLog_Batch",
                table: "FilterLog",
                column: "Batch");

            migrationBuilder.CreateIndex(
                name: "IX_FilterLog_MachineId_Position_LifeTenths",
                table: "FilterLog",
                columns: new[] { "MachineId", "Position", "LifeTenths" });

            migrationBuilder.CreateIndex(
                name: "IX_FilterLog_Part_State",
                table: "FilterLog",
                columns: new[] { "Part", "State" });

            migrationBuilder.CreateIndex(
                name: "IX_FilterLog_VisitId",
                table: "FilterLog",
                column: "VisitId");

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
                name: "IX_Labs_Name",
                table: "Labs",
                column: "Name",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_MachineChecks_MachineId_CheckCode",
                table: "MachineChecks",
                columns: new[] { "MachineId", "CheckCode" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_MachineCompartments_MachineId_Code",
                table: "MachineCompartments",
                columns: new[] { "MachineId", "Code" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_Machines_Listed",
                table: "Machines",
                columns: new[] { "Id", "Retired", "SiteId", "Kind" });

            migrationBuilder.CreateIndex(
                name: "IX_Machines_ProgramId",
                table: "Machines",
                column: "ProgramId");

            migrationBuilder.CreateIndex(
                name: "IX_Machines_SiteId",
                table: "Machines",
                column: "SiteId");

            migrationBuilder.CreateIndex(
                name: "IX_Machines_Unit",
                table: "Machines",
                column: "Unit",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_Machines_WalkListId",
                table: "Machines",
                column: "WalkListId");

            migrationBuilder.CreateIndex(
                name: "IX_Measures_MachineId_CheckCode_AtMs",
                table: "Measures",
                columns: new[] { "MachineId", "CheckCode", "AtMs" });

            migrationBuilder.CreateIndex(
                name: "IX_Measures_VisitId",
                table: "Measures",
                column: "VisitId",
                filter: "VisitId IS NOT NULL");

            migrationBuilder.CreateIndex(
                name: "IX_Measures_WalkId",
                table: "Measures",
                column: "WalkId");

            migrationBuilder.CreateIndex(
                name: "IX_MeterChanges_MachineId_AtMs",
                table: "MeterChanges",
                columns: new[] { "MachineId", "AtMs" });

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
                name: "IX_OnBoard_MachineId_Compartment_LifeTenths",
                table: "OnBoard",
                columns: new[] { "MachineId", "Compartment", "LifeTenths" });

            migrationBuilder.CreateIndex(
                name: "IX_Parked_MachineId_FromMs",
                table: "Parked",
                columns: new[] { "MachineId", "FromMs" });

            migrationBuilder.CreateIndex(
                name: "IX_Parkings_MachineId_AtMs",
                table: "Parkings",
                columns: new[] { "MachineId", "AtMs" });

            migrationBuilder.CreateIndex(
                name: "IX_Parkings_On",
                table: "Parkings",
                column: "On");

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
                name: "IX_ProgramCompartments_ProgramId_Code",
                table: "ProgramCompartments",
                columns: new[] { "ProgramId", "Code" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_ProgramItems_ProgramId_Code",
                table: "ProgramItems",
                columns: new[] { "ProgramId", "Code" },
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_Programs_Code",
                table: "Programs",
                column: "Code",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_Readings_MachineId_State_AtMs_LifeTenths",
                table: "Readings",
                columns: new[] { "MachineId", "State", "AtMs", "LifeTenths" });

            migrationBuilder.CreateIndex(
                name: "IX_Reports_SampleId",
                table: "Reports",
                column: "SampleId");

            migrationBuilder.CreateIndex(
                name: "IX_Samples_Bottle",
                table: "Samples",
                column: "Bottle",
                unique: true,
                filter: "VoidedMs IS NULL");

            migrationBuilder.CreateIndex(
                name: "IX_Samples_ConsignmentId",
                table: "Samples",
                column: "ConsignmentId");

            migrationBuilder.CreateIndex(
                name: "IX_Samples_Kind_On",
                table: "Samples",
                columns: new[] { "Kind", "On" });

            migrationBuilder.CreateIndex(
                name: "IX_Samples_MachineId_Compartment_LifeTenths",
                table: "Samples",
                columns: new[] { "MachineId", "Compartment", "LifeTenths" });

            migrationBuilder.CreateIndex(
                name: "IX_Samples_State_TakenMs",
                table: "Samples",
                columns: new[] { "State", "TakenMs" });

            migrationBuilder.CreateIndex(
                name: "IX_Samples_VisitId",
                table: "Samples",
                column: "VisitId");

            migrationBuilder.CreateIndex(
                name: "IX_Sites_Name",
                table: "Sites",
                column: "Name",
                unique: true);

            migrationBuilder.CreateIndex(
                name: "IX_Statuses_Counted",
                table: "Statuses",
                columns: new[] { "OutOfService", "Worst", "Urgency", "MachineId", "ComputedMs", "CardOpen", "NotChecked", "Unconfirmed", "Stale", "Parked", "MissedWalks", "WalkedOn", "Untold" },
                descending: new[] { true, true, false, false, false, false, false, false, false, false, false, false, false });

            migrationBuilder.CreateIndex(
                name: "IX_Statuses_Worst_Urgency",
                table: "Statuses",
                columns: new[] { "Worst", "Urgency" });

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
                name: "IX_UnmatchedResults_Digest",
                table: "UnmatchedResults",
                column: "Digest",
                unique: true);

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
                name: "IX_WalkPhotos_WalkId",
                table: "WalkPhotos",
                column: "WalkId");

            migrationBuilder.CreateIndex(
                name: "IX_Walks_FinishedBy_On",
                table: "Walks",
                columns: new[] { "FinishedBy", "On" });

            migrationBuilder.CreateIndex(
                name: "IX_Walks_MachineId_On",
                table: "Walks",
                columns: new[] { "MachineId", "On" });

            migrationBuilder.CreateIndex(
                name: "IX_Walks_NotChecked",
                table: "Walks",
                column: "MachineId",
                filter: "NotChecked > 0");

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

            migrationBuilder.CreateIndex(
                name: "IX_Waste_On",
                table: "Waste",
                column: "On");

            migrationBuilder.CreateIndex(
                name: "IX_Waste_VisitId",
                table: "Waste",
                column: "VisitId");

            migrationBuilder.CreateIndex(
                name: "IX_WorkRequests_AfterDefectId",
                table: "WorkRequests",
                column: "AfterDefectId");

            migrationBuilder.CreateIndex(
                name: "IX_WorkRequests_MachineId_ItemCode",
                table: "WorkRequests",
                columns: new[] { "MachineId", "ItemCode" });
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "ApiTokens");

            migrationBuilder.DropTable(
                name: "AspNetRoleClaims");

            migrationBuilder.DropTable(
                name: "AspNetUserClaims");

            migrationBuilder.DropTable(
                name: "AspNetUserLogins");

            migrationBuilder.DropTable(
                name: "AspNetUserRoles");

            migrationBuilder.DropTable(
                name: "AspNetUserTokens");

            migrationBuilder.DropTable(
                name: "Audit");

            migrationBuilder.DropTable(
                name: "BackupPlans");

            migrationBuilder.DropTable(
                name: "Bottles");

            migrationBuilder.DropTable(
                name: "ChecksDone");

            migrationBuilder.DropTable(
                name: "Completions");

            migrationBuilder.DropTable(
                name: "Consignments");

            migrationBuilder.DropTable(
                name: "CoolantTests");

            migrationBuilder.DropTable(
                name: "DefectEvents");

            migrationBuilder.DropTable(
                name: "DrainChanges");

            migrationBuilder.DropTable(
                name: "EndedSessions");

            migrationBuilder.DropTable(
                name: "FilterLog");

            migrationBuilder.DropTable(
                name: "FilterPositions");

            migrationBuilder.DropTable(
                name: "FleetLimits");

            migrationBuilder.DropTable(
                name: "Fluids");

            migrationBuilder.DropTable(
                name: "ImportDrafts");

            migrationBuilder.DropTable(
                name: "Installations");

            migrationBuilder.DropTable(
                name: "Judgements");

            migrationBuilder.DropTable(
                name: "LaterChecks");

            migrationBuilder.DropTable(
                name: "MachineChecks");

            migrationBuilder.DropTable(
                name: "MachineCodes");

            migrationBuilder.DropTable(
                name: "MachineCompartments");

            migrationBuilder.DropTable(
                name: "Measures");

            migrationBuilder.DropTable(
                name: "MeterChanges");

            migrationBuilder.DropTable(
                name: "NewOils");

            migrationBuilder.DropTable(
                name: "OilLimits");

            migrationBuilder.DropTable(
                name: "OnBoard");

            migrationBuilder.DropTable(
                name: "Parked");

            migrationBuilder.DropTable(
                name: "Parkings");

            migrationBuilder.DropTable(
                name: "PartAlternates");

            migrationBuilder.DropTable(
                name: "PhotoBytes");

            migrationBuilder.DropTable(
                name: "ProgramCompartments");

            migrationBuilder.DropTable(
                name: "ProgramItems");

            migrationBuilder.DropTable(
                name: "Readings");

            migrationBuilder.DropTable(
                name: "Reports");

            migrationBuilder.DropTable(
                name: "ResetCodes");

            migrationBuilder.DropTable(
                name: "Shop");

            migrationBuilder.DropTable(
                name: "Statuses");

            migrationBuilder.DropTable(
                name: "StepMinutes");

            migrationBuilder.DropTable(
                name: "StepPhotos");

            migrationBuilder.DropTable(
                name: "Steps");

            migrationBuilder.DropTable(
                name: "StockMoves");

            migrationBuilder.DropTable(
                name: "Stoppages");

            migrationBuilder.DropTable(
                name: "TopUps");

            migrationBuilder.DropTable(
                name: "UnmatchedResults");

            migrationBuilder.DropTable(
                name: "VanLines");

            migrationBuilder.DropTable(
                name: "VisitDefects");

            migrationBuilder.DropTable(
                name: "VisitItems");

            migrationBuilder.DropTable(
                name: "WalkAnswers");

            migrationBuilder.DropTable(
                name: "WalkPhotos");

            migrationBuilder.DropTable(
                name: "Waste");

            migrationBuilder.DropTable(
                name: "WorkRequests");

            migrationBuilder.DropTable(
                name: "WriteKeys");

            migrationBuilder.DropTable(
                name: "AspNetRoles");

            migrationBuilder.DropTable(
                name: "Labs");

            migrationBuilder.DropTable(
                name: "DefectPhotos");

            migrationBuilder.DropTable(
                name: "Samples");

            migrationBuilder.DropTable(
                name: "AspNetUsers");

            migrationBuilder.DropTable(
                name: "Parts");

            migrationBuilder.DropTable(
                name: "Visits");

            migrationBuilder.DropTable(
                name: "Walks");

            migrationBuilder.DropTable(
                name: "Defects");

            migrationBuilder.DropTable(
                name: "WalkListVersions");

            migrationBuilder.DropTable(
                name: "Machines");

            migrationBuilder.DropTable(
                name: "Programs");

            migrationBuilder.DropTable(
                name: "Sites");

            migrationBuilder.DropTable(
                name: "WalkLists");
        }
    }
}
