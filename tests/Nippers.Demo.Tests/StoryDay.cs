using System.Globalization;
using Nippers.App.Oil;
using Nippers.Core.Hours;
using Nippers.Core.Service;
using Nippers.Data.Programs;
using Nippers.Formats.Fleet;

namespace Nippers.Demo.Tests;

/// <summary>The scenario of one date, held against the sentences of its story.</summary>
internal sealed class StoryDay
{
    private static readonly TimeZoneInfo Zone = TimeZoneInfo.FindSystemTimeZoneById("Europe/London");

    // No sentence about walks looks further back.
    private const int WalkDays = 60;

    private readonly DateOnly _today;
    private readonly DateTimeOffset _now;
    private readonly IReadOnlyList<MachineLife> _lives;
    private readonly ILookup<Type, FleetRecord> _records;
    private readonly List<string> _broken = [];
    private readonly Dictionary<string, List<(ProgramItem Item, ItemStatus Stand)>> _stands;

    private StoryDay(DateOnly today, bool whole)
    {
        _today = today;
        _now = new DateTimeOffset(today.ToDateTime(new TimeOnly(7, 30)), TimeSpan.Zero);
        _lives = DemoFleet.Lives(today, WalkDays);
        _records = DemoFleet.Records(today, _lives).TakeWhile(x => whole || x is not FleetVisit).ToLookup(x => x.GetType());
        _stands = _lives.ToDictionary(x => x.Unit, Stands, StringComparer.Ordinal);
    }

    /// <summary>Sentences that do not hold on a date, each with the date.</summary>
    /// <param name="today">The date.</param>
    /// <param name="whole">With the sentences on visits and samples, which take most of the time.</param>
    public static IEnumerable<string> Broken(DateOnly today, bool whole)
    {
        var day = new StoryDay(today, whole);
        day.Fleet();
        day.Meters();
        day.Weather();
        day.Due();
        day.Walks();
        day.Defects();
        if (whole)
        {
            day.Visits();
            day.Samples();
        }

        return day._broken.Select(x => $"{today:yyyy-MM-dd ddd}: {x}");
    }

    private void Fleet()
    {
        var machines = All<FleetMachine>();
        Say(
            "fourteen machines of three invented makes",
            machines.Count == 22 && machines.All(x => x.Make is "Torvane" or "Brennock" or "Ulmar")
        );
        Say("three sites", All<FleetSite>().Select(x => x.Name).SequenceEqual(["Clay Pit", "Landing Yard", "North Bank"]));
        Say("one bought used, without papers", machines.Where(x => x.History == "unknown").Select(x => x.Unit).SequenceEqual(["EX-03"]));
        Say(
            "one just commissioned",
            machines.Count(x => Back(x.CommissionedOn) < 30 && x.History == "sinceNew") == 1
                && machines.Single(x => x.Unit == "TL-02").CommissionedOn == Day(11)
        );
        var newest = machines.Single(x => x.Unit == "TL-02");
        Say("the new one's display has a code that somebody explained", newest.Codes is [{ Code: "E361(2)" }]);
        Say(
            "it stands as it was left, if it worked in the last three days",
            newest.Parkings is null or [{ By: "Ines Varrow", Done: [.., "heater"] }]
        );
        Say("one stands parked", machines.Where(x => x.Parked.Any(p => p.To is null)).Select(x => x.Unit).SequenceEqual(["TL-01"]));
    }

    private void Meters()
    {
        var readings = All<FleetReading>().GroupBy(x => x.Unit).ToDictionary(x => x.Key, x => x.ToList(), StringComparer.Ordinal);
        Say("about fourteen months", readings["EX-01"].Max(x => Back(x.At)) == 425);
        Say(
            "nothing lies ahead",
            All<FleetReading>().All(x => At(x.At) <= _now)
                && All<FleetCompletion>().All(x => At(x.Entered) <= _now)
                && All<FleetWalk>().All(x => At(x.Started) <= _now)
        );
        Say(
            "one meter was replaced",
            All<FleetMachine>().Where(x => x.MeterChanges.Count > 0).Select(x => x.Unit).SequenceEqual(["WL-02"])
        );
        var odd = All<FleetReading>().Where(x => x.State != "accepted").ToList();
        Say(
            "one unconfirmed reading with a swapped pair of digits",
            odd.Count == 1 && odd[0] is { Unit: "EX-04", Hours: 4573.4 } && Back(odd[0].At) == 0
        );
        if (odd.Count == 1)
        {
            var meant = ReadingJudge.Judge(Life("EX-04").Known(), At(odd[0].At), MeterHours.Of(odd[0].Hours), _now);
            Say("the swapped pair is found again", meant.Code == ReadingCode.Check && meant.DidYouMean.Any(x => x.Value == 4537.4));
        }

        Say(
            "one meter nobody has read for more than two weeks",
            readings.Where(x => x.Value.Min(r => Back(r.At)) > 14 && x.Key != "TL-01").Select(x => x.Key).SequenceEqual(["WL-03"])
        );
        Say("every other meter was read this morning", readings.Count(x => x.Value.Min(r => Back(r.At)) == 0) == 20);
    }

    private void Weather()
    {
        double Ran(int from, int to) => _lives.Sum(x => (x.LifeHours(to) - x.LifeHours(from)).Value);
        Say("a flood week with nothing", Ran(64, 57) == 0);
        var months = Enumerable
            .Range(1, 420)
            .GroupBy(back => _today.AddDays(-back) is var day ? (day.Year, day.Month) : default)
            .Where(x => x.Count() >= 28 && !x.Any(back => back is >= 57 and <= 64))
            .ToList();
        var perDay = months.Select(x => (x.Key, Hours: Ran(x.Max(), x.Min()) / (x.Max() - x.Min()))).ToList();
        var august = perDay.Where(x => x.Key.Month == 8).Select(x => x.Hours).DefaultIfEmpty(double.MaxValue).Max();
        Say("a busy August", perDay.Where(x => x.Key.Month != 8).All(x => x.Hours < august));
    }

    private void Due()
    {
        foreach (var life in _lives)
        {
            var worst = _stands[life.Unit].Max(x => x.Stand.Status);
            Say($"{life.Unit} is {life.Cast.Ends}, not {worst}: {Names(life.Unit, worst)}", worst == life.Cast.Ends);
        }

        Say("the used one has no record", _stands["EX-03"].Count(x => x.Stand.NoRecord) > 20);
        Say(
            "the new one's first 50 h service is open",
            _stands["TL-02"].Any(x => x.Stand.Point.Basis == DueBasis.BreakIn && x.Stand.DueHours == 50 && x.Stand.Status == DueStatus.Due)
        );
        var late = _stands["DZ-02"].Single(x => x.Item.Code == "fuel-secondary").Stand;
        Say(
            "a 500 h service is 84 h past",
            late is { Status: DueStatus.Overdue, DueHours: 8500 }
                && Math.Round(-late.HoursLeft!.Value) == 84
                && late.Point.IntervalHours == 500
        );

        var slips = All<FleetCompletion>()
            .Where(x =>
                x is { Kind: "work", Item: "engine-oil" } && x.Unit != "EX-03" && Life(x.Unit).Program.IntervalBasis == IntervalBasis.Fixed
            )
            .Select(x => x.LifeHours - Math.Round(x.LifeHours / 250) * 250)
            .ToList();
        Say(
            "services early, on time and late",
            slips.Exists(x => x < -8) && slips.Exists(x => Math.Abs(x) <= 8) && slips.Exists(x => x > 8)
        );
    }

    private void Walks()
    {
        var walks = All<FleetWalk>();
        var quick = walks.Where(x => x.Finished is { } over && (At(over) - At(x.Started)).TotalSeconds / x.Answered < 4).ToList();
        Say("one walk was done too quickly, yesterday", quick.Count == 1 && quick[0].Unit == "DZ-03" && quick[0].On == Day(1));
        Say("one walk is open", walks.Where(x => x.State == "open").Select(x => (x.Unit, x.On)).SequenceEqual([("EX-02", Day(0))]));
        var today = walks.Where(x => x.On == Day(0)).Select(x => x.Unit).Order(StringComparer.Ordinal);
        Say(
            "thirteen walked today",
            today.SequenceEqual([
                "BL-01",
                "CP-01",
                "DR-01",
                "DZ-01",
                "DZ-02",
                "EX-02",
                "EX-03",
                "EX-05",
                "RC-01",
                "SL-01",
                "TH-01",
                "TT-01",
                "WL-02",
            ])
        );
        Say(
            "every fault was found on a walk",
            DemoDefects.Found.All(x => walks.Any(w => w.Unit == x.Unit && w.On == Day(x.Back) && w.Faults > 0))
        );
        Say(
            "water in the bowl again and again",
            walks
                .Where(x => x.Unit == "EX-04" && Back(x.On) <= 30)
                .Sum(x => x.Measures!.Count(m => m is { Check: "fuel-bowl", Value: > 0 })) >= 3
        );
        Say(
            "an engine that has begun to use oil",
            All<FleetTopUp>().Count(x => x is { Unit: "DZ-02", Compartment: "engine" } && Back(x.At) <= 30) >= 4
        );
    }

    private void Defects()
    {
        var defects = All<FleetDefect>();
        var open = defects.Where(x => x.State == "open").ToList();
        Say(
            "one stop open, found yesterday on a walk",
            open.Where(x => x.Grade == "stop").Select(x => (x.Unit, x.On, x.Walk is not null)).SequenceEqual([("DZ-01", Day(1), true)])
        );
        Say(
            "one stop repaired and not yet returned",
            defects.Where(x => x.State == "repaired").Select(x => x.Unit).SequenceEqual(["EX-05"])
        );
        var deferred = defects.Where(x => x.Events.Any(e => e.Act == "deferred")).ToList();
        Say(
            "one deferred past its limit",
            deferred.Count == 1
                && string.CompareOrdinal(deferred[0].Events[0].LimitOn, Day(0)) < 0
                && string.CompareOrdinal(deferred[0].LimitOn, Day(0)) > 0
        );
        var third = defects.Where(x => x is { RepeatOf: not null, State: "open" }).ToList();
        Say(
            "one keeps coming back",
            third.Count == 1 && defects[(int)third[0].RepeatOf!.Value - 1].RepeatOf is { } first && defects[(int)first - 1].Unit == "EX-03"
        );
        Say(
            "defects that say a walk found them name that day's walk",
            defects
                .Where(x => x.Walk is not null)
                .All(x => All<FleetWalk>()[(int)x.Walk!.Value - 1] is var w && w.Unit == x.Unit && w.On == x.On)
        );
    }

    private void Visits()
    {
        var open = All<FleetVisit>().Where(x => x.State == "open").ToList();
        Say(
            "one card half done since yesterday",
            open.Count == 1 && open[0].Unit == "DZ-02" && open[0].On == Day(1) && open[0].Steps!.Count >= 8
        );
        Say(
            "its oil is out and no plug is in",
            open.Count == 1
                && open[0].Steps!.Any(x => x.Code == "engine-oil.drain")
                && !open[0].Steps!.Any(x => x.Code == "engine-oil.plug")
        );
        Say(
            "a filter failed its fit check",
            All<FleetFilterLog>().Where(x => x.State == "refused").Select(x => x.Unit).SequenceEqual(["DZ-02"])
        );
        Say(
            "one visit is planned for tomorrow",
            All<FleetVisit>().Where(x => x.State == "planned").Select(x => (x.Unit, x.On)).SequenceEqual([("EX-04", Day(-1))])
        );
        Say("closed cards of the last months", All<FleetVisit>().Count(x => x.State == "closed") > 30);

        var shelf = All<FleetStock>().GroupBy(x => (x.Part, x.Site)).ToDictionary(x => x.Key, x => x.Sum(s => s.Quantity));
        Say("no shelf holds less than nothing", shelf.Values.All(x => x >= 0));
        var need = _lives
            .SelectMany(life =>
                _stands[life.Unit]
                    .Where(x => x.Stand.Status >= DueStatus.Coming)
                    .SelectMany(x =>
                        DemoParts.Positions(life.Cast).Where(p => p.ItemCode == x.Item.Code).Select(p => (p.Part!.Number, life.Cast.Site))
                    )
            )
            .GroupBy(x => x)
            .Select(x => (x.Key, Count: x.Count()));
        Say("stock below what next month needs", need.Any(x => shelf.GetValueOrDefault((x.Key.Number, x.Key.Site)) < x.Count));
    }

    private void Samples()
    {
        var samples = All<FleetSample>();
        Say(
            "one interval between oil changes earned",
            All<FleetDrainChange>().Any(x => x is { Unit: "EX-01", Reason: "earned" })
                && All<FleetDrainChange>().Count(x => x.Unit == "EX-01") == 1
        );
        Say(
            "one earned and lost again",
            All<FleetDrainChange>().Where(x => x.Unit == "DZ-02").Select(x => x.Reason).SequenceEqual(["earned", "badSample"])
        );
        Say("salt water in a final drive waits for a signature", Waits("EX-02", "final-drive-left", "saltWater"));
        Say("dirt past an air cleaner waits for a signature", Waits("DZ-01", "engine", "dirt"));
        Say("fuel in an engine oil waits for a signature", Waits("WL-02", "engine", "fuel"));
        Say(
            "copper from a new cooler, signed as harmless",
            Of("WL-03", "hydraulic").Any(x => x is { Verdict: "steady", Advised: "watch" or "act" } && Patterns(x).Contains("cooler"))
        );
        Say(
            "a mixed-up bottle",
            samples.Where(x => x.DrawnWrong == true).Select(x => (x.Unit, x.Compartment)).SequenceEqual([("EX-04", "engine")])
        );
        foreach (var state in new[] { "taken", "sent", "reported", "judged" })
            Say($"samples {state}", samples.Any(x => x.State == state));
        Say("one bottle is late", samples.Any(x => x.State == "sent" && Back(x.Sent!) > 14));
        Say("a result without its bottle", All<FleetLooseResult>().Count == 1);
        Say("salt water has thinned the coolant of one", All<FleetCoolantTest>().Any(x => x is { Unit: "EX-02", Inhibitor: "low" }));
        var marks = samples.Select(x => x.Bottle).Concat(All<FleetBottle>().Select(x => x.Code)).ToList();
        Say("no bottle twice", marks.Distinct(StringComparer.Ordinal).Count() == marks.Count);
    }

    private bool Waits(string unit, string compartment, string pattern) =>
        Of(unit, compartment).LastOrDefault(x => x.Reported is not null) is { State: "reported" } last && Patterns(last).Contains(pattern);

    private IEnumerable<FleetSample> Of(string unit, string compartment) =>
        All<FleetSample>().Where(x => x.Unit == unit && x.Compartment == compartment);

    private static IEnumerable<string> Patterns(FleetSample sample) =>
        OilCase.Read(sample.Case!.Value.GetRawText()).Judge().Patterns.Select(x => x.Code);

    private List<(ProgramItem Item, ItemStatus Stand)> Stands(MachineLife life)
    {
        var at = new MachineNow(UsePerDay.Estimate(life.Known(), _now), _now, Zone);
        var entity = life.Entity();
        var machine = new DueMachine(entity.History, entity.CommissionedOn, entity.CommissionedHours, entity.Duty);
        var settings = life.Program.ForDue();
        return
        [
            .. life
                .Items.Where(x => !x.IsDaily)
                .Select(x =>
                    (x, at.Stand(DuePoint.Of(x.ForDue(), machine, life.LastDone.GetValueOrDefault(x.Code), settings), settings.ComingDays))
                )
                .Where(x => x.Item2.Status != DueStatus.Finished),
        ];
    }

    private string Names(string unit, DueStatus standing) =>
        string.Join(
            ' ',
            _stands[unit].Where(x => x.Stand.Status == standing).Select(x => $"{x.Item.Code}@{x.Stand.DueHours}/{x.Stand.DueOn}").Take(4)
        );

    private void Say(string sentence, bool holds)
    {
        if (!holds)
            _broken.Add(sentence);
    }

    private IReadOnlyList<T> All<T>()
        where T : FleetRecord => [.. _records[typeof(T)].Cast<T>()];

    private MachineLife Life(string unit) => _lives.Single(x => x.Unit == unit);

    private string Day(int back) => _today.AddDays(-back).ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);

    private int Back(string when) =>
        _today.DayNumber - DateOnly.ParseExact(when[..10], "yyyy-MM-dd", CultureInfo.InvariantCulture).DayNumber;

    private static DateTimeOffset At(string instant) => DateTimeOffset.Parse(instant, CultureInfo.InvariantCulture);
}
