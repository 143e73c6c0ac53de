using System.Numerics;

namespace Nippers.Core.Jobs;

/// <summary>A card as far as it has come: which steps are done, when, and how the machine stands.</summary>
internal sealed class CardState
{
    private enum Circuit : byte
    {
        Whole,
        Open,
        Unfilled,
    }

    /// <summary>Cards with the same steps done on a machine that stands alike: only times tell them apart.</summary>
    public readonly record struct Likeness(UInt128 Done, MachineState Mode, int Posture, uint Open, bool Warmed);

    private readonly CardTable _table;
    private readonly CardState? _from;
    private readonly List<PlacedStep> _placed = [];
    private readonly int[] _ends;
    private readonly Circuit[] _circuits;
    private readonly long[] _content;
    private readonly int[] _streams;
    private readonly int[] _busy;
    private readonly int[] _free;
    private UInt128 _done;
    private MachineState _mode;
    private int _posture;
    private uint _open;
    private bool _warmed;
    private int _warmUntil;
    private int _coldFrom;
    private int _stillUntil;
    private int _waitUntil;
    private int _lastEnd;

    private CardState(CardTable table)
    {
        _table = table;
        _ends = new int[table.Count];
        _circuits = new Circuit[table.Circuits];
        _content = new long[table.Capacity.Length];
        _streams = new int[table.Capacity.Length];
        _busy = new int[table.Capacity.Length];
        _free = new int[table.Given.Accesses.Length];
    }

    private CardState(CardState from)
    {
        (_table, _from) = (from._table, from);
        _ends = (int[])from._ends.Clone();
        _circuits = (Circuit[])from._circuits.Clone();
        _content = (long[])from._content.Clone();
        _streams = (int[])from._streams.Clone();
        _busy = (int[])from._busy.Clone();
        _free = (int[])from._free.Clone();
        (_done, _mode, _posture, _open, _warmed) = (from._done, from._mode, from._posture, from._open, from._warmed);
        (_warmUntil, _coldFrom, _stillUntil, _waitUntil) = (from._warmUntil, from._coldFrom, from._stillUntil, from._waitUntil);
        (_lastEnd, Now, Hands, Lockouts) = (from._lastEnd, from.Now, from.Hands, from.Lockouts);
    }

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

    private bool AllWhole => Array.TrueForAll(_circuits, x => x == Circuit.Whole);

    /// <summary>A card of which nothing is done.</summary>
    public static CardState First(CardTable table)
    {
        var warm = table.Given.Heat == StepHeat.Warm;
        return new(table) { _warmUntil = warm ? table.Given.Minutes.WarmLasts : -1, _coldFrom = warm ? table.Given.Minutes.CoolDown : 0 };
    }

    /// <summary>Everything placed so far, in order.</summary>
    public IEnumerable<PlacedStep> Placed() => _from is null ? _placed : _from.Placed().Concat(_placed);

    /// <summary>Whether a step is left and all that comes before it is done.</summary>
    public bool MayCome(int step)
    {
        if (IsDone(step))
            return false;
        foreach (var before in _table.Steps[step].After)
        {
            if (!IsDone(before))
                return false;
        }

        return true;
    }

    private bool IsDone(int step) => (_done >> step & 1) == 1;

    /// <summary>How a step is brought about, where there is a choice.</summary>
    /// <param name="Tidy">What nobody needs any more is shut first.</param>
    /// <param name="Warm">A run warms the machine up.</param>
    /// <param name="Shut">Before a run everything is shut, so that it can be driven afterwards.</param>
    /// <param name="Via">It is driven into this posture on the way, which a later step wants; -1 for none.</param>
    private sealed record Way(bool Tidy = false, bool Warm = false, bool Shut = false, int Via = -1);

    /// <summary>The card with a step more, in the ways in which it can be brought about; none when it can't.</summary>
    public IEnumerable<CardState> With(int step)
    {
        ref var row = ref _table.Steps[step];
        var wants = row.Heat == StepHeat.Warm;
        var found = new List<CardState>();
        bool Add(Way way)
        {
            if (Try(step, way) is not { } next)
                return false;
            found.Add(next);
            return true;
        }

        // A step that is not reached as it is may be reached warm.
        var plain = Add(new());
        var warm = !plain && wants && Add(new(Warm: true));
        if (found.Count == 0)
            return AddDetours(step, row, wants, found, Add);

        if (_mode == MachineState.Isolated && Shuttable(step) != 0)
            Add(new(Tidy: true, Warm: warm));

        // A run that is made anyway may as well warm it up for what comes later, leave it shut, or take it where it is wanted next.
        if (found[0].HasStarted)
        {
            var warmth = warm || WarmthIsAsked(step);
            if (!warm && warmth && !found[0].HasWarmedUp)
                Add(new(Warm: true));
            if (_open != 0 && (found[0]._open & _open) != 0)
                Add(new(Warm: warm, Shut: true));
        }

        return AddDetours(step, row, warm || WarmthIsAsked(step), found, Add);
    }

    /// <summary>Ways over a posture that a later step wants.</summary>
    private List<CardState> AddDetours(int step, in CardTable.Row row, bool warmth, List<CardState> found, Func<Way, bool> add)
    {
        if (row.Posture >= 0 || (found.Count > 0 && !found[0].HasStarted && !EngineRuns))
            return found;
        for (var left = PosturesAsked(step); left != 0; left &= left - 1)
        {
            var via = BitOperations.TrailingZeroCount(left);
            add(new(Via: via));
            if (warmth)
                add(new(Warm: true, Via: via));
        }

        return found;
    }

    private bool HasStarted => _placed.Exists(x => x.Code == "+start");

    private bool HasWarmedUp => _placed.Exists(x => x.Code == "+warmUp");

    private bool WarmthIsAsked(int besides)
    {
        for (var i = 0; i < _table.Count; i++)
        {
            if (i != besides && !IsDone(i) && _table.Steps[i].Heat == StepHeat.Warm)
                return true;
        }

        return false;
    }

    private ulong PosturesAsked(int besides)
    {
        ulong asked = 0;
        for (var i = 0; i < _table.Count; i++)
        {
            if (i != besides && !IsDone(i) && _table.Steps[i].Posture is var posture and >= 0 && posture != _posture)
                asked |= 1ul << posture;
        }

        return asked;
    }

    private CardState? Try(int step, Way way)
    {
        var next = new CardState(this);
        return next.Bring(step, way) ? next : null;
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
        if (row.Fills >= 0 && _circuits[row.Fills] == Circuit.Open)
            return false;
        if (row.Vessel >= 0 && MustEmpty(row))
        {
            WaitFor(_busy[row.Vessel], step);
            Empty(row.Vessel);
        }

        var start = Now;
        foreach (var before in row.After)
            start = Math.Max(start, _ends[before]);
        if (row.Wait > 0 && _table.Given.OneAtATime)
            start = Math.Max(start, _waitUntil - row.Hands);
        if (row.Vessel >= 0)
            start = Math.Max(start, _busy[row.Vessel]);
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
        Reckon();
        return true;
    }

    private void Place(int step, int start)
    {
        ref var row = ref _table.Steps[step];
        var end = start + row.Hands + row.Wait;
        _placed.Add(new(row.Code, start, end));
        Now = start + row.Hands;
        Hands += row.Hands;
        _ends[step] = end;
        _done |= UInt128.One << step;
        _lastEnd = Math.Max(_lastEnd, end);
        if (row.Wait > 0)
        {
            _waitUntil = Math.Max(_waitUntil, end);
            if (row.Still)
                _stillUntil = Math.Max(_stillUntil, end);
        }

        if (row.Access >= 0)
            _free[row.Access] = Math.Max(_free[row.Access], end);
        if (row.Opens >= 0)
            _circuits[row.Opens] = Circuit.Open;
        if (row.Vessel >= 0)
            (_busy[row.Vessel], _streams[row.Vessel], _content[row.Vessel]) = (end, row.Stream, _content[row.Vessel] + row.Litres);
        if (row.Shuts >= 0 && _circuits[row.Shuts] == Circuit.Open)
            _circuits[row.Shuts] = _table.HasFill[row.Shuts] ? Circuit.Unfilled : Circuit.Whole;
        if (row.Fills >= 0)
            _circuits[row.Fills] = Circuit.Whole;
    }

    /// <summary>The card brought to its end: off, all shut, all waits over; null when something stays open.</summary>
    public CardState? Finish()
    {
        var last = new CardState(this);
        if (last._open != 0)
        {
            if (!last.To(MachineState.Isolated, -1))
                return null;
            last.ShutAll(last._open, -1);
        }

        return last.To(MachineState.Off, -1) && last.AllWhole ? last : null;
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
        var shut = _open & (everythingShut ? uint.MaxValue : MustBeShut);
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
        (_mode, _warmed) = (MachineState.Running, false);
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

        Put("+move:" + _table.Postures[posture], Minutes.Move, Minutes.Move);
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
        _warmed = true;
    }

    private void Put(string code, int minutes, int hands)
    {
        _placed.Add(new(code, Now, Now + minutes));
        Now += minutes;
        Hands += hands;
    }

    private bool IsOpen(int access) => (_open >> access & 1) == 1;

    private void Open(int access)
    {
        var rule = _table.Given.Accesses[access];
        Put("+open:" + rule.Code, rule.Open, rule.Open);
        _open |= 1u << access;
    }

    private void Shut(int access)
    {
        var rule = _table.Given.Accesses[access];
        Put("+shut:" + rule.Code, rule.Shut, rule.Shut);
        _open &= ~(1u << access);
    }

    private uint MustBeShut
    {
        get
        {
            uint mask = 0;
            for (var i = 0; i < _free.Length; i++)
            {
                if (_table.Given.Accesses[i].MustBeShutToRun)
                    mask |= 1u << i;
            }

            return mask;
        }
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
                if (first < 0 || _free[access] < _free[first])
                    first = access;
            }

            accesses &= ~(1u << first);
            if (!IsOpen(first))
                continue;
            WaitFor(_free[first], step);
            if (IsOpen(first))
                Shut(first);
        }
    }

    /// <summary>Accesses that are open, free, and that no step needs any more.</summary>
    private uint Shuttable(int step)
    {
        var left = _open;
        for (var i = 0; left != 0 && i < _table.Count; i++)
        {
            var access = _table.Steps[i].Access;
            if (access >= 0 && (i == step || !IsDone(i)))
                left &= ~(1u << access);
        }

        for (var i = 0; i < _free.Length; i++)
        {
            if (_free[i] > Now)
                left &= ~(1u << i);
        }

        return left;
    }

    private bool MustEmpty(in CardTable.Row row) =>
        _content[row.Vessel] > 0
        && (row.Attended || _streams[row.Vessel] != row.Stream || _content[row.Vessel] + row.Room > _table.Capacity[row.Vessel]);

    private void Empty(int vessel)
    {
        Put("+empty:" + _table.Given.Vessels[vessel].Code, Minutes.Empty, Minutes.Empty);
        _content[vessel] = 0;
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

        for (var i = 0; i < _table.Count && Now + Minutes.Empty <= until; i++)
        {
            ref var row = ref _table.Steps[i];
            if (row.Vessel >= 0 && !IsDone(i) && _busy[row.Vessel] <= Now && MustEmpty(row))
                Empty(row.Vessel);
        }
    }

    /// <summary>What is still to come at least: hands, what lies between, and what has to wait for what.</summary>
    private void Reckon()
    {
        var (hands, longest, coldHands) = (0, 0, 0);
        bool isolated = false,
            runs = false,
            moves = false,
            warmRun = false,
            warm = false,
            cold = false;
        uint needed = 0;
        ulong postures = 0;
        Span<long> litres = stackalloc long[_content.Length];
        Span<ulong> streams = stackalloc ulong[_content.Length];
        litres.Clear();
        streams.Clear();
        for (var i = 0; i < _table.Count; i++)
        {
            if (IsDone(i))
                continue;
            ref var row = ref _table.Steps[i];
            hands += row.Hands;
            isolated |= row.State == MachineState.Isolated;
            runs |= row.State is MachineState.Running or MachineState.Moving;
            moves |= row.State == MachineState.Moving;
            if (row.Posture >= 0 && row.Posture != _posture)
                postures |= 1ul << row.Posture;
            if (row.Access >= 0)
                needed |= 1u << row.Access;
            if (row.Heat == StepHeat.Warm)
            {
                warm = true;
                warmRun |= row.State is MachineState.Running or MachineState.Moving;
            }
            else if (row.Heat == StepHeat.Cold)
            {
                cold = true;
                coldHands += row.Hands;
            }

            if (row.Vessel >= 0)
            {
                litres[row.Vessel] += row.Litres;
                streams[row.Vessel] |= 1ul << row.Stream;
            }

            var start = Now;
            foreach (var before in row.After)
                start = Math.Max(start, IsDone(before) ? _ends[before] : start);
            longest = Math.Max(longest, start + _table.Tail[i]);
        }

        var moved = BitOperations.PopCount(postures);
        moves |= moved > 0;
        runs |= moves;
        var between = moved * Minutes.Move;
        for (var i = 0; i < _free.Length; i++)
        {
            var rule = _table.Given.Accesses[i];
            if (IsOpen(i))
                between += rule.Shut;
            else if ((needed >> i & 1) == 1)
                between += rule.Open + rule.Shut;
        }

        isolated |= _open != 0 || needed != 0;
        var cools = cold && (EngineRuns || Now < _coldFrom);
        var warmsUp = warm && !(EngineRuns && _warmed) && (warmRun || Now > _warmUntil);
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
        for (var i = 0; i < _content.Length; i++)
        {
            var kinds = BitOperations.PopCount(streams[i]);
            if (kinds == 0)
                continue;
            var byStream = kinds - 1 + (_content[i] > 0 && (streams[i] >> _streams[i] & 1) == 0 ? 1 : 0);
            var byRoom = _table.Capacity[i] > 0 ? (int)((_content[i] + litres[i] - 1) / _table.Capacity[i]) : 0;
            between += Math.Max(byStream, byRoom) * Minutes.Empty;
        }

        HandsPromise = Hands + hands + between;
        if (warmsUp)
            between += Minutes.WarmUp;
        var shutdown = _mode == MachineState.Isolated || isolated ? Minutes.Release : 0;
        Promise = Math.Max(Now + hands + between, Math.Max(longest, _lastEnd));
        if (cools)
        {
            var from = EngineRuns ? Now + Minutes.Stop + Minutes.CoolDown : _coldFrom;
            Promise = Math.Max(Promise, from + coldHands + shutdown);
        }
    }

    /// <summary>Whether nothing is later, fuller or dearer here than on a card that stands alike.</summary>
    public bool IsNoWorseThan(CardState other)
    {
        if (Now > other.Now || Hands > other.Hands || _lastEnd > other._lastEnd || _warmUntil < other._warmUntil)
            return false;
        if (_coldFrom > other._coldFrom || Late(_stillUntil, other._stillUntil) || Late(_waitUntil, other._waitUntil))
            return false;
        for (var i = 0; i < _ends.Length; i++)
        {
            if (Late(_ends[i], other._ends[i]))
                return false;
        }

        for (var i = 0; i < _free.Length; i++)
        {
            if (Late(_free[i], other._free[i]))
                return false;
        }

        for (var i = 0; i < _content.Length; i++)
        {
            if (Late(_busy[i], other._busy[i]) || _content[i] > other._content[i])
                return false;
            if (_content[i] > 0 && _streams[i] != other._streams[i])
                return false;
        }

        return true;

        // What is over for both by then makes no difference.
        bool Late(int mine, int theirs) => mine > theirs && mine > other.Now;
    }
}
