using System.Security.Cryptography;
using Microsoft.AspNetCore.DataProtection;
using Nippers.App;

namespace Nippers.Web.Hosting;

/// <summary>Encrypts with the keys that lie in the folder beside the database.</summary>
public sealed class ProtectedSecrets(IDataProtectionProvider keys) : ISecrets
{
    private readonly IDataProtector _protector = keys.CreateProtector("Nippers.Secrets.v1");

    public string Hide(string text) => _protector.Protect(text);

    public string? Show(string hidden)
    {
        try
        {
            return _protector.Unprotect(hidden);
        }
        catch (CryptographicException)
        {
            return null;
        }
    }
}
