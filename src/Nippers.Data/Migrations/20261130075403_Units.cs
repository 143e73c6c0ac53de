using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Nippers.Data.Migrations
{
    /// <inheritdoc />
    public partial class Units : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<string>(
                name: "Units",
                table: "AspNetUsers",
                type: "TEXT",
                nullable: false,
                defaultValue: "metric");
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "Units",
                table: "AspNetUsers");
        }
    }
}
