using Nippers.Formats.Evaluate;

namespace Nippers.Core.Tests;

public sealed class EvaluateFaults
{
    private const string Good =
        """{"name":"a","now":"2026-03-01T06:00:00Z","plannedHoursPerDay":5,"readings":[],"enter":{"at":"2026-03-01T06:00:00Z","hours":12.5}}""";

    private const string Minutes = """
        "start":{"heat":"cold","posture":"p"},"minutes":{"isolate":2,"release":1,"start":2,"stop":1,"clear":1,"warmUp":10,"coolDown":60,
        "warmLasts":30,"move":2,"empty":5}
        """;

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
    [InlineData("balance", """[{"name":"b","capacityWithFilter":0}]""", "capacityWithFilter must be above 0")]
    [InlineData(
        "balance",
        """[{"name":"b","capacityWithFilter":5,"filterLitres":6}]""",
        "filterLitres must not be above capacityWithFilter"
    )]
    [InlineData("jobcard", """[{"name":"j","steps":[]}]""", "start is missing")]
    [InlineData("jobcard", """[{"name":"j","start":{"heat":"tepid","posture":"p"},"minutes":{}}]""", "heat must be one of cold, warm")]
    [InlineData("jobcard", """[{"name":"j","start":{"heat":"cold","posture":"p"},"minutes":{"isolate":2}}]""", "release is missing")]
    [InlineData("jobcard", """[{"name":"j",MINUTES,"steps":[{"code":"a","state":"asleep"}]}]""", "state must be one of off")]
    [InlineData("jobcard", """[{"name":"j",MINUTES,"steps":[{"code":"a","wait":1.5}]}]""", "wait must be a whole number")]
    [InlineData("jobcard", """[{"name":"j",MINUTES,"steps":[{"code":"a","after":["b"]}]}]""", "steps can't be put in order")]
    [InlineData("jobcard", """[{"name":"j",MINUTES,"steps":[{"code":"a"},{"code":"a"}]}]""", "two steps are named 'a'")]
    [InlineData("jobcard", """[{"name":"j",MINUTES,"steps":[{"code":"a","access":"pan"}]}]""", "there is no access 'pan'")]
    [InlineData("oil", """[{"name":"o","kind":"soup"}]""", "kind must be one of")]
    [InlineData("iso4406", """[{"name":"i","counts":[-1,2,3]}]""", "case 0 (i)")]
    public void A_broken_file_names_the_case_and_the_field(string rule, string json, string says)
    {
        var outcome = Evaluator.Run(rule, json.Replace("MINUTES", Minutes, StringComparison.Ordinal));
        Assert.Null(outcome.Json);
        Assert.Contains(says, outcome.Fault, StringComparison.Ordinal);
    }

    [Fact]
    public void The_second_case_is_named_when_the_first_is_sound()
    {
        var outcome = Evaluator.Run("meter", $"""[{Good},{Good.Replace("12.5", "\"twelve\"", StringComparison.Ordinal)}]""");
        Assert.StartsWith("case 1 (a), enter: hours must be a number", outcome.Fault, StringComparison.Ordinal);
    }
}
