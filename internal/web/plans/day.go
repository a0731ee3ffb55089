package plans

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"strings"
	"time"

	"smolder/internal/core/day"
	"smolder/internal/core/fire"
	"smolder/internal/core/plan"
	"smolder/internal/core/search"
	"smolder/internal/core/when"
	"smolder/internal/core/wish"
	"smolder/internal/exchange"
	"smolder/internal/lang"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/strip"
	"smolder/internal/web/kit"
)

// A dayPage is the schedule of a day's fires; as a planPage it is the first of
// them.
type dayPage struct {
	planPage
	Windows []dayWindow
	Day     strip.Pair // the strip of the whole day
	Says    []string
	Total   string
}

// dayWindow is one load of the day by the clock.
type dayWindow struct{ From, Best, Until, What, Load, Air string }

// dayForm fills in a day's sentence: until half past ten in the evening, and
// from tomorrow morning where today has not enough of it left.
func dayForm(q *kit.Request, f *kit.Form) *kit.Form {
	if _, there := f.Values["for"]; !there {
		f.Values.Set("for", "22:30")
	}
	evening := when.OnDay(q.Now(), 0, 22*time.Hour+30*time.Minute)
	if _, there := f.Values["begin"]; !there && evening.Sub(q.Now()) < 3*time.Hour {
		f.Values.Set("begin", "tomorrow 07:00")
	}
	return f
}

func (s Room) newDayPage(q *kit.Request, f *kit.Form) (*dayPage, error) {
	base, err := s.newPlanPage(q, f)
	if err != nil {
		return nil, err
	}
	p := &dayPage{planPage: *base}
	p.Title = q.T("The day's fires")
	return p, nil
}

// day shows the day as a sentence to fill in.
func (s Room) day(q *kit.Request) error {
	p, err := s.newDayPage(q, dayForm(q, askedForm(q.Request.URL.RawQuery)))
	if err != nil {
		return err
	}
	q.Show(http.StatusOK, "day", p)
	return nil
}

// makeDay plans a day of cycles from the sentence and goes to it.
func (s Room) makeDay(q *kit.Request) error {
	f, err := q.Form()
	if err != nil {
		return err
	}
	w, err := s.wish(q, f, longestDay)
	if err != nil {
		return err
	}
	status := http.StatusUnprocessableEntity
	var refused *wish.Refusal
	if f.Ok() {
		var d day.Day
		err := searched(q, f, func(ctx context.Context, m *search.Meter) (err error) {
			d, err = day.Plan(ctx, w, w.For, *s.Effort, m)
			return err
		})
		switch {
		case err == nil:
			row := store.Planned{StoveID: f.Number("stove"), Choice: kit.NewEntryID(), Day: &d, Asked: asked(f),
				Sentence: q.T("A day in ") + w.Stove.Name, Begins: begin(q, f), Made: s.Now()}
			ids, err := q.Home.KeepPlans(q.Ctx(), []store.Planned{row})
			if err != nil {
				return err
			}
			return q.SeeOther(kit.PlanPath(ids[0]) + "#made")
		case !errors.As(err, &refused):
			return err
		}
		status = http.StatusOK
	}
	p, err := s.newDayPage(q, f)
	if err != nil {
		return err
	}
	p.Refused = refusedIn(q, refused)
	q.Show(status, "day", p)
	return nil
}

// dayPageOf puts a day on the page.
func (s Room) dayPageOf(q *kit.Request, row store.Planned) (*dayPage, error) {
	p, err := s.newDayPage(q, dayForm(q, askedForm(row.Asked)))
	if err != nil {
		return nil, err
	}
	d, w, u := *row.Day, row.Day.Wish, q.Locale()
	p.ID, p.Begin = row.ID, row.Begins.In(q.Profile.Location())
	air, _ := w.Stove.MainAir()
	clock := func(at time.Duration) string { return p.Begin.Add(at).Format("15:04") }
	for _, win := range d.Windows {
		p.Windows = append(p.Windows, dayWindow{clock(win.From), clock(win.Best), clock(win.Until), say.Window(win, q.Locale()), loadWords(win.Fire, u),
			say.Mark(air.Scale, win.Fire.Final, q.Locale())})
	}
	c := strip.OfDay(d, q.View(p.Begin))
	p.Day, p.Says, p.Total = strip.Draw(c, strip.Wide), say.Day(d, u), u.Mass(d.Wood)
	p.Forecast, p.Later = say.Forecast(w.Weather, u), laterSays(q, p.Begin, row.Made, w.Room)
	if text := say.Beside(w, q.Locale()); text != "" {
		p.Says = append(p.Says, text)
	}
	if row.Begins.Add(w.For).Before(s.Now()) {
		p.Stale = q.T("This day has gone by.")
	}
	return p, nil
}

func (s Room) showDay(q *kit.Request, row store.Planned) error {
	p, err := s.dayPageOf(q, row)
	if err != nil {
		return err
	}
	q.Show(http.StatusOK, "day", p)
	return nil
}

// loadWords is the wood of a fire, stack by stack.
func loadWords(p plan.Plan, u lang.Locale) string {
	first, main := p.Taken()
	var parts []string
	if p.Kindling.Pieces > 0 {
		parts = append(parts, u.T("kindling"))
	}
	if first.Pieces > 0 && first.StackName == main.StackName {
		first.Pieces, main.Pieces = first.Pieces+main.Pieces, 0
	}
	for _, l := range []fire.Load{first, main} {
		if l.Pieces > 0 {
			short, _, _ := strings.Cut(l.StackName, ",")
			parts = append(parts, u.F("%d of %s", l.Pieces, short))
		}
	}
	return strings.Join(parts, ", ") + ": " + u.Mass(p.Mass())
}

// calendar gives a plan or a day as iCalendar.
func (s Room) calendar(q *kit.Request) error {
	row, err := s.plannedOf(q)
	if err != nil {
		return err
	}
	var list []exchange.Appointment
	// Its number is the only one of its kind in this database, and the moment it
	// was made tells databases apart.
	id := func(i int) string { return fmt.Sprintf("plan-%d-%d-%d@smolder", row.ID, row.Made.Unix(), i) }
	switch {
	case row.Day != nil:
		w := row.Day.Wish
		air, _ := w.Stove.MainAir()
		for i, win := range row.Day.Windows {
			list = append(list, exchange.Appointment{ID: id(i), From: row.Begins.Add(win.From), Till: row.Begins.Add(win.Until),
				Title: fmt.Sprintf("%s: %s, %s", w.Stove.Name, say.Window(win, q.Locale()), kit.PieceWord(win.Fire.Pieces(), q.Locale())),
				Text: q.F("%s, %s. Charred, then in steps to %s. Only while somebody is there; the stove's manual has the last word.",
					loadWords(win.Fire, q.Locale()), say.Direction(win.Fire.Direction), say.Mark(air.Scale, win.Fire.Final, q.Locale()))})
		}
	case row.Burn != nil:
		for i, in := range say.Steps(*row.Burn, q.Locale()) {
			if in.Expected < 0 {
				continue
			}
			list = append(list, exchange.Appointment{ID: id(i), From: row.Begins.Add(in.Earliest), Till: row.Begins.Add(max(in.Latest, in.Earliest+5*time.Minute)),
				Title: row.Burn.Wish.Stove.Name + ": " + in.Do,
				Text:  strings.TrimSpace(in.Set+". "+in.Sign) + q.T(" The sign decides, not the clock; the stove's manual has the last word.")})
		}
	default:
		return store.ErrMissing
	}
	q.Header("Content-Type", "text/calendar; charset=utf-8")
	q.Header("Content-Disposition", `attachment; filename="fires.ics"`)
	return exchange.WriteICal(q.Writer, q.T("Fires in ")+row.Stove, q.Now(), list)
}

// sheet is a plan, or a day with its first fire, on one sheet of A4 to pin by
// the stove.
func (s Room) sheet(q *kit.Request) error {
	row, err := s.plannedOf(q)
	if err != nil {
		return err
	}
	switch {
	case row.Burn != nil:
		p, err := s.planPageOf(q, row)
		if err != nil {
			return err
		}
		p.Title = p.Plan.Wish.Stove.Name + q.T(", by the stove")
		q.Show(http.StatusOK, "sheet", p)
		return nil
	case row.Day == nil:
		return store.ErrMissing
	case len(row.Day.Windows) == 0:
		return s.showDay(q, row)
	}
	p, err := s.dayPageOf(q, row)
	if err != nil {
		return err
	}
	p.show(q, row.Day.Windows[0].Fire, row.Made)
	p.Day = strip.Draw(strip.OfDay(*row.Day, q.View(p.Begin)), strip.Sheet)
	p.Later = ""
	p.Title = row.Stove + q.T(" today, by the stove")
	q.Show(http.StatusOK, "day-sheet", p)
	return nil
}
