using Nippers.App.Oil;
using Nippers.Data.Oil;

namespace Nippers.App.Tests;

/// <summary>A line to a laboratory that answers what a test says.</summary>
public sealed class FakeLine : ILabClient
{
    /// <summary>Lists that were handed over.</summary>
    public List<string> Sent { get; } = [];

    /// <summary>Places asked from.</summary>
    public List<long> Asked { get; } = [];

    /// <summary>What goes wrong with everything; null for nothing.</summary>
    public string? Fault { get; set; }

    /// <summary>What it answers.</summary>
    public string Answer { get; set; } = """{"results":[],"cursor":0}""";

    public Task<LabReply> Send(LabRow lab, string order, CancellationToken ct)
    {
        if (Fault is null)
            Sent.Add(order);
        return Task.FromResult(new LabReply(Fault is null ? "" : null, Fault));
    }

    public Task<LabReply> Ask(LabRow lab, long cursor, CancellationToken ct)
    {
        Asked.Add(cursor);
        return Task.FromResult(new LabReply(Fault is null ? Answer : null, Fault));
    }
}
