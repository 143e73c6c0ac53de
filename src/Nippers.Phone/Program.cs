using System.Runtime.InteropServices.JavaScript;
using System.Runtime.Versioning;
using System.Text.Json;
using Nippers.App.Languages;
using Nippers.Data.Walks;
using Nippers.Views.Phones;

[assembly: SupportedOSPlatform("browser")]

namespace Nippers.Phone;

/// <summary>What the page's script calls. Everything else is the server's own code.</summary>
public static partial class Program
{
    /// <summary>Sets the culture of the pages; the script calls the rest.</summary>
    public static void Main() => AllLanguages.Use(Language.English);

    /// <summary>Answers a request of the page as the server would.</summary>
    /// <param name="request">A <see cref="PhoneRequest"/> as JSON.</param>
    /// <returns>A <see cref="PhoneReply"/> as JSON.</returns>
    [JSExport]
    public static async Task<string> Ask(string request) =>
        JsonSerializer.Serialize(
            await PhoneDesk.Ask(JsonSerializer.Deserialize<PhoneRequest>(request, ListJson.Options)!),
            ListJson.Options
        );

    /// <summary>Judges answers to checks, one by one: what the server's build is compared with.</summary>
    /// <param name="cases">Checks with answers, as JSON.</param>
    /// <returns>What each comes to, as JSON.</returns>
    [JSExport]
    public static string Judge(string cases) => PhoneJudge.All(cases);
}
