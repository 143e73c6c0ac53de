using System.Globalization;
using System.Text;
using System.Text.Encodings.Web;
using Microsoft.AspNetCore.Html;
using Nippers.App.Visits;
using Nippers.Core.Jobs;
using Nippers.Views.Text;

namespace Nippers.Web.Drawing;

/// <summary>
/// A job card over its time: the state of the machine above, hands below it, then what runs by itself; the jaws stand where the next
/// step is planned.
/// </summary>
public static class JobLanes
{
    private const int Width = 1000;
    private const int Left = 62;
    private const int Right = 6;
    private const int Top = 22;
    private const int Tall = 26;
    private const int Gap = 6;
    private const double LetterWidth = 7;
    private const int HalfHour = 30;

    // At most about this many times stand above the lanes.
    private const int MostTimes = 14;

    /// <summary>Draws a card's time.</summary>
    /// <param name="card">The card.</param>
    /// <param name="state">Where it stands.</param>
    /// <param name="words">Words.</param>
    public static IHtmlContent Draw(KeptCard card, JobState state, Words words)
    {
        if (card.Order.IsEmpty)
            return HtmlString.Empty;
        var steps = card.Steps.ToDictionary(x => x.Code, StringComparer.Ordinal);
        var times = card.Order.ToDictionary(x => x.Code, StringComparer.Ordinal);
        var total = Math.Max(1, card.Order.Max(x => x.End));
        var pen = new Pen((Width - Left - Right) / total);
        var waits = Waits(card, steps);
        var rows = 2 + (waits.Count == 0 ? 0 : waits.Max(x => x.Lane) + 1);
        var bottom = Top + rows * (Tall + Gap);
        Scale(pen, total, bottom);
        pen.Name(Top, words["Lanes.State"]);
        foreach (var (at, until, its) in States(card, times, total))
            pen.Bar(at, until, Top, "lane-" + its.ToString().ToLowerInvariant(), words.Of(its), words.Of(its));
        pen.Name(Top + Tall + Gap, words["Lanes.Hands"]);
        foreach (var at in card.Order.Where(x => steps.ContainsKey(x.Code)))
        {
            var step = steps[at.Code];
            var done = state.IsOpen(step) ? "" : " lane-done";
            pen.Bar(at.Start, at.Start + step.Minutes, Top + Tall + Gap, "lane-hands" + done, "", words.Say(step.Words));
        }

        if (waits.Count > 0)
            pen.Name(Top + 2 * (Tall + Gap), words["Lanes.Runs"]);
        foreach (var (step, from, until, lane) in waits)
        {
            pen.Bar(
                from,
                until,
                Top + (2 + lane) * (Tall + Gap),
                step.Opens.Length > 0 ? "lane-drain" : "lane-wait",
                step.Vessel,
                words.Say(step.Words)
            );
        }

        if (state.Next is { } next && times.TryGetValue(next.Code, out var now))
            pen.Jaws(now.Start, bottom);
        var about = HtmlEncoder.Default.Encode(words["Lanes.About", Math.Round(total)]);
        return new HtmlString(
            string.Create(
                CultureInfo.InvariantCulture,
                $"<svg class=\"lanes\" viewBox=\"0 0 {Width} {bottom}\" role=\"img\" aria-label=\"{about}\"><title>{about}</title>{pen}</svg>"
            )
        );
    }

    private static void Scale(Pen pen, double total, int bottom)
    {
        var every = HalfHour;
        while (total / every > MostTimes)
            every *= 2;
        for (var minute = 0; minute <= total; minute += every)
            pen.Time(minute, bottom);
    }

    /// <summary>The states of the machine, one after the other.</summary>
    private static IEnumerable<(double From, double Until, MachineState State)> States(
        KeptCard card,
        Dictionary<string, OrderedStep> times,
        double total
    )
    {
        var bands = CardBand.Of(card.Steps).Where(x => times.ContainsKey(x.Steps[0].Code)).ToList();
        for (var i = 0; i < bands.Count; i++)
        {
            var from = i == 0 ? 0 : times[bands[i].Steps[0].Code].Start;
            var until = i + 1 < bands.Count ? times[bands[i + 1].Steps[0].Code].Start : total;
            yield return (from, until, bands[i].State);
        }
    }

    /// <summary>What runs by itself, each in the first lane that is free.</summary>
    private static List<(JobStep Step, double From, double Until, int Lane)> Waits(KeptCard card, Dictionary<string, JobStep> steps)
    {
        var found = new List<(JobStep, double, double, int)>();
        var lanes = new List<double>();
        foreach (var at in card.Order)
        {
            if (!steps.TryGetValue(at.Code, out var step) || step.Wait <= 0)
                continue;
            var from = at.End - step.Wait;
            var lane = lanes.FindIndex(end => end <= from);
            if (lane < 0)
            {
                lane = lanes.Count;
                lanes.Add(0);
            }

            lanes[lane] = at.End;
            found.Add((step, from, at.End, lane));
        }

        return found;
    }

    private sealed class Pen(double scale)
    {
        private readonly StringBuilder _svg = new(4096);

        private double X(double minute) => Left + minute * scale;

        public void Name(int y, string name) =>
            _svg.Append(
                CultureInfo.InvariantCulture,
                $"<text class=\"lane-name\" x=\"0\" y=\"{y + Tall - 9}\">{HtmlEncoder.Default.Encode(name)}</text>"
            );

        public void Bar(double from, double until, int y, string style, string name, string about)
        {
            if (until <= from)
                return;
            var wide = Math.Max(1.5, (until - from) * scale - 1);
            _svg.Append(
                CultureInfo.InvariantCulture,
                $"<g><title>{HtmlEncoder.Default.Encode(about)}</title><rect class=\"{style}\" x=\"{X(from):0.#}\" y=\"{y}\" width=\"{wide:0.#}\" height=\"{Tall}\"/>"
            );
            if (name.Length > 0 && name.Length * LetterWidth + 8 < wide)
                _svg.Append(
                    CultureInfo.InvariantCulture,
                    $"<text class=\"lane-label\" x=\"{X(from) + 5:0.#}\" y=\"{y + Tall - 9}\">{HtmlEncoder.Default.Encode(name)}</text>"
                );
            _svg.Append("</g>");
        }

        public void Time(int minute, int bottom) =>
            _svg.Append(
                CultureInfo.InvariantCulture,
                $"<line class=\"lane-time\" x1=\"{X(minute):0.#}\" x2=\"{X(minute):0.#}\" y1=\"{Top - 4}\" y2=\"{bottom}\"/><text class=\"lane-clock\" x=\"{X(minute):0.#}\" y=\"12\">{minute / 60}:{minute % 60:00}</text>"
            );

        // Two jaws that close on the minute from above and below, as on the hour tape.
        public void Jaws(double minute, int bottom) =>
            _svg.Append(
                CultureInfo.InvariantCulture,
                $"<path class=\"lane-jaws\" d=\"M{X(minute) - 8:0.#} {Top - 8}h16l-8 10zM{X(minute) - 8:0.#} {bottom}h16l-8 -10z\"/><line class=\"lane-now\" x1=\"{X(minute):0.#}\" x2=\"{X(minute):0.#}\" y1=\"{Top}\" y2=\"{bottom}\"/>"
            );

        public override string ToString() => _svg.ToString();
    }
}
