using System.Text.Json;
using System.Text.Json.Serialization;
using Nippers.Core.Defects;
using Nippers.Core.Jobs;
using Nippers.Core.Walk;

namespace Nippers.Core.Tests;

/// <summary>One shape of an answer for all places: the kinds are known, named, and come back as they went.</summary>
public sealed class AnswerShapeTests
{
    private static readonly JsonSerializerOptions Options = new()
    {
        PropertyNamingPolicy = JsonNamingPolicy.CamelCase,
        DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingDefault,
        AllowOutOfOrderMetadataProperties = true,
        Converters = { new JsonStringEnumConverter(JsonNamingPolicy.CamelCase, allowIntegerValues: false) },
    };

    public static TheoryData<CheckAnswer, string> Checks() =>
        new()
        {
            { new SeenAnswer(false), """{"kind":"seen","ok":false}""" },
            {
                new SeenAnswer(true) { Note = "loud" },
                """{"kind":"seen","ok":true,"note":"loud"}"""
            },
            { new LevelAnswer(0, FluidLook.Clear), """{"kind":"level","level":0,"look":"clear"}""" },
            { new LevelAnswer(-0.2, FluidLook.Milky, 1.5), """{"kind":"level","level":-0.2,"look":"milky","added":1.5}""" },
            { new MeasureAnswer([30, 34.5]), """{"kind":"measure","figures":[30,34.5]}""" },
            { new PointsAnswer([PointState.Good, PointState.Seized]), """{"kind":"points","points":["good","seized"]}""" },
            { new DrainAnswer(DrainAmount.None), """{"kind":"drain","drained":"none"}""" },
            { new CodesAnswer([new(100, 1)]), """{"kind":"codes","codes":["100/1"]}""" },
            { new LeftOutAnswer("tide came"), """{"kind":"leftOut","why":"tide came"}""" },
        };

    [Theory]
    [MemberData(nameof(Checks))]
    public void An_answer_to_a_check_is_written_and_read(CheckAnswer answer, string json)
    {
        Assert.Equal(json, JsonSerializer.Serialize(answer, Options));
        var read = JsonSerializer.Deserialize<CheckAnswer>(json, Options)!;
        Assert.Equal(answer.GetType(), read.GetType());
        Assert.Equal(json, JsonSerializer.Serialize(read, Options));
    }

    [Fact]
    public void Every_kind_of_answer_to_a_check_is_in_the_table_above() =>
        Assert.Equal(KindsOf<CheckAnswer>(), Checks().Select(x => x.Data.Item1.GetType().Name).Distinct().Order());

    [Fact]
    public void Every_kind_of_answer_belongs_to_one_question_and_every_question_has_one()
    {
        var answers = Steps().Select(x => x.Data).ToList();

        Assert.Equal(KindsOf<StepAnswer>(), answers.Select(x => x.GetType().Name).Order());
        Assert.Equal(Enum.GetValues<InputKind>(), answers.Select(x => x.To(InputKindOf.Answer)).Order());
    }

    public static TheoryData<StepAnswer> Steps() =>
        [
            new TickAnswer(true),
            new LookAnswer(false, "guard bent", DefectGrade.Limit),
            new LevelStepAnswer(0.75, FluidLook.Dark, 1.4, "ran low"),
            new DrainedAnswer(24, FluidLook.Dark, "overfilled"),
            new MagnetAnswer(MetalFinding.FinePaste),
            new PlugAnswer(3, true, true),
            new FilterAnswer
            {
                Part = "TO7-110",
                Metal = MetalFinding.Clean,
                SealOff = true,
            },
            new FillAnswer(23.1, "spilt"),
            new PressureAnswer(4),
            new CountAnswer(2, "front pin takes none"),
            new BeforeAfterAnswer(40, 35),
            new VoltsAnswer([12.7, 12.6]),
            new CoolantAnswer(50),
            new WaterAnswer(DrainAmount.Little),
            new BottleAnswer("B-1"),
            new TouchedAnswer(["funnel"]),
            new WasteAnswer("Tideway"),
            new MeasuredAnswer([24.5, null], "one could not be reached"),
        ];

    [Theory]
    [MemberData(nameof(Steps))]
    public void An_answer_to_a_step_comes_back_as_it_went(StepAnswer answer)
    {
        var json = JsonSerializer.Serialize(answer with { Name = "Gil Rennard", Note = "calm" }, Options);

        Assert.StartsWith("{\"kind\":\"", json, StringComparison.Ordinal);
        var read = JsonSerializer.Deserialize<StepAnswer>(json, Options)!;
        Assert.Equal((answer.GetType(), "Gil Rennard", "calm"), (read.GetType(), read.Name, read.Note));
        Assert.Equal(json, JsonSerializer.Serialize(read, Options));
    }

    [Theory]
    [MemberData(nameof(Steps))]
    public void An_answer_to_another_question_is_refused_and_not_read_as_empty(StepAnswer answer)
    {
        foreach (var input in Enum.GetValues<InputKind>())
        {
            var step = new JobStep
            {
                Code = "x",
                Words = "x",
                Input = input,
                Points = 3,
            };
            if (answer.To(InputKindOf.Answer) == input)
                StepJudge.Judge(step, answer);
            else
                Assert.Throws<ArgumentException>(() => StepJudge.Judge(step, answer));
        }
    }

    [Theory]
    [InlineData("\"100/1\"", 100, 1)]
    [InlineData("{\"spn\":100,\"fmi\":1}", 100, 1)]
    [InlineData("{\"spn\":100}", 100, 0)]
    public void A_fault_code_is_read_as_words_and_as_two_figures(string json, int spn, int fmi) =>
        Assert.Equal(new FaultCode(spn, fmi), JsonSerializer.Deserialize<FaultCode>(json, Options));

    [Theory]
    [InlineData("\"oops\"")]
    [InlineData("7")]
    [InlineData("[1]")]
    [InlineData("{\"spn\":\"100\"}")]
    [InlineData("{\"spn\":99999999}")]
    [InlineData("{\"spn\":100,\"fmi\":-1}")]
    public void What_is_no_fault_code_is_refused(string json) =>
        Assert.Throws<JsonException>(() => JsonSerializer.Deserialize<FaultCode>(json, Options));

    private static IEnumerable<string> KindsOf<T>() =>
        typeof(T).Assembly.GetTypes().Where(x => x.IsSubclassOf(typeof(T))).Select(x => x.Name).Order();
}
