using Microsoft.EntityFrameworkCore;
using Nippers.App.Exchange;
using Nippers.App.Kinds;
using Nippers.App.Languages;
using Nippers.Data.Fleet;

namespace Nippers.App.Tests;

/// <summary>What is said for words of own kinds goes with them from fleet to fleet.</summary>
public sealed class PhraseTests
{
    private static readonly Actor Mara = new("Mara Quill", Roles.Planner);

    private static CancellationToken Ct => TestContext.Current.CancellationToken;

    private static async Task<byte[]> Written(Fleet fleet, MachineKind? kind)
    {
        using var file = new MemoryStream();
        await fleet.Do(
            async (ExportFleet x) =>
            {
                await (kind is { } one ? x.Kind(file, one, Ct) : x.Run(file, null, Ct));
                return true;
            }
        );
        return file.ToArray();
    }

    private static async Task<Fleet> WithOwnKind()
    {
        var fleet = await Fleet.Empty();
        Assert.True((await fleet.Do((KindCatalog x) => x.Copy(MachineKind.Of("wheel-loader"), "Log stacker", Mara, Ct))).Done);
        var saved = await fleet.Do(
            (PhraseBook x) => x.Save("es", [("Log stacker", "Apiladora de troncos"), ("Nobody's words", "Palabras de nadie")], Mara, Ct)
        );
        Assert.Equal(["Log stacker", "Nobody's words"], saved.Value!);
        return fleet;
    }

    [Fact]
    public async Task A_kinds_file_has_the_words_of_its_kind_and_no_others()
    {
        await using var from = await WithOwnKind();
        var file = await Written(from, MachineKind.Of("log-stacker"));
        await using var to = await Fleet.Empty();
        Assert.True((await to.Do((ImportFleet x) => x.Run(new MemoryStream(file), Mara, null, Ct))).Done);
        var row = await to.Ask(db => db.Phrases.SingleAsync(Ct));
        Assert.Equal(("es", "Log stacker", "Apiladora de troncos"), (row.Language, row.Text, row.Said));
        OwnPhrases.Use(await to.Do(async (PhraseBook x) => await x.Own(Ct)));
        Assert.Equal("Apiladora de troncos", AllLanguages.Find("es")!.Say("Log stacker"));
        Assert.Equal("Log stacker", Language.English.Say("Log stacker"));
    }

    [Fact]
    public async Task A_fleet_file_has_all_of_them_and_gives_itself_again()
    {
        await using var from = await WithOwnKind();
        var file = await Written(from, null);
        await using var to = await Fleet.Empty();
        Assert.True((await to.Do((ImportFleet x) => x.Run(new MemoryStream(file), Mara, null, Ct))).Done);
        Assert.Equal(2, await to.Ask(db => db.Phrases.CountAsync(Ct)));
        Assert.Equal(file, await Written(to, null));
    }

    [Fact]
    public async Task What_a_fleet_says_already_stays_when_a_file_says_otherwise()
    {
        await using var from = await WithOwnKind();
        var file = await Written(from, MachineKind.Of("log-stacker"));
        await using var to = await Fleet.Empty();
        await to.Do((PhraseBook x) => x.Save("es", [("Log stacker", "Cargadora de troncos")], Mara, Ct));
        Assert.True((await to.Do((ImportFleet x) => x.Run(new MemoryStream(file), Mara, null, Ct))).Done);
        Assert.Equal("Cargadora de troncos", (await to.Ask(db => db.Phrases.SingleAsync(Ct))).Said);
    }

    [Fact]
    public void What_was_entered_meanwhile_is_not_hidden_by_what_was_read_before()
    {
        var kept = new PhrasesKept();
        var (none, turn) = kept.Now;
        Assert.Null(none);
        kept.Forget();
        kept.Keep(OwnPhrases.None, turn);
        Assert.Null(kept.Now.Kept);
        kept.Keep(OwnPhrases.None, kept.Now.Turn);
        Assert.Same(OwnPhrases.None, kept.Now.Kept);
    }

    [Theory]
    [InlineData("tlh", "x", "noSuchLanguage")]
    [InlineData("es-MX", "x", "noSuchLanguage")]
    public async Task A_language_that_there_is_not_is_refused(string language, string said, string code)
    {
        await using var fleet = await Fleet.Empty();
        var outcome = await fleet.Do((PhraseBook x) => x.Save(language, [("Log stacker", said)], Mara, Ct));
        Assert.Equal(code, Assert.Single(outcome.Refusals).Code);
        Assert.Equal(0, await fleet.Ask(db => db.Phrases.CountAsync(Ct)));
    }
}
