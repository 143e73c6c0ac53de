using System.Text.Json;
using Nippers.App.Walks;
using Nippers.Core.Walk;
using Nippers.Data.Walks;

namespace Nippers.Views.Phones;

/// <summary>An answer to a check, to be judged.</summary>
public sealed record JudgeCase(WalkCheck Check, string Answer, bool Explained, bool ToppedUpBefore, bool Slope, bool WetBrakes);

/// <summary>Judges many answers at once, so that two builds of the rules can be compared.</summary>
public static class PhoneJudge
{
    /// <summary>What each case comes to, as JSON.</summary>
    /// <param name="cases">Cases as JSON.</param>
    public static string All(string cases) =>
        JsonSerializer.Serialize(
            JsonSerializer
                .Deserialize<List<JudgeCase>>(cases, ListJson.Options)!
                .Select(x =>
                    CheckJudge.Judge(
                        x.Check,
                        PackedAnswers.ReadOne(x.Answer),
                        new()
                        {
                            Explained = x.Explained,
                            ToppedUpBefore = x.ToppedUpBefore,
                            Slope = x.Slope,
                            WetBrakes = x.WetBrakes,
                        }
                    )
                )
                .ToList(),
            ListJson.Options
        );
}
