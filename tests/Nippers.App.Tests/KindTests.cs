using Microsoft.EntityFrameworkCore;
using Nippers.App.Kinds;
using Nippers.App.Machines;
using Nippers.App.Programs;
using Nippers.App.Walks;
using Nippers.Core.Oil;
using Nippers.Data.Fleet;
using Nippers.Data.Queries;
using Nippers.Data.Walks;
using static Nippers.App.Tests.Outcomes;

namespace Nippers.App.Tests;

/// <summary>A kind is a folder, and a planner's own kind is a copy of one.</summary>
public sealed class KindTests
{
    private static readonly CancellationToken Ct = CancellationToken.None;

    public static TheoryData<string> Folders() => [.. KindFolders.All.Select(x => x.Kind.Code)];

    [Theory]
    [MemberData(nameof(Folders))]
    public void A_folder_holds_together(string code)
    {
        var kind = KindFolders.Find(MachineKind.Of(code))!;
        var list = StarterLists.All().Single(x => x.Kind == kind.Kind).Body;

        Assert.NotEmpty(list.Parts);
        Assert.NotEmpty(list.Postures);
        Assert.Subset(list.Stations.Select(x => x.Code).ToHashSet(), list.Checks.Select(x => x.Station).ToHashSet());
        Assert.Subset(list.Postures.Select(x => x.Code).Append("").ToHashSet(), list.Checks.Select(x => x.Posture).ToHashSet());
        Assert.Equal(list.Checks.Length, list.Checks.Select(x => x.Code).Distinct().Count());
        Assert.All(list.Stations, x => Assert.True(x is { X: >= 0 and <= 320, Y: >= 0 and <= 240 }, x.Code));
        var program = StarterPrograms.All().Single(x => x.Kind == kind.Kind);
        var compartments = program.Compartments.Select(x => x.Code).ToHashSet();
        Assert.Subset(compartments, program.Items.Select(x => x.Compartment).ToHashSet());
        Assert.Subset(compartments, list.Places.Select(x => x.Compartment).ToHashSet());
        Assert.Subset(program.Items.Select(x => x.Code).Append("").ToHashSet(), list.Checks.Select(x => x.Item).ToHashSet());
        Assert.InRange(program.Items.Count, 40, code == "crawler-dozer" ? 68 : 65);
    }

    [Fact]
    public void A_folder_takes_shared_lines_by_code_and_may_fill_in_its_own_columns()
    {
        string[] shared = ["horn", "Horn works", "cab", "Limit"];
        string Merged(params string[] row) => string.Join(';', KindFolders.Merge(row, shared, 4, "x/checks.csv"));

        Assert.Equal("horn;Horn works;cab;Limit", Merged("horn"));
        Assert.Equal("horn;Horn works;deck;Limit", Merged("horn", "", "deck"));
        Assert.Equal("horn;Horn works;;Limit", Merged("horn", "", "-"));
        Assert.Equal("a;b;;d", string.Join(';', KindFolders.Merge(["a", "b", "", "d"], null, 4, "x")));
        Assert.Throws<InvalidDataException>(() => KindFolders.Merge(["horm"], null, 4, "x").ToList());
    }

    [Theory]
    [InlineData("wheel-loader", "wheel-loader", "wheelLoader")]
    [InlineData("WheelLoader", "wheel-loader", "wheelLoader")]
    [InlineData("wheelLoader", "wheel-loader", "wheelLoader")]
    [InlineData(" other ", "other", "other")]
    [InlineData("tug-t4", "tug-t4", "tugT4")]
    public void A_kind_is_read_as_addresses_and_files_have_it(string text, string code, string wire)
    {
        Assert.True(MachineKind.TryParse(text, null, out var kind));
        Assert.Equal((code, wire), (kind.Code, kind.Wire));
        Assert.Equal(kind, MachineKind.Of(kind.Wire));
        Assert.Equal(kind, MachineKind.Of(kind.ToString()));
    }

    [Theory]
    [InlineData("")]
    [InlineData(null)]
    [InlineData("4x4")]
    [InlineData("wheel loader")]
    [InlineData("wheel-")]
    [InlineData("-wheel")]
    [InlineData("tug-4")]
    [InlineData("éclair")]
    [InlineData("a'; drop table")]
    public void What_is_no_code_is_no_kind(string? text)
    {
        Assert.False(MachineKind.TryParse(text, null, out var kind));
        Assert.Equal(MachineKind.Other, kind);
        Assert.Throws<FormatException>(() => MachineKind.Of(text!));
    }

    [Fact]
    public void The_kind_of_nothing_is_the_other_kind() => Assert.Equal("other", default(MachineKind).Code);

    [Fact]
    public async Task An_own_kind_is_a_copy_of_list_and_program_that_a_machine_can_be_of()
    {
        await using var fleet = await Fleet.WithLoader();
        var from = MachineKind.Of("wheel-loader");

        var own = await Ok<KindCatalog, KindLine>(fleet, x => x.Copy(from, " Log stacker 4 ", Fleet.Tam, Ct));

        Assert.Equal(("log-stacker4", "Log stacker 4", false), (own.Kind.Code, own.Name, own.Ships));
        var (list, program) = (Assert.Single(own.Lists), Assert.Single(own.Programs));
        var original = await fleet.Do<ChangeWalkList, WalkListPage>(async x => (await x.One("walk-wheel-loader", Ct))!);
        var copy = await fleet.Do<ChangeWalkList, WalkListPage>(async x => (await x.One(list.Code, Ct))!);
        Assert.Equal(ListJson.Write(original.Body), ListJson.Write(copy.Body));
        var starter = StarterPrograms.All().Single(x => x.Kind == from);
        var kept = await fleet.Ask(db =>
            db.Programs.Include(x => x.Items).Include(x => x.Compartments).SingleAsync(x => x.Code == program.Code, Ct)
        );
        Assert.Equal(starter.Items.Select(x => x.Code), kept.Items.OrderBy(x => x.Position).Select(x => x.Code));
        Assert.Equal(starter.Compartments.Count, kept.Compartments.Count);
        Assert.Equal((own.Kind, false), (kept.Kind, kept.Starter));

        // What is changed in the copy stays there.
        await Ok<ChangeWalkList, WalkList>(fleet, x => x.SaveCheck(list.Code, 1, new() { OldCode = "horn", Remove = true }, Fleet.Tam, Ct));
        Assert.Contains((await fleet.Do<ChangeWalkList, WalkListPage>(async x => (await x.One("walk-wheel-loader", Ct))!)).Body.Checks, x =>
            x.Code == "horn"
        );

        // A machine of it is walked by its list without being told which.
        await Ok<SaveMachine, Machine>(fleet, x => x.Run(
                new()
                {
                    Unit = "LS-01",
                    Kind = own.Kind,
                    Make = "Ulmar",
                    Model = "LS 4",
                    Site = "Yard",
                    Program = program.Code,
                    CommissionedOn = "2026-01-15",
                    CommissionedHours = "0",
                    PlannedHoursPerDay = "6",
                },
                Fleet.Tam,
                Ct
            ));
        var walked = await fleet.Ask(async db =>
            (await db.ListOf(await db.Machines.AsNoTracking().SingleAsync(x => x.Unit == "LS-01", Ct), Ct))!.ToList()
        );
        Assert.DoesNotContain(walked.Checks, x => x.Code == "horn");
        Assert.NotEmpty(walked.Places);
        Assert.Equal(1, (await fleet.Do<KindCatalog, KindLine>(async x => (await x.One(own.Kind, Ct))!)).Machines);
    }

    [Theory]
    [InlineData("wheel-loader", "", "needed")]
    [InlineData("wheel-loader", "   ", "needed")]
    [InlineData("wheel-loader", "4", "kindNeedsLetters")]
    [InlineData("wheel-loader", "!?", "kindNeedsLetters")]
    [InlineData("wheel-loader", "Wheel Loader", "kindTaken")]
    [InlineData("wheel-loader", "Other", "kindTaken")]
    [InlineData("steam-shovel", "Shovel", "noSuchMachineKind")]
    [InlineData("wheel-loader", "A name that is far too long for any list of kinds", "tooLong")]
    public async Task A_copy_that_cannot_be_is_refused_and_nothing_is_kept(string from, string name, string code)
    {
        await using var fleet = await Fleet.WithLoader();

        Assert.Equal(code, (await Refused<KindCatalog, KindLine>(fleet, x => x.Copy(MachineKind.Of(from), name, Fleet.Tam, Ct))).Code);
    }

    [Fact]
    public async Task Two_own_kinds_of_one_name_are_refused()
    {
        await using var fleet = await Fleet.WithLoader();
        var from = MachineKind.Of("compactor");

        await Ok<KindCatalog, KindLine>(fleet, x => x.Copy(from, "Trench roller", Fleet.Tam, Ct));

        Assert.Equal("kindTaken", (await Refused<KindCatalog, KindLine>(fleet, x => x.Copy(from, "trench ROLLER", Fleet.Tam, Ct))).Code);
    }

    [Fact]
    public void Whatever_a_pattern_of_an_oil_asks_for_is_an_item_of_some_program()
    {
        var items = StarterPrograms.All().SelectMany(x => x.Items).Select(x => x.Code).ToHashSet();
        var asked = OilPatterns
            .Codes.SelectMany(code => Enum.GetValues<OilKind>().SelectMany(kind => OilPatterns.AsksFor(code, kind)))
            .Where(x => x != OilPatterns.ChangeOfFluid)
            .Distinct()
            .ToList();

        Assert.NotEmpty(asked);
        Assert.Subset(items, asked.ToHashSet());
    }
}
