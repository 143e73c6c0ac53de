using Microsoft.AspNetCore.OpenApi;
using Microsoft.OpenApi;
using Nippers.Web.Hosting;

namespace Nippers.Web.Api;

/// <summary>What the interface's OpenAPI document says: the same as long as the program runs, so it is written once.</summary>
internal sealed class ApiDescription
{
    /// <summary>Name of the document.</summary>
    public const string Name = "v1";

    private readonly Lazy<Task<byte[]>> _text;

    public ApiDescription([FromKeyedServices(Name)] IOpenApiDocumentProvider documents) => _text = new(() => Write(documents));

    /// <summary>The document, JSON.</summary>
    public Task<byte[]> Text => _text.Value;

    private static async Task<byte[]> Write(IOpenApiDocumentProvider documents)
    {
        var document = await documents.GetOpenApiDocumentAsync();
        using var text = new MemoryStream();
        await document.SerializeAsJsonAsync(text, OpenApiSpecVersion.OpenApi3_1);
        return text.ToArray();
    }
}

/// <summary>Maps the document.</summary>
internal static class ApiDescriptions
{
    public static void MapDescription(this WebApplication app) =>
        app.MapGet($"/openapi/{ApiDescription.Name}.json", async (ApiDescription told) =>
                Results.Bytes(await told.Text, "application/json")
            )
            .RequireAuthorization(Policies.Log)
            .ExcludeFromDescription();
}
