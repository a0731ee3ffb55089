package strip

import (
	"fmt"
	"html"
	"html/template"
	"math"
	"strings"

	"smolder/internal/core/behave"
	"smolder/internal/core/stove"
	"smolder/internal/lang"
	"smolder/internal/say"
)

// A Settings is what each setting of a control gives: heat, hours and smoke over its way, shut at
// the left. A grey field is where eight of ten stoves lie.
type Settings struct {
	Control stove.Control
	Given   []behave.Given
	Most    float64 // g/kg of smoke that such a stove may make
	Locale  lang.Locale
}

// The drawing, px.
const (
	givenLeft, givenRight = 62.0, 14.0
	givenLane, givenGap   = 84.0, 22.0
	givenFoot             = 26.0
	likelyHot             = 0.1 // share of the stoves from where a setting is marked
	likelyDark            = 0.1
)

// lane is one of its three.
type givenTrack struct {
	name  string
	of    func(behave.Given) behave.Spread
	shown func(float64) string
	limit float64
}

// SVG draws it so wide.
func (s Settings) SVG(wide float64) template.HTML {
	loc := s.Locale
	lanes := []givenTrack{
		{loc.T("heat, kW"), func(g behave.Given) behave.Spread { return scaled(g.Heat, 1e-3) }, func(v float64) string { return loc.Number(v, 0) }, 0},
		{loc.T("hours"), func(g behave.Given) behave.Spread { return g.Hours }, func(v float64) string { return loc.Number(v, 0) }, 0},
		{loc.T("smoke, g/kg"), func(g behave.Given) behave.Spread { return g.Smoke }, func(v float64) string { return loc.Number(v, 0) }, s.Most},
	}
	tall := float64(len(lanes))*(givenLane+givenGap) + givenFoot
	x := func(o float64) float64 { return givenLeft + o*(wide-givenLeft-givenRight) }
	var b strings.Builder
	fmt.Fprintf(&b, `<svg class="strip given" viewBox="0 0 %.0f %.0f" width="%.0f" height="%.0f" role="img" aria-label="%s" data-left="%.0f" data-right="%.0f" xmlns="http://www.w3.org/2000/svg">`,
		wide, tall, wide, tall, html.EscapeString(loc.F("What each setting of %s gives: heat, hours and smoke", s.Control.Name)), givenLeft, wide-givenRight)
	for i, l := range lanes {
		top := givenGap + float64(i)*(givenLane+givenGap)
		most := l.limit * 1.4
		for _, g := range s.Given {
			most = math.Max(most, l.of(g).Middle*1.25)
		}
		most = math.Max(most, 1e-6)
		y := func(v float64) float64 { return top + givenLane*(1-math.Min(1, math.Max(0, v/most))) }
		fmt.Fprintf(&b, `<text x="4" y="%.1f" class="lab">%s</text><line x1="%.1f" x2="%.1f" y1="%.1f" y2="%.1f" class="thin"/>`,
			top-6, html.EscapeString(l.name), givenLeft, wide-givenRight, top+givenLane, top+givenLane)
		for _, v := range ticksTo(most) {
			fmt.Fprintf(&b, `<text x="%.1f" y="%.1f" class="lab" text-anchor="end">%s</text>`, givenLeft-6, y(v)+4, l.shown(v))
		}
		var up, down, pen []string
		for _, g := range s.Given {
			v := l.of(g)
			up = append(up, fmt.Sprintf("%.1f,%.1f", x(g.Opening), y(v.High)))
			down = append([]string{fmt.Sprintf("%.1f,%.1f", x(g.Opening), y(v.Low))}, down...)
			pen = append(pen, fmt.Sprintf("%.1f,%.1f", x(g.Opening), y(v.Middle)))
		}
		fmt.Fprintf(&b, `<polygon points="%s %s" class="fan-area"/><polyline points="%s" class="pen"/>`, strings.Join(up, " "),
			strings.Join(down, " "), strings.Join(pen, " "))
		if l.limit > 0 {
			fmt.Fprintf(&b, `<line x1="%.1f" x2="%.1f" y1="%.1f" y2="%.1f" class="given-limit"/>`, givenLeft, wide-givenRight, y(l.limit), y(l.limit))
		}
	}
	foot := tall - givenFoot + 12
	last := -100.0
	for _, g := range s.Given {
		at := x(g.Opening)
		fmt.Fprintf(&b, `<line x1="%.1f" x2="%.1f" y1="%.1f" y2="%.1f" class="thin"/>`, at, at, tall-givenFoot-4, tall-givenFoot+2)
		if mark := say.ShortMark(s.Control.Scale, g.Opening, loc); at-last > 34 {
			fmt.Fprintf(&b, `<text x="%.1f" y="%.1f" class="lab" text-anchor="middle">%s</text>`, at, foot, html.EscapeString(mark))
			last = at
		}
		if g.Hot >= likelyHot || g.Dark >= likelyDark {
			fmt.Fprintf(&b, `<circle cx="%.1f" cy="%.1f" r="3" class="sign-dot"/>`, at, tall-givenFoot-1)
		}
	}
	fmt.Fprintf(&b, `<line class="cross" y1="%.1f" y2="%.1f" x1="0" x2="0" visibility="hidden"/></svg>`, givenGap, tall-givenFoot)
	return template.HTML(b.String()) //nolint:gosec // of our own numbers; names are escaped
}

// scaled is a spread in another unit.
func scaled(v behave.Spread, by float64) behave.Spread {
	return behave.Spread{Low: v.Low * by, Middle: v.Middle * by, High: v.High * by}
}

// ticksTo are two or three round numbers up to a most.
func ticksTo(most float64) []float64 {
	step := math.Pow(10, math.Floor(math.Log10(most)))
	for _, by := range []float64{0.5, 1, 2, 5} {
		if most/(step*by) <= 3.2 {
			step *= by
			break
		}
	}
	var out []float64
	for v := step; v <= most; v += step {
		out = append(out, v)
	}
	return out
}
