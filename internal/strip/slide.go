package strip

import (
	"fmt"
	"html"
	"html/template"
	"math"
	"strings"

	"smolder/internal/core/stove"
	"smolder/internal/lang"
	"smolder/internal/say"
)

// A Slide is a control drawn on its way: where it stands, and where it should go.
type Slide struct {
	Control stove.Control
	Stands  float64 // opening
	To      float64
	Locale  lang.Locale
}

// The drawing, px: it fits a phone.
const (
	slideWide, slideTall = 340.0, 74.0
	slideEdge            = 26.0
	slideRail            = 34.0
	knobWide, knobTall   = 16.0, 26.0
	sameSpot             = 0.02 // openings that are drawn as one
)

// SVG draws it: open is to the right, as the words under its ends say.
func (s Slide) SVG() template.HTML {
	x := func(o float64) float64 { return slideEdge + math.Max(0, math.Min(1, o))*(slideWide-2*slideEdge) }
	mark := func(o float64) string { return say.Mark(s.Control.Scale, o, s.Locale) }
	var b strings.Builder
	says := s.Locale.F("%s stands at %s", s.Control.Name, mark(s.Stands))
	moves := math.Abs(s.To-s.Stands) > sameSpot
	if moves {
		says = s.Locale.F("%s from %s to %s", s.Control.Name, mark(s.Stands), mark(s.To))
	}
	fmt.Fprintf(&b, `<svg class="slide" viewBox="0 0 %.0f %.0f" width="%.0f" height="%.0f" role="img" aria-label="%s">`, slideWide, slideTall, slideWide, slideTall, html.EscapeString(says))
	fmt.Fprintf(&b, `<path class="slide-rail" d="M%.1f %.1fH%.1f"/>`, x(0), slideRail, x(1))
	for _, o := range []float64{0, 0.25, 0.5, 0.75, 1} {
		fmt.Fprintf(&b, `<path class="slide-tick" d="M%.1f %.1fv12"/>`, x(o), slideRail-6)
	}
	knob := func(class string, o float64) {
		fmt.Fprintf(&b, `<rect class="%s" x="%.1f" y="%.1f" width="%.0f" height="%.0f" rx="3"/>`, class, x(o)-knobWide/2, slideRail-knobTall/2, knobWide, knobTall)
	}
	knob("slide-knob", s.Stands)
	if moves {
		knob("slide-to", s.To)
		from, to := x(s.Stands), x(s.To)
		way := math.Copysign(1, to-from)
		fmt.Fprintf(&b, `<path class="slide-arrow" d="M%.1f %.1fQ%.1f %.1f %.1f %.1fm%.1f -5l%.1f 5l%.1f 4"/>`, from, slideRail-knobTall/2-3, (from+to)/2, 2.0, to, slideRail-knobTall/2-3,
			-7*way, 7*way, -7*way)
	}
	s.words(&b, x, mark, moves)
	b.WriteString(`</svg>`)
	return template.HTML(b.String()) //nolint:gosec // numbers, and words that are escaped
}

// words are the marks under the knobs, and those of the ends where there is room.
func (s Slide) words(b *strings.Builder, x func(float64) float64, mark func(float64) string, moves bool) {
	type word struct {
		o     float64
		class string
	}
	words := []word{{s.Stands, "quiet"}}
	if moves {
		words = append([]word{{s.To, "slide-goal"}}, words...)
	}
	words = append(words, word{0, "quiet"}, word{1, "quiet"})
	var taken [][2]float64
	for _, w := range words {
		text := mark(w.o)
		wide := widthOf(text)
		from := math.Max(0, math.Min(slideWide-wide, x(w.o)-wide/2))
		free := true
		for _, t := range taken {
			free = free && (from > t[1]+8 || from+wide < t[0]-8)
		}
		if !free {
			continue
		}
		taken = append(taken, [2]float64{from, from + wide})
		fmt.Fprintf(b, `<text class="%s" x="%.1f" y="%.0f">%s</text>`, w.class, from, slideTall-8, html.EscapeString(text))
	}
}
