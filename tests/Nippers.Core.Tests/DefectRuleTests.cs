using CsCheck;
using Nippers.Core.Defects;
using Nippers.Core.Hours;

namespace Nippers.Core.Tests;

public sealed class DefectRuleTests
{
    private static readonly DateOnly Today = new(2026, 3, 16);

    private static MeterHours H(double hours) => MeterHours.Of(hours);

    [Theory]
    [InlineData(DefectGrade.Limit, 1050.0, null, 1050.0, false, false)]
    [InlineData(DefectGrade.Limit, 1050.0, null, 1050.1, false, true)]
    [InlineData(DefectGrade.Limit, null, 0, 1000.0, false, false)]
    [InlineData(DefectGrade.Limit, null, -1, 1000.0, false, true)]
    [InlineData(DefectGrade.Limit, 1050.0, -1, 1000.0, false, true)]
    [InlineData(DefectGrade.Limit, 1050.0, 5, 1000.0, true, false)]
    [InlineData(DefectGrade.NextService, null, null, 1000.0, false, false)]
    [InlineData(DefectGrade.NextService, null, null, 1000.0, true, true)]
    [InlineData(DefectGrade.NextService, 1050.0, 14, 1000.0, true, false)]
    [InlineData(DefectGrade.Watch, null, null, 9000.0, true, false)]
    [InlineData(DefectGrade.Stop, 10.0, -9, 9000.0, true, false)]
    public void A_clock_passes_after_its_hours_or_its_last_day_whichever_comes_first(
        DefectGrade grade,
        double? limit,
        int? days,
        double now,
        bool visited,
        bool passed
    ) =>
        Assert.Equal(
            passed,
            new DefectClock(grade, limit is { } h ? H(h) : null, days is { } d ? Today.AddDays(d) : null).Passed(H(now), Today, visited)
        );

    [Theory]
    [InlineData(DefectGrade.Watch, DefectGrade.NextService, true)]
    [InlineData(DefectGrade.NextService, DefectGrade.Limit, true)]
    [InlineData(DefectGrade.Limit, DefectGrade.Stop, false)]
    [InlineData(DefectGrade.Stop, DefectGrade.Stop, false)]
    public void A_passed_limit_raises_by_one_and_gives_fifty_hours_or_fourteen_days(DefectGrade from, DefectGrade to, bool limited)
    {
        var raised = new DefectClock(from, H(900), Today).Raised(H(1000), Today);
        Assert.Equal(limited ? new DefectClock(to, H(1050), Today.AddDays(14)) : new DefectClock(to), raised);
    }

    [Fact]
    public void Raised_again_and_again_everything_ends_as_a_stop() =>
        Gen.Enum<DefectGrade>()
            .Sample(grade =>
            {
                var clock = new DefectClock(grade);
                for (var i = 0; i < 3; i++)
                {
                    var next = clock.Raised(H(1000), Today);
                    Assert.True(next.Grade >= clock.Grade);
                    clock = next;
                }

                Assert.Equal(DefectGrade.Stop, clock.Grade);
            });

    [Theory]
    [InlineData(SafetyPart.None, DefectGrade.Watch, DefectGrade.Watch, true)]
    [InlineData(SafetyPart.Brakes, DefectGrade.Watch, DefectGrade.Stop, false)]
    [InlineData(SafetyPart.Steering, DefectGrade.Limit, DefectGrade.Stop, false)]
    [InlineData(SafetyPart.Structure, DefectGrade.Limit, DefectGrade.Stop, false)]
    [InlineData(SafetyPart.RollOverFrame, DefectGrade.Limit, DefectGrade.Stop, false)]
    [InlineData(SafetyPart.SeatBelt, DefectGrade.Limit, DefectGrade.Stop, false)]
    [InlineData(SafetyPart.StopButton, DefectGrade.Limit, DefectGrade.Stop, false)]
    [InlineData(SafetyPart.WheelNuts, DefectGrade.Limit, DefectGrade.Stop, false)]
    [InlineData(SafetyPart.Coupler, DefectGrade.Limit, DefectGrade.Stop, false)]
    [InlineData(SafetyPart.ControlLock, DefectGrade.Limit, DefectGrade.Stop, false)]
    [InlineData(SafetyPart.Alarm, DefectGrade.Watch, DefectGrade.Stop, false)]
    [InlineData(SafetyPart.Tyre, DefectGrade.Watch, DefectGrade.Stop, false)]
    [InlineData(SafetyPart.Notice, DefectGrade.Watch, DefectGrade.Stop, false)]
    [InlineData(SafetyPart.FuelNearHeat, DefectGrade.Limit, DefectGrade.Stop, true)]
    [InlineData(SafetyPart.HoseNearPerson, DefectGrade.Limit, DefectGrade.Stop, true)]
    public void What_is_safety_critical_stops_and_some_of_it_is_never_graded_down(
        SafetyPart part,
        DefectGrade listed,
        DefectGrade grade,
        bool mayGoDown
    ) => Assert.Equal((grade, mayGoDown), (DefectRules.GradeOf(listed, part), DefectRules.MayGoDown(part)));

    [Theory]
    [InlineData("Tam Ollery", "Tam Ollery", false)]
    [InlineData("Tam Ollery", " tam ollery ", false)]
    [InlineData("Tam Ollery", "Wenna Pask", true)]
    public void Who_repaired_a_stop_never_returns_it(string repaired, string returns, bool may) =>
        Assert.Equal(may, DefectRules.MayReturn(repaired, returns));

    [Theory]
    [InlineData(500.0, 200, true)]
    [InlineData(500.1, 90, true)]
    [InlineData(500.1, 91, false)]
    public void The_same_place_within_five_hundred_hours_or_ninety_days_is_a_repeat(double hoursLater, int daysLater, bool repeat) =>
        Assert.Equal(repeat, DefectRules.IsRepeat(H(1000), Today, H(1000 + hoursLater), Today.AddDays(daysLater)));

    [Fact]
    public void May_it_run_answers_by_the_gravest_and_the_soonest()
    {
        Assert.Equal(new(RunStatus.NoStopFound), RunAnswer.Of([]));
        Assert.Equal(new(RunStatus.NoStopFound), RunAnswer.Of([new(DefectGrade.Watch), new(DefectGrade.NextService, H(10), Today)]));
        Assert.Equal(
            new(RunStatus.RunUntil, H(1020), Today.AddDays(3)),
            RunAnswer.Of([new(DefectGrade.Limit, H(1020)), new(DefectGrade.Limit, H(1040), Today.AddDays(3))])
        );
        Assert.Equal(new(RunStatus.OutOfService, StopStands: true), RunAnswer.Of([new(DefectGrade.Limit, H(1020)), new(DefectGrade.Stop)]));
    }

    [Fact]
    public void An_open_card_stops_a_machine_and_what_nobody_checked_keeps_it_standing()
    {
        Assert.Equal(new(RunStatus.OutOfService, CardOpen: true), RunAnswer.Of([], cardOpen: true));
        Assert.Equal(
            new(RunStatus.OutOfService, CardOpen: true, CardBy: "Mara", CardOff: "drain plug", StopStands: true),
            RunAnswer.Of([new(DefectGrade.Stop)], cardOpen: true, cardBy: "Mara", cardOff: "drain plug", @unchecked: 2)
        );
        Assert.Null(RunAnswer.Of([new(DefectGrade.Stop)], cardBy: "Mara", cardOff: "drain plug").CardOff);
        Assert.Equal(new(RunStatus.NotChecked), RunAnswer.Of([], @unchecked: 1));
        Assert.Equal(new(RunStatus.NotChecked, H(1020)), RunAnswer.Of([new(DefectGrade.Limit, H(1020))], @unchecked: 1));
    }

    [Theory]
    [InlineData(DefectGrade.Stop, SafetyPart.None, false, true)]
    [InlineData(DefectGrade.Stop, SafetyPart.None, true, false)]
    [InlineData(DefectGrade.Stop, SafetyPart.HoseNearPerson, false, true)]
    [InlineData(DefectGrade.Stop, SafetyPart.Brakes, true, true)]
    [InlineData(DefectGrade.Limit, SafetyPart.Brakes, true, true)]
    [InlineData(DefectGrade.Limit, SafetyPart.None, false, false)]
    public void Voiding_takes_two_where_clearing_does(DefectGrade grade, SafetyPart safety, bool own, bool two) =>
        Assert.Equal(two, DefectRules.VoidTakesTwo(grade, safety, own));

    [Theory]
    [InlineData("service brake does not hold, pedal to the floor", MachinePart.Brakes, DefectGrade.Stop)]
    [InlineData("pedal to the floor", MachinePart.Brakes, DefectGrade.Stop)]
    [InlineData("Steering hunts left", MachinePart.Steering, DefectGrade.Stop)]
    [InlineData("boom foot cracked at the weld", MachinePart.Structure, DefectGrade.Stop)]
    [InlineData("seat belt frayed", MachinePart.FrameAndBelt, DefectGrade.Stop)]
    [InlineData("travel alarm silent", MachinePart.StopsAndAlarms, DefectGrade.Stop)]
    [InlineData("Mirror gone, left", MachinePart.StopsAndAlarms, DefectGrade.Stop)]
    [InlineData("coupler has play", MachinePart.Coupler, DefectGrade.Stop)]
    [InlineData("front left tyre: cord showing", MachinePart.TyresAndWheels, DefectGrade.Stop)]
    [InlineData("two wheel nuts turned", MachinePart.TyresAndWheels, DefectGrade.Stop)]
    [InlineData("hydraulic oil milky", MachinePart.Engine, DefectGrade.Stop)]
    [InlineData("left guard loose", MachinePart.Body, DefectGrade.Watch)]
    [InlineData("fan belt squeals", MachinePart.Engine, DefectGrade.Watch)]
    [InlineData("flat battery", MachinePart.Electrics, DefectGrade.Watch)]
    [InlineData("brake light out", MachinePart.Electrics, DefectGrade.Watch)]
    [InlineData("rear window cracked glass", MachinePart.Body, DefectGrade.Watch)]
    [InlineData("el freno de servicio no aguanta, pedal al piso", MachinePart.Brakes, DefectGrade.Stop)]
    [InlineData("Dirección con vaivén", MachinePart.Steering, DefectGrade.Stop)]
    [InlineData("direccion dura", MachinePart.Steering, DefectGrade.Stop)]
    [InlineData("pie de la pluma agrietado en la soldadura", MachinePart.Structure, DefectGrade.Stop)]
    [InlineData("CINTURÓN deshilachado", MachinePart.FrameAndBelt, DefectGrade.Stop)]
    [InlineData("alarma de reversa muda", MachinePart.StopsAndAlarms, DefectGrade.Stop)]
    [InlineData("falta el espejo izquierdo", MachinePart.StopsAndAlarms, DefectGrade.Stop)]
    [InlineData("el acople tiene juego", MachinePart.Coupler, DefectGrade.Stop)]
    [InlineData("llanta delantera con lonas a la vista", MachinePart.TyresAndWheels, DefectGrade.Stop)]
    [InlineData("dos tuercas de rueda giradas", MachinePart.TyresAndWheels, DefectGrade.Stop)]
    [InlineData("aceite hidráulico lechoso", MachinePart.Engine, DefectGrade.Stop)]
    [InlineData("huele a diésel en la cabina", MachinePart.Engine, DefectGrade.Stop)]
    [InlineData("guarda izquierda floja", MachinePart.Body, DefectGrade.Watch)]
    [InlineData("chilla la correa del ventilador", MachinePart.Engine, DefectGrade.Watch)]
    [InlineData("luz de freno apagada", MachinePart.Electrics, DefectGrade.Watch)]
    [InlineData("parabrisas rajado", MachinePart.Body, DefectGrade.Watch)]
    [InlineData("fuga en acople de manguera", MachinePart.Hoses, DefectGrade.Watch)]
    [InlineData("falta una hoja del registro", null, null)]
    [InlineData("record sheet missing", null, null)]
    [InlineData("", null, null)]
    [InlineData(null, null, null)]
    public void Words_propose_the_part_and_have_their_floor(string? words, MachinePart? part, DefectGrade? least)
    {
        var said = MachineParts.Said(words);
        Assert.Equal(part, said.IsEmpty ? null : said[0].Part);
        Assert.Equal(least, said.IsEmpty ? null : said[0].Least);
    }

    [Fact]
    public void Of_the_tapped_part_and_the_words_the_higher_floor_counts()
    {
        Assert.Equal(DefectGrade.Stop, MachineParts.Floor(MachinePart.Body, "the brake does not hold").Least);
        Assert.Equal(SafetyPart.Brakes, MachineParts.Floor(MachinePart.Body, "the brake does not hold").Safety);
        Assert.Equal(DefectGrade.Stop, MachineParts.Floor(MachinePart.Brakes, "something is odd").Least);
        Assert.Equal(DefectGrade.Watch, MachineParts.Floor(MachinePart.Engine, "something is odd").Least);
    }

    [Fact]
    public void No_words_lower_the_floor_of_a_part() =>
        Gen.Select(Gen.Enum<MachinePart>(), Gen.String[0, 80])
            .Sample((part, words) => MachineParts.Floor(part, words).Least >= MachineParts.Floor(part, "").Least);

    [Fact]
    public void A_safety_critical_thing_is_on_a_part_that_is_safety_critical_too_or_on_wheels_hoses_or_engine() =>
        Assert.All(Enum.GetValues<SafetyPart>().Where(x => x is not (SafetyPart.None or SafetyPart.Notice)), x =>
            Assert.True(
                MachineParts.IsSafetyCritical(MachineParts.Of(x))
                    || MachineParts.Of(x) is MachinePart.TyresAndWheels or MachinePart.Hoses or MachinePart.Engine
            )
        );

    // March 2026 begins on a Sunday; six working days a week, 7 to 17; 6 h a calendar day are 7 h a working day. Now is
    // Monday the 16th at noon: twelve whole working days and half of one.
    [Theory]
    [InlineData("", 0.0)]
    [InlineData("2026-03-02T07:00/2026-03-02T17:00", 1.0)]
    [InlineData("2026-03-02T00:00/2026-03-03T00:00", 1.0)]
    [InlineData("2026-03-01T07:00/2026-03-01T17:00", 0.0)]
    [InlineData("2026-03-02T07:00/2026-03-02T12:00", 0.5)]
    [InlineData("2026-03-02T07:00/2026-03-02T12:00 2026-03-02T09:00/2026-03-02T17:00", 1.0)]
    [InlineData("2026-03-16T07:00/", 0.5)]
    [InlineData("2026-02-01T00:00/", 12.5)]
    public void Availability_counts_stopped_scheduled_hours_once(string spans, double stoppedDays)
    {
        static DateTime At(string text) => DateTime.Parse(text, System.Globalization.CultureInfo.InvariantCulture);
        var stopped = spans
            .Split(' ', StringSplitOptions.RemoveEmptyEntries)
            .Select(x => x.Split('/'))
            .Select(x => (At(x[0]), x[1].Length > 0 ? At(x[1]) : (DateTime?)null))
            .ToList();
        var month = Availability.Of(new(2026, 3, 9), stopped, 6, WorkingTime.Usual, new(2026, 1, 1), new DateTime(2026, 3, 16, 12, 0, 0));
        Assert.Equal(7 * 12.5, month.ScheduledHours, 1e-6);
        Assert.Equal(7 * stoppedDays, month.StoppedHours, 1e-6);
        Assert.Equal(1 - stoppedDays / 12.5, month.Share!.Value, 1e-6);
    }

    [Fact]
    public void A_month_before_the_machine_came_has_no_availability() =>
        Assert.Null(Availability.Of(new(2026, 2, 1), [], 6, WorkingTime.Usual, new(2026, 3, 1), new DateTime(2026, 3, 16)).Share);
}
