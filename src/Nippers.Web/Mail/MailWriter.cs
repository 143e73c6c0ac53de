using System.Text;
using Microsoft.AspNetCore.Components;
using Microsoft.AspNetCore.Components.Web;
using Nippers.App.Defects;
using Nippers.App.Feeds;
using Nippers.App.Languages;
using Nippers.App.Mail;
using Nippers.App.Units;
using Nippers.Core.Oil;
using Nippers.Data.Mail;
using Nippers.Views.Text;
using Nippers.Web.Pages.Machines;

namespace Nippers.Web.Mail;

/// <summary>Writes messages in their readers' language and units, as text and as HTML.</summary>
public sealed class MailWriter(IServiceProvider services, ILoggerFactory logs, Words w) : IMailWriter
{
    public async Task<MailText> Write(MailDraft draft, string? address, DateOnly today)
    {
        using var units = PersonUnits.As(draft.To.Units);
        var language = AllLanguages.Find(draft.To.Language) ?? Language.English;
        AllLanguages.Use(language);
        var body = Body(draft, address, today) with { Language = language.Code };
        await using var renderer = new HtmlRenderer(services, logs);
        var html = await renderer.Dispatcher.InvokeAsync(async () =>
            (
                await renderer.RenderComponentAsync<MailLetter>(
                    ParameterView.FromDictionary(new Dictionary<string, object?> { [nameof(MailLetter.Body)] = body })
                )
            ).ToHtmlString()
        );
        return new(body.Subject, Plain(body), html);
    }

    private MailBody Body(MailDraft draft, string? address, DateOnly today)
    {
        var foot = w[draft.Turn is not null ? "Mail.FootList" : "Mail.Foot"];
        var footLink = draft.To.UserId is null || address is null ? null : address + "/mail";
        MailBody Of(string subject, string head, bool grave, string? warning, params IReadOnlyList<MailSection> sections) =>
            new(subject, "", head, grave, warning, sections, foot, footLink);
        return draft.Kind switch
        {
            MailKind.Stop or MailKind.StopAgain or MailKind.Worse or MailKind.Over => OfStop(draft, address, Of),
            MailKind.Ran => OfRun((RanThing)draft.Things[0], address, Of),
            MailKind.Sample => OfSample((SampleThing)draft.Things[0], address, today, Of),
            MailKind.Morning => Of(
                w.Plural("Mail.Morning", draft.Things.Count, w.Date(today)),
                w["Mail.MorningHead", w.Date(today)],
                draft.Things.Any(x => x is StopThing),
                draft.Things.Any(x => x is StopThing) ? w["Mail.MustNotAll"] : null,
                [.. Sections(draft.Things, address, today)]
            ),
            _ => Of(w["Mail.Trial"], w["Mail.Trial"], false, null, new MailSection(null, [new(w["Mail.TrialSays"], [], "", address)])),
        };
    }

    private MailBody OfStop(MailDraft draft, string? address, Func<string, string, bool, string?, IReadOnlyList<MailSection>, MailBody> of)
    {
        var stop = (StopThing)draft.Things[0];
        var words = w.Say(stop.Words);
        if (draft.Kind == MailKind.Over)
        {
            var head = w["Mail.Over." + stop.End, stop.Unit];
            var facts = Facts(stop);
            if (stop.EndedBy.Length > 0)
                facts.Add((w["Mail.EndedBy"], stop.EndedBy));
            return of(
                head,
                head,
                false,
                w[stop.StillStopped ? "Mail.StillStopped" : "Mail.OverAsk", stop.Unit],
                [new(null, [Block(words, facts, address, $"/defects/{stop.Defect}", "Mail.SeeDefect", stop.Defect)])]
            );
        }

        var subject = draft.Kind switch
        {
            MailKind.StopAgain => "Mail.StopAgain",
            MailKind.Worse => "Mail.Worse",
            _ => "Mail.Stop",
        };
        var known = Facts(stop);
        if (stop.Worse is { Length: > 0 } worse)
            known.Insert(0, (w["Mail.Now"], worse));
        if (draft.Turn > 0)
            known.Add((w["Mail.ToldBefore"], stop.Told is { Count: > 0 } told ? string.Join(w["Format.Comma"], told) : w["Mail.Nobody"]));
        return of(
            w[subject, stop.Unit, words],
            w[subject, stop.Unit, words],
            true,
            w["Mail.MustNot", stop.Unit],
            [
                new(
                    null,
                    [
                        Block(
                            w["Mail.MachineAt", stop.Unit, stop.Machine, stop.Site],
                            known,
                            address,
                            $"/defects/{stop.Defect}",
                            draft.Turn is null ? "Mail.SeeDefect" : "Mail.Acknowledge",
                            stop.Defect
                        ),
                    ]
                ),
            ]
        );
    }

    private List<(string Name, string Value)> Facts(StopThing stop)
    {
        var zone = TimeZoneInfo.FindSystemTimeZoneById(stop.Zone);
        return
        [
            (w["Mail.Place"], w.Place(stop.Place)),
            (w["Mail.What"], w.Say(stop.Words)),
            (
                w["Mail.FoundBy"],
                stop.By switch
                {
                    DefectClocks.ClockName => w["Mail.Clock"],
                    FeedIntake.Name => w["Mail.Feed"],
                    var by => by,
                }
            ),
            (w["Mail.At"], w.Time(stop.At, zone)),
            (w["Mail.Site"], stop.Site),
        ];
    }

    private MailBody OfRun(RanThing ran, string? address, Func<string, string, bool, string?, IReadOnlyList<MailSection>, MailBody> of)
    {
        var head = w["Mail.Ran." + ran.Though, ran.Unit];
        return of(
            head,
            head,
            true,
            w["Mail.RanAsk." + ran.Though, ran.Unit],
            [
                new(
                    null,
                    [
                        Block(
                            w["Mail.MachineAt", ran.Unit, ran.Machine, ran.Site],
                            [
                                (w["Mail.RanFor"], w["Mail.HoursOf", Words.Hours(ran.Hours)]),
                                (w["Mail.RanFrom"], w.Time(ran.From, TimeZoneInfo.FindSystemTimeZoneById(ran.Zone))),
                            ],
                            address,
                            MachineUrls.One(ran.Unit),
                            "Mail.SeeRan",
                            ran.Unit
                        ),
                    ]
                ),
            ]
        );
    }

    private MailBody OfSample(
        SampleThing sample,
        string? address,
        DateOnly today,
        Func<string, string, bool, string?, IReadOnlyList<MailSection>, MailBody> of
    )
    {
        var head = w["Mail.Sample", sample.Unit, w.Say(sample.Compartment), w.Of(sample.Verdict)];
        return of(
            head,
            head,
            sample.Verdict == Assessment.Critical,
            sample.Verdict == Assessment.Critical ? w["Mail.SampleStop", sample.Unit] : null,
            [new(null, [Sample(sample, address, today)])]
        );
    }

    private MailBlock Sample(SampleThing x, string? address, DateOnly today) =>
        Block(
            w["Mail.SampleOf", x.Unit, w.Say(x.Compartment), w.Of(x.Verdict)],
            [
                (w["Mail.Machine"], x.Machine),
                (w["Mail.Bottle"], x.Bottle),
                (w["Mail.TakenOn"], w.Date(x.On, today)),
                (w["Mail.Verdict"], x.SignedBy is { } by ? w["Mail.SignedBy", by] : w["Mail.NotSigned"]),
                (w["Mail.Site"], x.Site),
            ],
            address,
            $"/samples/{x.Sample}",
            "Mail.SeeSample",
            x.Bottle
        );

    private IEnumerable<MailSection> Sections(IReadOnlyList<MailThing> things, string? address, DateOnly today)
    {
        MailSection Of<T>(string head, Func<T, MailBlock> block) => new(w[head], [.. things.OfType<T>().Select(block)]);
        MailSection[] all =
        [
            Of<StopThing>("Mail.Stops", x =>
                Block(
                    w["Mail.Stop", x.Unit, w.Say(x.Words)],
                    [.. Facts(x).Where(f => f.Name != w["Mail.What"])],
                    address,
                    $"/defects/{x.Defect}",
                    "Mail.Acknowledge",
                    x.Defect
                )
            ),
            Of<LimitThing>("Mail.Limits", x =>
                Block(
                    w["Mail.Limit", x.Unit, w.Say(x.Words)],
                    [.. Left(x, today), (w["Mail.Site"], x.Site)],
                    address,
                    $"/defects/{x.Defect}",
                    "Mail.SeeDefect",
                    x.Defect
                )
            ),
            Of<SampleThing>("Mail.Samples", x => Sample(x, address, today)),
            new(
                w["Mail.Walks"],
                [
                    .. things
                        .OfType<WalkThing>()
                        .GroupBy(x => (x.Unit, x.Site))
                        .Select(x =>
                            Block(
                                w[
                                    "Mail.Walk",
                                    x.Key.Unit,
                                    string.Join(w["Format.Comma"], x.Select(d => d.On).Order().Select(d => w.Date(d, today)))
                                ],
                                [(w["Mail.Site"], x.Key.Site)],
                                address,
                                MachineUrls.One(x.Key.Unit, Tabs.Walks),
                                "Mail.SeeMachine",
                                x.Key.Unit
                            )
                        ),
                ]
            ),
            Of<StockThing>("Mail.Stock", x =>
                Block(
                    w["Mail.StockLine", x.Number, w.Say(x.Name)],
                    [
                        (w["Mail.Needed"], w["Mail.NeededOf", x.Needed, x.Here]),
                        (w["Mail.FirstOn"], w.Date(x.First, today)),
                        (w["Mail.Site"], x.Site),
                    ],
                    address,
                    $"/parts/{Uri.EscapeDataString(x.Number)}",
                    "Mail.SeePart",
                    x.Number
                )
            ),
        ];
        return all.Where(x => x.Blocks.Count > 0);
    }

    private IEnumerable<(string Name, string Value)> Left(LimitThing limit, DateOnly today)
    {
        if (limit.On is { } on)
            yield return (w["Mail.LastDay"], w.Date(on, today));
        if (limit.Hours is { } hours)
            yield return (w["Mail.HoursLeft"], w["Mail.HoursOf", Words.Hours(Math.Max(0, hours))]);
    }

    private MailBlock Block(
        string title,
        IReadOnlyList<(string Name, string Value)> facts,
        string? address,
        string page,
        string link,
        object name
    ) => new(title, facts, address is null ? w["Mail.OpenAt", name] : w[link], address is null ? null : address + page);

    private static string Plain(MailBody body)
    {
        var text = new StringBuilder();
        text.AppendLine(body.Head);
        if (body.Warning is { } warning)
            text.AppendLine(warning);
        foreach (var section in body.Sections)
        {
            text.AppendLine();
            if (section.Head is { } head)
                text.AppendLine(head).AppendLine(new('-', Math.Min(head.Length, 60)));
            foreach (var block in section.Blocks)
            {
                text.AppendLine(block.Title);
                foreach (var (name, value) in block.Facts)
                    text.Append("  ").Append(name).Append(": ").AppendLine(value);
                if (block.LinkWords.Length > 0)
                    text.Append("  ").AppendLine(block.Link is { } link ? $"{block.LinkWords}: {link}" : block.LinkWords);
            }
        }

        text.AppendLine().AppendLine("-- ").Append(body.Foot);
        if (body.FootLink is { } foot)
            text.Append(' ').Append(foot);
        return text.AppendLine().ToString();
    }
}
