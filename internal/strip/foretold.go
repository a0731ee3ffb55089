package strip

import (
	"fmt"
	"html"
	"math"
	"slices"
	"strings"
	"time"

	"smolder/internal/core/belief"
	"smolder/internal/core/stove"
	"smolder/internal/say"
)

// A Fan is what is foretold of the gauge in hand: between low and high lie eight in ten,
// with the middle. Past marks one of before, kept pale so that one sees whether it was
// right.
type Fan struct {
	Low, Middle, High []Point
	Past              bool
}

// A Coming is something that is foretold: when, at the earliest and the latest.
type Coming struct {
	From, To time.Duration
	Word     string
}

// FanOf is a forecast's fan of a gauge, cut at so long after its beginning.
func FanOf(f belief.Forecast, place stove.Place, past bool) (Fan, bool) {
	g, ok := f.Gauges[place]
	if !ok || len(g.Middle) < 2 {
		return Fan{}, false
	}
	at := func(values []float64) []Point {
		out := make([]Point, len(values))
		for i, v := range values {
			out[i] = Point{At: f.From + time.Duration(i)*f.Every, V: v}
		}
		return Thinned(out, mostFan)
	}
	return Fan{Low: even(at(g.Low), f), Middle: even(at(g.Middle), f), High: even(at(g.High), f), Past: past}, true
}

const (
	mostFan   = 4000             // points, before they are taken evenly
	fanEvery  = 3 * time.Minute  // between those that are drawn
	fanLately = 12 * time.Minute // in which they lie closer: it turns most there
)

// even takes points evenly: all of the first minutes, then some.
func even(points []Point, f belief.Forecast) []Point {
	out := points[:0:0]
	next := time.Duration(0)
	for i, p := range points {
		if p.At >= next || i == len(points)-1 {
			out = append(out, p)
			if next = p.At + fanEvery; p.At < f.From+fanLately {
				next = p.At + f.Every
			}
		}
	}
	return out
}

// Foretell adds what is foretold to a burn's chart: the fan of the gauge in hand, the
// one of before, and what comes, for at most so long.
func (c *Chart) Foretell(f belief.Forecast, before *belief.Forecast, most time.Duration) {
	if fan, ok := FanOf(f, c.Band.Place, false); ok {
		c.Fans = append(c.Fans, fan)
		c.To = max(c.To, min(f.From+most, fan.Middle[len(fan.Middle)-1].At))
	}
	if before != nil {
		if fan, ok := FanOf(*before, c.Band.Place, true); ok {
			c.Fans = append(c.Fans, fan)
		}
	}
	for _, kind := range belief.Events {
		span, ok := f.Events[kind]
		if !ok || span.Share < likelyComes || span.Earliest <= f.From+2*f.Every || span.Earliest > c.To {
			continue
		}
		clock := func(at time.Duration) string { return c.Start.Add(at).In(c.Zone).Format("15:04") }
		word := say.Event(kind, c.Locale) + " " + clock(span.Earliest)
		if to := clock(span.Latest); to != clock(span.Earliest) {
			word += "–" + to
		}
		c.Coming = append(c.Coming, Coming{From: span.Earliest, To: span.Latest, Word: word})
	}
	if f.From > 0 && !slices.ContainsFunc(c.Pens, func(p Pen) bool { return p.Place == stove.RoomAir && p.Planned }) {
		c.Pens = append(c.Pens, Pen{Place: stove.RoomAir, Planned: true, Points: fanMiddle(f, f.Room)})
	}
}

// likelyComes is the share of the members from which something is said to come.
const likelyComes = 0.5

func fanMiddle(f belief.Forecast, of belief.Fan) []Point {
	out := make([]Point, 0, len(of.Middle))
	for i, v := range of.Middle {
		out = append(out, Point{At: f.From + time.Duration(i)*f.Every, V: v})
	}
	return even(out, f)
}

// fans fills them, those of before first.
func (f *frame) fans(y func(float64) float64) {
	for _, past := range []bool{true, false} {
		for _, fan := range f.Fans {
			if fan.Past == past {
				f.fan(fan, y)
			}
		}
	}
}

func (f *frame) fan(fan Fan, y func(float64) float64) {
	class := "fan"
	if fan.Past {
		class = "fan past"
	}
	var d, m strings.Builder
	for i, p := range fan.High {
		fmt.Fprintf(&d, "%s%.1f %.1f", letter(i), f.x(p.At), y(p.V))
	}
	for i := len(fan.Low) - 1; i >= 0; i-- {
		fmt.Fprintf(&d, "L%.1f %.1f", f.x(fan.Low[i].At), y(fan.Low[i].V))
	}
	for i, p := range fan.Middle {
		fmt.Fprintf(&m, "%s%.1f %.1f", letter(i), f.x(p.At), y(p.V))
	}
	f.printf(`<g class="%s" clip-path="url(#%s-clip)"><path class="fan-area" d="%sZ"/><path class="fan-middle" d="%s"/></g>`, class, f.ID, d.String(), m.String())
}

// coming draws what is foretold as short spans, each with its word, those that would
// touch below each other.
func (f *frame) coming() {
	if len(f.Coming) == 0 {
		return
	}
	most := 3
	if f.Width < 500 {
		most = 2
	}
	top := f.y + 2
	var r rows
	used := 0
	for _, c := range f.Coming {
		x1, x2 := f.x(c.From), math.Min(f.right, math.Max(f.x(c.To), f.x(c.From)+3))
		width := math.Max(x2-x1, widthOf(c.Word)) + 8
		left := math.Min(x1, f.right+70-width)
		row, free := r.place(left, width, most)
		if !free || x1 > f.right {
			continue
		}
		used = max(used, row+1)
		y := top + float64(row)*(rowHeight+7)
		f.printf(`<path class="coming" d="M%.1f %.1fv5M%.1f %.1fh%.1fM%.1f %.1fv5"/>`, x1, y, x1, y+2.5, x2-x1, x2, y)
		f.printf(`<text class="quiet" x="%.1f" y="%.1f">%s</text>`, left, y+rowHeight+2, html.EscapeString(c.Word))
	}
	if used == 0 {
		return
	}
	f.trackName(top+rowHeight, "ahead")
	f.y = top + float64(used)*(rowHeight+7) + 4
}

// highestFan is how far up the fans reach, for the scale.
func (f *frame) highestFan() float64 {
	high := 0.0
	for _, fan := range f.Fans {
		for _, p := range fan.High {
			if p.At <= f.To {
				high = math.Max(high, p.V)
			}
		}
	}
	return high
}
