using Nippers.App.Programs;
using Nippers.App.Visits;
using Nippers.Core.Jobs;
using Nippers.Tests;

namespace Nippers.App.Tests;

/// <summary>The cards of every starter program, of every tier and set of options: sound by the rules, and safe beyond them.</summary>
public sealed class StarterCardTests
{
    public static TheoryData<string, int, int> Cards()
    {
        var data = new TheoryData<string, int, int>();
        foreach (var program in StarterPrograms.All())
        {
            foreach (var tier in StarterCards.Tiers)
            {
                for (var options = 0; options < StarterCards.Options.Length; options++)
                    data.Add(program.Code, tier, options);
            }
        }

        return data;
    }

    [Theory]
    [MemberData(nameof(Cards))]
    public void A_starters_card_is_sound_and_safe(string program, int tier, int options)
    {
        var input = StarterCards.Input(program, tier, options);
        var given = JobCardMaker.CaseOf(input);
        Assert.Empty(CardChecker.Check(given, CardSequencer.Of(given, CardSequencer.Quick)));

        var card = JobCardMaker.Make(input);
        Assert.Equal(card.Steps.Length, card.Steps.DistinctBy(x => x.Code).Count());
        Assert.All(card.Steps, x => Assert.DoesNotContain('{', x.Words + x.Touches + x.Why));
        Assert.All(input.Items, x =>
            Assert.Equal(card.Steps.Where(y => y.Item == x.Code).Sum(y => y.Minutes), JobCardMaker.MinutesOf(x, input))
        );
        SafeBeyond(card);
    }

    [Theory]
    [InlineData("starter-wheel-loader", 500)]
    [InlineData("starter-crawler-excavator", 250)]
    public void An_order_that_was_found_before_is_the_one_of_this_very_card(string program, int tier)
    {
        var given = JobCardMaker.CaseOf(StarterCards.Input(program, tier, 0));
        CardCase[] cases =
        [
            given,
            given with
            {
                OneAtATime = !given.OneAtATime,
            },
            given with
            {
                Heat = StepHeat.Warm,
            },
            given with
            {
                Vessels = [.. given.Vessels.Select(x => x with { Litres = x.Litres + 40 })],
            },
            .. given.Steps.Select((x, i) => given with { Steps = given.Steps.SetItem(i, x with { Hands = x.Hands + 7 }) }),
        ];
        foreach (var one in cases)
        {
            var searched = CardSequencer.Of(one, CardSequencer.Quick);
            var (first, again) = (CardMaking.Ordered(one), CardMaking.Ordered(one with { }));
            Assert.Same(first, again);
            Assert.Equal(searched.Order.AsEnumerable(), first.Order);
            Assert.Equal((searched.Elapsed, searched.Hands, searched.Lockouts), (first.Elapsed, first.Hands, first.Lockouts));
        }
    }

    // Listed by hand, beside the card: what somebody would miss in the field.
    private const string Always = "LockAndTag Chocks";
    private const string Oil = "Rags SpillKit FilterWrench TorqueTool Funnel";

    [Theory]
    [InlineData("crawler-excavator", 250, $"{Always} Stands {Oil} Labels GreaseGun VoltMeter Rule LightAndCard", "Pan A", 1)]
    [InlineData(
        "crawler-excavator",
        500,
        $"{Always} Stands {Oil} PumpAndTubes Labels GreaseGun TestStrips VoltMeter Rule LightAndCard",
        "Can, Pan A",
        5
    )]
    [InlineData("wheel-loader", 250, $"{Always} {Oil} Labels GreaseGun VoltMeter Rule LightAndCard", "Pan A", 1)]
    [InlineData("wheel-loader", 500, $"{Always} {Oil} Labels GreaseGun TestStrips VoltMeter Rule LightAndCard", "Can, Pan A", 3)]
    [InlineData(
        "crawler-dozer",
        500,
        $"{Always} Stands {Oil} PumpAndTubes Labels GreaseGun TestStrips VoltMeter Rule LightAndCard",
        "Can, Pan A",
        5
    )]
    [InlineData("compact-track-loader", 250, $"{Always} Stands {Oil} Labels GreaseGun VoltMeter Rule LightAndCard", "Pan A", 1)]
    public void Nothing_is_missing_on_a_pick_list(string kind, int tier, string gear, string vessels, int bottles)
    {
        var card = JobCardMaker.Make(StarterCards.Input("starter-" + kind, tier, 0, "Hand pump"));

        Assert.Equal(gear, string.Join(' ', JobGear.Of(card.Steps)));
        Assert.Equal(vessels, string.Join(", ", JobGear.Vessels(card.Steps).Select(x => x.Name).Order(StringComparer.Ordinal)));
        Assert.Equal(bottles, card.Steps.Count(x => x.Input == InputKind.Bottle));
    }

    [Theory]
    [InlineData("cold-planer", 500, "Blocks CutGloves")]
    [InlineData("asphalt-paver", 250, "CutGloves SoapSpray")]
    [InlineData("rigid-haul-truck", 2000, "ChargingKit TyreGauge")]
    [InlineData("telehandler", 500, "TestLoad TyreGauge")]
    [InlineData("crawler-drill-rig", 250, "SoapSpray ChargingKit")]
    [InlineData("compactor", 50, "TyreGauge")]
    public void What_one_kind_alone_needs_is_on_its_pick_list(string kind, int tier, string gear)
    {
        var items = StarterCards.Input("starter-" + kind, tier, 0).Items.Select(x => x.Code).ToList();

        Assert.Subset(items.SelectMany(JobTables.GearOf).ToHashSet(), gear.Split(' ').Select(Enum.Parse<Gear>).ToHashSet());
    }

    [Fact]
    public void Gear_is_listed_for_items_that_are() =>
        Assert.Subset(StarterPrograms.All().SelectMany(x => x.Items).Select(x => x.Code).ToHashSet(), JobTables.WithGear.ToHashSet());

    /// <summary>What no order may do, though the state of the machine would allow it.</summary>
    private static void SafeBeyond(JobCard card)
    {
        var steps = card.Steps.ToList();
        int At(string code) => steps.FindIndex(x => x.Code == code);

        // New oil and bled fuel run first while somebody looks at the gauge: not on the way to anything else.
        foreach (var last in new[] { steps.FindLastIndex(x => x.Fills == "engine-oil"), At("card.bleed"), At("card.bleed-manual") })
        {
            if (last < 0)
                continue;
            var start = steps.FindIndex(last, x => x.Between == CardBetween.Start);
            var first = steps.Skip(start + 1).First(x => x.Between == CardBetween.None);
            Assert.True(first.Code is "card.pressure" or "card.leaks", $"{steps[last].Code}, then {first.Code}");
        }

        var filter = steps.FindIndex(x => x.Input == InputKind.Filter && x.Compartment == "fuel");
        if (filter >= 0)
        {
            var bled = Math.Max(At("card.bleed"), At("card.bleed-manual"));
            Assert.True(bled > filter);
            var starts = steps.Skip(filter).Take(bled - filter).Count(x => x.Between == CardBetween.Start);
            Assert.Equal(0, starts);
        }

        // Brakes, steering, turning: never locked out; hands: never on what runs.
        Assert.All(steps.Where(x => x.Item == "brake-test"), x => Assert.Equal(MachineState.Moving, x.State));
        Assert.All(steps.Where(x => x.Touches.Length > 0 && !x.Touches.StartsWith("dipstick", StringComparison.Ordinal)), x =>
            Assert.True(x.State is MachineState.Isolated or MachineState.Off || x.Input == InputKind.Bottle, x.Code)
        );
        Assert.All(steps.Where(x => x.Cool), x => Assert.Equal((MachineState.Isolated, StepHeat.Cold), (x.State!.Value, x.Heat!.Value)));
        Assert.All(steps.Where(x => x.State is MachineState.Running or MachineState.Moving), x =>
            Assert.DoesNotContain("engine off", x.Caution, StringComparison.OrdinalIgnoreCase)
        );

        // Nobody and nothing under it once the last lock is off.
        var release = steps.FindLastIndex(x => x.Between == CardBetween.Release);
        Assert.DoesNotContain(steps.Skip(release + 1), x => x.State == MachineState.Isolated || x.Access.Length > 0);
        Assert.True(
            At("card.tools") < release
                && steps
                    .Skip(At("card.tools") + 1)
                    .Take(release - At("card.tools") - 1)
                    .All(x => x.State is null || x.Between == CardBetween.Shut)
        );

        // Samples and levels as found come before their oil is let out.
        foreach (var drain in steps.Where(x => x.Opens.Length > 0 && x.Compartment.Length > 0))
        {
            foreach (var bottle in steps.Where(x => x.Input == InputKind.Bottle && x.Compartment == drain.Compartment))
                Assert.True(steps.IndexOf(bottle) < steps.IndexOf(drain), $"{bottle.Code} after {drain.Code}");
        }
    }
}
