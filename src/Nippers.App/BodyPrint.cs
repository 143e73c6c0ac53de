using System.Security.Cryptography;
using System.Text.Json;
using System.Text.Json.Serialization;

namespace Nippers.App;

/// <summary>
/// A short print of what a write asks for. A key stands for one thing that was asked: the same key with another print is not its
/// repeat, and answering it as one would lose what it brings.
/// </summary>
internal static class BodyPrint
{
    private static readonly JsonSerializerOptions Json = new()
    {
        Converters = { new BytesPrint(), new FieldsPrint() },
        DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
    };

    /// <summary>The print of a body: 64 hexadecimal digits. What kind of write it is, is part of it.</summary>
    /// <param name="body">All that the write was asked with, the machine too.</param>
    public static string Of(object body)
    {
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        hash.AppendData(System.Text.Encoding.UTF8.GetBytes(body.GetType().ToString()));
        hash.AppendData(JsonSerializer.SerializeToUtf8Bytes(body, body.GetType(), Json));
        return Convert.ToHexStringLower(hash.GetHashAndReset());
    }

    /// <summary>Photos are megabytes: their own print stands for them.</summary>
    private sealed class BytesPrint : JsonConverter<byte[]>
    {
        public override byte[] Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
            throw new NotSupportedException();

        public override void Write(Utf8JsonWriter writer, byte[] value, JsonSerializerOptions options) =>
            writer.WriteBase64StringValue(SHA256.HashData(value));
    }

    private sealed class FieldsPrint : JsonConverter<TypedFields>
    {
        public override TypedFields Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
            throw new NotSupportedException();

        public override void Write(Utf8JsonWriter writer, TypedFields value, JsonSerializerOptions options) =>
            JsonSerializer.Serialize(writer, value.ByName, options);
    }
}
