using System.Text;
using Microsoft.EntityFrameworkCore;
using Nippers.App.Exchange;
using Nippers.App.Oil;
using Nippers.App.Work;
using Nippers.Core.Defects;
using Nippers.Core.Oil;
using Nippers.Data;
using Nippers.Data.Oil;
using static Nippers.App.Tests.OilRig;
using static Nippers.App.Tests.Outcomes;

namespace Nippers.App.Tests;

/// <summary>Samples, verdicts and limits in the fleet file: out whole, back the same, and a broken one not at all.</summary>
public sealed class OilExchangeTests
{
    private static readonly Lazy<Task<string>> Kept = new(async () =>
    {
        await using var fleet = await Everything();
        return await Export(fleet);
    });

    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    private static async Task<string> Export(Fleet fleet)
    {
        using var stream = new MemoryStream();
        await fleet.Do<ExportFleet>(x => x.Run(stream, null, Ct));
        return Encoding.UTF8.GetString(stream.ToArray());
    }

    private static async Task<Outcome<ImportedFleet>> Import(Fleet fleet, string file)
    {
        await fleet.Ask(async db =>
        {
            await db.Sites.ExecuteDeleteAsync(Ct);
            db.Programs.RemoveRange(db.Programs);
            return await db.SaveChangesAsync(Ct);
        });
        return await fleet.Do<ImportFleet, Outcome<ImportedFleet>>(x =>
            x.Run(new MemoryStream(Encoding.UTF8.GetBytes(file)), Fleet.Tam, null, Ct)
        );
    }

    /// <summary>One of everything that there can be of samples.</summary>
    private static async Task<Fleet> Everything()
    {
        var fleet = await Ready();
        await Ok<NewOils, NewOilRow>(fleet, x =>
            x.Save(
                "15W-40",
                new(
                    0,
                    "SAE 15W-40",
                    "engine oil",
                    "14.4",
                    "10",
                    "1.2",
                    null,
                    new Dictionary<string, string?> { ["Ca"] = "2400" },
                    NewOilSource.DataSheet
                ),
                Mara,
                Ct
            )
        );
        await Ok<OilLimits, LimitsPreview>(fleet, x =>
            x.Save(new(OilKind.Hydraulic, Unit, "hydraulic", [new("Fe", "25", "50")], "18/16/14"), Mara, Ct)
        );
        await Ok<RecordWork, RecordedWork>(fleet, x =>
            x.Run(new(Unit, ["engine-oil", "hydraulic-oil"], "354", null, null, OfferedHours: "354"), Fleet.Tam, Ct)
        );

        // Sent, answered, corrected, signed with all that a signature can do.
        var bad = await Take(fleet);
        await Send(fleet, bad.Id);
        await Round(fleet);
        fleet.Line.Answer = Answer(1, (bad.Bottle, "150"), ("XYZ 9", "20"));
        await Round(fleet, atOnce: true);
        await Results(fleet, bad.Id, (Measurand.Fe, 160), (Measurand.Si, 40));
        await Sign(
            fleet,
            bad.Id,
            new()
            {
                Assessment = Assessment.Act,
                Defect = DefectGrade.NextService,
                DefectWords = "Iron",
                DueNow = ["engine-oil"],
            }
        );

        // An interval that was earned, one sample that was taken back, one on the bench, and a bottle that waits.
        foreach (var hours in new[] { 450.0, 500, 550 })
        {
            var steady = await TakeAt(fleet, Hydraulic, hours);
            await Results(fleet, steady.Id, (Measurand.Fe, 5));
            await Sign(fleet, steady.Id, new() { Assessment = Assessment.Normal, SameFluid = true });
        }

        var broken = await TakeAt(fleet, Engine, 600);
        await Ok<TakeSample, SampleRow>(fleet, x => x.Void(broken.Id, "dropped", Fleet.Tam, Ct));
        await Take(fleet, hours: "600");
        await Ok<Bottles, IReadOnlyList<string>>(fleet, x => x.Prepare([new(Unit, Hydraulic)], Fleet.Tam, Ct));
        await Ok<CoolantTests, CoolantTestRow>(fleet, x => x.Keep(
                Unit,
                new()
                {
                    Share = "42",
                    Inhibitor = Inhibitor.Low,
                    Note = "Strip",
                },
                Fleet.Tam,
                Ct
            ));
        return fleet;
    }

    [Fact]
    public async Task All_that_is_known_of_samples_comes_back_byte_for_byte()
    {
        var file = await Kept.Value;
        await using var fleet = await Fleet.Empty();
        var outcome = await Import(fleet, file);
        Assert.True(outcome.Done, string.Join(", ", outcome.Refusals.SelectMany(x => x.Args.Prepend(x.Code))));
        Assert.Equal(file, await Export(fleet));

        // Nothing of it may be missing from the file in the first place.
        async Task<int> Count<T>(Func<Data.NippersDb, IQueryable<T>> rows) => await fleet.Ask(db => rows(db).CountAsync(Ct));
        Assert.Equal(
            (6, 5, 1),
            (await Count(x => x.Samples.WithVoided()), await Count(x => x.Reports), await Count(x => x.UnmatchedResults))
        );
        Assert.Equal(
            (2, 2, 1),
            (
                await Count(x => x.OilLimits.Where(y => y.MachineId != null)),
                await Count(x => x.WorkRequests),
                await Count(x => x.DrainChanges)
            )
        );
        Assert.Equal(
            (1, 1),
            (await Count(x => x.CoolantTests.Where(y => y.Batch != null)), await Count(x => x.Bottles.Where(y => y.SampleId == null)))
        );
    }

    [Fact]
    public async Task What_came_in_by_a_file_goes_on_where_it_stood()
    {
        await using var fleet = await Fleet.Empty();
        Assert.True((await Import(fleet, await Kept.Value)).Done);
        fleet.Clock.Advance(TimeSpan.FromDays(90));
        Assert.Equal(2500, (await Stand(fleet, "hydraulic-oil")).Point.IntervalHours);
        Assert.Equal(Core.Service.DueBasis.Called, (await Stand(fleet, "engine-oil")).Point.Basis);
        var signed = await fleet.Ask(db => db.Samples.SingleAsync(x => x.SignedAs == Assessment.Act, Ct));
        Assert.Equal(160, (await Page(fleet, signed.Id)).Case!.Sample.Results[Measurand.Fe]);

        // The bench's sample goes to the laboratory, which answers by its place.
        var bench = await fleet.Ask(db => db.Samples.SingleAsync(x => x.State == SampleState.Taken, Ct));
        Assert.Equal(1, (await Lab(fleet)).Cursor);
        await Results(fleet, bench.Id, (Measurand.Fe, 20));
        Assert.NotNull((await Row(fleet, bench.Id)).Advised);
    }

    public static TheoryData<string, string, string> Broken() =>
        new()
        {
            { "\"case\":{\"kind\":\"engine\"", "\"case\":{\"kind\":\"soup\"", "samples" },
            { "\"advised\":\"act\"", "\"advised\":\"lovely\"", "samples" },
            { "\"lab\":\"Sannet\"", "\"lab\":\"Nobody\"", "samples" },
            { "\"consignment\":1", "\"consignment\":7", "samples" },
            { "\"state\":\"judged\"", "\"state\":\"lost\"", "samples" },
            { "\"taken\":\"2026", "\"taken\":\"20-26", "samples" },
            { "\"figures\":{", "\"figures\":{\"Fe\":[1],", "samples" },
            { "\"code\":\"", "\"code\":\"0", "bottles" },
            { "\"target\":\"18/16/14\"", "\"target\":\"18-16\"", "oilLimits" },
            { "\"measurand\":\"Fe\",\"watch\":25", "\"measurand\":\"Fe\",\"watch\":-25", "oilLimits" },
            { "\"reason\":\"earned\"", "\"reason\":\"liked\"", "drainChanges" },
            { "\"sample\":", "\"sample\":9", "drainChanges" },
            { "\"reason\":\"resample\"", "\"reason\":\"whim\"", "calls" },
            { "\"inhibitor\":\"low\"", "\"inhibitor\":\"lowish\"", "coolantTests" },
            { "\"unit\":\"WL-01\"", "\"unit\":\"WL-99\"", "coolantTests" },
        };

    [Theory]
    [MemberData(nameof(Broken))]
    public async Task A_file_with_a_record_that_cannot_be_is_refused_whole_and_says_where(string old, string fresh, string section)
    {
        var text = await Kept.Value;
        var start = text.IndexOf($"\"{section}\":[", StringComparison.Ordinal);
        var at = text.IndexOf(old, start, StringComparison.Ordinal);
        Assert.True(start >= 0 && at > start, section);
        await using var fleet = await Fleet.Empty();
        await fleet.Ask(async db =>
        {
            await db.Sites.ExecuteDeleteAsync(Ct);
            db.Programs.RemoveRange(db.Programs);
            return await db.SaveChangesAsync(Ct);
        });
        var before = await fleet.Fingerprint();

        var outcome = await Import(fleet, text[..at] + fresh + text[(at + old.Length)..]);

        var refusal = Assert.Single(outcome.Refusals);
        Assert.StartsWith("fleet", refusal.Code, StringComparison.Ordinal);
        Assert.Contains(section, string.Join(' ', refusal.Args), StringComparison.Ordinal);
        Assert.Equal(before, await fleet.Fingerprint());
    }
}
