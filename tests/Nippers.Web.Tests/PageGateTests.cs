using Microsoft.Extensions.Time.Testing;
using Nippers.Web.Hosting;

namespace Nippers.Web.Tests;

/// <summary>Pages take turns, so that they leave a core to whoever writes; nobody keeps others out for long.</summary>
public sealed class PageGateTests
{
    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    [Fact]
    public async Task No_more_pages_are_begun_than_there_are_places_and_they_come_in_order()
    {
        using var gate = new PageGate(2, new FakeTimeProvider());
        var pages = Enumerable.Range(0, 5).Select(_ => new TaskCompletionSource()).ToList();
        var begun = new List<int>();
        var asked = pages.Select((page, i) => gate.Run(() => Page(i, page.Task), Ct)).ToList();
        Assert.Equal([0, 1], begun);

        foreach (var (ends, next) in new[] { (1, 2), (0, 3), (3, 4) })
        {
            pages[ends].SetResult();
            await asked[ends];
            while (begun.Count <= next)
                await Task.Yield();
            Assert.Equal(next, begun[^1]);
        }

        pages.ForEach(x => x.TrySetResult());
        await Task.WhenAll(asked);
        Assert.Equal(5, begun.Count);

        Task Page(int number, Task end)
        {
            lock (begun)
                begun.Add(number);
            return end;
        }
    }

    [Fact]
    public async Task A_page_that_lasts_gives_its_place_away_once_and_goes_on()
    {
        var clock = new FakeTimeProvider();
        using var gate = new PageGate(1, clock);
        var (slow, next) = (new TaskCompletionSource(), new TaskCompletionSource());
        var first = gate.Run(() => slow.Task, Ct);
        var second = gate.Run(() => next.Task, Ct);
        var third = gate.Run(() => Task.CompletedTask, Ct);
        clock.Advance(PageGate.Longest);
        Assert.False(first.IsCompleted);

        // The second has the place now: that the first ends gives it to nobody a second time.
        slow.SetResult();
        await first;
        Assert.False(third.IsCompleted);
        next.SetResult();
        await Task.WhenAll(second, third);
    }

    [Fact]
    public async Task A_page_that_fails_or_is_given_up_keeps_no_place()
    {
        using var gate = new PageGate(1, new FakeTimeProvider());
        await Assert.ThrowsAsync<InvalidOperationException>(() => gate.Run(() => throw new InvalidOperationException(), Ct));
        var page = new TaskCompletionSource();
        var held = gate.Run(() => page.Task, Ct);
        using var gone = CancellationTokenSource.CreateLinkedTokenSource(Ct);
        var waiting = gate.Run(() => Task.CompletedTask, gone.Token);
        await gone.CancelAsync();
        await Assert.ThrowsAnyAsync<OperationCanceledException>(() => waiting);
        page.SetResult();
        await held;
        await gate.Run(() => Task.CompletedTask, Ct);
    }
}
