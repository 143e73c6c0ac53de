using System.Numerics;

namespace Nippers.Core.Jobs;

/// <summary>A card as far as it has come: which steps are done, when, and how the machine stands.</summary>
internal sealed class CardState
{
    /// <summary>Cards with the same steps done on a machine that stands alike: only times tell them apart.</summary>
    public readonly record struct Likeness(UInt128 Done, MachineState Mode, int Posture, uint Open, bool Warmed);

    private readonly CardTable _table;
    private CardState? _from;
    private List<PlacedStep>? _between;
    private PlacedStep? _own;

    // Minutes at which each wait ends, each vessel is free and each access may be shut, in one piece: a state is copied often.
    private readonly int[] _minutes;
    private readonly long[] _content;
    private UInt128 _done;
    private UInt128 _running;
    private ulong _opened;
    private ulong _unfilled;
    private int _handsLeft;
    private int _coldLeft;
    private MachineState _mode;
    private int _posture;
    private uint _open;
    private bool _warmed;
    private int _warmUntil;
    private int _coldFrom;
    private int _stillUntil;
    private int _waitUntil;
    private int _lastEnd;
    private int _step = -1;
    private Way _way;

    private CardState(CardTable table)
    {
        _table = table;
        _minutes = new int[table.Waits + 2 * table.Capacity.Length + table.Given.Accesses.Length];
        _content = new long[2 * table.Capacity.Length];
        for (var i = 0; i < table.Count; i++)
        {
            _handsLeft += table.Steps[i].Hands;
            if (table.Steps[i].Heat == StepHeat.Cold)
                _coldLeft += table.Steps[i].Hands;
            if (table.Steps[i].Vessel is var vessel and >= 0)
                LitresLeft[vessel] += table.Steps[i].Litres;
        }
    }

    /// <summary>A card that goes on from another one, in the place of one that was given up where there is such a one.</summary>
    private static CardState After(CardState from)
    {
        var next = from._table.GivenUp.TryPop(out var free) ? free : new(from._table, from._minutes.Length, from._content.Length);
        next.Follow(from);
        return next;
    }

    private CardState(CardTable table, int minutes, int contents) =>
        (_table, _minutes, _content) = (table, new int[minutes], new long[contents]);

    private void Follow(CardState from)
    {
        _from = from;
        from._minutes.CopyTo(_minutes);
        from._content.CopyTo(_content);
        _between?.Clear();
        (_own, _step, _way, HasStarted, HasWarmedUp) = (null, -1, default, false, false);
        (_done, _running, _opened, _unfilled) = (from._done, from._running, from._opened, from._unfilled);
        (_handsLeft, _coldLeft) = (from._handsLeft, from._coldLeft);
        (_mode, _posture, _open, _warmed) = (from._mode, from._posture, from._open, from._warmed);
        (_warmUntil, _coldFrom, _stillUntil, _waitUntil) = (from._warmUntil, from._coldFrom, from._stillUntil, from._waitUntil);
        (_lastEnd, Now, Hands, Lockouts) = (from._lastEnd, from.Now, from.Hands, from.Lockouts);
    }

    /// <summary>Minute at which each wait is over; a step without one is over when its hands are.</summary>
    private Span<int> Ends => _minutes.AsSpan(0, _table.Waits);

    /// <summary>Minute until which something runs into each vessel.</summary>
    private Span<int> Busy => _minutes.AsSpan(_table.Waits, Vessels);

    /// <summary>Stream of what is in each vessel.</summary>
    private Span<int> Streams => _minutes.AsSpan(_table.Waits + Vessels, Vessels);

    /// <summary>Minute from which no wait needs each access.</summary>
    private Span<int> Free => _minutes.AsSpan(_table.Waits + 2 * Vessels);

    private Span<long> Content => _content.AsSpan(0, Vessels);

    /// <summary>What still comes into each vessel.</summary>
    private Span<long> LitresLeft => _content.AsSpan(Vessels);

    private int EndOf(int waiting) => Ends[_table.Steps[waiting].Running];

    private int Vessels => _table.Capacity.Length;

    /// <summary>Minute at which the person is free.</summary>
    public int Now { get; private set; }

    /// <summary>Minutes of hands so far.</summary>
    public int Hands { get; private set; }

    public int Lockouts { get; private set; }

    /// <summary>Minute at which everything so far is over.</summary>
    public int Elapsed => Math.Max(Now, _lastEnd);

    /// <summary>The card can't be over before this minute.</summary>
    public int Promise { get; private set; }

    /// <summary>It can't take fewer minutes of hands.</summary>
    public int HandsPromise { get; private set; }

    public Likeness Alike => new(_done, _mode, _posture, _open, _warmed);

    private CardMinutes Minutes => _table.Given.Minutes;

    private bool EngineRuns => _mode is MachineState.Running or MachineState.Moving;

    private bool AllWhole => (_opened | _unfilled) == 0;

    private UInt128 Left => _table.All & ~_done;

    /// <summary>A card of which nothing is done.</summary>
    public static CardState First(CardTable table)
    {
        var warm = table.Given.Heat == StepHeat.Warm;
        return new(table) { _warmUntil = warm ? table.Given.Minutes.WarmLasts : -1, _coldFrom = warm ? table.Given.Minutes.CoolDown : 0 };
    }

    /// <summary>Everything placed so far, in order.</summary>
    public IEnumerable<PlacedStep> Placed() =>
        Course().SelectMany(x => (x._between ?? []).Concat(x._own is { } own ? [own] : Array.Empty<PlacedStep>()));

    /// <summary>Whether a step is left and all that comes before it is done.</summary>
    public bool MayCome(int step) => !IsDone(step) && (_table.Steps[step].Before & ~_done) == 0;

    /// <summary>Whether all waits before a step are over.</summary>
    public bool IsFree(int step) => (_table.Steps[step].Before & _running) == 0;

    private bool IsDone(int step) => (_done >> step & 1) == 1;

    /// <summary>How a step is brought about, where there is a choice.</summary>
    /// <param name="Tidy">What nobody needs any more is shut first.</param>
    /// <param name="Warm">A run warms the machine up.</param>
    /// <param name="Shut">Before a run everything is shut, so that it can be driven afterwards.</param>
    /// <param name="Via">It is driven into this posture on the way, which a later step wants; -1 for none.</param>
    private readonly record struct Way(bool Tidy = false, bool Warm = false, bool Shut = false, int Via = -1);

    /// <summary>
    /// The card with a step more, in the ways in which it can be brought about; none when it can't. The list is the search's one: it
    /// holds them until the next step is tried.
    /// </summary>
    public List<CardState> With(int step)
    {
        ref var row = ref _table.Steps[step];
        var wants = row.Heat == StepHeat.Warm;
        var found = _table.Ways;
        found.Clear();

        // A step that is not reached as it is may be reached warm.
        var plain = Add(found, step, new(Via: -1));
        var warm = !plain && wants && Add(found, step, new(Warm: true));
        if (found.Count == 0)
            return AddDetours(step, row, wants, found);

        if (_mode == MachineState.Isolated && Shuttable(step) != 0)
            Add(found, step, new(Tidy: true, Warm: warm));

        // A run that is made anyway may as well warm it up for what comes later, leave it shut, or take it where it is wanted next.
        if (found[0].HasStarted)
        {
            var warmth = warm || WarmthIsAsked(step);
            if (!warm && warmth && !found[0].HasWarmedUp)
                Add(found, step, new(Warm: true));
            if (_open != 0 && (found[0]._open & _open) != 0)
                Add(found, step, new(Warm: warm, Shut: true));
        }

        return AddDetours(step, row, warm || WarmthIsAsked(step), found);
    }

    private bool Add(List<CardState> found, int step, Way way)
    {
        if (Try(step, way) is not { } next)
            return false;
        found.Add(next);
        return true;
    }

    /// <summary>Ways over a posture that a later step wants.</summary>
    private List<CardState> AddDetours(int step, in CardTable.Row row, bool warmth, List<CardState> found)
    {
        if (row.Posture >= 0 || (found.Count > 0 && !found[0].HasStarted && !EngineRuns))
            return found;
        for (var left = PosturesAsked(Left & ~(UInt128.One << step)); left != 0; left &= left - 1)
        {
            var via = BitOperations.TrailingZeroCount(left);
            Add(found, step, new(Via: via));
            if (warmth)
                Add(found, step, new(Warm: true, Via: via));
        }

        return found;
    }

    private bool HasStarted { get; set; }

    private bool HasWarmedUp { get; set; }

    private bool WarmthIsAsked(int besides) => (_table.Warm & Left & ~(UInt128.One << besides)) != 0;

    private ulong PosturesAsked(UInt128 left)
    {
        ulong asked = 0;
        for (var i = 0; i < _table.Postured.Length; i++)
        {
            if (i != _posture && (_table.Postured[i] & left) != 0)
                asked |= 1ul << i;
        }

        return asked;
    }

    private CardState? Try(int step, Way way)
    {
        var next = After(this);
        (next._step, next._way) = (step, way);
        if (next.Bring(step, way))
            return next;
        return next.GiveUpTo(this);
    }

    /// <summary>
    /// Nobody goes on from this card or reads it any more: the next one is written in its place. A search makes tens of thousands of
    /// cards and keeps some hundred, and making them anew was most of its time.
    /// </summary>
    public void GiveUp() => _table.GivenUp.Push(this);

    /// <summary>Gives up this card and those before it, down to one that stays.</summary>
    /// <returns>Nothing: there is no card.</returns>
    public CardState? GiveUpTo(CardState stays)
    {
        var state = this;
        while (state != stays)
        {
            state.GiveUp();
            state = state._from!;
        }

        return null;
    }

    /// <summary>The cards that led here, the empty one first.</summary>
    public List<CardState> Course()
    {
        var course = new List<CardState>();
        for (var state = this; state is not null; state = state._from)
            course.Add(state);
        course.Reverse();
        return course;
    }

    /// <summary>Number of the step that was done last; -1 for none.</summary>
    public int Step => _step;

    /// <summary>
    /// Minutes for which nobody did anything before its last step, the warming up of the engine apart; of a finished card those until
    /// it is over.
    /// </summary>
    public int Idle =>
        _from is null ? 0 : Now - _from.Now - (Hands - _from.Hands) - (HasWarmedUp ? Minutes.WarmUp : 0) + (_step < 0 ? Elapsed - Now : 0);

    /// <summary>The last step of this card done on another one, as it was done here where that can be; null where it can't.</summary>
    public CardState? Onto(CardState other) =>
        !other.MayCome(_step) ? null
        : other.Try(_step, _way) is { } same ? same
        : other.With(_step).MinBy(x => (x.Promise, x.Now));

    /// <summary>Whether a step is done as the machine stands and as it is open, when all before it has ended.</summary>
    public bool Suits(int step)
    {
        ref var row = ref _table.Steps[step];
        return (row.State is not { } state || state == _mode)
            && (row.Posture < 0 || row.Posture == _posture)
            && (row.Access < 0 || IsOpen(row.Access));
    }

    private bool Bring(int step, Way way)
    {
        ref var row = ref _table.Steps[step];
        var engineOff = row.Heat == StepHeat.Cold || row.Opens >= 0 || (row.Still && row.Wait > 0);
        if (engineOff && row.State is MachineState.Running or MachineState.Moving)
            return false;
        if (way.Tidy)
            ShutAll(Shuttable(step), step);
        if (way.Shut && !EngineRuns && !Run(everythingShut: true, step))
            return false;
        var posture = way.Via >= 0 ? way.Via : row.Posture;
        if (posture >= 0 && posture != _posture)
        {
            if (!Drive(posture, way.Warm, step))
                return false;
        }
        else if (way.Warm && !(EngineRuns && _warmed))
        {
            if (_mode != MachineState.Running && !Run(everythingShut: false, step))
                return false;
            WarmUp();
        }

        if (row.Access >= 0 && !IsOpen(row.Access))
        {
            if (!To(MachineState.Isolated, step))
                return false;
            Open(row.Access);
        }

        var want = row.State ?? (engineOff && EngineRuns ? MachineState.Off : null);
        if (want is { } state && !To(state, step))
            return false;
        if (row.Access >= 0 && !IsOpen(row.Access))
            return false;
        if (row.Fills >= 0 && (_opened >> row.Fills & 1) == 1)
            return false;
        if (row.Vessel >= 0 && MustEmpty(row))
        {
            WaitFor(Busy[row.Vessel], step);
            Empty(row.Vessel);
        }

        var start = Now;
        for (var waits = row.Before & _running; waits != 0; waits &= waits - 1)
            start = Math.Max(start, EndOf((int)UInt128.TrailingZeroCount(waits)));
        if (row.Wait > 0 && _table.Given.OneAtATime)
            start = Math.Max(start, _waitUntil - row.Hands);
        if (row.Vessel >= 0)
            start = Math.Max(start, Busy[row.Vessel]);
        if (row.Heat == StepHeat.Cold && start < _coldFrom)
        {
            Fill(_coldFrom, step);
            if (Now < _coldFrom)
                Put("+coolDown", _coldFrom - Now, 0);
            start = Math.Max(start, Now);
        }

        Fill(start, step);
        if (row.Heat == StepHeat.Warm && !(EngineRuns && _warmed) && start > _warmUntil)
            return false;
        Place(step, start);
        if (IsStuck())
            return false;
        Reckon();
        return true;
    }

    /// <summary>
    /// Whether what is open can never be made whole: while a circuit is, nobody takes the locks off, so that what comes before its
    /// filling is done where it stands, and what of that wants it warm before it has cooled.
    /// </summary>
    private bool IsStuck()
    {
        UInt128 home = 0;
        for (var left = _opened | _unfilled; left != 0; left &= left - 1)
            home |= _table.Home[BitOperations.TrailingZeroCount(left)];

        home &= ~_done;
        if (home == 0)
            return false;
        if ((home & _table.Run) != 0 || (_mode == MachineState.Isolated && (home & _table.Off) != 0))
            return true;
        for (var i = 0; i < _table.Postured.Length; i++)
        {
            if (i != _posture && (home & _table.Postured[i]) != 0)
                return true;
        }

        // Of those that want it warm the last begins after all the others, and into one vessel only when that has taken them in.
        home &= _table.Warm;
        if (home == 0)
            return false;
        if (Now + UntilLast(home, waits: false) > _warmUntil)
            return true;
        for (var i = 0; i < Vessels; i++)
        {
            var into = home & _table.Into[i];
            if (into != 0 && Math.Max(Now, Busy[i]) + UntilLast(into, waits: true) > _warmUntil)
                return true;
        }

        return false;
    }

    /// <summary>Minutes from the start of the first of some steps to that of the last, the longest of them last.</summary>
    private int UntilLast(UInt128 steps, bool waits)
    {
        var (all, longest) = (0, 0);
        for (; steps != 0; steps &= steps - 1)
        {
            ref var row = ref _table.Steps[(int)UInt128.TrailingZeroCount(steps)];
            var minutes = row.Hands + (waits ? row.Wait : 0);
            (all, longest) = (all + minutes, Math.Max(longest, minutes));
        }

        return all - longest;
    }

    private void Place(int step, int start)
    {
        ref var row = ref _table.Steps[step];
        var end = start + row.Hands + row.Wait;
        _own = new(row.Code, start, end);
        Now = start + row.Hands;
        Hands += row.Hands;
        if (row.Running >= 0)
            Ends[row.Running] = end;
        _done |= UInt128.One << step;
        _handsLeft -= row.Hands;
        if (row.Heat == StepHeat.Cold)
            _coldLeft -= row.Hands;
        _lastEnd = Math.Max(_lastEnd, end);
        if (row.Wait > 0)
        {
            _running |= UInt128.One << step;
            _waitUntil = Math.Max(_waitUntil, end);
            if (row.Still)
                _stillUntil = Math.Max(_stillUntil, end);
        }

        if (row.Access >= 0)
            Free[row.Access] = Math.Max(Free[row.Access], end);
        if (row.Opens >= 0)
            (_opened, _unfilled) = (_opened | 1ul << row.Opens, _unfilled & ~(1ul << row.Opens));
        if (row.Vessel >= 0)
        {
            (Busy[row.Vessel], Streams[row.Vessel]) = (end, row.Stream);
            (Content[row.Vessel], LitresLeft[row.Vessel]) = (Content[row.Vessel] + row.Litres, LitresLeft[row.Vessel] - row.Litres);
        }

        if (row.Shuts >= 0 && (_opened >> row.Shuts & 1) == 1)
        {
            _opened &= ~(1ul << row.Shuts);
            if (_table.HasFill[row.Shuts])
                _unfilled |= 1ul << row.Shuts;
        }

        if (row.Fills >= 0)
            (_opened, _unfilled) = (_opened & ~(1ul << row.Fills), _unfilled & ~(1ul << row.Fills));
    }

    /// <summary>The card brought to its end: off, all shut, all waits over; null when something stays open.</summary>
    public CardState? Finish()
    {
        var last = After(this);
        if (last._open != 0)
        {
            if (!last.To(MachineState.Isolated, -1))
                return last.GiveUpTo(this);
            last.ShutAll(last._open, -1);
        }

        return last.To(MachineState.Off, -1) && last.AllWhole ? last : last.GiveUpTo(this);
    }

    private bool To(MachineState state, int step)
    {
        if (_mode == state)
            return true;
        switch (state)
        {
            case MachineState.Off when _mode == MachineState.Isolated:
                return Release();
            case MachineState.Off:
                Stop();
                return true;
            case MachineState.Isolated:
                if (_table.Hanging[_posture])
                    return false;
                if (EngineRuns)
                    Stop();
                Put("+isolate", Minutes.Isolate, Minutes.Isolate);
                Lockouts++;
                _mode = MachineState.Isolated;
                return true;
            case MachineState.Running:
                return Run(everythingShut: false, step);
            default:
                if (_mode != MachineState.Running || _open != 0)
                {
                    if (!Run(everythingShut: true, step))
                        return false;
                }

                Put("+clear", Minutes.Clear, Minutes.Clear);
                _mode = MachineState.Moving;
                return true;
        }
    }

    private bool Run(bool everythingShut, int step)
    {
        if (EngineRuns)
            Stop();
        var shut = _open & (everythingShut ? uint.MaxValue : _table.MustBeShut);
        if (shut != 0)
        {
            if (!To(MachineState.Isolated, step))
                return false;
            ShutAll(shut, step);
        }

        if (!AllWhole)
            return false;
        if (_mode == MachineState.Isolated)
        {
            WaitFor(_stillUntil - Minutes.Release, step);
            if (!Release())
                return false;
        }

        WaitFor(_stillUntil, step);
        Put("+start", Minutes.Start, Minutes.Start);
        (_mode, _warmed, HasStarted) = (MachineState.Running, false, true);
        return true;
    }

    private bool Drive(int posture, bool warm, int step)
    {
        if (_mode != MachineState.Moving)
        {
            if ((_mode != MachineState.Running || _open != 0) && !Run(everythingShut: true, step))
                return false;
            if (warm && !_warmed)
                WarmUp();
            if (!To(MachineState.Moving, step))
                return false;
        }

        Put(_table.Names.Move[posture], Minutes.Move, Minutes.Move);
        _posture = posture;
        return true;
    }

    private bool Release()
    {
        if (!AllWhole)
            return false;
        Put("+release", Minutes.Release, Minutes.Release);
        _mode = MachineState.Off;
        return true;
    }

    private void Stop()
    {
        Put("+stop", Minutes.Stop, Minutes.Stop);
        if (_warmed)
            _warmUntil = Math.Max(_warmUntil, Now + Minutes.WarmLasts);
        (_coldFrom, _warmed, _mode) = (Now + Minutes.CoolDown, false, MachineState.Off);
    }

    private void WarmUp()
    {
        Put("+warmUp", Minutes.WarmUp, 0);
        (_warmed, HasWarmedUp) = (true, true);
    }

    private void Put(string code, int minutes, int hands)
    {
        (_between ??= []).Add(new(code, Now, Now + minutes));
        Now += minutes;
        Hands += hands;
    }

    private bool IsOpen(int access) => (_open >> access & 1) == 1;

    private void Open(int access)
    {
        var rule = _table.Given.Accesses[access];
        Put(_table.Names.Open[access], rule.Open, rule.Open);
        _open |= 1u << access;
    }

    private void Shut(int access)
    {
        var rule = _table.Given.Accesses[access];
        Put(_table.Names.Shut[access], rule.Shut, rule.Shut);
        _open &= ~(1u << access);
    }

    /// <summary>Shuts some accesses, the one first that is free first.</summary>
    private void ShutAll(uint accesses, int step)
    {
        while (accesses != 0)
        {
            var first = -1;
            for (var left = accesses; left != 0; left &= left - 1)
            {
                var access = BitOperations.TrailingZeroCount(left);
                if (first < 0 || Free[access] < Free[first])
                    first = access;
            }

            accesses &= ~(1u << first);
            if (!IsOpen(first))
                continue;
            WaitFor(Free[first], step);
            if (IsOpen(first))
                Shut(first);
        }
    }

    /// <summary>Accesses that are open, free, and that no step needs any more.</summary>
    private uint Shuttable(int step)
    {
        var left = _open;
        var undone = step < 0 ? Left : Left | UInt128.One << step;
        for (var open = _open; open != 0; open &= open - 1)
        {
            var access = BitOperations.TrailingZeroCount(open);
            if (Free[access] > Now || (_table.Needs[access] & undone) != 0)
                left &= ~(1u << access);
        }

        return left;
    }

    private bool MustEmpty(in CardTable.Row row) =>
        Content[row.Vessel] > 0
        && (row.Attended || Streams[row.Vessel] != row.Stream || Content[row.Vessel] + row.Room > _table.Capacity[row.Vessel]);

    private void Empty(int vessel)
    {
        Put(_table.Names.Empty[vessel], Minutes.Empty, Minutes.Empty);
        Content[vessel] = 0;
    }

    private void WaitFor(int until, int step)
    {
        Fill(until, step);
        Now = Math.Max(Now, until);
    }

    /// <summary>Does, in time that is only waited, what has to be done some time anyway.</summary>
    private void Fill(int until, int step)
    {
        if (Now >= until)
            return;
        if (_mode == MachineState.Isolated)
        {
            for (var left = Shuttable(step); left != 0; left &= left - 1)
            {
                var access = BitOperations.TrailingZeroCount(left);
                if (Now + _table.Given.Accesses[access].Shut <= until)
                    Shut(access);
            }
        }

        for (var vessel = 0; vessel < Vessels; vessel++)
        {
            for (
                var into = _table.Into[vessel] & Left;
                into != 0 && Content[vessel] > 0 && Busy[vessel] <= Now && Now + Minutes.Empty <= until;
                into &= into - 1
            )
            {
                if (MustEmpty(_table.Steps[(int)UInt128.TrailingZeroCount(into)]))
                    Empty(vessel);
            }
        }
    }

    /// <summary>What is still to come at least: hands, what lies between, and what has to wait for what.</summary>
    private void Reckon()
    {
        var left = Left;
        var longest = 0;
        for (var undone = left; undone != 0; undone &= undone - 1)
            longest = Math.Max(longest, _table.Tail[(int)UInt128.TrailingZeroCount(undone)]);
        longest += Now;
        for (var wait = _running; wait != 0; wait &= wait - 1)
        {
            var running = (int)UInt128.TrailingZeroCount(wait);
            if (EndOf(running) <= Now)
            {
                _running &= ~(UInt128.One << running);
                continue;
            }

            for (var after = _table.After[running] & left; after != 0; after &= after - 1)
                longest = Math.Max(longest, EndOf(running) + _table.Tail[(int)UInt128.TrailingZeroCount(after)]);
        }

        var moved = BitOperations.PopCount(PosturesAsked(left));
        var moves = moved > 0 || (left & _table.Move) != 0;
        var runs = moves || (left & _table.Run) != 0;
        var between = moved * Minutes.Move;
        var isolated = _open != 0 || (left & _table.Isolated) != 0;
        for (var i = 0; i < _table.Needs.Length; i++)
        {
            var rule = _table.Given.Accesses[i];
            var needed = (_table.Needs[i] & left) != 0;
            isolated |= needed;
            if (IsOpen(i))
                between += rule.Shut;
            else if (needed)
                between += rule.Open + rule.Shut;
        }

        var warm = left & _table.Warm;
        var cools = (left & _table.Cold) != 0 && (EngineRuns || Now < _coldFrom);
        var warmsUp = warm != 0 && !(EngineRuns && _warmed) && ((warm & _table.Run) != 0 || Now > _warmUntil);
        runs |= warmsUp;
        if (_mode == MachineState.Isolated)
            between += Minutes.Release;
        else if (isolated)
            between += Minutes.Isolate + Minutes.Release;
        if (EngineRuns)
            between += Minutes.Stop;
        else if (runs)
            between += Minutes.Start + Minutes.Stop;
        if (moves && _mode != MachineState.Moving)
            between += Minutes.Clear;
        for (var i = 0; i < Vessels; i++)
        {
            if ((_table.Into[i] & left) == 0)
                continue;
            var kinds = 0;
            for (var stream = 0; stream < _table.Streams.GetLength(1); stream++)
                kinds += (_table.Streams[i, stream] & left) == 0 ? 0 : 1;
            var other = Content[i] > 0 && (_table.Streams[i, Streams[i]] & left) == 0;
            var byRoom = _table.Capacity[i] > 0 ? (int)((Content[i] + LitresLeft[i] - 1) / _table.Capacity[i]) : 0;
            between += Math.Max(kinds - 1 + (other ? 1 : 0), byRoom) * Minutes.Empty;
        }

        HandsPromise = Hands + _handsLeft + between;
        if (warmsUp)
            between += Minutes.WarmUp;
        var shutdown = _mode == MachineState.Isolated || isolated ? Minutes.Release : 0;
        Promise = Math.Max(Now + _handsLeft + between, Math.Max(longest, _lastEnd));
        if (cools)
        {
            var from = EngineRuns ? Now + Minutes.Stop + Minutes.CoolDown : _coldFrom;
            Promise = Math.Max(Promise, from + _coldLeft + shutdown);
        }
    }

    /// <summary>Whether nothing is later, fuller or dearer here than on a card that stands alike.</summary>
    public bool IsNoWorseThan(CardState other)
    {
        if (Now > other.Now || Hands > other.Hands || _lastEnd > other._lastEnd || _warmUntil < other._warmUntil)
            return false;
        if (_coldFrom > other._coldFrom || Late(_stillUntil, other._stillUntil) || Late(_waitUntil, other._waitUntil))
            return false;
        for (var wait = _running; wait != 0; wait &= wait - 1)
        {
            var running = (int)UInt128.TrailingZeroCount(wait);
            if (Late(EndOf(running), other.EndOf(running)))
                return false;
        }

        for (var i = 0; i < _table.Needs.Length; i++)
        {
            if (Late(Free[i], other.Free[i]))
                return false;
        }

        for (var i = 0; i < Vessels; i++)
        {
            if (Late(Busy[i], other.Busy[i]) || Content[i] > other.Content[i])
                return false;
            if (Content[i] > 0 && Streams[i] != other.Streams[i])
                return false;
        }

        return true;

        // What is over for both by then makes no difference.
        bool Late(int mine, int theirs) => mine > theirs && mine > other.Now;
    }
}
