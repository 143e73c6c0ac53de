using System.Net;
using AngleSharp.Html.Dom;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Nippers.App;
using Nippers.App.Defects;
using Nippers.Core.Defects;
using Nippers.Data.Defects;
using Nippers.Tests;

namespace Nippers.Web.Tests;

/// <summary>A defect's page, as each of those who have to do with it sends its forms.</summary>
public sealed class DefectPageTests
{
    private static readonly string[] RepairFields = ["hours", "minutes", "parts"];

    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    /// <summary>Something that the operator found, and the people with browsers.</summary>
    private sealed class Found(DemoApp app, long id, Visitor ines, Visitor tam, Visitor wenna, Visitor mara) : IAsyncDisposable
    {
        public string Page => $"/defects/{id}";

        public Visitor Ines => ines;

        public Visitor Tam => tam;

        public Visitor Wenna => wenna;

        public Visitor Mara => mara;

        public Task<DefectRow> Row => app.Ask(db => db.Defects.AsNoTracking().SingleAsync(x => x.Id == id, Ct));

        public async Task<List<DefectAct>> Acts() =>
            await app.Ask(db => db.DefectEvents.Where(x => x.DefectId == id).OrderBy(x => x.Id).Select(x => x.Act).ToListAsync(Ct));

        public static async Task<Found> Of(DefectGrade grade, MachinePart on = MachinePart.Other, string words = "Bonnet is scratched")
        {
            var app = await DemoApp.Start();
            await using var scope = app.Services.CreateAsyncScope();
            var input = new DefectInput
            {
                Unit = "EX-03",
                Words = words,
                Grade = grade,
                On = on,
                LimitHours = grade == DefectGrade.Limit ? "20" : null,
            };
            var outcome = await scope.ServiceProvider.GetRequiredService<ReportDefect>().Run(input, new("Ines Varrow", Roles.Operator), Ct);
            Assert.True(outcome.Done, string.Join(", ", outcome.Refusals));
            return new(
                app,
                outcome.Value!.Id,
                await Visitor.As(app, "ines"),
                await Visitor.As(app, "tam"),
                await Visitor.As(app, "wenna"),
                await Visitor.As(app, "mara")
            );
        }

        public async Task Done(Visitor who, string handler, params (string, string)[] fields)
        {
            using var answer = await who.Submit(Page, Form(handler), fields);
            Assert.Equal(HttpStatusCode.Redirect, answer.StatusCode);
        }

        /// <summary>A form that is refused, and what is said beside which fields.</summary>
        public async Task<(IHtmlDocument Page, List<string> Wrong)> Refused(Visitor who, string handler, params (string, string)[] fields)
        {
            using var answer = await who.Submit(Page, Form(handler), fields);
            Assert.Equal(HttpStatusCode.UnprocessableEntity, answer.StatusCode);
            var page = await Visitor.Parse(answer);
            return (page, [.. page.QuerySelectorAll(Form(handler) + " .wrong").Select(x => x.Id!)]);
        }

        public async Task<bool> IsOffered(Visitor who, string handler) => (await who.Read(Page)).QuerySelector(Form(handler)) is not null;

        public async ValueTask DisposeAsync()
        {
            foreach (var visitor in (Visitor[])[ines, tam, wenna, mara])
                visitor.Dispose();
            await app.DisposeAsync();
        }

        private static string Form(string handler) => $"form[action*='handler={handler}' i]";
    }

    [Fact]
    public async Task A_grade_is_chosen_and_reasoned_and_what_was_typed_stands_until_both_are_there()
    {
        await using var found = await Found.Of(DefectGrade.Watch);
        Assert.False(await found.IsOffered(found.Ines, "grade"));

        var (page, wrong) = await found.Refused(found.Tam, "grade", ("reason", "Worse than it looked"));
        Assert.Equal(["grade-wrong"], wrong);
        Assert.Equal("Worse than it looked", page.QuerySelector("#reason-grade")!.TextContent);

        (page, wrong) = await found.Refused(found.Tam, "grade", ("grade", "Limit"), ("limitHours", "12"), ("limitDays", "soon"));
        Assert.Equal(["limitDays-wrong", "reason-wrong"], wrong.Order());
        Assert.Equal("12", page.QuerySelector("#limitHours-grade")!.GetAttribute("value"));
        Assert.Equal("soon", page.QuerySelector("#limitDays-grade")!.GetAttribute("value"));
        Assert.Equal(DefectGrade.Watch, (await found.Row).Grade);

        await found.Done(found.Tam, "grade", ("grade", "Limit"), ("limitHours", "12"), ("limitDays", ""), ("reason", "Drips by noon"));
        var row = await found.Row;
        Assert.Equal((DefectGrade.Limit, null), (row.Grade, row.LimitOn));
        Assert.Equal(DefectAct.GradedUp, (await found.Acts())[^1]);
    }

    [Fact]
    public async Task A_stop_is_graded_down_by_a_technicians_reason_and_a_planners_and_by_nobody_alone()
    {
        await using var found = await Found.Of(DefectGrade.Stop);
        Assert.False(await found.IsOffered(found.Tam, "grade"));
        Assert.Equal(["grade-wrong"], (await found.Refused(found.Tam, "askDown", ("reason", "It is dry now"))).Wrong);
        await found.Done(found.Tam, "askDown", ("grade", "Limit"), ("reason", "It is dry now"));
        Assert.Equal(DefectGrade.Stop, (await found.Row).Grade);
        Assert.False(await found.IsOffered(found.Tam, "decideDown"));
        Assert.False(await found.IsOffered(found.Wenna, "decideDown"));

        // A planner who disagrees leaves it as it is; one who agrees says until when.
        await found.Done(found.Mara, "decideDown", ("agreed", "false"), ("reason", "I saw it drip"));
        Assert.Equal((DefectGrade.Stop, null), ((await found.Row).Grade, (await found.Row).DownTo));
        await found.Done(found.Wenna, "askDown", ("grade", "Limit"), ("reason", "New clamp holds"));
        var (page, wrong) = await found.Refused(found.Mara, "decideDown", ("agreed", "true"), ("limitHours", "x"), ("reason", " "));
        Assert.Equal(["limitHours-wrong", "reason-wrong"], wrong.Order());
        Assert.Equal("x", page.QuerySelector("#limitHours-decide")!.GetAttribute("value"));
        await found.Done(found.Mara, "decideDown", ("agreed", "true"), ("limitHours", "8"), ("limitDays", "2"), ("reason", "Seen dry"));
        Assert.Equal(DefectGrade.Limit, (await found.Row).Grade);
        Assert.Equal([DefectAct.DownAsked, DefectAct.DownRefused, DefectAct.DownAsked, DefectAct.GradedDown], (await found.Acts())[^4..]);
    }

    [Fact]
    public async Task A_planner_who_asked_does_not_decide()
    {
        await using var found = await Found.Of(DefectGrade.Stop);
        await found.Done(found.Mara, "askDown", ("grade", "Watch"), ("reason", "Only paint"));
        Assert.False(await found.IsOffered(found.Mara, "decideDown"));
    }

    [Fact]
    public async Task A_limit_is_put_off_by_a_planner_with_a_reason()
    {
        await using var found = await Found.Of(DefectGrade.Limit);
        Assert.False(await found.IsOffered(found.Tam, "defer"));
        var before = (await found.Row).LimitHours;
        Assert.Equal(["reason-wrong"], (await found.Refused(found.Mara, "defer", ("limitHours", "40"), ("limitDays", "9"))).Wrong);
        await found.Done(found.Mara, "defer", ("limitHours", "40"), ("limitDays", "9"), ("reason", "Hose comes on Monday"));
        Assert.True((await found.Row).LimitHours > before);
        Assert.Equal(DefectAct.Deferred, (await found.Acts())[^1]);
    }

    [Fact]
    public async Task A_stop_that_is_repaired_is_returned_by_another_or_sent_back()
    {
        await using var found = await Found.Of(DefectGrade.Stop);
        var (page, wrong) = await found.Refused(found.Tam, "repair", ("words", ""), ("minutes", "40"), ("parts", "hose"), ("hours", "abc"));
        Assert.Equal(["hours-wrong", "words-wrong"], wrong.Order());
        Assert.Equal(["abc", "40", "hose"], RepairFields.Select(x => page.QuerySelector("#" + x)!.GetAttribute("value")));
        await found.Done(found.Tam, "repair", ("words", "Hose renewed"), ("minutes", "40"));
        Assert.Equal(DefectState.Repaired, (await found.Row).State);
        Assert.False(await found.IsOffered(found.Tam, "return"));
        Assert.False(await found.IsOffered(found.Ines, "return"));

        await found.Done(found.Wenna, "return", ("returned", "false"), ("returnWords", "Still wet at the nipple"));
        Assert.Equal(DefectState.Open, (await found.Row).State);
        await found.Done(found.Tam, "repair", ("words", "Nipple renewed"));
        Assert.Equal(["returnWords-wrong"], (await found.Refused(found.Wenna, "return", ("returned", "true"))).Wrong);
        await found.Done(found.Wenna, "return", ("returned", "true"), ("returnWords", "Ran it for ten minutes"));
        var row = await found.Row;
        Assert.Equal((DefectState.Closed, "Wenna Pask"), (row.State, row.ReturnedBy));
    }

    [Fact]
    public async Task What_never_was_is_voided_by_who_said_it_and_anothers_stop_by_two()
    {
        await using var found = await Found.Of(DefectGrade.Stop);
        Assert.Equal(["reason-wrong"], (await found.Refused(found.Tam, "void")).Wrong);
        await found.Done(found.Tam, "void", ("reason", "It was rain"));
        Assert.Equal(DefectState.Open, (await found.Row).State);
        Assert.False(await found.IsOffered(found.Tam, "decideVoid"));

        await found.Done(found.Wenna, "decideVoid", ("agreed", "false"), ("voidWords", "It is oil"));
        Assert.Equal((DefectState.Open, null), ((await found.Row).State, (await found.Row).VoidAskedBy));
        await found.Done(found.Tam, "void", ("reason", "It was rain, look again"));
        Assert.Equal(["voidWords-wrong"], (await found.Refused(found.Wenna, "decideVoid", ("agreed", "true"))).Wrong);
        await found.Done(found.Wenna, "decideVoid", ("agreed", "true"), ("voidWords", "Wiped it dry: nothing came"));
        Assert.Equal(DefectState.Voided, (await found.Row).State);
    }

    [Fact]
    public async Task Who_found_it_takes_a_mild_one_out_himself()
    {
        await using var found = await Found.Of(DefectGrade.Watch);
        await found.Done(found.Ines, "void", ("reason", "Wrong machine"));
        Assert.Equal(DefectState.Voided, (await found.Row).State);
    }

    [Fact]
    public async Task Of_a_stop_it_is_said_who_was_told_and_who_sees_to_it()
    {
        await using var found = await Found.Of(DefectGrade.Stop);
        Assert.Equal(["whom-wrong"], (await found.Refused(found.Ines, "told", ("whom", ""))).Wrong);
        await found.Done(found.Ines, "told", ("whom", "Tam on the radio"));
        Assert.Equal(("Tam on the radio", "Ines Varrow"), ((await found.Row).ToldWhom, (await found.Row).ToldBy));
        Assert.False(await found.IsOffered(found.Ines, "acknowledge"));
        await found.Done(found.Tam, "acknowledge");
        Assert.Equal("yes", (await found.Tam.Read(found.Page)).QuerySelector("[data-acknowledged]")!.GetAttribute("data-acknowledged"));
        Assert.False(await found.IsOffered(found.Wenna, "acknowledge"));
    }

    [Fact]
    public async Task A_word_that_is_sent_twice_is_added_once_and_none_is_asked_for()
    {
        await using var found = await Found.Of(DefectGrade.Watch);
        Assert.Equal(["words-wrong"], (await found.Refused(found.Ines, "add", ("said", " "))).Wrong);
        var page = await found.Ines.Read(found.Page);
        for (var i = 0; i < 2; i++)
        {
            using var answer = await found.Ines.Submit(page, found.Page, "form[action*='handler=add' i]", ("said", "Wetter today"));
            Assert.Equal(HttpStatusCode.Redirect, answer.StatusCode);
        }

        Assert.Single(await found.Acts(), DefectAct.Said);
    }

    [Fact]
    public async Task Another_part_has_its_reason_and_what_steers_is_a_stop()
    {
        await using var found = await Found.Of(DefectGrade.Watch);
        var (page, wrong) = await found.Refused(found.Tam, "part", ("on", nameof(MachinePart.Steering)));
        Assert.Equal(["reason-wrong"], wrong);
        Assert.Equal(nameof(MachinePart.Steering), ((IHtmlSelectElement)page.QuerySelector("#on-change")!).Value);
        await found.Done(found.Tam, "part", ("on", nameof(MachinePart.Steering)), ("reason", "It is the steering hose"));
        Assert.Equal(MachinePart.Steering, (await found.Row).Part);
    }

    [Fact]
    public async Task A_reason_as_long_as_a_book_is_refused_and_still_there()
    {
        await using var found = await Found.Of(DefectGrade.Watch);
        var book = new string('m', Typed.LongestWords + 1);
        var (page, wrong) = await found.Refused(found.Tam, "void", ("reason", book));
        Assert.Equal(["reason-wrong"], wrong);
        Assert.Equal(book, page.QuerySelector("#reason-void")!.GetAttribute("value"));
        Assert.Equal(DefectState.Open, (await found.Row).State);
    }
}
