using Microsoft.AspNetCore.Mvc;
using Nippers.App.Feeds;
using Nippers.App.Machines;
using Nippers.Data.Records;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Machines;

/// <summary>A machine: how it stands, its tape and what comes next; behind tabs its items, readings, record, and what it is.</summary>
public sealed class OneModel(MachineView view, FeedBook feeds, FeedCodes codes) : NippersPage
{
    /// <summary>How far ahead the tape can look, hours.</summary>
    public static IReadOnlyList<int> Aheads { get; } = [250, 600, 1200, 2400];

    public MachinePage Machine { get; private set; } = null!;

    /// <summary>What the overview shows besides; null on another part.</summary>
    public MachineOverview? Overview { get; private set; }

    public IReadOnlyDictionary<string, CompletionRow> LastDone { get; private set; } = new Dictionary<string, CompletionRow>();

    public MachineReadings? Readings { get; private set; }

    public MachineLog? Log { get; private set; }

    public IReadOnlyList<CompartmentView> Compartments { get; private set; } = [];

    /// <summary>What its feed says; null where it has none.</summary>
    public MachineFeed? Feed { get; private set; }

    /// <summary>Fault codes that its feed tells of, or that nobody has looked at.</summary>
    public IReadOnlyList<FeedCodeLine> Codes { get; private set; } = [];

    public int Ahead { get; private set; } = Aheads[1];

    /// <summary>The part that is shown; null: the overview.</summary>
    public string? Tab { get; private set; }

    public async Task<IActionResult> OnGet(string unit, string? tab, [FromQuery] int? ahead, CancellationToken ct)
    {
        Tab = tab;
        if (ahead is { } hours && Aheads.Contains(hours))
            Ahead = hours;
        var machine = await view.Run(unit, ct);
        if (machine is null)
            return NotFound();
        Machine = machine;
        switch (tab)
        {
            case Tabs.Items:
                LastDone = await view.LastDone(machine, ct);
                break;
            case Tabs.Readings:
                Readings = await view.Readings(machine, ct);
                break;
            case Tabs.Record:
                Log = await view.Log(machine, ct);
                break;
            case Tabs.About:
                Compartments = await view.Compartments(machine, ct);
                break;
            default:
                Overview = await view.Overview(machine, ct);
                if ((Feed = await feeds.Of(machine.Machine.Id, ct)) is not null)
                    Codes = await codes.Of(machine.Machine.Id, ct);
                break;
        }

        return Page();
    }
}
