using Nippers.App.Defects;
using Nippers.App.Units;
using Nippers.App.Walks;
using Nippers.Core.Defects;
using Nippers.Core.Hours;
using Nippers.Core.Walk;
using Nippers.Data.Defects;
using Nippers.Data.Walks;

namespace Nippers.App.Phones;

/// <summary>
/// A walk on a phone: what the server has of it, and behind that what was done on this phone, in order. It judges with the rules
/// that the server judges with, and holds what each entry did until the server has it.
/// </summary>
public sealed class PhoneBook
{
    private const int ExplainHours = 500;
    private readonly PhoneWalk _walk;
    private readonly Actor _actor;
    private readonly WalkRow _row;
    private readonly CheckList _list;
    private readonly Dictionary<string, MachineCheck> _own;
    private readonly Dictionary<string, WalkAnswerRow> _rows;
    private readonly Dictionary<string, CheckAnswer> _answers;
    private readonly List<DefectRow> _defects;
    private readonly List<DefectRow> _again;
    private readonly List<DefectRow> _found;
    private readonly HashSet<long> _spoken;
    private readonly CheckList? _lastList;
    private readonly Dictionary<long, string> _made = [];

    /// <summary>Opens a walk.</summary>
    /// <param name="walk">What the server has of it, or how it was begun here.</param>
    /// <param name="list">Its list.</param>
    /// <param name="lastList">The list of the machine's last walk; null when the phone has it not.</param>
    /// <param name="actor">Who holds the phone.</param>
    public PhoneBook(PhoneWalk walk, CheckList list, CheckList? lastList, Actor actor)
    {
        (_walk, _list, _lastList, _actor) = (walk, list, lastList, actor);
        var machine = walk.Machine.ToMachine();
        _row = new()
        {
            Id = walk.Id,
            MachineId = machine.Id,
            Machine = machine,
            VersionId = walk.Version,
            Round = walk.Round,
            On = walk.On,
            StartedAt = walk.StartedAt,
            StartedBy = walk.StartedBy,
            Late = walk.Late,
            LifeHours = walk.LifeHours,
            ShownHours = walk.ShownHours,
            ParkedAt = walk.ParkedAt,
            Weather = walk.Weather,
            Ground = walk.Ground,
            Checks = walk.Checks,
            Due = walk.Checks.Split(' ').Length,
            Batch = walk.Batch,
        };
        _own = walk.Machine.Own.ToDictionary(x => x.CheckCode, StringComparer.Ordinal);
        _rows = walk.Rows.ToDictionary(x => x.Key, x => Row(x.Key, x.Value), StringComparer.Ordinal);
        _answers = walk
            .Rows.Where(x => !x.Key.StartsWith(SaveAnswer.StepPrefix, StringComparison.Ordinal))
            .ToDictionary(x => x.Key, x => PackedAnswers.ReadOne(x.Value.Answer), StringComparer.Ordinal);
        _defects = [.. walk.Machine.Defects];
        _again = [.. walk.Machine.LookAgain.Where(x => x.LookAgainHours <= walk.LifeHours)];
        _found = [.. walk.Found];
        _spoken = [.. walk.SpokenOf];
    }

    /// <summary>The walk as it stands.</summary>
    public WalkContext Context
    {
        get
        {
            var machine = _walk.Machine;
            var life = _walk.LifeHours;
            HashSet<string> Since(IReadOnlyDictionary<string, MeterHours> filled, int hours) =>
                [.. filled.Where(x => x.Value >= life - MeterHours.Of(hours)).Select(x => x.Key)];
            return new(_row, _list, _own)
            {
                Rows = _rows,
                Answers = _answers,
                Defects = [.. _defects.OrderByDescending(x => x.Grade).ThenBy(x => x.LimitHours).ThenBy(x => x.Id)],
                LookAgain = _again,
                Filled = Since(machine.Filled, ExplainHours),
                ToppedUp = Since(machine.ToppedUp, CheckContext.AgainHours),
                Facts = machine.Facts,
                SpokenOf = _spoken,
                Later = [],
                ListName = "",
                Last =
                    machine.Last is { } last && _lastList is not null
                        ? new(() => PackedAnswers.Unpack(WalkChecks.Codes(last.Checks, _lastList), last.Answers))
                        : WalkContext.NoLast,
                LastOn = machine.Last?.On,
                Lately = machine
                    .Defects.Where(x => x.CheckCode.Length > 0)
                    .Concat(machine.Lately)
                    .OrderByDescending(x => x.Id)
                    .ToLookup(x => x.CheckCode, StringComparer.Ordinal),
                Found = _found,
                Grease = machine
                    .Grease.SelectMany(x => x.Value.Select(memory => (x.Key, memory)))
                    .ToLookup(x => x.Key, x => x.memory, StringComparer.Ordinal),
                StopSpns = machine.StopSpns.ToHashSet(),
                Codes =
                [
                    .. machine.Codes.Select(x => new MachineCode
                    {
                        Code = x.Key,
                        Meaning = x.Value,
                        By = "",
                    }),
                ],
            };
        }
    }

    /// <summary>Puts what was done into the walk.</summary>
    /// <returns>What stands against it; nothing when it was taken.</returns>
    public List<Refusal> Take(PhoneEntry entry)
    {
        if (_row.State != WalkState.Open)
            return [Refusals.WalkNotOpen()];
        using var units = PersonUnits.As(entry.Units);
        return entry.Kind switch
        {
            EntryKind.Answer => Answer(entry),
            EntryKind.AllOk => AllOk(entry),
            EntryKind.Tick => Tick(entry),
            EntryKind.Again => Again(entry),
            EntryKind.Fault => Fault(entry),
            EntryKind.Told => Told(entry),
            EntryKind.Finish => Finish(entry),
            EntryKind.Photo => Photo(entry),
            _ => [],
        };
    }

    private static WalkAnswerRow Row(string code, KitAnswer answer) =>
        new()
        {
            Code = code,
            Revision = answer.Revision,
            By = answer.By,
            At = answer.At,
            Answer = answer.Answer,
        };

    private void Keep(string code, string text, PhoneEntry entry) =>
        _rows[code] = new()
        {
            WalkId = _row.Id,
            Code = code,
            Revision = (_rows.GetValueOrDefault(code)?.Revision ?? 0) + 1,
            By = _actor.Name,
            At = entry.Corrected,
            Answer = text,
        };

    private List<Refusal> Answer(PhoneEntry entry)
    {
        var walk = Context;
        var typed = entry.Typed;
        if (walk.Checks.FirstOrDefault(x => x.Code == typed["check"]) is not { } check)
            return [Refusals.NoSuchCheck("", typed["check"] ?? "")];
        var refusals = new List<Refusal>();
        var answer = CheckForm.Read(check, typed, refusals);
        if (answer is not null)
            refusals.AddRange(AnswerRules.Of(check, answer).Where(x => !refusals.Exists(y => y.Field == x.Field)).ToList());
        if (answer is null || refusals.Count > 0)
            return refusals;
        _answers[check.Code] = answer;
        Keep(check.Code, PackedAnswers.WriteOne(answer), entry);
        var result = walk.Judge(check, answer);
        if (result.Outcome == CheckOutcome.Fault && answer is not SeenAnswer && walk.Standing(check).FirstOrDefault() is { } standing)
        {
            DefectLook.Hold(standing, result.Grade, _row.LifeHours, _row.On, entry.Corrected);
            _spoken.Add(standing.Id);
        }

        return [];
    }

    private List<Refusal> AllOk(PhoneEntry entry)
    {
        var walk = Context;
        if (walk.Steps.FirstOrDefault(x => x.Code == entry.Step && x.Kind == StepKind.Station) is not { } station)
            return [Refusals.NoSuchStep()];
        foreach (var check in station.Checks.Where(walk.MayBeSaidAtOnce).ToList())
        {
            _answers[check.Code] = CheckAnswer.OkAtOnce;
            Keep(check.Code, PackedAnswers.WriteOne(CheckAnswer.OkAtOnce), entry);
        }

        return [];
    }

    private List<Refusal> Tick(PhoneEntry entry)
    {
        Keep(SaveAnswer.StepPrefix + entry.Step, entry.Typed.Has("done") ? "done" : "", entry);
        return [];
    }

    private List<Refusal> Photo(PhoneEntry entry)
    {
        var walk = Context;
        if (walk.Checks.FirstOrDefault(x => x.Code == entry.Typed["check"]) is not { } check || !walk.AsksPhoto(check))
            return [Refusals.PhotoNotAsked()];
        Keep(SaveAnswer.StepPrefix + SaveAnswer.PhotoStep, "done", entry);
        return [];
    }

    private List<Refusal> Again(PhoneEntry entry)
    {
        var typed = entry.Typed;
        if (typed.Pick<Again>("again") is not { } again || !long.TryParse(typed["defect"], out var id))
            return [Refusals.DefectNotOpen()];
        if (again is Defects.Again.AsBefore or Defects.Again.Worse)
        {
            if (_defects.Find(x => x.Id == id) is not { } standing)
                return [Refusals.DefectNotOpen()];
            if (again == Defects.Again.Worse)
                DefectLook.Worse(standing, _row.LifeHours, _row.On, entry.Corrected);
            _spoken.Add(id);
            if (!_answers.ContainsKey(standing.CheckCode) && WalkRules.AnsweredByDefect(_list, _row, standing.CheckCode))
            {
                var seen = new SeenAnswer(false);
                _answers[standing.CheckCode] = seen;
                Keep(standing.CheckCode, PackedAnswers.WriteOne(seen), entry);
            }

            return [];
        }

        if (_again.Find(x => x.Id == id) is not { } fix)
            return [Refusals.DefectNotOpen()];
        _again.Remove(fix);
        if (again == Defects.Again.DidNotHold)
        {
            Add(entry, DefectLook.FoundAgain(fix, typed["note"], _actor.Name, _row.LifeHours, _row.On, entry.Corrected, _row.Id));
        }

        return [];
    }

    private List<Refusal> Fault(PhoneEntry entry)
    {
        var refusals = new List<Refusal>();
        var draft = DefectDraft.Of(Reported(entry, _row.Id), Ground(entry), Context, _actor, refusals);
        if (draft is null || refusals.Count > 0)
            return refusals;
        Add(entry, draft);
        return [];
    }

    private List<Refusal> Told(PhoneEntry entry)
    {
        var refusals = new List<Refusal>();
        var name = Typed.Words(entry.Typed["whom"], "whom", DefectNotes.LongestName, refusals, needed: true);
        if (refusals.Count > 0 || !long.TryParse(entry.Typed["defect"], out var id))
            return refusals;
        foreach (var defect in _defects.Concat(_found).Where(x => x.Id == id).ToList())
            (defect.ToldWhom, defect.ToldBy, defect.ToldAt) = (name, _actor.Name, entry.Corrected);
        return [];
    }

    private List<Refusal> Finish(PhoneEntry entry)
    {
        var walk = Context;
        var input = new FinishInput(entry.Typed["leftOut"], entry.Typed["note"]);
        if (WalkRules.AgainstSigning(walk, input) is { Count: > 0 } refusals)
            return refusals;
        var (answers, _) = WalkRules.Sign(walk, input, _actor.Name, entry.Corrected);
        foreach (var (code, answer) in answers)
            _answers[code] = answer;

        // What is left unchecked stands against the machine from now on, as after a walk that the server has.
        var said = walk.Facts with { NotChecked = _row.NotChecked };
        var answerNow = said.Answer(_defects.Select(x => x.Clock));
        (_row.RunStatus, _row.UntilHours, _row.UntilOn) = (answerNow.RunStatus, answerNow.UntilHours, answerNow.UntilOn);
        return [];
    }

    /// <summary>A fault as its form says it, on a walk or without one.</summary>
    /// <param name="entry">What was typed.</param>
    /// <param name="walkId">The walk; null for none.</param>
    public static DefectInput Reported(PhoneEntry entry, long? walkId)
    {
        var typed = entry.Typed;
        return new()
        {
            Unit = entry.Unit,
            Place = typed["place"],
            Part = typed["part"],
            On = typed.Pick<MachinePart>("on"),
            Words = typed["words"],
            Usual = typed["usual"],
            Grade = typed.Pick<DefectGrade>("grade"),
            ChoosesGrade = true,
            LimitHours = typed["limitHours"],
            LimitDays = typed["limitDays"],
            WalkId = walkId,
            Check = typed["check"],
            Fixed = typed["fixedWords"],
            Minutes = typed["minutes"],
            Parts = typed["parts"],
            LookAgainHours = typed["lookAgainHours"],
            Key = entry.Key,
        };
    }

    private DefectGround Ground(PhoneEntry entry) =>
        new(_row.MachineId, _row.LifeHours, entry.Corrected, _row.On, _list, _walk.Machine.Compartments);

    /// <summary>Key of the entry that made a defect here; null for one that the server has.</summary>
    public string? KeyOf(long defect) => _made.GetValueOrDefault(defect);

    // Its number is below zero and tells which entry made it, so that the server can find the one that it becomes.
    private void Add(PhoneEntry entry, DefectRow defect)
    {
        defect.Id = -entry.Seq;
        _made[defect.Id] = entry.Key;
        _found.Add(defect);
        if (defect.Stands)
            _defects.Add(defect);
    }
}
