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
        var gate = new PageGate(2, new FakeTimeProvider());
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
        var gate = new PageGate(1, clock);
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
        var gate = new PageGate(1, new FakeTimeProvider());
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

    [Fact]
    public async Task A_place_that_is_held_for_those_who_write_is_free_again_when_they_are_through()
    {
        var gate = new PageGate(2, new FakeTimeProvider());
        var pages = Enumerable.Range(0, 4).Select(_ => new TaskCompletionSource()).ToList();
        var begun = new bool[4];
        gate.Hold(true);
        var asked = pages.Select((page, i) => gate.Run(() => Begin(i), Ct)).ToList();
        Assert.Equal([true, false, false, false], begun);

        gate.Hold(false);
        await Until(1);
        Assert.Equal([true, true, false, false], begun);

        // Whoever has a place keeps it; the next one comes when one of the two is free.
        gate.Hold(true);
        pages[0].SetResult();
        await asked[0];
        Assert.False(begun[2]);
        pages[1].SetResult();
        await Until(2);
        Assert.False(begun[3]);
        pages[2].SetResult();
        await Until(3);
        pages[3].SetResult();
        await Task.WhenAll(asked);

        Task Begin(int number)
        {
            Volatile.Write(ref begun[number], true);
            return pages[number].Task;
        }

        async Task Until(int number)
        {
            while (!Volatile.Read(ref begun[number]))
                await Task.Yield();
        }
    }

    [Fact]
    public async Task One_page_is_worked_out_whoever_writes_and_whoever_has_gone_is_passed_over()
    {
        var gate = new PageGate(1, new FakeTimeProvider());
        gate.Hold(true);
        await gate.Run(() => Task.CompletedTask, Ct);
        var page = new TaskCompletionSource();
        var held = gate.Run(() => page.Task, Ct);
        using var gone = CancellationTokenSource.CreateLinkedTokenSource(Ct);
        var left = gate.Run(() => throw new InvalidOperationException(), gone.Token);
        var next = gate.Run(() => Task.CompletedTask, Ct);
        await gone.CancelAsync();
        await Assert.ThrowsAnyAsync<OperationCanceledException>(() => left);
        Assert.False(next.IsCompleted);
        page.SetResult();
        await Task.WhenAll(held, next);
    }
}
