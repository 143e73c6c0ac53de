using System.Text;
using System.Text.Json.Nodes;
using CsCheck;
using Microsoft.EntityFrameworkCore;
using Nippers.App.Exchange;
using Nippers.Demo;
using Nippers.Formats.Csv;
using Nippers.Formats.Evaluate;
using Nippers.Formats.Lab;
using Nippers.Weeks;

namespace Nippers.App.Tests;

/// <summary>
/// Files that were cut, garbled or written by something else: each is refused with words, none is half taken in, nothing throws.
/// </summary>
public sealed class BadFileTests
{
    private static readonly Lazy<Task<byte[]>> Demo = new(async () =>
    {
        using var file = new MemoryStream();
        await DemoFleet.Write(new(2026, 3, 16), file);
        return file.ToArray();
    });

    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    /// <summary>
    /// Text as files hold it, with what breaks readers: quotes, separators, line ends, signs, and letters of other scripts.
    /// </summary>
    private static readonly Gen<string> Garbled = Gen.OneOf(
        Gen.String[Gen.Char["\",;\n\r\t 0123456789.-+eEWL{}[]:abcxyz\u00e9\u0000\ufeff"], 0, 80],
        Gen.String[0, 40]
    );

    [Fact]
    public async Task A_fleet_file_cut_anywhere_is_refused_whole()
    {
        var whole = await Demo.Value;
        await using var fleet = await Fleet.Empty();
        var before = await fleet.Ask(db => db.Machines.CountAsync(Ct));
        await Gen.Int[0, whole.Length - 3]
            .SampleAsync(
                async at =>
                {
                    using var cut = new MemoryStream(whole, 0, at);
                    var outcome = await fleet.Do<ImportFleet, Outcome<ImportedFleet>>(x => x.Run(cut, Fleet.Tam, null, Ct));
                    Assert.False(outcome.Done);
                    Assert.Equal(before, await fleet.Ask(db => db.Machines.CountAsync(Ct)));
                },
                iter: 12,
                threads: 1
            );
    }

    [Fact]
    public async Task A_fleet_file_with_one_wrong_byte_is_refused_whole_or_taken_whole()
    {
        var whole = await File.ReadAllBytesAsync(Path.Combine(AppContext.BaseDirectory, "Fixtures", "fleet-version-1.json"), Ct);
        var refused = 0;
        await Gen.Select(Gen.Int[0, whole.Length - 1], Gen.Byte)
            .SampleAsync(
                async change =>
                {
                    await using var fleet = await Fleet.Empty();
                    var before = await fleet.Fingerprint();
                    var garbled = (byte[])whole.Clone();
                    garbled[change.Item1] = change.Item2;
                    var outcome = await fleet.Do<ImportFleet, Outcome<ImportedFleet>>(x =>
                        x.Run(new MemoryStream(garbled), Fleet.Tam, null, Ct)
                    );
                    if (outcome.Done)
                    {
                        // What was taken is a whole fleet: it can be written, and read again.
                        using var again = new MemoryStream();
                        await fleet.Do<ExportFleet>(x => x.Run(again, null, Ct));
                        await using var second = await Fleet.Empty();
                        var copied = await second.Do<ImportFleet, Outcome<ImportedFleet>>(x =>
                            x.Run(new MemoryStream(again.ToArray()), Fleet.Tam, null, Ct)
                        );
                        Assert.Equal((2, outcome.Value!.Readings), (copied.Value?.Machines, copied.Value?.Readings));
                    }
                    else
                    {
                        refused++;
                        Assert.Equal(before, await fleet.Fingerprint());
                    }
                },
                iter: 30,
                threads: 1
            );
        Assert.InRange(refused, 1, 30);
    }

    [Fact]
    public void No_text_makes_the_reader_of_readings_throw() =>
        Garbled.Sample(text =>
        {
            foreach (var file in new[] { ReadingsCsv.Read(text), ReadingsCsv.Read("unit,at,hours\r\n" + text) })
                Assert.True(file.Fault is not null || file.Rows.All(x => x.Line > 1));
        });

    [Fact]
    public async Task No_text_makes_the_preview_of_readings_throw_and_a_preview_keeps_nothing()
    {
        await using var fleet = await Fleet.WithLoader();
        var before = await fleet.Fingerprint();
        await Garbled.SampleAsync(
            async text =>
            {
                var preview = await fleet.Do<ReadingsImport, ImportPreview>(x => x.Preview("unit,at,hours\r\nWL-01," + text, Ct));
                Assert.All(preview.Rows, x => Assert.Equal(x.Action == ImportAction.Refuse, x.Refusal is not null));
            },
            iter: 60,
            threads: 1
        );
        Assert.Equal(before, await fleet.Fingerprint());
    }

    [Fact]
    public void No_text_makes_the_reader_of_a_labs_file_throw() =>
        Garbled.Sample(text =>
        {
            foreach (var file in new[] { LabCsv.Cut(text), LabCsv.Cut("bottle;Fe;Cu\r\n" + text) })
            {
                Assert.True(file.Fault is not null || file.Header.Count > 0);
                if (file.Fault is null)
                    Assert.All(LabCsv.Read(file, LabCsv.Guess(file.Header)), x => Assert.True(x.Line > 1));
            }
        });

    [Fact]
    public void No_text_makes_evaluate_throw() =>
        Gen.Select(Gen.Int[0, Evaluator.RuleNames.Count - 1].Select(x => Evaluator.RuleNames.ElementAt(x)), Garbled)
            .Sample(x =>
            {
                foreach (var text in new[] { x.Item2, $"[{x.Item2}]", $"[{{\"name\":\"a\",{x.Item2}}}]" })
                {
                    var outcome = Evaluator.Run(x.Item1, text, new WeekSolver());
                    Assert.True(outcome.Fault is { Length: > 0 } || outcome.Json is { Length: > 0 });
                }
            });

    [Fact]
    public async Task A_fleet_file_in_another_encoding_is_refused()
    {
        await using var fleet = await Fleet.Empty();
        foreach (
            var bytes in new[]
            {
                Encoding.Unicode.GetBytes("{\"format\":\"nippers-fleet\"}"),
                Encoding.UTF8.GetBytes("[]"),
                [0xFF, 0xFE, 0x00],
                Array.Empty<byte>(),
            }
        )
        {
            using var file = new MemoryStream(bytes);
            Assert.False((await fleet.Do<ImportFleet, Outcome<ImportedFleet>>(x => x.Run(file, Fleet.Tam, null, Ct))).Done);
        }
    }

    /// <summary>Every list of every record of a file, but for the pieces that are kept as they stand.</summary>
    private static IEnumerable<JsonArray> Lists(JsonNode? node) =>
        node switch
        {
            JsonArray list => [.. list.Count > 0 ? [list] : Array.Empty<JsonArray>(), .. list.SelectMany(Lists)],
            JsonObject of => of.Where(x => x.Key is not ("card" or "answer" or "answers" or "body")).SelectMany(x => Lists(x.Value)),
            _ => [],
        };

    [Fact]
    public async Task A_list_with_nothing_in_one_of_its_places_is_refused_wherever_it_stands()
    {
        var whole = await File.ReadAllTextAsync(Path.Combine(AppContext.BaseDirectory, "Fixtures", "fleet-version-1.json"), Ct);
        await using var fleet = await Fleet.Empty();
        var tried = new HashSet<string>(StringComparer.Ordinal);
        for (var at = 0; ; at++)
        {
            var file = JsonNode.Parse(whole)!;
            var list = Lists(file).ElementAtOrDefault(at);
            if (list is null)
                break;
            if (!tried.Add(System.Text.RegularExpressions.Regex.Replace(list.GetPath(), @"\d+", "")))
                continue;
            list[^1] = null;
            using var text = new MemoryStream(Encoding.UTF8.GetBytes(file.ToJsonString()));
            var outcome = await fleet.Do<ImportFleet, Outcome<ImportedFleet>>(x => x.Run(text, Fleet.Tam, null, Ct));
            Assert.True(!outcome.Done && outcome.Refusals[0].Code.StartsWith("fleet", StringComparison.Ordinal), list.GetPath());
        }

        Assert.True(tried.Count > 20, $"{tried.Count} kinds of lists");
    }
}
