using System.Text.RegularExpressions;

namespace Nippers.Bench;

/// <summary>Forms of pages, sent by a program.</summary>
internal static partial class Forms
{
    /// <summary>Signs somebody in.</summary>
    /// <exception cref="HttpRequestException">It was refused.</exception>
    public static async Task SignIn(HttpClient client, string userName, string password, CancellationToken ct)
    {
        using var form = new FormUrlEncodedContent([
            new("userName", userName),
            new("password", password),
            new("__RequestVerificationToken", Token().Match(await client.GetStringAsync("sign-in", ct)).Groups[1].Value),
        ]);
        (await client.PostAsync("sign-in", form, ct)).EnsureSuccessStatusCode();
    }

    /// <summary>The token of a page's form.</summary>
    [GeneratedRegex("""name="__RequestVerificationToken"[^>]*value="([^"]+)""")]
    public static partial Regex Token();
}
