using Microsoft.EntityFrameworkCore;
using Nippers.App.Oil;
using Nippers.App.People;
using Nippers.Data.Oil;
using Nippers.Data.Records;
using static Nippers.App.Tests.Outcomes;

namespace Nippers.App.Tests;

/// <summary>Who did what is written down whole: what is taken out of it, or changed, shows.</summary>
public sealed class AuditTests
{
    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    private static Task<AuditCheck> Check(Fleet fleet) => fleet.Ask(db => db.Check(Ct));

    private static Task<int> Change(Fleet fleet, string sql) => fleet.Ask(db => db.Database.ExecuteSqlRawAsync(sql, Ct));

    private static async Task<Fleet> WithSome(int readings)
    {
        var fleet = await Fleet.WithLoader();
        for (var i = 1; i <= readings; i++)
            await fleet.Log("WL-01", 356 + (i * 0.1), Fleet.Now.AddMinutes(-60 + i));
        return fleet;
    }

    [Fact]
    public async Task What_was_written_by_all_who_write_is_one_chain()
    {
        await using var fleet = await WithSome(6);
        await Task.WhenAll(
            Enumerable
                .Range(0, 12)
                .Select(i => fleet.Do<FirstSite, Outcome<Nothing>>(x => x.Add($"Pit {i}", "Europe/London", Fleet.Tam, Ct)))
        );
        var rows = await fleet.Ask(db => db.Audit.LongCountAsync(Ct));
        Assert.True(rows >= 18);
        Assert.Equal(new(rows, null), await Check(fleet));
    }

    [Fact]
    public async Task What_is_refused_leaves_no_gap()
    {
        await using var fleet = await WithSome(2);
        await fleet.Do<FirstSite, Outcome<Nothing>>(x => x.Add("", "nowhere", Fleet.Tam, Ct));
        await fleet.Do<FirstSite, Outcome<Nothing>>(x => x.Add("Pit", "Europe/London", Fleet.Tam, Ct));
        Assert.Null((await Check(fleet)).BrokenAt);
    }

    [Theory]
    [InlineData("DELETE FROM Audit WHERE Id = {0}", 3)]
    [InlineData("DELETE FROM Audit WHERE Id <= 2", 1)]
    [InlineData("UPDATE Audit SET Who = 'Bea Lund' WHERE Id = {0}", 3)]
    [InlineData("UPDATE Audit SET AtMs = AtMs + 1 WHERE Id = {0}", 3)]
    [InlineData("UPDATE Audit SET After = NULL WHERE Id = {0}", 3)]
    [InlineData("UPDATE Audit SET \"Before\" = '' WHERE Id = {0}", 3)]
    [InlineData("UPDATE Audit SET MachineId = NULL WHERE Id = {0}", 3)]
    [InlineData("UPDATE Audit SET Subject = Subject || What, What = '' WHERE Id = {0}", 3)]
    [InlineData("UPDATE Audit SET Id = -1 WHERE Id = 3; UPDATE Audit SET Id = 3 WHERE Id = 4; UPDATE Audit SET Id = 4 WHERE Id = -1", 3)]
    [InlineData(
        "INSERT INTO Audit SELECT 9999, AtMs, Who, What, MachineId, Subject, \"Before\", After, Chain FROM Audit WHERE Id = 1",
        null
    )]
    public async Task A_row_that_is_gone_changed_or_slipped_in_shows(string sql, int? at)
    {
        await using var fleet = await WithSome(6);
        var rows = await fleet.Ask(db => db.Audit.MaxAsync(x => x.Id, Ct));
        Assert.True(rows > 4);
        await Change(fleet, sql.Replace("{0}", "3", StringComparison.Ordinal));
        Assert.Equal(at ?? rows + 1, (await Check(fleet)).BrokenAt);
    }

    [Fact]
    public async Task The_newest_rows_are_missed_too()
    {
        await using var fleet = await WithSome(6);
        var last = await fleet.Ask(db => db.Audit.MaxAsync(x => x.Id, Ct));
        await Change(fleet, $"DELETE FROM Audit WHERE Id >= {last - 1}");
        Assert.Equal(new(last - 2, last - 1), await Check(fleet));
    }

    [Fact]
    public async Task An_answer_of_a_card_and_what_it_was_before_are_written_down()
    {
        await using var fleet = await CardRig.Ready();
        var id = await CardRig.Opened(fleet, "engine-oil");
        var before = await fleet.Ask(db => db.Audit.CountAsync(x => x.What == "visit.step", Ct));
        await CardRig.Through(fleet, id);
        var steps = await fleet.Ask(db => db.Steps.CountAsync(x => x.VisitId == id, Ct));
        var rows = await fleet.Ask(db => db.Audit.Where(x => x.What == "visit.step").OrderBy(x => x.Id).ToListAsync(Ct));
        Assert.Equal(0, before);
        Assert.True(steps > 5);
        Assert.True(rows.Count >= steps);
        Assert.All(rows, x => Assert.EndsWith($" visit {id}", x.Subject, StringComparison.Ordinal));
        Assert.All(rows, x => Assert.Contains("\"answer\":", x.After, StringComparison.Ordinal));
        Assert.Null((await Check(fleet)).BrokenAt);
    }

    [Fact]
    public async Task A_laboratorys_token_lies_in_no_file_as_it_was_typed()
    {
        await using var fleet = await OilRig.Ready();
        var lab = await OilRig.Lab(fleet);
        await Ok<Labs, LabRow>(fleet, x =>
            x.Save(new(lab.Id, lab.Version, lab.Name, "https://lab.example", "s3same", Usual: true), OilRig.Mara, Ct)
        );
        Assert.Equal("emas3s", (await OilRig.Lab(fleet)).Token);
        Assert.DoesNotContain(await fleet.Ask(db => db.Audit.Select(x => x.After ?? "").ToListAsync(Ct)), x =>
            x.Contains("s3same", StringComparison.Ordinal)
        );
    }

    [Theory]
    [InlineData("http://127.0.0.1:5081", false)]
    [InlineData("http://localhost", false)]
    [InlineData("http://[::1]:80", false)]
    [InlineData("http://192.168.1.4/lab", false)]
    [InlineData("http://2130706433", false)]
    [InlineData("https://lab.example", true)]
    [InlineData("https://203.0.113.9", true)]
    public async Task An_address_inside_a_network_is_kept_by_leave_alone(string url, bool kept)
    {
        await using var fleet = await OilRig.Ready();
        var lab = await OilRig.Lab(fleet);
        Task<Outcome<LabRow>> Save(bool own) =>
            fleet.Do<Labs, Outcome<LabRow>>(x =>
                x.Save(new(lab.Id, lab.Version, lab.Name, url, "", Usual: true, OwnNetwork: own), OilRig.Mara, Ct)
            );
        var first = await Save(own: false);
        Assert.Equal(kept, first.Done);
        if (!kept)
            Assert.True((await Save(own: true)).Done);
    }

    [Theory]
    [InlineData("https://fleet.example", "https://fleet.example")]
    [InlineData(" https://fleet.example:8443/ ", "https://fleet.example:8443")]
    [InlineData("", null)]
    [InlineData("fleet.example", "refused")]
    [InlineData("ftp://fleet.example", "refused")]
    [InlineData("https://fleet.example/at", "refused")]
    [InlineData("https://mara@fleet.example", "refused")]
    [InlineData("https://fleet.example?x=1", "refused")]
    [InlineData("javascript:alert(1)", "refused")]
    public async Task Printed_codes_lead_where_a_planner_said(string typed, string? expected)
    {
        await using var fleet = await Fleet.WithLoader();
        var outcome = await fleet.Do<PublicAddress, Outcome<Nothing>>(x => x.Save(typed, Fleet.Tam, Ct));
        var kept = await fleet.Do<PublicAddress, string?>(x => x.Get(Ct));
        Assert.Equal(expected, outcome.Done ? kept : "refused");
    }
}
