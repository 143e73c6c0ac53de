using System.Globalization;
using Nippers.App.Visits;
using Nippers.Core.Jobs;
using Nippers.Web.Pages.Machines;
using Nippers.Web.Text;

namespace Nippers.Web.Pages.Visits;

/// <summary>Addresses of visits and their cards.</summary>
public static class VisitUrls
{
    public static string One(long id, string? page = null) =>
        string.Create(CultureInfo.InvariantCulture, $"/visits/{id}{(page is null ? "" : "/" + page)}");

    public static string Step(long id, string code) => One(id, "steps/" + Uri.EscapeDataString(code));

    public static string Plan(string unit, DateOnly? on = null) =>
        MachineUrls.One(unit, "visit") + (on is { } day ? $"?on={day:yyyy-MM-dd}" : "");
}

/// <summary>How visits are said.</summary>
public static class VisitWords
{
    /// <summary>"500 h service", or how many items when none goes by hours.</summary>
    public static string Name(double? hours, int items, Words words) =>
        hours is > 0 and { } h ? words["Group.Service", Words.Whole(h)] : words.Plural("Visit.Items", items);

    /// <summary>Money with the workshop's sign.</summary>
    public static string Money(double money, string currency, Words words) =>
        words["Format.Money", currency, money.ToString("N0", CultureInfo.CurrentCulture)];

    /// <summary>"2 h 15 min".</summary>
    public static string Minutes(double minutes, Words words)
    {
        var whole = (int)Math.Ceiling(minutes);
        return whole < 60 ? words["Minutes.Short", whole] : words["Minutes.Long", whole / 60, whole % 60];
    }

    /// <summary>How far before or after its due an item is done; empty when on its day.</summary>
    public static string Early(ProposedItem item, Words words) =>
        item.CoveredBy is { } by ? words["Visit.CoveredBy", by]
        : item.Candidate.Care ? words["Visit.Care"]
        : item.Candidate.Waits ? words["Visit.NextService"]
        : item.Early == 0 ? words["Visit.OnItsDay"]
        : item.Early > 0 ? words.Plural("Visit.Early", item.Early)
        : words.Plural("Visit.Late", -item.Early);

    /// <summary>Why a visit's item lies outside its window; null when it does not.</summary>
    public static string? Outside(ProposedItem item, Words words) =>
        item.Outside == 0 ? null
        : item.Outside > 0 ? words.Plural("Visit.TooEarly", item.Outside)
        : words.Plural("Visit.TooLate", -item.Outside);

    /// <summary>What a kept answer says.</summary>
    public static string Answer(JobStep step, StepAnswer answer, Words words)
    {
        var said = new List<string>();
        if (answer.Level is { } level)
            said.Add(words["Step.LevelIs", Math.Round(level * 100)]);
        if (answer.Litres is { } litres)
            said.Add(words["Unit.Litres", Words.Whole(litres)]);
        if (answer.Look is { } look)
            said.Add(words.Of(look));
        if (answer.Metal is { } metal)
            said.Add(words.Of(metal));
        if (answer.Water is { } water)
            said.Add(words.Of(water));
        if (answer.Count is { } count)
            said.Add(words["Step.CountIs", count, step.Points]);
        if (answer.Figures is { } figures)
            said.Add(words["Step.FiguresAre", figures.Select(x => Words.Whole(x)).ToList()]);
        if (answer.Part is { } part)
            said.Add(part);
        if (answer.Mark is { } mark)
            said.Add(mark);
        if (answer.Name is { } name)
            said.Add(name);
        if (answer.Fault is { } fault)
            said.Add(fault);
        if (answer.Reason is { } reason)
            said.Add(reason);
        if (answer.Note is { } note)
            said.Add(note);
        return words["Format.Line", said];
    }
}
