using System.Net;
using Nippers.Data.Oil;
using Nippers.Web.Hosting;

namespace Nippers.Web.Tests;

/// <summary>What a laboratory's interface may do to us, and what we make of it.</summary>
public sealed class LabClientTests
{
    private static readonly LabRow Lab = new()
    {
        Name = "Sannet",
        Url = "http://lab.invalid",
        Token = "secret",
    };

    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    private sealed class Far(Func<HttpRequestMessage, Task<HttpResponseMessage>> answer) : HttpMessageHandler
    {
        protected override Task<HttpResponseMessage> SendAsync(HttpRequestMessage request, CancellationToken cancellationToken) =>
            answer(request);
    }

    private static async Task<(string? Text, string? Fault)> Ask(
        Func<HttpRequestMessage, Task<HttpResponseMessage>> answer,
        LabRow? lab = null
    )
    {
        using var http = new HttpClient(new Far(answer)) { MaxResponseContentBufferSize = 64 };
        var reply = await new LabClient(http).Ask(lab ?? Lab, 41, Ct);
        return (reply.Text, reply.Fault);
    }

    [Theory]
    [InlineData(HttpStatusCode.OK, "{}", null)]
    [InlineData(HttpStatusCode.Unauthorized, null, "labNoEntry")]
    [InlineData(HttpStatusCode.Forbidden, null, "labNoEntry")]
    [InlineData(HttpStatusCode.ServiceUnavailable, null, "labDown")]
    [InlineData(HttpStatusCode.NotFound, null, "labDown")]
    [InlineData(HttpStatusCode.Found, null, "labDown")]
    public async Task A_status_is_an_answer_or_a_fault(HttpStatusCode status, string? text, string? fault) =>
        Assert.Equal((text, fault), await Ask(_ => Task.FromResult(new HttpResponseMessage(status) { Content = new StringContent("{}") })));

    [Fact]
    public async Task One_that_is_slow_gone_or_endless_is_a_fault_and_never_thrown()
    {
        Assert.Equal((null, "labSlow"), await Ask(_ => throw new TaskCanceledException("timed out")));
        Assert.Equal((null, "labDown"), await Ask(_ => throw new HttpRequestException("no such host")));
        Assert.Equal(
            (null, "labDown"),
            await Ask(_ => Task.FromResult(new HttpResponseMessage(HttpStatusCode.OK) { Content = new StringContent(new string('x', 65)) }))
        );
        Assert.Equal(
            (null, "labDown"),
            await Ask(_ => throw new InvalidOperationException("no address"), new() { Name = "None", Url = "nowhere" })
        );
    }

    [Fact]
    public async Task A_person_who_stops_the_application_is_not_a_slow_laboratory()
    {
        using var stop = new CancellationTokenSource();
        using var http = new HttpClient(
            new Far(_ =>
            {
                stop.Cancel();
                throw new OperationCanceledException(stop.Token);
            })
        );
        await Assert.ThrowsAnyAsync<OperationCanceledException>(() => new LabClient(http).Ask(Lab, 0, stop.Token));
    }

    [Fact]
    public async Task A_list_goes_with_the_token_and_a_question_with_its_place()
    {
        var seen = new List<string>();
        async Task<HttpResponseMessage> Note(HttpRequestMessage request)
        {
            seen.Add(
                $"{request.Method} {request.RequestUri} {request.Headers.Authorization} {(request.Content is null ? "" : await request.Content.ReadAsStringAsync(Ct))}".TrimEnd()
            );
            return new(HttpStatusCode.OK) { Content = new StringContent("{}") };
        }

        using var http = new HttpClient(new Far(Note));
        await new LabClient(http).Send(Lab, """{"reference":"NIP-1"}""", Ct);
        await new LabClient(http).Ask(new() { Name = "Open", Url = "http://open.invalid" }, 7, Ct);
        Assert.Equal(
            [
                """POST http://lab.invalid/lab/v1/orders Bearer secret {"reference":"NIP-1"}""",
                "GET http://open.invalid/lab/v1/results?after=7",
            ],
            seen
        );
    }
}
