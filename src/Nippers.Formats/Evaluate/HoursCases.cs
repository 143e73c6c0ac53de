using System.Collections.Immutable;
using System.Globalization;
using System.Text.Json.Nodes;
using Nippers.Core;
using Nippers.Core.Hours;

namespace Nippers.Formats.Evaluate;

/// <summary>What use, meter and due cases have in common.</summary>
internal static class HoursCases
{
    public static ImmutableArray<Reading> Readings(CaseReader from) =>
        [.. from.List("readings").Select(x => new Reading(x.Instant("at"), x.Hours("hours"))).Order()];

    public static MeterRecord Record(CaseReader from) =>
        new(Readings(from), [], from.Number("plannedHoursPerDay", 0, 24), DateOnly.FromDateTime(DateTime.UnixEpoch), default);

    public static JsonNode? Dates(ProjectedDates? dates) =>
        dates is null
            ? null
            : new JsonObject
            {
                ["p10"] = Iso(dates.Early),
                ["p50"] = Iso(dates.Typical),
                ["p90"] = Iso(dates.Late),
            };

    public static string? Iso(DateOnly? date) => date?.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);

    public static void Write(JsonObject to, UsePerDay use, DateTimeOffset asOf)
    {
        to["hoursPerDay"] = use.HoursPerDay;
        to["sigma"] = use.Sigma;
        to["rateSigma"] = use.RateSigma;
        to["basis"] = WireName.Of(use.Basis);
        to["coveredDays"] = use.CoveredDays;
        to["hoursNow"] = use.HoursNow(asOf);
        to["stale"] = use.Stale;
    }
}

/// <summary>
/// Cases of rules 2: <c>{asOf, plannedHoursPerDay, readings}</c>. A worked case may keep its <c>expect</c>: then the
/// hours that it names are projected, else the usual steps.
/// </summary>
internal static class UseCases
{
    // What is projected when the case does not say: a little behind, and the usual tiers ahead.
    private static readonly double[] UsualSteps = [-5, 40, 260, 1500];

    public static JsonNode Evaluate(CaseReader given)
    {
        var record = HoursCases.Record(given);
        if (record.Readings.Length == 0)
            throw given.Fault("readings", "must hold at least one reading");
        var asOf = given.Instant("asOf");
        var use = UsePerDay.Estimate(record, asOf);
        var result = new JsonObject();
        HoursCases.Write(result, use, asOf);
        result["projections"] = new JsonArray([
            .. Targets(given, use)
                .Select(hours => (JsonNode)new JsonObject { ["hours"] = hours, ["dates"] = HoursCases.Dates(use.Project(hours, asOf)) }),
        ]);
        return result;
    }

    private static IEnumerable<double> Targets(CaseReader given, UsePerDay use) =>
        given.Has("expect") && given.Object("expect").Has("projections")
            ? given.Object("expect").List("projections").Select(x => x.Number("hours", 0, MeterHours.Max.Value))
            : UsualSteps.Select(step => use.Last.Hours.Value + step);
}

/// <summary>Cases of rules 1: <c>{now, plannedHoursPerDay, readings, enter: {at, hours}}</c>.</summary>
internal static class MeterCases
{
    public static JsonNode Evaluate(CaseReader given)
    {
        var enter = given.Object("enter");
        var judgement = ReadingJudge.Judge(HoursCases.Record(given), enter.Instant("at"), enter.Hours("hours"), given.Instant("now"));
        return new JsonObject
        {
            ["code"] = WireName.Of(judgement.Code),
            ["didYouMean"] = new JsonArray([.. judgement.DidYouMean.Select(hours => JsonValue.Create(hours.Value))]),
        };
    }
}
