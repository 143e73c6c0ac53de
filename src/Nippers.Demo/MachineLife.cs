using Nippers.App.Exchange;
using Nippers.App.Readings;
using Nippers.Core.Hours;
using Nippers.Core.Service;
using Nippers.Core.Walk;
using Nippers.Data.Fleet;
using Nippers.Data.Programs;
using Nippers.Data.Records;
using Nippers.Data.Walks;
using Nippers.Formats.Fleet;

namespace Nippers.Demo;

/// <summary>Lives one machine of the scenario day by day: it runs, its meter is read, its services are done, or not.</summary>
/// <param name="cast">The machine.</param>
/// <param name="program">What it follows.</param>
/// <param name="today">The date the scenario ends on.</param>
/// <param name="walkDays">How many days back walks are told; who asks for the last weeks alone need not wait for the rest.</param>
internal sealed class MachineLife(DemoMachine cast, ServiceProgram program, DateOnly today, int walkDays = int.MaxValue)
{
    private const int Days = 425;
    private const int DailyCareDays = 60;
    private const int RecentDays = 45;

    // Days before the end on which every machine that works is walked round.
    private const int WalkedDays = 10;

    // Days before the end whose readings the swapped digits take the place of.
    private const int MisreadDays = 5;
    private const int UsedSince = 40;
    private const int NewSince = 11;
    private const int SwapBefore = 118;
    private const int ParkedSince = 22;
    private const int UnreadSince = 15;

    // The last days before the end, on which nobody works much longer than planned and care is done that would be late.
    private const int CareDays = 2;
    private const double StoryShare = 0.6;
    private const double EvenShare = 0.9;
    private const double LongestShare = 1.5;
    private const double BigHours = 200;
    private const double SwapNewStart = 0.4;
    private const double FirstServiceHours = 4010;
    private const double DeliveredAt = 2.5;
    private const double SpringNeapDays = 14.77;

    private readonly TimeZoneInfo _zone = TimeZoneInfo.FindSystemTimeZoneById(DemoCast.Zone);
    private readonly List<ReadingRow> _readings = [];
    private readonly List<CompletionRow> _completions = [];
    private readonly Dictionary<string, Completion> _last = new(StringComparer.Ordinal);
    private readonly Dictionary<string, DuePoint> _points = new(StringComparer.Ordinal);
    private readonly DueSettings _settings = program.ForDue();
    private MeterChange? _swap;
    private ParkedRow? _parked;
    private int _batches;
    private double? _startHours;
    private DateOnly? _commissionedOn;
    private DueMachine? _forDue;
    private double? _newShare;
    private WalkLife? _walking;
    private readonly Dictionary<int, MeterHours> _lifeAt = [];

    public string Unit => cast.Unit;

    /// <summary>Its part in the story.</summary>
    public DemoMachine Cast => cast;

    /// <summary>The program it follows.</summary>
    public ServiceProgram Program => program;

    private bool Is(Story story) => cast.Story.HasFlag(story);

    private int FirstDay =>
        Is(Story.JustNew) ? NewSince
        : Is(Story.NoRecord) ? UsedSince
        : Days;

    private DateOnly Start => today.AddDays(-FirstDay);

    private double StartHours =>
        _startHours ??= cast.FinalHours - Enumerable.Range(0, FirstDay).Sum(back => Worked(today.AddDays(-back - 1)));

    private DateOnly CommissionedOn => _commissionedOn ??= FirstDay < Days ? Start : Start.AddDays(-(int)(StartHours / cast.Planned * 1.2));

    private MeterHours CommissionedHours => Is(Story.NoRecord) ? MeterHours.Of(StartHours) : default;

    private DueMachine ForDue =>
        _forDue ??= new(Is(Story.NoRecord) ? History.Unknown : History.SinceNew, CommissionedOn, CommissionedHours, cast.Duty);

    /// <summary>Items that its options switch on.</summary>
    public List<ProgramItem> Items { get; } =
    [.. program.Items.Where(x => OptionRule.Holds(x.Needs, cast.Options.Split(' ').ToHashSet(StringComparer.Ordinal)))];

    /// <summary>Lives from the first day to this morning.</summary>
    public void Run()
    {
        if (FirstDay == Days)
            Inherit();
        _walking = new(cast, StartHours);
        var hours = StartHours;
        for (var back = FirstDay; back >= 0; back--)
        {
            var day = today.AddDays(-back);
            if (Is(Story.MeterReplaced) && back == SwapBefore)
                SwapMeter(day, hours);
            _lifeAt[back] = MeterHours.Of(hours);
            Morning(day, back, hours);
            hours += Worked(day);
        }

        if (Is(Story.SwappedDigits))
            Misread();
        if (Is(Story.Parked))
            _parked = new()
            {
                From = At(today.AddDays(1 - ParkedSince), 9),
                Reason = "Waits for the spring tides",
                By = "Mara Quill",
            };
    }

    /// <summary>When it stands parked; empty when it does not.</summary>
    public IReadOnlyList<ParkedRow> Parked => _parked is null ? [] : [_parked];

    public WalkLife Walking => _walking ?? throw new InvalidOperationException("It has not been lived yet.");

    /// <summary>Life hours some days before the end.</summary>
    public MeterHours LifeHours(int back) => _lifeAt[Math.Min(back, FirstDay)];

    public FleetMachine Machine() =>
        FleetMapping.ToRecord(
            Entity(),
            cast.Site,
            program.Code,
            Parked,
            _swap is null ? [] : [_swap],
            limits: Walking.Own,
            positions: DemoParts.Positions(cast),
            parkings: LeftForTomorrow(),
            codes: Codes(),
            odometer: OdometerRead()
        );

    /// <summary>Where it has an odometer: what it showed with the meter's readings, once a week and this morning.</summary>
    private List<OdometerRow> OdometerRead() =>
        cast.KmPerHour <= 0
            ? []
            :
            [
                .. _readings
                    .Where(x => x.State == ReadingState.Accepted)
                    .OrderBy(x => x.At)
                    .GroupBy(x => (today.DayNumber - DateOnly.FromDateTime(x.At.UtcDateTime).DayNumber + 6) / 7)
                    .Select(x => x.Last())
                    .Select(x => new OdometerRow
                    {
                        At = x.At,
                        KmTenths = Km(x.LifeHours),
                        By = x.By,
                        EnteredAt = x.EnteredAt,
                    }),
            ];

    private int Km(MeterHours life) => (int)Math.Round(life.Value * cast.KmPerHour) * 10;

    /// <summary>Who runs the new machine has taken to the evening's card: how it was left when it last worked.</summary>
    private List<ParkingRow> LeftForTomorrow() =>
        Is(Story.JustNew) && Enumerable.Range(1, 3).FirstOrDefault(back => Worked(today.AddDays(-back)) > 0) is > 0 and var last
            ?
            [
                new()
                {
                    On = today.AddDays(-last),
                    At = At(today.AddDays(-last), 17),
                    By = "Ines Varrow",
                    Done = ParkingCard.Write([
                        ParkingLine.Tracks,
                        ParkingLine.Fuel,
                        ParkingLine.Level,
                        ParkingLine.Position,
                        ParkingLine.Isolator,
                        ParkingLine.Heater,
                    ]),
                    Note = "Stands by the fence, cord on the left post",
                },
            ]
            : [];

    private List<MachineCode> Codes() =>
        Is(Story.JustNew)
            ?
            [
                new()
                {
                    Code = "E361(2)",
                    Meaning = "Air heater relay, shows on cold mornings",
                    By = "Tam Ollery",
                    At = At(today.AddDays(-3), 8),
                },
            ]
            : [];

    /// <summary>The machine with what its manual says.</summary>
    public Machine Entity() =>
        new()
        {
            Unit = cast.Unit,
            Kind = cast.Kind,
            Make = cast.Make,
            Model = cast.Model,
            Serial = cast.Serial,
            Note = cast.Note,
            History = ForDue.History,
            CommissionedOn = CommissionedOn,
            CommissionedHours = CommissionedHours,
            Duty = cast.Duty,
            PlannedHoursPerDay = cast.Planned,
            CommissionedKm = cast.KmPerHour > 0 ? Km(CommissionedHours) / 10 : null,
            PlannedKmPerDay = cast.Planned * cast.KmPerHour,
            Options = cast.Options,
            BleedMethod = "Hand pump",
            BleedPoints = "primary filter head, secondary filter head, pump",
            CrankSeconds = 15,
            RestSeconds = 60,
            CrankRepeats = 3,
            Compartments = [.. DemoParts.Compartments(cast).Where(x => program.Compartments.Exists(c => c.Code == x.Code))],
        };

    /// <summary>Work and baselines as they were entered together.</summary>
    public IReadOnlyList<List<CompletionRow>> Batches => [.. _completions.GroupBy(x => x.Batch).Select(x => x.ToList())];

    /// <summary>What was last done of each item.</summary>
    public IReadOnlyDictionary<string, Completion> LastDone => _last;

    /// <summary>Its meter as this morning knows it.</summary>
    public MeterRecord Known() =>
        new(
            [.. _readings.Where(x => x.State == ReadingState.Accepted).OrderBy(x => x.At).Select(x => x.ToReading())],
            [.. Parked.Select(x => x.ToSpan())],
            cast.Planned,
            CommissionedOn,
            CommissionedHours
        );

    public IEnumerable<FleetReading> Readings() =>
        _readings.OrderBy(x => x.At).ThenBy(x => x.LifeHours).Select(x => FleetMapping.ToRecord(x, cast.Unit));

    public IEnumerable<FleetCompletion> Completions() =>
        _completions.OrderBy(x => x.EnteredAt).Select(x => FleetMapping.ToRecord(x, cast.Unit));

    /// <summary>Hours run on a day. A machine that is just new has run what its story says, whatever weekdays lie between.</summary>
    private double Worked(DateOnly day) => Is(Story.JustNew) ? Math.Round(Told(day) * NewShare, 1) : Told(day);

    private double NewShare =>
        _newShare ??= (cast.FinalHours - DeliveredAt) / Enumerable.Range(1, NewSince).Sum(back => Told(today.AddDays(-back)));

    /// <summary>Hours of a day where the story wants them so, else as they come.</summary>
    private double Told(DateOnly day)
    {
        var (planned, back) = (Planned(day), today.DayNumber - day.DayNumber);
        if (Is(Story.SwappedDigits) && back is >= 1 and <= MisreadDays + 1)
            return Math.Round(cast.Planned * EvenShare, 1);
        if (planned <= 0 && MustWork(back))
            return Math.Round(cast.Planned * StoryShare, 1);
        return back <= CareDays ? Math.Min(planned, Math.Round(cast.Planned * LongestShare, 1)) : planned;
    }

    /// <summary>Whether the story needs a walk on a day, be it a Sunday or a day on which it would have stood.</summary>
    private bool MustWork(int back) =>
        back >= 1
        && (
            IsCareDay(back)
            || (cast.Story & (Story.QuickWalk | Story.BottleFilled)) != 0 && back == 1
            || DemoDefects.Found.Any(x => x.Unit == cast.Unit && x.Back == back)
        );

    /// <summary>The days before the end on which care is done that would be late by today.</summary>
    private bool IsCareDay(int back) => Is(Story.Parked) ? back == ParkedSince : back is >= 1 and <= CareDays;

    /// <summary>The plan of a day, bent by tides, weekends, season and luck.</summary>
    private double Planned(DateOnly day)
    {
        var back = today.DayNumber - day.DayNumber;
        if (back <= 0)
            return 0;
        if (back <= DemoCast.FloodStart && back > DemoCast.FloodStart - DemoCast.FloodDays)
            return 0;
        if (Is(Story.Parked) && back < ParkedSince)
            return 0;
        if (day.DayOfWeek == DayOfWeek.Sunday)
            return 0;
        if (back > WalkedDays && Chance.Of("idle", cast.Unit, day.DayNumber) < 0.06)
            return 0;

        var tide = 1 + cast.Tidal * 0.5 * Math.Cos(2 * Math.PI * day.DayNumber / SpringNeapDays);
        var season = day.Month switch
        {
            8 => 1.3,
            12 or 1 => 0.75,
            _ => 1,
        };
        var weekday = day.DayOfWeek == DayOfWeek.Saturday ? 0.5 : 1.25;
        var luck = Chance.Between(0.75, 1.2, "luck", cast.Unit, day.DayNumber);
        return Math.Round(Math.Min(cast.Planned * tide * season * weekday * luck, 14), 1);
    }

    /// <summary>What the old service book says of the time before: each item done at its last multiple.</summary>
    private void Inherit()
    {
        var hours = StartHours;
        foreach (var item in Items.Select(x => x.ForDue()))
        {
            var interval = item.Interval(cast.Duty);
            var at =
                item.Once ? Math.Min(item.FirstAtHours!.Value.Value, hours)
                : interval is { } i ? Math.Floor(hours / i) * i
                : hours - Chance.Between(0, 300, item.Code, cast.Unit, 0);
            at = Math.Max(0, at + (interval ?? 0) * Chance.Between(-0.05, 0, item.Code, cast.Unit, 1));
            if (item.EveryMonths is { } months && (hours - at) / cast.Planned > months * 28)
                at = hours - months * 14 * cast.Planned;
            var on = Start.AddDays(-1 - (int)((hours - at) / cast.Planned));
            if (on < CommissionedOn)
                continue;
            Complete(
                [item.Code],
                on,
                Math.Max(0, at),
                CompletionKind.Baseline,
                "Tam Ollery",
                "from the service book",
                "Service book",
                Start
            );
        }
    }

    private void Morning(DateOnly day, int back, double hours)
    {
        var read =
            back == 0
            || back == FirstDay
            || (
                (Worked(day.AddDays(-1)) > 0 || back <= RecentDays && Worked(day) > 0)
                && (
                    MustWork(back) || back <= WalkedDays || Chance.Of("read", cast.Unit, day.DayNumber) < (back <= RecentDays ? 0.97 : 0.85)
                )
            );
        if (Is(Story.Unread) && back < UnreadSince)
            read = false;
        if (Is(Story.Parked) && back < ParkedSince - 1)
            read = false;
        var minute = Chance.Between(-20, 0, "minute", cast.Unit, day.DayNumber) / 60;
        var reader = Chance.Pick(DemoCast.Operators, "reader", cast.Unit, day.DayNumber);
        if (read)
            Read(At(day, DemoFleet.Morning.TotalHours + minute), hours, reader);

        var batch = read ? Walk(day, back, hours, minute, reader) : null;

        // The day that is just beginning has no work recorded yet.
        if (back == 0)
            return;
        if (Worked(day) <= 0)
            return;
        if (back <= DailyCareDays && batch is not null && !Is(Story.NoRecord))
            Complete([.. Items.Where(x => x.IsDaily).Select(x => x.Code)], day, hours, CompletionKind.Work, reader, "", null, day, batch);
        if (read || Is(Story.Unread))
            Service(day, back, hours);
        if (Is(Story.BottleFilled) && back == 1)
            Complete(["hydraulic-sample"], day, hours, CompletionKind.Work, "Wenna Pask", "", null, day);
        if (IsCareDay(back) && !Is(Story.JustNew))
            Settle(day, hours);
    }

    private string? Walk(DateOnly day, int back, double hours, double minute, string by)
    {
        if (back > walkDays || back == FirstDay && FirstDay == Days)
            return null;
        if (back == 0 && Is(Story.NotWalkedYet))
            return null;
        if (back > 0 && Worked(day) <= 0)
            return null;
        if (Is(Story.SwappedDigits) && back <= MisreadDays)
            return null;
        var life = MeterHours.Of(hours);
        var shown = _swap is null ? life : (life - _swap.OldFinalHours + _swap.NewStartHours);
        return Walking.Walk(day, back, At(day, DemoFleet.Morning.TotalHours + minute), life, shown, by, back == 0 && Is(Story.WalkOpen));
    }

    /// <summary>Does what has come due, sooner or later by this machine's habit.</summary>
    private void Service(DateOnly day, int back, double hours)
    {
        if (Is(Story.NoRecord))
        {
            CareForUsed(day, back, hours);
            return;
        }

        var points = Items
            .Where(x => !x.IsDaily)
            .Select(x => (Item: x, Point: PointOf(x)))
            .Where(x => x.Point.Basis != DueBasis.Finished)
            .ToList();
        var missed = hours >= cast.MissedFrom;

        bool Ripe((ProgramItem Item, DuePoint Point) x)
        {
            var slip = Chance.Between(
                cast.Slip.Early,
                cast.Slip.Late,
                "slip",
                cast.Unit,
                (int)(x.Point.DueHours ?? x.Point.DueOn!.Value.DayNumber)
            );
            return hours >= x.Point.DueHours + slip * (x.Point.IntervalHours ?? 250) || day >= x.Point.DueOn?.AddDays((int)(slip * 60));
        }

        var ripe = points.Where(Ripe).ToList();
        if (Is(Story.JustNew))
            ripe = [.. ripe.Where(x => x.Point.DueHours < 30)];
        if (ripe.Count == 0)
            return;
        var at = new MachineNow(Known(day, hours), new DateTimeOffset(day.ToDateTime(TimeOnly.MinValue), TimeSpan.Zero));
        bool Small((ProgramItem Item, DuePoint Point) x) => x.Point.IntervalHours < BigHours;
        bool IsDue((ProgramItem Item, DuePoint Point) x) => at.Stand(x.Point, _settings.ComingDays).Status >= DueStatus.Due;
        var big = ripe.Exists(x => !Small(x)) && !missed;
        var done = points
            .Where(x => Small(x) ? ripe.Contains(x) || IsDue(x) : big && (ripe.Contains(x) || IsDue(x)))
            .Select(x => x.Item.Code)
            .ToList();
        if (done.Count > 0)
            Complete(
                done,
                day,
                hours,
                CompletionKind.Work,
                Chance.Pick(DemoCast.Technicians, "tech", cast.Unit, day.DayNumber),
                "",
                null,
                day
            );
    }

    // Its odometer counts with its meter, so that kilometres are hours here.
    private ServiceItem RuleOf(ProgramItem item) =>
        cast.KmPerHour > 0 && item.EveryKm is { } km
            ? item.ForDue() with
            {
                EveryHours = MeterHours.Of(Math.Round(km / cast.KmPerHour, 1)),
                EveryKm = null,
            }
            : item.ForDue();

    /// <summary>When an item falls due by what was done so far.</summary>
    private DuePoint PointOf(ProgramItem item)
    {
        if (!_points.TryGetValue(item.Code, out var point))
            _points[item.Code] = point = DuePoint.Of(RuleOf(item), ForDue, _last.GetValueOrDefault(item.Code), _settings);
        return point;
    }

    /// <summary>
    /// Does what would otherwise be late on the last morning, so that the machine then stands as its story says whatever
    /// luck and weekdays brought. What the story leaves undone stays undone.
    /// </summary>
    private void Settle(DateOnly day, double hours)
    {
        var now = new DateTimeOffset(today.ToDateTime(TimeOnly.MinValue), TimeSpan.Zero) + DemoFleet.Morning;
        var at = new MachineNow(Is(Story.Unread) ? UsePerDay.Estimate(Known(), now) : Known(today, cast.FinalHours), now, _zone);
        List<string> done = [];
        foreach (var item in Items.Where(x => !x.IsDaily))
        {
            ItemStatus After(Completion? last) => at.Stand(DuePoint.Of(RuleOf(item), ForDue, last, _settings), _settings.ComingDays);
            var stand = After(_last.GetValueOrDefault(item.Code));
            if (stand.NoRecord || Allowed(stand))
                continue;
            if (Allowed(After(new(item.Code, day, MeterHours.Of(hours)))))
                done.Add(item.Code);
        }

        Complete(done, day, hours, CompletionKind.Work, Chance.Pick(DemoCast.Technicians, "tech", cast.Unit, day.DayNumber), "", null, day);
    }

    /// <summary>Whether an item may stand so on the last morning.</summary>
    private bool Allowed(ItemStatus stand) =>
        stand.Status <= DueStatus.Coming && stand.Status <= cast.Ends
        || stand.Status <= cast.Ends && stand.Point.IntervalHours >= BigHours && stand.Point.DueHours >= cast.MissedFrom;

    /// <summary>The used machine: oil and fuel first, and one word from its seller.</summary>
    private void CareForUsed(DateOnly day, int back, double hours)
    {
        var weekly = Items.Where(x => !x.IsDaily && x.EveryHours == new MeterHours(500)).Select(x => x.Code).ToList();
        if (back is 33 or 24 or 15 or 6)
            Complete(weekly, day, hours, CompletionKind.Work, "Tam Ollery", "", null, day);
        if (back <= 33 && hours >= FirstServiceHours && !_last.ContainsKey("engine-oil"))
        {
            Complete(
                ["engine-oil", "fuel-primary", "fuel-secondary", "air-primary", "hydraulic-tank-drain"],
                day,
                hours,
                CompletionKind.Work,
                "Tam Ollery",
                "First service with us. Old filters carried no date.",
                null,
                day
            );
            Complete(
                ["hydraulic-oil"],
                day.AddDays(-90),
                hours - 560,
                CompletionKind.Baseline,
                "Mara Quill",
                "On the seller's invoice.",
                "Seller, by invoice",
                day
            );
        }
    }

    private UsePerDay Known(DateOnly day, double hours) =>
        UsePerDay.Estimate(
            new(
                [new Reading(new DateTimeOffset(day.ToDateTime(TimeOnly.MinValue), TimeSpan.Zero), MeterHours.Of(hours))],
                [],
                cast.Planned,
                CommissionedOn,
                CommissionedHours
            ),
            new DateTimeOffset(day.ToDateTime(TimeOnly.MinValue), TimeSpan.Zero)
        );

    private void SwapMeter(DateOnly day, double hours)
    {
        var at = At(day, 6);
        Read(at, hours, "Tam Ollery", ReadingSource.MeterChange);
        _swap = new MeterChange
        {
            At = at,
            OldFinalHours = MeterHours.Of(hours),
            NewStartHours = MeterHours.Of(SwapNewStart),
            Note = "Display dead after salt got in",
            By = "Tam Ollery",
            EnteredAt = at,
        };
    }

    private void Read(DateTimeOffset at, double hours, string by, ReadingSource source = ReadingSource.Form)
    {
        var life = MeterHours.Of(hours);
        var shown = _swap is null ? life : life - _swap.OldFinalHours + _swap.NewStartHours;
        _readings.Add(
            new()
            {
                At = at,
                ShownHours = shown,
                LifeHours = life,
                State = ReadingState.Accepted,
                Source = source,
                By = by,
                EnteredAt = at,
            }
        );
    }

    /// <summary>
    /// Turns the last reading into one with two neighbouring digits swapped that the judge keeps but asks about. The
    /// final hours are chosen so that a swap adds 36 h: after three days or four the clock allows it, and the machine's habit does not.
    /// </summary>
    private void Misread()
    {
        var truth = _readings[^1];
        for (var kept = _readings.Count - 1; kept > _readings.Count - 6; kept--)
        {
            var record = new MeterRecord(
                [.. _readings.Take(kept).Select(x => x.ToReading())],
                [],
                cast.Planned,
                CommissionedOn,
                CommissionedHours
            );
            var at = truth.At;
            var digits = truth.ShownHours.Tenths.ToString(System.Globalization.CultureInfo.InvariantCulture);
            for (var i = digits.Length - 2; i >= 0; i--)
            {
                var swapped = new MeterHours(
                    int.Parse(
                        $"{digits[..i]}{digits[i + 1]}{digits[i]}{digits[(i + 2)..]}",
                        System.Globalization.CultureInfo.InvariantCulture
                    )
                );
                if (swapped <= truth.ShownHours || ReadingJudge.Judge(record, at, swapped, at).Code != ReadingCode.Check)
                    continue;
                _readings.RemoveRange(kept, _readings.Count - kept);
                truth.ShownHours = truth.LifeHours = swapped;
                truth.State = ReadingState.Unconfirmed;
                _readings.Add(truth);
                return;
            }
        }
    }

    private void Complete(
        List<string> codes,
        DateOnly on,
        double hours,
        CompletionKind kind,
        string by,
        string note,
        string? saidBy,
        DateOnly entered,
        string? walk = null
    )
    {
        if (codes.Count == 0)
            return;
        var life = MeterHours.Of(hours);
        var shown = _swap is not null && At(on, 12) >= _swap.At ? life - _swap.OldFinalHours + _swap.NewStartHours : life;
        _batches++;
        var batch = walk ?? $"demo-{cast.Unit}-{_batches}";
        foreach (var code in codes)
        {
            _completions.Add(
                new()
                {
                    ItemCode = code,
                    Kind = kind,
                    DoneOn = on,
                    LifeHours = life,
                    ShownHours = shown,
                    Note = note,
                    By = by,
                    SaidBy = saidBy,
                    EnteredAt = At(entered, 16).AddMilliseconds(_batches),
                    Batch = batch,
                }
            );
            var completion = new Completion(code, on, life);
            if (!completion.CountsBefore(_last.GetValueOrDefault(code)))
                continue;
            _last[code] = completion;
            _points.Remove(code);
        }
    }

    private DateTimeOffset At(DateOnly day, double hour)
    {
        var at = LocalTime.StartOf(day, _zone).AddHours(hour);
        return at.AddTicks(-(at.Ticks % TimeSpan.TicksPerMinute));
    }
}
