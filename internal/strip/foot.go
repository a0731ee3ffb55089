package strip

import (
	"html"
	"math"
	"strings"

	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/say"
)

// fuel draws every load as a block: its area is its mass, its bars the pieces,
// its hatch the denser the wetter.
func (f *frame) fuel() {
	if len(f.Fuel) == 0 {
		return
	}
	base := f.y + 30
	f.trackName(base-8, "fuel")
	perKilo := 110.0 // px² per kg
	if f.Width < 500 {
		perKilo = 70
	}
	var blocks, labels rows
	depth := 0
	for _, b := range f.Fuel {
		if !f.inside(b.At) {
			continue
		}
		area := perKilo * float64(b.Mass)
		h := math.Min(28, math.Max(7, math.Sqrt(area*0.75)))
		w := area / h
		x := f.x(b.At)
		if _, free := blocks.place(x, w+1, 1); !free {
			x = blocks.ends[0]
			blocks.ends[0] = x + w + 1
		}
		x = math.Min(x, f.right-w)
		f.block(b, x, base-h, w, h)
		if row, free := labels.place(x, widthOf(b.Label)+6, 3); free {
			depth = max(depth, row)
			lx := math.Min(x, f.Width-widthOf(b.Label)-2)
			f.text(lx, base+rowHeight+float64(row)*rowHeight, "start", "label", b.Label)
		}
	}
	f.y = base + 21 + float64(depth)*rowHeight
}

func (f *frame) block(b Block, x, y, w, h float64) {
	class := "block"
	if b.Planned {
		class = "block block-plan"
	}
	label := b.Label
	if b.Moisture > 0 {
		label += ", " + f.Locale.Percent(b.Moisture, 0) + f.Locale.T(" water")
	}
	f.printf(`<g class="%s"><title>%s</title><rect class="block-fill" x="%.1f" y="%.1f" width="%.1f" height="%.1f"/>`,
		class, html.EscapeString(label), x, y, w, h)
	lines := math.Max(1, math.Round((b.Moisture.Percent()-8)/3)) // the wetter, the denser
	if b.Moisture <= 0 {
		lines = 0
	}
	for i := 1.0; i <= lines; i++ {
		ly := y + h*i/(lines+1)
		f.printf(`<line class="block-wet" x1="%.1f" x2="%.1f" y1="%.1f" y2="%.1f"/>`, x, x+w, ly, ly)
	}
	bars := min(b.Pieces, int(w/3))
	for i := 1; i < bars; i++ {
		lx := x + w*float64(i)/float64(bars)
		f.printf(`<line class="block-bar" x1="%.1f" x2="%.1f" y1="%.1f" y2="%.1f"/>`, lx, lx, y, y+h)
	}
	f.printf(`<rect class="block-edge" x="%.1f" y="%.1f" width="%.1f" height="%.1f"/></g>`, x, y, w, h)
}

// room draws room and outdoors, thin, with the wanted band.
func (f *frame) room() {
	var pens []Pen
	low, high := math.Inf(1), math.Inf(-1)
	for _, p := range f.Pens {
		if p.Place == stove.RoomAir && len(p.Points) > 0 {
			pens = append(pens, p)
			for _, q := range p.Points {
				low, high = math.Min(low, q.V), math.Max(high, q.V)
			}
		}
	}
	if len(pens) == 0 {
		return
	}
	wanted := f.Wanted[0] < f.Wanted[1]
	if wanted {
		low, high = math.Min(low, float64(f.Wanted[0])), math.Max(high, float64(f.Wanted[1]))
	}
	low, high = low-0.7, high+0.7
	height := 44.0
	if f.Band.Place == "" && !f.hasFire() {
		height = 150 // it is what the chart is about
	}
	top := f.y + 14
	y := func(v float64) float64 { return top + height - (v-low)/(high-low)*height }
	f.trackName(top+height/2+4, "room")
	if wanted {
		f.printf(`<rect class="band" x="%.1f" y="%.1f" width="%.1f" height="%.1f"/>`, f.left, y(float64(f.Wanted[1])), f.right-f.left,
			y(float64(f.Wanted[0]))-y(float64(f.Wanted[1])))
		f.text(f.left+6, top-4, "start", "note", f.Locale.F("wanted %s to %s", f.Locale.Degrees(f.Wanted[0]), f.Locale.RoomTemperature(f.Wanted[1])))
	}
	f.printf(`<g clip-path="url(#%s-clip)">`, f.ID)
	for _, p := range pens {
		f.line(p, y)
	}
	f.printf(`</g>`)
	var ends []penEnd
	for _, p := range pens {
		v := p.Points[len(p.Points)-1].V
		label := f.Locale.RoomTemperature(units.Celsius(v))
		class := "label"
		if p.Second {
			class, label = "label second-ink", f.Locale.T("other ")+label
		} else if p.Planned {
			class, label = "label quiet", f.Locale.T("plan ")+label
			if len(pens) == 1 {
				label = strings.TrimPrefix(label, "plan ")
			}
		}
		ends = append(ends, penEnd{y: y(v), label: label, class: class})
	}
	f.endLabels(ends, top, top+height)
	f.y = top + height + 10
}

// stateRow is how far the rows of phases are apart: the letters they are set in
// reach further up and down than the labels' do.
const stateRow = 18.0

// states writes the phases along the foot. A state too short for its name has
// it on a second line.
func (f *frame) states() {
	if len(f.States) == 0 {
		return
	}
	base := f.y + 18
	f.printf(`<line class="base" x1="%.1f" x2="%.1f" y1="%.1f" y2="%.1f"/>`, f.left, f.right, base, base)
	var r rows
	deep := false
	for i, s := range f.States {
		s.Name = say.Phase(fire.Phase(s.Name), f.Locale)
		until := f.To
		if i+1 < len(f.States) {
			until = f.States[i+1].At
		}
		if until <= f.From || s.At > f.To {
			continue
		}
		x := math.Max(f.left, f.x(s.At))
		f.printf(`<g><title>%s</title><line class="state" x1="%.1f" x2="%.1f" y1="%.1f" y2="%.1f"/></g>`, html.EscapeString(s.Name), x, x, base-11, base)
		// A name that does not fit before the next state goes below the line.
		if len(r.ends) == 0 {
			r.ends = append(r.ends, 0)
		}
		if f.x(until)-x < widthOf(s.Name)+6 && i+1 < len(f.States) {
			r.ends[0] = math.Max(r.ends[0], x+5)
		}
		row, free := r.place(x+4, widthOf(s.Name)+4, 3)
		if !free {
			continue
		}
		if over := x + 5 + widthOf(s.Name) - f.Width; over > 0 {
			x -= over
		}
		if row > 0 {
			deep = true
			f.printf(`<line class="state-lead" x1="%.1f" x2="%.1f" y1="%.1f" y2="%.1f"/>`, x, x, base, base+float64(row)*stateRow-1)
			f.text(x+4, base+float64(row)*stateRow, "start", "note", s.Name)
			continue
		}
		f.text(x+5, base-3, "start", "note", s.Name)
	}
	f.y = base + 8
	if deep {
		f.y = base + float64(len(r.ends)-1)*stateRow + 8
	}
}
