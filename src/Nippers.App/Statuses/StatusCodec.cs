using System.Collections.Immutable;
using Nippers.Core.Hours;
using Nippers.Core.Service;
using Nippers.Data.Fleet;

namespace Nippers.App.Statuses;

/// <summary>Due points of a machine, daily care apart.</summary>
public sealed record MachineDues(ImmutableArray<DuePoint> Service, ImmutableArray<DuePoint> Daily);

/// <summary>
/// Turns a machine's use and due points into a standing row and back. Today unpacks thousands of points for a page, so
/// they are packed as plain binary; the rows are derived, so another layout only needs them derived anew.
/// </summary>
public static class StatusCodec
{
    /// <summary>Layout of the packed points. A row of another layout is not read.</summary>
    private const byte Layout = 2;

    [Flags]
    private enum Has : byte
    {
        None = 0,
        IntervalHours = 1,
        IntervalMonths = 2,
        DueHours = 4,
        DueOn = 8,
        TooEarly = 16,
        Strict = 32,
        Km = 64,
    }

    internal static byte[] Encode(MachineDues dues, UsePerDay use)
    {
        using var stream = new MemoryStream(4096);
        using var to = new BinaryWriter(stream);
        to.Write(Layout);
        to.Write((byte)use.Parked.Length);
        foreach (var span in use.Parked)
        {
            to.Write(span.From.ToUnixTimeMilliseconds());
            to.Write(span.To?.ToUnixTimeMilliseconds() ?? 0);
        }

        foreach (var points in new[] { dues.Service, dues.Daily })
        {
            to.Write((ushort)points.Length);
            foreach (var point in points)
                Write(to, point);
        }

        return stream.ToArray();
    }

    /// <summary>Reads a row back into what the rules work with.</summary>
    /// <exception cref="InvalidDataException">The row has another layout and must be derived anew.</exception>
    public static (UsePerDay Use, MachineDues Dues) Decode(MachineStatusRow row)
    {
        using var from = new BinaryReader(new MemoryStream(row.Points, writable: false));
        if (from.ReadByte() != Layout)
            throw new InvalidDataException("A standing row of another layout; run ./nippers rebuild.");
        var parked = new ParkedSpan[from.ReadByte()];
        for (var i = 0; i < parked.Length; i++)
        {
            var (start, end) = (DateTimeOffset.FromUnixTimeMilliseconds(from.ReadInt64()), from.ReadInt64());
            parked[i] = new(start, end == 0 ? null : DateTimeOffset.FromUnixTimeMilliseconds(end));
        }

        var service = Points(from);
        var use = new UsePerDay
        {
            HoursPerDay = row.HoursPerDay,
            Sigma = row.Sigma,
            RateSigma = row.RateSigma,
            Basis = row.Basis,
            CoveredDays = row.CoveredDays,
            Last = new(row.LastAt, row.LastHours),
            HasReading = row.HasReading,
            Stale = row.Stale,
            Parked = [.. parked],
            AsOfMs = row.ComputedAt.ToUnixTimeMilliseconds(),
            Settings = UseSettings.Default,
        };
        return (use, new(service, Points(from)));
    }

    private static ImmutableArray<DuePoint> Points(BinaryReader from)
    {
        var points = ImmutableArray.CreateBuilder<DuePoint>(from.ReadUInt16());
        for (var i = points.Capacity; i > 0; i--)
            points.Add(Read(from));
        return points.MoveToImmutable();
    }

    private static void Write(BinaryWriter to, DuePoint point)
    {
        var has =
            (point.IntervalHours is null ? Has.None : Has.IntervalHours)
            | (point.IntervalMonths is null ? Has.None : Has.IntervalMonths)
            | (point.DueHours is null ? Has.None : Has.DueHours)
            | (point.DueOn is null ? Has.None : Has.DueOn)
            | (point.TooEarlyBy is null ? Has.None : Has.TooEarly)
            | (point.Strict ? Has.Strict : Has.None)
            | (point.Km is null ? Has.None : Has.Km);
        to.Write(point.ItemCode);
        to.Write((byte)has);
        to.Write((byte)point.Basis);
        to.Write((byte)point.IntervalBasis);
        to.Write(point.BaseHours);
        to.Write(point.BaseOn.DayNumber);
        if (point.IntervalHours is { } interval)
            to.Write(interval);
        if (point.IntervalMonths is { } months)
            to.Write(months);
        if (point.DueHours is { } hours)
        {
            to.Write(hours);
            to.Write(point.WindowHours);
        }

        if (point.DueOn is { } on)
        {
            to.Write(on.DayNumber);
            to.Write(point.WindowDays);
        }

        if (point.TooEarlyBy is { } early)
            to.Write(early);
        if (point.Km is { } km)
        {
            to.Write(km.Interval);
            to.Write(km.Base);
            to.Write(km.Due);
            to.Write(km.Window);
            to.Write(km.Now);
            to.Write(km.At.ToUnixTimeMilliseconds());
            to.Write(km.PerDay);
        }
    }

    // Initialisers run in the order in which they stand, which is the order in which the fields were written.
    private static DuePoint Read(BinaryReader from)
    {
        var code = from.ReadString();
        var has = (Has)from.ReadByte();
        return new DuePoint
        {
            ItemCode = code,
            Strict = has.HasFlag(Has.Strict),
            Basis = (DueBasis)from.ReadByte(),
            IntervalBasis = (IntervalBasis)from.ReadByte(),
            BaseHours = from.ReadDouble(),
            BaseOn = DateOnly.FromDayNumber(from.ReadInt32()),
            IntervalHours = has.HasFlag(Has.IntervalHours) ? from.ReadDouble() : null,
            IntervalMonths = has.HasFlag(Has.IntervalMonths) ? from.ReadInt32() : null,
            DueHours = has.HasFlag(Has.DueHours) ? from.ReadDouble() : null,
            WindowHours = has.HasFlag(Has.DueHours) ? from.ReadDouble() : 0,
            DueOn = has.HasFlag(Has.DueOn) ? DateOnly.FromDayNumber(from.ReadInt32()) : null,
            WindowDays = has.HasFlag(Has.DueOn) ? from.ReadInt32() : 0,
            TooEarlyBy = has.HasFlag(Has.TooEarly) ? from.ReadDouble() : null,
            Km = has.HasFlag(Has.Km)
                ? new(
                    from.ReadDouble(),
                    from.ReadDouble(),
                    from.ReadDouble(),
                    from.ReadDouble(),
                    from.ReadDouble(),
                    DateTimeOffset.FromUnixTimeMilliseconds(from.ReadInt64()),
                    from.ReadDouble()
                )
                : null,
        };
    }
}
