using System.Collections.Immutable;

namespace Nippers.Core.Jobs;

/// <summary>Steps of a card that are done in one state of the machine, one after the other.</summary>
/// <param name="State">The state.</param>
/// <param name="Steps">The steps, those that lead into it and out of it too.</param>
public sealed record CardBand(MachineState State, ImmutableArray<JobStep> Steps)
{
    /// <summary>Parts a card into its bands; none is empty, and together they are the card.</summary>
    public static ImmutableArray<CardBand> Of(ImmutableArray<JobStep> steps)
    {
        var bands = ImmutableArray.CreateBuilder<CardBand>();
        var held = ImmutableArray.CreateBuilder<JobStep>();
        var state = MachineState.Off;
        void Close(MachineState next)
        {
            if (held.Count > 0)
                bands.Add(new(state, held.ToImmutable()));
            held.Clear();
            state = next;
        }

        foreach (var step in steps)
        {
            switch (step.Between)
            {
                case CardBetween.Isolate:
                    Close(MachineState.Isolated);
                    held.Add(step);
                    break;
                case CardBetween.Start:
                    Close(MachineState.Running);
                    held.Add(step);
                    break;
                case CardBetween.Clear:
                    Close(MachineState.Moving);
                    held.Add(step);
                    break;
                case CardBetween.Release or CardBetween.Stop:
                    held.Add(step);
                    Close(MachineState.Off);
                    break;
                default:
                    held.Add(step);
                    break;
            }
        }

        Close(state);
        return bands.ToImmutable();
    }
}
