package strip

import (
	"fmt"
	"html"
	"math"
	"sort"
	"strings"
	"time"

	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/say"
)

// penClass tells the gauges apart by line pattern.
func penClass(p stove.Place) string { return "pen-" + p.Row().Pen }

// hottest is the highest temperature that the scale goes to, °C: over what any
// gauge reads.
const hottest = 1500.0

// temperatures draws the band of the gauge in hand, the hatching outside it,
// and a pen for every gauge.
func (f *frame) temperatures() {
	if f.Band.Place == "" && !f.hasFire() {
		return // a day of loads has none
	}
	height := 190.0
	switch {
	case f.Width < 500:
		height = 132
	case f.Low:
		height = 116
	}
	top := f.y + 6
	low, high := 0.0, 100.0
	for _, p := range f.Pens {
		if !p.Place.OfFire() {
			continue
		}
		for _, q := range p.Points {
			if q.V > high { // a NaN is no higher
				high = q.V
			}
		}
	}
	high = math.Max(high, f.highestFan())
	if f.Band.Band.Low > 0 {
		high = math.Max(high, float64(f.Band.Band.Low)*1.5)
	}
	high = math.Min(high, hottest) * 1.06 // whatever is on the pens, the scale ends
	y := func(v float64) float64 { return top + height - (math.Max(low, v)-low)/(high-low)*height }

	f.scale = [4]float64{top + height, top, f.shown(low), f.shown(high)}
	name := f.band(y, top, height)
	f.degrees(y, high)
	f.planRange(y)
	f.fans(y)
	f.printf(`<g clip-path="url(#%s-clip)">`, f.ID)
	var ends []penEnd
	for _, p := range f.Pens {
		if !p.Place.OfFire() || len(p.Points) == 0 {
			continue
		}
		if p.Place == f.Band.Place && !p.Planned && !p.Second {
			f.hatch(p, y, top+height)
		}
		f.line(p, y)
		if e, ok := f.end(p, y); ok {
			ends = append(ends, e)
		}
	}
	f.printf(`</g><line class="base" x1="%.1f" x2="%.1f" y1="%.1f" y2="%.1f"/>`, f.left, f.right, top+height, top+height)
	if name.text != "" {
		x, at := f.quietest(name, y)
		f.text(x, at, "start", "note", name.text)
	}
	f.endLabels(ends, top+4, top+height)
	f.y = top + height + 10
}

// bandName is the name of the working band and the two heights it may stand at.
type bandName struct {
	text         string
	upper, lower float64
}

// band tones the paper in the working band and returns its name, which is
// written once the pens are there.
func (f *frame) band(y func(float64) float64, top, height float64) bandName {
	b := f.Band.Band
	if b.Low == 0 && b.High == 0 {
		return bandName{}
	}
	upper := math.Max(top, y(float64(b.High)))
	lower := math.Min(top+height, y(float64(b.Low)))
	if lower <= upper {
		return bandName{}
	}
	f.printf(`<rect class="band" x="%.1f" y="%.1f" width="%.1f" height="%.1f"/>`, f.left, upper, f.right-f.left, lower-upper)
	name := f.Locale.F("working: %s %s to %s", say.Places.Short(f.Band.Place), f.Locale.Degrees(b.Low), f.Locale.Temperature(b.High))
	return bandName{name, upper + rowHeight, lower - 5}
}

// quietest returns the place in the band that the fewest lines cross.
func (f *frame) quietest(n bandName, y func(float64) float64) (x, at float64) {
	wide := widthOf(n.text) * 0.95
	best := math.Inf(1)
	for _, row := range []float64{n.upper, n.lower} {
		for _, left := range []float64{f.left + 6, (f.left + f.right - wide) / 2, f.right - wide - 6} {
			if crossed := f.crossings(left-4, left+wide+4, row-12, row+4, y); crossed < best {
				best, x, at = crossed, left, row
			}
		}
	}
	return x, at
}

// crossings counts how often pens of the fire pass through a box.
func (f *frame) crossings(x0, x1, y0, y1 float64, y func(float64) float64) float64 {
	n := 0.0
	for _, p := range f.Pens {
		if !p.Place.OfFire() {
			continue
		}
		for i := 1; i < len(p.Points); i++ {
			ax, ay, bx, by := f.x(p.Points[i-1].At), y(p.Points[i-1].V), f.x(p.Points[i].At), y(p.Points[i].V)
			if math.Max(ax, bx) >= x0 && math.Min(ax, bx) <= x1 && math.Max(ay, by) >= y0 && math.Min(ay, by) <= y1 {
				n++
			}
		}
	}
	return n
}

// degrees draws the scale.
func (f *frame) degrees(y func(float64) float64, high float64) {
	step := 100.0
	if f.Locale.System == units.Imperial {
		step = 200
	}
	if f.shown(high) > step*6 {
		step *= 2
	}
	f.text(f.left-8, y(high)+1, "end", "quiet", f.Locale.DegreeSign())
	for v := 0.0; ; v += step {
		c := v
		if f.Locale.System == units.Imperial {
			c = (v - 32) * 5 / 9
		}
		if c > high || y(c) < y(high)+10 {
			break
		}
		if c < 0 {
			continue
		}
		f.text(f.left-8, y(c)+4, "end", "quiet num", fmt.Sprintf("%.0f", v))
		f.printf(`<line class="tickline" x1="%.1f" x2="%.1f" y1="%.1f" y2="%.1f"/>`, f.left-5, f.left, y(c), y(c))
	}
}

// planRange fills the range of the planned gauge in hand.
func (f *frame) planRange(y func(float64) float64) {
	if len(f.Range[0]) < 2 || len(f.Range[0]) != len(f.Range[1]) {
		return
	}
	var d strings.Builder
	for i, p := range f.Range[1] {
		fmt.Fprintf(&d, "%s%.1f %.1f", letter(i), f.x(p.At), y(p.V))
	}
	for i := len(f.Range[0]) - 1; i >= 0; i-- {
		fmt.Fprintf(&d, "L%.1f %.1f", f.x(f.Range[0][i].At), y(f.Range[0][i].V))
	}
	f.printf(`<path class="range" clip-path="url(#%s-clip)" d="%sZ"/>`, f.ID, d.String())
}

func letter(i int) string {
	if i == 0 {
		return "M"
	}
	return "L"
}

// line draws one pen; readings further apart than an hour are not joined.
func (f *frame) line(p Pen, y func(float64) float64) {
	var d strings.Builder
	for i, q := range p.Points {
		join := i > 0 && (!p.Dots || q.At-p.Points[i-1].At <= time.Hour)
		if join {
			fmt.Fprintf(&d, "L%.1f %.1f", f.x(q.At), y(q.V))
		} else {
			fmt.Fprintf(&d, "M%.1f %.1f", f.x(q.At), y(q.V))
		}
	}
	class := "pen " + penClass(p.Place)
	switch {
	case p.Second:
		class = "pen second " + penClass(p.Place)
	case p.Replayed:
		class = "pen replayed " + penClass(p.Place)
	case p.Planned:
		class = "pen planned " + penClass(p.Place)
	}
	f.printf(`<path class="%s" d="%s"/>`, class, d.String())
	if p.Dots && len(p.Points) < 120 {
		for _, q := range p.Points {
			f.printf(`<circle class="dot" cx="%.1f" cy="%.1f" r="2"/>`, f.x(q.At), y(q.V))
		}
	}
}

// hatch shades the ink outside the working band: slanting below it, dense
// upright above too hot.
func (f *frame) hatch(p Pen, y func(float64) float64, base float64) {
	b := f.Band.Band
	f.shade(p, func(v float64) bool { return v < float64(b.Low) }, "cold", y, base)
	f.shade(p, func(v float64) bool { return v >= float64(b.TooHot) }, "hot", y, base)
}

func (f *frame) shade(p Pen, in func(float64) bool, pattern string, y func(float64) float64, base float64) {
	var run []Point
	flush := func() {
		if len(run) > 1 {
			var d strings.Builder
			fmt.Fprintf(&d, "M%.1f %.1f", f.x(run[0].At), base)
			for _, q := range run {
				fmt.Fprintf(&d, "L%.1f %.1f", f.x(q.At), y(q.V))
			}
			fmt.Fprintf(&d, "L%.1f %.1fZ", f.x(run[len(run)-1].At), base)
			f.printf(`<path fill="url(#%s-%s)" d="%s"/>`, f.ID, pattern, d.String())
		}
		run = run[:0]
	}
	for i, q := range p.Points {
		if !in(q.V) {
			if len(run) > 0 { // up to where the line crosses the band
				run = append(run, q)
			}
			flush()
			continue
		}
		if len(run) == 0 && i > 0 && q.At-p.Points[i-1].At <= time.Hour {
			run = append(run, p.Points[i-1])
		}
		if len(run) > 0 && q.At-run[len(run)-1].At > time.Hour {
			flush()
		}
		run = append(run, q)
	}
	flush()
}

// penEnd is the label at the end of a pen.
type penEnd struct {
	y     float64
	label string
	class string
}

func (f *frame) end(p Pen, y func(float64) float64) (penEnd, bool) {
	last := -1
	for i, q := range p.Points {
		if q.At <= f.To {
			last = i
		}
	}
	if last < 0 {
		return penEnd{}, false
	}
	v := p.Points[last].V
	e := penEnd{y: y(v), label: f.Locale.T(say.Places.Short(p.Place)) + " " + f.Locale.Degrees(units.Celsius(v)), class: "label"}
	switch {
	case p.Second:
		e.class, e.label = "label second-ink", f.Locale.T("other ")+f.Locale.Degrees(units.Celsius(v))
	case p.Replayed:
		e.class, e.label = "label quiet", f.Locale.T("computed ")+f.Locale.Degrees(units.Celsius(v))
	case p.Planned:
		e.class = "label quiet"
		if f.hasInk() {
			e.label = f.Locale.T("plan ") + f.Locale.Degrees(units.Celsius(v))
		}
	}
	return e, true
}

// hasFire tells whether any gauge of a fire is on the chart.
func (f *frame) hasFire() bool {
	for _, p := range f.Pens {
		if p.Place.OfFire() {
			return true
		}
	}
	return false
}

func (f *frame) hasInk() bool {
	for _, p := range f.Pens {
		if (!p.Planned || p.Replayed) && p.Place.OfFire() && len(p.Points) > 0 {
			return true
		}
	}
	return false
}

// endLabels pushes the labels apart until none touches another.
func (f *frame) endLabels(ends []penEnd, top, bottom float64) {
	const gap = rowHeight
	sort.SliceStable(ends, func(i, j int) bool { return ends[i].y < ends[j].y })
	for i := range ends {
		ends[i].y = math.Max(ends[i].y, top+float64(i)*gap)
		if i > 0 {
			ends[i].y = math.Max(ends[i].y, ends[i-1].y+gap)
		}
	}
	for i := len(ends) - 1; i >= 0; i-- {
		ends[i].y = math.Min(ends[i].y, bottom-float64(len(ends)-1-i)*gap)
		if i < len(ends)-1 {
			ends[i].y = math.Min(ends[i].y, ends[i+1].y-gap)
		}
	}
	for _, e := range ends {
		f.text(f.right+6, e.y+4, "start", e.class, e.label)
	}
}

// lanes draws a ribbon per control, as thick as the opening.
func (f *frame) lanes() {
	const half = 10.0
	for _, l := range f.Lanes {
		mid := f.y + half + 2
		name := l.Name
		if most := int((f.left - 8) / letterWidth); len([]rune(name)) > most {
			name = string([]rune(name)[:most-1]) + "…"
		}
		f.text(f.left-8, mid+4, "end", "quiet", name)
		f.ribbon(l.Plan, mid, half, "ribbon-plan", f.To)
		end := f.To
		if f.Now > 0 && f.Now < end {
			end = f.Now
		}
		f.ribbon(l.Steps, mid, half, "ribbon", end)
		labels := l.Steps
		if len(labels) == 0 {
			labels = l.Plan
		}
		var r rows
		for _, s := range labels {
			if !f.inside(s.At) || s.Say == "" {
				continue
			}
			x := f.x(s.At) + 2
			width := widthOf(s.Say)*0.92 + 8
			if x+width > f.right+60 {
				x = f.right - width
			}
			if _, free := r.place(x, width, 1); free {
				f.text(x, mid+half+12, "start", "quiet", s.Say)
			}
		}
		f.y = mid + half + 18
	}
}

func (f *frame) ribbon(steps []LaneStep, mid, half float64, class string, end time.Duration) {
	if len(steps) == 0 {
		return
	}
	f.printf(`<g class="%s" clip-path="url(#%s-clip)">`, class, f.ID)
	for i, s := range steps {
		until := end
		if i+1 < len(steps) {
			until = steps[i+1].At
		}
		if until <= s.At {
			continue
		}
		thick := math.Max(0.8, half*s.Opening)
		f.printf(`<rect x="%.1f" y="%.1f" width="%.1f" height="%.1f"><title>%s</title></rect>`,
			f.x(s.At), mid-thick, f.x(until)-f.x(s.At), 2*thick, html.EscapeString(s.Say))
	}
	f.printf(`</g>`)
}
