using System.Globalization;
using Microsoft.Extensions.DependencyInjection;
using Nippers.Views.Text;

namespace Nippers.Web.Tests;

/// <summary>The words of the screens, for tests that draw without a page.</summary>
internal static class EnglishWords
{
    /// <summary>Makes them, and lets this test read and write as the screens do.</summary>
    public static Words Make()
    {
        CultureInfo.CurrentCulture = CultureInfo.CurrentUICulture = new("en-GB");
        return new ServiceCollection().AddLogging().AddLocalization().AddScoped<Words>().BuildServiceProvider().GetRequiredService<Words>();
    }
}
