using CsCheck;
using Nippers.Core.Defects;
using Nippers.Core.Walk;

namespace Nippers.Core.Tests;

/// <summary>What fault codes say in public, and which of them stop a machine.</summary>
public sealed class CodeMeaningTests
{
    private static readonly int[] Stopping = [100, 110, 111, 116, 117, 118];

    private static readonly WalkCheck Codes = new()
    {
        Code = "codes",
        Name = "codes",
        Station = "cab",
        Kind = CheckKind.Code,
        Grade = DefectGrade.Watch,
    };

    [Theory]
    [InlineData("100/1", null, "Engine oil pressure: far below its limit")]
    [InlineData("97/31", null, "Water in fuel: condition is there")]
    [InlineData("5432/4", null, "Fault code 5432/4: voltage too low")]
    [InlineData("5432/22", null, "Fault code 5432/22")]
    [InlineData("E361(2)", null, "Fault code E361(2)")]
    [InlineData("E361(2)", "air heater relay", "air heater relay")]
    [InlineData("100/1", "gauge lies", "gauge lies")]
    public void A_code_says_its_parameter_and_how_it_fails_or_what_its_people_say(string code, string? own, string words) =>
        Assert.Equal(words, CodeMeanings.Words(FaultCode.Parse(code)!.Value, own));

    [Theory]
    [InlineData("97/1", null, CodeStop.None)]
    [InlineData("100/4", "air heater relay", CodeStop.Public)]
    [InlineData("1762/1", null, CodeStop.Listed)]
    [InlineData("1762/1", "steering pressure", CodeStop.Listed)]
    [InlineData("E361(2)", null, CodeStop.None)]
    [InlineData("E361(2)", "steering pressure", CodeStop.Own)]
    [InlineData("E361(2)", "presión de dirección", CodeStop.Own)]
    [InlineData("E361(2)", "air heater relay", CodeStop.None)]
    public void What_a_planner_names_or_people_say_stops_too_and_it_is_known_which(string code, string? own, CodeStop stop)
    {
        var read = FaultCode.Parse(code)!.Value;
        var listed = new HashSet<int> { 1762 };
        Assert.Equal((stop, stop != CodeStop.None), (CodeMeanings.StopOf(read, listed, own), CodeMeanings.Stops(read, listed, own)));
    }

    [Fact]
    public void Each_number_stands_once_and_has_words() =>
        Assert.Equal(CodeMeanings.All.Length, CodeMeanings.All.Where(x => x.Words.Length > 0).Select(x => x.Spn).Distinct().Count());

    /// <summary>Whatever the mode and whatever is known of it: these stop, and no other does by its number.</summary>
    [Fact]
    public void A_code_that_stops_stops_in_each_mode_and_is_never_known() =>
        Gen.Select(
                Gen.OneOf(Gen.OneOf(Stopping.Select(Gen.Const).ToArray()), Gen.Int[0, FaultCode.LargestSpn]),
                Gen.Int[0, FaultCode.LargestFmi],
                Gen.Bool
            )
            .Sample(
                (spn, fmi, known) =>
                {
                    var code = new FaultCode(spn, fmi);
                    var around = new CheckContext { KnownCodes = known ? new HashSet<FaultCode> { code } : [] };
                    var judged = CheckJudge.Judge(Codes, new CodesAnswer([code]), around);
                    Assert.Equal(Stopping.Contains(spn), CodeMeanings.Stops(code));
                    Assert.Equal(
                        Stopping.Contains(spn) ? DefectGrade.Stop
                            : known ? null
                            : DefectGrade.Watch,
                        judged.Grade
                    );
                }
            );

    [Fact]
    public void One_code_that_stops_is_enough_beside_known_ones()
    {
        var around = new CheckContext { KnownCodes = new HashSet<FaultCode> { new(97, 1) } };
        Assert.Equal(DefectGrade.Stop, CheckJudge.Judge(Codes, new CodesAnswer([new(97, 1), new(118, 18)]), around).Grade);
        var own = new CheckContext { Meanings = new Dictionary<string, string> { ["E12"] = "brake accumulator" } };
        Assert.Equal(DefectGrade.Stop, CheckJudge.Judge(Codes, new CodesAnswer([FaultCode.Parse("E12")!.Value]), own).Grade);
    }
}
