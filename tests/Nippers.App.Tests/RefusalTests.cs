using Microsoft.EntityFrameworkCore;
using Nippers.App.Defects;
using Nippers.App.Machines;
using Nippers.App.Oil;
using Nippers.App.Parts;
using Nippers.App.People;
using Nippers.App.Programs;
using Nippers.App.Readings;
using Nippers.App.Visits;
using Nippers.App.Walks;
using Nippers.App.Work;
using Nippers.Core.Defects;
using Nippers.Core.Jobs;
using Nippers.Core.Service;
using Nippers.Data.Defects;
using Nippers.Data.Fleet;
using Nippers.Data.Oil;
using Nippers.Data.People;
using Nippers.Data.Visits;
using static Nippers.App.Tests.Outcomes;

namespace Nippers.App.Tests;

/// <summary>
/// Refusals that no other test meets, each once: it is said beside its field, and nothing is kept.
/// </summary>
public sealed class RefusalTests
{
    private const string Unit = "WL-01";
    private const string Program = "starter-wheel-loader";
    private static readonly CancellationToken Ct = CancellationToken.None;

    private delegate Task<Refusal> Attempt(Fleet fleet);

    private static Attempt Of<TCase, T>(Func<TCase, Task<Outcome<T>>> use)
        where TCase : notnull
        where T : class => fleet => Refused(fleet, use);

    /// <summary>The same after something that has to succeed.</summary>
    private static Attempt After(Func<Fleet, Task> before, Attempt attempt) =>
        async fleet =>
        {
            await before(fleet);
            return await attempt(fleet);
        };

    private static Task<DefectRow> Report(Fleet fleet, string words, DefectGrade grade) => Ok<ReportDefect, DefectRow>(fleet, x => x.Run(
                new()
                {
                    Unit = Unit,
                    Place = "engine",
                    Words = words,
                    On = MachinePart.Hoses,
                    Grade = grade,
                },
                Fleet.Tam,
                Ct
            ));

    private static Task<VisitRow> Plan(Fleet fleet) =>
        Ok<PlanVisit, VisitRow>(fleet, x => x.Save(null, new(Unit, "2026-03-16", ["engine-oil"]), Fleet.Tam, Ct));

    private static PartInput Part(string number) =>
        new()
        {
            Number = number,
            Name = "Filter",
            Price = "12",
        };

    private static SiteInput Site(
        string? low = null,
        string? high = null,
        string? from = "07:00",
        string? to = "16:00",
        params string[] days
    ) => new("Yard", low, high, [.. days.Select(Enum.Parse<DayOfWeek>)], from, to);

    private static CompartmentInput Hub(string hub) => new("axle-front", null, null, null, null, null, null, null, null, hub);

    private static readonly Dictionary<string, (string Field, Attempt Attempt)> Cases = new(StringComparer.Ordinal)
    {
        ["alreadyDone"] = (
            "",
            After(
                f => Ok<ReplaceMeter, MeterChange>(f, x => x.Run(Swap("356", "once"), Fleet.Tam, Ct)),
                Of<ReplaceMeter, MeterChange>(x => x.Run(Swap("356", "once"), Fleet.Tam, Ct))
            )
        ),
        ["belowCommissioning"] = ("hours", async fleet =>
        {
            await fleet.AddMachine("WL-77", History.SinceNew, 500);
            return await Refused<LogReading, LoggedReading>(fleet, x => x.Run(new("WL-77", "480"), Fleet.Tam, Ct));
        }
        ),
        ["outsideDay"] = ("hours", async fleet =>
        {
            await fleet.AddMachine("WL-78");
            Assert.True((await fleet.Log("WL-78", 60, Fleet.Now.AddDays(-5))).Done);
            return await Refused<RecordWork, RecordedWork>(fleet, x =>
                x.Run(new("WL-78", ["engine-oil"], "10", "2026-03-14", null), Fleet.Tam, Ct)
            );
        }
        ),
        ["noItems"] = ("items", Of<RecordWork, RecordedWork>(x => x.Run(new(Unit, [], "356", null, null), Fleet.Tam, Ct))),
        ["readingGone"] = ("", Of<DecideReading, Data.Records.ReadingRow>(x => x.Confirm(Unit, 99_999, Fleet.Tam, Ct))),
        ["cardNotOpen"] = ("", async fleet =>
        {
            var id = (await Plan(fleet)).Id;
            await Ok<OpenCard, VisitRow>(fleet, x => x.Run(id, "356", false, StepHeat.Cold, Fleet.Tam, Ct));
            await fleet.Ask(db => db.Visits.ExecuteUpdateAsync(x => x.SetProperty(v => v.State, VisitState.Voided), Ct));
            return await Refused<SaveStep, SavedStep>(fleet, x => x.Run(id, Stepped("card.isolate", ("done", true)), Fleet.Tam, Ct));
        }
        ),
        ["itemLeft"] = ("", async fleet =>
        {
            var id = (await Plan(fleet)).Id;
            await Ok<OpenCard, VisitRow>(fleet, x => x.Run(id, "356", false, StepHeat.Cold, Fleet.Tam, Ct));
            await Ok<LeaveItem, Nothing>(fleet, x => x.Run(id, "engine-oil", "noTime", null, [LeaveItem.NothingOff], Fleet.Tam, Ct));
            return await Refused<SaveStep, SavedStep>(fleet, x => x.Run(id, Stepped("engine-oil.drain", ("done", true)), Fleet.Tam, Ct));
        }
        ),
        ["noSuchVisit"] = ("", Of<SaveStep, SavedStep>(x => x.Run(99, Stepped("card.isolate", ("done", true)), Fleet.Tam, Ct))),
        ["visitEmpty"] = ("items", Of<PlanVisit, VisitRow>(x => x.Save(null, new(Unit, "2026-03-16", []), Fleet.Tam, Ct))),
        ["visitNotClosed"] = ("", async fleet =>
        {
            var id = (await Plan(fleet)).Id;
            return await Refused<CloseVisit, VisitRow>(fleet, x => x.Reopen(id, "wrong one", Fleet.Tam, Ct));
        }
        ),
        ["coolantGone"] = ("", Of<CoolantTests, Data.Oil.CoolantTestRow>(x => x.Void(Unit, 99, Fleet.Tam, Ct))),
        ["noSuchDefect"] = ("", Of<DefectNotes, DefectRow>(x => x.Add(99, "seen", [], null, Fleet.Tam, Ct))),
        ["defectNotOpen"] = ("", async fleet =>
        {
            var id = (await Report(fleet, "Hose chafed", DefectGrade.NextService)).Id;
            await Ok<RepairDefect, DefectRow>(fleet, x => x.Repair(id, new("Clamped", null, null, null, null), Fleet.Tam, Ct));
            return await Refused<RepairDefect, DefectRow>(fleet, x => x.Repair(id, new("Again", null, null, null, null), Fleet.Tam, Ct));
        }
        ),
        ["defectNotRepaired"] = ("", async fleet =>
        {
            var id = (await Report(fleet, "Hose chafed", DefectGrade.Stop)).Id;
            return await Refused<RepairDefect, DefectRow>(fleet, x => x.Release(id, true, "looks well", Fleet.Tam, Ct));
        }
        ),
        ["repairFarAhead"] = ("hours", async fleet =>
        {
            var id = (await Report(fleet, "Hose chafed", DefectGrade.NextService)).Id;
            return await Refused<RepairDefect, DefectRow>(fleet, x =>
                x.Repair(id, new("Clamped", "9000", null, null, null), Fleet.Tam, Ct)
            );
        }
        ),
        ["gradeNotAStop"] = ("grade", async fleet =>
        {
            var id = (await Report(fleet, "Hose chafed", DefectGrade.NextService)).Id;
            return await Refused<GradeDefect, DefectRow>(fleet, x => x.AskDown(id, DefectGrade.Limit, "looks well", Fleet.Tam, Ct));
        }
        ),
        ["fluidLines"] = ("fluids", Of<WorkshopService, Shop>(x => x.Save(new() { Fluids = "15W-40 = lots" }, Fleet.Tam, Ct))),
        ["fluidRanges"] = (
            "fluids",
            Of<ChangeProgram, Data.Programs.ServiceProgram>(x =>
                x.SaveCompartment(new(Program, 1, "engine", "20", "10", "15W-40 for all weathers", []), Fleet.Tam, Ct)
            )
        ),
        ["noSuchAccess"] = (
            "access",
            Of<ChangeProgram, Data.Programs.ServiceProgram>(x =>
                x.Save(
                    new(
                        Program,
                        1,
                        null,
                        new()
                        {
                            Code = "extra",
                            Name = "Extra",
                            Compartment = "engine",
                            EveryHours = "100",
                            Access = "trapdoor",
                        }
                    ),
                    Fleet.Tam,
                    Ct
                )
            )
        ),
        ["highAboveLow"] = ("highC", Of<FirstSite, Nothing>(x => x.Expect(Site("10", "5", days: "Monday"), Fleet.Tam, Ct))),
        ["shiftBackwards"] = (
            "shiftTo",
            Of<FirstSite, Nothing>(x => x.Expect(Site(from: "16:00", to: "07:00", days: "Monday"), Fleet.Tam, Ct))
        ),
        ["daysNeeded"] = ("days", Of<FirstSite, Nothing>(x => x.Expect(Site(), Fleet.Tam, Ct))),
        ["siteTaken"] = ("siteName", Of<FirstSite, Nothing>(x => x.Add("Yard", "UTC", Fleet.Tam, Ct))),
        ["noSuchZone"] = ("zone", Of<FirstSite, Nothing>(x => x.Add("Quarry", "Moon/Tranquillity", Fleet.Tam, Ct))),
        ["hubShape"] = (
            "hub-axle-front",
            Of<MachineData, Nothing>(x => x.Save(Unit, new([Hub("three")], null, null, null, null, null), Fleet.Tam, Ct))
        ),
        ["newIsLimit"] = (
            "new",
            Of<MachineLimits, Data.Walks.MachineCheck>(x =>
                x.Save(Unit, new("tread-left", "20", null, null, "20", "0", null, null, null), Fleet.Tam, Ct)
            )
        ),
        ["noSuchCompartmentHere"] = ("compartment", Of<LogTopUp, LoggedTopUp>(x => x.Run(Unit, "2", "xyzzy", null, Fleet.Tam, Ct))),
        ["noSuchPosition"] = ("", Of<PartCatalog, Nothing>(x => x.RemovePosition(Unit, "nowhere", Fleet.Tam, Ct))),
        ["noSuchSample"] = ("", Of<ReviewSample, SignedSample>(x => x.Run(99, null!, Fleet.Tam, Ct))),
        ["noSuchWalkList"] = ("", Of<ChangeWalkList, Data.Walks.WalkList>(x => x.Copy("walk-none", "own", "Own", false, Fleet.Tam, Ct))),
        ["notParked"] = ("", Of<ParkMachine, ParkedRow>(x => x.Unpark(Unit, Fleet.Tam, Ct))),
        ["partNumberShape"] = ("number", Of<PartCatalog, Data.Parts.PartRow>(x => x.Save(Part("a b?"), Fleet.Tam, Ct))),
        ["partTaken"] = (
            "number",
            After(
                f => Ok<PartCatalog, Data.Parts.PartRow>(f, x => x.Save(Part("XA-1"), Fleet.Tam, Ct)),
                Of<PartCatalog, Data.Parts.PartRow>(x => x.Save(Part("xa-1"), Fleet.Tam, Ct))
            )
        ),
        ["partItself"] = (
            "other",
            After(
                f => Ok<PartCatalog, Data.Parts.PartRow>(f, x => x.Save(Part("XA-1"), Fleet.Tam, Ct)),
                Of<PartCatalog, Data.Parts.PartRow>(x => x.Interchange("XA-1", "xa-1", "the desk", Fleet.Tam, Ct))
            )
        ),
        ["alternateThere"] = (
            "other",
            After(
                async f =>
                {
                    await Ok<PartCatalog, Data.Parts.PartRow>(f, x => x.Save(Part("XA-1"), Fleet.Tam, Ct));
                    await Ok<PartCatalog, Data.Parts.PartRow>(f, x => x.Save(Part("XA-2"), Fleet.Tam, Ct));
                    await Ok<PartCatalog, Data.Parts.PartRow>(f, x => x.Interchange("XA-1", "XA-2", "the desk", Fleet.Tam, Ct));
                },
                Of<PartCatalog, Data.Parts.PartRow>(x => x.Interchange("XA-1", "XA-2", "the desk", Fleet.Tam, Ct))
            )
        ),
        ["recordsBefore"] = ("commissionedOn", async fleet =>
        {
            var version = await fleet.Ask(db => db.Machines.Where(x => x.Unit == Unit).Select(x => x.Version).SingleAsync(Ct));
            return await Refused<SaveMachine, Machine>(fleet, x =>
                x.Run(Machine(version) with { CommissionedOn = "2026-03-01" }, Fleet.Tam, Ct)
            );
        }
        ),
        ["noSuchMachineKind"] = (
            "kind",
            Of<SaveMachine, Machine>(x => x.Run(Machine(0) with { OldUnit = null, Unit = "LS-9", Kind = null }, Fleet.Tam, Ct))
        ),
        ["tokenGone"] = ("", Of<ApiTokens, Nothing>(x => x.Revoke(99, Fleet.Tam, Ct))),
        ["noSuchRole"] = ("role", Of<ApiTokens, MadeToken>(x => x.Make(new("gate", "king", [TokenScopes.Read]), Fleet.Tam, Ct))),
        ["tokenScope"] = ("scopes", Of<ApiTokens, MadeToken>(x => x.Make(new("gate", Roles.Operator, ["everything"]), Fleet.Tam, Ct))),
        ["notPublicAddress"] = ("publicAddress", Of<PublicAddress, Nothing>(x => x.Save("https://nippers.example/at/home", Fleet.Tam, Ct))),
        ["labInside"] = (
            "url",
            Of<Labs, LabRow>(x => x.Save(new(null, 0, "Near", "http://169.254.7.7/", "", Usual: false), Fleet.Tam, Ct))
        ),
        ["tooManyChosen"] = (
            "",
            Of<Bottles, IReadOnlyList<string>>(x =>
                x.Prepare([.. Enumerable.Range(0, 500).Select(i => new BottleWish(Unit, $"item-{i}"))], Fleet.Tam, Ct)
            )
        ),
        ["machineRetired"] = (
            "",
            After(
                f => f.Ask(db => db.Machines.ExecuteUpdateAsync(x => x.SetProperty(m => m.Retired, true), Ct)),
                Of<StartWalk, StartedWalk>(x => x.Run(new() { Unit = Unit, Hours = "356" }, Fleet.Tam, Ct))
            )
        ),
        ["noWalkList"] = (
            "",
            After(
                f => f.Ask(db => db.Machines.ExecuteUpdateAsync(x => x.SetProperty(m => m.Kind, MachineKind.Of("steam-shovel")), Ct)),
                Of<StartWalk, StartedWalk>(x => x.Run(new() { Unit = Unit, Hours = "356" }, Fleet.Tam, Ct))
            )
        ),
        ["linesBetween"] = (
            "stations",
            Of<ChangeWalkList, Data.Walks.WalkList>(x => x.SavePlan("walk-wheel-loader", 1, "Loader", "", "", "", Fleet.Tam, Ct))
        ),
    };

    private static ReplaceMeterInput Swap(string last, string key) => new(Unit, last, "0", null, "cluster dead", key);

    private static MachineInput Machine(int version) =>
        new()
        {
            OldUnit = Unit,
            Version = version,
            Unit = Unit,
            Kind = MachineKind.Of("wheel-loader"),
            Make = "Ulmar",
            Model = "UL 12",
            Site = "Yard",
            Program = Program,
            CommissionedOn = "2026-01-15",
            CommissionedHours = "0",
            PlannedHoursPerDay = "6",
        };

    public static TheoryData<string> Codes() => [.. Cases.Keys];

    [Theory]
    [MemberData(nameof(Codes))]
    public async Task It_is_said_beside_its_field_and_nothing_is_kept(string code)
    {
        await using var fleet = await Fleet.WithLoader();
        var (field, attempt) = Cases[code];

        var refusal = await attempt(fleet);

        Assert.Equal((code, field), (refusal.Code, refusal.Field));
    }

    [Theory]
    [InlineData("other", "X1", "partUnknown", "noSuchItem")]
    [InlineData("other", "", "needed", "needed")]
    [InlineData("other", "  ", "needed", "needed")]
    [InlineData("", "", "partUnknown", "noSuchItem")]
    public void A_name_that_was_left_empty_is_asked_for_and_not_called_unknown(string field, string name, string part, string item)
    {
        Assert.Equal((part, field), (Refusals.PartUnknown(field, name).Code, Refusals.PartUnknown(field, name).Field));
        Assert.Equal((item, field), (Refusals.NoSuchItem(field, name).Code, Refusals.NoSuchItem(field, name).Field));
    }
}
