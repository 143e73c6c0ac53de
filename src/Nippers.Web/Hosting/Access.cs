using System.Globalization;
using System.Security.Claims;
using System.Text.Encodings.Web;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Identity;
using Microsoft.Extensions.Options;
using Nippers.App;
using Nippers.App.People;
using Nippers.Data.People;

namespace Nippers.Web.Hosting;

/// <summary>What a role may do; every page and endpoint names one, and what names none is for signed-in people.</summary>
public static class Policies
{
    /// <summary>Look, and log hours.</summary>
    public const string Log = "log";

    /// <summary>Work on machines.</summary>
    public const string Work = "work";

    /// <summary>Programs, people, whole-fleet files.</summary>
    public const string Plan = "plan";

    /// <summary>A token that may do this, of <see cref="TokenScopes"/>.</summary>
    public static string Api(string scope) => "api-" + scope;
}

/// <summary>Who stands behind a request.</summary>
public static class ActorOf
{
    internal const string SiteClaim = "nippers-site";

    /// <summary>The actor of a signed-in person or token.</summary>
    public static Actor Actor(this ClaimsPrincipal user) =>
        new(
            user.FindFirstValue(ClaimTypes.GivenName) ?? user.Identity?.Name ?? "?",
            Roles.All.LastOrDefault(user.IsInRole) ?? Roles.Operator
        );

    /// <summary>The site whose machines come first for a person; null for none.</summary>
    public static int? OwnSite(this ClaimsPrincipal user) =>
        int.TryParse(user.FindFirstValue(SiteClaim), CultureInfo.InvariantCulture, out var site) ? site : null;

    public static bool MayWork(this ClaimsPrincipal user) => user.IsInRole(Roles.Technician) || user.IsInRole(Roles.Planner);

    public static bool MayPlan(this ClaimsPrincipal user) => user.IsInRole(Roles.Planner);
}

/// <summary>Puts a person's full name into the cookie, and which session it is.</summary>
public sealed class NamedPrincipals(
    UserManager<NippersUser> users,
    RoleManager<IdentityRole> roles,
    IOptions<IdentityOptions> options,
    TimeProvider clock
) : UserClaimsPrincipalFactory<NippersUser, IdentityRole>(users, roles, options)
{
    protected override async Task<ClaimsIdentity> GenerateClaimsAsync(NippersUser user)
    {
        var identity = await base.GenerateClaimsAsync(user);
        identity.AddClaim(new(ClaimTypes.GivenName, user.FullName.Length > 0 ? user.FullName : user.UserName!));
        identity.AddClaims(Sessions.Begin(clock.GetUtcNow()));
        if (user.SiteId is { } site)
            identity.AddClaim(new(ActorOf.SiteClaim, site.ToString(CultureInfo.InvariantCulture)));
        return identity;
    }
}

/// <summary>Bearer tokens of the API.</summary>
public sealed class TokenHandler(
    IOptionsMonitor<AuthenticationSchemeOptions> options,
    ILoggerFactory log,
    UrlEncoder encoder,
    ApiTokens tokens
) : AuthenticationHandler<AuthenticationSchemeOptions>(options, log, encoder)
{
    public new const string Scheme = "Bearer";

    /// <summary>One for each thing that a token may do.</summary>
    public const string ScopeClaim = "nippers-scope";

    protected override async Task<AuthenticateResult> HandleAuthenticateAsync()
    {
        var header = Request.Headers.Authorization.ToString();
        if (!header.StartsWith("Bearer ", StringComparison.OrdinalIgnoreCase))
            return AuthenticateResult.NoResult();
        if (await tokens.Find(header["Bearer ".Length..].Trim(), Context.RequestAborted) is not var (actor, scopes))
            return AuthenticateResult.Fail("unknown token");
        var identity = new ClaimsIdentity(
            [
                new(ClaimTypes.GivenName, actor.Name),
                new(ClaimTypes.Name, actor.Name),
                new(ClaimTypes.Role, actor.Role),
                .. scopes.Select(x => new Claim(ScopeClaim, x)),
            ],
            Scheme
        );
        return AuthenticateResult.Success(new(new ClaimsPrincipal(identity), Scheme));
    }
}

/// <summary>Until somebody exists, every page leads to the first planner's setup.</summary>
public sealed class FirstRun(RequestDelegate next)
{
    private static readonly PathString Setup = "/setup";
    private bool _somebody;

    public async Task InvokeAsync(HttpContext context, Somebody somebody)
    {
        _somebody = _somebody || await somebody.Exists(context.RequestAborted);
        var open =
            context.Request.Path.StartsWithSegments(Setup)
            || context.Request.Path.StartsWithSegments("/theme")
            || context.Request.Path.StartsWithSegments("/error")
            || context.Request.Path.StartsWithSegments(Health.Path);
        if (_somebody || open || context.Request.Path.StartsWithSegments("/api"))
            await next(context);
        else
            context.Response.Redirect(Setup);
    }
}
