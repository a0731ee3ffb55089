package strip

import (
	"fmt"
	"html"
	"html/template"
	"math"
	"strings"
	"time"

	"smolder/internal/core/units"
	"smolder/internal/lang"
)

// A Glance is a firebox at a glance: how high the wood lies, whether it is black, whether it
// flames, how much glows.
type Glance struct {
	Pieces int     // as they lie there; drawn up to nine
	Sticks bool    // kindling lies on them
	Left   float64 // share of the last load that is still wood, 0 to 1
	Black  bool
	Flames float64 // how likely some are seen, 0 to 1
	Smokes bool    // wood without flames
	Coals  float64 // share of a good bed, 0 to 1
	Laid   bool    // it is only to be laid so
	Small  bool    // a stove of a boat, a van or a hut
	Says   string  // for who cannot see it
}

// The firebox, px.
const (
	boxWide, boxTall = 132.0, 112.0
	mostDrawn        = 9
	gone             = 0.04 // share of a load, under which no wood is drawn
	glimmers         = 0.03 // of a good bed, under which nothing glows
)

// SVG draws it.
func (g Glance) SVG() template.HTML {
	wide, tall := boxWide, boxTall
	if g.Small {
		wide, tall = 92, 84
	}
	var b strings.Builder
	fmt.Fprintf(&b, `<svg class="glance" viewBox="-2 -2 %.0f %.0f" width="%.0f" height="%.0f" role="img" aria-label="%s">`, boxWide+4, boxTall+4, boxWide+4, boxTall+4,
		html.EscapeString(g.Says))
	left, top, floor := (boxWide-wide)/2, boxTall-tall, boxTall
	fmt.Fprintf(&b, `<path class="glance-box" d="M%.1f %.1fV%.1fH%.1fV%.1fz"/><path class="glance-baffle" d="M%.1f %.1fH%.1f"/>`,
		left, top, floor, left+wide, top, left+5, top+tall*0.17, left+wide-5)
	base := floor - 4
	if g.Coals > glimmers {
		base = g.coals(&b, left, wide, base)
	}
	top = g.wood(&b, left, wide, base, tall)
	if g.Flames >= 0.5 && (g.Left > gone || g.Sticks) {
		g.flames(&b, left, wide, math.Min(top, base-8))
	} else if g.Smokes {
		x := left + wide/2
		fmt.Fprintf(&b, `<path class="glance-smoke" d="M%.1f %.1fq-6 -8 0 -15t0 -15M%.1f %.1fq-6 -8 0 -15t0 -15"/>`, x-9, top-3, x+9, top-3)
	}
	b.WriteString(`</svg>`)
	return template.HTML(b.String()) //nolint:gosec // numbers, and words that are escaped
}

// coals draws the bed, and returns where it ends.
func (g Glance) coals(b *strings.Builder, left, wide, base float64) float64 {
	share := math.Min(1, g.Coals)
	span := (0.25 + 0.6*share) * wide
	n := max(2, int(span/13))
	high := 5.0
	if share > 0.6 {
		high = 8
	}
	for i := range n {
		x := left + wide/2 - span/2 + float64(i)*span/float64(n)
		lift := math.Sin(math.Pi*(float64(i)+0.5)/float64(n)) * 4 * share
		fmt.Fprintf(b, `<rect class="glance-coal" x="%.1f" y="%.1f" width="%.1f" height="%.1f" rx="1"/>`, x, base-high-lift, span/float64(n)-3, high)
	}
	return base - high - 4*share - 2
}

// wood draws the pieces in rows, each narrower than the one below, as much as is left of them; it
// returns the top of them.
func (g Glance) wood(b *strings.Builder, left, wide, base, tall float64) float64 {
	pieces := min(mostDrawn, g.Pieces)
	if g.Left <= gone {
		pieces = 0
	} else if pieces > 1 {
		pieces = max(1, int(math.Ceil(float64(pieces)*g.Left)))
	}
	class := "glance-wood"
	if g.Black {
		class += " black"
	}
	if g.Laid {
		class += " laid"
	}
	row, y := int(math.Ceil((math.Sqrt(8*float64(pieces)+1)-1)/2)), base
	high := math.Min(17, (tall*0.62)/math.Max(1, float64(row)))
	each := math.Min(44, (wide-16)/math.Max(1, float64(row))-4)
	for pieces > 0 && row > 0 {
		n := min(row, pieces)
		x := left + wide/2 - float64(n)*(each+4)/2 + 2
		for i := range n {
			fmt.Fprintf(b, `<rect class="%s" x="%.1f" y="%.1f" width="%.1f" height="%.1f" rx="4"/>`, class, x+float64(i)*(each+4), y-high, each, high-2)
		}
		pieces, row, y = pieces-n, row-1, y-high
	}
	if g.Sticks {
		for i := range 5 {
			x := left + wide/2 - 30 + float64(i)*12
			fmt.Fprintf(b, `<path class="glance-stick" d="M%.1f %.1fl16 -9"/>`, x, y-1)
		}
		y -= 11
	}
	return y
}

// flames draws three of them on the wood: high ones where they are sure.
func (g Glance) flames(b *strings.Builder, left, wide, top float64) {
	for i, x := range []float64{-24, 0, 24} {
		h := 20.0
		if i == 1 {
			h = 27
		}
		if g.Flames < 0.8 || g.Left < 0.25 && !g.Sticks {
			h *= 0.6
		}
		cx, y := left+wide/2+x, top+3
		fmt.Fprintf(b, `<path class="glance-flame" d="M%.1f %.1fc-9 -6 -5 %.1f 0 %.1fc2 %.1f 10 %.1f 4 %.1fz"/>`, cx, y, -h*0.45, -h, h*0.25, h*0.7, h)
	}
}

// A Held is a room's temperature against what is wanted, from some hours ago to the next morning:
// ink for what was, dots for what is to come.
type Held struct {
	Locale    lang.Locale
	Zone      *time.Location
	Now       time.Time
	From, To  time.Time
	Low, High float64 // °C, the wanted band
	Was, Will []Moment
	Marks     []Word
	Wide      float64 // px
}

// number is a room's temperature with its unit.
func (h Held) number(v float64) string { return h.Locale.RoomTemperature(units.Celsius(v)) }

// A Moment is a value at a time.
type Moment struct {
	At time.Time
	V  float64
}

// A Word stands at a time.
type Word struct {
	At  time.Time
	Say string
}

// The line, px.
const (
	heldTall          = 78.0
	heldTop, heldBase = 20.0, 54.0
	leastSpan         = 5.0 // K that it shows at least
)

// Until ends the line where nothing more is known, some hours on at the least, at a full hour.
func (h *Held) Until(least time.Duration) {
	end := h.Now.Add(least)
	if n := len(h.Will); n > 0 && h.Will[n-1].At.After(end) {
		end = h.Will[n-1].At
	}
	if full := end.Truncate(time.Hour); full.Before(end) {
		end = full.Add(time.Hour)
	}
	if end.Before(h.To) {
		h.To = end
	}
}

// SVG draws it; nothing where there is no temperature to draw.
func (h Held) SVG() template.HTML {
	all := append(append([]Moment(nil), h.Was...), h.Will...)
	if len(all) < 2 || h.High <= h.Low {
		return ""
	}
	low, high := h.Low, h.High
	for _, m := range all {
		low, high = math.Min(low, m.V), math.Max(high, m.V)
	}
	if grow := leastSpan - (high - low); grow > 0 {
		low, high = low-grow/2, high+grow/2
	}
	x := func(t time.Time) float64 {
		return h.Wide * math.Max(0, math.Min(1, float64(t.Sub(h.From))/float64(h.To.Sub(h.From))))
	}
	y := func(v float64) float64 { return heldBase - (v-low)/(high-low)*(heldBase-heldTop) }
	var b strings.Builder
	says := h.Locale.F("The room against what is wanted, %s to %s.", h.number(h.Low), h.number(h.High))
	fmt.Fprintf(&b, `<svg class="held" viewBox="0 0 %.0f %.0f" width="%.0f" height="%.0f" role="img" aria-label="%s">`, h.Wide, heldTall, h.Wide, heldTall, html.EscapeString(says))
	fmt.Fprintf(&b, `<rect class="band" x="0" width="%.0f" y="%.1f" height="%.1f"/><text class="quiet" x="0" y="12">%s</text>`, h.Wide, y(h.High), y(h.Low)-y(h.High),
		html.EscapeString(h.Locale.F("wanted %s to %s", h.number(h.Low), h.number(h.High))))
	line := func(class string, of []Moment) {
		if len(of) < 2 {
			return
		}
		b.WriteString(`<path class="` + class + `" d="`)
		for i, m := range of {
			letter := "L"
			if i == 0 {
				letter = "M"
			}
			fmt.Fprintf(&b, "%s%.1f %.1f", letter, x(m.At), y(m.V))
		}
		b.WriteString(`"/>`)
	}
	line("held-was", h.Was)
	line("held-will", h.Will)
	h.words(&b, x, y, all)
	b.WriteString(`</svg>`)
	return template.HTML(b.String()) //nolint:gosec // numbers, and words that are escaped
}

// words are what stands under the line, each where there is room for it: now first.
func (h Held) words(b *strings.Builder, x func(time.Time) float64, y func(float64) float64, all []Moment) {
	nowV, found := 0.0, false
	for _, m := range all {
		if !m.At.After(h.Now) || !found {
			nowV, found = m.V, true
		}
	}
	words := append([]Word{{h.Now, h.Locale.F("now %s", h.number(nowV))}}, h.Marks...)
	words = append(words, Word{h.To, h.To.In(h.Zone).Format("15:04")})
	type span struct{ from, to float64 }
	var taken []span
	for i, w := range words {
		if w.At.Before(h.From) || w.At.After(h.To) {
			continue
		}
		wide := widthOf(w.Say)
		from := math.Max(0, math.Min(h.Wide-wide, x(w.At)-wide/2))
		free := true
		for _, s := range taken {
			free = free && (from > s.to+10 || from+wide < s.from-10)
		}
		if !free {
			continue
		}
		taken = append(taken, span{from, from + wide})
		switch {
		case i == 0:
			fmt.Fprintf(b, `<path class="held-now" d="M%.1f %.1fV%.0f"/><circle class="held-dot" cx="%.1f" cy="%.1f" r="4"/>`, x(w.At), y(nowV), heldBase+6, x(w.At), y(nowV))
		case i < len(words)-1:
			fmt.Fprintf(b, `<path class="held-mark" d="M%.1f %.0fV%.0f"/>`, x(w.At), heldTop, heldBase+6)
		}
		fmt.Fprintf(b, `<text class="quiet" x="%.1f" y="%.0f">%s</text>`, from, heldTall-6, html.EscapeString(w.Say))
	}
}
