using System.Buffers.Binary;
using System.Runtime.CompilerServices;
using NetVips;

namespace Nippers.App.Defects;

/// <summary>A photo as Nippers keeps it.</summary>
public sealed record EncodedPhoto(byte[] Whole, byte[] Small, int Width, int Height);

/// <summary>
/// Takes a photo in: looks at its head before decoding anything, turns it upright, makes it small enough, and writes
/// it anew as JPEG without what the camera said of the place and the person.
/// </summary>
public static class Photos
{
    /// <summary>Largest upload, bytes.</summary>
    public const int LargestBytes = 12 << 20;

    private const long MostPixels = 60_000_000;
    private const int WholeEdge = 1600;
    private const int SmallEdge = 320;
    private const int Quality = 82;

    private static readonly ConditionalWeakTable<byte[], Outcome<EncodedPhoto>> Known = [];

    /// <summary>
    /// Encodes a photo anew. The same upload is encoded once: who reads it in does so before anybody's turn to write comes, and the
    /// use case that keeps it then has it at once.
    /// </summary>
    /// <param name="bytes">The upload.</param>
    public static Outcome<EncodedPhoto> Encode(byte[] bytes) => Known.GetValue(bytes, Decode);

    /// <summary>
    /// Takes a photo from a file: one that Nippers wrote is kept as it is, so that it goes through any number of files unchanged. A
    /// picture that says more than its pixels, or is larger than Nippers keeps them, came from elsewhere and is encoded anew.
    /// </summary>
    public static Outcome<EncodedPhoto> Take(byte[] whole, byte[] small)
    {
        var (anew, little) = (Encode(whole), Encode(small));
        if (!anew.Done || !little.Done)
            return anew.Done ? little : anew;
        return IsBare(whole, WholeEdge) is var (width, height) && IsBare(small, SmallEdge) is not null
            ? Outcome<EncodedPhoto>.Of(new(whole, small, width, height))
            : anew;
    }

    // JPEG, ITU-T T.81, table B.1.
    private const byte Mark = 0xFF;
    private const byte FirstFrame = 0xC0;
    private const byte Huffman = 0xC4;
    private const byte End = 0xD9;
    private const byte Scan = 0xDA;
    private const byte Quantization = 0xDB;
    private const byte Restart = 0xDD;
    private const byte FirstRestarted = 0xD0;
    private const byte LastRestarted = 0xD7;
    private const byte Application = 0xE0;

    // Without a thumbnail of its own.
    private const int ShortApplication = 16;

    /// <summary>Width and height of a JPEG that holds nothing besides its pixels and ends where they end; null for any other.</summary>
    private static (int Width, int Height)? IsBare(ReadOnlySpan<byte> bytes, int edge)
    {
        (int Width, int Height)? size = null;
        var at = 2;
        while (bytes.Length >= at + 9 && bytes[0] == Mark && bytes[at] == Mark)
        {
            var length = BinaryPrimitives.ReadUInt16BigEndian(bytes[(at + 2)..]);
            switch (bytes[at + 1])
            {
                case Scan:
                    var scanned = bytes[(at + length)..];
                    return AfterScan(scanned) is var mark && mark == scanned.Length - 2 && scanned[^1] == End ? size : null;
                case FirstFrame:
                    size = (
                        BinaryPrimitives.ReadUInt16BigEndian(bytes[(at + 7)..]),
                        BinaryPrimitives.ReadUInt16BigEndian(bytes[(at + 5)..])
                    );
                    if (Math.Max(size.Value.Width, size.Value.Height) > edge)
                        return null;
                    break;
                case Application when length <= ShortApplication:
                case Huffman or Quantization or Restart:
                    break;
                default:
                    return null;
            }

            at += 2 + length;
        }

        return null;
    }

    // Of what is scanned: a mark that is only a byte of it, or where the decoder starts anew, is not its end.
    private static int AfterScan(ReadOnlySpan<byte> scanned)
    {
        for (var i = 0; i < scanned.Length - 1; i++)
        {
            if (scanned[i] == Mark && scanned[i + 1] is not (0 or (>= FirstRestarted and <= LastRestarted)))
                return i;
        }

        return -1;
    }

    private static Outcome<EncodedPhoto> Decode(byte[] bytes)
    {
        if (bytes.Length > LargestBytes)
            return Outcome<EncodedPhoto>.Refused(Refusals.PhotoTooLarge(LargestBytes >> 20));
        if (!LooksLikePhoto(bytes) || IsCutShort(bytes))
            return Outcome<EncodedPhoto>.Refused(Refusals.PhotoNotAPicture());
        try
        {
            using (var head = Image.NewFromBuffer(bytes, access: Enums.Access.Sequential))
            {
                // The head alone was read: a bomb says its size here, before a pixel is unpacked.
                if ((long)head.Width * head.Height > MostPixels)
                    return Outcome<EncodedPhoto>.Refused(Refusals.PhotoTooManyPixels(MostPixels / 1_000_000));
            }

            using var whole = Image.ThumbnailBuffer(bytes, WholeEdge, height: WholeEdge, size: Enums.Size.Down, failOn: Enums.FailOn.Error);
            using var flat = whole.HasAlpha() ? whole.Flatten(background: [255]) : whole.Copy();
            using var held = flat.CopyMemory();
            using var small = held.ThumbnailImage(SmallEdge, height: SmallEdge, size: Enums.Size.Down);
            return Outcome<EncodedPhoto>.Of(
                new(
                    held.JpegsaveBuffer(q: Quality, keep: Enums.ForeignKeep.None),
                    small.JpegsaveBuffer(q: Quality, keep: Enums.ForeignKeep.None),
                    held.Width,
                    held.Height
                )
            );
        }
        catch (VipsException)
        {
            return Outcome<EncodedPhoto>.Refused(Refusals.PhotoNotAPicture());
        }
    }

    /// <summary>
    /// A JPEG whose end never came: the decoder fills the rest with grey and calls it a picture. Thumbnails inside have an end of
    /// their own.
    /// </summary>
    private static bool IsCutShort(ReadOnlySpan<byte> bytes) =>
        bytes[0] == 0xFF && bytes.LastIndexOf((ReadOnlySpan<byte>)[0xFF, 0xD9]) < bytes.Length / 2;

    /// <summary>Only what phones take: JPEG, PNG, WebP. The library reads far more, which nobody needs here.</summary>
    private static bool LooksLikePhoto(ReadOnlySpan<byte> bytes) =>
        bytes.StartsWith((ReadOnlySpan<byte>)[0xFF, 0xD8, 0xFF])
        || bytes.StartsWith((ReadOnlySpan<byte>)[0x89, 0x50, 0x4E, 0x47, 0x0D, 0x0A, 0x1A, 0x0A])
        || (bytes.Length > 12 && bytes.StartsWith("RIFF"u8) && bytes[8..].StartsWith("WEBP"u8));
}
