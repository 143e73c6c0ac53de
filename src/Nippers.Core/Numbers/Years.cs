using System.Text.Json;
using System.Text.Json.Serialization;

namespace Nippers.Core.Numbers;

/// <summary>
/// The years that a record can be of. Outside of them a date was mistyped or made up, and reckoning with it would leave the
/// calendar.
/// </summary>
public static class Years
{
    /// <summary>The first.</summary>
    public const int First = 1950;

    /// <summary>The last.</summary>
    public const int Last = 2200;

    /// <summary>Whether a date can be one of a record.</summary>
    public static bool Hold(DateOnly date) => date.Year is >= First and <= Last;

    /// <summary>Whether an instant can be one of a record.</summary>
    public static bool Hold(DateTimeOffset at) => at.UtcTicks >= Earliest.UtcTicks && at.UtcTicks < End.UtcTicks;

    private static readonly DateTimeOffset Earliest = new(First, 1, 1, 0, 0, 0, TimeSpan.Zero);
    private static readonly DateTimeOffset End = new(Last + 1, 1, 1, 0, 0, 0, TimeSpan.Zero);

    /// <summary>Reads dates of messages; others are no message.</summary>
    public sealed class DateConverter : JsonConverter<DateOnly>
    {
        private const string Form = "yyyy-MM-dd";

        /// <inheritdoc />
        public override DateOnly Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
            reader.TokenType == JsonTokenType.String
            && DateOnly.TryParseExact(
                reader.GetString(),
                Form,
                System.Globalization.CultureInfo.InvariantCulture,
                System.Globalization.DateTimeStyles.None,
                out var date
            )
            && Hold(date)
                ? date
                : throw new JsonException();

        /// <inheritdoc />
        public override void Write(Utf8JsonWriter writer, DateOnly value, JsonSerializerOptions options) =>
            writer.WriteStringValue(value.ToString(Form, System.Globalization.CultureInfo.InvariantCulture));
    }

    /// <summary>Reads instants of messages; others are no message.</summary>
    public sealed class InstantConverter : JsonConverter<DateTimeOffset>
    {
        /// <inheritdoc />
        public override DateTimeOffset Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
            reader.TokenType == JsonTokenType.String && reader.TryGetDateTimeOffset(out var at) && Hold(at)
                ? at
                : throw new JsonException();

        /// <inheritdoc />
        public override void Write(Utf8JsonWriter writer, DateTimeOffset value, JsonSerializerOptions options) =>
            writer.WriteStringValue(value);
    }
}
