using System.Net;
using System.Text.RegularExpressions;
using Microsoft.AspNetCore.Http;
using Microsoft.AspNetCore.Mvc.Infrastructure;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.Mvc.RazorPages.Infrastructure;
using Microsoft.Extensions.DependencyInjection;
using Nippers.Tests;

namespace Nippers.Web.Tests;

/// <summary>
/// Who may send which form. The table <c>handlers.txt</c> holds a line for each form that a page takes; one that is not in it, or
/// that nobody has decided on, fails. Each is sent by everybody with a token that is good, so that the role alone decides.
/// </summary>
public sealed partial class HandlerTests
{
    private const string Table = "handlers.txt";
    private const string Undecided = "?";
    private static readonly string[] Ranks = ["nobody", "ines", "tam", "mara"];
    private static readonly string[] Least = ["anyone", "operator", "technician", "planner"];

    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    /// <summary>A form that a page takes: the page's route, and the handler's name; empty for the one without.</summary>
    private sealed record Form(string Route, string Handler)
    {
        public override string ToString() => $"/{Route} {(Handler.Length == 0 ? "-" : Handler)}";
    }

    private static async Task<List<Form>> Forms(DemoApp app) =>
        [
            .. (await Handlers(app))
                .Where(x => string.Equals(x.Method.HttpMethod, "Post", StringComparison.OrdinalIgnoreCase))
                .Select(x => new Form(x.Route, x.Method.Name ?? ""))
                .Distinct()
                .OrderBy(x => x.ToString(), StringComparer.Ordinal),
        ];

    private static async Task<List<(string Route, HandlerMethodDescriptor Method)>> Handlers(DemoApp app)
    {
        var loader = app.Services.GetRequiredService<PageLoader>();
        var handlers = new List<(string, HandlerMethodDescriptor)>();
        foreach (
            var page in app
                .Services.GetRequiredService<IActionDescriptorCollectionProvider>()
                .ActionDescriptors.Items.OfType<PageActionDescriptor>()
        )
        {
            var compiled = await loader.LoadAsync(page, EndpointMetadataCollection.Empty);
            handlers.AddRange(compiled.HandlerMethods.Select(x => (page.AttributeRouteInfo!.Template!, x)));
        }

        return handlers;
    }

    /// <summary>The least role of each form, as the table has it.</summary>
    internal static async Task<Dictionary<string, string>> Decided() =>
        (await File.ReadAllLinesAsync(Path.Combine(AppContext.BaseDirectory, Table), Ct))
            .Where(x => x.Length > 0 && x[0] != '#')
            .Select(x => x.Split(' ', StringSplitOptions.RemoveEmptyEntries))
            .ToDictionary(x => $"{x[0]} {x[1]}", x => x[2], StringComparer.Ordinal);

    [Fact]
    public async Task Every_form_has_been_decided_on()
    {
        await using var app = await DemoApp.Start();
        var (forms, decided) = (await Forms(app), await Decided());

        // As CI finds them, for whoever has to decide.
        var lines = forms.Select(x => $"{x} {decided.GetValueOrDefault(x.ToString(), Undecided)}").ToList();
        await File.WriteAllLinesAsync(Path.Combine(AppContext.BaseDirectory, "handlers.found.txt"), lines, Ct);
        var undecided = lines.Where(x => x.EndsWith(Undecided, StringComparison.Ordinal)).ToList();
        Assert.True(undecided.Count == 0, string.Join('\n', undecided));
        Assert.Equal([], decided.Keys.Except(forms.Select(x => x.ToString())));
        Assert.All(decided.Values, x => Assert.Contains(x, Least));
    }

    [Fact]
    public async Task Every_handler_that_a_view_names_is_there()
    {
        await using var app = await DemoApp.Start();
        var known = (await Handlers(app)).Select(x => x.Method.Name).OfType<string>().ToHashSet(StringComparer.OrdinalIgnoreCase);
        var named = ((string[])["*.cshtml", "*.razor", "*.cs", "*.ts"])
            .SelectMany(x => Directory.EnumerateFiles(Path.Combine(WordsTests.Root, "src"), x, SearchOption.AllDirectories))
            .Where(x => !x.Contains("/obj/", StringComparison.Ordinal) && !x.Contains("/node_modules/", StringComparison.Ordinal))
            .SelectMany(File.ReadLines)
            .SelectMany(x => Named().Matches(x))
            .Select(x => x.Groups[1].Value)
            .ToHashSet(StringComparer.OrdinalIgnoreCase);
        Assert.True(named.Count > 50, $"{named.Count} were found");
        Assert.Equal([], named.Except(known, StringComparer.OrdinalIgnoreCase));
    }

    [GeneratedRegex("[?&]handler=([A-Za-z]+)")]
    private static partial Regex Named();

    [Theory]
    [InlineData("nobody")]
    [InlineData("ines")]
    [InlineData("tam")]
    [InlineData("mara")]
    public async Task Each_form_is_taken_from_whom_it_should_be_and_from_nobody_else(string who)
    {
        await using var app = await DemoApp.Start();
        using var visitor = who == "nobody" ? new Visitor(app) : await Visitor.As(app, who);
        var rank = Array.IndexOf(Ranks, who);
        var decided = await Decided();
        var planned = await First(app, Data.Visits.VisitState.Planned);
        var open = await First(app, Data.Visits.VisitState.Open);
        var wrong = new List<string>();

        // Who signs out, or changes the theme's cookie, is somebody else afterwards: last.
        foreach (var form in (await Forms(app)).OrderBy(x => x.Route.StartsWith("sign-", StringComparison.Ordinal)))
        {
            var path = AccessTests.PathOf(form.Route, planned, open);
            if (form.Handler.Length > 0)
                path += (path.Contains('?', StringComparison.Ordinal) ? "&" : "?") + "handler=" + form.Handler;
            var token = (await visitor.Read(who == "nobody" ? "/sign-in" : "/more"))
                .QuerySelector("input[name=__RequestVerificationToken]")!
                .GetAttribute("value")!;
            var answer = await visitor.Post(path, new FormUrlEncodedContent([new("__RequestVerificationToken", token)]));
            var let = Let(answer);
            if ((int)answer.StatusCode >= 500)
                wrong.Add($"{form}: broke ({(int)answer.StatusCode})");
            else if (decided.TryGetValue(form.ToString(), out var least) && let != rank >= Array.IndexOf(Least, least))
                wrong.Add($"{form}: {(let ? "taken" : "not taken")} ({(int)answer.StatusCode} {answer.Headers.Location})");
        }

        Assert.True(wrong.Count == 0, string.Join('\n', wrong));
    }

    private static bool Let(HttpResponseMessage answer)
    {
        var to = answer.Headers.Location?.ToString() ?? "";
        return answer.StatusCode is not (HttpStatusCode.Forbidden or HttpStatusCode.Unauthorized)
            && !to.Contains("/no-entry", StringComparison.OrdinalIgnoreCase)
            && !to.Contains("/sign-in?", StringComparison.OrdinalIgnoreCase);
    }

    private static async Task<string> First(DemoApp app, Data.Visits.VisitState state) =>
        (await app.Ask(db => Task.FromResult(db.Visits.First(x => x.State == state).Id))).ToString(
            System.Globalization.CultureInfo.InvariantCulture
        );
}
