using System.Collections.Immutable;

namespace Nippers.Core.Oil;

/// <summary>Finds the patterns that hold. The table stands in Tables/patterns.csv beside this file.</summary>
/// <remarks>
/// Rules 10. A condition reads: <c>Fe>=1</c> a limit grade, <c>Fe=0</c> or <c>Fe=2</c> exactly, <c>Fe>=half</c> and <c>Fe&lt;half</c>
/// against half the watch limit, <c>viscosity&lt;band</c> and <c>viscosity>band</c>, <c>fuel=none</c> not measured, <c>glycol</c> found,
/// <c>additives</c> wrong, <c>engine</c> a kind of place, <c>!coolant</c> another pattern above it does not hold. What was not
/// measured satisfies none of them.
/// </remarks>
public static class OilPatterns
{
    /// <summary>Stands among the items that a pattern asks for: whatever changes the fluid of its place.</summary>
    public const string ChangeOfFluid = "@fluid";

    private sealed record Line(
        string Code,
        Sureness Sure,
        Node When,
        Assessment Least,
        bool ActsAlways,
        ImmutableDictionary<OilKind, ImmutableArray<string>> Asks
    );

    private static readonly ImmutableArray<Line> Table = Read();

    /// <summary>Codes of all patterns.</summary>
    public static IEnumerable<string> Codes => Table.Select(x => x.Code);

    /// <summary>Codes of the service items that a pattern asks for at a kind of place, and <see cref="ChangeOfFluid"/>.</summary>
    public static ImmutableArray<string> AsksFor(string code, OilKind kind) => Of(code)?.Asks.GetValueOrDefault(kind, []) ?? [];

    /// <summary>Whether a pattern asks for its work as soon as it holds, not only when its evidence stands at the act limit.</summary>
    public static bool ActsAlways(string code) => Of(code)?.ActsAlways == true;

    /// <summary>The least that a sample is assessed as in which a pattern holds.</summary>
    public static Assessment Least(string code) => Of(code)?.Least ?? Assessment.Normal;

    private static Line? Of(string code) => Table.FirstOrDefault(x => x.Code == code);

    /// <summary>What a condition is held against.</summary>
    internal sealed record Facts(
        OilKind Kind,
        Measures Values,
        ImmutableArray<int?> Grades,
        LimitSet Limits,
        int ViscositySide,
        ImmutableArray<Measurand> WrongAdditives
    );

    internal static ImmutableArray<OilPattern> Of(Facts facts, ImmutableArray<OilFinding> findings)
    {
        var found = ImmutableArray.CreateBuilder<OilPattern>();
        var holds = new HashSet<string>(StringComparer.Ordinal);
        foreach (var line in Table)
        {
            var evidence = new List<Measurand>();
            if (!line.When.Holds(facts, holds, evidence))
                continue;
            holds.Add(line.Code);
            var distinct = evidence.Distinct().ToImmutableArray();
            found.Add(new(line.Code, distinct, Raised(line.Sure, distinct, facts, findings)));
        }

        return found.ToImmutable();
    }

    /// <summary>Two figures at the act limit, or one that also leapt, make it one step surer.</summary>
    private static Sureness Raised(Sureness sure, ImmutableArray<Measurand> evidence, Facts facts, ImmutableArray<OilFinding> findings)
    {
        var strong =
            evidence.Count(x => facts.Grades[(int)x] == 2) >= 2
            || evidence.Contains(Measurand.Glycol)
            || evidence.Any(x => facts.Grades[(int)x] >= 1 && findings.Any(y => y.Kind == FindingKind.Step && y.Measurand == x));
        return strong && sure < Sureness.Sure ? sure + 1 : sure;
    }

    private static ImmutableArray<Line> Read()
    {
        var lines = CoreTables.Read("patterns").ToList();
        var names = lines.Select(x => x[0]).ToHashSet(StringComparer.Ordinal);
        OilKind[] kinds = [OilKind.Engine, OilKind.Hydraulic, OilKind.Gear, OilKind.Transmission];
        return
        [
            .. lines.Select(x => new Line(
                x[0],
                Enum.Parse<Sureness>(x[1], ignoreCase: true),
                new Reader(x[2], names).Whole(),
                x[3] == "watch" ? Assessment.Watch : Assessment.Normal,
                x[4] == "always",
                kinds
                    .Select((kind, i) => (kind, Items: x[5 + i].Split(' ', StringSplitOptions.RemoveEmptyEntries).ToImmutableArray()))
                    .ToImmutableDictionary(y => y.kind, y => y.Items)
            )),
        ];
    }

    private abstract record Node
    {
        public abstract bool Holds(Facts facts, IReadOnlySet<string> patterns, List<Measurand> evidence);
    }

    private sealed record All(ImmutableArray<Node> Parts) : Node
    {
        public override bool Holds(Facts facts, IReadOnlySet<string> patterns, List<Measurand> evidence)
        {
            var own = new List<Measurand>();
            foreach (var part in Parts)
            {
                if (!part.Holds(facts, patterns, own))
                    return false;
            }

            evidence.AddRange(own);
            return true;
        }
    }

    /// <summary>Every part that holds adds its evidence.</summary>
    private sealed record Any(ImmutableArray<Node> Parts) : Node
    {
        public override bool Holds(Facts facts, IReadOnlySet<string> patterns, List<Measurand> evidence)
        {
            var held = false;
            foreach (var part in Parts)
                held |= part.Holds(facts, patterns, evidence);
            return held;
        }
    }

    private sealed record Test(Measurand? Evidence, Func<Facts, IReadOnlySet<string>, bool> Of) : Node
    {
        public override bool Holds(Facts facts, IReadOnlySet<string> patterns, List<Measurand> evidence)
        {
            if (!Of(facts, patterns))
                return false;
            if (Evidence is { } measurand)
                evidence.Add(measurand);
            return true;
        }
    }

    private sealed record WrongAdditive : Node
    {
        public override bool Holds(Facts facts, IReadOnlySet<string> patterns, List<Measurand> evidence)
        {
            evidence.AddRange(facts.WrongAdditives);
            return facts.WrongAdditives.Length > 0;
        }
    }

    private sealed class Reader(string text, IReadOnlySet<string> patterns)
    {
        private int _at;

        public Node Whole()
        {
            var node = AnyOf();
            return _at == text.Length ? node : throw Wrong();
        }

        private Node AnyOf() => Joined('|', AllOf, x => new Any(x));

        private Node AllOf() => Joined('&', One, x => new All(x));

        private Node Joined(char sign, Func<Node> part, Func<ImmutableArray<Node>, Node> join)
        {
            var parts = ImmutableArray.Create(part());
            while (Next(sign))
                parts = parts.Add(part());
            return parts.Length == 1 ? parts[0] : join(parts);
        }

        private Node One()
        {
            if (Next('('))
            {
                var inner = AnyOf();
                return Next(')') ? inner : throw Wrong();
            }

            return Next('!') ? Absent(Word()) : Condition(Word());
        }

        private Test Absent(string word)
        {
            if (!patterns.Contains(word))
                throw Wrong();
            return new(null, (_, held) => !held.Contains(word));
        }

        private Node Condition(string word)
        {
            if (word == "additives")
                return new WrongAdditive();
            if (word == "glycol")
                return new Test(Measurand.Glycol, (facts, _) => facts.Values[Measurand.Glycol] > 0);
            if (Enum.TryParse<OilKind>(word, ignoreCase: true, out var kind))
                return new Test(null, (facts, _) => facts.Kind == kind);
            var measurand = Measurands.Parse(word) ?? throw Wrong();
            var sign = Sign();
            var against = Word();
            return (sign, against) switch
            {
                (">=", "half") => new Test(measurand, (facts, _) => facts.Values[measurand] >= facts.Limits[measurand]?.Watch / 2),
                ("<", "half") => new Test(measurand, (facts, _) => facts.Values[measurand] < facts.Limits[measurand]?.Watch / 2),
                ("<", "band") => new Test(measurand, (facts, _) => facts.ViscositySide < 0),
                (">", "band") => new Test(measurand, (facts, _) => facts.ViscositySide > 0),
                (">=", "1") => new Test(measurand, (facts, _) => facts.Grades[(int)measurand] >= 1),
                ("=", "0") => new Test(measurand, (facts, _) => facts.Grades[(int)measurand] == 0),
                ("=", "none") => new Test(null, (facts, _) => facts.Values[measurand] is null),
                ("=", "2") => new Test(measurand, (facts, _) => facts.Grades[(int)measurand] == 2),
                _ => throw Wrong(),
            };
        }

        private bool Next(char sign)
        {
            Blanks();
            if (_at >= text.Length || text[_at] != sign)
                return false;
            _at++;
            return true;
        }

        private string Word() => Take(char.IsLetterOrDigit);

        private string Sign() => Take(x => x is '<' or '>' or '=');

        private string Take(Func<char, bool> belongs)
        {
            Blanks();
            var from = _at;
            while (_at < text.Length && belongs(text[_at]))
                _at++;
            return _at > from ? text[from.._at] : throw Wrong();
        }

        private void Blanks()
        {
            while (_at < text.Length && text[_at] == ' ')
                _at++;
        }

        private InvalidDataException Wrong() => new($"Pattern '{text}' can't be read at {_at}.");
    }
}
