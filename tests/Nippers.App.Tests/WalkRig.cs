using Nippers.App.Walks;
using Nippers.Core.Walk;
using Nippers.Data.Walks;
using static Nippers.App.Tests.Outcomes;

namespace Nippers.App.Tests;

/// <summary>Walks of the loader, as tests begin, answer and end them.</summary>
internal static class WalkRig
{
    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    public static readonly Actor Ines = new("Ines Varrow", Roles.Operator);

    public static Task<Outcome<StartedWalk>> Start(
        Fleet fleet,
        string hours = "360",
        WalkRound round = WalkRound.Whole,
        string? lateOn = null,
        bool knows = false,
        Actor? actor = null
    ) =>
        fleet.Do<StartWalk, Outcome<StartedWalk>>(x =>
            x.Run(
                new()
                {
                    Unit = "WL-01",
                    Hours = hours,
                    Round = round,
                    LateOn = lateOn,
                    KnowsStopped = knows,
                },
                actor ?? Fleet.Tam,
                Ct
            )
        );

    public static Task<Outcome<SavedAnswer>> Answer(Fleet fleet, long walk, AnswerInput input, Actor? actor = null) =>
        fleet.Do<SaveAnswer, Outcome<SavedAnswer>>(x => x.Run(walk, input, actor ?? Fleet.Tam, Ct));

    public static Task<Outcome<WalkRow>> Finish(Fleet fleet, long walk, string? leftOut = null) =>
        fleet.Do<FinishWalk, Outcome<WalkRow>>(x => x.Run(walk, new(leftOut, "quiet morning"), Fleet.Tam, Ct));

    public static Task<WalkContext> Context(Fleet fleet, long walk) => fleet.Ask(async db => (await WalkContext.Load(db, walk, Ct))!);

    public static string Code<T>(Outcome<T> outcome)
        where T : class => string.Join(',', outcome.Refusals.Select(x => x.Code));

    /// <summary>What somebody would answer who finds everything as it should be.</summary>
    public static AnswerInput Good(WalkCheck check, int revision = 0) =>
        Answered(
            check.Code,
            ("seen", "sound"),
            ("level", "75"),
            ("look", FluidLook.Clear),
            ("figures", Many(Enumerable.Repeat(check.Unit == "V" ? "25.2" : "3.6", check.Figures))),
            ("points", Many(check.Points.Select(_ => (object?)PointState.Good))),
            ("drained", DrainAmount.None),
            ("ticked", true)
        ) with
        {
            Revision = revision,
        };
}
