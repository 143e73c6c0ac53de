using System.Collections.Frozen;
using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using Nippers.Core.Jobs;
using Nippers.Data;
using Nippers.Data.Visits;

namespace Nippers.App.Visits;

/// <summary>What the answers of a machine's closed cards say of minutes: of its steps, and of how long it stood.</summary>
internal static class CardTimes
{
    // Steps that come back once a year have their times on the cards of some years.
    private const int Cards = 40;

    private sealed record Timed(double Minutes, int Times);

    /// <summary>Derives a machine's minutes anew, after a card was closed or opened again. What is tracked is saved first.</summary>
    public static async Task Refresh(NippersDb db, int machineId, CancellationToken ct)
    {
        await db.SaveChangesAsync(ct);
        var cards = await db
            .Visits.AsNoTracking()
            .Where(x => x.MachineId == machineId && x.State == VisitState.Closed && x.Card != "")
            .OrderByDescending(x => x.On)
            .ThenByDescending(x => x.Id)
            .Take(Cards)
            .Select(x => new { x.Id, x.Card })
            .ToListAsync(ct);
        var ids = cards.Select(x => x.Id).ToList();
        var answers = (
            await db
                .Steps.AsNoTracking()
                .Where(x => ids.Contains(x.VisitId))
                .Select(x => new
                {
                    x.VisitId,
                    x.Code,
                    x.By,
                    x.At,
                    Counts = !x.Paper && x.Revision <= 1,
                })
                .ToListAsync(ct)
        ).ToLookup(x => x.VisitId);
        var learnt = StepTimes.Learn(
            cards.Select(card =>
            {
                var steps = CardMaking.Read(card.Card).Steps.ToDictionary(x => x.Code, StringComparer.Ordinal);
                return StepTimes.Of([
                    .. answers[card.Id]
                        .Where(x => steps.ContainsKey(x.Code))
                        .Select(x => new AnsweredStep(steps[x.Code], x.By, x.At, x.Counts)),
                ]);
            })
        );
        var row = await db.StepMinutes.FindAsync([machineId], ct);
        if (learnt.Minutes.Count == 0)
        {
            if (row is not null)
                db.StepMinutes.Remove(row);
        }
        else
        {
            row ??= db.StepMinutes.Add(new() { MachineId = machineId, Steps = "" }).Entity;
            row.Steps = Write(learnt);
        }

        await db.SaveChangesAsync(ct);
    }

    /// <summary>What was learnt, as it is kept.</summary>
    public static string Write(LearntMinutes learnt) =>
        JsonSerializer.Serialize(learnt.Minutes.ToDictionary(x => x.Key, x => new Timed(Math.Round(x.Value, 1), learnt.Times[x.Key])));

    /// <summary>Reads what was learnt.</summary>
    public static LearntMinutes Read(string? text)
    {
        if (string.IsNullOrEmpty(text))
            return LearntMinutes.None;
        var steps = JsonSerializer.Deserialize<Dictionary<string, Timed>>(text)!;
        return new(
            steps.ToFrozenDictionary(x => x.Key, x => x.Value.Minutes, StringComparer.Ordinal),
            steps.ToFrozenDictionary(x => x.Key, x => x.Value.Times, StringComparer.Ordinal)
        );
    }

    /// <summary>Minutes for which a machine stood because of a card: of each day at the site, from its first answer to its last.</summary>
    /// <param name="answered">When its steps were answered.</param>
    /// <param name="zone">The site's time zone.</param>
    public static double Stood(IEnumerable<DateTimeOffset> answered, TimeZoneInfo zone) =>
        answered.GroupBy(x => DateOnly.FromDateTime(TimeZoneInfo.ConvertTime(x, zone).DateTime)).Sum(x => (x.Max() - x.Min()).TotalMinutes);
}
