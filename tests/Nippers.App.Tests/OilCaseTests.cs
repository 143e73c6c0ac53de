using CsCheck;
using Nippers.App.Exchange;
using Nippers.App.Oil;
using Nippers.Core.Oil;
using Nippers.Formats.Lab;
using static Nippers.App.Tests.OilRig;

namespace Nippers.App.Tests;

/// <summary>What a judgement rests on is kept whole, and leaves as a file that comes back.</summary>
public sealed class OilCaseTests
{
    private static readonly string[] Grades = ["SAE 15W-40", "ISO VG 46", "GEAR 80W-90", "SAE 30", "Blue barrel"];

    private static readonly Gen<Measures> Figures =
        from values in Gen.Double[0, 500].Array[Measurands.Reported.Length]
        from measured in Gen.Bool.Array[Measurands.Reported.Length]
        select Measures.Of(
            Measurands.Reported.Select((x, i) => (x, i)).Where(x => measured[x.i]).Select(x => KeyValuePair.Create(x.x, values[x.i]))
        );

    private static readonly Gen<OilCase> Cases =
        from kind in Gen.Enum<OilKind>()
        from grade in Gen.Int[0, Grades.Length - 1].Select(x => Grades[x])
        from figures in Figures
        from fresh in Figures
        from hours in Gen.Double[0, 20_000]
        from oil in Gen.Double[0, 3000]
        from known in Gen.Bool.Array[6]
        from earlier in Gen.Select(Gen.Double[0, 5000], Figures).List[0, 6]
        select new OilCase(
            new()
            {
                Kind = kind,
                Grade = known[0] ? ViscosityGrade.Of(grade) : null,
                SumpLitres = known[1] ? 24.5 : null,
                IntervalHours = 250,
                MachineHours = hours,
                OilHours = known[2] ? oil : null,
                AddedLitres = oil / 100,
                Results = figures.With(Measurand.Viscosity, oil / 40),
                Below = [.. figures.All.Select(x => x.Measurand).Where(x => x.Code().Length == 1)],
                Iso = known[3] ? Iso4406Code.Parse("21/18/14") : null,
                New = known[4] ? new(14.5, 10, 2, 5, fresh) : NewOil.Unknown,
            },
            known[5]
                ? LimitSet.Starting(kind)
                : LimitSet.Of(
                    [KeyValuePair.Create(Measurand.Fe, new OilLimit(30, 60, LimitSource.Own, 120))],
                    Iso4406Code.Parse("18/16/13")
                ),
            [.. earlier.Select(x => new EarlierSample(x.Item1, x.Item2))]
        );

    /// <summary>A judgement that is made again years later says what it said: verdict, grades, patterns, doubts, values.</summary>
    [Fact]
    public void A_case_that_was_kept_is_judged_the_same() =>
        Cases.Sample(given =>
        {
            var (before, after) = (given.Judge(), OilCase.Read(given.Write()).Judge());
            Assert.Equal((before.Assessment, before.Doubts), (after.Assessment, after.Doubts));
            Assert.Equal(OilCase.WriteValues(before.Values), OilCase.WriteValues(after.Values));
            Assert.Equal(before.Patterns.Select(x => (x.Code, x.Sure)), after.Patterns.Select(x => (x.Code, x.Sure)));
            Assert.Equal(given.Write(), OilCase.Read(given.Write()).Write());
        });

    [Fact]
    public void Figures_below_what_a_method_sees_stay_below()
    {
        var kept = OilCase.WriteFigures(
            new Dictionary<string, string>
            {
                ["Si"] = "<1",
                ["Fe"] = "12.5",
                ["nothing"] = "3",
            }
        );
        var (results, below) = OilCase.Numbers(kept);
        Assert.Equal(12.5, results[Measurand.Fe]);
        Assert.Equal([Measurand.Si], below);
        Assert.Equal(2, results.All.Count());
    }

    [Fact]
    public void A_text_that_is_no_case_says_so() => Assert.ThrowsAny<System.Text.Json.JsonException>(() => OilCase.Read("null"));

    [Fact]
    public async Task Samples_that_leave_as_csv_are_read_by_the_import_of_a_laboratorys_file()
    {
        await using var fleet = await Ready();
        var sample = await Take(fleet);
        await Results(fleet, sample.Id, (Measurand.Si, 40), (Measurand.Fuel, 2.5));
        await Take(fleet, Hydraulic);
        using var text = new StringWriter();
        await fleet.Do<OilExport>(x => x.SamplesCsv(text, Unit, TestContext.Current.CancellationToken));

        var file = LabCsv.Cut(text.ToString());
        Assert.Null(file.Fault);
        var rows = LabCsv.Read(file, LabCsv.Guess(file.Header));
        var row = rows.Single(x => x.Result.Bottle == sample.Bottle).Result;
        Assert.Equal(("40", "2.5", "<0.02"), (row.Figures["Si"], row.Figures["fuel"], row.Figures["water"]));
        Assert.Equal((Unit, "engine", 356.0), (row.Unit, row.Compartment, row.MachineHours));
        Assert.Equal(2, rows.Count);
    }
}
