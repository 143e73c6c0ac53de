using System.Collections.Immutable;
using System.Globalization;
using Nippers.App.Units;
using Nippers.Core.Defects;
using Nippers.Core.Jobs;
using Nippers.Core.Walk;

namespace Nippers.App.Visits;

/// <summary>
/// The form of a step: reads an answer out of what was typed, and fills the form from an answer. What is missing is judged
/// with the answer, not here: it is kept, and the step is not done with it.
/// </summary>
public static class StepForm
{
    /// <summary>Reads the answer; figures that are none are refused beside their field.</summary>
    /// <param name="step">The step.</param>
    /// <param name="typed">What was typed.</param>
    /// <param name="refusals">Takes what is wrong.</param>
    public static StepAnswer Read(JobStep step, TypedFields typed, List<Refusal> refusals)
    {
        var read = new Reader(typed, refusals);
        StepAnswer answer = step.Input switch
        {
            InputKind.Tick => new TickAnswer(typed.Has("done")),
            InputKind.Look => new LookAnswer(typed.Has("done") && read.Words("fault") is null, read.Words("fault"), read.Grade()),
            InputKind.Level => new LevelStepAnswer(
                read.Level(),
                typed.Pick<FluidLook>("look"),
                read.Litres("litres") ?? read.Expected(step),
                read.Words("reason")
            ),
            InputKind.Drained => new DrainedAnswer(read.Litres("litres"), typed.Pick<FluidLook>("look"), read.Words("reason")),
            InputKind.Magnet => new MagnetAnswer(read.Gravest<MetalFinding>("metal")),
            InputKind.Plug when typed.All("plugs").OfType<string>().Distinct(StringComparer.Ordinal).Count() is > 0 and var home =>
                new PlugAnswer(home, SealNew: true, Torqued: true),
            InputKind.Plug => new PlugAnswer(read.Whole("count"), typed.Has("sealNew"), typed.Has("turned")),
            InputKind.Filter => Filter(typed, read),
            InputKind.Fill => new FillAnswer(read.Litres("litres"), read.Words("reason"), typed.Has("recordWrong")),
            InputKind.Pressure => new PressureAnswer(read.First()),
            InputKind.Count => new CountAnswer(typed.Has("all") ? step.Points : read.Whole("count"), read.Words("fault"), read.Grade()),
            InputKind.BeforeAfter => new BeforeAfterAnswer(read.First(), read.Second()),
            InputKind.Volts => new VoltsAnswer(read.Figures()),
            InputKind.Coolant => new CoolantAnswer(read.First()),
            InputKind.Water => new WaterAnswer(read.Gravest<DrainAmount>("water")),
            InputKind.Bottle => new BottleAnswer(read.Code("mark")),
            InputKind.Touched => new TouchedAnswer([.. read.Home()]),
            InputKind.Waste => new WasteAnswer(read.Words("mark")),
            InputKind.Measured => new MeasuredAnswer(read.Measured(step), read.Words("fault"), read.Grade()),
        };
        return answer with
        {
            Name = read.Words("name"),
            Note = read.Words("note"),
            Ticked = step.Parts.IsEmpty ? null : [.. typed.All("ticked").OfType<string>().Where(x => step.Parts.Contains(x))],
        };
    }

    /// <summary>The form filled in from an answer, or with the part that belongs here.</summary>
    public static TypedFields Write(JobStep step, StepAnswer? answer) =>
        answer is null
            ? TypedFields.None.With("part", step.Part.Length > 0 ? step.Part : null)
            : answer.To(new Filler(step)).With("name", answer.Name).With("note", answer.Note).WithAll("ticked", answer.Ticked ?? []);

    private static FilterAnswer Filter(TypedFields typed, Reader read) =>
        new()
        {
            Part = read.Code("part"),
            Make = read.Words("make"),
            Size = new(read.Millimetres("lengthMm"), read.Millimetres("outerMm"), read.Millimetres("sealMm"), read.Words("thread") ?? ""),
            Metal = typed.Pick<MetalFinding>("metal"),
            SealOff = typed.Has("sealOff") || typed.Has("seals"),
            SeatWiped = typed.Has("seatWiped") || typed.Has("seals"),
            SealOiled = typed.Has("sealNew") || typed.Has("fitted"),
            Turned = typed.Has("turned") || typed.Has("fitted"),
            Written = typed.Has("written") || typed.Has("fitted"),
            Prefilled = typed.Has("prefilled"),
            Reason = read.Words("reason"),
        };

    private sealed class Reader(TypedFields typed, List<Refusal> refusals)
    {
        /// <summary>Litres of any size, from the person's unit.</summary>
        public double? Litres(string field) => Typed.Volume(typed[field], field, refusals)?.Value;

        public double? Millimetres(string field) => Typed.Length(typed[field], field, refusals);

        /// <summary>What is home: ticked one by one, or the list that stood on the screen with one tick under it.</summary>
        public IEnumerable<string> Home() =>
            typed.All("home").Concat(typed.Has("allHome") ? typed.All("listed") : []).OfType<string>().Distinct(StringComparer.Ordinal);

        /// <summary>Where the oil stands; what was tapped on the stick goes before the button that says that it is at its mark.</summary>
        public double? Level() => Figure("level") / 100 ?? (typed.Has("atMark") ? 1 : null);

        /// <summary>What was to be added, where the button says that it stands at its mark with it.</summary>
        public double? Expected(JobStep step) =>
            typed.Has("atMark") && typed["level"] is null && step.Litres is > 0 and var litres ? Math.Round(litres, 1) : null;

        /// <summary>The choice made; of two the graver one: a thumb that slips to *clean* takes back no flakes.</summary>
        public T? Gravest<T>(string field)
            where T : struct, Enum => typed.Picks<T>(field) is { Count: > 0 } picks ? picks.Max() : null;

        public double? Figure(string field) => Typed.Optional(typed[field], field, refusals);

        public int? Whole(string field) => Typed.Whole(typed[field], field, 0, StepRules.MostPoints, refusals);

        public string? Words(string field) => (typed[field] ?? "").Trim() is { Length: > 0 } words ? words : null;

        public string? Code(string field) => Words(field)?.ToUpperInvariant();

        public DefectGrade? Grade() => typed.Pick<DefectGrade>("faultGrade");

        public double? First() => At(0);

        public double? Second() => At(1);

        /// <summary>All figures up to the last that is filled in; one that is missing before it is asked for.</summary>
        public ImmutableArray<double> Figures()
        {
            var given = typed.All("figures").ToList().FindLastIndex(x => !string.IsNullOrWhiteSpace(x)) + 1;
            return
            [
                .. Enumerable.Range(0, given).Select(i => Typed.Number(typed.All("figures")[i], StepRules.FigureField(i), refusals) ?? 0),
            ];
        }

        /// <summary>One figure for each that is asked; a pressure may carry its unit.</summary>
        public ImmutableArray<double?> Measured(JobStep step) =>
            [
                .. step.Figures.Select(
                    (x, i) =>
                        typed.All("figures") is var all && i < all.Count && !string.IsNullOrWhiteSpace(all[i])
                            ? TypedUnits.Read(all[i], x.Unit, StepRules.FigureField(i), refusals).Figure
                            : null
                ),
            ];

        private double? At(int i) =>
            Typed.Optional(typed.All("figures") is var all && i < all.Count ? all[i] : null, StepRules.FigureField(i), refusals);
    }

    private sealed class Filler(JobStep step) : IStepAnswerCases<TypedFields>
    {
        public TypedFields Tick(TickAnswer answer) => TypedFields.None.With("done", answer.Done);

        public TypedFields Look(LookAnswer answer) =>
            TypedFields.None.With("done", answer.Ok).With("fault", answer.Fault).With("faultGrade", answer.Grade);

        public TypedFields Level(LevelStepAnswer answer) =>
            TypedFields
                .None.With("level", answer.Level * 100)
                .With("look", answer.Look)
                .With("litres", Litres(answer.Litres))
                .With("reason", answer.Reason);

        public TypedFields Drained(DrainedAnswer answer) =>
            TypedFields.None.With("litres", Litres(answer.Litres)).With("look", answer.Look).With("reason", answer.Reason);

        public TypedFields Magnet(MagnetAnswer answer) => TypedFields.None.With("metal", answer.Metal);

        public TypedFields Plug(PlugAnswer answer) =>
            TypedFields
                .None.With("count", answer.Count)
                .With("sealNew", answer.SealNew)
                .With("turned", answer.Torqued)
                .WithAll(
                    "plugs",
                    answer is { SealNew: true, Torqued: true, Count: { } home and > 0 and <= StepRules.MostPoints }
                        ? Enumerable.Range(1, home).Select(x => x.ToString(CultureInfo.InvariantCulture))
                        : []
                );

        public TypedFields Filter(FilterAnswer answer) =>
            TypedFields
                .None.With("part", answer.Part)
                .With("make", answer.Make)
                .With("lengthMm", Quantities.TypedLength(answer.Size.LengthMm))
                .With("outerMm", Quantities.TypedLength(answer.Size.OuterMm))
                .With("sealMm", Quantities.TypedLength(answer.Size.SealMm))
                .With("thread", answer.Size.Thread)
                .With("metal", answer.Metal)
                .With("sealOff", answer.SealOff)
                .With("seatWiped", answer.SeatWiped)
                .With("seals", answer is { SealOff: true, SeatWiped: true })
                .With("sealNew", answer.SealOiled)
                .With("turned", answer.Turned)
                .With("written", answer.Written)
                .With("fitted", answer is { SealOiled: true, Turned: true, Written: true })
                .With("prefilled", answer.Prefilled)
                .With("reason", answer.Reason);

        public TypedFields Fill(FillAnswer answer) =>
            TypedFields.None.With("litres", Litres(answer.Litres)).With("reason", answer.Reason).With("recordWrong", answer.RecordWrong);

        public TypedFields Pressure(PressureAnswer answer) => Figures(answer.Seconds);

        public TypedFields Count(CountAnswer answer) =>
            TypedFields.None.With("count", answer.Count).With("fault", answer.Fault).With("faultGrade", answer.Grade);

        public TypedFields BeforeAfter(BeforeAfterAnswer answer) => Figures(answer.Found, answer.Left);

        public TypedFields Volts(VoltsAnswer answer) => Figures([.. answer.Volts.Select(x => (double?)x)]);

        public TypedFields Coolant(CoolantAnswer answer) => Figures(answer.Share);

        public TypedFields Water(WaterAnswer answer) => TypedFields.None.With("water", answer.Water);

        public TypedFields Bottle(BottleAnswer answer) => TypedFields.None.With("mark", answer.Bottle);

        public TypedFields Touched(TouchedAnswer answer) => TypedFields.None.WithAll("home", answer.Home);

        public TypedFields Waste(WasteAnswer answer) => TypedFields.None.With("mark", answer.Place);

        public TypedFields Measured(MeasuredAnswer answer) =>
            TypedFields
                .None.WithAll(
                    "figures",
                    (answer.Figures.IsDefault ? [] : answer.Figures).Select(
                        (x, i) => i < step.Figures.Length ? Measures.Field(x, step.Figures[i].Unit) : null
                    )
                )
                .With("fault", answer.Fault)
                .With("faultGrade", answer.Grade);

        private static string? Litres(double? kept) => Quantities.Typed(kept is { } litres ? new(litres) : null);

        private static TypedFields Figures(params double?[] figures) =>
            TypedFields.None.WithAll("figures", figures.Select(x => TypedFields.None.With("x", x)["x"]));
    }
}
