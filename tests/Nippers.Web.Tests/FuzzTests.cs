using System.Diagnostics;
using System.Net;
using System.Text;
using AngleSharp.Html.Dom;
using CsCheck;
using Nippers.App;
using Nippers.Tests;

namespace Nippers.Web.Tests;

/// <summary>
/// Every body of the interface, what a phone sends, and every form that a page shows, with changes in them. Nothing is answered
/// with a fault of the server, and nothing takes long. <c>./nippers fuzz</c> gives them as long as one likes.
/// </summary>
public sealed class FuzzTests
{
    // The aim is 2 s; a machine that does other things besides may need longer.
    private static readonly TimeSpan Longest = TimeSpan.FromSeconds(20);

    private static readonly (string Path, string Body)[] Bodies =
    [
        ("machines/EX-01/readings", """{"hours":3108.1,"at":"2026-11-25T06:40:00Z"}"""),
        (
            "machines/EX-01/walks",
            """{"hours":3108.1,"weather":"dry","ground":"level","at":"2026-11-25T06:40:00Z","answers":[{"check":"engine-oil","seen":"mid","note":"x"},{"check":"coolant","seen":"low","value":1.5}],"defects":[{"words":"hose wet","part":"hydraulics","grade":"watch"}]}"""
        ),
        (
            "machines/EX-01/defects",
            """{"words":"service brake does not hold","part":"brakes","grade":"stop","limitHours":50,"limitOn":"2026-12-24"}"""
        ),
        (
            "samples",
            """{"unit":"EX-01","item":"engine-oil-sample","hours":3108.1,"oilHours":120,"addedLitres":1.5,"bottle":"K7M-4PX","engine":"running","method":"livePort","on":"2026-11-25"}"""
        ),
    ];

    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    private static async Task Fits(string what, Func<Task<HttpResponseMessage>> send)
    {
        var watch = Stopwatch.StartNew();
        Exception? thrown = null;
        void Hear(object? sender, System.Runtime.ExceptionServices.FirstChanceExceptionEventArgs x) => thrown ??= x.Exception;
        AppDomain.CurrentDomain.FirstChanceException += Hear;
        using var answer = await send();
        AppDomain.CurrentDomain.FirstChanceException -= Hear;
        Assert.True((int)answer.StatusCode < 500, $"{(int)answer.StatusCode} {thrown}\n{what}");
        Assert.True(watch.Elapsed < Longest, $"{what}: {watch.Elapsed}");
    }

    [Fact]
    public async Task No_body_of_the_interface_breaks_it()
    {
        await using var app = await DemoApp.Start(apiCallsPerMinute: int.MaxValue / 8);
        using var client = await ApiTests.Client(app, Roles.Technician);
        await Gen.Select(Gen.Int[0, Bodies.Length - 1], Mutations.Edits)
            .SampleAsync(
                drawn =>
                {
                    var (path, body) = Bodies[drawn.Item1];
                    var text = drawn.Item2[0].Place % 5 == 0 ? Mutations.Text(body, drawn.Item2) : Mutations.Json(body, drawn.Item2);
                    return Fits($"{path} {text}", () =>
                        client.PostAsync("api/v1/" + path, new StringContent(text, Encoding.UTF8, "application/json"), Ct)
                    );
                },
                time: Mutations.Seconds,
                threads: 1
            );
    }

    [Fact]
    public async Task Nothing_that_a_phone_sends_breaks_it()
    {
        await using var app = await DemoApp.Start();
        using var tam = await Visitor.As(app, "tam");
        const string entry =
            """{"key":"k@","kind":"begin","unit":"EX-01","walk":"b@","at":"2026-11-25T06:40:00Z","aheadMs":12,"fields":{"hours":["3107.5"],"parts":["Ordinary"],"weather":["Dry"],"ground":["Level"],"asked":["engine-oil","coolant"],"check":["engine-oil"],"seen":["mid"]}}""";
        string[] kinds = [.. Enum.GetNames<App.Phones.EntryKind>().Select(System.Text.Json.JsonNamingPolicy.CamelCase.ConvertName)];
        var sent = 0;
        await Gen.Select(Gen.Int[0, kinds.Length - 1], Mutations.Edits)
            .SampleAsync(
                drawn =>
                {
                    var plain = entry
                        .Replace("@", $"{sent++}", StringComparison.Ordinal)
                        .Replace("\"begin\"", $"\"{kinds[drawn.Item1]}\"", StringComparison.Ordinal);
                    var text = Mutations.Json(plain, drawn.Item2);
                    var form = new MultipartFormDataContent { { new StringContent(text), "entry" } };
                    return Fits(text, () => tam.Send(HttpMethod.Post, "/phone/entries", form, (Phones.PhoneApi.Header, "1")));
                },
                time: Mutations.Seconds,
                threads: 1
            );
    }

    [Fact]
    public async Task No_form_breaks_its_page_whatever_stands_in_its_fields()
    {
        await using var app = await DemoApp.Start();
        using var mara = await Visitor.As(app, "mara");
        var (planned, open) = (await First(app, Data.Visits.VisitState.Planned), await First(app, Data.Visits.VisitState.Open));
        var forms = new List<(string Path, IHtmlFormElement Form)>();
        foreach (var path in AccessTests.Pages(planned, open).Where(x => x is not ("/sign-out" or "/sign-in")))
        {
            var answer = await mara.Get(path);
            if (answer.StatusCode != HttpStatusCode.OK || answer.Content.Headers.ContentType?.MediaType != "text/html")
                continue;
            var page = await Visitor.Parse(answer);
            forms.AddRange(
                page.QuerySelectorAll("main form[method=post]")
                    .OfType<IHtmlFormElement>()
                    .Select(x => (x.GetAttribute("action") is { Length: > 0 } to ? to : path, x))
            );
        }

        Assert.True(forms.Count > 60, $"{forms.Count}");
        await Gen.Select(Gen.Int[0, forms.Count - 1], Mutations.Edits)
            .SampleAsync(
                async drawn =>
                {
                    var (path, form) = forms[drawn.Item1];
                    var fields = Fields(form).ToList();
                    foreach (var edit in drawn.Item2.Where(_ => fields.Count > 0))
                    {
                        var at = (int)((long)edit.Place * fields.Count / 1_000_001);
                        if (fields[at].Key == "__RequestVerificationToken")
                            continue;
                        if (edit.What == 0)
                            fields.RemoveAt(at);
                        else if (edit.What == 1)
                            fields.Add(new(fields[at].Key, Mutations.Field(edit)));
                        else
                            fields[at] = new(fields[at].Key, Mutations.Field(edit));
                    }

                    if (path.Contains("sign-out", StringComparison.Ordinal))
                        return;
                    await Fits(
                        $"{path} {string.Join('&', fields.Where(x => !x.Key.StartsWith('_')).Select(x => $"{x.Key}={x.Value}"))}",
                        () => mara.Post(path, new FormUrlEncodedContent(fields))
                    );
                },
                time: Mutations.Seconds,
                threads: 1
            );
    }

    private static IEnumerable<KeyValuePair<string, string>> Fields(IHtmlFormElement form) =>
        form.QuerySelectorAll("input[name], select[name], textarea[name]")
            .Select(x => new KeyValuePair<string, string>(
                x.GetAttribute("name")!,
                x switch
                {
                    IHtmlInputElement y => y.Value,
                    IHtmlSelectElement y => y.Value ?? "",
                    _ => x.TextContent,
                }
            ));

    private static async Task<string> First(DemoApp app, Data.Visits.VisitState state) =>
        (await app.Ask(db => Task.FromResult(db.Visits.First(x => x.State == state).Id))).ToString(
            System.Globalization.CultureInfo.InvariantCulture
        );
}
