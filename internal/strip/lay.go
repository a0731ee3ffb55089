package strip

import (
	"fmt"
	"html"
	"html/template"
	"math"
	"strings"

	"smolder/internal/core/lay"
	"smolder/internal/core/units"
	"smolder/internal/lang"
)

// A Lay is a packed firebox in two views to one scale: from the door and from
// above, with the order of laying, where to light and where the air comes in.
type Lay struct {
	Packing lay.Packing
	ID      string // unique on the page
	Name    string // of the stove
	Baffle  string // what is above the fire, in words
	Front   bool   // from the door only
	Small   bool   // beside much else
	Locale  lang.Locale
}

// The layout, px: the views lie one above the other, so that the drawing fits a
// phone and a column of a page alike; numbers and words stand beside them.
const (
	layWide   = 230.0 // of each view
	laySmall  = 144.0 // of one that is small
	layBeside = 72.0  // for the numbers of the steps and the load line
	layLeft   = 8.0
	layTop    = 24.0 // over a view, for its name
	layUnder  = 22.0 // under it, for a line of words
)

// wide is how wide a view is, px.
func (l Lay) wide() float64 {
	if l.Small {
		return laySmall
	}
	return layWide
}

// SVG draws both views.
func (l Lay) SVG() template.HTML {
	box := l.Packing.Box
	scale := l.wide() / math.Max(0.05, box.Width)
	front, deep := box.Height*scale, box.Depth*scale
	floor := layTop + front
	d := &layDrawing{scale: scale, left: layLeft, floor: floor}
	width, height := layLeft+l.wide()+layBeside, floor+layUnder+layTop+deep+2*rowHeight+8
	title := l.Locale.F("How to lay %d pieces in %s, from the door and from above", len(l.Packing.Bars), l.Name)
	if l.Front {
		height = floor + layUnder
		title = l.Locale.F("How to lay %d pieces in %s, from the door", len(l.Packing.Bars), l.Name)
	}
	d.printf(`<svg class="lay" id="%s" viewBox="0 0 %.0f %.0f" width="%.0f" height="%.0f" role="img" aria-label="%s" xmlns="http://www.w3.org/2000/svg">`,
		l.ID, width, height, width, height, html.EscapeString(title))
	l.fromTheDoor(d, front)
	if !l.Front {
		d.floor = floor + layUnder + layTop + deep
		l.fromAbove(d, deep)
	}
	d.printf(`</svg>`)
	return template.HTML(d.b.String()) //nolint:gosec // every text in it is escaped
}

func (l Lay) fromTheDoor(d *layDrawing, front float64) {
	right := layLeft + l.wide()
	if !l.Small {
		d.text(layLeft, d.floor-front-9, "start", "note", l.Locale.T("from the door"))
	}
	d.text(right, d.floor-front-9, "end", "quiet", l.Baffle)
	d.printf(`<path class="lay-wall" d="M%.1f %.1fV%.1fH%.1fV%.1f"/><path class="lay-baffle" d="M%.1f %.1fH%.1f"/>`,
		layLeft, d.floor-front, d.floor, right, d.floor-front, layLeft, d.floor-front, right)
	for _, b := range l.Packing.Bars {
		d.front(b, l.Locale)
	}
	line := d.floor - lay.LoadLine(l.Packing.Box)*d.scale
	d.printf(`<path class="lay-line" d="M%.1f %.1fH%.1f"/>`, layLeft, line, right+6)
	d.text(right+9, line+4, "start", "quiet", l.Locale.T("load line"))
	d.lights(l.Packing)
	d.steps(l.Packing, right+10)
	d.text(layLeft+l.wide()/2, d.floor+16, "middle", "quiet", l.Locale.Size(units.Metre(l.Packing.Box.Width))+l.Locale.T(" wide"))
}

func (l Lay) fromAbove(d *layDrawing, deep float64) {
	top := d.floor - deep
	d.text(layLeft, top-9, "start", "note", l.Locale.T("from above"))
	d.printf(`<defs><clipPath id="%s-in"><rect x="%.1f" y="%.1f" width="%.1f" height="%.1f"/></clipPath></defs>`, l.ID, layLeft, top, l.wide(), deep)
	d.printf(`<rect class="lay-wall" x="%.1f" y="%.1f" width="%.1f" height="%.1f"/><g clip-path="url(#%s-in)">`, layLeft, top, l.wide(), deep, l.ID)
	for _, b := range l.Packing.Bars {
		d.above(b, layLeft, l.Locale)
	}
	d.printf(`</g><path class="lay-inlet" d="M%.1f %.1fH%.1f"/>`, layLeft+18, d.floor, layLeft+l.wide()-18)
	d.text(layLeft+l.wide()/2, d.floor+16, "middle", "quiet", l.Locale.T("door: the air comes in here,"))
	d.text(layLeft+l.wide()/2, d.floor+16+rowHeight, "middle", "quiet", l.Locale.T("keep ")+l.Locale.Size(0.05)+l.Locale.T(" free"))
}

// layDrawing writes the parts.
type layDrawing struct {
	b                  strings.Builder
	scale, left, floor float64
}

func (d *layDrawing) printf(format string, args ...any) { fmt.Fprintf(&d.b, format, args...) }

func (d *layDrawing) text(x, y float64, anchor, class, s string) {
	d.printf(`<text x="%.1f" y="%.1f" text-anchor="%s" class="%s">%s</text>`, x, y, anchor, class, html.EscapeString(s))
}

func barClass(b lay.Bar, loc lang.Locale) string {
	if b.Kindling {
		return "bar stick"
	}
	return "bar"
}

// front draws a bar as seen from the door: its end, or its whole length.
func (d *layDrawing) front(b lay.Bar, loc lang.Locale) {
	x, _, z := b.Size()
	if b.Tilt != 0 { // leaned: what is seen is its height
		z = math.Max(z, b.Length*math.Sin(b.Tilt*math.Pi/180)+b.Side)
	}
	px, py, w, h := d.left+b.X*d.scale, d.floor-(b.Z+z)*d.scale, x*d.scale, z*d.scale
	d.printf(`<rect class="%s" x="%.1f" y="%.1f" width="%.1f" height="%.1f" rx="%.1f"/>`, barClass(b, loc), px, py, w, h, math.Min(3, h/5))
	if b.Along == lay.ToBack && !b.Kindling { // growth rings on the end
		d.printf(`<path class="grain" d="M%.1f %.1fq%.1f %.1f %.1f 0M%.1f %.1fq%.1f %.1f %.1f 0"/>`, px+w*0.18, py+h*0.72, w*0.32, -h*0.34,
			w*0.64, px+w*0.3, py+h*0.84, w*0.2, -h*0.2, w*0.4)
	} else if !b.Kindling {
		d.printf(`<path class="grain" d="M%.1f %.1fh%.1fM%.1f %.1fh%.1f"/>`, px+w*0.05, py+h*0.36, w*0.8, px+w*0.12, py+h*0.66, w*0.8)
	}
}

// above draws a bar as seen from above, turned about its middle.
func (d *layDrawing) above(b lay.Bar, right float64, loc lang.Locale) {
	x, y, _ := b.Size()
	if b.Tilt != 0 {
		y *= math.Cos(b.Tilt * math.Pi / 180)
	}
	px, py, w, h := right+b.X*d.scale, d.floor-(b.Y+y)*d.scale, x*d.scale, y*d.scale
	turn := ""
	if b.Turn != 0 {
		turn = fmt.Sprintf(` transform="rotate(%.0f %.1f %.1f)"`, b.Turn, px+w/2, py+h/2)
	}
	d.printf(`<rect class="%s" x="%.1f" y="%.1f" width="%.1f" height="%.1f" rx="2"%s/>`, barClass(b, loc), px, py, w, h, turn)
}

// lights draws a small flame where the match goes.
func (d *layDrawing) lights(p lay.Packing) {
	for _, at := range p.Light {
		d.printf(`<path class="flame" transform="translate(%.1f %.1f)" d="M0 0c-5-2-5-8 0-13c5 5 5 11 0 13z"/>`, d.left+at[0]*d.scale, d.floor-at[1]*d.scale)
	}
}

// steps numbers the layers beside the front view, pushed apart so that no
// number touches another.
func (d *layDrawing) steps(p lay.Packing, x float64) {
	middle := map[int][2]float64{}
	for _, b := range p.Bars {
		m := middle[b.Step]
		middle[b.Step] = [2]float64{m[0] + b.Z + b.Side/2, m[1] + 1}
	}
	const apart = 15.0
	last := math.Inf(1)
	var at []float64 // from the floor up
	var of []int
	for step := 1; step <= len(p.Placings); step++ {
		if m := middle[step]; m[1] > 0 {
			last = math.Min(d.floor-m[0]/m[1]*d.scale+5, last-apart)
			at, of = append(at, last), append(of, step)
		}
	}
	// None on the words of the load line.
	least := d.floor - lay.LoadLine(p.Box)*d.scale + 5 + apart
	for i := len(at) - 1; i >= 0; i-- {
		at[i] = math.Max(at[i], least)
		least = at[i] + apart
	}
	for i, y := range at {
		d.text(x, y, "start", "step", fmt.Sprint(of[i]))
	}
}
