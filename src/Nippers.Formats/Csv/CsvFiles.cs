using System.Globalization;
using CsvHelper;
using CsvHelper.Configuration;

namespace Nippers.Formats.Csv;

/// <summary>How CSV that comes from outside is read: RFC 4180, a byte order mark and blanks around fields are fine.</summary>
internal static class CsvFiles
{
    /// <summary>Opens a text. A quote that is never closed, and the like, throws <see cref="BadDataException"/>.</summary>
    public static CsvReader Open(string text) =>
        new(
            new StringReader(text.TrimStart('\uFEFF')),
            new CsvConfiguration(CultureInfo.InvariantCulture)
            {
                TrimOptions = TrimOptions.Trim,
                DetectColumnCountChanges = false,
                MissingFieldFound = null,
                BadDataFound = args => throw new BadDataException(args.Field, args.RawRecord, args.Context),
            }
        );
}
