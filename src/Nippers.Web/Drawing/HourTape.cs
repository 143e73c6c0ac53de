using System.Collections.Immutable;
using System.Globalization;
using System.Text;
using Microsoft.AspNetCore.Html;
using Nippers.Core.Hours;
using Nippers.Core.Service;
using Nippers.Views.Text;

namespace Nippers.Web.Drawing;

/// <summary>What an hour tape shows.</summary>
/// <param name="Unit">The machine, for the tape's title.</param>
/// <param name="Now">Where the jaws bite, and how hours and dates are tied.</param>
/// <param name="Groups">Items that fall due together.</param>
/// <param name="PastWork">Life hours at which work was recorded.</param>
/// <param name="Back">Hours shown before now.</param>
/// <param name="Ahead">Hours shown after now.</param>
/// <param name="Big">The machine page's tape; else the strip of a list.</param>
public sealed record TapeInput(
    string Unit,
    MachineNow Now,
    ImmutableArray<DueGroup> Groups,
    IReadOnlyList<double> PastWork,
    double Back,
    double Ahead,
    bool Big
);

/// <summary>
/// The hour tape: a ruler of life hours above and the calendar below, tied by the machine's use per day. Pegs stand at
/// due hours, their windows are brackets, the spread of the date is a foot below, and the jaws bite at hours now.
/// Positions are shares of the width, so that it fits any width without its letters shrinking.
/// </summary>
public sealed class HourTape
{
    private const double MergeShare = 0.011;
    private const double LabelRoom = 0.035;
    private const double NameRoom = 0.045;
    private const int MostRepeats = 60;
    private static readonly int[] DaySteps = [7, 14, 28, 56, 91, 182, 364, 1820];

    private readonly TapeInput _input;
    private readonly Words _words;
    private readonly StringBuilder _svg = new(4096);
    private readonly double _from;
    private readonly double _to;
    private readonly Layout _at;

    private HourTape(TapeInput input, Words words)
    {
        _input = input;
        _words = words;
        _from = Math.Max(0, input.Now.Hours - input.Back);
        _to = input.Now.Hours + input.Ahead;
        _at = input.Big ? Layout.Big : Layout.Strip;
    }

    private sealed record Layout(int Height, int Top, int Bottom, int DateLine, double Major, double Minor, bool Counts)
    {
        public static readonly Layout Strip = new(58, 27, 41, 55, 100, 20, false);
        public static readonly Layout Big = new(142, 84, 106, 131, 50, 10, true);
    }

    private sealed record Peg(
        double Hours,
        DueStatus Status,
        int Count,
        double? Tier,
        double Window,
        ProjectedDates? Dates,
        bool Repeat,
        bool NoRecord = false
    );

    /// <summary>Draws a tape.</summary>
    public static IHtmlContent Draw(TapeInput input, Words words) => new HourTape(input, words).Draw();

    private HtmlString Draw()
    {
        var pegs = Pegs();
        _svg.Append(
            CultureInfo.InvariantCulture,
            $"<svg class=\"tape\" role=\"img\" height=\"{_at.Height}\" aria-labelledby=\"t-{Id} d-{Id}\"><title id=\"t-{Id}\">{Text(_words["Tape.Title", _input.Unit])}</title><desc id=\"d-{Id}\">{Text(Describe())}</desc>"
        );
        Ruler();
        Calendar();
        Feet(pegs);
        Past();
        foreach (var peg in pegs)
            Bracket(peg);
        Jaws();
        var named = Named(pegs);
        foreach (var peg in pegs.OrderBy(x => x.Status))
            Draw(peg, named.Contains(peg));
        _svg.Append("</svg>");
        return new(_svg.ToString());
    }

    private string Id => string.Concat(_input.Unit.Where(char.IsLetterOrDigit)) + (_input.Big ? "b" : "s");

    private List<Peg> Pegs()
    {
        var pegs = new List<Peg>();
        foreach (var group in _input.Groups)
        {
            if (HoursOf(group) is not { } hours || hours > _to)
                continue;
            pegs.Add(
                new(
                    hours,
                    group.Status,
                    group.Items.Length,
                    group.LongestInterval,
                    group.DueHours is null ? 0 : group.WindowHours,
                    group.Items[0].Projected,
                    false,
                    group.NoRecord
                )
            );
        }

        var repeats = _input
            .Groups.SelectMany(x => x.Items)
            .Where(x => x.Point.IntervalHours >= (_input.Big ? 50 : 100))
            .SelectMany(x => Repeats.Of(x.Point, _to).Take(MostRepeats).Select(at => (At: at, Tier: x.Point.IntervalHours)))
            .Where(x => x.At > _input.Now.Hours)
            .GroupBy(x => Math.Round(x.At, 1))
            .Select(g => new Peg(g.Key, DueStatus.NotDue, g.Count(), g.Max(x => x.Tier), 0, null, true));
        return Merge([.. pegs, .. repeats]);
    }

    /// <summary>Life hours at which a group stands: its own, or those that its date comes to by use per day.</summary>
    private double? HoursOf(DueGroup group)
    {
        if (group.NoRecord)
            return _input.Now.Hours;
        if (group.DueHours is { } hours)
            return hours;
        return group.DaysLeft is { } days && _input.Now.Use.HoursPerDay >= _input.Now.Use.Settings.LeastHoursPerDay
            ? _input.Now.Hours + days * _input.Now.Use.HoursPerDay
            : null;
    }

    /// <summary>Pegs that would stand in each other's way become one with the count of both.</summary>
    private List<Peg> Merge(List<Peg> pegs)
    {
        var room = (_to - _from) * MergeShare;
        var merged = new List<Peg>();
        foreach (var peg in pegs.OrderBy(x => Math.Max(x.Hours, _from)))
        {
            if (merged.Count > 0 && Math.Max(peg.Hours, _from) - Math.Max(merged[^1].Hours, _from) < room)
            {
                var other = merged[^1];
                var lead = Urgency(other).CompareTo(Urgency(peg)) >= 0 ? other : peg;
                merged[^1] = lead with
                {
                    Count = other.Count + peg.Count,
                    Tier = Greater(other.Tier, peg.Tier),
                    Window = Math.Max(other.Window, peg.Window),
                };
            }
            else
            {
                merged.Add(peg);
            }
        }

        return merged;

        static (DueStatus Status, bool First, int Count) Urgency(Peg peg) => (peg.Status, !peg.Repeat, peg.Count);
        static double? Greater(double? a, double? b) => a is null || b > a ? b : a;
    }

    /// <summary>Pegs whose tier is written above them: the most pressing first, and none in another's way.</summary>
    private HashSet<Peg> Named(List<Peg> pegs)
    {
        var named = new HashSet<Peg>();
        foreach (
            var peg in pegs.Where(x => !x.Repeat || x.Tier >= 250)
                .OrderByDescending(x => x.Status)
                .ThenBy(x => x.Repeat)
                .ThenByDescending(x => x.Count)
        )
        {
            if (!named.Any(x => Near(x.Hours, peg.Hours, NameRoom)))
                named.Add(peg);
        }

        return named;
    }

    private void Ruler()
    {
        var height = _at.Bottom - _at.Top;
        _svg.Append(CultureInfo.InvariantCulture, $"<rect class=\"t-ruler\" x=\"0\" y=\"{_at.Top}\" width=\"100%\" height=\"{height}\"/>");
        _svg.Append(
            CultureInfo.InvariantCulture,
            $"<rect class=\"t-past\" x=\"0\" y=\"{_at.Top + 0.5}\" width=\"{X(_input.Now.Hours)}\" height=\"{height - 1}\"/>"
        );
        var span = _to - _from;
        var step = span switch
        {
            > 3000 => 10,
            > 1400 => 5,
            > 700 => 2,
            _ => 1,
        };
        var (major, minor) = (_at.Major * step, _at.Minor * step);
        for (var hours = Math.Ceiling(_from / minor) * minor; hours <= _to; hours += minor)
        {
            var isMajor = Math.Abs(hours / major - Math.Round(hours / major)) < 1e-9;
            _svg.Append(
                CultureInfo.InvariantCulture,
                $"<line class=\"{(isMajor ? "t-tick-major" : "t-tick t-fine")}\" x1=\"{X(hours)}\" x2=\"{X(hours)}\" y1=\"{_at.Top}\" y2=\"{_at.Top + (isMajor ? height * 0.55 : 4):0.#}\"/>"
            );
            if (!isMajor || Near(hours, _input.Now.Hours, LabelRoom) || Share(hours) > 0.94)
                continue;
            var fine = Math.Abs(hours / (major * 2) - Math.Round(hours / (major * 2))) > 1e-9 ? " class=\"t-fine\"" : "";
            _svg.Append(
                CultureInfo.InvariantCulture,
                $"<text{fine} x=\"{X(hours)}\" dx=\"3\" y=\"{_at.Bottom - 4}\">{Words.Whole(hours)}</text>"
            );
        }
    }

    private void Calendar()
    {
        var now = _input.Now;
        if (now.Use.ParkedAt(now.Now) || now.Use.HoursPerDay < now.Use.Settings.LeastHoursPerDay)
        {
            _svg.Append(
                CultureInfo.InvariantCulture,
                $"<text class=\"t-date\" x=\"{X(now.Hours)}\" dx=\"16\" y=\"{_at.DateLine}\">{Text(_words[now.Use.ParkedAt(now.Now) ? "Tape.Parked" : "Tape.Idle"])}</text>"
            );
            return;
        }

        var days = (_to - now.Hours) / now.Use.HoursPerDay;
        var step = DaySteps.First(x => days / x <= (_at.Counts ? 9 : 3) || x == DaySteps[^1]);
        var monday = now.Today.AddDays(-(((int)now.Today.DayOfWeek + 6) % 7));
        for (var k = -(int)(days / step) - 2; k * step < days + step; k++)
        {
            var date = monday.AddDays(k * step);
            var hours = now.Hours + (date.DayNumber - now.Today.DayNumber) * now.Use.HoursPerDay;
            if (hours <= _from || hours >= _to)
                continue;
            _svg.Append(
                CultureInfo.InvariantCulture,
                $"<line class=\"t-day\" x1=\"{X(hours)}\" x2=\"{X(hours)}\" y1=\"{_at.Bottom - 4}\" y2=\"{_at.Bottom + 3}\"/>"
            );
            if (Near(hours, now.Hours, LabelRoom * 1.6) || Share(hours) is < 0.03 or > 0.95)
                continue;
            var fine = k % 2 != 0 ? " t-fine" : "";
            _svg.Append(
                CultureInfo.InvariantCulture,
                $"<text class=\"t-date{fine}\" text-anchor=\"middle\" x=\"{X(hours)}\" y=\"{_at.DateLine}\">{Text(_words.Date(date, now.Today))}</text>"
            );
        }
    }

    private void Feet(List<Peg> pegs)
    {
        if (!_at.Counts)
            return;
        var now = _input.Now;
        foreach (var peg in pegs.Where(x => x.Dates is not null && x.Hours > now.Hours))
        {
            var early = At(peg.Dates!.Early);
            var late = peg.Dates.Late is { } date ? At(date) : _to;
            if (early >= _to)
                continue;
            _svg.Append(
                CultureInfo.InvariantCulture,
                $"<rect class=\"t-foot\" x=\"{X(early)}\" y=\"{_at.Bottom + 4}\" height=\"6\" width=\"{Percent(Share(Math.Min(late, _to)) - Share(early))}\" rx=\"2\"/>"
            );
        }

        double At(DateOnly date) => Math.Max(now.Hours, now.Hours + (date.DayNumber - now.Today.DayNumber) * now.Use.HoursPerDay);
    }

    private void Past()
    {
        foreach (var hours in _input.PastWork.Where(x => x >= _from && x <= _input.Now.Hours))
        {
            _svg.Append(
                CultureInfo.InvariantCulture,
                $"<svg x=\"{X(hours)}\" y=\"{_at.Top}\" overflow=\"visible\"><path class=\"peg-done\" d=\"M-2 0v-7h4v7z\"/></svg>"
            );
        }
    }

    private void Bracket(Peg peg)
    {
        if (peg.Window <= 0 || peg.Hours < _from)
            return;
        var (left, right) = (Math.Max(_from, peg.Hours - peg.Window), Math.Min(_to, peg.Hours + peg.Window));
        var y = _at.Top - 4;
        _svg.Append(CultureInfo.InvariantCulture, $"<line class=\"t-bracket\" x1=\"{X(left)}\" x2=\"{X(right)}\" y1=\"{y}\" y2=\"{y}\"/>");
        foreach (var end in new[] { left, right })
            _svg.Append(
                CultureInfo.InvariantCulture,
                $"<line class=\"t-bracket\" x1=\"{X(end)}\" x2=\"{X(end)}\" y1=\"{y}\" y2=\"{_at.Top}\"/>"
            );
    }

    private void Jaws()
    {
        var s = _at.Counts ? 1.25 : 0.8;
        _svg.Append(
            CultureInfo.InvariantCulture,
            $"<svg x=\"{X(_input.Now.Hours)}\" overflow=\"visible\"><g transform=\"translate(0 {_at.Top + 3}) scale({s})\">{JawPath("t-jaws", 1)}</g><g transform=\"translate(0 {_at.Bottom - 3}) scale({s})\">{JawPath("t-jaws", -1)}</g></svg>"
        );
    }

    /// <summary>One jaw, its tip at the origin; up (1) or down (-1).</summary>
    public static string JawPath(string css, int side) =>
        side > 0
            ? $"<path class=\"{css}\" d=\"M0 0C-3-9-11-13-9-24Q0-17 9-24C11-13 3-9 0 0z\"/>"
            : $"<path class=\"{css}\" d=\"M0 0C-3 9-11 13-9 24Q0 17 9 24C11 13 3 9 0 0z\"/>";

    private void Draw(Peg peg, bool named)
    {
        var off = peg.Hours < _from;
        var height = PegHeight(peg.Status, peg.Count, _at.Counts);
        _svg.Append(
            CultureInfo.InvariantCulture,
            $"<svg x=\"{(off ? "8" : X(peg.Hours))}\" y=\"{_at.Top}\" overflow=\"visible\">{PegShape(peg.Status, height, peg.Repeat)}"
        );
        if (off)
            _svg.Append("<path class=\"peg-overdue\" d=\"M-9-6l-5 0 4-4M-14-6l4 4\" fill=\"none\" stroke-width=\"1.5\"/>");
        if (_at.Counts)
        {
            _svg.Append(
                CultureInfo.InvariantCulture,
                $"<text class=\"t-count{(peg.Repeat || !named ? " t-fine" : "")}\" text-anchor=\"middle\" y=\"{-height - 6}\">{peg.Count}</text>"
            );
            if (named)
                _svg.Append(
                    CultureInfo.InvariantCulture,
                    $"<text class=\"t-fine\" text-anchor=\"middle\" y=\"{-height - 20}\">{Text(peg.NoRecord ? _words["Left.NoRecord"] : peg.Tier is { } hours ? _words["Tape.Tier", Words.Whole(hours)] : _words["Tape.ByDate"])}</text>"
                );
        }

        _svg.Append("</svg>");
    }

    /// <summary>Height of a peg: by standing, and a little by how many items it holds.</summary>
    public static int PegHeight(DueStatus standing, int count, bool big)
    {
        var rest = standing switch
        {
            DueStatus.NotDue => 9,
            DueStatus.Coming => 16,
            _ => 19,
        };
        return (int)((rest + Math.Min(9, 2 * Math.Log2(Math.Max(1, count)))) * (big ? 1.15 : 0.85));
    }

    /// <summary>A peg standing on the origin: low and hollow, tall and hollow, solid, or solid with a broken foot.</summary>
    public static string PegShape(DueStatus standing, int height, bool guess = false)
    {
        var css = $"peg-shape peg-{standing.ToString().ToLowerInvariant()}{(guess ? " t-guess" : "")}";
        return standing == DueStatus.Overdue
            ? string.Create(CultureInfo.InvariantCulture, $"<path class=\"{css}\" d=\"M-3.5-7V-{height}h7V-9zM-2.5 0l4-1.5v-3l-4 1.5z\"/>")
            : string.Create(CultureInfo.InvariantCulture, $"<path class=\"{css}\" d=\"M-3.5 0V-{height}h7V0z\"/>");
    }

    private static readonly Dictionary<DueStatus, HtmlString> Icons = Enum.GetValues<DueStatus>()
        .ToDictionary(
            x => x,
            x => new HtmlString(
                $"<svg class=\"peg\" viewBox=\"-6 -21 12 22\" aria-hidden=\"true\" focusable=\"false\">{PegShape(x, x switch { DueStatus.NotDue => 9, DueStatus.Coming => 16, _ => 19 })}</svg>"
            )
        );

    /// <summary>The peg of a standing, small, to stand before its words.</summary>
    public static IHtmlContent Icon(DueStatus standing) => Icons[standing];

    private string Describe()
    {
        var now = _input.Now;
        var said = _input.Groups.Take(5).Select(group => Phrases.Left(group, _words));
        return _words["Tape.Desc", Words.Hours(now.Hours), Words.Hours(now.Use.HoursPerDay), string.Join(_words["Format.Semicolon"], said)];
    }

    private bool Near(double a, double b, double share) => Math.Abs(a - b) < (_to - _from) * share;

    private double Share(double hours) => Math.Clamp((hours - _from) / (_to - _from), 0, 1);

    private string X(double hours) => Percent(Share(hours));

    private static string Percent(double share) => (share * 100).ToString("0.##", CultureInfo.InvariantCulture) + "%";

    private static string Text(string text) => System.Text.Encodings.Web.HtmlEncoder.Default.Encode(text);
}
