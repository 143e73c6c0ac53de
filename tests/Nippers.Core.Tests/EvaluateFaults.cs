using System.Text.Json.Nodes;
using Nippers.Formats.Evaluate;

namespace Nippers.Core.Tests;

public sealed class EvaluateFaults
{
    private const string Good =
        """{"name":"a","now":"2026-03-01T06:00:00Z","plannedHoursPerDay":5,"readings":[],"enter":{"at":"2026-03-01T06:00:00Z","hours":12.5}}""";

    [Theory]
    [InlineData("meter", "{", "not JSON")]
    [InlineData("meter", "{}", "array")]
    [InlineData("nothing", "[]", "no rule 'nothing'")]
    [InlineData("meter", "[3]", "case 0: an object is needed")]
    [InlineData("meter", """[{"name":"a"}]""", "case 0 (a): enter is missing")]
    [InlineData(
        "use",
        """[{"name":"u","asOf":"soon","plannedHoursPerDay":5,"readings":[{"at":"2026-03-01T06:00:00Z","hours":1}]}]""",
        "case 0 (u): asOf must be an instant"
    )]
    [InlineData(
        "use",
        """[{"name":"u","asOf":"2026-03-01T06:00:00Z","plannedHoursPerDay":25,"readings":[]}]""",
        "plannedHoursPerDay must lie between 0 and 24"
    )]
    [InlineData(
        "use",
        """[{"name":"u","asOf":"2026-03-01T06:00:00Z","plannedHoursPerDay":5,"readings":[{"at":"2026-03-01T06:00:00Z","hours":-1}]}]""",
        "readings[0]: hours must be hours from 0"
    )]
    [InlineData("due", """[{"name":"d","asOf":"2026-03-01T06:00:00Z","school":"sometimes"}]""", "school must be one of grid, floating")]
    [InlineData("fluids", """[{"kind":"brew"}]""", "case 0: kind must be one of fill, dipstick")]
    [InlineData(
        "fluids",
        """[{"kind":"fill","capacityWithFilter":5,"filterVolume":6}]""",
        "filterVolume must not be above capacityWithFilter"
    )]
    [InlineData("fluids", """[{"kind":"dipstick","reading":0.5,"target":1,"betweenMarks":0}]""", "betweenMarks must be above 0")]
    [InlineData("fluids", """[{"kind":"pails","drains":[3,"four"],"pail":20}]""", "drains must hold numbers")]
    [InlineData("fluids", """[{"kind":"pails","pail":20}]""", "drains is missing")]
    [InlineData("jobcard", """[{"name":"j","steps":[{"code":"a"}]}]""", "phase is missing")]
    [InlineData("jobcard", """[{"name":"j","steps":[{"code":"a","phase":13}]}]""", "phase must")]
    [InlineData("jobcard", """[{"name":"j","steps":[{"code":"a","phase":6,"after":["b"]}]}]""", "steps can't be put in order")]
    [InlineData("oil", """[{"name":"o","kind":"soup"}]""", "kind must be one of")]
    [InlineData("iso4406", """[{"name":"i","counts":[-1,2,3]}]""", "case 0 (i)")]
    public void A_broken_file_names_the_case_and_the_field(string rule, string json, string says)
    {
        var outcome = Evaluator.Run(rule, json);
        Assert.Null(outcome.Json);
        Assert.Contains(says, outcome.Fault, StringComparison.Ordinal);
    }

    [Fact]
    public void The_second_case_is_named_when_the_first_is_sound()
    {
        var outcome = Evaluator.Run("meter", $"""[{Good},{Good.Replace("12.5", "\"twelve\"", StringComparison.Ordinal)}]""");
        Assert.StartsWith("case 1 (a), enter: hours must be a number", outcome.Fault, StringComparison.Ordinal);
    }

    [Fact]
    public void A_job_card_is_put_in_order_with_its_minutes()
    {
        // The filters fit into the time that the oil runs: 5 + 40 for the drain, 20 for the filter within it, 10 to fill.
        const string card = """
            [{"name":"small","steps":[
              {"code":"fill","phase":8,"handsOnMinutes":10,"after":["drain"]},
              {"code":"filter","phase":7,"handsOnMinutes":20,"access":"left door","posture":"ground"},
              {"code":"drain","phase":6,"handsOnMinutes":5,"waitMinutes":40,"drainLitres":20,"vesselLitres":30,"vessel":"pan"}]}]
            """;
        var outcome = Evaluator.Run("jobcard", card);
        Assert.Null(outcome.Fault);
        var result = JsonNode.Parse(outcome.Json!)![0]!;
        Assert.Equal(["drain", "filter", "fill"], result["order"]!.AsArray().Select(x => (string)x!["code"]!));
        Assert.Equal((35.0, 55.0, 75.0), ((double)result["handsOn"]!, (double)result["elapsed"]!, (double)result["serial"]!));
        Assert.Equal(["0-45", "5-25", "45-55"], result["order"]!.AsArray().Select(x => $"{x!["start"]}-{x["end"]}"));
    }
}
