using System.Globalization;
using Nippers.App.Languages;
using Nippers.Views.Text;
using Nippers.Web.Pages.Weeks;

namespace Nippers.Web.Tests;

/// <summary>What is said of a job that has no day.</summary>
public sealed class WeekWordsTests
{
    [Theory]
    [InlineData("2026-12-03", "2026-12-06", "It fits when somebody who may do it is there between Thu 3 Dec and Sun 6 Dec.")]
    [InlineData("2026-12-06", "2026-12-06", "It fits when somebody who may do it is there on Sun 6 Dec.")]
    public void A_single_day_is_no_span(string from, string to, string said)
    {
        var language = AllLanguages.Current;
        try
        {
            AllLanguages.Use(AllLanguages.Find("en")!);
            Assert.Equal(
                said,
                WeekWords.There(
                    DateOnly.Parse(from, CultureInfo.InvariantCulture),
                    DateOnly.Parse(to, CultureInfo.InvariantCulture),
                    new Words()
                )
            );
        }
        finally
        {
            AllLanguages.Use(language);
        }
    }
}
