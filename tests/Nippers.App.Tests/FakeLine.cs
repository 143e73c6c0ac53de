using Nippers.App.Oil;
using Nippers.Data.Oil;
using Nippers.Formats.Lab;

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

    /// <summary>What it says to a list; null for that it has it.</summary>
    public string? Taken { get; set; }

    /// <summary>What it answers.</summary>
    public string Answer { get; set; } = """{"results":[],"cursor":0}""";

    /// <summary>Name of a laboratory at which the line itself breaks; null for none.</summary>
    public string? Breaks { get; set; }

    public Task<LabReply> Send(LabRow lab, string order, CancellationToken ct)
    {
        if (lab.Name == Breaks)
            throw new InvalidOperationException("The line broke.");
        if (Fault is null)
            Sent.Add(order);
        var bottles = LabMessages.ReadOrder(order)!.Samples.Count;
        return Task.FromResult(new LabReply(Fault is null ? Taken ?? $$"""{"accepted":{{bottles}}}""" : null, Fault));
    }

    public Task<LabReply> Ask(LabRow lab, long cursor, CancellationToken ct)
    {
        Asked.Add(cursor);
        return Task.FromResult(new LabReply(Fault is null ? Answer : null, Fault));
    }
}
