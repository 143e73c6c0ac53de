using System.IO.Compression;
using System.Net;
using Microsoft.AspNetCore.Authentication.Cookies;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.HttpOverrides;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.ModelBinding.Metadata;
using Microsoft.AspNetCore.ResponseCompression;
using Microsoft.AspNetCore.Server.Kestrel.Core;
using Nippers.App;
using Nippers.App.Feeds;
using Nippers.App.Mail;
using Nippers.App.Oil;
using Nippers.Core.Weeks;
using Nippers.Data;
using Nippers.Data.People;
using Nippers.Views.Text;
using Nippers.Web.Api;
using Nippers.Web.Mail;
using Nippers.Web.Phones;
using Nippers.Web.Text;
using Nippers.Weeks;
using Serilog;

namespace Nippers.Web.Hosting;

/// <summary>Builds the web application; the command line and the tests start it alike.</summary>
public static class NippersHost
{
    private static readonly string[] WorkPages =
    [
        "/Machines/Edit",
        "/Machines/New",
        "/Machines/Work",
        "/Machines/Baseline",
        "/Machines/Meter",
        "/Machines/Park",
        "/Machines/VoidWork",
        "/Machines/Limits",
        "/Exchange/Readings",
        "/Exchange/Telemetry",
        "/Visits/Plan",
        "/Visits/Step",
        "/Visits/End",
        "/Visits/Entry",
        "/Machines/Data",
        "/Machines/Position",
        "/Parts/New",
        "/Parts/Edit",
        "/Machines/Take",
        "/Samples/Import",
        "/Samples/Results",
        "/Codes/Index",
        "/Codes/One",
    ];

    private static readonly string[] PlanPages =
    [
        "/Programs/Item",
        "/Programs/Settings",
        "/Programs/Copy",
        "/Exchange/ImportFleet",
        "/Exchange/ExportFleet",
        "/WalkLists/Check",
        "/WalkLists/Plan",
        "/WalkLists/Positions",
        "/WalkLists/Copy",
        "/Kinds/Copy",
        "/Kinds/File",
        "/Programs/Compartment",
        "/Samples/Fluid",
        "/Weeks/People",
    ];

    public static WebApplication Create(WebSettings settings)
    {
        var builder = WebApplication.CreateBuilder(
            new WebApplicationOptions
            {
                ApplicationName = typeof(NippersHost).Assembly.GetName().Name,
                ContentRootPath = AppContext.BaseDirectory,
                EnvironmentName = Environments.Production,
            }
        );
        builder.WebHost.UseStaticWebAssets();
        builder.WebHost.ConfigureKestrel(kestrel =>
        {
            kestrel.AddServerHeader = false;
            kestrel.Limits.MaxRequestBodySize = Limits.LargestFile;
            if (settings.LocalOnly)
                kestrel.Listen(IPAddress.Loopback, settings.Port, Speak);
            else
                kestrel.ListenAnyIP(settings.Port, Speak);

            void Speak(ListenOptions at)
            {
                if (settings.Certificate is { } certificate)
                    at.UseHttps(certificate);
            }
        });

        // Not through the one logger of the process: a server that is begun or ended beside this one would take its lines.
        builder.Host.UseSerilog((_, log) => Watching.Configure(log, settings), preserveStaticLogger: true);

        var services = builder.Services;
        services.AddSingleton(settings);
        services.AddSingleton(settings.Clock);
        services.AddNippers(settings.DatabaseFile);
        services.AddSingleton(x =>
        {
            var pages = new PageGate(Environment.ProcessorCount, TimeProvider.System);
            x.GetRequiredService<WriteGate>().Writing = pages.Hold;
            return pages;
        });
        services.AddSingleton<SetupCode>().AddSingleton<BackupNews>();
        services.AddHostedService<BackupKeeper>();
        services.AddSingleton<FirstPages>().AddHostedService(x => x.GetRequiredService<FirstPages>());
        services.AddHostedService<StatusRefresher>();
        AddOutside<ILabClient, LabClient>(services);
        AddOutside<IFeedLine, FeedClient>(services);
        services.AddHostedService<LabWorker>().AddHostedService<FeedWorker>();
        services.AddSingleton<IMailWriter, MailWriter>().AddSingleton<IMailLine, SmtpLine>();
        services.AddHostedService<MailWorker>();
        services.AddSingleton<IWeekSolver, WeekSolver>();
        services
            .AddDataProtection()
            .SetApplicationName("Nippers")
            .PersistKeysToFileSystem(Directory.CreateDirectory(settings.DatabaseFile + ".keys"));
        services.AddSingleton<ISecrets, ProtectedSecrets>();
        services.AddHsts(x => x.MaxAge = TimeSpan.FromDays(365));
        AddPeople(services);
        AddPages(services);
        services.AddLimits(settings);
        services.AddFigures(settings);
        services.AddNippersApi();

        // The token of a form is another one each time, so that what a page weighs tells nothing about it.
        services.AddResponseCompression(x =>
        {
            x.EnableForHttps = true;
            x.MimeTypes = [.. ResponseCompressionDefaults.MimeTypes, "image/svg+xml", "application/problem+json", "text/csv"];
        });
        services.Configure<BrotliCompressionProviderOptions>(x => x.Level = CompressionLevel.Optimal);
        services.AddProblemDetails(x => x.CustomizeProblemDetails = y => Pages.ErrorModel.Say(y.HttpContext.Response));

        var app = builder.Build();
        app.UseRequestLines(settings);
        UseProxies(app, settings);
        if (settings.IsSecure)
            app.UseHsts();
        app.UseExceptionHandler(
            new ExceptionHandlerOptions { ExceptionHandlingPath = "/error", StatusCodeSelector = Pages.ErrorModel.StatusOf }
        );
        app.UseWhen(x => !IsApi(x) && !IsOfPhones(x), pages => pages.UseStatusCodePagesWithReExecute("/error", "?status={0}"));
        app.UseWhen(IsApi, api =>
            api.UseExceptionHandler(new ExceptionHandlerOptions { StatusCodeSelector = Pages.ErrorModel.StatusOf }).UseStatusCodePages()
        );
        app.UseBodyLimits();
        app.UseResponseCompression();
        app.Use(NoStore);
        app.UseSecurityHeaders(Headers());
        app.UseBrowserLanguage();
        app.UsePackedFiles(app.Environment);
        app.UseStaticFiles(
            new StaticFileOptions
            {
                ContentTypeProvider = PackedFiles.Types,
                OnPrepareResponse = x =>
                {
                    PackedFiles.Prepare(x);

                    // What the worker keeps must be what is there now: it asks by itself when it has changed.
                    x.Context.Response.Headers.CacheControl =
                        x.Context.Request.Path == "/worker.js" ? "no-cache"
                        : x.Context.Request.Query.ContainsKey("v") || PackedFiles.IsNamedByContent(x.File.Name)
                            ? "public,max-age=31536000,immutable"
                        : "public,max-age=3600";
                },
            }
        );
        app.UseRouting();
        app.UseAsked(settings);
        app.UseRateLimiter();
        app.Use(InPlace);
        app.UseAuthentication();
        app.UseChoices();
        app.UseMiddleware<FirstRun>();
        app.UseAuthorization();
        app.UsePhoneKeys();
        app.MapRazorPages();
        app.MapPhone();
        if (settings.Health)
            app.MapHealth();
        app.MapFigures(settings);
        app.MapCalendar();
        app.MapNippersApi();
        return app;
    }

    // A token goes to the address that a planner typed, and nowhere else.
    private static void AddOutside<TLine, TClient>(IServiceCollection services)
        where TLine : class
        where TClient : class, TLine =>
        services
            .AddHttpClient<TLine, TClient>(http =>
                (http.Timeout, http.MaxResponseContentBufferSize) = (OutsideLine.Patience, OutsideLine.LargestAnswer)
            )
            .ConfigurePrimaryHttpMessageHandler(OutsideLine.Line);

    /// <summary>
    /// What a request says of where it came from is believed from proxies that were named, and from nobody else. What it calls this
    /// host is believed from nobody: printed codes lead to the address that settings name.
    /// </summary>
    private static void UseProxies(WebApplication app, WebSettings settings)
    {
        if (settings.Proxies.Count == 0)
            return;
        var options = new ForwardedHeadersOptions { ForwardedHeaders = ForwardedHeaders.XForwardedFor | ForwardedHeaders.XForwardedProto };
        options.KnownProxies.Clear();
        options.KnownIPNetworks.Clear();
        foreach (var proxy in settings.Proxies)
            options.KnownProxies.Add(proxy);
        app.UseForwardedHeaders(options);
    }

    /// <summary>What nobody said may be kept is kept by no browser and no proxy: it is a fleet's own.</summary>
    private static Task NoStore(HttpContext context, RequestDelegate next)
    {
        context.Response.OnStarting(() =>
        {
            if (context.Response.Headers.CacheControl.Count == 0)
                context.Response.Headers.CacheControl = "no-store";
            return Task.CompletedTask;
        });
        return next(context);
    }

    /// <summary>Pages and lists take turns; what is written has its own, and those who watch the server never wait.</summary>
    private static Task InPlace(HttpContext context, RequestDelegate next) =>
        HttpMethods.IsGet(context.Request.Method)
        && !context.Request.Path.StartsWithSegments(Health.Path)
        && !context.Request.Path.StartsWithSegments(Watching.Path)
            ? context.RequestServices.GetRequiredService<PageGate>().Run(() => next(context), context.RequestAborted)
            : next(context);

    /// <summary>Programs get problem details where people get a page.</summary>
    private static bool IsApi(HttpContext context) => context.Request.Path.StartsWithSegments("/api");

    /// <summary>
    /// What a phone asks by itself, behind whatever page is open: a page that says what is wrong would be read by nobody, and its form
    /// would give the browser another key than that of the form on the screen.
    /// </summary>
    private static bool IsOfPhones(HttpContext context) =>
        context.Request.Path.StartsWithSegments(PhoneApi.Root, out var more) && more.HasValue;

    private static void AddPeople(IServiceCollection services)
    {
        services
            .AddIdentity<NippersUser, IdentityRole>(options =>
            {
                options.Password.RequiredLength = 10;
                options.Password.RequireDigit =
                    options.Password.RequireLowercase =
                    options.Password.RequireUppercase =
                    options.Password.RequireNonAlphanumeric =
                        false;
                options.Lockout.MaxFailedAccessAttempts = 8;
                options.Lockout.DefaultLockoutTimeSpan = TimeSpan.FromMinutes(10);
                options.User.RequireUniqueEmail = false;
            })
            .AddEntityFrameworkStores<NippersDb>()
            .AddDefaultTokenProviders()
            .AddPasswordValidator<GuardedPasswords>()
            .AddUserValidator<KnownPeople>()
            .AddClaimsPrincipalFactory<NamedPrincipals>();
        services.Configure<CookieAuthenticationOptions>(IdentityConstants.ApplicationScheme, cookie =>
        {
            cookie.LoginPath = "/sign-in";
            cookie.AccessDeniedPath = "/no-entry";
            cookie.Cookie.Name = "nippers";
            cookie.Cookie.HttpOnly = true;
            cookie.Cookie.SameSite = SameSiteMode.Lax;
            cookie.ExpireTimeSpan = Sessions.Life;

            // A browser counts an age by its own clock from when it gets it; a date would end the session at once on a phone
            // whose clock is ahead.
            cookie.Cookie.MaxAge = Sessions.Life;
            cookie.CookieManager = new AgeOnlyCookies();
            cookie.SlidingExpiration = false;
            cookie.Events.OnValidatePrincipal = Sessions.Validate;
            var toPage = cookie.Events.OnRedirectToLogin;
            cookie.Events.OnRedirectToLogin = x =>
            {
                var ofPrograms = IsApi(x.HttpContext) || x.Request.Path.StartsWithSegments(PhoneApi.Root);

                // What was typed is not thrown away by a way to another page: see the error page.
                if (!ofPrograms && !HeldForm.IsOurs(x.Request) && !x.Request.Headers.ContainsKey("HX-Request"))
                    return toPage(x);
                x.Response.StatusCode = StatusCodes.Status401Unauthorized;
                return Task.CompletedTask;
            };
        });
        services
            .AddAuthentication()
            .AddScheme<Microsoft.AspNetCore.Authentication.AuthenticationSchemeOptions, TokenHandler>(TokenHandler.Scheme, null);
        var authorization = services
            .AddAuthorizationBuilder()
            .SetFallbackPolicy(new AuthorizationPolicyBuilder().RequireAuthenticatedUser().Build())
            .AddPolicy(Policies.Log, x => x.RequireRole([.. Roles.All]))
            .AddPolicy(Policies.Work, x => x.RequireRole(Roles.Technician, Roles.Planner))
            .AddPolicy(Policies.Plan, x => x.RequireRole(Roles.Planner));
        foreach (var scope in TokenScopes.All)
        {
            authorization.AddPolicy(Policies.Api(scope), x =>
                x.AddAuthenticationSchemes(TokenHandler.Scheme).RequireClaim(TokenHandler.ScopeClaim, scope)
            );
        }
    }

    private static void AddPages(IServiceCollection services)
    {
        services.AddSingleton<Words>();
        services.Configure<CookieTempDataProviderOptions>(x => x.Cookie.SecurePolicy = CookieSecurePolicy.SameAsRequest);
        services.AddAntiforgery(options =>
            (options.Cookie.Name, options.Cookie.SecurePolicy) = ("nippers-form", CookieSecurePolicy.SameAsRequest)
        );
        services
            .AddRazorPages(options =>
            {
                var to = options.Conventions;
                to.AuthorizeFolder("/", Policies.Log);
                to.AllowAnonymousToPage("/Account/SignIn")
                    .AllowAnonymousToPage("/Account/Setup")
                    .AllowAnonymousToPage("/Account/Reset")
                    .AllowAnonymousToPage("/Account/Theme")
                    .AllowAnonymousToPage("/Phone/Shell")
                    .AllowAnonymousToPage("/Error");
                foreach (var page in WorkPages)
                    to.AuthorizePage(page, Policies.Work);
                foreach (var page in PlanPages)
                    to.AuthorizePage(page, Policies.Plan);
                to.AuthorizeFolder("/Settings", Policies.Plan);
                to.AuthorizeFolder("/Languages", Policies.Plan);
            })
            .AddMvcOptions(x =>
            {
                x.Filters.Add<KnownHandlers>();
                x.Filters.Add<RefusedForms>();
                x.ModelMetadataDetailsProviders.Add(new EmptyStaysEmpty());
            });
        services.Configure<RouteOptions>(x => x.LowercaseUrls = true);
    }

    private static HeaderPolicyCollection Headers() =>
        new HeaderPolicyCollection()
            .AddFrameOptionsDeny()
            .AddContentTypeOptionsNoSniff()
            .AddReferrerPolicySameOrigin()
            .AddCrossOriginOpenerPolicy(x => x.SameOrigin())
            .AddCrossOriginResourcePolicy(x => x.SameOrigin())
            .AddContentSecurityPolicy(csp =>
            {
                csp.AddDefaultSrc().None();
                csp.AddScriptSrc().Self().WasmUnsafeEval();
                csp.AddStyleSrc().Self();
                csp.AddFontSrc().Self();
                csp.AddImgSrc().Self().Data();
                csp.AddConnectSrc().Self();
                csp.AddFormAction().Self();
                csp.AddBaseUri().None();
                csp.AddFrameAncestors().None();
            });

    /// <summary>An empty text in a list stays one: no list of texts has a hole in it.</summary>
    private sealed class EmptyStaysEmpty : IDisplayMetadataProvider
    {
        public void CreateDisplayMetadata(DisplayMetadataProviderContext context)
        {
            if (context.Key is { MetadataKind: ModelMetadataKind.Type } key && key.ModelType == typeof(string))
                context.DisplayMetadata.ConvertEmptyStringToNull = false;
        }
    }
}
