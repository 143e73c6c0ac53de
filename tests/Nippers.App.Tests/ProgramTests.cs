using Microsoft.EntityFrameworkCore;
using Nippers.App.Kinds;
using Nippers.App.Programs;
using Nippers.Core.Hours;
using Nippers.Core.Service;
using Nippers.Data;
using Nippers.Data.Programs;
using static Nippers.App.Tests.Outcomes;

namespace Nippers.App.Tests;

public sealed class ProgramTests
{
    private const string Loader = "starter-wheel-loader";

    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    private static ProgramItemInput EngineOil(string every) =>
        new()
        {
            OldCode = "engine-oil",
            Code = "engine-oil",
            Name = "Engine oil and filter, change",
            Compartment = "engine",
            EveryHours = every,
            EveryMonths = "12",
            FirstAtHours = "50",
        };

    private static ProgramChangeInput Item(ProgramItemInput item, int version = 1) => new(Loader, version, null, item);

    [Fact]
    public void Starters_are_sound_marked_and_forty_to_seventy_items_long()
    {
        var starters = StarterPrograms.All();
        Assert.Equal(KindFolders.All.Select(x => x.Kind), starters.Select(x => x.Kind));
        Assert.All(starters, program =>
        {
            Assert.True(program.Starter);
            Assert.InRange(program.Items.Count, 40, 70);
            Assert.Equal(program.Items.Count, program.Items.Select(x => x.Code).Distinct().Count());
            Assert.All(program.Items, item =>
            {
                Assert.Contains(program.Compartments, x => x.Code == item.Compartment);
                Assert.True(
                    item.EveryHours > default(MeterHours) || item.EveryMonths > 0 || (item.Once && item.FirstAtHours > default(MeterHours)),
                    item.Code
                );
                Assert.EndsWith(".", item.Caution, StringComparison.Ordinal);
                Assert.All(item.Needs.Split(' ', StringSplitOptions.RemoveEmptyEntries), word =>
                    Assert.True(MachineOptions.Knows(word.TrimStart('!')))
                );
            });
            Assert.Contains(program.Items, x => x.Strict && x.EveryMonths == 12 && x.Qualified);
            Assert.Contains(program.Items, x => x.EveryHours == new MeterHours(20_000) || x.EveryKm >= 120_000);
        });
    }

    private static async Task<ServiceProgram> Kept(NippersDb db) =>
        (await db.KeptPrograms([await db.Programs.Where(x => x.Code == Loader).Select(x => x.Id).SingleAsync(Ct)], Ct)).Values.Single();

    [Fact]
    public async Task What_is_kept_of_a_program_is_read_once_and_anew_after_each_change()
    {
        await using var fleet = await Fleet.WithLoader();
        var first = await fleet.Ask(Kept);
        Assert.Same(first, await fleet.Ask(Kept));

        await Ok<ChangeProgram, ServiceProgram>(fleet, x => x.Save(Item(EngineOil("300"), first.Version), Fleet.Tam, Ct));
        var second = await fleet.Ask(Kept);
        Assert.Equal(new MeterHours(3000), second.Items.Single(x => x.Code == "engine-oil").EveryHours);
        Assert.NotEqual(new MeterHours(3000), first.Items.Single(x => x.Code == "engine-oil").EveryHours);

        await Ok<ChangeProgram, ServiceProgram>(fleet, x =>
            x.SaveCompartment(new(Loader, second.Version, "engine", "17", "5", "", ["round"]), Fleet.Tam, Ct)
        );
        var engine = (await fleet.Ask(Kept)).Compartments.Single(x => x.Code == "engine");
        Assert.Equal((17, "round"), (engine.DrainMinutes, engine.Traits));
    }

    [Fact]
    public async Task What_a_transaction_takes_back_of_a_program_is_not_kept()
    {
        await using var fleet = await Fleet.WithLoader();
        await fleet.Ask(async db =>
        {
            await using (await db.Database.BeginTransactionAsync(Ct))
            {
                var program = await db.Programs.Include(x => x.Items).SingleAsync(x => x.Code == Loader, Ct);
                program.Items.Single(x => x.Code == "engine-oil").Name = "Taken back";
                program.Version++;
                await db.SaveChangesAsync(Ct);
                Assert.Contains((await Kept(db)).Items, x => x.Name == "Taken back");
            }

            return 0;
        });

        // Another change gets the version that was given back.
        await fleet.Ask(async db =>
        {
            var program = await db.Programs.SingleAsync(x => x.Code == Loader, Ct);
            program.Version++;
            return await db.SaveChangesAsync(Ct);
        });
        Assert.DoesNotContain((await fleet.Ask(Kept)).Items, x => x.Name == "Taken back");
    }

    [Theory]
    [InlineData(0)]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    [InlineData(4)]
    public async Task Nobody_saves_a_part_of_a_program_without_counting_its_version(int part)
    {
        await using var fleet = await Fleet.WithLoader();
        await fleet.Ask(async db =>
        {
            var program = await db.Programs.Include(x => x.Items).Include(x => x.Compartments).SingleAsync(x => x.Code == Loader, Ct);
            switch (part)
            {
                case 0:
                    program.Name = "Other";
                    break;
                case 1:
                    program.Items[0].Caution = "Other.";
                    break;
                case 2:
                    program.Compartments[0].Name = "Other";
                    break;
                case 3:
                    db.Remove(program.Items[^1]);
                    break;
                default:
                    program.Items.Add(
                        new()
                        {
                            Code = "other",
                            Name = "Other",
                            Compartment = "engine",
                        }
                    );
                    break;
            }

            await Assert.ThrowsAsync<InvalidOperationException>(() => db.SaveChangesAsync(Ct));
            program.Version++;
            return await db.SaveChangesAsync(Ct);
        });
    }

    [Fact]
    public async Task A_change_shows_which_dues_move_and_by_how_much_and_keeps_nothing_yet()
    {
        await using var fleet = await Fleet.WithLoader();
        await fleet.Do<Work.RecordWork, Outcome<Work.RecordedWork>>(x =>
            x.Run(new("WL-01", ["engine-oil"], "354", "2026-03-15", null), Fleet.Tam, Ct)
        );
        var before = await fleet.Fingerprint();
        var preview = await fleet.Do<ChangeProgram, Outcome<ProgramPreview>>(x => x.Preview(Item(EngineOil("200")), Ct));
        var move = Assert.Single(preview.Value!.Moves);
        Assert.Equal(("WL-01", 500d, 400d), (move.Unit, move.Before!.DueHours, move.After!.DueHours));
        Assert.Equal(before, await fleet.Fingerprint());

        Assert.True((await fleet.Do<ChangeProgram, Outcome<ServiceProgram>>(x => x.Save(Item(EngineOil("200")), Fleet.Bea, Ct))).Done);
        Assert.Equal(400, (await fleet.Page("WL-01")).Items.Single(x => x.Item.Code == "engine-oil").Status.DueHours);
        Assert.NotEqual(before, await fleet.Fingerprint());
    }

    [Fact]
    public async Task Another_school_moves_what_it_touches()
    {
        await using var fleet = await Fleet.WithLoader();
        await fleet.Do<Work.RecordWork, Outcome<Work.RecordedWork>>(x =>
            x.Run(new("WL-01", ["engine-oil"], "354", "2026-03-15", null), Fleet.Tam, Ct)
        );
        var change = new ProgramChangeInput(Loader, 1, new("Wheel loader", IntervalBasis.Floating, "10", "10", "5", "30"), null);
        var moves = (await fleet.Do<ChangeProgram, Outcome<ProgramPreview>>(x => x.Preview(change, Ct))).Value!.Moves;
        Assert.Contains(moves, x => x.ItemCode == "engine-oil" && x.After!.DueHours == 604);
    }

    [Fact]
    public async Task Two_planners_do_not_overwrite_each_other()
    {
        await using var fleet = await Fleet.WithLoader();
        Assert.True((await fleet.Do<ChangeProgram, Outcome<ServiceProgram>>(x => x.Save(Item(EngineOil("200")), Fleet.Tam, Ct))).Done);
        var second = await fleet.Do<ChangeProgram, Outcome<ServiceProgram>>(x => x.Save(Item(EngineOil("300")), Fleet.Bea, Ct));
        Assert.Equal("changedMeanwhile", Assert.Single(second.Refusals).Code);
        Assert.Equal(
            "changedMeanwhile",
            Assert
                .Single((await fleet.Do<ChangeProgram, Outcome<ProgramPreview>>(x => x.Preview(Item(EngineOil("300")), Ct))).Refusals)
                .Code
        );
    }

    public static TheoryData<ProgramItemInput, string, string> Wrong() =>
        new()
        {
            { EngineOil("0"), "everyHours", "aboveZero" },
            { EngineOil("-1"), "everyHours", "hoursNegative" },
            { EngineOil("ten"), "everyHours", "hoursNotANumber" },
            { EngineOil("250") with { EveryMonths = "1.5" }, "everyMonths", "wholeBetween" },
            { EngineOil("250") with { EveryMonths = "999" }, "everyMonths", "wholeBetween" },
            { EngineOil("250") with { Compartment = "moon" }, "compartment", "noSuchCompartment" },
            { EngineOil("250") with { Needs = "turbo" }, "needs", "noSuchOption" },
            { EngineOil("250") with { Name = "" }, "name", "needed" },
            { EngineOil("250") with { Code = "other" }, "code", "codeFixed" },
            { EngineOil("250") with { OldCode = null, Code = "belts" }, "code", "codeTaken" },
            { EngineOil("250") with { OldCode = null, Code = "Bad Code" }, "code", "codeShape" },
            { EngineOil("") with { EveryMonths = "", FirstAtHours = "" }, "everyHours", "intervalNeeded" },
            { EngineOil("250") with { Once = true, FirstAtHours = "" }, "firstAtHours", "onceNeedsFirst" },
        };

    [Theory]
    [MemberData(nameof(Wrong))]
    public async Task An_item_entered_wrong_says_what_is_wrong_beside_the_field(ProgramItemInput item, string field, string code)
    {
        await using var fleet = await Fleet.Empty();
        var outcome = await fleet.Do<ChangeProgram, Outcome<ServiceProgram>>(x => x.Save(Item(item), Fleet.Tam, Ct));
        Assert.Equal((field, code), (Assert.Single(outcome.Refusals).Field, outcome.Refusals[0].Code));
    }

    [Fact]
    public async Task A_copy_is_its_own_program_and_no_starter()
    {
        await using var fleet = await Fleet.Empty();
        var copied = await fleet.Do<ChangeProgram, Outcome<ServiceProgram>>(x =>
            x.Copy(Loader, "our-loaders", "Our loaders", Fleet.Tam, Ct)
        );
        Assert.True(copied.Done);
        var page = await fleet.Do<ProgramViews, ProgramPage?>(x => x.One("our-loaders", Ct));
        Assert.False(page!.Program.Starter);
        Assert.Equal((await fleet.Do<ProgramViews, ProgramPage?>(x => x.One(Loader, Ct)))!.Program.Items.Count, page.Program.Items.Count);
        Assert.Equal(
            "codeTaken",
            Assert
                .Single(
                    (
                        await fleet.Do<ChangeProgram, Outcome<ServiceProgram>>(x => x.Copy(Loader, "our-loaders", "Again", Fleet.Tam, Ct))
                    ).Refusals
                )
                .Code
        );
    }
}
