using Microsoft.EntityFrameworkCore;
using Nippers.Data;
using Nippers.Data.Languages;

namespace Nippers.App.Languages;

/// <summary>A fleet's own phrases as they were last read: each request says its words with them.</summary>
public sealed class PhrasesKept
{
    private volatile OwnPhrases? _kept;

    /// <summary>Those that were read; null before, and after something was entered.</summary>
    public OwnPhrases? Kept
    {
        get => _kept;
        set => _kept = value;
    }
}

/// <summary>A text of a list, a program or a kind of this fleet.</summary>
/// <param name="Text">The text as it was typed.</param>
/// <param name="Where">The list or program it was found in first.</param>
/// <param name="Said">What a planner entered for it in the other language; empty where nobody has.</param>
public sealed record OwnText(string Text, string Where, string Said);

/// <summary>Words of a fleet's own lists, programs and kinds, and what is said for them in another language.</summary>
public sealed class PhraseBook(NippersDb db, UnitOfWork writes, PhrasesKept kept)
{
    private const int LongestText = 2_000;
    private const int MostAtOnce = 2_000;

    /// <summary>All that planners entered.</summary>
    public async ValueTask<OwnPhrases> Own(CancellationToken ct)
    {
        if (kept.Kept is { } known)
            return known;
        var rows = await db.Phrases.AsNoTracking().ToListAsync(ct);
        return kept.Kept = rows.Count == 0 ? OwnPhrases.None : new(rows.Select(x => (x.Language, x.Text, x.Said)));
    }

    /// <summary>
    /// Texts that do not ship, with what is said for them in a language: those that lack it first, each once, in the order of the lists
    /// and programs in which they stand.
    /// </summary>
    public async Task<IReadOnlyList<OwnText>> Texts(Language language, CancellationToken ct)
    {
        var said = await db.Phrases.AsNoTracking().Where(x => x.Language == language.Code).ToDictionaryAsync(x => x.Text, x => x.Said, ct);
        var found = new Dictionary<string, OwnText>(StringComparer.Ordinal);
        void Add(string where, params IEnumerable<string> texts)
        {
            foreach (var text in texts.Where(x => x.Length > 0 && !AllLanguages.Ships(x)))
                found.TryAdd(text, new(text, where, said.GetValueOrDefault(text, "")));
        }

        var lists = await db
            .WalkListVersions.AsNoTracking()
            .Include(x => x.List)
            .Where(x => !x.List.Starter && x.Version == x.List.Version)
            .OrderBy(x => x.List.Name)
            .ToListAsync(ct);
        foreach (var version in lists)
        {
            var (name, body) = (version.List.Name, Data.Walks.ListJson.Read(version.Body));
            Add(name, name);
            Add(name, body.Stations.Select(x => x.Name));
            Add(name, body.Postures.SelectMany(x => new[] { x.Name, x.Words, x.After, x.Caution }));
            foreach (var check in body.Checks)
            {
                Add(name, check.Name, check.Truth, check.Caution);
                Add(name, check.Points.Select(Core.Walk.WalkCheck.PointName));
                Add(name, check.Faults.Select(x => x.Words));
            }
        }

        var programs = await db
            .Programs.AsNoTracking()
            .AsSplitQuery()
            .Include(x => x.Items)
            .Include(x => x.Compartments)
            .Where(x => !x.Starter)
            .OrderBy(x => x.Name)
            .ToListAsync(ct);
        foreach (var program in programs)
        {
            Add(program.Name, program.Name);
            Add(program.Name, program.Compartments.Select(x => x.Name));
            Add(program.Name, program.Items.SelectMany(x => new[] { x.Name, x.Caution }));
        }

        return [.. found.Values.OrderBy(x => x.Said.Length > 0)];
    }

    /// <summary>Keeps what is said for texts in a language; an empty one is taken out again.</summary>
    /// <param name="code">The language.</param>
    /// <param name="phrases">Texts, and what is said for each.</param>
    /// <param name="actor">Who enters it.</param>
    /// <param name="ct">Cancels.</param>
    /// <returns>The texts for which something else is said now.</returns>
    public async Task<Outcome<IReadOnlyList<string>>> Save(
        string code,
        IReadOnlyList<(string Text, string? Said)> phrases,
        Actor actor,
        CancellationToken ct
    )
    {
        var outcome = await writes.Run(
            async () =>
            {
                if (AllLanguages.Find(code) is not { } language || language.Code != code)
                    return Outcome<IReadOnlyList<string>>.Refused(Refusals.NoSuchLanguage());
                var refusals = new List<Refusal>();
                if (phrases.Count > MostAtOnce)
                    refusals.Add(Refusals.TooManyChosen(MostAtOnce));
                var before = await db.Phrases.Where(x => x.Language == code).ToDictionaryAsync(x => x.Text, ct);
                var changed = new List<string>();
                foreach (var ((text, typed), at) in phrases.Select((x, i) => (x, i)))
                {
                    var said = Typed.Words(typed, $"said-{at}", LongestText, refusals);
                    var row = before.GetValueOrDefault(text);
                    if (said == (row?.Said ?? ""))
                        continue;
                    changed.Add(text);
                    if (row is null)
                        db.Phrases.Add(before[text] = new() { Language = code, Text = text, Said = said });
                    else if (said.Length == 0)
                        db.Phrases.Remove(row);
                    else
                        row.Said = said;
                    writes.Audit(actor, "phrase.save", code, null, new { text, row?.Said }, new { text, said });
                }

                if (refusals.Count > 0)
                    return Outcome<IReadOnlyList<string>>.Refused(refusals);
                await db.SaveChangesAsync(ct);
                return Outcome<IReadOnlyList<string>>.Of(changed);
            },
            ct
        );
        kept.Kept = null;
        return outcome;
    }
}
