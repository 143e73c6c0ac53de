using Microsoft.AspNetCore.Authentication.Cookies;

namespace Nippers.Web.Hosting;

/// <summary>Sessions end by their age alone: a date beside it would be held against the clock of a phone that may be wrong.</summary>
internal sealed class AgeOnlyCookies : ICookieManager
{
    private readonly ChunkingCookieManager _cookies = new();

    public string? GetRequestCookie(HttpContext context, string key) => _cookies.GetRequestCookie(context, key);

    public void AppendResponseCookie(HttpContext context, string key, string? value, CookieOptions options)
    {
        if (options.MaxAge is not null)
            options.Expires = null;
        _cookies.AppendResponseCookie(context, key, value, options);
    }

    public void DeleteCookie(HttpContext context, string key, CookieOptions options)
    {
        // An age would outweigh the date in the past that takes the cookie away.
        options.MaxAge = null;
        _cookies.DeleteCookie(context, key, options);
    }
}
