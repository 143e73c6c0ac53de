using System.Collections.Immutable;

namespace Nippers.Core.Hours;

/// <summary>One meter taken off and another put on.</summary>
/// <param name="At">When.</param>
/// <param name="OldFinal">Last figure of the old meter.</param>
/// <param name="NewStart">First figure of the new one.</param>
public readonly record struct MeterSwap(DateTimeOffset At, MeterHours OldFinal, MeterHours NewStart);

/// <summary>Life hours less meter hours over time. Grows by old final less new start at each swap.</summary>
/// <remarks>Rules 1.</remarks>
public sealed class MeterOffsets
{
    private readonly ImmutableArray<MeterSwap> _swaps;

    /// <summary>Offsets from the swaps of a machine, in any order.</summary>
    public MeterOffsets(IEnumerable<MeterSwap> swaps) => _swaps = [.. swaps.OrderBy(swap => swap.At)];

    /// <summary>
    /// The offset at an instant; a swap counts from its own instant on. Below zero when a meter with more hours was fitted.
    /// </summary>
    public MeterHours At(DateTimeOffset at)
    {
        var offset = MeterHours.Zero;
        foreach (var swap in _swaps)
        {
            if (swap.At > at)
                break;
            offset += swap.OldFinal - swap.NewStart;
        }

        return offset;
    }

    /// <summary>The instant of the last swap; null without one.</summary>
    public DateTimeOffset? LastSwapAt => _swaps.IsEmpty ? null : _swaps[^1].At;
}
