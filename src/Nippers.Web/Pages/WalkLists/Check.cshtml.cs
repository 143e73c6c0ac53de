using Microsoft.AspNetCore.Mvc;
using Nippers.App.Walks;
using Nippers.Core.Defects;
using Nippers.Core.Walk;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.WalkLists;

/// <summary>A check of a list as the form posts it.</summary>
public sealed class CheckPost
{
    public string? Code { get; set; }
    public string? Name { get; set; }
    public string? Station { get; set; }
    public CheckKind Kind { get; set; }
    public Cadence Cadence { get; set; }
    public EngineState Engine { get; set; }
    public string? Posture { get; set; }
    public DefectGrade Grade { get; set; }
    public SafetyPart Safety { get; set; }
    public string? Needs { get; set; }
    public string? Truth { get; set; }
    public bool AsksTick { get; set; }
    public string? WaitMinutes { get; set; }
    public string? Caution { get; set; }
    public string? Unit { get; set; }
    public string? Low { get; set; }
    public string? WatchBelow { get; set; }
    public string? High { get; set; }
    public string? Figures { get; set; }
    public bool Wear { get; set; }
    public string? Points { get; set; }
    public string? Position { get; set; }
    public bool Remove { get; set; }
    public int Version { get; set; }

    public WalkCheckInput ToInput(string? old) =>
        new()
        {
            OldCode = old,
            Code = Code,
            Name = Name,
            Station = Station,
            Kind = Kind,
            Cadence = Cadence,
            Engine = Engine,
            Posture = Posture,
            Grade = Grade,
            Safety = Safety,
            Needs = Needs,
            Truth = Truth,
            AsksTick = AsksTick,
            WaitMinutes = WaitMinutes,
            Caution = Caution,
            Unit = Unit,
            Low = Low,
            WatchBelow = WatchBelow,
            High = High,
            Figures = Figures,
            Wear = Wear,
            Points = Points,
            Position = Position,
            Remove = Remove,
        };
}

/// <summary>Changes one check of a walk list.</summary>
public sealed class CheckModel(ChangeWalkList lists, Words words) : NippersPage
{
    public WalkListPage List { get; private set; } = null!;

    public string? Old { get; private set; }

    public WalkCheckInput Input { get; private set; } = null!;

    public int Version { get; private set; }

    public async Task<IActionResult> OnGet(string code, [FromQuery] string? check, CancellationToken ct)
    {
        if (await lists.One(code, ct) is not { } list)
            return NotFound();
        (List, Old, Version) = (list, check, list.List.Version);
        var at = list.Body.Checks.ToList().FindIndex(x => x.Code == check);
        if (check is not null && at < 0)
            return NotFound();
        static string? N(double? value) => value?.ToString(System.Globalization.CultureInfo.InvariantCulture);
        Input = at < 0 ? new() { Position = N(list.Body.Checks.Length + 1) } : Of(list.Body.Checks[at]) with { Position = N(at + 1) };
        return Page();

        static WalkCheckInput Of(WalkCheck x) =>
            new()
            {
                OldCode = x.Code,
                Code = x.Code,
                Name = x.Name,
                Station = x.Station,
                Kind = x.Kind,
                Cadence = x.Cadence,
                Engine = x.Engine,
                Posture = x.Posture,
                Grade = x.Grade,
                Safety = x.Safety,
                Needs = x.Needs,
                Truth = x.Truth,
                AsksTick = x.AsksTick,
                WaitMinutes = N(x.WaitMinutes),
                Caution = x.Caution,
                Unit = x.Unit,
                Low = N(x.Low),
                WatchBelow = N(x.WatchBelow),
                High = N(x.High),
                Figures = N(x.Figures),
                Wear = x.Wear,
                Points = string.Join('\n', x.Points),
            };
    }

    public async Task<IActionResult> OnPost([FromRoute] string code, [FromQuery] string? check, CheckPost post, CancellationToken ct)
    {
        var input = post.ToInput(check);
        var outcome = await lists.SaveCheck(code, post.Version, input, Actor, ct);
        if (outcome.Done)
            return Done("/walk-lists/" + code, words[input.Remove ? "WalkLists.Removed" : "WalkLists.Saved", input.Name]);
        if (await lists.One(code, ct) is not { } list)
            return NotFound();
        (List, Old, Input, Version) = (list, check, input, post.Version);
        Refuse(outcome.Refusals);
        return Page();
    }
}
