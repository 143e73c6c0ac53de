using System.Collections.Immutable;
using Microsoft.EntityFrameworkCore;
using Nippers.Core.Defects;
using Nippers.Core.Service;
using Nippers.Core.Walk;
using Nippers.Data;
using Nippers.Data.Fleet;
using Nippers.Data.Walks;

namespace Nippers.App.Walks;

/// <summary>A walk list in the overview.</summary>
public sealed record WalkListLine(string Code, string Name, MachineKind Kind, bool Starter, int Checks, int Machines);

/// <summary>A walk list with its body.</summary>
public sealed record WalkListPage(WalkList List, CheckList Body);

/// <summary>A check, as a planner enters it.</summary>
public sealed record WalkCheckInput
{
    /// <summary>Code of the check that is changed; null for a new one.</summary>
    public string? OldCode { get; init; }
    public string? Code { get; init; }
    public string? Name { get; init; }
    public string? Station { get; init; }
    public CheckKind Kind { get; init; }
    public Cadence Cadence { get; init; }
    public EngineState Engine { get; init; }
    public string? Posture { get; init; }
    public DefectGrade Grade { get; init; } = DefectGrade.NextService;
    public SafetyPart Safety { get; init; }
    public string? Needs { get; init; }
    public string? Truth { get; init; }
    public bool AsksTick { get; init; }
    public string? WaitMinutes { get; init; }
    public string? Caution { get; init; }
    public string? Unit { get; init; }
    public string? Low { get; init; }
    public string? WatchBelow { get; init; }
    public string? High { get; init; }
    public string? Figures { get; init; }
    public bool Wear { get; init; }
    public string? Points { get; init; }

    /// <summary>Where it stands among the checks of its list, from 1.</summary>
    public string? Position { get; init; }

    /// <summary>Take it out of the list; old walks keep it.</summary>
    public bool Remove { get; init; }
}

/// <summary>A posture, as a planner enters it.</summary>
public sealed record PostureInput(string? Code, string? Name, string? Words, string? After, string? Caution);

/// <summary>Keeps walk lists: each change is a new version, and walks that were begun keep theirs.</summary>
public sealed class ChangeWalkList(NippersDb db, UnitOfWork writes)
{
    private const int LongestText = 400;
    private const int MostPoints = 40;
    private const int MostFigures = 8;
    private const int MostPostures = 8;
    private const int LongestName = 80;
    private const int LongestPosture = 800;

    public async Task<IReadOnlyList<WalkListLine>> All(CancellationToken ct)
    {
        var rows = await db
            .WalkLists.AsNoTracking()
            .OrderBy(x => x.Starter)
            .ThenBy(x => x.Name)
            .Select(x => new
            {
                List = x,
                db.WalkListVersions.Single(v => v.ListId == x.Id && v.Version == x.Version).Body,
                Machines = db.Machines.Count(m => !m.Retired && (m.WalkListId == x.Id || (m.WalkListId == null && m.Kind == x.Kind))),
            })
            .ToListAsync(ct);
        return
        [
            .. rows.Select(x => new WalkListLine(
                x.List.Code,
                x.List.Name,
                x.List.Kind,
                x.List.Starter,
                ListJson.Read(x.Body).Checks.Length,
                x.Machines
            )),
        ];
    }

    public async Task<WalkListPage?> One(string code, CancellationToken ct)
    {
        var found = await db
            .WalkLists.AsNoTracking()
            .Where(x => x.Code == code)
            .Select(x => new { List = x, db.WalkListVersions.Single(v => v.ListId == x.Id && v.Version == x.Version).Body })
            .SingleOrDefaultAsync(ct);
        return found is null ? null : new(found.List, ListJson.Read(found.Body));
    }

    /// <summary>Changes, adds or takes out one check.</summary>
    public Task<Outcome<WalkList>> SaveCheck(string list, int version, WalkCheckInput input, Actor actor, CancellationToken ct) =>
        Change(
            list,
            version,
            actor,
            (body, refusals) =>
            {
                var old = input.OldCode is { } was ? body.Checks.FirstOrDefault(x => x.Code == was) : null;
                if (input.OldCode is not null && old is null)
                    refusals.Add(Refusals.NoSuchCheck("code", input.OldCode));
                if (input.Remove && old is not null)
                    return body with { Checks = body.Checks.Remove(old) };
                var check = Read(body, old, input, refusals);
                var at = Typed.Optional(input.Position, "position", 1, body.Checks.Length + 1, refusals);
                if (refusals.Count > 0)
                    return body;
                var checks = old is null ? body.Checks : body.Checks.Remove(old);
                var place =
                    at is { } p ? (int)p - 1
                    : old is null ? checks.Length
                    : body.Checks.IndexOf(old);
                return body with { Checks = checks.Insert(Math.Clamp(place, 0, checks.Length), check) };
            },
            ct
        );

    /// <summary>Changes stations, postures and plan, each given as lines of text.</summary>
    public Task<Outcome<WalkList>> SavePlan(
        string list,
        int version,
        string? name,
        string? stations,
        string? parts,
        string? places,
        Actor actor,
        CancellationToken ct
    ) =>
        Change(
            list,
            version,
            actor,
            (body, refusals) =>
            {
                var read = ReadStations(stations, refusals);
                var shapes = ReadParts(parts, refusals);
                var lie = ReadPlaces(places, refusals);
                Typed.Words(name, "name", LongestName, refusals, needed: true);
                foreach (var orphan in body.Checks.Select(x => x.Station).Distinct().Where(code => read.All(x => x.Code != code)).Take(1))
                    refusals.Add(Refusals.StationInUse(orphan));
                return body with { Stations = read, Parts = shapes, Places = lie };
            },
            ct,
            name
        );

    /// <summary>
    /// Changes how the kind stands for its checks. One that is empty goes, and can't while a check stands in it; the first is how the
    /// machine is parked for the walk.
    /// </summary>
    public Task<Outcome<WalkList>> SavePostures(
        string list,
        int version,
        IReadOnlyList<PostureInput> postures,
        SagMethod? sag,
        bool keyFirst,
        Actor actor,
        CancellationToken ct
    ) =>
        Change(
            list,
            version,
            actor,
            (body, refusals) =>
            {
                var read = ReadPostures(postures, refusals);
                foreach (var check in body.Checks.Where(x => x.Posture.Length > 0 && read.All(p => p.Code != x.Posture)).Take(1))
                    refusals.Add(Refusals.PostureInUse(check.Posture, check.Name));
                return body with { Postures = read, Sag = sag, KeyFirst = keyFirst };
            },
            ct
        );

    private static ImmutableArray<Posture> ReadPostures(IReadOnlyList<PostureInput> postures, List<Refusal> refusals)
    {
        var read = ImmutableArray.CreateBuilder<Posture>();
        for (var i = 0; i < postures.Count; i++)
        {
            var input = postures[i];
            if (new[] { input.Code, input.Name, input.Words, input.After, input.Caution }.All(string.IsNullOrWhiteSpace))
                continue;
            var code = (input.Code ?? "").Trim();
            if (!Typed.IsCode(code))
                refusals.Add(Refusals.CodeShape($"code-{i}"));
            else if (read.Any(x => x.Code == code))
                refusals.Add(Refusals.CodeTaken($"code-{i}", code));
            read.Add(
                new(
                    code,
                    Typed.Words(input.Name, $"name-{i}", LongestName, refusals, needed: true),
                    Typed.Words(input.Words, $"words-{i}", LongestPosture, refusals, needed: true),
                    Typed.Words(input.After, $"after-{i}", LongestPosture, refusals),
                    Typed.Words(input.Caution, $"caution-{i}", LongestPosture, refusals)
                )
            );
        }

        if (read.Count is 0 or > MostPostures)
            refusals.Add(Refusals.PosturesBetween(MostPostures));
        return read.ToImmutable();
    }

    /// <summary>Makes an own list from another, for the same kind or a kind that the planner adds.</summary>
    public Task<Outcome<WalkList>> Copy(string from, string? newCode, string? newName, bool otherKind, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var source = await One(from, ct);
                if (source is null)
                    return Outcome<WalkList>.Refused(Refusals.NoSuchWalkList(""));
                var code = (newCode ?? "").Trim();
                var refusals = new List<Refusal>();
                if (!Typed.IsCode(code))
                    refusals.Add(Refusals.CodeShape());
                else if (await db.WalkLists.AnyAsync(x => x.Code == code, ct))
                    refusals.Add(Refusals.CodeTaken("code", code));
                var name = Typed.Words(newName, "name", LongestName, refusals, needed: true);
                if (refusals.Count > 0)
                    return Outcome<WalkList>.Refused(refusals);
                var list = new WalkList
                {
                    Code = code,
                    Name = name,
                    Kind = otherKind ? MachineKind.Other : source.List.Kind,
                    Version = 1,
                };
                db.WalkListVersions.Add(
                    new()
                    {
                        List = list,
                        Version = 1,
                        At = writes.Now,
                        By = actor.Name,
                        Body = ListJson.Write(source.Body),
                    }
                );
                writes.Audit(
                    actor,
                    "walkList.copy",
                    code,
                    null,
                    new { from },
                    new
                    {
                        code,
                        list.Name,
                        list.Kind,
                    }
                );
                return Outcome<WalkList>.Of(list);
            },
            ct
        );

    private Task<Outcome<WalkList>> Change(
        string code,
        int version,
        Actor actor,
        Func<CheckList, List<Refusal>, CheckList> change,
        CancellationToken ct,
        string? name = null
    ) =>
        writes.Run(
            async () =>
            {
                var list = await db.WalkLists.SingleOrDefaultAsync(x => x.Code == code, ct);
                if (list is null)
                    return Outcome<WalkList>.Refused(Refusals.NoSuchWalkList(""));
                if (list.Version != version)
                    return Outcome<WalkList>.Refused(Refusals.ChangedMeanwhile());
                var body = await db
                    .WalkListVersions.Where(x => x.ListId == list.Id && x.Version == version)
                    .Select(x => x.Body)
                    .SingleAsync(ct);
                var refusals = new List<Refusal>();
                var changed = change(ListJson.Read(body), refusals);
                if (refusals.Count > 0)
                    return Outcome<WalkList>.Refused(refusals);
                list.Version++;
                if (name is not null)
                    list.Name = name.Trim();
                db.WalkListVersions.Add(
                    new()
                    {
                        ListId = list.Id,
                        Version = list.Version,
                        At = writes.Now,
                        By = actor.Name,
                        Body = ListJson.Write(changed),
                    }
                );
                writes.Audit(actor, "walkList.change", code, null, new { version }, new { list.Version, checks = changed.Checks.Length });
                return Outcome<WalkList>.Of(list);
            },
            ct
        );

    private static WalkCheck Read(CheckList body, WalkCheck? old, WalkCheckInput input, List<Refusal> refusals)
    {
        var code = (input.Code ?? "").Trim();
        if (!Typed.IsCode(code))
            refusals.Add(Refusals.CodeShape());
        else if (old is not null && code != old.Code)
            refusals.Add(Refusals.CodeFixed("code"));
        else if (old is null && body.Checks.Any(x => x.Code == code))
            refusals.Add(Refusals.CodeTaken("code", code));
        Typed.Words(input.Name, "name", LongestText, refusals, needed: true);
        if (body.Stations.All(x => x.Code != input.Station))
            refusals.Add(Refusals.NoSuchPlace("station"));
        if (input.Posture is { Length: > 0 } posture && body.Postures.All(x => x.Code != posture))
            refusals.Add(Refusals.NoSuchPlace("posture"));
        foreach (var word in (input.Needs ?? "").Split(' ', StringSplitOptions.RemoveEmptyEntries))
        {
            if (!MachineOptions.Knows(word.TrimStart('!')))
                refusals.Add(Refusals.NoSuchOption("needs", word));
        }

        foreach (var (field, text) in new[] { ("truth", input.Truth), ("caution", input.Caution) })
        {
            if (text?.Length > LongestText)
                refusals.Add(Refusals.TooLong(field, LongestText));
        }

        var points = (input.Points ?? "").Split('\n', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);
        if (input.Kind is CheckKind.Count or CheckKind.Grease && points.Length is 0 or > MostPoints)
            refusals.Add(Refusals.PointsBetween(MostPoints));
        var (low, watch, high) = (
            Typed.Optional(input.Low, "low", 0, 10_000, refusals),
            Typed.Optional(input.WatchBelow, "watchBelow", 0, 10_000, refusals),
            Typed.Optional(input.High, "high", 0, 10_000, refusals)
        );
        if (low > high)
            refusals.Add(Refusals.HighBelowLow());
        var figures = Typed.Optional(input.Figures, "figures", 1, MostFigures, refusals);
        var wait = Typed.Optional(input.WaitMinutes, "waitMinutes", 0, 240, refusals);
        return (
            old
            ?? new WalkCheck
            {
                Code = code,
                Name = "",
                Station = "",
            }
        ) with
        {
            Name = input.Name?.Trim() ?? "",
            Station = input.Station ?? "",
            Kind = input.Kind,
            Cadence = input.Cadence,
            Engine = input.Engine,
            Posture = input.Posture ?? "",
            Grade = input.Grade,
            Safety = input.Safety,
            Needs = string.Join(' ', (input.Needs ?? "").Split(' ', StringSplitOptions.RemoveEmptyEntries)),
            Truth = input.Truth?.Trim() ?? "",
            AsksTick = input.AsksTick,
            WaitMinutes = (int)(wait ?? 0),
            Caution = input.Caution?.Trim() ?? "",
            Unit = input.Unit?.Trim() ?? "",
            Low = low,
            WatchBelow = watch,
            High = high,
            Figures = (int)(figures ?? 1),
            Wear = input.Wear,
            Points = [.. points],
        };
    }

    private static ImmutableArray<Station> ReadStations(string? text, List<Refusal> refusals)
    {
        var stations = ImmutableArray.CreateBuilder<Station>();
        foreach (var line in Lines(text))
        {
            var cells = line.Split(';', StringSplitOptions.TrimEntries);
            if (
                cells.Length == 5
                && Typed.IsCode(cells[0])
                && cells[1].Length > 0
                && Typed.Cell(cells[2], PlanBounds.Wide) is { } x
                && Typed.Cell(cells[3], PlanBounds.High) is { } y
                && Word<StationHeight>(cells[4]) is { } height
                && stations.All(s => s.Code != cells[0])
            )
                stations.Add(new(cells[0], cells[1], x, y, height));
            else
                refusals.Add(Refusals.StationLine(line));
        }

        if (Lines(text).Length is 0 or > PlanBounds.MostStations)
            refusals.Add(Refusals.LinesBetween("stations", PlanBounds.MostStations));
        return stations.ToImmutable();
    }

    private static ImmutableArray<PlanPlace> ReadPlaces(string? text, List<Refusal> refusals)
    {
        var places = ImmutableArray.CreateBuilder<PlanPlace>();
        foreach (var line in Lines(text))
        {
            var cells = line.Split(';', StringSplitOptions.TrimEntries);
            if (
                cells.Length == 3
                && Typed.IsCode(cells[0])
                && Typed.Cell(cells[1], PlanBounds.Wide) is { } x
                && Typed.Cell(cells[2], PlanBounds.High) is { } y
                && places.All(p => p.Compartment != cells[0])
            )
                places.Add(new(cells[0], x, y));
            else
                refusals.Add(Refusals.PlaceLine(line));
        }

        if (places.Count > PlanBounds.MostPlaces)
            refusals.Add(Refusals.LinesBetween("places", PlanBounds.MostPlaces));
        return places.ToImmutable();
    }

    private static ImmutableArray<PlanPart> ReadParts(string? text, List<Refusal> refusals)
    {
        var parts = ImmutableArray.CreateBuilder<PlanPart>();
        foreach (var line in Lines(text))
        {
            var cells = line.Split(';', StringSplitOptions.TrimEntries);
            if (
                cells.Length is 5 or 6
                && Word<PlanShape>(cells[0]) is { } shape
                && Typed.Cell(cells[1], PlanBounds.Wide) is { } x
                && Typed.Cell(cells[2], PlanBounds.High) is { } y
                && Typed.Cell(cells[3], PlanBounds.Wide) is { } w and > 0
                && Typed.Cell(cells[4], PlanBounds.High) is { } h and > 0
                && (cells.Length == 5 || Typed.Cell(cells[5], 359) is not null)
            )
                parts.Add(new(shape, x, y, w, h, cells.Length == 6 ? Typed.Cell(cells[5], 359)!.Value : 0));
            else
                refusals.Add(Refusals.PartLine(line));
        }

        if (Lines(text).Length is 0 or > PlanBounds.MostParts)
            refusals.Add(Refusals.LinesBetween("parts", PlanBounds.MostParts));
        return parts.ToImmutable();
    }

    private static string[] Lines(string? text) =>
        (text ?? "").Split('\n', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries);

    private static T? Word<T>(string text)
        where T : struct, Enum =>
        char.IsAsciiLetter(text.FirstOrDefault()) && Enum.TryParse<T>(text, ignoreCase: true, out var value) && Enum.IsDefined(value)
            ? value
            : null;
}
