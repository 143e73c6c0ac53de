using System.Text.Json;
using System.Text.Json.Serialization;

namespace Nippers.Web.Text;

/// <summary>
/// A form that came from one of our own pages when nobody was signed in any more, or somebody else. It is kept by the page that answers,
/// and by nothing here: what was typed stands before whoever is signed in, to be sent again.
/// </summary>
/// <param name="To">Where it was sent: path and query.</param>
/// <param name="Fields">What stood in it, in its order.</param>
/// <param name="HadFiles">Files were sent with it, which no page can hold.</param>
public sealed record HeldForm(string To, IReadOnlyList<KeyValuePair<string, string>> Fields, bool HadFiles)
{
    /// <summary>Largest that is looked at before it is known who sends it, bytes: a form with a picture or three.</summary>
    public const long Largest = 16L << 20;

    // A password is written into no page, not even its own person's.
    private static readonly string[] Secret = ["password", "current", "token"];

    private const string Token = "__RequestVerificationToken";

    /// <summary>What of it somebody sends who has signed in since: the token of a form is its session's, and is given anew.</summary>
    [JsonIgnore]
    public IReadOnlyList<KeyValuePair<string, string>> Anew => [.. Fields.Where(x => x.Key != Token)];

    /// <summary>Whether a request sends a form from one of our own pages. Whoever else has one sent to us is not helped to do so.</summary>
    public static bool IsOurs(HttpRequest request) =>
        HttpMethods.IsPost(request.Method)
        && request.HasFormContentType
        && request.ContentLength <= Largest
        && request.Headers.Origin == $"{request.Scheme}://{request.Host}";

    /// <summary>What was sent; null where it holds what is typed once more.</summary>
    public static async Task<HeldForm?> Of(HttpRequest request, string to, CancellationToken ct)
    {
        var form = await request.ReadFormAsync(ct);
        return Secret.Any(form.ContainsKey)
            ? null
            : new(to, [.. form.SelectMany(x => x.Value, (x, value) => KeyValuePair.Create(x.Key, value ?? ""))], form.Files.Count > 0);
    }

    /// <summary>As a field holds it.</summary>
    public string Write() => JsonSerializer.Serialize(this);

    /// <summary>As a field held it; null for none, or for what no field of ours holds.</summary>
    public static HeldForm? Read(string? text)
    {
        if (string.IsNullOrEmpty(text))
            return null;
        try
        {
            return
                JsonSerializer.Deserialize<HeldForm>(text) is { To: not null, Fields: { } fields } held
                && fields.All(x => x is { Key: not null, Value: not null })
                ? held
                : null;
        }
        catch (JsonException)
        {
            return null;
        }
    }
}
