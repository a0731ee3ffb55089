package web

import (
	"errors"
	"fmt"
	"net/http"
	"net/url"
	"time"

	"smolder/internal/core/plan"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/exchange"
	"smolder/internal/strip"
)

// A dayPage is the schedule of a day's fires.
type dayPage struct {
	planPage
	Windows  []dayWindow
	Says     []string
	Total    string
	Calendar string // address of the same day as iCalendar
	Began    time.Time
}

// dayWindow is one load of the day by the clock.
type dayWindow struct{ From, Best, Until, What, Load, Air string }

// day plans a day of cycles from the plan's sentence.
func (s *Server) day(q *request) error {
	p, d, w, status, err := s.dayOf(q)
	if err != nil {
		return err
	}
	if d != nil {
		p.show(q, *d, w)
	}
	p.defaults(q)
	q.render(status, "day", p)
	return nil
}

// dayOf reads the sentence and plans the day; the day is nil when the sentence
// is not complete, or nothing fits it.
func (s *Server) dayOf(q *request) (*dayPage, *plan.Day, plan.Wish, int, error) {
	f, err := q.form()
	if err != nil {
		return nil, nil, plan.Wish{}, 0, err
	}
	base, err := s.newPlanPage(q, f)
	if err != nil {
		return nil, nil, plan.Wish{}, 0, err
	}
	p := &dayPage{planPage: *base, Began: q.now().Truncate(5 * time.Minute)}
	p.Title, p.Nav = "The day's fires", "plan"
	if _, there := f.Values["for"]; !there {
		f.Values.Set("for", "22:30")
	}
	if !f.has("stove") || p.NoStove || p.NoWood {
		return p, nil, plan.Wish{}, http.StatusOK, nil
	}
	w, err := s.wish(q, f, longestDay)
	if err != nil {
		return nil, nil, w, 0, err
	}
	there := q.presence(f)
	if !f.ok() {
		return p, nil, w, http.StatusUnprocessableEntity, nil
	}
	span := w.For
	w.For = min(w.For, 5*time.Hour)
	d, err := plan.PlanDay(w, span, there)
	if refused := new(plan.Refusal); errors.As(err, &refused) {
		p.Refused = refused
		return p, nil, w, http.StatusOK, nil
	}
	return p, &d, w, http.StatusOK, err
}

// presence reads when nobody is in: both clock times, or neither.
func (q *request) presence(f *form) plan.Presence {
	if !f.has("away-from") && !f.has("away-to") {
		return func(time.Duration) bool { return true }
	}
	read := func(name string) time.Time {
		t, err := time.Parse("15:04", f.text(name))
		if err != nil {
			f.wrong(name, fmt.Sprintf("%q is not a time of the day; 09:00 would do, or leave both empty", f.text(name)))
		}
		return t
	}
	from, to := read("away-from"), read("away-to")
	begun := q.now()
	minutes := func(t time.Time) int { return t.Hour()*60 + t.Minute() }
	return func(at time.Duration) bool {
		m, a, b := minutes(begun.Add(at)), minutes(from), minutes(to)
		if a <= b {
			return m < a || m >= b
		}
		return m < a && m >= b
	}
}

// show puts the day on the page.
func (p *dayPage) show(q *request, d plan.Day, w plan.Wish) {
	u := q.units()
	air, _ := w.Stove.MainAir()
	clock := func(at time.Duration) string { return p.Began.Add(at).Format("15:04") }
	c := strip.Chart{ID: "day", Title: "The day's fires: loads and room over time", Units: u, Zone: q.profile.Location(), Start: p.Began, Clock: true,
		To: time.Duration(len(d.Room)) * d.Every, Wanted: [2]units.Celsius{w.Low, w.High}}
	room := strip.Pen{Place: stove.RoomAir, Planned: true}
	for i, t := range d.Room {
		room.Points = append(room.Points, strip.Point{At: time.Duration(i) * d.Every, V: float64(t)})
	}
	c.Pens = append(c.Pens, room)
	for _, win := range d.Windows {
		p.Windows = append(p.Windows, dayWindow{clock(win.From), clock(win.Best), clock(win.Until), win.What, loadWords(win, u), air.Scale.Say(win.Final)})
		c.Fuel = append(c.Fuel, strip.Block{At: win.Best, Mass: win.Mass, Pieces: win.Pieces, Moisture: w.Wood.Stack.Moisture(), Label: u.Mass(win.Mass), Planned: true})
	}
	p.Strip, p.Says, p.Total = draw(c, 1000), d.Says, u.Mass(d.Wood)
	p.Forecast = forecastSays(u, w.Weather)
	query := url.Values{}
	for name, values := range p.Form.Values {
		query[name] = values
	}
	p.Calendar = "/plan/day.ics?" + query.Encode()
}

// loadWords is the wood of a window.
func loadWords(w plan.Window, u units.System) string {
	kindling := ""
	if w.Cold {
		kindling = " and kindling"
	}
	return fmt.Sprintf("%d pieces%s, %s", w.Pieces, kindling, u.Mass(w.Mass))
}

// dayCalendar gives the same day as iCalendar.
func (s *Server) dayCalendar(q *request) error {
	p, d, w, status, err := s.dayOf(q)
	switch {
	case err != nil:
		return err
	case d == nil && p.Refused != nil:
		return &errInput{http.StatusConflict, p.Refused.Error()}
	case d == nil:
		return &errInput{max(status, http.StatusUnprocessableEntity), "The day is not said in full; plan it first."}
	}
	air, _ := w.Stove.MainAir()
	var list []exchange.Appointment
	for i, win := range d.Windows {
		list = append(list, exchange.Appointment{ID: fmt.Sprintf("fire-%s-%d@smolder", p.Began.UTC().Format("20060102T1504"), i), From: p.Began.Add(win.From), Till: p.Began.Add(win.Until),
			Title: fmt.Sprintf("%s: %s, %d pieces", w.Stove.Name, win.What, win.Pieces),
			Text:  fmt.Sprintf("%s from %s. Charred, then in steps to %s. Only while somebody is there; the stove's manual has the last word.", loadWords(win, q.units()), w.Wood.Stack.Name, air.Scale.Say(win.Final))})
	}
	q.Header("Content-Type", "text/calendar; charset=utf-8")
	q.Header("Content-Disposition", `attachment; filename="fires.ics"`)
	return exchange.WriteICal(q.Writer, "Fires in "+w.Stove.Name, q.now(), list)
}

// sheet is the plan on one sheet of A4, to pin by the stove.
func (s *Server) sheet(q *request) error {
	f, err := q.form()
	if err != nil {
		return err
	}
	p, err := s.newPlanPage(q, f)
	if err != nil {
		return err
	}
	w, err := s.wish(q, f, longestPlan)
	if err != nil {
		return err
	}
	status := s.fillPlan(q, p, f, w)
	if p.Plan == nil {
		q.render(max(status, http.StatusUnprocessableEntity), "plan", p)
		return nil
	}
	p.Title = p.Plan.Wish.Stove.Name + ", by the stove"
	q.render(status, "sheet", p)
	return nil
}
