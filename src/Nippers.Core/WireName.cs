using System.Collections.Frozen;
using System.Reflection;
using System.Text.Json.Serialization;

namespace Nippers.Core;

/// <summary>
/// The word of an enum's value in files, in the API and in worked cases: what its attribute says, else its name in camel case.
/// </summary>
/// <remarks>Screens may call a thing by a better word later; what was written stays readable.</remarks>
public static class WireName
{
    /// <summary>The word of a value.</summary>
    public static string Of<T>(T value)
        where T : struct, Enum => Names<T>.ByValue[value];

    /// <summary>The value of a word, in any case; null when there is none.</summary>
    public static T? Parse<T>(string? word)
        where T : struct, Enum => word is not null && Names<T>.ByWord.TryGetValue(word, out var value) ? value : null;

    private static class Names<T>
        where T : struct, Enum
    {
        public static readonly FrozenDictionary<T, string> ByValue = Enum.GetValues<T>().ToFrozenDictionary(x => x, NameOf);

        public static readonly FrozenDictionary<string, T> ByWord = ByValue.ToFrozenDictionary(
            x => x.Value,
            x => x.Key,
            StringComparer.OrdinalIgnoreCase
        );

        private static string NameOf(T value)
        {
            var name = value.ToString();
            return typeof(T).GetField(name)!.GetCustomAttribute<JsonStringEnumMemberNameAttribute>()?.Name
                ?? char.ToLowerInvariant(name[0]) + name[1..];
        }
    }
}
