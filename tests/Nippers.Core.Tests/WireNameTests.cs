using System.Text.Json;
using System.Text.Json.Serialization;
using Nippers.Core.Defects;
using Nippers.Core.Oil;
using Nippers.Core.Service;

namespace Nippers.Core.Tests;

/// <summary>Files keep the words they began with, whatever screens and code say today.</summary>
public sealed class WireNameTests
{
    private static readonly JsonSerializerOptions Json = new() { Converters = { new JsonStringEnumConverter(JsonNamingPolicy.CamelCase) } };

    [Fact]
    public void Words_that_were_written_before_are_the_words_of_today()
    {
        Assert.Equal(["finished", "clear", "coming", "due", "overdue"], Enum.GetValues<DueStatus>().Select(WireName.Of));
        Assert.Equal(["grid", "floating"], Enum.GetValues<IntervalBasis>().Select(WireName.Of));
        Assert.Equal(["mayRun", "mayRunUntil", "doesNotRun", "notChecked"], Enum.GetValues<RunStatus>().Select(WireName.Of));
        Assert.Equal(["steady", "watch", "act", "stop"], Enum.GetValues<Assessment>().Select(WireName.Of));
        Assert.Equal(["watch", "nextService", "limit", "stop"], Enum.GetValues<DefectGrade>().Select(WireName.Of));
    }

    public static TheoryData<Type> Enums() =>
        [
            .. typeof(WireName)
                .Assembly.GetTypes()
                .Where(x => x is { IsEnum: true, IsPublic: true } && x.GetCustomAttributes(typeof(FlagsAttribute), false).Length == 0),
        ];

    [Theory]
    [MemberData(nameof(Enums))]
    public void Every_word_is_read_back_in_any_case_and_is_the_serialisers_own(Type type) =>
        typeof(WireNameTests)
            .GetMethod(nameof(ReadBack), System.Reflection.BindingFlags.Static | System.Reflection.BindingFlags.NonPublic)!
            .MakeGenericMethod(type)
            .Invoke(null, null);

    private static void ReadBack<T>()
        where T : struct, Enum
    {
        foreach (var value in Enum.GetValues<T>())
        {
            var word = WireName.Of(value);
            Assert.Equal(value, WireName.Parse<T>(word));
            Assert.Equal(value, WireName.Parse<T>(word.ToUpperInvariant()));
            Assert.Equal($"\"{word}\"", JsonSerializer.Serialize(value, Json));
        }

        Assert.Equal(
            Enum.GetValues<T>().Length,
            Enum.GetValues<T>().Select(WireName.Of).Distinct(StringComparer.OrdinalIgnoreCase).Count()
        );
    }

    [Theory]
    [InlineData(null)]
    [InlineData("")]
    [InlineData("1")]
    [InlineData("overdue,due")]
    [InlineData("notDue")] // the name in code is no word of a file
    public void What_is_no_word_is_none(string? word) => Assert.Null(WireName.Parse<DueStatus>(word));
}
