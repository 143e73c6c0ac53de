using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Nippers.Data.Migrations
{
    /// <inheritdoc />
    public partial class SecondPerson : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropIndex(
                name: "IX_PlannedJobs_VisitId_Part",
                table: "PlannedJobs");

            migrationBuilder.AddColumn<bool>(
                name: "Helps",
                table: "PlannedJobs",
                type: "INTEGER",
                nullable: false,
                defaultValue: false);

            // The second person of a day had its part behind 100, in the rows and in the plans that are kept as text.
            migrationBuilder.Sql("UPDATE PlannedJobs SET Helps = 1, Part = Part - 100 WHERE Part > 100;");
            for (var day = 1; day <= 28; day++)
            {
                foreach (var table in new[] { "KeptPlan", "DraftPlans" })
                {
                    migrationBuilder.Sql($"UPDATE {table} SET Body = replace(Body, '\"part\":{100 + day},', '\"part\":{day},');");
                }
            }

            migrationBuilder.CreateIndex(
                name: "IX_PlannedJobs_VisitId_Part_Helps",
                table: "PlannedJobs",
                columns: new[] { "VisitId", "Part", "Helps" },
                unique: true);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropIndex(
                name: "IX_PlannedJobs_VisitId_Part_Helps",
                table: "PlannedJobs");

            migrationBuilder.Sql("UPDATE PlannedJobs SET Part = Part + 100 WHERE Helps;");

            migrationBuilder.DropColumn(
                name: "Helps",
                table: "PlannedJobs");

            migrationBuilder.CreateIndex(
                name: "IX_PlannedJobs_VisitId_Part",
                table: "PlannedJobs",
                columns: new[] { "VisitId", "Part" },
                unique: true);
        }
    }
}
