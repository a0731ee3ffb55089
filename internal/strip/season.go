package strip

import (
	"fmt"
	"html"
	"html/template"
	"math"
	"strings"
	"time"

	"smolder/internal/lang"
	"smolder/internal/say"
)

// A SeasonWeek is one week of a year on the season's strip, and the same week a year
// before.
type SeasonWeek struct {
	Monday           time.Time
	Wood, WoodBefore float64 // kg
	Days, DaysBefore float64 // degree-days; negative: not known
	Smoke            float64 // minutes in which gas left unburnt
	SmokeBefore      float64
	Deposits         []float64 // g of each stove, since the year began
	Burns            int
}

// A Season is a year of weeks.
type Season struct {
	Weeks    []SeasonWeek
	Stoves   []string
	Mass     func(kg float64) string
	MassUnit string
	Scale    float64 // kg as shown
	Degree   float64 // degree-days as shown
}

// Strip draws the year: wood as blocks as tall as their mass, last year's as an outline
// behind them; degree-days as a pen over them; smoke as hatched bars; deposits of each flue
// as rising pens.
func (s Season) Strip(width float64, loc lang.Locale) template.HTML {
	f := &frame{Chart: Chart{ID: "season", Width: width, Locale: loc}}
	f.left, f.right = 68, width-96
	if width < 500 {
		f.left, f.right = 46, width-66
	}
	n := float64(max(1, len(s.Weeks)))
	x := func(i float64) float64 { return f.left + i/n*(f.right-f.left) }
	f.y = 18
	last := -100.0
	for i, w := range s.Weeks {
		if w.Monday.Day() <= 7 && x(float64(i))-last > 44 {
			f.printf(`<g class="grid"><line x1="%.1f" x2="%.1f" y1="20" y2="@bottom"/></g>`, x(float64(i)), x(float64(i)))
			f.text(x(float64(i))+2, 13, "start", "quiet", loc.Date(w.Monday, "Jan"))
			last = x(float64(i))
		}
	}
	s.wood(f, x)
	s.smoke(f, x)
	s.deposits(f, x)
	return template.HTML(fmt.Sprintf(`<svg class="strip season" viewBox="0 0 %.0f %.0f" width="%.0f" height="%.0f" role="img" aria-label="%s">%s</svg>`, //nolint:gosec // escaped
		width, f.y, width, f.y, html.EscapeString(loc.T("The year by week: wood against degree-days, smoke, deposits")), strings.ReplaceAll(f.b.String(), "@bottom", fmt.Sprintf("%.1f", f.y))))
}

// axis writes a track's name and its scale.
func (f *frame) axis(name string, top, tall, high float64, unit string) {
	step := niceStep(high / 2.2)
	for v := step; v <= high*1.001; v += step {
		y := top + tall - v/high*tall
		f.text(f.left-8, y+4, "end", "quiet num", trimmed(v))
		f.printf(`<line class="tickline" x1="%.1f" x2="%.1f" y1="%.1f" y2="%.1f"/>`, f.left-4, f.left, y, y)
	}
	f.text(f.left+4, top-4, "start", "note", name+", "+unit)
	f.printf(`<line class="base" x1="%.1f" x2="%.1f" y1="%.1f" y2="%.1f"/>`, f.left, f.right, top+tall, top+tall)
}

func (s Season) wood(f *frame, x func(float64) float64) {
	const tall = 130.0
	top := f.y + 22
	high, days := 1.0, 1.0
	for _, w := range s.Weeks {
		high = math.Max(high, math.Max(w.Wood, w.WoodBefore)*s.Scale)
		days = math.Max(days, math.Max(w.Days, w.DaysBefore)*s.Degree)
	}
	high, days = high*1.08, days*1.12
	f.axis(f.Locale.T("wood by week"), top, tall, high, s.MassUnit)
	y := func(v float64) float64 { return top + tall - v/high*tall }
	for i, w := range s.Weeks {
		a, b := x(float64(i))+1, x(float64(i)+1)-1
		if w.WoodBefore > 0 {
			f.printf(`<rect class="season-before" x="%.1f" y="%.1f" width="%.1f" height="%.1f"><title>%s</title></rect>`,
				a, y(w.WoodBefore*s.Scale), b-a, top+tall-y(w.WoodBefore*s.Scale), html.EscapeString(f.Locale.F("week of %s a year before: %s", f.Locale.Date(w.Monday, "2 January"), s.Mass(w.WoodBefore))))
		}
		if w.Wood > 0 {
			f.printf(`<rect class="season-wood" x="%.1f" y="%.1f" width="%.1f" height="%.1f"><title>%s</title></rect>`,
				a+1.5, y(w.Wood*s.Scale), math.Max(1, b-a-3), top+tall-y(w.Wood*s.Scale), html.EscapeString(f.Locale.F("week of %s: %s in %s", f.Locale.Date(w.Monday, "2 January"), s.Mass(w.Wood), say.Burns(w.Burns, f.Locale))))
		}
	}
	pen := func(class string, of func(SeasonWeek) float64) {
		var d strings.Builder
		joined := false
		for i, w := range s.Weeks {
			v := of(w)
			if v < 0 {
				joined = false
				continue
			}
			letter := "M"
			if joined {
				letter = "L"
			}
			joined = true
			fmt.Fprintf(&d, "%s%.1f %.1f", letter, x(float64(i)+0.5), top+tall-v*s.Degree/days*tall)
		}
		f.printf(`<path class="%s" d="%s"/>`, class, d.String())
	}
	pen("pen pen-out planned", func(w SeasonWeek) float64 { return w.DaysBefore })
	pen("pen pen-cat-line", func(w SeasonWeek) float64 { return w.Days })
	step := niceStep(days / 2.2)
	for v := step; v <= days; v += step {
		f.text(f.right+8, top+tall-v/days*tall+4, "start", "quiet num", trimmed(v))
	}
	f.text(f.Width, top-4, "end", "note", f.Locale.T("degree-days"))
	f.y = top + tall + 8
}

func (s Season) smoke(f *frame, x func(float64) float64) {
	const tall = 46.0
	top := f.y + 22
	high := 10.0
	for _, w := range s.Weeks {
		high = math.Max(high, math.Max(w.Smoke, w.SmokeBefore))
	}
	high *= 1.08
	f.axis(f.Locale.T("smouldering by week"), top, tall, high, "min")
	f.printf(`<defs><pattern id="season-smoke" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)"><line class="hatch" x1="0" y1="0" x2="0" y2="5"/></pattern></defs>`)
	for i, w := range s.Weeks {
		a, b := x(float64(i))+1, x(float64(i)+1)-1
		if w.SmokeBefore > 0.5 {
			f.printf(`<line class="season-mark" x1="%.1f" x2="%.1f" y1="%.1f" y2="%.1f"/>`, a, b, top+tall-w.SmokeBefore/high*tall, top+tall-w.SmokeBefore/high*tall)
		}
		if w.Smoke > 0.5 {
			h := w.Smoke / high * tall
			f.printf(`<rect class="season-smoke" fill="url(#season-smoke)" x="%.1f" y="%.1f" width="%.1f" height="%.1f"><title>%s</title></rect>`, a+1.5, top+tall-h,
				math.Max(1, b-a-3), h, html.EscapeString(f.Locale.F("week of %s: %.0f min", f.Locale.Date(w.Monday, "2 January"), w.Smoke)))
		}
	}
	f.y = top + tall + 8
}

func (s Season) deposits(f *frame, x func(float64) float64) {
	const tall = 60.0
	top := f.y + 22
	high := 10.0
	for _, w := range s.Weeks {
		for _, g := range w.Deposits {
			high = math.Max(high, g)
		}
	}
	high *= 1.08
	f.axis(f.Locale.T("settled in each flue since the year began"), top, tall, high, "g")
	classes := []string{"pen", "pen over-2", "pen over-3", "pen over-4", "pen over-5"}
	var ends []penEnd
	for k, name := range s.Stoves {
		var d strings.Builder
		y := 0.0
		for i, w := range s.Weeks {
			y = top + tall - w.Deposits[k]/high*tall
			fmt.Fprintf(&d, "%s%.1f %.1f", letter(i), x(float64(i)+0.5), y)
		}
		if len(s.Weeks) > 0 && s.Weeks[len(s.Weeks)-1].Deposits[k] > 0 {
			f.printf(`<path class="%s" d="%s"/>`, classes[k%len(classes)], d.String())
			ends = append(ends, penEnd{y: y, label: name, class: "label"})
		}
	}
	f.endLabels(ends, top, top+tall)
	f.y = top + tall + 10
}
