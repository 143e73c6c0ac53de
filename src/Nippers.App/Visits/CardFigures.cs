using Nippers.Core.Jobs;
using Nippers.Data.Visits;
using Nippers.Data.Walks;

namespace Nippers.App.Visits;

/// <summary>Figures that a card measured, as they stand beside those of walks: wear parts and histories go on with them.</summary>
internal static class CardFigures
{
    /// <summary>The measures of a closed card.</summary>
    public static IEnumerable<MeasureRow> Of(
        VisitRow visit,
        KeptCard card,
        IReadOnlyDictionary<string, (StepAnswer Answer, DateTimeOffset At)> answers
    ) =>
        from step in card.Steps
        where step.Input == InputKind.Measured && answers.ContainsKey(step.Code)
        let kept = answers[step.Code]
        where kept.Answer is MeasuredAnswer { Figures.IsDefault: false }
        from pair in step.Figures.Zip(((MeasuredAnswer)kept.Answer).Figures)
        where pair.Second is not null
        select new MeasureRow
        {
            MachineId = visit.MachineId,
            CheckCode = pair.First.Code,
            Value = pair.Second ?? 0,
            At = kept.At,
            On = visit.On,
            LifeHours = visit.LifeHours,
            VisitId = visit.Id,
            Used = true,
        };
}
