using System.Collections.Immutable;
using Microsoft.EntityFrameworkCore;
using Nippers.Core.Fluids;
using Nippers.Core.Jobs;
using Nippers.Core.Numbers;
using Nippers.Data;
using Nippers.Data.Parts;
using Nippers.Data.Programs;
using Nippers.Data.Queries;
using Nippers.Data.Visits;

namespace Nippers.App.Visits;

/// <summary>What a machine's closed cards say of its changes of fluid: they teach what never drains.</summary>
internal sealed class PastChanges
{
    // Five changes of one compartment lie within so many cards.
    private const int Cards = 30;

    private const string TopStep = ".top";

    private sealed record Change(double? Level, decimal FilterLitres, decimal Drained);

    private readonly ILookup<string, Change> _changes;

    private PastChanges(ILookup<string, Change> changes, IReadOnlyDictionary<string, double> tops) => (_changes, Tops) = (changes, tops);

    private sealed record Answered(long VisitId, string Code, string Answer);

    private static readonly Func<NippersDb, int, IAsyncEnumerable<long>> CardsOf = EF.CompileAsyncQuery(
        (NippersDb db, int machineId) =>
            db
                .Visits.Where(x => x.MachineId == machineId && x.State == VisitState.Closed)
                .OrderByDescending(x => x.On)
                .ThenByDescending(x => x.Id)
                .Take(Cards)
                .Select(x => x.Id)
    );

    private static readonly Func<NippersDb, List<long>, IAsyncEnumerable<Answered>> StepsOf = EF.CompileAsyncQuery(
        (NippersDb db, List<long> cards) =>
            db
                .Steps.AsNoTracking()
                .Where(x => cards.Contains(x.VisitId))
                .Where(x =>
                    x.Code.EndsWith(".drained") || x.Code.EndsWith(".found") || x.Code.EndsWith(TopStep) || x.Code.Contains(".filter-")
                )
                .Select(x => new Answered(x.VisitId, x.Code, x.Answer))
    );

    /// <summary>Nothing is known.</summary>
    public static PastChanges None { get; } =
        new(Array.Empty<(string, Change)>().ToLookup(x => x.Item1, x => x.Item2), new Dictionary<string, double>());

    /// <summary>
    /// Litres that usually go in after a filter alone, by step: the middle of the last few, from two on. What a filter holds, and what
    /// was drawn off before it, nobody knows better.
    /// </summary>
    public IReadOnlyDictionary<string, double> Tops { get; }

    /// <summary>The changes of a compartment, oldest first.</summary>
    /// <param name="compartment">The compartment.</param>
    /// <param name="capacity">Capacity with filter, litres; null when nobody entered it.</param>
    /// <param name="marks">Litres between the marks of its stick; null when nobody entered them.</param>
    public ImmutableArray<PastChange> Of(string compartment, double? capacity, double? marks) =>
        capacity is not { } whole || marks is not { } between
            ? []
            :
            [
                .. _changes[compartment]
                    .TakeLast(FluidBalance.PastChanges)
                    .Select(x => new PastChange(
                        x.Level is { } level and >= 0 ? Exactly(whole - (1 - level) * between) : null,
                        x.FilterLitres,
                        x.Drained
                    )),
            ];

    /// <summary>Loads what is known of one machine.</summary>
    public static async Task<PastChanges> Load(
        NippersDb db,
        MachineFacts facts,
        IReadOnlyList<FilterPosition> positions,
        CancellationToken ct
    )
    {
        var items = facts.Machine.Program.Items.Where(x => x.ChangesFluid).ToList();
        var id = facts.Machine.Id;
        var cards = await CardsOf(db, id).ToListAsync(ct);
        if (cards.Count == 0)
            return None;
        var steps = await StepsOf(db, cards).ToListAsync(ct);
        var byCode = steps.ToLookup(x => (x.VisitId, x.Code));
        return new(
            steps
                .Where(x => x.Code.EndsWith(".drained", StringComparison.Ordinal))
                .OrderByDescending(x => cards.IndexOf(x.VisitId))
                .Select(x => (Step: x, Item: items.Find(i => x.Code == i.Code + ".drained")))
                .Where(x => x.Item is not null)
                .Select(x => (x.Item!.Compartment, Change: Read(x.Step.VisitId, x.Item, x.Step.Answer)))
                .Where(x => x.Change is not null)
                .ToLookup(x => x.Compartment, x => x.Change!, StringComparer.Ordinal),
            steps
                .Where(x => x.Code.EndsWith(TopStep, StringComparison.Ordinal))
                .OrderBy(x => cards.IndexOf(x.VisitId))
                .Select(x => (x.Code, (JobContext.ReadAnswer(x.Answer) as FillAnswer)?.Litres))
                .Where(x => x.Litres > 0)
                .GroupBy(x => x.Code, x => x.Litres!.Value, StringComparer.Ordinal)
                .Select(x => (x.Key, Litres: x.Take(FluidBalance.PastChanges).ToList()))
                .Where(x => x.Litres.Count >= FluidBalance.FewestChanges)
                .ToDictionary(x => x.Key, x => Math.Round(Median.Of(x.Litres), 2), StringComparer.Ordinal)
        );

        Change? Read(long visit, ProgramItem item, string answer)
        {
            if (JobContext.ReadAnswer(answer) is not DrainedAnswer { Litres: { } drained })
                return null;
            var found = byCode[(visit, item.Code + ".found")].Select(x => JobContext.ReadAnswer(x.Answer)).FirstOrDefault();
            var filters = positions
                .Where(x => x.ItemCode == item.Code && byCode[(visit, $"{item.Code}.filter-{x.Code}")].Any())
                .Sum(x => x.Litres.Value);
            return new((found as LevelStepAnswer)?.Level, Exactly(filters), Exactly(drained));
        }
    }

    private static decimal Exactly(double litres) => Math.Round((decimal)litres, 3);
}
