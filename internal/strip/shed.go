package strip

import (
	"fmt"
	"html"
	"html/template"
	"math"
	"strings"

	"smolder/internal/core/units"
	"smolder/internal/lang"
)

// A Pile is a stack as the shed shows it.
type Pile struct {
	Name     string
	Says     string // what it is and holds, in a few words
	Left     float64
	Counted  float64 // in the measure of Left: the heat in it
	Moisture units.Fraction
}

// A Shed is all the wood that lies there, each stack as long as the heat it held
// when it was counted, and filled as far as it is left. The lines in a stack are
// its water, as in the loads of a strip: the closer, the wetter.
type Shed struct {
	Piles []Pile
	Width float64 // px; 0: beside a table
}

const (
	shedWidth = 440.0
	shedRow   = 62.0 // px from stack to stack
	shedBar   = 26.0 // px, the height of one
	shedMost  = 12   // stacks that are drawn
)

// Drawn makes the shed for a page and for a phone.
func (s Shed) Drawn(loc lang.Locale) Pair {
	narrow := s
	narrow.Width = Phone
	return Pair{Wide: s.SVG(loc), Narrow: narrow.SVG(loc)}
}

// SVG draws it.
func (s Shed) SVG(loc lang.Locale) template.HTML {
	width := s.Width
	if width == 0 {
		width = shedWidth
	}
	piles := s.Piles[:min(len(s.Piles), shedMost)]
	most := 0.0
	for _, p := range piles {
		most = math.Max(most, math.Max(p.Counted, p.Left))
	}
	height := shedRow*float64(len(piles)) + 6
	var b strings.Builder
	p := func(format string, args ...any) { fmt.Fprintf(&b, format, args...) }
	p(`<svg class="column" viewBox="0 0 %.0f %.0f" width="%.0f" height="%.0f" role="img" aria-label="%s" xmlns="http://www.w3.org/2000/svg">`, width, height, width, height, html.EscapeString(loc.T("The wood that is left, stack by stack")))
	for i, pile := range piles {
		y := shedRow*float64(i) + 16
		long := func(v float64) float64 {
			if most == 0 {
				return 0
			}
			return math.Max(0, v/most) * (width - 4)
		}
		p(`<text x="2" y="%.1f" class="label">%s</text><text x="%.1f" y="%.1f" text-anchor="end" class="quiet">%s</text>`,
			y-3, html.EscapeString(short(pile.Name, width*0.45)), width-2, y-3, html.EscapeString(pile.Says))
		p(`<g class="block-plan"><rect class="block-edge" x="2" y="%.1f" width="%.1f" height="%.0f"/></g>`, y+3, math.Max(1, long(pile.Counted)), shedBar)
		left := long(pile.Left)
		if left < 1 {
			continue
		}
		p(`<rect class="block-fill" x="2" y="%.1f" width="%.1f" height="%.0f"/>`, y+3, left, shedBar)
		for k, lines := 1.0, math.Max(1, math.Round((pile.Moisture.Percent()-8)/3)); k <= lines; k++ {
			at := y + 3 + shedBar*k/(lines+1)
			p(`<line class="block-wet" x1="2" x2="%.1f" y1="%.1f" y2="%.1f"/>`, 2+left, at, at)
		}
		p(`<rect class="block-edge" x="2" y="%.1f" width="%.1f" height="%.0f"/>`, y+3, left, shedBar)
	}
	p(`</svg>`)
	return template.HTML(b.String()) //nolint:gosec // every text in it is escaped above
}

// short cuts a name to a width in px.
func short(name string, width float64) string {
	r := []rune(name)
	if most := int(width / letterWidth); len(r) > most {
		return strings.TrimSpace(string(r[:max(1, most-1)])) + "…"
	}
	return name
}
