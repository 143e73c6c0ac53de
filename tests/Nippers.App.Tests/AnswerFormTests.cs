using System.Text.Json;
using Nippers.App.Exchange;
using Nippers.App.Visits;
using Nippers.App.Walks;
using Nippers.Core.Jobs;
using Nippers.Core.Walk;

namespace Nippers.App.Tests;

/// <summary>A form and its answer say the same, for every kind; so do answers of older files.</summary>
public sealed class AnswerFormTests
{
    private static WalkCheck Check(CheckKind kind) =>
        new()
        {
            Code = "c",
            Name = "The check",
            Station = "s",
            Kind = kind,
            Figures = kind == CheckKind.Measure ? 2 : 1,
            Points = kind is CheckKind.Count or CheckKind.Grease ? ["a", "b"] : [],
        };

    public static TheoryData<CheckKind, CheckAnswer> Checks() =>
        new()
        {
            { CheckKind.Look, new SeenAnswer(true) },
            {
                CheckKind.Look,
                new SeenAnswer(false) { Note = "left one" }
            },
            {
                CheckKind.Test,
                new SeenAnswer(true) { Ticked = true }
            },
            {
                CheckKind.Level,
                new LevelAnswer(0.75, FluidLook.Dark, 1.5) { WrongPosture = true }
            },
            { CheckKind.Level, new LevelAnswer(-0.2, FluidLook.Clear) },
            { CheckKind.Measure, new MeasureAnswer([30, 34.5]) },
            { CheckKind.Count, new PointsAnswer([PointState.Good, PointState.Bad]) },
            { CheckKind.Grease, new PointsAnswer([PointState.Seized, PointState.Open]) },
            { CheckKind.Drain, new DrainAnswer(DrainAmount.Lot) },
            { CheckKind.Code, new CodesAnswer([new(100, 1), new(110, 16)]) },
            { CheckKind.Code, new SeenAnswer(true) },
            { CheckKind.Look, new LeftOutAnswer("no light") },
            { CheckKind.Level, new LeftOutAnswer("no light") },
        };

    [Theory]
    [MemberData(nameof(Checks))]
    public void A_check_that_is_filled_in_from_its_answer_reads_as_that_answer(CheckKind kind, CheckAnswer answer)
    {
        var refusals = new List<Refusal>();

        var read = CheckForm.Read(Check(kind), CheckForm.Write(Check(kind), answer), refusals);

        Assert.Empty(refusals);
        Assert.Equal(PackedAnswers.WriteOne(answer), PackedAnswers.WriteOne(read!));
        Assert.Empty(AnswerRules.Of(Check(kind), read!));
    }

    [Fact]
    public void Every_kind_of_check_has_its_form() =>
        Assert.Equal(Enum.GetValues<CheckKind>(), Checks().Select(x => x.Data.Item1).Distinct().Order());

    [Theory]
    [InlineData(CheckKind.Look)]
    [InlineData(CheckKind.Test)]
    [InlineData(CheckKind.Level)]
    [InlineData(CheckKind.Measure)]
    [InlineData(CheckKind.Count)]
    [InlineData(CheckKind.Grease)]
    [InlineData(CheckKind.Drain)]
    [InlineData(CheckKind.Code)]
    public void An_empty_form_is_no_answer(CheckKind kind)
    {
        var refusals = new List<Refusal>();

        var read = CheckForm.Read(Check(kind), TypedFields.None, refusals);
        if (read is not null)
            refusals.AddRange(AnswerRules.Of(Check(kind), read));

        Assert.NotEmpty(refusals);
        Assert.All(refusals, x => Assert.EndsWith("-c", x.Field, StringComparison.Ordinal));
    }

    [Fact]
    public void Answers_that_no_form_sends_are_held_to_the_same_rules()
    {
        string Code(CheckKind kind, CheckAnswer answer) => string.Join(',', AnswerRules.Of(Check(kind), answer).Select(x => x.Code));

        Assert.Equal("answerUnfit", Code(CheckKind.Look, new LevelAnswer(0.5, FluidLook.Clear)));
        Assert.Equal("answerUnfit", Code(CheckKind.Level, new SeenAnswer(true)));
        Assert.Equal("answerUnfit", Code(CheckKind.Measure, new MeasureAnswer([])));
        Assert.Equal("answerUnfit", Code(CheckKind.Count, new PointsAnswer(default)));
        Assert.Equal("between", Code(CheckKind.Level, new LevelAnswer(double.NaN, FluidLook.Clear)));
        Assert.Equal("between,between", Code(CheckKind.Level, new LevelAnswer(9, FluidLook.Clear, -1)));
        Assert.Equal("lookNeeded", Code(CheckKind.Level, new LevelAnswer(1, (FluidLook)9)));
        Assert.Equal("needed", Code(CheckKind.Measure, new MeasureAnswer([3])));
        Assert.Equal("countOver", Code(CheckKind.Measure, new MeasureAnswer([3, 3, 3])));
        Assert.Equal("between", Code(CheckKind.Measure, new MeasureAnswer([3, double.PositiveInfinity])));
        Assert.Equal("countOver", Code(CheckKind.Count, new PointsAnswer([PointState.Good, PointState.Good, PointState.Good])));
        Assert.Equal("pointsNeeded", Code(CheckKind.Count, new PointsAnswer([PointState.Good])));
        Assert.Equal("drainNeeded", Code(CheckKind.Drain, new DrainAnswer((DrainAmount)9)));
        Assert.Equal("codesTooMany", Code(CheckKind.Code, new CodesAnswer([.. Enumerable.Range(1, 21).Select(x => new FaultCode(x, 1))])));
        Assert.Equal("tooLong", Code(CheckKind.Look, new LeftOutAnswer(new string('x', 301))));
        Assert.Equal("tooLong", Code(CheckKind.Look, new SeenAnswer(true) { Note = new string('x', 301) }));
    }

    private static JobStep Step(InputKind input) =>
        new()
        {
            Code = "s",
            Words = "The step",
            Input = input,
            Points = 3,
            Figures = [new("edge-height", "Cutting edge", "mm")],
        };

    public static TheoryData<InputKind, string, string> OldSteps() =>
        new()
        {
            { InputKind.Tick, """{"done":true,"note":"calm"}""", """{"kind":"tick","done":true,"note":"calm"}""" },
            { InputKind.Look, """{"done":true}""", """{"kind":"look","ok":true}""" },
            { InputKind.Look, """{"fault":"bent"}""", """{"kind":"look","fault":"bent"}""" },
            {
                InputKind.Level,
                """{"done":true,"level":0.75,"litres":1.4,"look":"dark"}""",
                """{"kind":"level","level":0.75,"look":"dark","litres":1.4}"""
            },
            {
                InputKind.Drained,
                """{"done":true,"litres":24,"look":"dark","reason":"over"}""",
                """{"kind":"drained","litres":24,"look":"dark","reason":"over"}"""
            },
            { InputKind.Magnet, """{"done":true,"metal":"finePaste"}""", """{"kind":"magnet","metal":"finePaste"}""" },
            {
                InputKind.Plug,
                """{"done":true,"count":3,"sealNew":true,"turned":true}""",
                """{"kind":"plug","count":3,"sealNew":true,"torqued":true}"""
            },
            {
                InputKind.Filter,
                """{"done":true,"part":"TO7-110","sealNew":true,"written":true,"size":{"lengthMm":168}}""",
                """{"kind":"filter","part":"TO7-110","size":{"lengthMm":168,"thread":""},"sealOiled":true,"written":true}"""
            },
            { InputKind.Fill, """{"done":true,"litres":23.1}""", """{"kind":"fill","litres":23.1}""" },
            { InputKind.Pressure, """{"done":true,"figures":[4]}""", """{"kind":"pressure","seconds":4}""" },
            { InputKind.Count, """{"done":true,"count":2,"fault":"one dry"}""", """{"kind":"count","count":2,"fault":"one dry"}""" },
            { InputKind.BeforeAfter, """{"done":true,"figures":[38,35]}""", """{"kind":"beforeAfter","found":38,"left":35}""" },
            { InputKind.Volts, """{"done":true,"figures":[12.7,12.6]}""", """{"kind":"volts","volts":[12.7,12.6]}""" },
            { InputKind.Coolant, """{"done":true,"figures":[50]}""", """{"kind":"coolant","share":50}""" },
            { InputKind.Water, """{"done":true,"water":"little"}""", """{"kind":"water","water":"little"}""" },
            { InputKind.Bottle, """{"done":true,"mark":"B-1"}""", """{"kind":"bottle","bottle":"B-1"}""" },
            { InputKind.Touched, """{"done":true,"home":["funnel"]}""", """{"kind":"touched","home":["funnel"]}""" },
            { InputKind.Measured, """{"done":true,"figures":[24.5]}""", """{"kind":"measured","figures":[24.5]}""" },
            { InputKind.Waste, """{"done":true,"mark":"Tideway","name":"Gil"}""", """{"kind":"waste","place":"Tideway","name":"Gil"}""" },
        };

    [Theory]
    [MemberData(nameof(OldSteps))]
    public void An_answer_of_an_older_file_keeps_all_that_it_said(InputKind input, string old, string today)
    {
        Assert.Equal(today, OldAnswers.Step(old, input));
        var refusals = new List<Refusal>();
        var read = StepForm.Read(Step(input), StepForm.Write(Step(input), JobContext.ReadAnswer(today)), refusals);
        Assert.Empty(refusals);
        Assert.Empty(StepRules.Of(Step(input), read));
        Assert.Equal(today, JobContext.WriteAnswer(read));
    }

    [Theory]
    [InlineData(InputKind.Magnet, "metal", "Clean Flakes", """{"kind":"magnet","metal":"flakes"}""")]
    [InlineData(InputKind.Magnet, "metal", "Chunks Clean", """{"kind":"magnet","metal":"chunks"}""")]
    [InlineData(InputKind.Magnet, "metal", "FinePaste", """{"kind":"magnet","metal":"finePaste"}""")]
    [InlineData(InputKind.Water, "water", "None Lot", """{"kind":"water","water":"lot"}""")]
    public void Of_two_answers_the_graver_one_counts(InputKind input, string field, string given, string kept) =>
        Assert.Equal(kept, JobContext.WriteAnswer(StepForm.Read(Step(input), TypedFields.None.WithAll(field, given.Split(' ')), [])));

    [Theory]
    [InlineData(null, 1.4, """{"kind":"level","level":1,"litres":1.4}""")]
    [InlineData(null, null, """{"kind":"level","level":1}""")]
    [InlineData("115", 1.4, """{"kind":"level","level":1.15}""")]
    [InlineData("75", null, """{"kind":"level","level":0.75}""")]
    public void What_was_tapped_on_the_stick_goes_before_the_button_of_the_mark(string? level, double? expected, string kept) =>
        Assert.Equal(
            kept,
            JobContext.WriteAnswer(
                StepForm.Read(
                    Step(InputKind.Level) with
                    {
                        Litres = expected,
                    },
                    TypedFields.None.With("atMark", true).With("level", level),
                    []
                )
            )
        );

    [Fact]
    public void Every_kind_of_step_has_its_form() =>
        Assert.Equal(Enum.GetValues<InputKind>(), OldSteps().Select(x => x.Data.Item1).Distinct().Order());

    [Theory]
    [InlineData("""{"sound":true,"note":"twice"}""", """{"kind":"seen","ok":true,"note":"twice"}""")]
    [InlineData(
        """{"level":0.5,"added":1,"look":"dark","ticked":true}""",
        """{"kind":"level","level":0.5,"look":"dark","added":1,"ticked":true}"""
    )]
    [InlineData("""{"figures":[3.6],"wrongPosture":true}""", """{"kind":"measure","figures":[3.6],"wrongPosture":true}""")]
    [InlineData("""{"points":["good","later"]}""", """{"kind":"points","points":["good","later"]}""")]
    [InlineData("""{"drained":"none"}""", """{"kind":"drain","drained":"none"}""")]
    [InlineData("""{"codes":[{"spn":100,"fmi":1}]}""", """{"kind":"codes","codes":["100/1"]}""")]
    [InlineData("""{"leftOut":"tide"}""", """{"kind":"leftOut","why":"tide"}""")]
    public void An_answer_of_an_older_walk_keeps_all_that_it_said(string old, string today)
    {
        Assert.Equal(today, OldAnswers.Check(old));
        string Packed(string answer) => "{\"s\":\"0-3\",\"a\":{\"x\":" + answer + "}}";
        Assert.Equal(Packed(today), OldAnswers.Packed(Packed(old)));
    }

    [Theory]
    [InlineData("{}")]
    [InlineData("null")]
    [InlineData("[]")]
    [InlineData("""{"note":"nothing else"}""")]
    [InlineData("""{"level":0.5}""")]
    public void What_says_nothing_is_no_answer(string old) => Assert.Throws<JsonException>(() => OldAnswers.Check(old));

    [Fact]
    public void Slips_of_the_pen_are_refused_beside_their_field()
    {
        string Of(StepAnswer answer) =>
            string.Join(',', StepRules.Of(Step(answer.To(InputKindOf.Answer)), answer).Select(x => $"{x.Field}:{x.Code}"));

        Assert.Equal("level:between,litres:between", Of(new LevelStepAnswer(3, Litres: -1)));
        Assert.Equal("litres:between", Of(new FillAnswer(10_001)));
        Assert.Equal("count:wholeBetween", Of(new PlugAnswer(-1, true, true)));
        Assert.Equal("count:wholeBetween", Of(new CountAnswer(501)));
        Assert.Equal("figure1:needed", Of(new BeforeAfterAnswer(null, 35)));
        Assert.Equal("figure2:between", Of(new BeforeAfterAnswer(40, -1)));
        Assert.Equal("figure2:between", Of(new VoltsAnswer([12.7, double.NaN])));
        Assert.Equal("figure1:between", Of(new CoolantAnswer(101)));
        Assert.Equal("lengthMm:between", Of(new FilterAnswer { Size = new(0.2, null, null, "") }));
        Assert.Equal("mark:tooLong", Of(new WasteAnswer(new string('x', 501))));
        Assert.Equal("name:tooLong", Of(new TickAnswer(true) { Name = new string('x', 501) }));
        Assert.Equal("answerUnfit", Assert.Single(StepRules.Of(Step(InputKind.Fill), new TickAnswer(true))).Code);
    }
}
