using CsCheck;
using Nippers.App.Backups;
using Nippers.Data;
using Nippers.Data.People;
using static Nippers.App.Tests.Outcomes;

namespace Nippers.App.Tests;

/// <summary>Backups are made by themselves, each night once, and the right ones stay.</summary>
public sealed class BackupTests
{
    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    [Fact]
    public void Seven_days_four_weeks_and_twelve_months_stay_of_two_years_of_nights()
    {
        var today = new DateTime(2026, 11, 29, 2, 0, 0, DateTimeKind.Unspecified);
        var stay = BackupRota.Stay(Enumerable.Range(0, 730).Select(x => today.AddDays(-x)));

        string[] expected =
        [
            .. Enumerable.Range(0, 7).Select(x => $"{today.AddDays(-x):yyyy-MM-dd}"),
            "2026-11-22",
            "2026-11-15",
            "2026-11-08",
            "2026-10-31",
            "2026-09-30",
            "2026-08-31",
            "2026-07-31",
            "2026-06-30",
            "2026-05-31",
            "2026-04-30",
            "2026-03-31",
            "2026-02-28",
            "2026-01-31",
            "2025-12-31",
        ];
        Assert.Equal(expected.Distinct(), stay.OrderDescending().Select(x => $"{x:yyyy-MM-dd}"));
    }

    [Fact]
    public void Whatever_was_made_the_newest_stays_no_more_than_the_rota_stays_and_what_went_never_comes_back() =>
        Gen.Int[0, 900]
            .List[1, 200]
            .Sample(days =>
            {
                var now = new DateTime(2026, 11, 29, 2, 0, 0, DateTimeKind.Unspecified);
                var made = days.Distinct().Select(x => now.AddDays(-x)).ToList();
                var stay = BackupRota.Stay(made);
                Assert.Contains(made.Max(), stay);
                Assert.InRange(stay.Count, 1, BackupRota.Days + BackupRota.Weeks + BackupRota.Months);
                Assert.Subset(made.ToHashSet(), stay.ToHashSet());
                Assert.Equal(stay, BackupRota.Stay(stay));
            });

    [Fact]
    public async Task A_night_is_backed_up_once_and_one_that_was_missed_is_made_up_for()
    {
        await using var fleet = await Fleet.WithLoader();
        fleet.Clock.SetLocalTimeZone(TimeZoneInfo.Utc);
        var first = await Night(fleet);
        Assert.True(await Backup.IsWhole(first!, Ct));
        Assert.Null(await Night(fleet));

        // Midnight is not yet the night's hour.
        var tomorrow = new DateTimeOffset(Fleet.Now.Date, TimeSpan.Zero).AddDays(1);
        fleet.Clock.SetUtcNow(tomorrow.AddHours(Backups.Backups.NightHour).AddMinutes(-1));
        Assert.Null(await Night(fleet));
        fleet.Clock.Advance(TimeSpan.FromMinutes(1));
        Assert.NotNull(await Night(fleet));
        Assert.False((await State(fleet)).Late);

        // Switched off for a week, started at noon.
        fleet.Clock.Advance(TimeSpan.FromDays(7.4));
        Assert.True((await State(fleet)).Late);
        Assert.NotNull(await Night(fleet));
        Assert.Null(await Night(fleet));
        Assert.Equal(3, (await State(fleet)).Files.Count);
    }

    [Fact]
    public async Task Those_whose_time_is_over_go_and_other_files_of_the_folder_stay()
    {
        await using var fleet = await Fleet.WithLoader();
        fleet.Clock.SetLocalTimeZone(TimeZoneInfo.Utc);
        var folder = Backups.Backups.FolderOf(fleet.File);
        Directory.CreateDirectory(folder);
        for (var day = 1; day <= 20; day++)
            await File.WriteAllTextAsync(Path.Combine(folder, $"nippers-{Fleet.Now.AddDays(-day):yyyyMMdd}-020000.db"), "", Ct);
        string[] others = ["nippers-by-hand.db", "nippers-20260101-020000.db.txt", "letter.txt"];
        foreach (var name in others)
            await File.WriteAllTextAsync(Path.Combine(folder, name), "", Ct);

        await Night(fleet);

        Assert.InRange((await State(fleet)).Files.Count, BackupRota.Days, BackupRota.Days + BackupRota.Weeks + 1);
        Assert.All(others, x => Assert.True(File.Exists(Path.Combine(folder, x))));
    }

    [Fact]
    public async Task The_copy_in_a_second_place_is_renewed_minutes_apart()
    {
        await using var fleet = await Fleet.WithLoader();
        Assert.Null(await Second(fleet));
        var place = Directory.CreateDirectory(fleet.File + ".second").FullName;
        await Ok<Backups.Backups, BackupPlan>(fleet, x => x.Save(new(null, place, "5"), Fleet.Tam, Ct));

        var copy = await Second(fleet);
        Assert.True(await Backup.IsWhole(copy!, Ct));
        Assert.Null(await Second(fleet));
        await fleet.Log("WL-01", 356, Fleet.Now);
        fleet.Clock.Advance(TimeSpan.FromMinutes(5));
        Assert.NotNull(await Second(fleet));
        Assert.Equal(fleet.Clock.GetUtcNow().ToUnixTimeSeconds(), (await State(fleet)).SecondAt!.Value.ToUnixTimeSeconds());
    }

    [Theory]
    [InlineData("relative/place", null, "10", "noSuchFolder")]
    [InlineData("/no/such/place", null, "10", "noSuchFolder")]
    [InlineData(null, "/no/such/place", "10", "noSuchFolder")]
    [InlineData(null, "/proc/self", "10", "folderShut")]
    [InlineData(null, null, "0", "wholeBetween")]
    [InlineData("here", "here", "10", "folderSame")]
    public async Task A_folder_that_will_not_do_is_refused_when_it_is_typed(string? folder, string? second, string minutes, string code)
    {
        await using var fleet = await Fleet.Empty();
        var here = Path.GetDirectoryName(fleet.File);
        var refusal = await Refused<Backups.Backups, BackupPlan>(fleet, x =>
            x.Save(new(folder == "here" ? here : folder, second == "here" ? here : second, minutes), Fleet.Tam, Ct)
        );
        Assert.Equal(code, refusal.Code);
    }

    private static Task<string?> Night(Fleet fleet) => fleet.Do<Backups.Backups, string?>(x => x.Night(Ct));

    private static Task<string?> Second(Fleet fleet) => fleet.Do<Backups.Backups, string?>(x => x.Second(Ct));

    private static Task<BackupState> State(Fleet fleet) => fleet.Do<Backups.Backups, BackupState>(x => x.State(Ct));
}
