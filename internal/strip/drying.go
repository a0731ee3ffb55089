package strip

import (
	"fmt"
	"html"
	"html/template"
	"math"
	"strings"
	"time"

	"smolder/internal/core/drying"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
	"smolder/internal/lang"
)

// A Drying is how a stack has dried since it was split, what was read in it, and how it
// goes on: the middle with the range that four out of five such stacks lie in, and the
// span in which it comes to be ready.
type Drying struct {
	Past     []drying.Point // empty: nothing is told of it
	Ahead    []drying.Point
	Readings []drying.Reading
	Ready    drying.Date
	Split    time.Time // zero: not told; then Past begins with a reading
	Now      time.Time
	Zone     *time.Location
	Width    float64 // px; 0: beside a form
}

// Sizes of the drawing, px, and its scale of moisture.
const (
	dryingWidth  = 440.0
	dryingHeight = 300.0
	wettest      = 0.9 // of dry wood, at most at the top
	dryingPast   = 3 * 365 * 24 * time.Hour
)

// Drawn makes the drawing for a page and for a phone.
func (d Drying) Drawn(loc lang.Locale) Pair {
	narrow := d
	narrow.Width = Phone
	return Pair{Wide: d.SVG(loc), Narrow: narrow.SVG(loc)}
}

// drawn is a drawing under way: where its paper lies, and its scales.
type drawn struct {
	b                        strings.Builder
	left, right, top, bottom float64
	from, to                 time.Time
	most                     units.Fraction
}

func (f *drawn) p(format string, args ...any) { fmt.Fprintf(&f.b, format, args...) }

func (f *drawn) label(x, y float64, anchor, class, s string) {
	f.p(`<text x="%.1f" y="%.1f" text-anchor="%s" class="%s">%s</text>`, x, y, anchor, class, html.EscapeString(s))
}

func (f *drawn) x(t time.Time) float64 {
	at := f.left + (f.right-f.left)*t.Sub(f.from).Hours()/f.to.Sub(f.from).Hours()
	return math.Max(f.left, math.Min(f.right, at))
}

func (f *drawn) y(u units.Fraction) float64 {
	return f.bottom - (f.bottom-f.top)*math.Min(1, math.Max(0, float64(u/f.most)))
}

// SVG draws it.
func (d Drying) SVG(loc lang.Locale) template.HTML {
	width := d.Width
	if width == 0 {
		width = dryingWidth
	}
	f := &drawn{left: 46, right: width - 12, top: 22, bottom: dryingHeight - 40}
	f.from, f.to = d.span()
	f.most = d.most()
	f.p(`<svg class="column" viewBox="0 0 %.0f %.0f" width="%.0f" height="%.0f" role="img" aria-label="%s" xmlns="http://www.w3.org/2000/svg">`,
		width, dryingHeight, width, dryingHeight, html.EscapeString(loc.F("How the wood dries, of dry wood: %s now", loc.Percent(d.now().Middle, 0))))
	d.winters(f, loc)
	for u := units.Fraction(0); u <= f.most+0.001; u += f.every() {
		f.p(`<line class="tickline" x1="%.1f" x2="%.1f" y1="%.1f" y2="%.1f"/>`, f.left-4, f.left, f.y(u), f.y(u))
		f.label(f.left-7, f.y(u)+4, "end", "quiet num", loc.Percent(u, 0))
	}
	f.p(`<line class="base" x1="%.1f" x2="%.1f" y1="%.1f" y2="%.1f"/>`, f.left, f.right, f.bottom, f.bottom)
	f.p(`<line class="base" x1="%.1f" x2="%.1f" y1="%.1f" y2="%.1f"/>`, f.left, f.left, f.top, f.bottom)
	f.course(d.Past, "range", "pen pen-probe")
	f.course(d.Ahead, "fan-area", "fan-middle")
	d.readyLine(f, loc)
	d.read(f, loc)
	d.foot(f, loc)
	f.p(`</svg>`)
	return template.HTML(f.b.String()) //nolint:gosec // every text in it is escaped above
}

// span is the time that is drawn: what is told of, up to three years back, and as far
// ahead as it takes to be ready, a year at least.
func (d Drying) span() (from, to time.Time) {
	from, to = d.Now.AddDate(-1, 0, 0), d.Now.AddDate(1, 0, 0)
	if len(d.Past) > 0 {
		from = d.Past[0].At
	}
	if d.Now.Sub(from) > dryingPast {
		from = d.Now.Add(-dryingPast)
	}
	if latest := d.Now.AddDate(0, -2, 0); from.After(latest) {
		from = latest
	}
	if late := d.Ready.Late.AddDate(0, 1, 0); late.After(to) {
		to = late
	}
	if len(d.Ahead) > 0 && d.Ahead[len(d.Ahead)-1].At.Before(to) {
		to = d.Ahead[len(d.Ahead)-1].At
	}
	return from, to
}

// most is the moisture at the top: over all that is drawn, to a tenth.
func (d Drying) most() units.Fraction {
	high := units.Fraction(0.3)
	for _, points := range [][]drying.Point{d.Past, d.Ahead} {
		for _, p := range points {
			if d.Now.Sub(p.At) < dryingPast {
				high = max(high, p.Moisture.High)
			}
		}
	}
	for _, r := range d.Readings {
		if d.Now.Sub(r.At) < dryingPast {
			high = max(high, r.Mean+r.Spread)
		}
	}
	return units.Fraction(math.Min(wettest, math.Ceil(float64(high)*10+0.2)/10))
}

// every is how far the marks of moisture lie apart.
func (f *drawn) every() units.Fraction {
	if f.most <= 0.5 {
		return 0.1
	}
	return 0.2
}

func (d Drying) now() wood.Estimate {
	if len(d.Ahead) > 0 {
		return d.Ahead[0].Moisture
	}
	return wood.Estimate{}
}

// winters marks the half years in which wood hardly dries outdoors.
func (d Drying) winters(f *drawn, loc lang.Locale) {
	climate := drying.At(d.Now.Location())
	month := time.Date(f.from.Year(), f.from.Month(), 1, 0, 0, 0, 0, d.Zone)
	start := time.Time{}
	flush := func(until time.Time) {
		if start.IsZero() {
			return
		}
		a, b := f.x(start), f.x(until)
		if b-a > 1 {
			f.p(`<rect class="band" x="%.1f" y="%.1f" width="%.1f" height="%.1f"/>`, a, f.top, b-a, f.bottom-f.top)
		}
		if b-a > 44 {
			f.label((a+b)/2, f.top+12, "middle", "note", loc.T("winter"))
		}
		start = time.Time{}
	}
	for ; month.Before(f.to); month = month.AddDate(0, 1, 0) {
		cold := climate.Months[month.Month()-1].Air < wood.SlowAir
		switch {
		case cold && start.IsZero():
			start = month
		case !cold:
			flush(month)
		}
	}
	flush(f.to)
}

// course draws the middle and its range.
func (f *drawn) course(points []drying.Point, area, middle string) {
	var high, low, line []string
	for _, p := range points {
		if p.At.Before(f.from) || p.At.After(f.to) {
			continue
		}
		x := f.x(p.At)
		high = append(high, fmt.Sprintf("%.1f %.1f", x, f.y(p.Moisture.High)))
		low = append(low, fmt.Sprintf("%.1f %.1f", x, f.y(p.Moisture.Low)))
		line = append(line, fmt.Sprintf("%.1f %.1f", x, f.y(p.Moisture.Middle)))
	}
	if len(line) < 2 {
		return
	}
	for i, j := 0, len(low)-1; i < j; i, j = i+1, j-1 {
		low[i], low[j] = low[j], low[i]
	}
	f.p(`<path class="%s" d="M%sL%sZ"/><path class="%s" d="M%s"/>`, area, strings.Join(high, "L"), strings.Join(low, "L"), middle, strings.Join(line, "L"))
}

// readyLine draws what burns clean, and the span in which the stack comes to it.
func (d Drying) readyLine(f *drawn, loc lang.Locale) {
	y := f.y(wood.ReadyTo)
	f.p(`<line class="tickline dashed" x1="%.1f" x2="%.1f" y1="%.1f" y2="%.1f"/>`, f.left, f.right, y, y)
	f.label(f.left+6, y+14, "start", "note halo", loc.T("burns clean under ")+loc.Percent(wood.ReadyTo, 0))
	if d.Ready.Early.IsZero() || !d.Ready.Likely.After(d.Now.Add(36*time.Hour)) {
		return
	}
	a, b := f.x(d.Ready.Early), f.right
	if !d.Ready.Late.IsZero() {
		b = f.x(d.Ready.Late)
	}
	f.p(`<path class="coming" d="M%.1f %.1fv8M%.1f %.1fH%.1f" />`, a, y-4, a, y, b)
	if !d.Ready.Late.IsZero() {
		f.p(`<path class="coming" d="M%.1f %.1fv8"/>`, b, y-4)
	}
	f.p(`<circle class="dot fresh" cx="%.1f" cy="%.1f" r="4"/>`, f.x(d.Ready.Likely), y)
}

// read draws the readings: a dot a reading, as long as its pieces differ.
func (d Drying) read(f *drawn, loc lang.Locale) {
	for _, r := range d.Readings {
		if r.At.Before(f.from) || r.At.After(f.to) {
			continue
		}
		x := f.x(r.At)
		if r.Spread > 0 {
			f.p(`<line class="base" x1="%.1f" x2="%.1f" y1="%.1f" y2="%.1f"/>`, x, x, f.y(r.Mean+r.Spread), f.y(r.Mean-r.Spread))
		}
		f.p(`<circle class="dot" cx="%.1f" cy="%.1f" r="3.2"><title>%s</title></circle>`, x, f.y(r.Mean),
			html.EscapeString(loc.F("%s, %s of %d", loc.Date(r.At.In(d.Zone), "2 January 2006"), loc.Percent(r.Mean, 0), r.Pieces)))
	}
}

// foot names the times: the beginning, today, the ready date's middle or the end.
func (d Drying) foot(f *drawn, loc lang.Locale) {
	now := f.x(d.Now)
	f.p(`<line class="now" x1="%.1f" x2="%.1f" y1="%.1f" y2="%.1f"/>`, now, now, f.top, f.bottom)
	month := func(t time.Time) string { return loc.Date(t.In(d.Zone), "Jan 2006") }
	beginning := month(f.from)
	if !d.Split.IsZero() && !d.Split.Before(f.from) {
		beginning = loc.F("split %s", beginning)
	}
	f.label(f.left, f.bottom+16, "start", "quiet", beginning)
	f.label(f.right, f.bottom+16, "end", "quiet", month(f.to))
	const apart = 90 // px, that two labels want between them
	if now-f.left > apart && f.right-now > 70 {
		f.label(now, f.bottom+16, "middle", "quiet", loc.T("today"))
	} else {
		f.label(math.Max(now, f.left+20), f.bottom+32, "middle", "quiet", loc.T("today"))
	}
	if u := d.now(); u.Middle > 0 {
		said := units.Percent(u.Middle, 0)
		if off := u.Spread(); off >= 0.01 {
			said += " ± " + units.Number(off.Percent(), 0)
		}
		f.p(`<circle class="dot" cx="%.1f" cy="%.1f" r="4.5"/>`, now, f.y(u.Middle))
		y := math.Max(f.top+26, f.y(u.High)-8)
		if now-f.left > 80 {
			f.label(now-7, y, "end", "label", said)
		} else {
			f.label(now+7, y, "start", "label", said)
		}
	}
}
