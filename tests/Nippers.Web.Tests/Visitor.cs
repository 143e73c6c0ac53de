using System.Net;
using AngleSharp.Html.Dom;
using AngleSharp.Html.Parser;
using Nippers.Demo;
using Nippers.Tests;

namespace Nippers.Web.Tests;

/// <summary>Somebody with a browser that has no scripts: follows links, fills forms.</summary>
public sealed class Visitor(DemoApp app, CookieContainer cookies) : IDisposable
{
    private readonly HttpClient _client = new(new HttpClientHandler { CookieContainer = cookies, AllowAutoRedirect = false })
    {
        BaseAddress = app.Address,
    };

    public Visitor(DemoApp app)
        : this(app, new()) { }

    /// <summary>Somebody else who has got hold of the cookies as they are now.</summary>
    public Visitor Thief()
    {
        var copied = new CookieContainer();
        copied.Add(cookies.GetCookies(app.Address));
        return new(app, copied);
    }

    /// <summary>From now on says where its forms come from, as browsers do.</summary>
    public void SaysWhereFrom(string? origin = null) =>
        _client.DefaultRequestHeaders.Add("Origin", origin ?? app.Address.GetLeftPart(UriPartial.Authority));

    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    public static async Task<Visitor> As(DemoApp app, string userName, string? language = null)
    {
        var visitor = new Visitor(app);
        if (language is not null)
            visitor._client.DefaultRequestHeaders.Add("Accept-Language", language);
        var answer = await visitor.Submit("/sign-in", "form[action*=sign-in]", ("userName", userName), ("password", DemoAccounts.Password));
        Assert.Equal(HttpStatusCode.Redirect, answer.StatusCode);
        return visitor;
    }

    public Task<HttpResponseMessage> Get(string path) => _client.GetAsync(path, Ct);

    public async Task<IHtmlDocument> Read(string path) => await Parse(await Get(path));

    public static async Task<IHtmlDocument> Parse(HttpResponseMessage answer) =>
        new HtmlParser().ParseDocument(await answer.Content.ReadAsStringAsync(Ct));

    /// <summary>Fills a form of a page and sends it, hidden fields and token included.</summary>
    public async Task<HttpResponseMessage> Submit(string path, string form, params (string Name, string Value)[] fields) =>
        await Submit(await Read(path), path, form, fields);

    /// <summary>The same with a page that was read already.</summary>
    public async Task<HttpResponseMessage> Submit(IHtmlDocument page, string path, string form, params (string Name, string Value)[] fields)
    {
        var found = Assert.IsAssignableFrom<IHtmlFormElement>(page.QuerySelector(form));
        var values = new List<KeyValuePair<string, string>>();
        foreach (var input in found.QuerySelectorAll("input[name], select[name], textarea[name]"))
        {
            var name = input.GetAttribute("name")!;
            if (fields.Any(x => x.Name == name))
                continue;
            if (input is IHtmlInputElement { Type: "checkbox" or "radio", IsChecked: false })
                continue;
            values.Add(
                new(
                    name,
                    input switch
                    {
                        IHtmlInputElement x => x.Value,
                        IHtmlSelectElement x => x.Value ?? "",
                        _ => input.TextContent,
                    }
                )
            );
        }

        values.AddRange(fields.Select(x => new KeyValuePair<string, string>(x.Name, x.Value)));
        var action = found.GetAttribute("action") is { Length: > 0 } to ? to : path;
        return await _client.PostAsync(action, new FormUrlEncodedContent(values), Ct);
    }

    /// <summary>Sends a text as a file through a form of a page.</summary>
    public async Task<HttpResponseMessage> Upload(string path, string form, string fileName, string text)
    {
        var shown = (await Read(path)).QuerySelector(form)!;
        using var body = new MultipartFormDataContent();
        foreach (var hidden in shown.QuerySelectorAll("input[type=hidden][name]"))
            body.Add(new StringContent(hidden.GetAttribute("value") ?? ""), hidden.GetAttribute("name")!);
        body.Add(new StringContent(text), shown.QuerySelector("input[type=file]")!.GetAttribute("name")!, fileName);
        return await Post(shown.GetAttribute("action")!, body);
    }

    public Task<HttpResponseMessage> Post(string path, HttpContent? content = null) =>
        _client.PostAsync(path, content ?? new FormUrlEncodedContent([]), Ct);

    /// <summary>A request as a script makes it, with headers of its own.</summary>
    public Task<HttpResponseMessage> Send(
        HttpMethod method,
        string path,
        HttpContent? content,
        params (string Name, string Value)[] headers
    )
    {
        var request = new HttpRequestMessage(method, path) { Content = content };
        foreach (var (name, value) in headers)
            request.Headers.Add(name, value);
        return _client.SendAsync(request, Ct);
    }

    public void Dispose() => _client.Dispose();
}

/// <summary>One application for the tests that only look.</summary>
public sealed class AppFixture : IAsyncLifetime
{
    public DemoApp App { get; private set; } = null!;

    public async ValueTask InitializeAsync() => App = await DemoApp.Start();

    public ValueTask DisposeAsync() => App.DisposeAsync();
}
