// Package season is a year of burns, beside the year before.
package season

import (
	"embed"
	"fmt"
	"math"
	"net/http"
	"slices"
	"time"

	"github.com/gin-gonic/gin"

	"smolder/internal/app/reviewing"
	"smolder/internal/core/season"
	"smolder/internal/core/units"
	"smolder/internal/lang"
	"smolder/internal/store"
	"smolder/internal/strip"
	"smolder/internal/web/kit"
)

//go:embed templates
var templates embed.FS

// A Room serves these pages.
type Room struct{ *kit.Site }

// New returns the room with its templates.
func New(s *kit.Site) (Room, error) { return Room{s}, s.AddViews(templates) }

// Routes adds the addresses for those who are signed in.
func (s Room) Routes(in gin.IRoutes) { in.GET("/season", s.Handle(s.season)) }

type seasonPage struct {
	kit.Page
	Heading string
	Strip   strip.Pair
	Rows    []row
	Two     bool // something was burnt in the year before
	Weeks   []weekRow
	Earlier string
	Later   string
	Nothing bool
	Doing   string
}

// row is a stove, or all of them, in figures of both years.
type row struct {
	Name          string
	Year, Before  totals
	WoodPerDegree string // each year's wood for each degree-day
}

// weekRow is one week in figures.
type weekRow struct {
	Monday, Days, Before string
	totals
}

// totals are a year's, in words.
type totals struct{ Burns, Wood, Heat, Working, Smoke, Hot, Settled string }

// weeks is how many a year has here.
const weeks = 52

// season shows the 52 weeks up to a day, beside the 52 before.
func (s Room) season(q *kit.Request) error {
	zone := q.Profile.Location()
	end := monday(q.Now()).AddDate(0, 0, 7)
	if to, err := time.ParseInLocation(time.DateOnly, q.Query("to"), time.UTC); err == nil && to.Year() > 1990 && to.Before(end) {
		end = monday(to).AddDate(0, 0, 7)
	}
	from, before := end.AddDate(0, 0, -7*weeks), end.AddDate(0, 0, -14*weeks)
	in := func(day time.Time) time.Time { return time.Date(day.Year(), day.Month(), day.Day(), 0, 0, 0, 0, zone) }
	sums, err := q.Home.Weeks(q.Ctx(), in(before), in(end), zone.String())
	if err != nil {
		return err
	}
	stoves, err := q.Stoves()
	if err != nil {
		return err
	}
	first, err := q.Home.FirstBurn(q.Ctx())
	if err != nil {
		return err
	}
	p := &seasonPage{Page: kit.Page{Title: q.T("The season"), Nav: "burns", Wide: true}, Nothing: first.IsZero()}
	p.Heading = q.T("The 52 weeks to ") + q.Locale().Date(end.AddDate(0, 0, -1), "2 January 2006") + q.T(", beside the 52 before")
	if d := reviewing.ProgressOf(q.Ctx(), q.Home); d.Left > 1 {
		p.Doing = q.F("Burns are being looked at: %d of %d are still to do.", d.Left, d.All)
	}
	address := func(day time.Time) string { return "/season?to=" + day.AddDate(0, 0, -1).Format(time.DateOnly) }
	if !first.IsZero() && first.Before(from) {
		p.Earlier = address(end.AddDate(0, 0, -7*weeks/2))
	}
	if now := monday(q.Now()).AddDate(0, 0, 7); end.Before(now) {
		later := end.AddDate(0, 0, 7*weeks/2)
		if later.After(now) {
			later = now
		}
		p.Later = address(later)
	}
	p.fill(q, sums, stoves, from)
	q.Show(http.StatusOK, "season", p)
	return nil
}

// monday is the Monday of a day's week, as midnight in UTC.
func monday(day time.Time) time.Time {
	d := time.Date(day.Year(), day.Month(), day.Day(), 0, 0, 0, 0, time.UTC)
	return d.AddDate(0, 0, -(int(d.Weekday())+6)%7)
}

// sum is what weeks of one stove add up to.
type sum struct {
	store.Week
	degrees float64 // degree-days of the weeks with a burn
}

func (p *seasonPage) fill(q *kit.Request, weekly []store.Week, stoves []store.Stove, from time.Time) {
	u := q.Locale()
	chart := strip.Season{Mass: func(kg float64) string { return u.Mass(units.Kilogram(kg)) }, MassUnit: "kg", Scale: 1, Degree: 1}
	if u.System == units.Imperial {
		chart.MassUnit, chart.Scale, chart.Degree = "lb", 1/0.45359237, 1.8
	}
	place := map[int64]int{}
	for _, st := range stoves {
		place[st.ID] = len(chart.Stoves)
		chart.Stoves = append(chart.Stoves, st.Name)
	}
	chart.Weeks = make([]strip.SeasonWeek, weeks)
	outdoor := [2][]weather{make([]weather, weeks), make([]weather, weeks)}
	all, of, byWeek := [2]sum{}, make([][2]sum, len(stoves)), make([]sum, weeks)
	for i := range chart.Weeks {
		chart.Weeks[i].Monday = from.AddDate(0, 0, 7*i)
		chart.Weeks[i].Deposits = make([]float64, len(stoves))
	}
	for _, w := range weekly {
		i, year := int(w.Monday.Sub(from).Hours()/24/7), 0
		if w.Monday.Before(from) {
			i, year = int(w.Monday.Sub(from.AddDate(0, 0, -7*weeks)).Hours()/24/7), 1
		}
		if i < 0 || i >= weeks {
			continue
		}
		c := &chart.Weeks[i]
		if year == 0 {
			byWeek[i].add(w)
			c.Wood, c.Smoke, c.Burns = c.Wood+w.Used, c.Smoke+w.Smoulder/60, c.Burns+w.Burns
		} else {
			c.WoodBefore, c.SmokeBefore = c.WoodBefore+w.Used, c.SmokeBefore+w.Smoulder/60
		}
		if w.Outdoor.Valid {
			outdoor[year][i].add(w.Outdoor.V, w.Burns)
		}
		all[year].add(w)
		if k, there := place[w.Stove]; there {
			of[k][year].add(w)
			if year == 0 {
				c.Deposits[k] += w.Deposits
			}
		}
	}
	for i := range chart.Weeks {
		c := &chart.Weeks[i]
		c.Days, c.DaysBefore = outdoor[0][i].degreeDays(), outdoor[1][i].degreeDays()
		all[0].degrees, all[1].degrees = all[0].degrees+math.Max(0, c.Days), all[1].degrees+math.Max(0, c.DaysBefore)
		for k := range c.Deposits {
			if i > 0 {
				c.Deposits[k] += chart.Weeks[i-1].Deposits[k]
			}
		}
	}
	if all[0].Burns+all[1].Burns == 0 {
		p.Nothing = true
		return
	}
	p.Two = all[1].Burns > 0
	p.Strip = strip.Pair{Wide: chart.Strip(strip.Page, q.Locale()), Narrow: chart.Strip(strip.Phone, q.Locale())}
	p.Rows = append(p.Rows, rowOf(u, q.T("all stoves"), all, true))
	for k, st := range stoves {
		if of[k][0].Burns+of[k][1].Burns > 0 {
			p.Rows = append(p.Rows, rowOf(u, st.Name, of[k], false))
		}
	}
	for i, w := range slices.Backward(byWeek) {
		if c := chart.Weeks[i]; w.Burns > 0 || c.WoodBefore > 0 {
			r := weekRow{Monday: q.Locale().Date(c.Monday, "2 Jan 2006"), totals: wordsOf(u, w), Days: q.T("not known"), Before: u.Mass(units.Kilogram(c.WoodBefore))}
			if c.Days >= 0 {
				r.Days = q.Locale().Number(c.Days*chart.Degree, 0)
			}
			p.Weeks = append(p.Weeks, r)
		}
	}
}

// weather is a week's outdoor temperature, by its burns.
type weather struct{ sum, burns float64 }

func (w *weather) add(mean float64, burns int) {
	w.sum, w.burns = w.sum+mean*float64(burns), w.burns+float64(burns)
}

// degreeDays are the week's; negative: nothing burnt, so that nobody said how cold it was.
func (w weather) degreeDays() float64 {
	if w.burns == 0 {
		return -1
	}
	return 7 * season.DegreeDays([]units.Celsius{units.Celsius(w.sum / w.burns)})
}

func (s *sum) add(w store.Week) {
	s.Burns, s.Used, s.Heat, s.Smoke = s.Burns+w.Burns, s.Used+w.Used, s.Heat+w.Heat, s.Smoke+w.Smoke
	s.Smoulder, s.Working, s.Hot, s.Deposits = s.Smoulder+w.Smoulder, s.Working+w.Working, s.Hot+w.Hot, s.Deposits+w.Deposits
}

// wordsOf are sums in words.
func wordsOf(u lang.Locale, s sum) totals {
	if s.Burns == 0 {
		return totals{Burns: "none"}
	}
	hours := func(seconds float64) string { return u.Duration(time.Duration(seconds) * time.Second) }
	return totals{fmt.Sprint(s.Burns), u.Mass(units.Kilogram(s.Used)), u.Energy(units.Joule(s.Heat)), hours(s.Working), hours(s.Smoulder), hours(s.Hot),
		u.Number(s.Deposits, 0) + " g"}
}

func rowOf(u lang.Locale, name string, of [2]sum, degrees bool) row {
	r := row{Name: name, Year: wordsOf(u, of[0]), Before: wordsOf(u, of[1])}
	if degrees && of[0].degrees > 0 {
		per := func(s sum) string {
			if u.System == units.Imperial {
				return u.Number(s.Used/0.45359237/(s.degrees*1.8), 2) + u.T(" lb")
			}
			return u.Number(s.Used/s.degrees, 2) + u.T(" kg")
		}
		r.WoodPerDegree = u.T("For each degree-day ") + per(of[0]) + u.T(" of wood")
		if of[1].degrees > 0 {
			r.WoodPerDegree += u.T("; the year before ") + per(of[1])
		}
		r.WoodPerDegree += "."
	}
	return r
}
