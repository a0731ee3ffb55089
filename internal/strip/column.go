package strip

import (
	"fmt"
	"html"
	"html/template"
	"math"
	"strings"

	"smolder/internal/core/flue"
	"smolder/internal/core/house"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/lang"
)

// A Column is stove and chimney in section with what drives the gas up and
// what works against it, at one outdoor temperature.
type Column struct {
	Stove   stove.Stove
	House   house.House
	Room    units.Celsius
	Outdoor units.Celsius
	Gas     units.Celsius // at the collar; at or below Room: a cold chimney
	Locale  lang.Locale
	Width   float64 // px; 0: of a page

	// NoSize and NoHeight: nobody has told these yet. What is not told is drawn
	// dashed, and nothing is computed from it.
	NoSize, NoHeight bool
}

// Draft is the column in figures.
type Draft struct {
	Made    units.Pascal // by the chimney
	Fans    units.Pascal // pulled by fans
	House   units.Pascal // the house's own stack effect
	Net     units.Pascal
	Mean    units.Celsius // gas
	Levels  []flue.Level
	Condens units.Metre // length of liner that collects deposits
}

// Draft computes the column.
func (c Column) Draft() Draft {
	ch := c.Stove.Chimney
	around := ch.Around(c.Room, c.Outdoor)
	d := Draft{Levels: flue.Profile(ch, max(c.Gas, around), around, stove.UsualFlow)}
	d.Mean = flue.MeanGas(d.Levels)
	d.Made = flue.StackDraft(ch.Height, d.Mean, c.Outdoor, ch.Altitude)
	d.Fans = flue.HousePressure(c.House.Fan, c.House.N50, c.House.Volume)
	d.House = c.House.Underpressure(c.Room, c.Outdoor, ch.Altitude) - d.Fans
	d.Net = d.Made - d.Fans - d.House
	for _, l := range d.Levels {
		if l.Wall < flue.Condenses {
			d.Condens += ch.Height / units.Metre(len(d.Levels))
		}
	}
	return d
}

// columnPage is the width of a column on a page, px.
const columnPage = 520.0

// Drawn makes the column for a page and for a phone.
func (c Column) Drawn() Pair {
	narrow := c
	narrow.Width = Phone
	return Pair{Wide: c.SVG(), Narrow: narrow.SVG()}
}

// SVG draws the column: stove, connector and chimney to one scale, the
// temperatures along the height beside it, the pressures as arrows.
func (c Column) SVG() template.HTML {
	d := c.Draft()
	ch := c.Stove.Chimney
	const top, bottom = 46.0, 470.0
	width := c.Width
	if width == 0 {
		width = columnPage
	}
	stoveHeight := float64(c.Stove.Height)*1.35 + 0.25 // firebox, baffle and legs, m
	scale := (bottom - top) / (float64(ch.Height) + stoveHeight)
	collar := bottom - stoveHeight*scale
	pipe := math.Max(9, float64(ch.Diameter)*scale)
	w := math.Max(30, float64(c.Stove.Width)*scale*1.25)
	middle := math.Max(math.Max(98, 0.23*width), w/2+widthOf(c.Locale.T("chimney"))+24)
	var b strings.Builder
	p := func(format string, args ...any) { fmt.Fprintf(&b, format, args...) }
	label := func(x, y float64, anchor, class, s string) {
		p(`<text x="%.1f" y="%.1f" text-anchor="%s" class="%s">%s</text>`, x, y, anchor, class, html.EscapeString(s))
	}
	title := c.Locale.F("%s and its chimney in section: draft %s net", c.Stove.Name, c.Locale.Draft(d.Net))
	box, shaft := "section", "section"
	if c.NoSize {
		box = "section untold"
	}
	if c.NoHeight {
		shaft, title = "section untold", c.Stove.Name+c.Locale.T(" in section, its chimney not told yet")
	}
	p(`<svg class="column" viewBox="0 0 %.0f %.0f" width="%.0f" height="%.0f" role="img" aria-label="%s" xmlns="http://www.w3.org/2000/svg">`,
		width, bottom+3*rowHeight+16, width, bottom+3*rowHeight+16, html.EscapeString(title))
	p(`<defs><pattern id="col-dep" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)"><line class="hatch" x1="0" y1="0" x2="0" y2="6"/></pattern></defs>`)

	// Ground, stove, chimney.
	p(`<line class="base" x1="20" x2="%.1f" y1="%.1f" y2="%.1f"/>`, width-20, bottom, bottom)
	body := bottom - 0.18*scale
	p(`<path class="%s" d="M%.1f %.1fV%.1fH%.1fV%.1fZ"/>`, box, middle-w/2, body, collar, middle+w/2, body)
	p(`<path class="thin" d="M%.1f %.1fV%.1fM%.1f %.1fV%.1f"/>`, middle-w/2+4, body, bottom, middle+w/2-4, body, bottom)
	baffle := collar + (body-collar)*0.25
	p(`<path class="thin" d="M%.1f %.1fH%.1f"/>`, middle-w/2+3, baffle, middle+w/2-w*0.25)
	wall := 3.0
	if ch.Lining == flue.Masonry {
		wall = 9
	} else if ch.Lining == flue.Insulated {
		wall = 6
	}
	for _, side := range []float64{-1, 1} {
		x := middle + side*pipe/2
		if side < 0 {
			x -= wall
		}
		p(`<rect class="%s" x="%.1f" y="%.1f" width="%.1f" height="%.1f"/>`, shaft, x, top, wall, collar-top)
	}
	p(`<path class="thin" d="M%.1f %.1fL%.1f %.1fL%.1f %.1f"/>`, middle-pipe/2-wall-3, top-8, middle, top-17, middle+pipe/2+wall+3, top-8)
	if !c.NoHeight {
		c.gas(p, label, d, middle, w, pipe, collar, top, scale, width)
	}

	lines := []string{c.Stove.Name, c.Locale.Length(ch.Height) + c.Locale.T(" of chimney, ") + c.Locale.Size(ch.Diameter) + c.Locale.T(" wide")}
	if c.NoHeight {
		lines[1] = c.Locale.T("how high its chimney is, is not told yet")
	} else if c.NoSize {
		lines[1] += c.Locale.T("; the firebox is not told yet")
	}
	if c.Stove.Room != "" {
		lines[0] += ", " + c.Stove.Room
	}
	for i, line := range lines {
		label(20, bottom+16+float64(i)*rowHeight, "start", "quiet", line)
	}
	if d.Condens > 0.05 && c.Gas > c.Room+30 && !c.NoHeight {
		label(20, bottom+20+2*rowHeight, "start", "note", c.Locale.T("smoke settles in the top ")+c.Locale.Length(d.Condens))
	}
	p(`</svg>`)
	return template.HTML(b.String()) //nolint:gosec // every text in it is escaped above
}

// gas draws what goes on in the chimney: where smoke settles, what drives the gas,
// and how it cools.
func (c Column) gas(p func(string, ...any), label func(x, y float64, anchor, class, s string), d Draft, middle, w, pipe, collar, top, scale,
	width float64) {
	n := len(d.Levels)
	for i, l := range d.Levels[:n-1] {
		if l.Wall < flue.Condenses {
			y0, y1 := collar-float64(l.Height)*scale, collar-float64(d.Levels[i+1].Height)*scale
			p(`<rect fill="url(#col-dep)" x="%.1f" y="%.1f" width="%.1f" height="%.1f"/>`, middle-pipe/2, y1, pipe, y0-y1)
		}
	}
	c.arrows(p, label, d, middle-w/2-14, collar, top)
	c.curves(p, label, d, collar, scale, 0.52*width, width-30)
}

// arrows draws what pulls up and what pulls back, to one scale of pressure.
func (c Column) arrows(p func(string, ...any), label func(x, y float64, anchor, class, s string), d Draft, x, collar, top float64) {
	perPascal := math.Min(6, (collar-top-20)/math.Max(8, math.Max(math.Abs(float64(d.Made)), float64(d.Fans+d.House))))
	arrow := func(x, from, to float64, class string) {
		head := 5.0
		if to > from {
			head = -5
		}
		p(`<path class="%s" d="M%.1f %.1fV%.1fM%.1f %.1fL%.1f %.1fL%.1f %.1f"/>`, class, x, from, to, x-4, to+head, x, to, x+4, to+head)
	}
	from := collar - 6
	length := math.Max(-60, float64(d.Made)*perPascal)
	arrow(x, from, from-length, "arrow-up")
	label(x-7, from-length/2, "end", "label", c.Locale.T("chimney"))
	label(x-7, from-length/2+rowHeight, "end", "label", c.Locale.Draft(d.Made))
	against := float64(d.Fans + d.House)
	if against > 0.05 {
		arrow(x+8, from, from+math.Min(60, against*perPascal), "arrow-down")
		label(x-7, from+22, "end", "label", c.Locale.T("against it"))
		label(x-7, from+22+rowHeight, "end", "label", c.Locale.Draft(d.Fans+d.House))
	}
}

// curves plots gas and wall temperature along the height.
func (c Column) curves(p func(string, ...any), label func(x, y float64, anchor, class, s string), d Draft, collar, scale, left, right float64) {
	high := math.Max(100, math.Ceil(float64(d.Levels[0].Gas)/100)*100)
	x := func(t units.Celsius) float64 { return left + math.Max(0, float64(t))/high*(right-left) }
	y := func(h units.Metre) float64 { return collar - float64(h)*scale }
	topY := y(d.Levels[len(d.Levels)-1].Height)
	if at := x(flue.Condenses); at < right {
		p(`<line class="tickline dashed" x1="%.1f" x2="%.1f" y1="%.1f" y2="%.1f"/>`, at, at, topY, collar)
		label(at, collar+32, "middle", "note", c.Locale.T("settles below ")+c.Locale.Temperature(flue.Condenses))
	}
	step := 100.0 // no number on the next
	for high/step*widthOf(c.Locale.Degrees(units.Celsius(high)))*1.6 > right-left {
		step *= 2
	}
	for t := 0.0; t <= high; t += step {
		p(`<line class="tickline" x1="%.1f" x2="%.1f" y1="%.1f" y2="%.1f"/>`, x(units.Celsius(t)), x(units.Celsius(t)), collar, collar+4)
		label(x(units.Celsius(t)), collar+16, "middle", "quiet num", c.Locale.Degrees(units.Celsius(t)))
	}
	p(`<line class="base" x1="%.1f" x2="%.1f" y1="%.1f" y2="%.1f"/>`, left, right, collar, collar)
	path := func(class string, of func(flue.Level) units.Celsius) {
		var s strings.Builder
		for i, l := range d.Levels {
			fmt.Fprintf(&s, "%s%.1f %.1f", letter(i), x(of(l)), y(l.Height))
		}
		p(`<path class="%s" d="%s"/>`, class, s.String())
	}
	path("pen pen-probe", func(l flue.Level) units.Celsius { return l.Gas })
	path("pen pen-top", func(l flue.Level) units.Celsius { return l.Wall })
	last := d.Levels[len(d.Levels)-1]
	label(x(last.Gas), topY-6, "start", "label", c.Locale.T("gas ")+c.Locale.Degrees(last.Gas))
	label(x(last.Wall)-2, topY-6, "end", "label", c.Locale.T("wall ")+c.Locale.Degrees(last.Wall))
}
