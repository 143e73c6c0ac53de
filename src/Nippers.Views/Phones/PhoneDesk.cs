using Nippers.App;
using Nippers.App.Defects;
using Nippers.App.Languages;
using Nippers.App.Phones;
using Nippers.App.Readings;
using Nippers.App.Units;
using Nippers.App.Visits;
using Nippers.App.Walks;
using Nippers.Core.Hours;
using Nippers.Core.Jobs;
using Nippers.Core.Walk;
using Nippers.Data.Walks;
using Nippers.Views.Cards;
using Nippers.Views.Text;
using Nippers.Views.Walks;

namespace Nippers.Views.Phones;

/// <summary>What a page on a phone asks while there is no network.</summary>
public sealed record PhoneRequest
{
    public required string Person { get; init; }
    public required string Role { get; init; }

    /// <summary>The units in which the person reads and types.</summary>
    public string? Units { get; init; }

    /// <summary>The language of the page that asks; English for none.</summary>
    public string? Language { get; init; }

    /// <summary>What planners say in other languages for words of own lists.</summary>
    public IReadOnlyList<KitPhrase> Phrases { get; init; } = [];

    /// <summary>Now, by the phone's clock.</summary>
    public required DateTimeOffset PhoneNow { get; init; }

    /// <summary>By how much the phone's clock is ahead of the server's, ms.</summary>
    public long AheadMs { get; init; }

    /// <summary>Now, by the server's clock.</summary>
    [System.Text.Json.Serialization.JsonIgnore]
    public DateTimeOffset Now => PhoneNow.AddMilliseconds(-AheadMs);

    /// <summary>Key of the entry that it becomes.</summary>
    public string Key { get; init; } = "";

    /// <summary>Place of the entry that it becomes.</summary>
    public long Seq { get; init; }

    /// <summary><c>page</c>, <c>start</c>, <c>begin</c>, <c>edit</c>, <c>end</c>, or a kind of entry.</summary>
    public required string Asks { get; init; }
    public string Step { get; init; } = "";
    public IReadOnlyDictionary<string, IReadOnlyList<string?>> Fields { get; init; } = new Dictionary<string, IReadOnlyList<string?>>();
    public KitMachine? Machine { get; init; }
    public PhoneWalk? Walk { get; init; }
    public CheckList? List { get; init; }
    public CheckList? LastList { get; init; }

    /// <summary>Machines, for the list of them.</summary>
    public IReadOnlyList<KitMachine> Machines { get; init; } = [];

    /// <summary>Why each of the entries was refused; empty where it was not.</summary>
    public IReadOnlyList<string> Reasons { get; init; } = [];

    /// <summary>What was done on this phone since the server's state of the walk.</summary>
    public IReadOnlyList<PhoneEntry> Entries { get; init; } = [];
}

/// <summary>What the page shows, and what is to be kept.</summary>
public sealed record PhoneReply
{
    public string Html { get; init; } = "";

    /// <summary>Something was refused: nothing is to be kept.</summary>
    public bool Refused { get; init; }

    /// <summary>What goes into the outbox before the page is shown.</summary>
    public PhoneEntry? Entry { get; init; }

    /// <summary>A walk that was begun.</summary>
    public PhoneWalk? Walk { get; init; }

    /// <summary>Where the page goes, other than to what sent the form.</summary>
    public string? Target { get; init; }

    /// <summary>The walk is signed off.</summary>
    public bool Finished { get; init; }
}

/// <summary>
/// Answers on a phone as the server's pages do: the same forms read, the same rules asked, the same parts shown.
/// </summary>
/// <remarks>Rules 12.</remarks>
public sealed class PhoneDesk
{
    private static readonly Words Words = new();
    private readonly PhoneRequest _asked;
    private readonly Actor _actor;
    private readonly TypedFields _typed;

    private PhoneDesk(PhoneRequest asked)
    {
        _asked = asked;
        _actor = new(asked.Person, asked.Role);
        _typed = new(asked.Fields);
    }

    /// <summary>Answers.</summary>
    public static async Task<PhoneReply> Ask(PhoneRequest asked)
    {
        using var units = PersonUnits.As(asked.Units);
        AllLanguages.Use(AllLanguages.Find(asked.Language) ?? Language.English);
        OwnPhrases.Use(asked.Phrases.Count == 0 ? OwnPhrases.None : new(asked.Phrases.Select(x => (x.Language, x.Text, x.Said))));
        return await new PhoneDesk(asked).Reply();
    }

    private Screen Screen(IReadOnlyList<Refusal>? refusals = null, TimeZoneInfo? zone = null) =>
        new(Words, _actor.Name, _actor.Role != Roles.Operator) { Refusals = refusals ?? [], Zone = zone };

    private Task<PhoneReply> Reply() =>
        _asked.Asks switch
        {
            "start" => Start([], new StartWalkInput { Unit = _asked.Machine!.Unit }),
            "begin" => Begin(),
            "home" => Home(),
            "outbox" => Outbox(),
            "machine" => Machine([], false),
            "card" => Card([], null),
            "step" => Step(),
            "hours" or "defect" or "topUp" or "evening" => One(),
            "page" => Page(),
            "edit" => Edit(),
            "end" => End(),
            _ => Entry(),
        };

    private PhoneBook Open()
    {
        var book = new PhoneBook(_asked.Walk!, _asked.List!, _asked.LastList, _actor);
        foreach (var entry in _asked.Entries)
            book.Take(entry);
        return book;
    }

    private PhoneEntry ToEntry(EntryKind kind, string? walk = null, string? unit = null) =>
        new()
        {
            Key = _asked.Key,
            Seq = _asked.Seq,
            Kind = kind,
            Unit = unit ?? _asked.Walk!.Machine.Unit,
            Walk = walk ?? _asked.Walk!.Batch,
            Step = _asked.Step,
            At = _asked.PhoneNow,
            AheadMs = _asked.AheadMs,
            Units = _asked.Units,
            Fields = _asked.Fields,
        };

    private async Task<PhoneReply> Page() => new() { Html = await ScreenHtml.Of<WholeWalkPart, WalkContext>(Screen(), Open().Context) };

    private async Task<PhoneReply> Edit()
    {
        var walk = Open().Context;
        return Find(walk) is not { } found
            ? await Page()
            : new()
            {
                Html = await ScreenHtml.Of<CheckPart, CheckCard>(
                    Screen(),
                    new(walk, found.Step.Code, found.Check, Editing: true, OnePage: true)
                ),
            };
    }

    private async Task<PhoneReply> End() => new() { Html = await ScreenHtml.Of<SignOffPart, SignOff>(Screen(), new(Open().Context)) };

    private (WalkStep Step, WalkCheck Check)? Find(WalkContext walk) =>
        walk.Steps.FirstOrDefault(x => x.Code == _asked.Step) is { } step
        && step.Checks.FirstOrDefault(x => x.Code == (_typed["check"] ?? _typed["edit"])) is { } check
            ? (step, check)
            : null;

    private async Task<PhoneReply> Entry()
    {
        if (!Enum.TryParse<EntryKind>(_asked.Asks, ignoreCase: true, out var kind))
            return new() { Refused = true };
        var entry = ToEntry(kind);
        var book = Open();
        var refusals = book.Take(entry);
        var walk = book.Context;
        if (long.TryParse(_typed["defect"], out var defect) && book.KeyOf(defect) is { } key)
            entry = entry with { Fields = new Dictionary<string, IReadOnlyList<string?>>(entry.Fields) { ["defectKey"] = [key] } };
        if (kind == EntryKind.Finish)
        {
            return refusals.Count > 0
                ? new()
                {
                    Html = await ScreenHtml.Of<SignOffPart, SignOff>(Screen(refusals), new(walk, _typed["leftOut"], _typed["note"])),
                    Refused = true,
                }
                : new()
                {
                    Html = await ScreenHtml.Of<WalkOverPart, WalkContext>(Screen(), walk),
                    Entry = entry,
                    Finished = true,
                };
        }

        if (refusals.Count > 0)
            return await Refuse(walk, kind, refusals);
        if (walk.StopFound && !_typed.Has("stopped"))
        {
            return new()
            {
                Html = await ScreenHtml.Of<StepsSavedPart, StepsCard>(Screen(), new(walk, _asked.Step)),
                Entry = entry,
                Target = "#walk-steps",
            };
        }

        var found = Find(walk);
        var step = found?.Step ?? walk.Steps.FirstOrDefault(x => x.Code == _asked.Step);
        return new()
        {
            Html =
                found is { } at ? await ScreenHtml.Of<CheckSavedPart, CheckCard>(Screen(), new(walk, at.Step.Code, at.Check, OnePage: true))
                : step is not null ? await ScreenHtml.Of<StationSavedPart, StationCard>(Screen(), new(walk, step, OnePage: true))
                : await ScreenHtml.Of<StepsSavedPart, StepsCard>(Screen(), new(walk)),
            Target = found is null && step is null ? "#walk-steps" : null,
            Entry = entry,
        };
    }

    private async Task<PhoneReply> Refuse(WalkContext walk, EntryKind kind, List<Refusal> refusals)
    {
        if (Find(walk) is not { } at)
            return new()
            {
                Refused = true,
                Html = await ScreenHtml.Of<StepsSavedPart, StepsCard>(Screen(refusals), new(walk, _asked.Step)),
                Target = "#walk-steps",
            };
        var card = new CheckCard(walk, at.Step.Code, at.Check, kind == EntryKind.Answer ? _typed : null, OnePage: true);
        var screen = Screen(refusals);
        if (kind == EntryKind.Fault)
            screen = screen with { Fault = new FaultForm(card, PhoneBook.Reported(ToEntry(kind), walk.Row.Id)) };
        return new() { Html = await ScreenHtml.Of<CheckPart, CheckCard>(screen, card), Refused = true };
    }

    private async Task<PhoneReply> Home() =>
        new() { Html = await ScreenHtml.Of<HomePart, HomeCard>(Screen(), new(_asked.Machines, _asked.Now)) };

    private async Task<PhoneReply> Outbox() =>
        new()
        {
            Html = await ScreenHtml.Of<OutboxPart, OutboxCard>(
                Screen(),
                new([.. _asked.Entries.Select((x, i) => (x, i < _asked.Reasons.Count ? _asked.Reasons[i] : ""))])
            ),
        };

    private async Task<PhoneReply> Machine(List<Refusal> refusals, bool kept) =>
        new()
        {
            Html = await ScreenHtml.Of<PhoneMachinePart, MachineCard>(
                Screen(refusals),
                new(_asked.Machine!, _asked.Now, refusals.Count > 0 ? _typed : TypedFields.None, kept, _asked.List)
            ),
            Refused = refusals.Count > 0,
        };

    private PhoneCardBook OpenCard()
    {
        var book = new PhoneCardBook(_asked.Machine!, _actor);
        foreach (var entry in _asked.Entries)
            book.Take(entry);
        return book;
    }

    /// <summary>The job card: the step that the address asks for, else the next.</summary>
    private async Task<PhoneReply> Card(List<Refusal> refusals, TypedFields? typed, PhoneCardBook? book = null, StepResult? result = null)
    {
        var job = (book ?? OpenCard()).Context;
        var step = _asked.Step.Length > 0 ? job.StepOf(_asked.Step) : null;
        step ??= job.State.Next;
        var row = step is null ? null : job.Rows.GetValueOrDefault(step.Code);
        return new()
        {
            Html = await ScreenHtml.Of<PhoneCardPart, PhoneCardPage>(
                Screen(refusals),
                new(
                    _asked.Machine!.Unit,
                    step is null
                        ? null
                        : new(
                            new(job, step, typed ?? StepForm.Write(step, row is null ? null : JobContext.ReadAnswer(row.Answer))),
                            row?.Revision ?? 0,
                            _asked.Now
                        ),
                    job,
                    result
                )
            ),
            Refused = refusals.Count > 0,
        };
    }

    /// <summary>A step of the card.</summary>
    private async Task<PhoneReply> Step()
    {
        var book = OpenCard();
        var entry = ToEntry(EntryKind.Step, "", _asked.Machine!.Unit);
        var (refusals, result) = book.Take(entry);
        if (refusals.Count > 0)
            return await Card(refusals, _typed, book);

        // What is kept and not done is shown again with what stands against it.
        return (result is { Accepted: true } ? new PhoneReply() : await Card([], null, book, result)) with
        {
            Entry = entry,
        };
    }

    /// <summary>Hours, a defect or a top-up outside a walk.</summary>
    private async Task<PhoneReply> One()
    {
        var kit = _asked.Machine!;
        var machine = kit.ToMachine();
        var refusals = new List<Refusal>();
        var kind = Enum.Parse<EntryKind>(_asked.Asks, ignoreCase: true);
        var entry = ToEntry(kind, "", machine.Unit);
        var zone = TimeZoneInfo.FindSystemTimeZoneById(machine.Site.TimeZone);
        if (kind == EntryKind.Hours)
        {
            if (HoursInput.Read("hours", _typed["hours"], out var shown) is { } fault)
                refusals.Add(fault);
            else
                LogReading.Judge(machine, kit.ToRecord(), kit.Offset, shown, _asked.Now, _asked.Now, refusals);
        }
        else if (kind == EntryKind.TopUp)
        {
            Typed.Volume(_typed["litres"], "litres", LogTopUp.Least, LogTopUp.Most, refusals);
            if (_typed["litres"] is null && refusals.Count == 0)
                refusals.Add(Refusals.Needed("litres"));
            if (!kit.Compartments.ContainsKey(_typed["compartment"] ?? ""))
                refusals.Add(Refusals.Needed("compartment"));
        }
        else if (kind == EntryKind.Evening)
        {
            LeaveMachine.Read(machine.Id, _typed, LocalDay.Of(_asked.Now, zone), _asked.Now, _actor, refusals);
        }
        else
        {
            var life = MeterHours.Of(
                Math.Clamp(UsePerDay.Estimate(kit.ToRecord(), _asked.Now).HoursNow(_asked.Now), 0, MeterHours.Max.Value)
            );
            var ground = new DefectGround(machine.Id, life, _asked.Now, LocalDay.Of(_asked.Now, zone), _asked.List, kit.Compartments);
            DefectDraft.Of(PhoneBook.Reported(entry, null), ground, null, _actor, refusals);
        }

        var reply = await Machine(refusals, kept: refusals.Count == 0);
        return refusals.Count > 0 ? reply : reply with { Entry = entry };
    }

    private async Task<PhoneReply> Start(List<Refusal> refusals, StartWalkInput input, Judgement? judgement = null)
    {
        var kit = _asked.Machine!;
        var machine = kit.ToMachine();
        var zone = TimeZoneInfo.FindSystemTimeZoneById(machine.Site.TimeZone);
        var record = kit.ToRecord();
        var use = UsePerDay.Estimate(record, _asked.Now);
        var life = MeterHours.Of(Math.Clamp(use.HoursNow(_asked.Now), 0, MeterHours.Max.Value));
        var list = _asked.List;
        var start = new WalkStart(
            machine,
            null,
            kit.Facts.Answer(kit.Defects.Select(x => x.Clock)),
            kit.Defects,
            (use.Last.Hours - kit.Offset).Clamped,
            use.HasReading ? use.Last.At : null,
            use.HoursNow(_asked.Now) - kit.Offset.Value,
            list is null
                ? []
                :
                [
                    .. list.Checks.Where(x =>
                        x.Cadence == Cadence.OnSign && Nippers.Core.Service.OptionRule.Holds(x.Needs, machine.OptionWords)
                    ),
                ],
            list is null
                ? []
                : WalkRules.Offers(
                    list,
                    WalkRoute.Due(list, machine.OptionWords, WalkRound.Whole, kit.Done, life, machine.Site.StopsEachWalk),
                    kit.Pace
                ),
            kit.LookAgain.Count(x => x.LookAgainHours <= life),
            kit.WalkedOn,
            LocalDay.Of(_asked.Now, zone),
            zone,
            Parking(kit, zone),
            kit.Pace,
            kit.Km
        );
        return new()
        {
            Html = await ScreenHtml.Of<PhoneStartPart, StartCard>(Screen(refusals, zone), new(start, input, judgement?.DidYouMean ?? [])),
            Refused = refusals.Count > 0,
        };
    }

    /// <summary>How the machine was left, as far as the phone knows.</summary>
    private ParkingRow? Parking(KitMachine kit, TimeZoneInfo zone) =>
        kit.Parking is { } left && ParkingCard.Stands(left.At, kit.WalkedAt, _asked.Now) ? left.ToRow(LocalDay.Of(left.At, zone)) : null;

    private async Task<PhoneReply> Begin()
    {
        var kit = _asked.Machine!;
        var machine = kit.ToMachine();
        var zone = TimeZoneInfo.FindSystemTimeZoneById(machine.Site.TimeZone);
        var input = StartWalkInput.Of(machine.Unit, _typed);
        var refusals = new List<Refusal>();
        if (HoursInput.Read("hours", input.Hours, out var shown) is { } fault)
            refusals.Add(fault);
        if (!string.IsNullOrWhiteSpace(input.Km))
            Typed.Number(input.Km, "km", 0, Nippers.App.Machines.SaveMachine.MostKm, refusals);
        if (input.Parts is { Count: 0 })
            refusals.Add(Refusals.Needed("parts"));
        if (!string.IsNullOrWhiteSpace(input.LateOn))
            refusals.Add(Refusals.NeedsNetwork("lateOn"));
        if (_asked.List is null)
            refusals.Add(Refusals.NoWalkList());
        var parked = Parking(kit, zone);
        refusals.AddRange(WalkRules.AgainstParking(parked, input));
        var stopped = kit.Facts.Answer(kit.Defects.Select(x => x.Clock)).RunStatus == Nippers.Core.Defects.RunStatus.OutOfService;
        if (stopped && !input.KnowsStopped)
            refusals.Add(Refusals.OutOfService(machine.Unit));
        var judgement =
            refusals.Count > 0 ? null : LogReading.Judge(machine, kit.ToRecord(), kit.Offset, shown, _asked.Now, _asked.Now, refusals);
        var life = shown + kit.Offset;
        var checks = refusals.Count > 0 ? [] : WalkRules.Asked(_asked.List!, machine, input, kit.Done, life, stopped);
        if (refusals.Count == 0 && checks.Count == 0)
            refusals.Add(Refusals.WalkEmpty());
        if (refusals.Count > 0)
            return await Start(refusals, input, judgement);
        var batch = "walk-" + _asked.Key[..12];
        return new()
        {
            Entry = ToEntry(EntryKind.Start, batch, machine.Unit) with
            {
                Fields = new Dictionary<string, IReadOnlyList<string?>>(_asked.Fields) { ["asked"] = [.. checks] },
            },
            Walk = new()
            {
                Id = -_asked.Now.ToUnixTimeSeconds(),
                Batch = batch,
                Machine = kit,
                Version = kit.List!.Value,
                Round = WalkRules.RoundOf(input),
                On = LocalDay.Of(_asked.Now, zone),
                StartedAt = _asked.Now,
                StartedBy = _actor.Name,
                LifeHours = life,
                ShownHours = shown,
                Weather = input.Weather,
                Ground = input.Ground,
                ParkedAt = input.AsParked == true ? parked?.At : null,
                Checks = string.Join(' ', checks),
            },
        };
    }
}
