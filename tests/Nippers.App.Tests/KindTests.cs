using Microsoft.EntityFrameworkCore;
using Nippers.App.Exchange;
using Nippers.App.Kinds;
using Nippers.App.Machines;
using Nippers.App.Programs;
using Nippers.App.Visits;
using Nippers.App.Walks;
using Nippers.Core.Defects;
using Nippers.Core.Hours;
using Nippers.Core.Oil;
using Nippers.Core.Service;
using Nippers.Core.Walk;
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
        Assert.Equal("horn;Horn works;cab;Limit;", string.Join(';', KindFolders.Merge(["horn"], shared, 5, "x")));
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
    public async Task An_own_kind_goes_to_another_Nippers_as_a_file()
    {
        await using var fleet = await Fleet.WithLoader();
        await Ok<KindCatalog, KindLine>(fleet, x => x.Copy(MachineKind.Of("cold-planer"), "Slipform machine", Fleet.Tam, Ct));
        var list = await fleet.Do<ChangeWalkList, WalkListPage>(async x => (await x.One("walk-slipform-machine", Ct))!);
        await Ok<ChangeWalkList, WalkList>(fleet, x => x.SaveCheck(
                list.List.Code,
                list.List.Version,
                new()
                {
                    Code = "mould",
                    Name = "Mould, its lift and side plates",
                    Station = "work",
                    Grade = DefectGrade.Stop,
                    Safety = SafetyPart.Structure,
                },
                Fleet.Tam,
                Ct
            ));
        var kind = MachineKind.Of("slipform-machine");
        async Task<byte[]> File(Fleet of)
        {
            using var to = new MemoryStream();
            await of.Do<ExportFleet, int>(async x =>
            {
                await x.Kind(to, kind, Ct);
                return 0;
            });
            return to.ToArray();
        }

        var file = await File(fleet);
        await using var other = await Fleet.Empty();
        await Ok<ImportFleet, ImportedFleet>(other, x => x.Run(new MemoryStream(file), Fleet.Tam, null, Ct));

        Assert.Equal("Slipform machine", (await other.Do<KindCatalog, KindLine>(async x => (await x.One(kind, Ct))!)).Name);
        Assert.Equal(file, await File(other));
        var there = await other.Do<ChangeWalkList, WalkListPage>(async x => (await x.One("walk-slipform-machine", Ct))!);
        Assert.Contains(there.Body.Checks, x => x is { Code: "mould", IsSafetyCritical: true });

        // Once more changes nothing; another wording under the same code is refused, and nothing of it is kept.
        await Ok<ImportFleet, ImportedFleet>(other, x => x.Run(new MemoryStream(file), Fleet.Tam, null, Ct));
        await Ok<ChangeWalkList, WalkList>(other, x =>
            x.SaveCheck("walk-slipform-machine", 2, new() { OldCode = "horn", Remove = true }, Fleet.Tam, Ct)
        );
        Assert.Equal(
            "fleetListDiffers",
            (await Refused<ImportFleet, ImportedFleet>(other, x => x.Run(new MemoryStream(file), Fleet.Tam, null, Ct))).Code
        );
    }

    [Theory]
    [InlineData(SagMethod.Hang, null, "sag=hang")]
    [InlineData(SagMethod.Dips, SagMethod.Hang, "sag=hang")]
    [InlineData(SagMethod.Hang, SagMethod.Gap, "sag=gap")]
    [InlineData(null, null, null)]
    public async Task A_card_of_an_own_kind_measures_sag_as_its_list_or_its_machine_says(SagMethod? list, SagMethod? machine, string? word)
    {
        await using var fleet = await Fleet.WithLoader();
        var kind = await Ok<KindCatalog, KindLine>(fleet, x => x.Copy(MachineKind.Of("wheel-loader"), "Pipe layer", Fleet.Tam, Ct));
        var page = await fleet.Do<ChangeWalkList, WalkListPage>(async x => (await x.One("walk-pipe-layer", Ct))!);
        await Ok<ChangeWalkList, WalkList>(fleet, x =>
            x.SavePostures(
                "walk-pipe-layer",
                1,
                [.. page.Body.Postures.Select(p => new PostureInput(p.Code, p.Name, p.Words, p.After, p.Caution))],
                list,
                true,
                Fleet.Tam,
                Ct
            )
        );
        await fleet.Ask(db => db.Machines.ExecuteUpdateAsync(x => x.SetProperty(m => m.Kind, kind.Kind), Ct));
        if (machine is { } method)
        {
            await fleet.Ask(async db =>
            {
                db.MachineChecks.Add(
                    new()
                    {
                        MachineId = await db.Machines.Select(x => x.Id).SingleAsync(Ct),
                        CheckCode = "sag-left",
                        Method = method,
                    }
                );
                return await db.SaveChangesAsync(Ct);
            });
        }

        var said = await fleet.Do<WorkshopService, IReadOnlySet<string>>(async shop =>
            await fleet.Ask(async db =>
            {
                var facts = (await db.FactsOf("WL-01", fleet.Clock.GetUtcNow(), Ct))!;
                return (await ServiceSheet.Load(db, shop, [facts], Ct))[0].Input.Machine;
            })
        );

        Assert.Equal(word, said.SingleOrDefault(x => x.StartsWith("sag=", StringComparison.Ordinal)));
        var changed = await fleet.Do<ChangeWalkList, WalkListPage>(async x => (await x.One("walk-pipe-layer", Ct))!);
        Assert.True(changed.Body.KeyFirst);
    }

    [Theory]
    [InlineData("telehandler", "boom", "stabilisers", "gear")]
    [InlineData("small-loader", "gear", "linkage", "dust")]
    [InlineData("asphalt-paver", "heat", "gear", "ripper")]
    [InlineData("crawler-dozer", "ripper", "winch", "spray")]
    public async Task A_kind_asks_for_the_fittings_that_decide_something_on_it(string kind, string one, string other, string never)
    {
        await using var fleet = await Fleet.WithLoader();
        var options = await fleet.Do<MachineList, IReadOnlySet<string>>(x => x.OptionsOf(MachineKind.Of(kind), Ct));

        Assert.Contains(one, options);
        Assert.Contains(other, options);
        Assert.DoesNotContain(never, options);
        Assert.Subset(MachineOptions.All.Select(x => x.Name).ToHashSet(), options.ToHashSet());
    }

    [Fact]
    public void A_drill_rig_is_tried_with_the_key_on_before_the_lockout_and_walked_round_one_way()
    {
        var list = StarterLists.All().Single(x => x.Kind == MachineKind.Of("crawler-drill-rig")).Body;
        var due = WalkRoute.Due(
            list,
            new HashSet<string> { "drive=diesel" },
            WalkRound.Whole,
            new Dictionary<string, MeterHours>(),
            default
        );
        var steps = WalkRoute.Steps(list, due.Where(x => x.Cadence == Cadence.EveryWalk));
        var circle = steps.Where(x => x is { Kind: StepKind.Station, Engine: EngineState.Off }).SelectMany(x => x.Checks).ToList();

        Assert.InRange(circle.Count, 36, 40);
        Assert.Equal("notices", steps[0].Checks[0].Code);
        Assert.Equal(
            [
                "off-ground",
                "key-cab",
                "isolate",
                "off-work",
                "off-right",
                "off-dust",
                "off-rear",
                "off-engine",
                "off-left",
                "off-top",
                "off-cab",
            ],
            steps.Take(11).Select(x => x.Code)
        );
        Assert.Equal(
            ["drill-controls", "stop-buttons"],
            steps[1].Checks.Where(x => x.Safety is SafetyPart.ControlLock or SafetyPart.StopButton).Select(x => x.Code)
        );
        var rear = steps.Single(x => x.Code == "off-rear").Checks.Select(x => x.Code).ToList();
        Assert.True(rear.IndexOf("receiver-gauge") < rear.IndexOf("compressor-oil-level"));
        var order = steps.ToList();
        Assert.True(
            order.FindIndex(x => x.Kind == StepKind.Release)
                < order.FindIndex(x => x is { Kind: StepKind.Station, Engine: EngineState.Running })
        );
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
