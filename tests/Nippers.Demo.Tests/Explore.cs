using System.Diagnostics;
using Nippers.Core.Hours;
using Nippers.Core.Service;
namespace Nippers.Demo.Tests;
public sealed class Explore
{
    [Fact]
    public void Stats()
    {
        var w = Stopwatch.StartNew();
        var stats = new SortedDictionary<string, int>(StringComparer.Ordinal);
        var n = 0;
        long lived = 0, rec = 0;
        var zone = TimeZoneInfo.FindSystemTimeZoneById("Europe/London");
        for (var day = new DateOnly(2026, 11, 1); day < new DateOnly(2027, 1, 15); day = day.AddDays(1))
        {
            n++;
            var t0 = w.ElapsedMilliseconds;
            var lives = DemoFleet.Lives(day);
            lived += w.ElapsedMilliseconds - t0; t0 = w.ElapsedMilliseconds;
            if (n <= 3 && DemoFleet.Records(day, lives).Last() is not null) { rec += w.ElapsedMilliseconds - t0; }
            foreach (var life in lives)
            {
                var now = new DateTimeOffset(day.ToDateTime(new TimeOnly(7, 30)), TimeSpan.Zero);
                var at = new MachineNow(UsePerDay.Estimate(life.Known(), now), now, zone);
                var m = life.Entity();
                var dm = new DueMachine(m.History, m.CommissionedOn, new MeterHours(m.CommissionedTenths), m.Duty);
                var set = life.Program.ForDue();
                var st = life.Items.Where(x => !x.IsDaily).Select(x => at.Stand(DuePoint.Of(x.ForDue(), dm, life.LastDone.GetValueOrDefault(x.Code), set), set.ComingDays)).Where(x => x.Standing != Standing.Finished).ToList();
                var worst = st.Max(x => x.Standing);
                void Add(string k) => stats[k] = stats.GetValueOrDefault(k) + 1;
                Add($"{life.Unit} = {worst}");
                foreach (var x in st.Where(x => x.Standing >= Standing.Due && !x.NoRecord)) Add($"{life.Unit} {x.Standing} {x.Point.ItemCode} {(x.CalendarDecides ? "cal" : "h")} {x.Point.DueHours:0} {x.DaysLeft - 0 is { } q && false}");
            }
        }
        File.WriteAllLines("/tmp/stats.txt", stats.Select(x => $"{x.Value,4} {x.Key}").Prepend($"{n} days lived {lived / n} ms, records {rec / 3} ms"));
    }
}
