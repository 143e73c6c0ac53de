using System.Globalization;
using Nippers.Core.Hours;

namespace Nippers.Bench;

/// <summary>
/// How well the dates of rules 2 are met: made machines with rain spells, standing weeks and changes of site, looked at again and
/// again.
/// </summary>
internal static class Forecast
{
    private const int Machines = 120;
    private const int Days = 900;
    private const int FirstLook = 220;
    private const int LookEvery = 9;
    private const double Ahead = 250;

    private static readonly DateTimeOffset Start = new(2024, 1, 1, 6, 0, 0, TimeSpan.Zero);

    // What stood before: 90 days, half after 21, single days alone.
    private static readonly UseSettings Former = new(WindowDays: 90, HalfLifeDays: 21, Blocks: 0, RegimeShare: 0);

    private sealed class Score
    {
        private readonly List<double> _errors = [];
        private int _held;
        private int _asked;

        public void Error(double days) => _errors.Add(Math.Abs(days));

        public void Held(bool held)
        {
            _asked++;
            if (held)
                _held++;
        }

        public double Median => _errors.Order().ElementAt(_errors.Count / 2);

        public double P90 => _errors.Order().ElementAt(_errors.Count * 9 / 10);

        public string Share =>
            _asked == 0 ? "" : string.Create(CultureInfo.InvariantCulture, $", held by early-late {100.0 * _held / _asked:0} %");
    }

    public static void Run()
    {
        var scores = new Dictionary<string, Score>(StringComparer.Ordinal);
        Score Of(string way) => scores.TryGetValue(way, out var score) ? score : scores[way] = new();
        var looks = 0;
        for (var machine = 0; machine < Machines; machine++)
        {
            var planned = 3 + machine % 6;
            var life = Life(new Random(machine), planned);
            var commissioned = DateOnly.FromDateTime(Start.UtcDateTime);
            for (var day = FirstLook; day < Days - 120; day += LookEvery)
            {
                var now = Start.AddDays(day);
                var goal = life[day] + Ahead;
                var reached = Array.FindIndex(life, day, x => x >= goal);
                if (reached < 0)
                    continue;

                looks++;
                var truth = reached - (life[reached] - goal) / Math.Max(0.1, life[reached] - life[reached - 1]) - day;
                var record = new MeterRecord(
                    [.. Enumerable.Range(0, day + 1).Select(x => new Reading(Start.AddDays(x), MeterHours.Of(life[x])))],
                    [],
                    planned,
                    commissioned,
                    default
                );
                foreach (var (name, settings) in new[] { ("rules 2", UseSettings.Default), ("as before: 90 days, days alone", Former) })
                {
                    var dates = UsePerDay.Estimate(record, now, settings).Project(goal, now);
                    if (dates is null)
                        continue;
                    var today = DateOnly.FromDateTime(now.UtcDateTime).DayNumber;
                    Of(name).Error(dates.Typical.DayNumber - today - truth);
                    Of(name)
                        .Held(
                            dates.Early.DayNumber - today <= truth
                                && (dates.Late is null || truth <= dates.Late.Value.DayNumber - today + 1)
                        );
                }

                Of("planned use").Error(Ahead / planned - truth);
                Of("the last 14 days").Error(Ahead / Math.Max(0.5, (life[day] - life[day - 14]) / 14) - truth);
                Of("the last 90 days").Error(Ahead / Math.Max(0.5, (life[day] - life[day - 90]) / 90) - truth);
            }
        }

        Console.WriteLine(
            $"forecast: {looks} looks at {Machines} machines, {Ahead:0} h ahead; error of the typical date in days, early-late should hold 80 %"
        );
        foreach (var (way, score) in scores)
        {
            Console.WriteLine(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"forecast: {way,-32} median {score.Median,5:0.0}, 9 in 10 below {score.P90,5:0.0}{score.Share}"
                )
            );
        }
    }

    /// <summary>
    /// Life hours on each morning: weekdays, luck, spells of rain, weeks that it stands, and sites that use it otherwise.
    /// </summary>
    private static double[] Life(Random random, double planned)
    {
        var life = new double[Days];
        var (site, rain, stands) = (1.0, 0, 0);
        for (var day = 1; day < Days; day++)
        {
            if (random.NextDouble() < 1 / 110.0)
                site = 0.5 + random.NextDouble();
            if (rain == 0 && random.NextDouble() < 1 / 24.0)
                rain = 2 + random.Next(6);
            if (stands == 0 && random.NextDouble() < 1 / 95.0)
                stands = 6 + random.Next(16);
            var weekday = Start.AddDays(day - 1).DayOfWeek switch
            {
                DayOfWeek.Sunday => 0,
                DayOfWeek.Saturday => 0.5,
                _ => 1.3,
            };
            var worked =
                stands > 0 || (rain > 0 && random.NextDouble() < 0.7) ? 0 : planned * site * weekday * (0.7 + 0.6 * random.NextDouble());
            (rain, stands) = (Math.Max(0, rain - 1), Math.Max(0, stands - 1));
            life[day] = life[day - 1] + Math.Min(20, worked);
        }

        return life;
    }
}
