using System.Collections.Frozen;
using Nippers.Core.Numbers;

namespace Nippers.Core.Jobs;

/// <summary>A step of a closed card with who answered it and when.</summary>
/// <param name="Step">The step.</param>
/// <param name="By">Who answered it.</param>
/// <param name="At">When.</param>
/// <param name="Counts">Its time is that of the work: not one that was entered from paper, or put right later.</param>
public sealed record AnsweredStep(JobStep Step, string By, DateTimeOffset At, bool Counts = true);

/// <summary>Minutes that steps took on one machine, as its closed cards say.</summary>
/// <param name="Minutes">Middle of what each took, by <see cref="StepTimes.KeyOf(JobStep)"/>.</param>
/// <param name="Times">How often each was timed.</param>
public sealed record LearntMinutes(IReadOnlyDictionary<string, double> Minutes, IReadOnlyDictionary<string, int> Times)
{
    /// <summary>Nothing is known.</summary>
    public static LearntMinutes None { get; } = new(FrozenDictionary<string, double>.Empty, FrozenDictionary<string, int>.Empty);

    // A step that is ticked in passing is not done in no time: rules 5.
    private const double LeastShare = 1.0 / 3;

    /// <summary>Minutes of hands that a step is planned with.</summary>
    /// <param name="key">What it is known by.</param>
    /// <param name="table">Minutes of the table.</param>
    public int Of(string key, int table) =>
        Minutes.TryGetValue(key, out var learnt)
            ? (int)Math.Max(Math.Ceiling(table * LeastShare), Math.Round(learnt, MidpointRounding.AwayFromZero))
            : table;
}

/// <summary>Learns from answered cards how long steps take.</summary>
/// <remarks>
/// Rules 5. A step took from the answer before it by the same person to its own, what it had to wait for left out. Answers within half
/// a minute of each other were entered together, and share the time before them as the table has it. Of a time far above the table's
/// nobody knows what else was done in it.
/// </remarks>
public static class StepTimes
{
    /// <summary>So often at least a step was timed before its own minutes are believed.</summary>
    public const int Least = 3;

    /// <summary>So many times, the newest, are looked at.</summary>
    public const int Most = 7;

    private static readonly TimeSpan Together = TimeSpan.FromSeconds(30);
    private const double TooLong = 4;
    private const double TooLongBesides = 10;

    /// <summary>What the times of a step are kept under: those of locking out belong together, wherever they stand.</summary>
    public static string KeyOf(JobStep step) => step.Between == CardBetween.None ? step.Code : KeyOf(step.Between, step.Access);

    /// <summary>What the times of something that lies between steps are kept under.</summary>
    /// <param name="between">What it is.</param>
    /// <param name="access">What is opened or shut.</param>
    public static string KeyOf(CardBetween between, string access = "") =>
        access.Length == 0 ? $"+{between.ToString().ToLowerInvariant()}" : $"+{between.ToString().ToLowerInvariant()}:{access}";

    /// <summary>Minutes that the steps of one card took, of those of which it can be said.</summary>
    /// <param name="answers">Its answers, in any order.</param>
    /// <returns>Nothing of a card that was ticked far quicker than anybody works.</returns>
    public static IReadOnlyList<(string Key, double Minutes)> Of(IReadOnlyCollection<AnsweredStep> answers)
    {
        var timed = Timed(answers).ToList();
        return timed.Sum(x => x.Minutes) < timed.Sum(x => x.Step.TableMinutes) * JobState.QuickShare
            ? []
            : [.. timed.Select(x => (KeyOf(x.Step), x.Minutes))];
    }

    private static IEnumerable<(JobStep Step, double Minutes)> Timed(IReadOnlyCollection<AnsweredStep> answers)
    {
        var over = answers
            .Where(x => x.Step.Wait > 0)
            .ToDictionary(x => x.Step.Code, x => x.At.AddMinutes(x.Step.Wait), StringComparer.Ordinal);
        var stays = answers
            .Where(x => x.Step.Between is CardBetween.WarmUp or CardBetween.CoolDown)
            .Select(x => over.GetValueOrDefault(x.Step.Code, x.At))
            .ToList();
        foreach (var person in answers.GroupBy(x => x.By, StringComparer.Ordinal))
        {
            DateTimeOffset? before = null;
            foreach (var entered in EnteredTogether(person.OrderBy(x => x.At)))
            {
                var end = entered[^1].At;
                if (before is { } since)
                {
                    var waits = entered.SelectMany(x => x.Step.After).Where(over.ContainsKey).Select(x => over[x]).Concat(stays);
                    var begun = waits.Where(x => x <= end).Append(since).Max();
                    var minutes = (end - begun).TotalMinutes;
                    var planned = entered.Sum(x => x.Step.TableMinutes);
                    if (entered.TrueForAll(x => x.Counts) && planned > 0 && minutes > 0 && minutes <= planned * TooLong + TooLongBesides)
                        foreach (var one in entered.Where(x => x.Step is { TableMinutes: > 0, Attended: false }))
                            yield return (one.Step, minutes * one.Step.TableMinutes / planned);
                }

                before = end;
            }
        }
    }

    /// <summary>What the newest cards of a machine teach.</summary>
    /// <param name="cards">Times of each card, the newest first.</param>
    public static LearntMinutes Learn(IEnumerable<IEnumerable<(string Key, double Minutes)>> cards)
    {
        var known = cards
            .SelectMany(x => x)
            .GroupBy(x => x.Key, x => x.Minutes, StringComparer.Ordinal)
            .Select(x => (x.Key, Minutes: x.Take(Most).ToList()))
            .Where(x => x.Minutes.Count >= Least)
            .ToList();
        return new(
            known.ToFrozenDictionary(x => x.Key, x => Median.Of(x.Minutes), StringComparer.Ordinal),
            known.ToFrozenDictionary(x => x.Key, x => x.Minutes.Count, StringComparer.Ordinal)
        );
    }

    private static IEnumerable<List<AnsweredStep>> EnteredTogether(IEnumerable<AnsweredStep> answers)
    {
        List<AnsweredStep> together = [];
        foreach (var answer in answers)
        {
            if (together.Count > 0 && answer.At - together[^1].At > Together)
            {
                yield return together;
                together = [];
            }

            together.Add(answer);
        }

        if (together.Count > 0)
            yield return together;
    }
}
