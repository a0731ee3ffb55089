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

// A Foretold is how far off one burn was foretold, K: by what is usual of such stoves, and by
// what was known of this one.
type Foretold struct {
	At           time.Time
	Usual, Known float64
}

// Foretelling draws how far off the last burns were foretold: for each a hollow ring where
// what is usual was, a full one where what was known was, and what lies between.
func Foretelling(told []Foretold, u lang.Locale, zone *time.Location, width float64) template.HTML {
	const height, foot, left = 150.0, 34.0, 46.0
	most := 10.0
	for _, t := range told {
		most = math.Max(most, math.Max(t.Usual, t.Known))
	}
	shown := func(k float64) float64 {
		if u.System == units.Imperial {
			return k * 1.8
		}
		return k
	}
	y := func(k float64) float64 { return 12 + (height-12)*(1-math.Min(1, k/(most*1.1))) }
	x := func(i int) float64 { return left + 24 + float64(i)*(width-left-48)/math.Max(1, float64(len(told)-1)) }
	var b strings.Builder
	fmt.Fprintf(&b, `<svg class="strip told" viewBox="0 0 %.0f %.0f" width="%.0f" height="%.0f" role="img" aria-label="%s">`,
		width, height+foot, width, height+foot, html.EscapeString(u.F("How far off the forecasts of the last %d burns were", len(told))))
	fmt.Fprintf(&b, `<line class="base" x1="%.1f" x2="%.1f" y1="%.1f" y2="%.1f"/>`, left, width, height, height)
	step := niceStep(shown(most) / 3)
	for v := step; v <= shown(most); v += step {
		k := v
		if u.System == units.Imperial {
			k = v / 1.8
		}
		fmt.Fprintf(&b, `<text class="quiet" x="%.1f" y="%.1f" text-anchor="end">%.0f %s</text><line class="tickline" x1="%.1f" x2="%.1f" y1="%.1f" y2="%.1f"/>`,
			left-8, y(k)+4, v, u.DegreeSign(), left-4, left, y(k), y(k))
	}
	last := -100.0
	for i, t := range told {
		at := t.At.In(zone)
		fmt.Fprintf(&b, `<g><title>%s</title><line class="told-line" x1="%.1f" x2="%.1f" y1="%.1f" y2="%.1f"/>`+
			`<circle class="told-usual" cx="%.1f" cy="%.1f" r="4.5"/><circle class="told-known" cx="%.1f" cy="%.1f" r="4.5"/></g>`,
			html.EscapeString(u.F("%s: %.0f by what is usual, %.0f by what was known", u.Date(at, "2 January"), shown(t.Usual), shown(t.Known))), x(i), x(i), y(t.Usual), y(t.Known), x(i), y(t.Usual), x(i), y(t.Known))
		if x(i)-last > 58 {
			fmt.Fprintf(&b, `<text class="quiet" x="%.1f" y="%.1f" text-anchor="middle">%s</text>`, x(i), height+16, html.EscapeString(u.Date(at, "2 Jan")))
			last = x(i)
		}
	}
	b.WriteString("</svg>")
	return template.HTML(b.String()) //nolint:gosec // every text in it is escaped above
}

// niceStep is a round number near a step.
func niceStep(v float64) float64 {
	size := math.Pow(10, math.Floor(math.Log10(math.Max(v, 1e-9))))
	for _, n := range []float64{1, 2, 5, 10} {
		if v <= n*size {
			return n * size
		}
	}
	return 10 * size
}
