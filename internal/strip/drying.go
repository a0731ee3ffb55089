package strip

import (
	"fmt"
	"html"
	"html/template"
	"math"
	"strings"
	"time"

	"smolder/internal/core/units"
	"smolder/internal/core/wood"
)

// A Drying is how a stack has dried since it was split, and how it goes on: the
// middle with the range that four out of five stacks lie in. Without Since only
// what the meter reads is drawn.
type Drying struct {
	Stack wood.Stack
	Cover wood.Cover
	Since time.Time // zero: not told
	Now   time.Time
	Zone  *time.Location
	Units units.System
	Width float64 // px; 0: beside a form
}

// Sizes of the drawing, px, and its scale of moisture.
const (
	dryingWidth  = 440.0
	dryingHeight = 250.0
	wettest      = 0.9 // of dry wood, at the top
	dryingPoints = 40
)

// Drawn makes the drawing for a page and for a phone.
func (d Drying) Drawn() Pair {
	narrow := d
	narrow.Width = Phone
	return Pair{Wide: d.SVG(), Narrow: narrow.SVG()}
}

// SVG draws it.
func (d Drying) SVG() template.HTML {
	width := d.Width
	if width == 0 {
		width = dryingWidth
	}
	const left, top, bottom = 46.0, 20.0, dryingHeight - 34
	right := width - 12
	from, to := d.Since, d.Now.AddDate(1, 0, 0)
	if from.IsZero() {
		from = d.Now.AddDate(-1, 0, 0)
	}
	x := func(t time.Time) float64 { return left + (right-left)*t.Sub(from).Hours()/to.Sub(from).Hours() }
	y := func(u units.Fraction) float64 {
		return bottom - (bottom-top)*math.Min(wettest, math.Max(0, float64(u)))/wettest
	}
	var b strings.Builder
	p := func(format string, args ...any) { fmt.Fprintf(&b, format, args...) }
	label := func(x, y float64, anchor, class, s string) {
		p(`<text x="%.1f" y="%.1f" text-anchor="%s" class="%s">%s</text>`, x, y, anchor, class, html.EscapeString(s))
	}
	p(`<svg class="column" viewBox="0 0 %.0f %.0f" width="%.0f" height="%.0f" role="img" aria-label="How the wood dries, of dry wood: %s now" xmlns="http://www.w3.org/2000/svg">`,
		width, dryingHeight, width, dryingHeight, html.EscapeString(units.Percent(d.now(), 0)))
	for _, u := range []units.Fraction{0, 0.4, 0.8} {
		p(`<line class="tickline" x1="%.1f" x2="%.1f" y1="%.1f" y2="%.1f"/>`, left-4, left, y(u), y(u))
		label(left-7, y(u)+4, "end", "quiet num", units.Percent(u, 0))
	}
	p(`<line class="base" x1="%.1f" x2="%.1f" y1="%.1f" y2="%.1f"/>`, left, right, bottom, bottom)
	p(`<line class="base" x1="%.1f" x2="%.1f" y1="%.1f" y2="%.1f"/>`, left, left, top, bottom)
	p(`<line class="tickline dashed" x1="%.1f" x2="%.1f" y1="%.1f" y2="%.1f"/>`, left, right, y(wood.ReadyTo), y(wood.ReadyTo))
	label(right, y(wood.ReadyTo)-8, "end", "note", "burns clean under "+units.Percent(wood.ReadyTo, 0))
	if !d.Since.IsZero() {
		d.course(p, x, y, from, to)
		label(left, bottom+16, "start", "quiet", "split "+from.In(d.Zone).Format("Jan 2006"))
	}
	now := x(d.Now)
	p(`<line class="now" x1="%.1f" x2="%.1f" y1="%.1f" y2="%.1f"/>`, now, now, top, bottom)
	label(now, bottom+16, "middle", "quiet", "today")
	label(right, bottom+16, "end", "quiet", "a year on")
	if u := d.now(); u > 0 {
		p(`<circle class="dot" cx="%.1f" cy="%.1f" r="4"/>`, now, y(u))
		said := units.Percent(u, 0)
		if spread := d.spread(); spread > 0 {
			said += " ± " + units.Number(spread.Percent(), 0)
		}
		label(now-8, y(u)-20, "end", "label", said)
	}
	p(`</svg>`)
	return template.HTML(b.String()) //nolint:gosec // every text in it is escaped above
}

// now is the moisture today: of the meter, else by its time; 0 when neither is
// told.
func (d Drying) now() units.Fraction {
	if d.Stack.Reading > 0 {
		return d.Stack.Moisture()
	}
	if d.Since.IsZero() {
		return 0
	}
	return d.lain(d.Now).Middle
}

func (d Drying) spread() units.Fraction {
	if d.Stack.Reading > 0 {
		return d.Stack.Spread
	}
	return d.lain(d.Now).Spread()
}

func (d Drying) lain(at time.Time) wood.Estimate {
	return wood.Lain(d.Stack.Species, d.Stack.PieceThickness(), d.Cover, d.Since, at)
}

// course draws the middle and its range.
func (d Drying) course(p func(string, ...any), x func(time.Time) float64, y func(units.Fraction) float64, from, to time.Time) {
	points := wood.Course(d.Stack.Species, d.Stack.PieceThickness(), d.Cover, from, to, dryingPoints)
	at := func(i int) float64 {
		return x(from.Add(time.Duration(float64(to.Sub(from)) * float64(i) / (dryingPoints - 1))))
	}
	var band, middle strings.Builder
	for i, e := range points {
		fmt.Fprintf(&band, "%s%.1f %.1f", letter(i), at(i), y(e.High))
		fmt.Fprintf(&middle, "%s%.1f %.1f", letter(i), at(i), y(e.Middle))
	}
	for i := len(points) - 1; i >= 0; i-- {
		fmt.Fprintf(&band, "L%.1f %.1f", at(i), y(points[i].Low))
	}
	p(`<path class="range" d="%sZ"/><path class="pen pen-probe" d="%s"/>`, band.String(), middle.String())
}
