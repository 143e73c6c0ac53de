using System.Collections.Immutable;

namespace Nippers.Core.Hours;

/// <summary>One meter taken off and another put on.</summary>
/// <param name="AtMs">When, ms since 1970 UTC.</param>
/// <param name="OldFinal">Last figure of the old meter.</param>
/// <param name="NewStart">First figure of the new one.</param>
public readonly record struct MeterSwap(long AtMs, MeterHours OldFinal, MeterHours NewStart);

/// <summary>Life hours less meter hours over time. Grows by old final less new start at each swap.</summary>
/// <remarks>Rules 1.</remarks>
public sealed class MeterOffsets
{
    private readonly ImmutableArray<MeterSwap> _swaps;

    /// <summary>Offsets from the swaps of a machine, in any order.</summary>
    public MeterOffsets(IEnumerable<MeterSwap> swaps) => _swaps = [.. swaps.OrderBy(swap => swap.AtMs)];

    /// <summary>
    /// Offset in tenths at an instant; a swap counts from its own instant on. Negative when a meter with more hours was fitted.
    /// </summary>
    public int TenthsAt(long ms)
    {
        var offset = 0;
        foreach (var swap in _swaps)
        {
            if (swap.AtMs > ms)
                break;
            offset += swap.OldFinal.Tenths - swap.NewStart.Tenths;
        }

        return offset;
    }

    /// <summary>The instant of the last swap; null without one.</summary>
    public long? LastSwapMs => _swaps.IsEmpty ? null : _swaps[^1].AtMs;
}
