using Microsoft.EntityFrameworkCore;
using Nippers.App.Exchange;
using Nippers.App.Walks;
using Nippers.App.Work;
using Nippers.Core.Numbers;
using Nippers.Data;
using Nippers.Data.Records;
using static Nippers.App.Tests.Outcomes;

namespace Nippers.App.Tests;

/// <summary>What was undone counts no more and is not gone.</summary>
public sealed class VoidedTests
{
    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    /// <summary>Rows that can be undone and say so by a date; a kind that is added without leaving them out is found here.</summary>
    [Fact]
    public async Task Every_row_with_a_date_of_undoing_is_left_out_once_undone()
    {
        await using var fleet = await Fleet.Empty();
        var byState = new[] { typeof(Data.Walks.WalkRow) };
        var counted = await fleet.Ask(db =>
            Task.FromResult(
                db.Model.GetEntityTypes()
                    .Where(x => x.FindProperty("VoidedAt") is not null && x.GetDeclaredQueryFilters().Count == 0)
                    .Select(x => x.ClrType)
                    .ToList()
            )
        );
        Assert.Equal(byState, counted);
    }

    [Fact]
    public async Task An_undone_top_up_counts_no_more_is_in_the_file_and_cannot_be_undone_twice()
    {
        await using var fleet = await Fleet.WithLoader();
        var kept = await Ok<LogTopUp, LoggedTopUp>(fleet, x => x.Run("WL-01", "2", "engine", null, Fleet.Tam, Ct));
        await Ok<LogTopUp, Nothing>(fleet, x => x.Void("WL-01", kept.Id, Fleet.Tam, Ct));

        Assert.False(await fleet.Ask(db => db.TopUps.AnyAsync(Ct)));
        var row = await fleet.Ask(db => db.TopUps.WithVoided().SingleAsync(Ct));
        Assert.Equal((new Litres(2), Fleet.Now, Fleet.Tam.Name), (row.Litres, row.VoidedAt!.Value, row.VoidedBy));
        var again = await fleet.Do<LogTopUp, Outcome<Nothing>>(x => x.Void("WL-01", kept.Id, Fleet.Tam, Ct));
        Assert.Equal("topUpGone", Assert.Single(again.Refusals).Code);

        using var bytes = new MemoryStream();
        await fleet.Do<ExportFleet>(x => x.Run(bytes, null, Ct));
        Assert.Contains("\"voidedBy\":\"Tam Ollery\"", System.Text.Encoding.UTF8.GetString(bytes.ToArray()), StringComparison.Ordinal);
    }

    [Fact]
    public async Task An_undone_completion_is_in_the_history_and_moves_no_due_date()
    {
        await using var fleet = await Fleet.WithLoader();
        async Task<DateOnly?> Due() => (await fleet.Page("WL-01")).Items.Single(x => x.Item.Code == "engine-oil").Status.DueOn;
        var before = await Due();
        var done = await Ok<RecordWork, RecordedWork>(fleet, x => x.Run(new("WL-01", ["engine-oil"], "356", null, null), Fleet.Tam, Ct));
        Assert.NotEqual(before, await Due());
        await Ok<VoidWork, Nothing>(fleet, x => x.Run("WL-01", done.Batch, null, "wrong machine", Fleet.Tam, Ct));

        Assert.Equal(before, await Due());
        Assert.Equal(0, await fleet.Ask(db => db.Completions.CountAsync(x => x.Batch == done.Batch, Ct)));
        Assert.Equal(1, await fleet.Ask(db => db.Completions.WithVoided().CountAsync(x => x.Batch == done.Batch, Ct)));
        Assert.Contains((await fleet.Part("WL-01", (x, page) => x.Log(page, Ct))).Work, x => x.Batch == done.Batch);
    }

    [Fact]
    public async Task Many_rows_at_once_are_kept_as_one_is()
    {
        await using var fleet = await Fleet.WithLoader();
        var machine = await fleet.Ask(db => db.Machines.Select(x => x.Id).SingleAsync(Ct));
        ReadingRow Row(int hours) =>
            new()
            {
                MachineId = machine,
                At = Fleet.Now.AddMilliseconds(hours),
                ShownHours = new(hours),
                LifeHours = new(hours + 7),
                State = ReadingState.Unconfirmed,
                Source = ReadingSource.Csv,
                By = "Bea Lund",
                EnteredAt = Fleet.Now,
                Reason = hours % 2 == 0 ? "even" : null,
            };
        await fleet.Ask(async db =>
        {
            db.Readings.Add(Row(4001));
            await db.SaveChangesAsync(Ct);
            await using var transaction = await db.Database.BeginTransactionAsync(Ct);
            using (var rows = new BulkRows<ReadingRow>(db))
            {
                rows.Add(Row(4002));
                rows.Add(Row(4003));
            }

            await transaction.CommitAsync(Ct);
            return 0;
        });
        var kept = await fleet.Ask(db =>
            db.Readings.AsNoTracking().Where(x => x.By == "Bea Lund" && x.Source == ReadingSource.Csv).ToListAsync(Ct)
        );
        Assert.Equal([4001, 4002, 4003], kept.OrderBy(x => x.Id).Select(x => x.ShownHours.Tenths));
        Assert.All(kept, x =>
        {
            var same = Row(x.ShownHours.Tenths);
            Assert.Equal(
                (same.At, same.LifeHours, same.State, same.EnteredAt, same.Reason, same.DecidedBy),
                (x.At, x.LifeHours, x.State, x.EnteredAt, x.Reason, x.DecidedBy)
            );
        });
    }

    [Fact]
    public async Task Rows_are_brought_in_within_a_change_or_not_at_all()
    {
        await using var fleet = await Fleet.Empty();
        await fleet.Ask(db =>
        {
            Assert.Throws<InvalidOperationException>(() => new BulkRows<ReadingRow>(db));
            return Task.FromResult(0);
        });
    }
}
