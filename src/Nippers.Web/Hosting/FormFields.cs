using Nippers.App;

namespace Nippers.Web.Hosting;

/// <summary>What a form posted, as it was typed.</summary>
public static class FormFields
{
    /// <summary>The fields of the form of a request that posts one.</summary>
    public static TypedFields TypedFields(this HttpRequest request) =>
        new(request.Form.ToDictionary(x => x.Key, IReadOnlyList<string?> (x) => [.. x.Value], StringComparer.Ordinal));
}
