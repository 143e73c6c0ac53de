using System.Security.Cryptography;
using System.Text;
using Nippers.App.People;

namespace Nippers.Web.Hosting;

/// <summary>
/// A code that only the console of the machine shows, for the first planner's account: whoever finds the address first is not yet
/// whoever runs the machine. It is another one each time the application starts.
/// </summary>
public sealed class SetupCode
{
    // Without letters and digits that look like others.
    private const string Letters = "ABCDEFGHJKLMNPQRSTUVWXYZ23456789";
    private const int Length = 10;

    /// <summary>The code.</summary>
    public string Text { get; } = RandomNumberGenerator.GetString(Letters, Length);

    /// <summary>Whether a code that was typed is this one; spaces and small letters do not matter.</summary>
    public bool Is(string? typed) =>
        CryptographicOperations.FixedTimeEquals(
            Encoding.UTF8.GetBytes((typed ?? "").Replace(" ", "", StringComparison.Ordinal).ToUpperInvariant()),
            Encoding.UTF8.GetBytes(Text)
        );

    /// <summary>The code while nobody is known here; null otherwise.</summary>
    public async Task<string?> ToTell(IServiceProvider services, CancellationToken ct)
    {
        await using var scope = services.CreateAsyncScope();
        return await scope.ServiceProvider.GetRequiredService<Somebody>().Exists(ct) ? null : Text;
    }
}
