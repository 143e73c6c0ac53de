using System.Text.RegularExpressions;
using Microsoft.AspNetCore.StaticFiles;

namespace Nippers.Web.Phones;

/// <summary>
/// Serves the phone's build of the rules as it was packed when it was built: three megabytes instead of eight.
/// </summary>
public static partial class PackedFiles
{
    private const string Folder = "/gen/phone";
    private const string Packed = ".br";

    /// <summary>Leads a request for a file of the phone's build to its packed twin where the browser takes that.</summary>
    public static IApplicationBuilder UsePackedFiles(this IApplicationBuilder app, IWebHostEnvironment host) =>
        app.Use(
            (context, next) =>
            {
                var path = context.Request.Path;
                if (
                    path.StartsWithSegments(Folder)
                    && context.Request.Headers.AcceptEncoding.ToString().Contains("br", StringComparison.Ordinal)
                    && host.WebRootFileProvider.GetFileInfo(path.Value + Packed).Exists
                )
                    context.Request.Path = path.Value + Packed;
                return next();
            }
        );

    /// <summary>Types of files, those of the phone's build too.</summary>
    public static FileExtensionContentTypeProvider Types { get; } =
        new() { Mappings = { [".dat"] = "application/octet-stream", [Packed] = "application/octet-stream" } };

    /// <summary>
    /// Whether a file's name holds what its content comes to, as those of the phone's build and of the fonts do: another content has
    /// another name, and a browser need never ask again.
    /// </summary>
    public static bool IsNamedByContent(string name) => NamedByContent().IsMatch(name);

    [GeneratedRegex("""\.[0-9a-z]{10}\.[a-z0-9]+(\.br)?$""")]
    private static partial Regex NamedByContent();

    /// <summary>Says of a packed file what it is.</summary>
    public static void Prepare(StaticFileResponseContext file)
    {
        if (!file.File.Name.EndsWith(Packed, StringComparison.Ordinal))
            return;
        var headers = file.Context.Response.Headers;
        headers.ContentEncoding = "br";
        headers.Vary = "Accept-Encoding";
        if (Types.TryGetContentType(file.File.Name[..^Packed.Length], out var type))
            headers.ContentType = type;
    }
}
