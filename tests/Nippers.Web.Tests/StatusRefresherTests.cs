using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Nippers.App.Statuses;
using Nippers.Tests;
using Nippers.Web.Hosting;

namespace Nippers.Web.Tests;

/// <summary>Standing rows are kept by whoever has time, and not by the first who looks after an hour.</summary>
public sealed class StatusRefresherTests
{
    private static readonly TimeSpan Young = TimeSpan.FromMinutes(10);

    [Fact(Timeout = 60_000)]
    public async Task Rows_are_derived_before_a_page_has_to()
    {
        await using var app = await DemoApp.Start();
        await using var scope = app.Services.CreateAsyncScope();
        await scope.ServiceProvider.GetRequiredService<Standings>().Rebuild(app.Clock.GetUtcNow(), TestContext.Current.CancellationToken);

        // Ten minutes before the first of them is an hour old.
        for (var since = TimeSpan.Zero; since < StatusKeeper.GoodFor - Young; since += StatusRefresher.Every)
            app.Clock.Advance(StatusRefresher.Every);
        var young = app.Clock.GetUtcNow() - Young;
        while (
            await app.Ask(db =>
                db.Statuses.AnyAsync(x => !x.Machine.Retired && x.ComputedAt < young, TestContext.Current.CancellationToken)
            )
        )
            await Task.Yield();
    }
}
