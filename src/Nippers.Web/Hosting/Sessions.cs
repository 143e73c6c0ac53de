using System.Globalization;
using System.Security.Claims;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Authentication.Cookies;
using Microsoft.AspNetCore.Identity;
using Nippers.App.Languages;
using Nippers.App.People;
using Nippers.App.Units;

namespace Nippers.Web.Hosting;

/// <summary>
/// A session ends when its account is switched off, gets another role or password, when it is signed out of, and when it is old:
/// each request asks, so that it ends at once and not at the next half hour.
/// </summary>
public static class Sessions
{
    /// <summary>How long a session lasts, used or not.</summary>
    public static readonly TimeSpan Life = TimeSpan.FromDays(14);

    private const string IdClaim = "nippers-session";
    private const string BeganClaim = "nippers-began";

    /// <summary>The claims of a session that begins now.</summary>
    public static IEnumerable<Claim> Begin(DateTimeOffset now) =>
        [new(IdClaim, Guid.NewGuid().ToString("N")), new(BeganClaim, now.ToUnixTimeSeconds().ToString(CultureInfo.InvariantCulture))];

    /// <summary>The session of a signed-in person; null for a token's.</summary>
    public static string? SessionId(this ClaimsPrincipal user) => user.FindFirstValue(IdClaim);

    /// <summary>Lets a session go on, or ends it.</summary>
    public static async Task Validate(CookieValidatePrincipalContext context)
    {
        if (context.Principal is { } user && await Holds(user, context.HttpContext))
            return;
        context.RejectPrincipal();
        await context.HttpContext.SignOutAsync(IdentityConstants.ApplicationScheme);
    }

    private static async Task<bool> Holds(ClaimsPrincipal user, HttpContext http)
    {
        var services = http.RequestServices;
        return user.FindFirstValue(ClaimTypes.NameIdentifier) is { } id
            && user.FindFirstValue(new ClaimsIdentityOptions().SecurityStampClaimType) is { } stamp
            && user.SessionId() is { } session
            && long.TryParse(user.FindFirstValue(BeganClaim), CultureInfo.InvariantCulture, out var began)
            && services.GetRequiredService<TimeProvider>().GetUtcNow() - DateTimeOffset.FromUnixTimeSeconds(began) < Life
            && await services.GetRequiredService<PeopleBook>().Holds(id, stamp, session, http.RequestAborted) is { } choices
            && Keep(http, choices);
    }

    private static bool Keep(HttpContext http, PersonChoices choices)
    {
        http.Items[typeof(PersonChoices)] = choices;
        return true;
    }

    /// <summary>
    /// What follows is shown and read in the units and the language of whoever is signed in. Until then, and for who chose none, the
    /// language is the browser's.
    /// </summary>
    public static IApplicationBuilder UseChoices(this IApplicationBuilder app) =>
        app.Use(
            async (http, next) =>
            {
                var choices = http.Items[typeof(PersonChoices)] as PersonChoices;
                using var units = PersonUnits.As(choices?.Units);
                if (AllLanguages.Find(choices?.Language) is { } language)
                    AllLanguages.Use(language);
                if (choices is not null)
                    OwnPhrases.Use(await http.RequestServices.GetRequiredService<PhraseBook>().Own(http.RequestAborted));
                await next(http);
            }
        );

    /// <summary>What follows is said in the language that the browser asks for, of those that there are.</summary>
    public static IApplicationBuilder UseBrowserLanguage(this IApplicationBuilder app) =>
        app.Use(
            (http, next) =>
            {
                var asked = http
                    .Request.GetTypedHeaders()
                    .AcceptLanguage.OrderByDescending(x => x.Quality ?? 1)
                    .Select(x => AllLanguages.Find(x.Value.Value))
                    .FirstOrDefault(x => x is not null);
                AllLanguages.Use(asked ?? Language.English);
                return next(http);
            }
        );
}
