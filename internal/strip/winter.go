package strip

import (
	"fmt"
	"html"
	"html/template"
	"math"
	"strings"
	"time"

	"smolder/internal/core/season"
	"smolder/internal/core/units"
	"smolder/internal/lang"
)

// A Winter is the wood left as a pile against the winter left: the pile as it went down
// and as it may go on, stacked from the ends of logs, and over it what the rest of the
// winter asks for.
type Winter struct {
	Start, End, Now time.Time
	Past            []float64 // J left at the beginning of each week since Start, the last of them now
	Weeks           []season.Week
	Asked           func(time.Time) float64 // J that is usually still asked for, from a moment to the end
	RunsOut         [3]time.Time
	Half            time.Time
	Zone            *time.Location
	Locale          lang.Locale
	Width           float64 // px; 0: as wide as a page
}

const (
	winterWidth  = 560.0
	winterHeight = 300.0
)

// Drawn makes the drawing for a page and for a phone.
func (w Winter) Drawn() Pair {
	narrow := w
	narrow.Width = Phone
	return Pair{Wide: w.SVG(), Narrow: narrow.SVG()}
}

// SVG draws it.
func (w Winter) SVG() template.HTML {
	width := w.Width
	if width == 0 {
		width = winterWidth
	}
	f := &drawn{left: 80, right: width - 12, top: 30, bottom: winterHeight - 40, from: w.Start, to: w.End}
	most := w.most()
	y := func(e float64) float64 { return f.bottom - (f.bottom-f.top)*math.Max(0, math.Min(1, e/most)) }
	f.p(`<svg class="column" viewBox="0 0 %.0f %.0f" width="%.0f" height="%.0f" role="img" aria-label="%s" xmlns="http://www.w3.org/2000/svg">`,
		width, winterHeight, width, winterHeight, html.EscapeString(w.Locale.T("The wood left against the winter left")))
	id := fmt.Sprintf("ends%.0f", width)
	f.p(`<defs><pattern id="%s" width="13" height="22.5" patternUnits="userSpaceOnUse" y="%.1f"><circle class="log-end" cx="6.5" cy="5.6" r="5.4"/><circle class="log-end" cx="0" cy="16.8" r="5.4"/><circle class="log-end" cx="13" cy="16.8" r="5.4"/></pattern></defs>`, id, f.bottom)
	w.pile(f, y, id)
	w.fan(f, y)
	w.asked(f, y)
	w.axes(f, y, most)
	w.marks(f)
	f.p(`</svg>`)
	return template.HTML(f.b.String()) //nolint:gosec // every text in it is escaped
}

// most is the energy at the top.
func (w Winter) most() float64 {
	most := w.Asked(w.Start)
	for _, e := range w.Past {
		most = math.Max(most, e)
	}
	if len(w.Weeks) > 0 {
		most = math.Max(most, w.Weeks[0].High)
	}
	return math.Max(1e6, most*1.04)
}

// past is the moment of a weekly value.
func (w Winter) past(i int) time.Time {
	at := w.Start.Add(time.Duration(i) * 7 * 24 * time.Hour)
	if i == len(w.Past)-1 || at.After(w.Now) {
		return w.Now
	}
	return at
}

// pile draws what was left and what most likely will be, filled with the ends of logs.
func (w Winter) pile(f *drawn, y func(float64) float64, pattern string) {
	var points []string
	add := func(at time.Time, e float64) { points = append(points, fmt.Sprintf("%.1f %.1f", f.x(at), y(e))) }
	for i, e := range w.Past {
		add(w.past(i), e)
	}
	for _, k := range w.Weeks {
		add(k.At, k.Middle)
	}
	if len(points) < 2 {
		return
	}
	first, last := w.Now, w.End
	if len(w.Past) > 0 {
		first = w.past(0)
	}
	if len(w.Weeks) == 0 {
		last = w.Now
	}
	line := strings.Join(points, "L")
	f.p(`<path fill="url(#%s)" d="M%.1f %.1fL%sL%.1f %.1fZ"/><path class="pen" d="M%s"/>`, pattern, f.x(first), f.bottom, line, f.x(last), f.bottom, line)
}

// fan draws between what the pile is left with in a cold winter and in a mild one.
func (w Winter) fan(f *drawn, y func(float64) float64) {
	if len(w.Weeks) == 0 || len(w.Past) == 0 {
		return
	}
	now := w.Past[len(w.Past)-1]
	high, low := []string{fmt.Sprintf("%.1f %.1f", f.x(w.Now), y(now))}, ""
	for _, k := range w.Weeks {
		high = append(high, fmt.Sprintf("%.1f %.1f", f.x(k.At), y(k.High)))
		low = fmt.Sprintf("L%.1f %.1f", f.x(k.At), y(k.Low)) + low
	}
	f.p(`<path class="fan-area" d="M%s%sZ"/>`, strings.Join(high, "L"), low)
}

// asked draws the winter left.
func (w Winter) asked(f *drawn, y func(float64) float64) {
	var points []string
	const n = 40
	for i := range n + 1 {
		at := w.Start.Add(time.Duration(float64(w.End.Sub(w.Start)) * float64(i) / n))
		points = append(points, fmt.Sprintf("%.1f %.1f", f.x(at), y(w.Asked(at))))
	}
	f.p(`<path class="pen-cat-line dashed" fill="none" d="M%s"/>`, strings.Join(points, "L"))
	at := w.Start.Add(w.End.Sub(w.Start) / 7)
	f.label(f.x(at)-4, y(w.Asked(at))+34, "start", "note halo", w.Locale.T("the winter left"))
}

func (w Winter) axes(f *drawn, y func(float64) float64, most float64) {
	kwh := most / 3.6e6
	step := math.Pow(10, math.Floor(math.Log10(kwh)))
	for kwh/step < 2.5 {
		step /= 2
	}
	for v := 0.0; v <= kwh; v += step {
		f.p(`<line class="tickline" x1="%.1f" x2="%.1f" y1="%.1f" y2="%.1f"/>`, f.left-4, f.left, y(v*3.6e6), y(v*3.6e6))
		said := w.Locale.Energy(units.Joule(v * 3.6e6))
		if v == 0 {
			said = "0"
		}
		f.label(f.left-7, y(v*3.6e6)+4, "end", "quiet num", said)
	}
	f.p(`<line class="base" x1="%.1f" x2="%.1f" y1="%.1f" y2="%.1f"/>`, f.left, f.right, f.bottom, f.bottom)
	month := time.Date(w.Start.Year(), w.Start.Month(), 1, 0, 0, 0, 0, w.Zone)
	for ; month.Before(w.End); month = month.AddDate(0, 1, 0) {
		x := f.x(month)
		f.p(`<line class="tickline" x1="%.1f" x2="%.1f" y1="%.1f" y2="%.1f"/>`, x, x, f.bottom, f.bottom+4)
		if next := f.x(month.AddDate(0, 1, 0)); next-x > 26 {
			f.label((x+next)/2, f.bottom+17, "middle", "quiet", w.Locale.Date(month, "Jan"))
		}
	}
}

// marks are today, half of the winter, and when the wood runs out should it.
func (w Winter) marks(f *drawn) {
	now := f.x(w.Now)
	f.p(`<line class="now" x1="%.1f" x2="%.1f" y1="%.1f" y2="%.1f"/>`, now, now, f.top, f.bottom)
	f.label(now, f.top-8, "middle", "label", w.Locale.T("today"))
	if half := f.x(w.Half); math.Abs(half-now) > 8 {
		f.p(`<line class="tickline dashed" x1="%.1f" x2="%.1f" y1="%.1f" y2="%.1f"/>`, half, half, f.top+12, f.bottom)
		if math.Abs(half-now) > 70 {
			f.label(half, f.top+6, "middle", "note", w.Locale.T("half of it behind"))
		}
	}
	if w.RunsOut[1].IsZero() {
		return
	}
	a, b := f.x(w.RunsOut[0]), f.x(w.RunsOut[2])
	f.p(`<path class="runs-out" d="M%.1f %.1fv8M%.1f %.1fH%.1fM%.1f %.1fv8"/>`, a, f.bottom-4, a, f.bottom, b, b, f.bottom-4)
	f.label(math.Min(f.right-76, math.Max(f.left+76, f.x(w.RunsOut[1]))), f.bottom+33, "middle", "note", w.Locale.T("gone, should it not last"))
}
