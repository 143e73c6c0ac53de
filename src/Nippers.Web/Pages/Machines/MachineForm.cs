using Microsoft.AspNetCore.Mvc;
using Nippers.App.Kinds;
using Nippers.App.Machines;
using Nippers.Core.Service;
using Nippers.Data.Fleet;
using Nippers.Views.Text;
using Nippers.Web.Hosting;

namespace Nippers.Web.Pages.Machines;

/// <summary>What the form of a machine shows.</summary>
/// <param name="Input">What was typed.</param>
/// <param name="Choices">What can be chosen.</param>
/// <param name="Options">Options that decide something on a machine of this kind; the rest is offered apart.</param>
public sealed record MachineForm(MachineInput Input, MachineChoices Choices, IReadOnlySet<string> Options);

/// <summary>Some options as fields of the form.</summary>
public sealed record MachineOptionFields(IEnumerable<MachineOption> Options, IReadOnlyCollection<string> Chosen);

/// <summary>A machine as the form posts it.</summary>
public sealed class MachinePost
{
    public string? Unit { get; set; }
    public string? Kind { get; set; }
    public string? Make { get; set; }
    public string? Model { get; set; }
    public string? Serial { get; set; }
    public string? Note { get; set; }
    public string? Site { get; set; }
    public string? Program { get; set; }
    public History History { get; set; }
    public string? CommissionedOn { get; set; }
    public string? CommissionedHours { get; set; }
    public Duty Duty { get; set; }
    public string? PlannedHoursPerDay { get; set; }
    public string? CommissionedKm { get; set; }
    public string? PlannedKmPerDay { get; set; }
    public List<string> Options { get; set; } = [];
    public bool Retired { get; set; }
    public int Version { get; set; }
    public string? WalkList { get; set; }

    public MachineInput ToInput(string? oldUnit) =>
        new()
        {
            OldUnit = oldUnit,
            Version = Version,
            Unit = Unit,
            Kind =
                Kind is null ? KindFolders.All[0].Kind
                : MachineKind.TryParse(Kind, null, out var kind) ? kind
                : null,
            Make = Make,
            Model = Model,
            Serial = Serial,
            Note = Note,
            Site = Site,
            Program = Program,
            History = History,
            CommissionedOn = CommissionedOn,
            CommissionedHours = CommissionedHours,
            Duty = Duty,
            PlannedHoursPerDay = PlannedHoursPerDay,
            CommissionedKm = CommissionedKm,
            PlannedKmPerDay = PlannedKmPerDay,
            Options = Options,
            Retired = Retired,
            WalkList = WalkList,
        };
}

/// <summary>New machines and changed ones share their form.</summary>
public abstract class MachineFormPage(MachineList list, SaveMachine save, Words words) : NippersPage
{
    public MachineForm Form { get; protected set; } = null!;

    protected async Task Show(MachineInput input, CancellationToken ct) =>
        Form = new(input, await list.Choices(ct), await list.OptionsOf(input.Kind ?? MachineKind.Other, ct));

    protected async Task<IActionResult> Save(MachineInput input, CancellationToken ct)
    {
        var outcome = await save.Run(input, Actor, ct);
        if (outcome.Done)
            return Done(MachineUrls.One(outcome.Value!.Unit), words["Machine.Saved", outcome.Value.Unit]);
        await Show(input, ct);
        Refuse(outcome.Refusals);
        return Page();
    }
}
