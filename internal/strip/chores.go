package strip

import (
	"cmp"
	"fmt"
	"html"
	"html/template"
	"math"
	"slices"
	"strings"
	"time"

	"smolder/internal/lang"
)

// A Chore is one task of the year as it is drawn.
type Chore struct {
	Name   string
	At     time.Time // when it is due as it goes; what is due already stands before today
	Due    bool
	Danger bool
}

// A Year is what the months ahead want done, a line a stove.
type Year struct {
	Now  time.Time // in the household's zone
	Rows []YearRow
}

// A YearRow is one stove, or the household.
type YearRow struct {
	Name   string
	Chores []Chore
}

const (
	yearMonths = 12
	yearRow    = 46.0 // px from line to line: its words stand above and below it
	yearName   = 96.0
	yearDue    = 44.0 // before today: what is due
	yearDot    = 4.5
	yearFoot   = 24.0
	yearMost   = 9 // lines that are drawn
)

// Drawn makes it for a page and for a phone.
func (y Year) Drawn(loc lang.Locale) Pair {
	return Pair{Wide: y.svg(Page, loc), Narrow: y.svg(Phone, loc)}
}

func (y Year) svg(width float64, loc lang.Locale) template.HTML {
	rows := y.Rows[:min(len(y.Rows), yearMost)]
	name, above := yearName, 0.0
	if width < Page { // on a phone the name stands over its line
		name, above = 0, 14
	}
	tall := yearRow + above
	height := tall*float64(len(rows)) + yearFoot
	left := name + yearDue
	end := y.Now.AddDate(0, yearMonths, 0)
	x := func(at time.Time) float64 {
		return left + (width-left-4)*math.Max(0, math.Min(1, at.Sub(y.Now).Hours()/end.Sub(y.Now).Hours()))
	}
	var b strings.Builder
	p := func(format string, args ...any) { fmt.Fprintf(&b, format, args...) }
	p(`<svg class="strip year" viewBox="0 0 %.0f %.0f" width="%.0f" height="%.0f" role="img" aria-label="%s">`, width, height, width, height,
		html.EscapeString(loc.T("The upkeep of the year ahead, a line a stove; the list below has the same")))
	bottom := height - yearFoot
	today := fmt.Sprintf("M%.1f 4V%.1f", left, bottom+4)
	if above > 0 { // the names stand over their lines, and not under this one
		today = ""
		for i := range rows {
			today += fmt.Sprintf("M%.1f %.1fV%.1f", left, tall*float64(i)+above+2, tall*float64(i+1))
		}
	}
	p(`<path class="tickline" d="%s"/><text class="now-word" x="%.1f" y="%.1f" text-anchor="middle">%s</text>`, today, left, bottom+18, html.EscapeString(loc.T("today")))
	month := time.Date(y.Now.Year(), y.Now.Month()+1, 1, 0, 0, 0, 0, y.Now.Location())
	lastWord := left + widthOf(loc.T("today"))/2 + 6
	for ; month.Before(end); month = month.AddDate(0, 1, 0) {
		at, word := x(month), loc.Date(month, "Jan")
		p(`<path class="thin" d="M%.1f %.1fv4"/>`, at, bottom)
		if from := at - widthOf(word)/2; from > lastWord && at+widthOf(word)/2 < width {
			p(`<text class="quiet" x="%.1f" y="%.1f" text-anchor="middle">%s</text>`, at, bottom+18, html.EscapeString(word))
			lastWord = at + widthOf(word)/2 + 6
		}
	}
	for i, r := range rows {
		line := tall*float64(i) + above + yearRow/2
		if above > 0 {
			p(`<text class="label" x="0" y="%.1f">%s</text>`, tall*float64(i)+12, html.EscapeString(r.Name))
		} else {
			p(`<text class="label" x="0" y="%.1f">%s</text>`, line+4, html.EscapeString(short(r.Name, yearName-8)))
		}
		p(`<path class="year-line" d="M%.1f %.1fH%.1f"/>`, name, line, width)
		r.draw(&b, line, left, width, x)
	}
	p(`</svg>`)
	return template.HTML(b.String()) //nolint:gosec // numbers, and words that are escaped
}

// draw puts a line's tasks on it: what is due in a row before today, what comes at its day. A
// word stands above or below its dot where there is room, else in its title alone.
func (r YearRow) draw(b *strings.Builder, line, left, width float64, x func(time.Time) float64) {
	chores := slices.Clone(r.Chores)
	slices.SortStableFunc(chores, func(a, c Chore) int { return cmp.Or(boolInt(c.Danger)-boolInt(a.Danger), a.At.Compare(c.At)) })
	overdue := 0
	var coming []Chore
	for _, c := range chores {
		if !c.Due {
			coming = append(coming, c)
			continue
		}
		class := "year-due"
		if c.Danger {
			class = "year-danger"
		}
		at := left - 9 - float64(overdue)*11
		if at < left-yearDue+yearDot {
			continue // more than fit: the list says how many
		}
		fmt.Fprintf(b, `<circle class="%s" cx="%.1f" cy="%.1f" r="%.1f"><title>%s</title></circle>`, class, at, line, yearDot, html.EscapeString(c.Name))
		overdue++
	}
	slices.SortStableFunc(coming, func(a, c Chore) int { return a.At.Compare(c.At) })
	free := [2]float64{left, left} // from where there is room above and below
	for _, c := range coming {
		at := x(c.At)
		fmt.Fprintf(b, `<circle class="year-coming" cx="%.1f" cy="%.1f" r="%.1f"><title>%s</title></circle>`, at, line, yearDot, html.EscapeString(c.Name))
		wide := widthOf(c.Name)
		from := math.Max(left+2, math.Min(at-8, width-wide-2))
		for lane, y := range []float64{line - 9, line + 18} {
			if from >= free[lane] && from+wide <= width {
				fmt.Fprintf(b, `<text class="quiet" x="%.1f" y="%.1f">%s</text>`, from, y, html.EscapeString(c.Name))
				free[lane] = from + wide + 10
				break
			}
		}
	}
}

func boolInt(b bool) int {
	if b {
		return 1
	}
	return 0
}
