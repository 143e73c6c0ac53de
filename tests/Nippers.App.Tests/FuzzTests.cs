using System.Diagnostics;
using System.Text;
using System.Text.Json.Nodes;
using CsCheck;
using Nippers.App.Exchange;
using Nippers.App.Oil;
using Nippers.Formats.Evaluate;
using Nippers.Tests;
using Nippers.Weeks;

namespace Nippers.App.Tests;

/// <summary>
/// Real files with changes in them, for some seconds each; <c>./nippers fuzz</c> gives them as long as one likes. Nothing throws,
/// nothing takes long, what is refused leaves nothing, and what is taken is written and taken again as the same.
/// </summary>
public sealed class FuzzTests
{
    // The aim is 2 s; a machine that does other things besides may need longer.
    private static readonly TimeSpan Longest = TimeSpan.FromSeconds(20);

    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    private static string Fixture(string name) => File.ReadAllText(Path.Combine(AppContext.BaseDirectory, "Fixtures", name));

    private static async Task<byte[]> Export(Fleet fleet)
    {
        using var file = new MemoryStream();
        await fleet.Do<ExportFleet>(x => x.Run(file, null, Ct));
        return file.ToArray();
    }

    private static Task<Outcome<ImportedFleet>> Import(Fleet fleet, byte[] file) =>
        fleet.Do<ImportFleet, Outcome<ImportedFleet>>(x => x.Run(new MemoryStream(file), Fleet.Tam, null, Ct));

    /// <summary>One machine with some of each of its records: small, so that many changes are tried.</summary>
    private static string Small(string whole)
    {
        var file = JsonNode.Parse(whole)!.AsObject();
        var unit = (string)file["machines"]!.AsArray()[0]!["unit"]!;
        foreach (var (_, section) in file.ToList())
        {
            if (section is not JsonArray list)
                continue;
            foreach (var other in list.Where(x => x?["unit"] is { } of && (string)of! != unit).ToList())
                list.Remove(other);
            while (list.Count > 12)
                list.RemoveAt(list.Count - 1);
        }

        return file.ToJsonString();
    }

    [Fact]
    public async Task A_fleet_file_with_changes_is_refused_whole_or_is_the_same_when_it_comes_again()
    {
        byte[] now;
        await using (var old = await Fleet.Empty())
        {
            Assert.True((await Import(old, Encoding.UTF8.GetBytes(Fixture("fleet-version-1.json")))).Done);
            now = await Export(old);
        }

        var whole = Small(Encoding.UTF8.GetString(now));
        var (taken, tried) = (0, 0);
        await Mutations.Edits.SampleAsync(
            async edits =>
            {
                var text = Mutations.Json(whole, edits);
                await using var fleet = await Fleet.Empty();
                var before = await fleet.Fingerprint();
                var watch = Stopwatch.StartNew();
                var outcome = await Import(fleet, Encoding.UTF8.GetBytes(text));
                Assert.True(watch.Elapsed < Longest, $"{watch.Elapsed}");
                tried++;
                if (!outcome.Done)
                {
                    Assert.Equal(before, await fleet.Fingerprint());
                    return;
                }

                taken++;
                var first = await Export(fleet);
                await using var second = await Fleet.Empty();
                var again = await Import(second, first);
                Assert.True(again.Done, again.Refusals.Count > 0 ? again.Refusals[0].ToString() : "");
                Assert.Equal(Encoding.UTF8.GetString(first), Encoding.UTF8.GetString(await Export(second)));
            },
            time: Mutations.Seconds,
            threads: 1
        );
        Assert.True(tried > 0 && taken < tried, $"{taken} of {tried} taken");
    }

    [Fact]
    public void Cases_with_changes_are_worked_out_or_refused_with_words()
    {
        var cases = Evaluator.RuleNames.ToDictionary(x => x, First);
        Gen.Select(Gen.Int[0, cases.Count - 1], Mutations.Edits)
            .Sample(
                drawn =>
                {
                    var (rule, text) = cases.ElementAt(drawn.Item1);
                    var watch = Stopwatch.StartNew();
                    var changed = Mutations.Json(text, drawn.Item2);
                    EvaluateOutcome outcome;
                    try
                    {
                        outcome = Evaluator.Run(rule, changed, new WeekSolver());
                    }
                    catch (Exception fault)
                    {
                        throw new InvalidOperationException($"{rule}: {fault}");
                    }

                    Assert.True(outcome.Fault is { Length: > 0 } || outcome.Json is { Length: > 0 });
                    Assert.True(watch.Elapsed < Longest, $"{rule}: {watch.Elapsed}");
                },
                time: Mutations.Seconds,
                threads: 1
            );

        static string First(string rule)
        {
            var all = JsonNode.Parse(Fixture(Path.Combine("rules", rule + ".json")))!;
            var list = all as JsonArray ?? all["cases"]!.AsArray();
            return new JsonArray([.. list.Take(2).Select(x => (x!["in"] ?? x["given"] ?? x).DeepClone())]).ToJsonString();
        }
    }

    [Fact]
    public async Task What_a_laboratory_answers_is_taken_set_aside_or_refused()
    {
        await using var fleet = await OilRig.Ready();
        var sample = await OilRig.Take(fleet);
        await OilRig.Send(fleet, sample.Id);
        var answer =
            """{"results":[{"bottle":"@","labNumber":"T1","unit":"WL-01","compartment":"engine","machineHours":356,"oilHours":240,"figures":{"Fe":"36","Si":"<1","water":"0.03","v100":14.1,"glycol":"0"},"iso":"18/16/13","comment":"No remarks."},{"bottle":"ZZZ-99","figures":{"Fe":3}}],"cursor":41}""".Replace(
                "@",
                sample.Bottle,
                StringComparison.Ordinal
            );
        await Mutations.Edits.SampleAsync(
            async edits =>
            {
                fleet.Line.Answer = edits[0].Place % 2 == 0 ? Mutations.Json(answer, edits) : Mutations.Text(answer, edits);
                var watch = Stopwatch.StartNew();
                await OilRig.Round(fleet, atOnce: true);
                Assert.True(watch.Elapsed < Longest, $"{watch.Elapsed}");
                Assert.InRange((await OilRig.Lab(fleet)).Cursor, 0, 2_000_000_000_000);
            },
            time: Mutations.Seconds,
            threads: 1
        );
    }

    [Fact]
    public async Task Tables_of_readings_and_results_with_changes_are_previewed_and_brought_in_or_refused()
    {
        await using var fleet = await OilRig.Ready();
        var sample = await OilRig.Take(fleet);
        await OilRig.Send(fleet, sample.Id);
        var lab = await OilRig.Lab(fleet);
        const string readings =
            "unit,at,hours\r\nWL-01,2026-03-16T07:00:00Z,356.1\r\nWL-01,2026-03-16 08:00,356.2\r\nWL-01,2026-03-16,356\r\n";
        var results = $"Sample ID;Unit No;Iron mg/kg;Water ppm;Visc 40C cSt;4um per 100 ml;Odd\n{sample.Bottle};WL-01;12;150;14,1;200;x\n";
        await Mutations.Edits.SampleAsync(
            async edits =>
            {
                var watch = Stopwatch.StartNew();
                var draft = await fleet.Do<ReadingsImport, string>(x =>
                    x.SaveDraft("a.csv", Mutations.Text(readings, edits), Fleet.Tam, Ct)
                );
                await fleet.Do<ReadingsImport, Outcome<AppliedImport>>(x => x.Apply(draft, Fleet.Tam, Ct));
                var file = await fleet.Do<LabImport, string>(x => x.SaveDraft("b.csv", Mutations.Text(results, edits), Fleet.Tam, Ct));
                await fleet.Do<LabImport, Outcome<LabImportPreview>>(x => x.Preview(lab.Id, file, null, Fleet.Tam, Ct));
                Assert.True(watch.Elapsed < Longest, $"{watch.Elapsed}");
            },
            time: Mutations.Seconds,
            threads: 1
        );
    }

    [Fact]
    public void Bytes_that_are_no_picture_or_a_broken_one_are_refused()
    {
        var whole = Convert.FromBase64String(
            "iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg=="
        );
        Gen.Select(Gen.Int[0, whole.Length - 1], Gen.Byte, Gen.Byte.Array[0, 64])
            .Sample(
                drawn =>
                {
                    var bytes = (byte[])whole.Clone();
                    bytes[drawn.Item1] = drawn.Item2;
                    var outcome = Defects.Photos.Encode([.. bytes[..(bytes.Length - (drawn.Item1 / 8))], .. drawn.Item3]);
                    Assert.True(outcome.Done || outcome.Refusals.Count > 0);
                    if (outcome.Value is { } kept)
                        Assert.Same(kept.Whole, Defects.Photos.Take(kept.Whole, kept.Small).Value!.Whole);
                },
                time: Mutations.Seconds,
                threads: 1
            );
    }
}
