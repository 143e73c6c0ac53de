using System.Diagnostics.CodeAnalysis;
using Nippers.App.Defects;
using Nippers.Formats.Fleet;

namespace Nippers.App.Exchange;

/// <summary>
/// Reads a fleet file ahead, with the pictures in it, before a turn to write is taken: everybody would wait for that. Of a file that
/// is larger than what is held in memory the rest is read as it is written.
/// </summary>
internal sealed class FleetAhead(FleetReader reader)
{
    private const int MostRecords = 200_000;
    private const long MostPictureBytes = 128L << 20;

    private readonly Queue<(FleetRecord Record, string Place)> _ahead = [];

    /// <summary>Section and place of the last record, for naming it in a message.</summary>
    public string Place { get; private set; } = "";

    /// <summary>Version that the file says it is.</summary>
    public int Version => reader.Version;

    /// <summary>Reads ahead.</summary>
    /// <exception cref="FleetFaultException">The file can't be read.</exception>
    public void Read(CancellationToken ct)
    {
        var pictures = 0L;
        while (_ahead.Count < MostRecords && pictures < MostPictureBytes && reader.TryRead(out var record))
        {
            ct.ThrowIfCancellationRequested();
            foreach (var (whole, small) in PicturesOf(record))
            {
                // What it comes to is found again when it is kept, or refused there with its place.
                _ = Photos.Take(whole, small);
                pictures += whole.Length + small.Length;
            }

            _ahead.Enqueue((record, reader.Place));
        }
    }

    /// <summary>The next record.</summary>
    /// <returns>False at the end of a whole file.</returns>
    /// <exception cref="FleetFaultException">The file can't be read.</exception>
    public bool TryRead([NotNullWhen(true)] out FleetRecord? record)
    {
        if (_ahead.TryDequeue(out var next))
        {
            (record, Place) = next;
            return true;
        }

        var found = reader.TryRead(out record);
        Place = reader.Place;
        return found;
    }

    private static IEnumerable<(byte[] Whole, byte[] Small)> PicturesOf(FleetRecord record) =>
        record switch
        {
            FleetDefect x => x.Photos.Select(y => (y.Whole, y.Small)),
            FleetWalk x => (x.Photos ?? []).Select(y => (y.Whole, y.Small)),
            FleetVisit x => (x.Steps ?? []).SelectMany(y => y.Photos ?? []).Select(y => (y.Whole, y.Small)),
            _ => [],
        };
}
