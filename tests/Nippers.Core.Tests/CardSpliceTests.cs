using System.Collections.Immutable;
using Nippers.Core.Jobs;

namespace Nippers.Core.Tests;

/// <summary>What a finding, or something left undone, puts on a card that is being worked on.</summary>
public sealed class CardSpliceTests
{
    private static readonly ImmutableArray<BetweenRule> Between =
    [
        .. new[] { "isolate", "release", "start", "clear", "stop" }.Select(x => new BetweenRule(x, x, 3, [], "")),
    ];

    private static JobStep Step(string code, MachineState? state, InputKind input = InputKind.Look) =>
        new()
        {
            Code = code,
            State = state,
            Input = input,
            Words = code,
            Item = code.Split('.')[0] is var item && item != "between" ? item : "",
            Between = code switch
            {
                "between.isolate" or "between.isolate-2" => CardBetween.Isolate,
                "between.release" => CardBetween.Release,
                "between.start" => CardBetween.Start,
                "between.clear" => CardBetween.Clear,
                "between.stop" => CardBetween.Stop,
                _ => CardBetween.None,
            },
        };

    private static ImmutableArray<JobStep> Card(params (string Code, MachineState? State)[] steps) =>
        [.. steps.Select(x => Step(x.Code, x.State))];

    private static string Stopped(ImmutableArray<JobStep> card, string found)
    {
        var at = card.ToList().FindIndex(x => x.Code == found);
        var splice = new CardSplice(card, Between);
        splice.StopAt(card[at], x => card.IndexOf(x) > at, "why", "released");
        return string.Join(' ', splice.Steps.Select(x => x.Code.Replace("between.", "", StringComparison.Ordinal)));
    }

    [Fact]
    public void What_is_found_locked_out_is_written_before_the_locks_come_off() =>
        Assert.Equal(
            "isolate a.x a.x.why a.x.released release",
            Stopped(Card(("between.isolate", null), ("a.x", MachineState.Isolated), ("between.release", null)), "a.x")
        );

    [Fact]
    public void What_is_found_running_is_stopped_and_locked_out_first_and_what_is_left_starts_anew() =>
        Assert.Equal(
            "start a.x stop-2 isolate a.x.why a.x.released release start-2 b.x stop",
            Stopped(
                Card(("between.start", null), ("a.x", MachineState.Running), ("b.x", MachineState.Running), ("between.stop", null)),
                "a.x"
            )
        );

    [Fact]
    public void What_is_found_moving_is_cleared_again_too() =>
        Assert.Equal(
            "start clear a.x stop-2 isolate a.x.why a.x.released release start-2 clear-2 b.x stop",
            Stopped(
                Card(
                    ("between.start", null),
                    ("between.clear", null),
                    ("a.x", MachineState.Moving),
                    ("b.x", MachineState.Moving),
                    ("between.stop", null)
                ),
                "a.x"
            )
        );

    [Fact]
    public void The_last_thing_of_a_run_is_written_in_the_lockout_that_follows() =>
        Assert.Equal(
            "start a.x stop isolate-2 a.x.why a.x.released b.x",
            Stopped(
                Card(
                    ("between.start", null),
                    ("a.x", MachineState.Running),
                    ("between.stop", null),
                    ("between.isolate-2", null),
                    ("b.x", MachineState.Isolated)
                ),
                "a.x"
            )
        );

    [Fact]
    public void A_card_that_ends_with_the_run_is_locked_out_for_it() =>
        Assert.Equal(
            "start a.x stop isolate a.x.why a.x.released release",
            Stopped(Card(("between.start", null), ("a.x", MachineState.Running), ("between.stop", null)), "a.x")
        );

    [Fact]
    public void A_finding_stops_a_card_once()
    {
        var splice = new CardSplice(Card(("between.isolate", null), ("a.x", MachineState.Isolated)), Between);
        var found = splice.Steps[1];
        splice.StopAt(found, _ => true, "why", "released");
        splice.StopAt(found, _ => true, "why", "released");

        Assert.Equal(4, splice.Steps.Length);
        Assert.Equal("a.x.why", splice.Steps[3].Besides);
        Assert.All(splice.Steps.Skip(2), x => Assert.True(x.NeedsWords));
    }

    [Fact]
    public void A_filter_that_does_not_fit_leaves_its_place_to_be_shut_before_it_is_filled_and_started()
    {
        ImmutableArray<JobStep> card =
        [
            Step("between.isolate", null, InputKind.Tick),
            Step("f.lower", MachineState.Isolated, InputKind.Drained) with
            {
                Opens = "f",
            },
            Step("f.filter-a", MachineState.Isolated, InputKind.Filter) with
            {
                Shuts = "f",
                After = ["f.lower"],
                Touches = "filter a",
            },
            Step("f.top", MachineState.Isolated, InputKind.Fill) with
            {
                Fills = "f",
                After = ["f.filter-a"],
            },
            Step("between.release", null, InputKind.Touched),
        ];
        var answers = new Dictionary<string, StepAnswer>
        {
            ["between.isolate"] = new TickAnswer(true),
            ["f.lower"] = new DrainedAnswer(5),
            ["f.filter-a"] = new FilterAnswer(),
        };
        JobState State(ImmutableArray<JobStep> steps, params string[] left) =>
            new(steps, answers, new Dictionary<string, DateTimeOffset>(), left.ToHashSet());
        Assert.Equal(["f"], State(card).StandsOpen("f"));

        var splice = new CardSplice(card, Between);
        splice.CloseInstead("f", "f", State(card).IsOpen, "shut again", "the old one is whole");
        Assert.Equal(["f.filter-a", "f.close", "f.top"], splice.Steps.Skip(2).Take(3).Select(x => x.Code));

        var state = State(splice.Steps, "f");
        Assert.Equal("f.close", state.Next?.Code);
        Assert.Equal(["f.close"], state.BlockedBy(splice.Steps[4]).Select(x => x.Code));
        Assert.Equal(["f.close", "f.lower", "f.top"], state.BlockedBy(splice.Steps[5]).Select(x => x.Code).Order());
        Assert.Contains("filter a", state.TouchedBefore(splice.Steps[5]));

        // Not ticked as whole, it is not shut.
        answers["f.close"] = new TickAnswer(true);
        Assert.NotEmpty(State(splice.Steps, "f").OpenDrains);
        answers["f.close"] = new TickAnswer(true) { Ticked = ["the old one is whole"] };
        Assert.Empty(State(splice.Steps, "f").OpenDrains);
    }

    private static string Corrected(ImmutableArray<JobStep> card, string found, int done, MachineState now)
    {
        var splice = new CardSplice(card, Between);
        splice.StopAt(card.Single(x => x.Code == found), x => card.IndexOf(x) > done, "why", "released", now);
        return string.Join(' ', splice.Steps.Select(x => x.Code.Replace("between.", "", StringComparison.Ordinal)));
    }

    [Fact]
    public void What_is_entered_as_a_correction_stops_what_runs_by_then()
    {
        var card = Card(
            ("between.isolate", null),
            ("a.x", MachineState.Isolated),
            ("between.release", null),
            ("between.start", null),
            ("b.x", MachineState.Running),
            ("between.stop", null)
        );
        Assert.Equal(
            "isolate a.x release start stop-2 isolate-2 a.x.why a.x.released release-2 start-2 b.x stop",
            Corrected(card, "a.x", 3, MachineState.Running)
        );
    }

    [Theory]
    [InlineData(0, "a.x")]
    [InlineData(1, "between.isolate")]
    public void What_was_off_is_put_back_before_the_next_change_of_state(int done, string last)
    {
        var card = Card(("between.isolate", null), ("a.x", MachineState.Isolated), ("between.release", null), ("b.x", MachineState.Off));
        var splice = new CardSplice(card, Between);
        splice.PutBack("a", ["cap", "dipstick"], x => card.IndexOf(x) > done, "back", "caution", MachineState.Isolated);

        var at = splice.Steps.ToList().FindIndex(x => x.Code == "a.back");
        Assert.True(at > splice.Steps.ToList().FindIndex(x => x.Code == last));
        Assert.Equal(CardBetween.Release, splice.Steps[at + 1].Between);
        Assert.Equal((true, "", MachineState.Isolated), (splice.Steps[at].TickEach, splice.Steps[at].Item, splice.Steps[at].State));
        Assert.Equal(["cap", "dipstick"], splice.Steps[at].Parts);
    }

    private static string PutBackRunning(ImmutableArray<JobStep> card)
    {
        var splice = new CardSplice(card, Between);
        splice.PutBack("a", ["cap of the port"], x => card.IndexOf(x) > 0, "back", "", MachineState.Running);
        return string.Join(' ', splice.Steps.Select(x => x.Code.Replace("between.", "", StringComparison.Ordinal)));
    }

    [Fact]
    public void What_was_taken_off_a_running_machine_is_put_back_in_a_lockout()
    {
        Assert.Equal(
            "start a.x stop isolate a.back release",
            PutBackRunning(Card(("between.start", null), ("a.x", MachineState.Running), ("between.stop", null)))
        );
        Assert.Equal(
            "start a.x stop isolate a.back b.x release",
            PutBackRunning(
                Card(
                    ("between.start", null),
                    ("a.x", MachineState.Running),
                    ("between.stop", null),
                    ("between.isolate", null),
                    ("b.x", MachineState.Isolated),
                    ("between.release", null)
                )
            )
        );
    }
}
