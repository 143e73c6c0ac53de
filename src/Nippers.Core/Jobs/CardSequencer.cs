using System.Runtime.InteropServices;

namespace Nippers.Core.Jobs;

/// <summary>Puts the steps of a card in order, with what lies between: least time until it is over, then least hands.</summary>
/// <remarks>
/// Rules 5. A beam search: cards that are begun in some hundred ways are each carried on with every step that may come next, and of
/// those the ones that promise most are kept. What a step needs of the machine is brought about before it; time that would only be
/// waited is used for what has to be shut or emptied anyway.
/// </remarks>
public static class CardSequencer
{
    /// <summary>Codes of steps that the card puts in itself begin with this.</summary>
    public const string Between = "+";

    /// <summary>How wide the search is, as a number of steps that are tried in all; about a microsecond each.</summary>
    public const int Thorough = 400_000;

    /// <summary>The same where somebody waits for a page.</summary>
    public const int Quick = 40_000;

    /// <summary>Puts a card in order.</summary>
    /// <exception cref="CardImpossibleException">No order was found that satisfies it.</exception>
    /// <exception cref="ArgumentException">A step names what the card does not have.</exception>
    public static CardSequence Of(CardCase given, int effort = Thorough)
    {
        var table = new CardTable(given);
        if (given.Steps.IsEmpty)
            return new([], 0, 0, 0);
        CardState? best = null;
        var least = Width(effort, given.Steps.Length);
        for (var width = least; best is null && width <= Math.Min(MostWidth, effort >= Thorough ? MostWidth : least * 64); width *= 8)
            best = Search(table, width, effort >= Thorough ? table.Count : AlikeTried);
        if (best is null)
            throw new CardImpossibleException(Why(table));
        best = Improved(best, effort);
        return new([.. best.Placed()], best.Elapsed, best.Hands, best.Lockouts);
    }

    private const int LeastWidth = 4;
    private const int MostWidth = 4096;
    private const int AlikeKept = 3;
    private const int AlikeTried = 2;

    private static int Width(int effort, int steps) => Math.Clamp(effort / (steps * steps * 2), LeastWidth, MostWidth);

    private static CardState? Search(CardTable table, int width, int alike)
    {
        var layer = new List<CardState> { CardState.First(table) };
        var (next, free, steps) = (new Dictionary<CardState.Likeness, List<CardState>>(), new Stack<List<CardState>>(), new List<int>());
        for (var placed = 0; placed < table.Count; placed++)
        {
            foreach (var state in layer)
            {
                Next(table, state, alike, steps);
                foreach (var step in steps)
                {
                    foreach (var child in state.With(step))
                        Keep(next, free, child);
                }
            }

            layer = [.. next.Values.SelectMany(x => x).OrderBy(x => x.Promise).ThenBy(x => x.HandsPromise).ThenBy(x => x.Now)];
            foreach (var list in next.Values)
            {
                list.Clear();
                free.Push(list);
            }

            next.Clear();
            if (layer.Count == 0)
                return null;
            for (var i = layer.Count - 1; i >= width; i--)
            {
                layer[i].GiveUp();
                layer.RemoveAt(i);
            }
        }

        CardState? best = null;
        foreach (var state in layer)
        {
            if (state.Finish() is { } over && (best is null || (over.Elapsed, over.Hands).CompareTo((best.Elapsed, best.Hands)) < 0))
                best = over;
        }

        return best;
    }

    /// <summary>
    /// A card on which what could as well be done while somebody only waits is done there: each wait in turn, and each step that suits
    /// the machine as it then stands.
    /// </summary>
    private static CardState Improved(CardState finished, int effort)
    {
        var best = finished;
        var (left, better) = (effort / finished.Course().Count, true);
        while (better && left > 0)
        {
            better = false;
            var course = best.Course();
            var waits = Enumerable.Range(1, course.Count - 1).Where(x => course[x].Idle > 0).OrderByDescending(x => course[x].Idle);
            foreach (var wait in waits)
            {
                foreach (var moved in Enumerable.Range(1, course.Count - 1).Where(x => x != wait && course[x].Step >= 0))
                {
                    if (left <= 0 || !course[wait - 1].Suits(course[moved].Step))
                        continue;
                    left--;
                    if (Moved(course, moved, wait) is not { } other)
                        continue;
                    if ((other.Elapsed, other.Hands).CompareTo((best.Elapsed, best.Hands)) >= 0)
                    {
                        other.GiveUpTo(course[Math.Min(moved, wait) - 1]);
                        continue;
                    }

                    (best, better) = (other, true);
                    break;
                }

                if (better)
                    break;
            }
        }

        return best;
    }

    /// <summary>The card with one of its steps done before another; null where that can't be.</summary>
    private static CardState? Moved(List<CardState> course, int moved, int before)
    {
        var from = course[Math.Min(moved, before) - 1];
        var state = from;
        for (var at = Math.Min(moved, before); at < course.Count; at++)
        {
            if (at == before && course[moved].Onto(state) is var there)
            {
                if (there is null)
                    return state.GiveUpTo(from);
                state = there;
            }

            if (at == moved)
                continue;
            if (course[at].Step < 0)
                break;
            if (course[at].Onto(state) is not { } next)
                return state.GiveUpTo(from);
            state = next;
        }

        return state.Finish() ?? state.GiveUpTo(from);
    }

    /// <summary>
    /// Steps that may come next. Of those that ask the same of the machine and differ in nothing but their minutes, a few will do:
    /// one that is not taken now is there as well afterwards.
    /// </summary>
    private static void Next(CardTable table, CardState state, int alike, List<int> next)
    {
        next.Clear();
        Span<int> taken = stackalloc int[table.Count];
        taken.Clear();
        foreach (var step in table.ByTail)
        {
            if (!state.MayCome(step))
                continue;
            var kind = table.Kinds[step];
            if (kind < 0 || !state.IsFree(step) || taken[kind]++ < alike)
                next.Add(step);
        }
    }

    /// <summary>Of cards that stand alike, with the same steps done, only the best few go on.</summary>
    private static void Keep(Dictionary<CardState.Likeness, List<CardState>> next, Stack<List<CardState>> free, CardState child)
    {
        ref var alike = ref CollectionsMarshal.GetValueRefOrAddDefault(next, child.Alike, out var known);
        if (!known || alike is null)
        {
            alike = free.TryPop(out var list) ? list : [];
            alike.Add(child);
            return;
        }

        foreach (var other in alike)
        {
            if (other.IsNoWorseThan(child))
            {
                child.GiveUp();
                return;
            }
        }

        for (var i = alike.Count - 1; i >= 0; i--)
        {
            if (child.IsNoWorseThan(alike[i]))
            {
                alike[i].GiveUp();
                alike.RemoveAt(i);
            }
        }

        alike.Add(child);
        if (alike.Count > AlikeKept)
        {
            var worst = alike.MaxBy(x => (x.Promise, x.Now, x.HandsPromise))!;
            alike.Remove(worst);
            worst.GiveUp();
        }
    }

    /// <summary>What people have to look at first on a card that has no order, as far as it can be said.</summary>
    private static string Why(CardTable table)
    {
        foreach (var row in table.Steps)
        {
            if (row.Opens >= 0 && !Array.Exists(table.Steps, x => x.Shuts == row.Opens))
                return $"{row.Code} opens what no step shuts";
            var runs = row.State is MachineState.Running or MachineState.Moving;
            if (runs && row.Heat == StepHeat.Cold)
                return $"{row.Code} wants the engine running and cold";
            if (runs && row.Opens >= 0)
                return $"{row.Code} drains with the engine running";
            if (runs && row.Still && row.Wait > 0)
                return $"{row.Code} is to stand still with the engine running";
            if (row.Access < 0)
                continue;
            var access = table.Given.Accesses[row.Access];
            if (row.State == MachineState.Moving || (runs && access.MustBeShutToRun))
                return $"{row.Code} wants the engine running and {access.Code} open";
        }

        // A step that cannot even be the first one is no matter of order.
        for (var step = 0; step < table.Count; step++)
        {
            var alone = CardState.First(table);
            if (alone.MayCome(step) && alone.With(step).Count == 0)
                return $"{table.Steps[step].Code} can't be done as the machine comes";
        }

        return "no order was found in which all steps can be done";
    }
}
