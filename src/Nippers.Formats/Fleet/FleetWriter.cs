using System.Text;
using System.Text.Json;

namespace Nippers.Formats.Fleet;

/// <summary>Writes a fleet file record by record, one line each, without holding it in memory.</summary>
/// <remarks>Records must come section by section, in the order of docs/formats/fleet-file.md.</remarks>
public sealed class FleetWriter : IAsyncDisposable
{
    private const int Chunk = 1 << 16;

    private readonly Stream _stream;
    private readonly MemoryStream _buffer = new(Chunk * 2);
    private int _section = -1;
    private bool _first;

    public FleetWriter(Stream stream)
    {
        _stream = stream;
        Raw($"{{\"format\":\"{FleetSections.Format}\",\"version\":{FleetSections.Version}");
    }

    /// <summary>Writes one record.</summary>
    /// <exception cref="InvalidOperationException">Its section has been closed already.</exception>
    public async ValueTask Write(FleetRecord record)
    {
        var section = FleetSections.IndexOf(record);
        if (section < _section)
            throw new InvalidOperationException($"{FleetSections.Order[section]} must come before {FleetSections.Order[_section]}.");
        OpenUpTo(section);
        Raw(_first ? "\n" : ",\n");
        _first = false;
        _buffer.Write(JsonSerializer.SerializeToUtf8Bytes(record, record.GetType(), FleetJson.Plain));
        if (_buffer.Length >= Chunk)
            await Flush();
    }

    /// <summary>Closes all sections and the file; the stream stays open.</summary>
    public async ValueTask DisposeAsync()
    {
        OpenUpTo(FleetSections.Order.Length - 1);
        Raw("\n]}\n");
        await Flush();
        await _buffer.DisposeAsync();
    }

    private void OpenUpTo(int section)
    {
        while (_section < section)
        {
            if (_section >= 0)
                Raw("\n]");
            _section++;
            Raw($",\n\"{FleetSections.Order[_section]}\":[");
            _first = true;
        }
    }

    private void Raw(string text) => _buffer.Write(Encoding.UTF8.GetBytes(text));

    private async ValueTask Flush()
    {
        await _stream.WriteAsync(_buffer.GetBuffer().AsMemory(0, (int)_buffer.Length));
        _buffer.SetLength(0);
    }
}
