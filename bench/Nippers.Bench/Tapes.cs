using System.Collections.Immutable;
using System.Diagnostics;
using System.Globalization;
using System.Text.Encodings.Web;
using Microsoft.Extensions.DependencyInjection;
using Nippers.Core.Hours;
using Nippers.Core.Service;
using Nippers.Views.Text;
using Nippers.Web.Drawing;

namespace Nippers.Bench;

/// <summary>Drawing a machine's hour tape: forty items that fall due at nine distances, as on Today and as on the machine's page.</summary>
internal static class Tapes
{
    private const int Items = 40;
    private const int Times = 2000;
    private static readonly int[] Intervals = [10, 50, 100, 250, 250, 500, 500, 1000, 2000];

    public static void Run()
    {
        var now = TimeProvider.System.GetUtcNow();
        ImmutableArray<Reading> readings = [.. Enumerable.Range(0, 90).Select(x => Reading.Of(now.AddDays(x - 90), 4000 + (x * 6)))];
        var record = new MeterRecord(readings, [], 6, DateOnly.FromDateTime(now.UtcDateTime).AddDays(-900), default);
        var at = new MachineNow(UsePerDay.Estimate(record, now), now);
        var machine = new DueMachine(History.SinceNew, record.CommissionedOn, record.CommissionedHours);
        var groups = DueGroup.Of([
            .. Enumerable
                .Range(0, Items)
                .Select(x => new ServiceItem($"item-{x}", MeterHours.Of(Intervals[x % Intervals.Length]), null))
                .Select(x => at.Stand(DuePoint.Of(x, machine, new(x.Code, record.CommissionedOn, MeterHours.Of(4300)), new()))),
        ]);
        CultureInfo.CurrentCulture = CultureInfo.CurrentUICulture = new("en-GB");
        using var services = new ServiceCollection().AddLogging().AddLocalization().AddSingleton<Words>().BuildServiceProvider();
        var words = services.GetRequiredService<Words>();
        foreach (var (big, back, ahead) in new[] { (false, 70.0, 330.0), (true, 100.0, 500.0) })
        {
            var input = new TapeInput("EX-04", at, groups, [4400, 4500], back, ahead, big);
            var length = 0;
            for (var warm = 0; warm < Times; warm++)
                length = Draw(input, words);
            var began = Stopwatch.GetTimestamp();
            for (var i = 0; i < Times; i++)
                Draw(input, words);
            Console.WriteLine(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"tape, {(big ? "large" : "on Today")}: {Stopwatch.GetElapsedTime(began).TotalMilliseconds / Times:0.000} ms, {groups.Length} pegs, {length} characters"
                )
            );
        }
    }

    private static int Draw(TapeInput input, Words words)
    {
        using var to = new StringWriter(CultureInfo.InvariantCulture);
        HourTape.Draw(input, words).WriteTo(to, HtmlEncoder.Default);
        return to.GetStringBuilder().Length;
    }
}
