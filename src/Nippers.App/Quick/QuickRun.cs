using Nippers.App.Defects;
using Nippers.App.Languages;
using Nippers.App.Oil;
using Nippers.App.Readings;
using Nippers.App.Today;
using Nippers.App.Walks;
using Nippers.Core.Defects;
using Nippers.Core.Quick;
using Nippers.Data;
using Nippers.Data.Defects;
using Nippers.Data.Records;

namespace Nippers.App.Quick;

/// <summary>What a quick line means now: the command, whether its unit exists, and how its hours would be judged.</summary>
public sealed record QuickReading(
    QuickCommand Command,
    bool UnitKnown,
    IReadOnlyList<string> NearUnits,
    ValidatedReading? Validated,
    ValidatedTopUp? TopUp = null,
    Refusal? Bottle = null
);

/// <summary>Understands a quick line before Enter, and does it after.</summary>
public sealed class QuickRun(NippersDb db, LogReading log, LogTopUp topUps, ReportDefect defects, SampleQueues tray)
{
    /// <summary>What the line means; nothing is kept.</summary>
    public async Task<QuickReading> Preview(string? line, CancellationToken ct)
    {
        var units = await db.Units(ct);
        var command = QuickLine.Parse(line, units, Said());
        var unit = command switch
        {
            QuickCommand.LogHours x => x.Unit,
            QuickCommand.OpenMachine x => x.Unit,
            QuickCommand.ReportDefect x => x.Unit,
            QuickCommand.TopUp x => x.Unit,
            _ => null,
        };
        var known = unit is not null && units.Contains(unit);
        var near = unit is null || known ? [] : NearestNames.Of(unit, units);
        var validated = known && command is QuickCommand.LogHours hours ? await log.Validate(Input(hours, null), ct) : null;
        var topUp =
            known && command is QuickCommand.TopUp litres
                ? await topUps.Validate(litres.Unit, litres.LitresText, litres.Compartment, ct)
                : null;
        return new(command, known, near, validated, topUp, command is QuickCommand.OpenBottle bottle ? await Wrong(bottle, ct) : null);
    }

    // Whoever types may not be whose language the screen has: the words of all of them count.
    private static QuickWords Said()
    {
        var languages = AllLanguages.All;
        return new(
            [.. QuickLine.English.Due, .. languages.SelectMany(x => x.DueWords)],
            [.. QuickLine.English.Defect, .. languages.SelectMany(x => x.DefectWords)]
        );
    }

    private async Task<Refusal?> Wrong(QuickCommand.OpenBottle bottle, CancellationToken ct)
    {
        if (bottle.Slip)
            return Refusals.BottleSlip(bottle.Code);
        var (sample, prepared, _) = await tray.Find(bottle.Code, ct);
        return sample is null && prepared is null ? Refusals.BottleUnknown("line", bottle.Code) : null;
    }

    /// <summary>Keeps the top-up of a line.</summary>
    public Task<Outcome<LoggedTopUp>> TopUp(QuickCommand.TopUp command, string? key, Actor actor, CancellationToken ct) =>
        topUps.Run(command.Unit, command.LitresText, command.Compartment, key, actor, ct);

    /// <summary>Reports the defect of a line, on the part that was tapped; its grade is set on its page.</summary>
    public Task<Outcome<DefectRow>> Report(
        QuickCommand.ReportDefect command,
        MachinePart? on,
        string? key,
        Actor actor,
        CancellationToken ct
    ) =>
        defects.Run(
            new()
            {
                Unit = command.Unit,
                Words = command.Words,
                On = on,
                Grade =
                    on is { } part && MachineParts.Floor(part, command.Words).Least == DefectGrade.Stop
                        ? DefectGrade.Stop
                        : DefectGrade.NextService,
                Key = key,
            },
            actor,
            ct
        );

    /// <summary>Logs the hours of a line.</summary>
    public Task<Outcome<LoggedReading>> Log(QuickCommand.LogHours command, string? key, Actor actor, CancellationToken ct) =>
        log.Run(Input(command, key), actor, ct);

    private static LogReadingInput Input(QuickCommand.LogHours command, string? key) =>
        new(command.Unit, command.HoursText, Source: ReadingSource.QuickLine, Key: key);
}
