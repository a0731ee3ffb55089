// Package strip draws a burn as a strip of chart paper along which time runs,
// and the other drawings beside it, as SVG.
//
// The same strip is a plan (dashed, with its range), a live record (ink over
// the plan) and a review. It is drawn on the server at a given width, so that
// it works without scripts, prints, and can be tested. Colours come from style
// classes only; nothing here knows a theme.
//
// Tracks, top to bottom: time, marks, temperatures, one lane per air control,
// fuel, room, states. A [Chart] says what is on each; [Chart.SVG] lays it out
// so that no label runs into another.
package strip

import (
	"encoding/json"
	"fmt"
	"html"
	"html/template"
	"math"
	"strings"
	"time"

	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/lang"
	"smolder/internal/say"
)

// A Point is a value at a time since the start.
type Point struct {
	At time.Duration
	V  float64
}

// A Pen is a line over time.
type Pen struct {
	Place    stove.Place
	Points   []Point
	Planned  bool
	Dots     bool // mark the points: these are readings, not a curve
	Replayed bool // computed from the log, because nobody read the gauge
	Second   bool // of the other setting that is laid over this one
}

// Thinned keeps of a pen's points the lowest and the highest of each of so many
// equal parts of its time, at most most points in all: what the eye would see.
func Thinned(points []Point, most int) []Point {
	if len(points) <= most || most < 4 {
		return points
	}
	parts := most / 2
	from, span := points[0].At, points[len(points)-1].At-points[0].At
	out := make([]Point, 0, most)
	for i := 0; i < len(points); {
		part := partOf(points[i].At-from, span, parts)
		low, high := i, i
		for ; i < len(points) && partOf(points[i].At-from, span, parts) == part; i++ {
			if points[i].V < points[low].V {
				low = i
			}
			if points[i].V > points[high].V {
				high = i
			}
		}
		out = append(out, points[min(low, high)])
		if low != high {
			out = append(out, points[max(low, high)])
		}
	}
	return out
}

func partOf(at, span time.Duration, parts int) int {
	if span <= 0 {
		return 0
	}
	return min(parts-1, int(float64(at)/float64(span)*float64(parts)))
}

// A Mark is a small sign on the marks track.
type Mark struct {
	At   time.Duration
	Kind string // door, bypass, light, smoke-grey, smoke-white, smoke-clear, draft, note
	Word string // shown on hover and focus
	Says string // beside the sign, where there is room
}

// A Lane is one control's opening over time.
type Lane struct {
	Name  string
	Steps []LaneStep
	Plan  []LaneStep
}

// A LaneStep is an opening from a time on.
type LaneStep struct {
	At      time.Duration
	Opening float64
	Say     string
}

// A Block is a load on the fuel track.
type Block struct {
	At       time.Duration
	Mass     units.Kilogram
	Pieces   int
	Moisture units.Fraction // 0: not known, or not wood
	Label    string
	Planned  bool
}

// A State is a phase of the burn from a time on.
type State struct {
	At   time.Duration
	Name string
}

// A Chart is everything on one strip.
type Chart struct {
	ID     string // unique on the page
	Title  string // for those who cannot see it
	Width  float64
	Low    bool // the fire's temperatures are drawn low: more stands on the same screen
	Locale lang.Locale
	Zone   *time.Location
	Start  time.Time
	From   time.Duration // what of the burn is shown
	To     time.Duration
	Now    time.Duration // how far the ink reaches; 0: no such line
	Clock  bool          // label with clock times; else with time since the start
	Band   stove.Gauge   // the gauge in hand
	Pens   []Pen
	Range  [2][]Point // low and high of the planned gauge in hand
	Marks  []Mark
	Lanes  []Lane
	Fuel   []Block
	Wanted [2]units.Celsius // of the room; equal: none
	States []State
	Fans   []Fan    // of what is foretold
	Coming []Coming //
	Holds  []Hold   // what was done, to be moved
	Notes  []Note   // in the margin
}

// textSize is that of the smallest text of any drawing, px: drawings are made for
// the width they are shown at, and never shrunk. letterWidth is what a letter
// takes at that size, rowHeight what a line of text does.
const (
	textSize    = 12.0
	letterWidth = 6.45
	rowHeight   = 14.0
)

// longestChart is the longest time that is drawn: every loop along the axis ends.
const longestChart = 10 * 24 * time.Hour

// frame is the layout of one chart.
type frame struct {
	Chart
	b           strings.Builder
	left, right float64
	y           float64 // of the next track
	bottom      float64
	scale       [4]float64 // see readout
}

// SVG lays the chart out and returns it.
func (c Chart) SVG() template.HTML {
	f := &frame{Chart: c}
	f.left, f.right = c.margin(68, 118), c.Width-c.beside(84, 132)
	if c.Width < 500 {
		f.left, f.right = c.margin(46, 84), c.Width-c.beside(76, 100)
	}
	if c.To <= c.From {
		f.To = c.From + time.Hour
	}
	f.To = min(f.To, f.From+longestChart)
	f.times()
	f.notes()
	f.holds()
	f.marks()
	f.temperatures()
	f.coming()
	f.lanes()
	f.fuel()
	f.room()
	f.states()
	f.now()

	var out strings.Builder
	fmt.Fprintf(&out, `<svg class="strip" id="%s" viewBox="0 0 %.0f %.0f" width="%.0f" height="%.0f" role="group" aria-label="%s" data-strip="%s" xmlns="http://www.w3.org/2000/svg">`,
		c.ID, c.Width, f.y, c.Width, f.y, html.EscapeString(c.Title), html.EscapeString(f.readout()))
	fmt.Fprintf(&out, `<defs><pattern id="%[1]s-cold" width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(45)"><line class="hatch" x1="0" y1="0" x2="0" y2="7"/></pattern>`+
		`<pattern id="%[1]s-hot" width="3.2" height="6" patternUnits="userSpaceOnUse"><line class="hatch-hot" x1="1" y1="0" x2="1" y2="6"/></pattern>`+
		`<clipPath id="%[1]s-clip"><rect x="%.1f" y="0" width="%.1f" height="2000"/></clipPath></defs>`, c.ID, f.left, f.right-f.left)
	out.WriteString(f.b.String())
	fmt.Fprintf(&out, `<line class="cross" x1="0" x2="0" y1="18" y2="%.1f" visibility="hidden"/></svg>`, f.bottom)
	return template.HTML(out.String()) //nolint:gosec // every text in it is escaped above
}

// margin is as wide as the longest name beside the tracks wants, within limits.
func (c Chart) margin(least, most float64) float64 {
	wide := least
	for _, l := range c.Lanes {
		wide = math.Max(wide, widthOf(l.Name)+14)
	}
	for _, name := range []lang.Message{"marks", "fuel", "room"} {
		wide = math.Max(wide, widthOf(c.Locale.T(name))+13)
	}
	return math.Min(wide, most)
}

// beside is as wide as the longest name of a pen wants, with its figure, within limits.
func (c Chart) beside(least, most float64) float64 {
	wide := least
	for _, p := range c.Pens {
		wide = math.Max(wide, widthOf(c.Locale.T(say.Places.Short(p.Place))+" 000")+10)
	}
	return math.Min(wide, most)
}

// x is where a time lies.
func (f *frame) x(at time.Duration) float64 {
	return f.left + float64(at-f.From)/float64(f.To-f.From)*(f.right-f.left)
}

func (f *frame) inside(at time.Duration) bool { return at >= f.From && at <= f.To }

func (f *frame) printf(format string, args ...any) { fmt.Fprintf(&f.b, format, args...) }

// text writes a label; anchor is start, middle or end.
func (f *frame) text(x, y float64, anchor, class, s string) {
	f.printf(`<text x="%.1f" y="%.1f" text-anchor="%s" class="%s">%s</text>`, x, y, anchor, class, html.EscapeString(s))
}

// trackName writes the name of a track in the left margin.
func (f *frame) trackName(y float64, name lang.Message) {
	f.text(f.left-8, y, "end", "quiet", f.Locale.T(name))
}

func widthOf(s string) float64 { return float64(len([]rune(s))) * letterWidth }

// times draws the hour lines and their labels.
func (f *frame) times() {
	f.y = 18
	f.b.Grow(32 << 10)
	span := f.To - f.From
	step := 15 * time.Minute
	for _, s := range []time.Duration{15 * time.Minute, 30 * time.Minute, time.Hour, 2 * time.Hour, 3 * time.Hour, 6 * time.Hour} {
		step = s
		if float64(s)/float64(span)*(f.right-f.left) >= 46 {
			break
		}
	}
	at := f.firstTick(step)
	f.printf(`<g class="grid">`)
	for ; at <= f.To; at += step {
		x := f.x(at)
		f.printf(`<line x1="%.1f" x2="%.1f" y1="20" y2="@bottom"/>`, x, x)
	}
	f.printf(`</g>`)
	for at = f.firstTick(step); at <= f.To; at += step {
		f.text(f.x(at), 13, "middle", "quiet num", f.tick(at))
	}
}

// firstTick is the first round time shown.
func (f *frame) firstTick(step time.Duration) time.Duration {
	if !f.Clock {
		return (f.From + step - 1) / step * step
	}
	local := f.Start.Add(f.From).In(f.Zone)
	_, offset := local.Zone()
	shifted := local.Add(time.Duration(offset) * time.Second).UTC()
	next := shifted.Truncate(step)
	if next.Before(shifted) {
		next = next.Add(step)
	}
	return f.From + next.Sub(shifted)
}

func (f *frame) tick(at time.Duration) string {
	if f.Clock {
		return f.Start.Add(at).In(f.Zone).Format("15:04")
	}
	return fmt.Sprintf("%d:%02d", int(at.Hours()), int(at.Minutes())%60)
}

// rows keeps labels of one track from running into each other.
type rows struct{ ends []float64 }

// place returns the first row in which a label from x on, this wide, is free.
func (r *rows) place(x, width float64, most int) (int, bool) {
	for i := range most {
		if i == len(r.ends) {
			r.ends = append(r.ends, math.Inf(-1))
		}
		if x >= r.ends[i] {
			r.ends[i] = x + width
			return i, true
		}
	}
	return 0, false
}

// now draws the line up to which the ink reaches, closes the grid lines.
func (f *frame) now() {
	f.bottom = f.y
	if f.Now > 0 && f.inside(f.Now) {
		f.printf(`<line class="now" x1="%.1f" x2="%.1f" y1="20" y2="%.1f"/>`, f.x(f.Now), f.x(f.Now), f.bottom)
	}
	s := strings.ReplaceAll(f.b.String(), "@bottom", fmt.Sprintf("%.1f", f.bottom))
	f.b.Reset()
	f.b.WriteString(s)
	f.y += 4
}

// readout is what the crosshair needs to tell the values at a time.
func (f *frame) readout() string {
	type pen struct {
		Name   string       `json:"name"`
		Fine   bool         `json:"fine,omitempty"` // read to a tenth
		Points [][2]float64 `json:"points"`         // minutes, value as printed
	}
	out := struct {
		Left  float64      `json:"left"`
		Right float64      `json:"right"`
		From  float64      `json:"from"` // minutes
		To    float64      `json:"to"`
		Start int64        `json:"start"`           // minutes of the day, −1 without a clock
		Moves [][2]float64 `json:"moves,omitempty"` // from a minute on, so many minutes are added: the clocks have changed
		Unit  string       `json:"unit"`
		Pens  []pen        `json:"pens"`
		Zero  int64        `json:"zero,omitempty"` // of the axis, milliseconds since 1970, where it is a clock's
		Scale [4]float64   `json:"scale"`          // of temperatures: y of nought, y of the top, degrees as printed there and there
	}{Left: f.left, Right: f.right, From: f.From.Minutes(), To: f.To.Minutes(), Start: -1, Unit: f.Locale.DegreeSign()}
	if f.Clock {
		local := f.Start.In(f.Zone)
		out.Start = int64(local.Hour()*60 + local.Minute())
		out.Moves = f.clockChanges()
		out.Zero = f.Start.UnixMilli()
	}
	for _, p := range f.Pens {
		name := f.Locale.T(say.Places.Short(p.Place))
		switch {
		case p.Second:
			name = f.Locale.F("%s, the other", name)
		case p.Replayed:
			name = f.Locale.F("%s, computed", name)
		case p.Planned:
			name = f.Locale.F("%s, planned", name)
		}
		q := pen{Name: name, Fine: p.Place == stove.RoomAir, Points: make([][2]float64, 0, len(p.Points))}
		stride := 1 + len(p.Points)/300
		for i := 0; i < len(p.Points); i += stride {
			q.Points = append(q.Points, [2]float64{math.Round(p.Points[i].At.Minutes()*10) / 10, math.Round(f.shown(p.Points[i].V)*10) / 10})
		}
		out.Pens = append(out.Pens, q)
	}
	for _, fan := range f.Fans {
		if fan.Past {
			continue
		}
		for i, points := range [][]Point{fan.Low, fan.High} {
			q := pen{Name: f.Locale.T([]lang.Message{"forecast from", "forecast to"}[i])}
			for _, p := range points {
				q.Points = append(q.Points, [2]float64{math.Round(p.At.Minutes()*10) / 10, math.Round(f.shown(p.V))})
			}
			out.Pens = append(out.Pens, q)
		}
	}
	out.Scale = f.scale
	b, _ := json.Marshal(out) // numbers and strings only: cannot fail
	return string(b)
}

// clockChanges lists when the clocks change on the chart, to the minute: from
// which minute since the start on, how many minutes are added.
func (f *frame) clockChanges() [][2]float64 {
	var out [][2]float64
	offset := func(at time.Duration) int { _, o := f.Start.Add(at).In(f.Zone).Zone(); return o }
	first := offset(0)
	for at := f.From.Truncate(time.Hour); at < f.To; at += time.Hour {
		if offset(at) == offset(at+time.Hour) {
			continue
		}
		low, high := at, at+time.Hour
		for high-low > time.Minute {
			middle := (low + (high-low)/2).Truncate(time.Minute)
			if middle == low {
				break
			}
			if offset(middle) == offset(low) {
				low = middle
			} else {
				high = middle
			}
		}
		out = append(out, [2]float64{high.Minutes(), float64(offset(high)-first) / 60})
	}
	return out
}

// shown turns °C into the household's degrees.
func (f *frame) shown(v float64) float64 {
	if f.Locale.System == units.Imperial {
		return units.Celsius(v).Fahrenheit()
	}
	return v
}
