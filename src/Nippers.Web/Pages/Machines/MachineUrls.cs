using Nippers.App.Readings;
using Nippers.Core.Hours;
using Nippers.Views.Text;

namespace Nippers.Web.Pages.Machines;

/// <summary>Addresses of a machine's pages.</summary>
public static class MachineUrls
{
    public static string One(string unit, string? page = null) =>
        $"/machines/{Uri.EscapeDataString(unit)}{(page is null ? "" : "/" + page)}";
}

/// <summary>The parts of a machine's page; each has its own address.</summary>
public static class Tabs
{
    public const string Overview = "overview";
    public const string Items = "items";
    public const string Readings = "readings";
    public const string Visits = "visits";
    public const string Walks = "walks";
    public const string Samples = "samples";
    public const string Filters = "filters";
    public const string Record = "record";
    public const string About = "about";

    /// <summary>All, in their order.</summary>
    public static IReadOnlyList<string> All { get; } = [Overview, Items, Visits, Walks, Samples, Filters, Readings, Record, About];
}

/// <summary>What is said after a reading was logged.</summary>
public static class LoggedWords
{
    public static string Of(LoggedReading logged, string unit, Words words) =>
        logged switch
        {
            { Repeat: true } => words["Logged.Repeat", unit],
            { ReadingId: null } => words["Logged.Duplicate", Words.Hours(logged.Shown.Value), unit],
            { Judgement.Code: ReadingCode.Check } => words["Logged.Unconfirmed", Words.Hours(logged.Shown.Value), unit],
            _ => words["Logged.Done", Words.Hours(logged.Shown.Value), unit],
        };

    /// <summary>Where an undo is sent; null when there is nothing to undo.</summary>
    public static string? Undo(LoggedReading logged, string unit) =>
        logged is { ReadingId: { } id, Repeat: false } ? MachineUrls.One(unit, $"readings/{id}/void") : null;
}
