using Nippers.App.Defects;

namespace Nippers.Web.Hosting;

/// <summary>Reads uploaded photos, each only as far as it may be large, and encodes them before anybody's turn to write comes.</summary>
public static class PhotoUploads
{
    /// <summary>The bytes of each file; one that is too large is cut one byte above the limit, which the use case refuses.</summary>
    public static async Task<IReadOnlyList<byte[]>> Read(IReadOnlyList<IFormFile>? files, CancellationToken ct)
    {
        var read = new List<byte[]>();
        foreach (var file in files ?? [])
        {
            if (file.Length == 0)
                continue;
            var bytes = new byte[Math.Min(file.Length, Photos.LargestBytes + 1)];
            await using var stream = file.OpenReadStream();
            await stream.ReadExactlyAsync(bytes, ct);
            Photos.Encode(bytes);
            read.Add(bytes);
        }

        return read;
    }
}
