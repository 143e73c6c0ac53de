using Microsoft.EntityFrameworkCore;
using Nippers.Core.Walk;
using Nippers.Data;
using Nippers.Data.Programs;
using Nippers.Data.Walks;

namespace Nippers.App.Languages;

/// <summary>A fleet's own phrases as they were last read: each request says its words with them.</summary>
public sealed class PhrasesKept
{
    private readonly Lock _one = new();
    private OwnPhrases? _kept;
    private int _turn;

    /// <summary>Those that were read, null before and after something was entered; and the turn in which they are asked for.</summary>
    public (OwnPhrases? Kept, int Turn) Now
    {
        get
        {
            lock (_one)
                return (_kept, _turn);
        }
    }

    /// <summary>Keeps what was read, unless something was entered since its turn.</summary>
    public void Keep(OwnPhrases read, int turn)
    {
        lock (_one)
        {
            if (turn == _turn)
                _kept = read;
        }
    }

    /// <summary>Something was entered.</summary>
    public void Forget()
    {
        lock (_one)
            (_kept, _turn) = (null, _turn + 1);
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
    internal const int LongestText = 2_000;
    private const int MostAtOnce = 2_000;

    /// <summary>All that planners entered.</summary>
    public async ValueTask<OwnPhrases> Own(CancellationToken ct)
    {
        var (known, turn) = kept.Now;
        if (known is not null)
            return known;
        var rows = await db.Phrases.AsNoTracking().ToListAsync(ct);
        known = rows.Count == 0 ? OwnPhrases.None : new(rows.Select(x => (x.Language, x.Text, x.Said)));
        kept.Keep(known, turn);
        return known;
    }

    /// <summary>
    /// Texts that do not ship, with what is said for them in a language: those that lack it first, each once, in the order of the lists
    /// and programs in which they stand.
    /// </summary>
    public async Task<IReadOnlyList<OwnText>> Texts(Language language, CancellationToken ct)
    {
        var said = await db.Phrases.AsNoTracking().Where(x => x.Language == language.Code).ToDictionaryAsync(x => x.Text, x => x.Said, ct);
        var found = new Dictionary<string, OwnText>(StringComparer.Ordinal);
        var lists = await db
            .WalkListVersions.AsNoTracking()
            .Include(x => x.List)
            .Where(x => !x.List.Starter && x.Version == x.List.Version)
            .OrderBy(x => x.List.Name)
            .ToListAsync(ct);
        var programs = await db
            .Programs.AsNoTracking()
            .AsSplitQuery()
            .Include(x => x.Items)
            .Include(x => x.Compartments)
            .Where(x => !x.Starter)
            .OrderBy(x => x.Name)
            .ToListAsync(ct);
        foreach (var (where, text) in TextsOf(lists).Concat(TextsOf(programs)))
        {
            if (text.Length > 0 && !AllLanguages.Ships(text))
                found.TryAdd(text, new(text, where, said.GetValueOrDefault(text, "")));
        }

        return [.. found.Values.OrderBy(x => x.Said.Length > 0)];
    }

    /// <summary>The texts of walk lists, each with the list it stands in.</summary>
    internal static IEnumerable<(string Where, string Text)> TextsOf(IEnumerable<WalkListVersion> lists) =>
        lists.SelectMany(version =>
        {
            var (name, body) = (version.List.Name, ListJson.Read(version.Body));
            return body
                .Stations.Select(x => x.Name)
                .Concat(body.Postures.SelectMany(x => new[] { x.Name, x.Words, x.After, x.Caution }))
                .Concat(
                    body.Checks.SelectMany(x =>
                        x.Points.Select(WalkCheck.PointName)
                            .Concat(x.Faults.Select(f => f.Words))
                            .Prepend(x.Caution)
                            .Prepend(x.Truth)
                            .Prepend(x.Name)
                    )
                )
                .Prepend(name)
                .Select(x => (name, x));
        });

    /// <summary>The texts of programs, each with the program it stands in.</summary>
    internal static IEnumerable<(string Where, string Text)> TextsOf(IEnumerable<ServiceProgram> programs) =>
        programs.SelectMany(program =>
            program
                .Compartments.Select(x => x.Name)
                .Concat(program.Items.SelectMany(x => new[] { x.Name, x.Caution }))
                .Prepend(program.Name)
                .Select(x => (program.Name, x))
        );

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
                        db.Phrases.Add(
                            before[text] = new()
                            {
                                Language = code,
                                Text = text,
                                Said = said,
                            }
                        );
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
        kept.Forget();
        return outcome;
    }
}
