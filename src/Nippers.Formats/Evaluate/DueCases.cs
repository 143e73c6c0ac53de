using System.Text.Json.Nodes;
using Nippers.Core;
using Nippers.Core.Hours;
using Nippers.Core.Service;

namespace Nippers.Formats.Evaluate;

/// <summary>Cases of rules 3: <c>{asOf, school, machine, items, readings, completions, baselines}</c>.</summary>
internal static class DueCases
{
    public static JsonNode Evaluate(CaseReader given)
    {
        var asOf = given.Instant("asOf");
        var settings = new DueSettings(ReadBasis(given));
        var about = given.Object("machine");
        var machine = new DueMachine(
            about.Choice("history", "sinceNew", "unknown") == "unknown" ? History.Unknown : History.SinceNew,
            about.Date("commissionedOn"),
            about.Hours("commissionedHours"),
            about.Has("duty") && about.Choice("duty", "normal", "severe") == "severe" ? Duty.Severe : Duty.Normal
        );
        var parked = about.List("parked").Select(x => new ParkedSpan(x.Instant("from"), x.Has("to") ? x.Instant("to") : null));
        var record = new MeterRecord(
            HoursCases.Readings(given),
            [.. parked],
            about.Number("plannedHoursPerDay", 0, 24),
            machine.CommissionedOn,
            machine.CommissionedHours
        );
        var items = given.List("items").Select(ReadItem).ToList();
        var last = LastDone.Of(Done(given, "completions").Concat(Done(given, "baselines")));

        var now = new MachineNow(UsePerDay.Estimate(record, asOf), asOf);
        var result = new JsonObject();
        HoursCases.Write(result, now.Use, asOf);
        result["items"] = new JsonArray([
            .. items.Select(item =>
                (JsonNode)Write(
                    item,
                    now.Stand(DuePoint.Of(item, machine, last.GetValueOrDefault(item.Code), settings), settings.ComingDays)
                )
            ),
        ]);
        return result;
    }

    private static IntervalBasis ReadBasis(CaseReader from) =>
        from.Choice("school", "grid", "floating") == "grid" ? IntervalBasis.Fixed : IntervalBasis.Floating;

    private static IEnumerable<Completion> Done(CaseReader given, string field) =>
        given.List(field).Select(x => new Completion(x.Text("item"), x.Date("on"), x.Hours("hours")));

    private static ServiceItem ReadItem(CaseReader from) =>
        new(
            from.Text("code"),
            from.OptionalHours("everyHours"),
            from.Whole("everyMonths", 1, 1200),
            from.OptionalHours("firstAtHours"),
            from.Flag("once"),
            from.Has("dutyFactor") ? ReadFactor(from) : DutyFactor.Whole,
            from.Flag("strict"),
            from.Has("school") ? ReadBasis(from) : null
        );

    private static DutyFactor ReadFactor(CaseReader from) =>
        from.Number("dutyFactor", 0, 1) switch
        {
            1 => DutyFactor.Whole,
            0.5 => DutyFactor.Half,
            0.25 => DutyFactor.Quarter,
            _ => throw from.Fault("dutyFactor", "must be 0.5 or 0.25"),
        };

    private static JsonObject Write(ServiceItem item, ItemStatus stand)
    {
        var result = new JsonObject { ["item"] = item.Code, ["standing"] = WireName.Of(stand.Status) };
        if (stand.Status == DueStatus.Finished)
            return result;
        if (stand.NoRecord)
            result["reason"] = "noRecord";
        result["dueHours"] = stand.DueHours;
        result["dueOn"] = HoursCases.Iso(stand.DueOn);
        result["used"] = stand.Used;
        result["projected"] = HoursCases.Dates(stand.Projected);
        return result;
    }
}
