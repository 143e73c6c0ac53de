using System.Collections.Immutable;
using System.Text.Json;
using Nippers.Core.Walk;
using Nippers.Data;
using Nippers.Data.Walks;

namespace Nippers.App.Walks;

/// <summary>An answer as it was typed and tapped.</summary>
public sealed record AnswerInput
{
    public required string Check { get; init; }

    /// <summary><c>sound</c>, <c>fault</c>, or empty when figures answer.</summary>
    public string? Seen { get; init; }

    /// <summary>Level: percent of the way from low to high.</summary>
    public string? Level { get; init; }
    public string? Added { get; init; }
    public FluidLook? Look { get; init; }
    public IReadOnlyList<string?> Figures { get; init; } = [];

    /// <summary>State of each point.</summary>
    public IReadOnlyList<PointState> Points { get; init; } = [];

    /// <summary>Count: n of N good, where points are not named one by one.</summary>
    public DrainAmount? Drained { get; init; }
    public string? Codes { get; init; }
    public bool WrongPosture { get; init; }
    public bool Ticked { get; init; }
    public string? LeftOut { get; init; }
    public string? Note { get; init; }

    /// <summary>Revision that the person had on the screen; 0 for none.</summary>
    public int Revision { get; init; }
}

/// <summary>An answer that was kept, and what it came to.</summary>
public sealed record SavedAnswer(WalkCheck Check, CheckAnswer Answer, CheckResult Result, int Revision, string By);

/// <summary>Keeps one answer of an open walk, as it is given. Two phones on one walk notice each other.</summary>
public sealed class SaveAnswer(NippersDb db, UnitOfWork writes)
{
    private const double MostFigure = 100_000;
    private const double MostLitres = 500;
    private const int LongestNote = 300;
    private const int MostCodes = 20;

    /// <summary>Codes of steps that are ticked, not answered, begin with this.</summary>
    public const string StepPrefix = "step:";

    public Task<Outcome<SavedAnswer>> Run(long walkId, AnswerInput input, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var walk = await WalkContext.Load(db, walkId, ct);
                if (walk is null)
                    return Outcome<SavedAnswer>.Refused("", "noSuchWalk");
                return await Keep(walk, input, actor, ct);
            },
            ct
        );

    /// <summary>Ticks a step between stations, or takes the tick off.</summary>
    public Task<Outcome<Nothing>> Tick(long walkId, string step, bool done, Actor actor, CancellationToken ct) =>
        writes.Run(
            async () =>
            {
                var walk = await WalkContext.Load(db, walkId, ct);
                if (walk is null)
                    return Outcome<Nothing>.Refused("", "noSuchWalk");
                if (walk.Row.State != WalkState.Open)
                    return Outcome<Nothing>.Refused("", "walkNotOpen");
                if (!walk.Steps.Any(x => x.Code == step && x.Kind != StepKind.Station))
                    return Outcome<Nothing>.Refused("", "noSuchStep");
                var code = StepPrefix + step;
                var row = await db.WalkAnswers.FindAsync([walkId, code], ct);
                if (row is null)
                    db.WalkAnswers.Add(
                        row = new()
                        {
                            WalkId = walkId,
                            Code = code,
                            By = actor.Name,
                            Answer = "",
                        }
                    );
                row.By = actor.Name;
                row.AtMs = writes.NowMs;
                row.Answer = done ? "done" : "";
                row.Revision++;
                return Outcome<Nothing>.Of(Nothing.Special);
            },
            ct
        );

    /// <summary>Keeps an answer inside the caller's transaction.</summary>
    internal async Task<Outcome<SavedAnswer>> Keep(WalkContext walk, AnswerInput input, Actor actor, CancellationToken ct)
    {
        if (walk.Row.State != WalkState.Open)
            return Outcome<SavedAnswer>.Refused("", "walkNotOpen");
        var check = walk.Checks.FirstOrDefault(x => x.Code == input.Check);
        if (check is null)
            return Outcome<SavedAnswer>.Refused("", "noSuchCheck", input.Check);

        var refusals = new List<Refusal>();
        var answer = Read(check, input, refusals);
        if (refusals.Count > 0)
            return Outcome<SavedAnswer>.Refused(refusals);

        var result = CheckJudge.Judge(check, answer, walk.KnownCodes, walk.Explained(check));
        var row = await db.WalkAnswers.FindAsync([walk.Row.Id, check.Code], ct);
        var text = JsonSerializer.Serialize(answer, ListJson.Options);
        if (row is not null && row.Revision != input.Revision && row.Answer != text)
        {
            return new(new SavedAnswer(check, answer, result, row.Revision, row.By), [new("", "answeredMeanwhile", row.By)]);
        }

        if (row is null)
            db.WalkAnswers.Add(
                row = new()
                {
                    WalkId = walk.Row.Id,
                    Code = check.Code,
                    By = actor.Name,
                    Answer = text,
                }
            );
        row.Answer = text;
        row.By = actor.Name;
        row.AtMs = writes.NowMs;
        row.Revision++;
        return Outcome<SavedAnswer>.Of(new(check, answer, result, row.Revision, actor.Name));
    }

    /// <summary>Turns what was typed into an answer that fits the check, or says beside which field it does not.</summary>
    internal static CheckAnswer Read(WalkCheck check, AnswerInput input, List<Refusal> refusals)
    {
        string Field(string name) => $"{name}-{check.Code}";
        var note = string.IsNullOrWhiteSpace(input.Note) ? null : input.Note.Trim();
        if (note?.Length > LongestNote)
            refusals.Add(new(Field("note"), "tooLong", LongestNote));
        if (input.LeftOut is { } why)
        {
            if (string.IsNullOrWhiteSpace(why))
                refusals.Add(new(Field("leftOut"), "reasonNeeded"));
            else if (why.Length > LongestNote)
                refusals.Add(new(Field("leftOut"), "tooLong", LongestNote));
            return new() { LeftOut = why.Trim(), Note = note };
        }

        if (check.AsksTick && !input.Ticked && !input.WrongPosture)
            refusals.Add(new(Field("ticked"), "truthNeeded"));
        var answer = new CheckAnswer
        {
            Note = note,
            Ticked = input.Ticked,
            WrongPosture = input.WrongPosture,
        };
        switch (check.Kind)
        {
            case CheckKind.Level:
                var level = Typed.Number(input.Level, Field("level"), -50, 200, refusals) / 100;
                var added = string.IsNullOrWhiteSpace(input.Added)
                    ? null
                    : Typed.Number(input.Added, Field("added"), 0, MostLitres, refusals);
                if (input.Look is null)
                    refusals.Add(new(Field("look"), "lookNeeded"));
                return answer with { Level = level, Added = added > 0 ? added : null, Look = input.Look };
            case CheckKind.Measure:
                var figures = input
                    .Figures.Take(check.Figures)
                    .Select(
                        (text, i) =>
                            Typed.Number(text, check.Figures == 1 ? Field("figure") : Field($"figure{i + 1}"), 0, MostOf(check), refusals)
                            ?? 0
                    )
                    .ToImmutableArray();
                if (figures.Length < check.Figures)
                    refusals.Add(new(Field(check.Figures == 1 ? "figure" : $"figure{figures.Length + 1}"), "needed"));
                return answer with { Figures = figures };
            case CheckKind.Count or CheckKind.Grease:
                if (input.Points.Count > check.Points.Length)
                    refusals.Add(new(Field("points"), "countOver", check.Points.Length));
                ImmutableArray<PointState> points =
                [
                    .. Enumerable.Range(0, check.Points.Length).Select(i => i < input.Points.Count ? input.Points[i] : PointState.Open),
                ];
                if (points.All(x => x == PointState.Open))
                    refusals.Add(new(Field("points"), "pointsNeeded"));
                return answer with { Points = points };
            case CheckKind.Drain:
                if (input.Drained is null)
                    refusals.Add(new(Field("drained"), "drainNeeded"));
                return answer with { Drained = input.Drained };
            case CheckKind.Code when input.Seen != "sound":
                var words = (input.Codes ?? "").Split(
                    [',', ';', '\n'],
                    StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries
                );
                if (words.Length == 0)
                    refusals.Add(new(Field("codes"), "codesNeeded"));
                if (words.Length > MostCodes)
                    refusals.Add(new(Field("codes"), "codesTooMany", MostCodes));
                foreach (var bad in words.Where(x => FaultCode.Parse(x) is null).Take(1))
                    refusals.Add(new(Field("codes"), "codeShapeSpn", bad));
                return answer with { Codes = [.. words.Select(x => FaultCode.Parse(x) ?? default).Distinct()] };
            default:
                if (input.Seen is not ("sound" or "fault"))
                    refusals.Add(new(Field("seen"), "seenNeeded"));
                return input.Seen == "sound" && note is null && !input.Ticked
                    ? CheckAnswer.Plain
                    : answer with
                    {
                        Ok = input.Seen == "sound",
                    };
        }
    }

    /// <summary>The most that a figure of a unit can be: beyond it, it is a slip.</summary>
    private static double MostOf(WalkCheck check) =>
        check.Unit switch
        {
            "mm" => 2000,
            "V" => 60,
            "bar" => 20,
            "kPa" => 100,
            _ => MostFigure,
        };
}
