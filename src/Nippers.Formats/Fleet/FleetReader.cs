using System.Diagnostics.CodeAnalysis;
using System.Text.Json;

namespace Nippers.Formats.Fleet;

/// <summary>A fleet file that can't be read; the code has its words with the screens.</summary>
public sealed class FleetFaultException(string code, params object?[] args) : Exception($"{code}: {string.Join(", ", args)}")
{
    public string Code { get; } = code;

    public IReadOnlyList<object?> Args { get; } = args;
}

/// <summary>Reads a fleet file record by record, without holding it in memory.</summary>
public sealed class FleetReader(Stream stream)
{
    private const int LargestRecord = 64 << 20;

    private byte[] _buffer = new byte[1 << 18];
    private int _start;
    private int _end;
    private bool _final;
    private JsonReaderState _state;
    private int _section = -1;
    private int _index;
    private string? _property;
    private bool _formatSeen;
    private bool _versionSeen;
    private bool _closed;

    /// <summary>Bytes read so far, for showing progress.</summary>
    public long BytesRead { get; private set; }

    /// <summary>Version that the file says it is; 0 before it was read.</summary>
    public int Version { get; private set; }

    /// <summary>Section and place of the last record, for naming it in a message: <c>readings[12]</c>.</summary>
    public string Place => _section < 0 ? "" : $"{FleetSections.Order[_section]}[{_index - 1}]";

    /// <summary>The next record.</summary>
    /// <returns>False at the end of a whole file.</returns>
    /// <exception cref="FleetFaultException">Not JSON, cut short, not a fleet file, newer than this program, or a record that is
    /// not as documented.</exception>
    public bool TryRead([NotNullWhen(true)] out FleetRecord? record)
    {
        record = null;
        while (!_closed)
        {
            try
            {
                if (Step(out record))
                    return true;
            }
            catch (JsonException)
            {
                // The end is only reached when more was needed: what breaks there was cut, what breaks before is wrong.
                throw new FleetFaultException(_final ? "fleetCut" : "fleetNotJson", BytesRead);
            }
        }

        if (!_formatSeen || !_versionSeen)
            throw new FleetFaultException("fleetNotFleet");
        return false;
    }

    /// <summary>Takes one token, or one whole record. False means: go on.</summary>
    private bool Step([NotNullWhen(true)] out FleetRecord? record)
    {
        record = null;
        var reader = new Utf8JsonReader(_buffer.AsSpan(_start, _end - _start), _final, _state);
        if (!reader.Read())
        {
            if (_final)
                throw new FleetFaultException("fleetCut", BytesRead);
            Fill();
            return false;
        }

        if (_section >= 0 && reader.CurrentDepth == 2 && reader.TokenType == JsonTokenType.StartObject)
        {
            var probe = reader;
            if (!probe.TrySkip())
            {
                Fill();
                return false;
            }

            record = Parse(_buffer.AsSpan(_start + (int)reader.TokenStartIndex, (int)(probe.BytesConsumed - reader.TokenStartIndex)));
            Commit(probe);
            return true;
        }

        Token(ref reader);
        Commit(reader);
        return false;
    }

    private void Token(ref Utf8JsonReader reader)
    {
        switch (reader.TokenType)
        {
            case JsonTokenType.PropertyName when reader.CurrentDepth == 1:
                _property = reader.GetString()!;
                break;
            case JsonTokenType.String when reader.CurrentDepth == 1 && _property == "format":
                _formatSeen = reader.GetString() == FleetSections.Format ? true : throw new FleetFaultException("fleetNotFleet");
                break;
            case JsonTokenType.Number when reader.CurrentDepth == 1 && _property == "version":
                if (!reader.TryGetInt32(out var version) || version < 1)
                    throw new FleetFaultException("fleetNotFleet");
                if (version > FleetSections.Version)
                    throw new FleetFaultException("fleetNewer", version, FleetSections.Version);
                (Version, _versionSeen) = (version, true);
                break;
            case JsonTokenType.StartArray when reader.CurrentDepth == 1:
                Open();
                break;
            case JsonTokenType.EndArray when reader.CurrentDepth == 1:
                _index = 0;
                break;
            case JsonTokenType.EndObject when reader.CurrentDepth == 0:
                _closed = true;
                break;
            case JsonTokenType.StartObject when reader.CurrentDepth == 0:
                break;
            default:
                throw new FleetFaultException("fleetNotFleet");
        }
    }

    private void Open()
    {
        if (!_formatSeen || !_versionSeen)
            throw new FleetFaultException("fleetNotFleet");
        var section = Array.IndexOf(FleetSections.Order, _property);
        if (section < 0)
            throw new FleetFaultException("fleetUnknownSection", _property);
        if (section <= _section)
            throw new FleetFaultException("fleetOrder", _property);
        _section = section;
        _index = 0;
    }

    private FleetRecord Parse(ReadOnlySpan<byte> json)
    {
        _index++;

        // A piece that is kept as it stands is not looked into here; what is no text would only show where it is used.
        if (!System.Text.Unicode.Utf8.IsValid(json))
            throw new FleetFaultException("fleetBadRecord", Place, "UTF-8");
        if (json.Contains((byte)'[') && HasHole(json))
            throw new FleetFaultException("fleetBadRecord", Place, "null");
        try
        {
            return (FleetRecord)JsonSerializer.Deserialize(json, FleetSections.ShapeOf(_section))!;
        }
        catch (JsonException wrong)
        {
            throw new FleetFaultException("fleetBadRecord", Place, wrong.Message);
        }
    }

    // Kept as they stand; who reads them looks into them.
    private static readonly string[] Pieces = ["card", "answer", "answers", "body"];

    /// <summary>Whether a list has a null among its values: no list of a record may, and the serializer lets it through.</summary>
    private static bool HasHole(ReadOnlySpan<byte> json)
    {
        var reader = new Utf8JsonReader(json);
        var lists = new Stack<bool>();
        while (reader.Read())
        {
            switch (reader.TokenType)
            {
                case JsonTokenType.StartArray or JsonTokenType.StartObject:
                    lists.Push(reader.TokenType == JsonTokenType.StartArray);
                    break;
                case JsonTokenType.EndArray or JsonTokenType.EndObject:
                    lists.Pop();
                    break;
                case JsonTokenType.PropertyName when IsPiece(reader):
                    reader.Skip();
                    break;
                case JsonTokenType.Null when lists.Peek():
                    return true;
            }
        }

        return false;
    }

    private static bool IsPiece(in Utf8JsonReader property)
    {
        foreach (var piece in Pieces)
        {
            if (property.ValueTextEquals(piece))
                return true;
        }

        return false;
    }

    private void Commit(in Utf8JsonReader reader)
    {
        _start += (int)reader.BytesConsumed;
        _state = reader.CurrentState;
    }

    private void Fill()
    {
        if (_start > 0)
        {
            Buffer.BlockCopy(_buffer, _start, _buffer, 0, _end - _start);
            _end -= _start;
            _start = 0;
        }

        if (_end == _buffer.Length)
        {
            if (_buffer.Length >= LargestRecord)
                throw new FleetFaultException("fleetBadRecord", Place, "too large");
            Array.Resize(ref _buffer, _buffer.Length * 2);
        }

        var read = stream.Read(_buffer, _end, _buffer.Length - _end);
        _final = read == 0;
        _end += read;
        BytesRead += read;

        // A byte order mark is forgiven.
        if (BytesRead == read && _buffer.AsSpan(0, _end).StartsWith("\uFEFF"u8))
            _start = 3;
    }
}
