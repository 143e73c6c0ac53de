using System;
using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Nippers.Data.Migrations
{
    /// <inheritdoc />
    public partial class Mail : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "AcknowledgedBy",
                table: "Stoppages",
                type: "TEXT",
                nullable: true);

            migrationBuilder.AddColumn<long>(
                name: "AcknowledgedMs",
                table: "Stoppages",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.CreateTable(
                name: "Mail",
                columns: table => new
                {
                    Id = table.Column<long>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Kind = table.Column<int>(type: "INTEGER", nullable: false),
                    State = table.Column<int>(type: "INTEGER", nullable: false),
                    Address = table.Column<string>(type: "TEXT", nullable: false),
                    Name = table.Column<string>(type: "TEXT", nullable: false),
                    UserId = table.Column<string>(type: "TEXT", nullable: true),
                    StoppageId = table.Column<long>(type: "INTEGER", nullable: true),
                    Turn = table.Column<int>(type: "INTEGER", nullable: true),
                    MadeMs = table.Column<long>(type: "INTEGER", nullable: false),
                    Subject = table.Column<string>(type: "TEXT", nullable: false),
                    Text = table.Column<string>(type: "TEXT", nullable: false),
                    Html = table.Column<string>(type: "TEXT", nullable: false),
                    Attempts = table.Column<int>(type: "INTEGER", nullable: false),
                    NextTryMs = table.Column<long>(type: "INTEGER", nullable: true),
                    LastFault = table.Column<string>(type: "TEXT", nullable: false),
                    SentMs = table.Column<long>(type: "INTEGER", nullable: true)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Mail", x => x.Id);
                    table.ForeignKey(
                        name: "FK_Mail_Stoppages_StoppageId",
                        column: x => x.StoppageId,
                        principalTable: "Stoppages",
                        principalColumn: "Id");
                });

            migrationBuilder.CreateTable(
                name: "MailPeople",
                columns: table => new
                {
                    UserId = table.Column<string>(type: "TEXT", nullable: false),
                    Address = table.Column<string>(type: "TEXT", nullable: false),
                    AllSites = table.Column<bool>(type: "INTEGER", nullable: false),
                    MorningAt = table.Column<int>(type: "INTEGER", nullable: false),
                    MorningOn = table.Column<DateOnly>(type: "TEXT", nullable: true),
                    Stops = table.Column<int>(type: "INTEGER", nullable: false),
                    Samples = table.Column<int>(type: "INTEGER", nullable: false),
                    Limits = table.Column<int>(type: "INTEGER", nullable: false),
                    Walks = table.Column<int>(type: "INTEGER", nullable: false),
                    Stock = table.Column<int>(type: "INTEGER", nullable: false),
                    Version = table.Column<int>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_MailPeople", x => x.UserId);
                    table.ForeignKey(
                        name: "FK_MailPeople_AspNetUsers_UserId",
                        column: x => x.UserId,
                        principalTable: "AspNetUsers",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "MailServer",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    Host = table.Column<string>(type: "TEXT", nullable: false),
                    Port = table.Column<int>(type: "INTEGER", nullable: false),
                    Security = table.Column<int>(type: "INTEGER", nullable: false),
                    User = table.Column<string>(type: "TEXT", nullable: false),
                    Password = table.Column<string>(type: "TEXT", nullable: false),
                    From = table.Column<string>(type: "TEXT", nullable: false),
                    OwnNetwork = table.Column<bool>(type: "INTEGER", nullable: false),
                    On = table.Column<bool>(type: "INTEGER", nullable: false),
                    SinceMs = table.Column<long>(type: "INTEGER", nullable: false),
                    Failures = table.Column<int>(type: "INTEGER", nullable: false),
                    NextTryMs = table.Column<long>(type: "INTEGER", nullable: true),
                    LastFault = table.Column<string>(type: "TEXT", nullable: false),
                    FailingSinceMs = table.Column<long>(type: "INTEGER", nullable: true),
                    Version = table.Column<int>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_MailServer", x => x.Id);
                });

            migrationBuilder.CreateTable(
                name: "SiteContacts",
                columns: table => new
                {
                    Id = table.Column<int>(type: "INTEGER", nullable: false)
                        .Annotation("Sqlite:Autoincrement", true),
                    SiteId = table.Column<int>(type: "INTEGER", nullable: false),
                    Turn = table.Column<int>(type: "INTEGER", nullable: false),
                    UserId = table.Column<string>(type: "TEXT", nullable: true),
                    Name = table.Column<string>(type: "TEXT", nullable: false),
                    Address = table.Column<string>(type: "TEXT", nullable: false),
                    Language = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_SiteContacts", x => x.Id);
                    table.ForeignKey(
                        name: "FK_SiteContacts_AspNetUsers_UserId",
                        column: x => x.UserId,
                        principalTable: "AspNetUsers",
                        principalColumn: "Id");
                    table.ForeignKey(
                        name: "FK_SiteContacts_Sites_SiteId",
                        column: x => x.SiteId,
                        principalTable: "Sites",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateTable(
                name: "MailTold",
                columns: table => new
                {
                    Who = table.Column<string>(type: "TEXT", nullable: false),
                    What = table.Column<string>(type: "TEXT", nullable: false),
                    MailId = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_MailTold", x => new { x.Who, x.What });
                    table.ForeignKey(
                        name: "FK_MailTold_Mail_MailId",
                        column: x => x.MailId,
                        principalTable: "Mail",
                        principalColumn: "Id",
                        onDelete: ReferentialAction.Cascade);
                });

            migrationBuilder.CreateIndex(
                name: "IX_Mail_State_NextTryMs",
                table: "Mail",
                columns: new[] { "State", "NextTryMs" });

            migrationBuilder.CreateIndex(
                name: "IX_Mail_StoppageId",
                table: "Mail",
                column: "StoppageId");

            migrationBuilder.CreateIndex(
                name: "IX_MailTold_MailId",
                table: "MailTold",
                column: "MailId");

            migrationBuilder.CreateIndex(
                name: "IX_MailTold_What",
                table: "MailTold",
                column: "What");

            migrationBuilder.CreateIndex(
                name: "IX_SiteContacts_SiteId_Turn",
                table: "SiteContacts",
                columns: new[] { "SiteId", "Turn" });

            migrationBuilder.CreateIndex(
                name: "IX_SiteContacts_UserId",
                table: "SiteContacts",
                column: "UserId");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "MailPeople");

            migrationBuilder.DropTable(
                name: "MailServer");

            migrationBuilder.DropTable(
                name: "MailTold");

            migrationBuilder.DropTable(
                name: "SiteContacts");

            migrationBuilder.DropTable(
                name: "Mail");

            migrationBuilder.DropColumn(
                name: "AcknowledgedBy",
                table: "Stoppages");

            migrationBuilder.DropColumn(
                name: "AcknowledgedMs",
                table: "Stoppages");
        }
    }
}
