using Nippers.Core.Hours;

namespace Nippers.Core.Service;

/// <summary>Where an item's base hours and date come from.</summary>
public enum DueBasis
{
    /// <summary>The last completion.</summary>
    Completion,

    /// <summary>Never done: counted from commissioning.</summary>
    Commissioning,

    /// <summary>Never done: the break-in hours after commissioning.</summary>
    BreakIn,

    /// <summary>History unknown and nothing declared: due now.</summary>
    NoRecord,

    /// <summary>A once item that was done.</summary>
    Finished,

    /// <summary>A wear part: where the line through its measures meets its limit.</summary>
    Wear,

    /// <summary>Called before its interval is over: a verdict on a sample asks for it.</summary>
    Called,
}

/// <summary>The machine's part of a due point.</summary>
/// <param name="History">What is known of its past.</param>
/// <param name="CommissionedOn">Date of commissioning, or of its arrival for a used one.</param>
/// <param name="CommissionedHours">Life hours then.</param>
/// <param name="Duty">How hard its life is.</param>
public sealed record DueMachine(History History, DateOnly CommissionedOn, MeterHours CommissionedHours, Duty Duty = Duty.Normal);

/// <summary>When an item falls due and from what: fixed until work is recorded or the program changes. It knows no "now".</summary>
/// <remarks>
/// Rules 3. Hours here are doubles because an interval halved twice need not be whole tenths; they are exact all the same.
/// </remarks>
public sealed record DuePoint
{
    /// <summary>The service item that is due there.</summary>
    public required string ItemCode { get; init; }

    /// <summary>Where the base comes from.</summary>
    public required DueBasis Basis { get; init; }

    /// <summary>The school that applied.</summary>
    public required IntervalBasis IntervalBasis { get; init; }

    /// <summary>Interval in hours after duty; null when only the calendar counts.</summary>
    public double? IntervalHours { get; init; }

    /// <summary>Interval in months; null when only hours count.</summary>
    public int? IntervalMonths { get; init; }

    /// <summary>Life hours at which it is due; null when only the calendar counts, or without a record.</summary>
    public double? DueHours { get; init; }

    /// <summary>Date on which it is due; null when only hours count, or without a record.</summary>
    public DateOnly? DueOn { get; init; }

    /// <summary>Life hours it is counted from.</summary>
    public double BaseHours { get; init; }

    /// <summary>Date it is counted from.</summary>
    public DateOnly BaseOn { get; init; }

    /// <summary>Window before and after <see cref="DueHours"/>, hours.</summary>
    public double WindowHours { get; init; }

    /// <summary>Window before and after <see cref="DueOn"/>, days.</summary>
    public int WindowDays { get; init; }

    /// <summary>Without a late side.</summary>
    public bool Strict { get; init; }

    /// <summary>Grid: hours by which the last work came too early to count as the multiple it is due at; null when it counted.</summary>
    public double? TooEarlyBy { get; init; }

    /// <summary>Kilometres of its odometer; null when only hours and calendar count.</summary>
    public KmTrack? Km { get; init; }

    /// <summary>Computes the due point of one item.</summary>
    /// <param name="item">The item.</param>
    /// <param name="machine">History, commissioning, duty.</param>
    /// <param name="last">The last completion or baseline that counts, see <see cref="Completion.CountsBefore"/>; null when never
    /// done.</param>
    /// <param name="settings">Interval basis, credit and windows of the program.</param>
    /// <param name="km">Makes the kilometres of an interval, in thousandths, from the date of the last work, null for commissioning; null
    /// itself where the machine has no odometer.</param>
    /// <remarks>An item of kilometres alone, on a machine without an odometer, is due now: nobody can say that it is not.</remarks>
    public static DuePoint Of(
        ServiceItem item,
        DueMachine machine,
        Completion? last,
        DueSettings settings,
        Func<long, DateOnly?, IntervalBasis, KmTrack>? km = null
    )
    {
        var school = item.IntervalBasis ?? settings.IntervalBasis;
        var interval = item.IntervalMilli(machine.Duty);
        var bare = new DuePoint
        {
            ItemCode = item.Code,
            Basis = DueBasis.NoRecord,
            IntervalBasis = school,
            IntervalHours = interval / 1000.0,
            IntervalMonths = item.EveryMonths,
            Strict = item.Strict,
        };
        if (last is not null && item.Once)
            return bare with { Basis = DueBasis.Finished, BaseHours = last.Hours.Value, BaseOn = last.On };
        if (last is null && machine.History == History.Unknown)
            return bare;
        var kmMilli = item.KmMilli(machine.Duty);
        if (kmMilli is not null && km is null && interval is null && item.EveryMonths is null && item.FirstAtHours is null)
            return bare;

        var (baseHours, baseOn) = last is null ? (machine.CommissionedHours, machine.CommissionedOn) : (last.Hours, last.On);
        var first = last is null ? item.FirstAtHours : null;
        long? due = null;
        long windowOf = 0;
        if (first is { } firstAt)
        {
            due = (baseHours.Tenths + firstAt.Tenths) * 100L;
            windowOf = firstAt.Tenths * 100L;
        }
        else if (interval is { } i)
        {
            due = school == IntervalBasis.Fixed ? NextMultiple(baseHours, i, settings.CreditPercent) : baseHours.Tenths * 100L + i;
            windowOf = i;
        }

        var dueOn = item.EveryMonths is { } months ? baseOn.AddMonths(months) : (DateOnly?)null;
        return bare with
        {
            Basis =
                last is not null ? DueBasis.Completion
                : first is not null ? DueBasis.BreakIn
                : DueBasis.Commissioning,
            DueHours = due / 1000.0,
            DueOn = dueOn,
            BaseHours = baseHours.Value,
            BaseOn = baseOn,
            Km = kmMilli is { } every && km is not null ? km(every, last?.On, school) : null,
            WindowHours = due is null ? 0 : Math.Max(settings.LeastWindowHours, windowOf * settings.WindowPercent / 100_000.0),
            WindowDays = dueOn is { } on ? (on.DayNumber - baseOn.DayNumber) * settings.WindowPercent / 100 : 0,
            TooEarlyBy =
                last is not null && first is null && school == IntervalBasis.Fixed && interval is { } grid
                    ? EarlyBy(due!.Value, baseHours, grid)
                    : null,
        };
    }

    /// <summary>The same, called for earlier hours. A call for later ones changes nothing.</summary>
    /// <param name="hours">Life hours for which it is called.</param>
    /// <param name="settings">The program's numbers.</param>
    /// <remarks>Rules 10.</remarks>
    public DuePoint Called(MeterHours hours, DueSettings settings) =>
        Basis == DueBasis.NoRecord || DueHours <= hours.Value
            ? this
            : this with
            {
                Basis = DueBasis.Called,
                DueHours = hours.Value,
                WindowHours = settings.LeastWindowHours,
                TooEarlyBy = null,
            };

    private static long NextMultiple(MeterHours done, long interval, int creditPercent)
    {
        // floor((hc + credit I) / I), in hundredths of thousandths so that it stays whole.
        var k = (done.Tenths * 100L * 100 + creditPercent * interval) / (100 * interval);
        return (k + 1) * interval;
    }

    /// <summary>Work in the second half before a multiple was probably meant as that multiple.</summary>
    private static double? EarlyBy(long due, MeterHours done, long interval)
    {
        var short_ = due - done.Tenths * 100L;
        return short_ > 0 && short_ <= interval / 2 ? short_ / 1000.0 : null;
    }
}
