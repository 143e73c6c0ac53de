using System.Net;
using System.Security.Cryptography;
using System.Text.Json;
using AngleSharp.Html.Parser;
using Nippers.Tests;

namespace Nippers.Web.Tests;

/// <summary>What the installation tells a program that watches it, and what browsers may keep of it.</summary>
public sealed class WatchingTests
{
    // Of the demo: what must not leave the fleet with a figure or a line of the log.
    private static readonly string[] Personal = ["EX-01", "Tam", "\"tam\"", "Ollery", "Quill", "demo-fleet"];

    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    private static async Task Visit(DemoApp app)
    {
        using var tam = await Visitor.As(app, "tam");
        foreach (
            var path in (string[])["/", "/machines/EX-01", "/machines/EX-01/history?find=Tam", "/machines/EX-99", "/defects?unit=EX-01"]
        )
            await tam.Get(path);
    }

    [Fact]
    public async Task Figures_are_shown_where_they_were_asked_for_and_tell_nothing_of_the_fleet()
    {
        await using var app = await DemoApp.Start(with: x => x with { Metrics = true });
        await Visit(app);
        using var nobody = new Visitor(app);
        var answer = await nobody.Get("/metrics");
        var text = await answer.Content.ReadAsStringAsync(Ct);
        Assert.Equal((HttpStatusCode.OK, "text/plain"), (answer.StatusCode, answer.Content.Headers.ContentType!.MediaType));
        foreach (
            var figure in (string[])
                [
                    "http_server_request_duration_seconds_bucket",
                    "http_route=\"machines/{unit}/",
                    "nippers_write_wait_seconds_bucket",
                    "nippers_write_turn_seconds_count",
                    "nippers_database_size_bytes",
                    "nippers_disk_free_bytes",
                    "dotnet_gc_collections",
                ]
        )
            Assert.Contains(figure, text, StringComparison.Ordinal);
        Assert.All(Personal, x => Assert.DoesNotContain(x, text, StringComparison.Ordinal));
    }

    [Fact]
    public async Task Nobody_finds_figures_that_were_not_asked_for()
    {
        await using var app = await DemoApp.Start(demo: false);
        using var nobody = new Visitor(app);
        Assert.DoesNotContain(
            "nippers_write",
            await (await nobody.Get("/metrics")).Content.ReadAsStringAsync(Ct),
            StringComparison.Ordinal
        );
    }

    [Fact]
    public async Task A_line_of_the_log_tells_a_request_by_its_pattern_and_nothing_of_who_or_what()
    {
        await using var lines = new StringWriter();
        await using (var app = await DemoApp.Start(with: x => x with { LogTo = lines }))
            await Visit(app);
        var told = lines.ToString().Split('\n', StringSplitOptions.RemoveEmptyEntries);
        var requests = told.Select(x => JsonDocument.Parse(x).RootElement)
            .Where(x => x.TryGetProperty("Route", out _))
            .Select(x => (x.GetProperty("Method").GetString(), x.GetProperty("Route").GetString(), x.GetProperty("Status").GetInt32()))
            .ToList();
        Assert.Contains(("POST", "sign-in", 302), requests);
        foreach (var status in (int[])[200, 404])
            Assert.Contains(requests, x => x.Item3 == status && x.Item2!.StartsWith("machines/{unit}/", StringComparison.Ordinal));
        Assert.All(Personal, x => Assert.DoesNotContain(x, lines.ToString(), StringComparison.Ordinal));
    }

    [Fact]
    public async Task What_a_page_brings_along_is_kept_for_ever_under_a_name_or_number_of_its_content()
    {
        await using var app = await DemoApp.Start();
        using var nobody = new Visitor(app);
        var page = new HtmlParser().ParseDocument(await (await nobody.Get("/sign-in")).Content.ReadAsStringAsync(Ct));
        var brought = page.QuerySelectorAll("link[href], script[src]")
            .Select(x => x.GetAttribute("href") ?? x.GetAttribute("src")!)
            .Where(x => x.StartsWith("/gen/", StringComparison.Ordinal))
            .ToList();
        Assert.True(brought.Count >= 4);
        var style = await (
            await nobody.Get(brought.Single(x => x.Contains("app.css", StringComparison.Ordinal)))
        ).Content.ReadAsStringAsync(Ct);
        var fonts = System.Text.RegularExpressions.Regex.Matches(style, @"fonts/[\w.-]+\.woff2").Select(x => "/gen/" + x.Value).ToList();
        Assert.Equal(3, fonts.Distinct().Count());
        foreach (var path in brought.Concat(fonts))
        {
            var answer = await nobody.Get(path);
            Assert.Equal(
                (HttpStatusCode.OK, true),
                (answer.StatusCode, answer.Headers.CacheControl!.Extensions.Any(x => x.Name == "immutable"))
            );
        }

        foreach (var font in fonts)
        {
            var content = await (await nobody.Get(font)).Content.ReadAsByteArrayAsync(Ct);
            Assert.Contains("." + Convert.ToHexStringLower(SHA256.HashData(content))[..10] + ".", font, StringComparison.Ordinal);
        }
    }
}
