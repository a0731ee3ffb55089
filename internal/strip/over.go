package strip

import (
	"fmt"
	"html"
	"html/template"
	"math"
	"strings"
	"time"

	"smolder/internal/core/stove"
	"smolder/internal/lang"
)

// MostOver is how many burns are laid over each other: more could not be told apart.
const MostOver = 5

// An Over is one of the burns that are laid over each other.
type Over struct {
	Number string
	Name   string
	Points []Point // of its gauge, since the common zero; negative before it
	Downs  []time.Duration
}

// Overlay draws burns over each other on a common zero, told apart by line pattern and by
// a number at the pen's end; small flags on the pens are where the air was taken back.
func Overlay(burns []Over, band stove.Gauge, zero string, u lang.Locale, width float64) template.HTML {
	f := &frame{Chart: Chart{ID: "over", Width: width, Locale: u, Zone: time.UTC, Band: band}}
	f.left, f.right = 68, width-46
	if width < 500 {
		f.left, f.right = 46, width-30
	}
	f.From, f.To = 0, time.Hour
	high := math.Max(100, float64(band.Band.Low)*1.5)
	for _, o := range burns {
		for _, p := range o.Points {
			f.From, f.To = min(f.From, p.At), max(f.To, p.At)
			high = math.Max(high, p.V)
		}
	}
	f.To = min(f.To, f.From+longestChart)
	high = math.Min(high, hottest) * 1.06
	f.zeroTimes()
	const tall = 300.0
	top := f.y + 8
	y := func(v float64) float64 { return top + tall - math.Max(0, v)/high*tall }
	name := f.band(y, top, tall)
	f.degrees(y, high)
	f.printf(`<line class="now" x1="%.1f" x2="%.1f" y1="20" y2="%.1f"/>`, f.x(0), f.x(0), top+tall)
	f.text(f.x(0)+5, top+tall-6, "start", "note", zero)
	var ends []penEnd
	for i, o := range burns {
		var d strings.Builder
		before := time.Duration(math.MinInt64)
		for _, p := range o.Points {
			letter := "L"
			if before == time.Duration(math.MinInt64) || p.At-before > time.Hour {
				letter = "M"
			}
			before = p.At
			fmt.Fprintf(&d, "%s%.1f %.1f", letter, f.x(p.At), y(p.V))
		}
		f.printf(`<path class="pen over-%d" d="%s"><title>%s</title></path>`, i+1, d.String(), html.EscapeString(o.Name))
		for _, at := range o.Downs {
			if v, ok := valueAt(o.Points, at); ok {
				f.printf(`<path class="over-flag" d="M%.1f %.1fv-11l6 3.5l-6 3.5"><title>%s</title></path>`, f.x(at), y(v), html.EscapeString(f.Locale.F("%s: the air taken back", o.Name)))
			}
		}
		if n := len(o.Points); n > 0 {
			ends = append(ends, penEnd{y: y(o.Points[n-1].V), label: o.Number, class: "label"})
		}
	}
	if name.text != "" {
		f.text(f.right-widthOf(name.text), name.upper, "start", "note", name.text)
	}
	f.printf(`<line class="base" x1="%.1f" x2="%.1f" y1="%.1f" y2="%.1f"/>`, f.left, f.right, top+tall, top+tall)
	f.endLabels(ends, top+4, top+tall)
	f.y = top + tall + 8
	return template.HTML(fmt.Sprintf(`<svg class="strip" viewBox="0 0 %.0f %.0f" width="%.0f" height="%.0f" role="img" aria-label="%s">%s</svg>`, //nolint:gosec // every text in it is escaped
		width, f.y, width, f.y, html.EscapeString(f.Locale.F("%d burns laid over each other", len(burns))), strings.ReplaceAll(f.b.String(), "@bottom", fmt.Sprintf("%.1f", f.y))))
}

// zeroTimes draws the lines of the hours before and after the common zero.
func (f *frame) zeroTimes() {
	f.y = 18
	step := 30 * time.Minute
	for _, s := range []time.Duration{30 * time.Minute, time.Hour, 2 * time.Hour, 3 * time.Hour, 6 * time.Hour} {
		step = s
		if float64(s)/float64(f.To-f.From)*(f.right-f.left) >= 46 {
			break
		}
	}
	for at := f.From.Truncate(step); at <= f.To; at += step {
		if at < f.From {
			continue
		}
		sign := ""
		if at < 0 {
			sign = "−"
		}
		m := int(at.Abs().Minutes())
		f.printf(`<g class="grid"><line x1="%.1f" x2="%.1f" y1="20" y2="@bottom"/></g>`, f.x(at), f.x(at))
		f.text(f.x(at), 13, "middle", "quiet num", fmt.Sprintf("%s%d:%02d", sign, m/60, m%60))
	}
}

// valueAt is a pen's value at a time, between its points.
func valueAt(points []Point, at time.Duration) (float64, bool) {
	for i := 1; i < len(points); i++ {
		if a, b := points[i-1], points[i]; a.At <= at && at <= b.At {
			if b.At == a.At {
				return a.V, true
			}
			return a.V + (b.V-a.V)*float64(at-a.At)/float64(b.At-a.At), true
		}
	}
	return 0, false
}
