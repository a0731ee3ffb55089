package web

import (
	"cmp"
	"errors"
	"fmt"
	"net/http"
	"net/url"
	"strings"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/plan"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/exchange"
	"smolder/internal/strip"
)

// A dayPage is the schedule of a day's fires; as a planPage it is the first of
// them.
type dayPage struct {
	planPage
	Windows  []dayWindow
	Day      pair // the strip of the whole day
	Says     []string
	Total    string
	Calendar string // address of the same day as iCalendar
	OnSheet  string // and on one sheet
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
		p.showDay(q, *d, w)
	}
	p.defaults(q)
	q.render(status, "day", p)
	return nil
}

// daySheet is the day on one sheet of A4, for whoever stays at home: the loads
// by the clock, and the first fire with its strip, lay and triggers.
func (s *Server) daySheet(q *request) error {
	p, d, w, status, err := s.dayOf(q)
	if err != nil {
		return err
	}
	if d == nil {
		p.defaults(q)
		q.render(max(status, http.StatusUnprocessableEntity), "day", p)
		return nil
	}
	p.showDay(q, *d, w)
	if len(d.Windows) == 0 {
		p.defaults(q)
		q.render(http.StatusOK, "day", p)
		return nil
	}
	p.show(q, d.Windows[0].Fire)
	p.Title = w.Stove.Name + " today, by the stove"
	q.render(status, "day-sheet", p)
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
	p := &dayPage{planPage: *base}
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
	if !f.ok() {
		return p, nil, w, http.StatusUnprocessableEntity, nil
	}
	m, done := q.meter()
	defer done()
	d, err := plan.PlanDay(q.ctx(), w, w.For, m)
	if refused := new(plan.Refusal); errors.As(err, &refused) {
		p.Refused = refused.In(q.units())
		return p, nil, w, http.StatusOK, nil
	}
	return p, &d, w, http.StatusOK, err
}

// showDay puts the day on the page.
func (p *dayPage) showDay(q *request, d plan.Day, w plan.Wish) {
	u := q.units()
	air, _ := w.Stove.MainAir()
	clock := func(at time.Duration) string { return p.Begin.Add(at).Format("15:04") }
	c := strip.Chart{ID: "day", Title: "The day's fires: loads and room over time", Units: u, Zone: q.profile.Location(), Start: p.Begin, Clock: true,
		To: time.Duration(len(d.Room)) * d.Every, Wanted: [2]units.Celsius{w.Low, w.High}}
	room := strip.Pen{Place: stove.RoomAir, Planned: true}
	for i, t := range d.Room {
		room.Points = append(room.Points, strip.Point{At: time.Duration(i) * d.Every, V: float64(t)})
	}
	c.Pens = append(c.Pens, room)
	for _, win := range d.Windows {
		p.Windows = append(p.Windows, dayWindow{clock(win.From), clock(win.Best), clock(win.Until), win.What, loadWords(win.Fire, u), air.Scale.Say(win.Fire.Final)})
		c.Fuel = append(c.Fuel, strip.Block{At: win.Best, Mass: win.Fire.Mass(), Pieces: win.Fire.Pieces(), Moisture: win.Fire.MainOf.Stack.Moisture(), Label: u.Mass(win.Fire.Mass()), Planned: true})
	}
	addPresence(&c, w.There)
	p.Day, p.Says, p.Total = draw(c, 1000), d.Say(u), u.Mass(d.Wood)
	p.Forecast, p.Later = forecastSays(u, w.Weather), q.laterSays(p.Begin, w.Room)
	query := url.Values{}
	for name, values := range p.Form.Values {
		query[name] = values
	}
	p.Calendar, p.OnSheet = "/plan/day.ics?"+query.Encode(), "/plan/day/sheet?"+query.Encode()
}

// loadWords is the wood of a fire, stack by stack.
func loadWords(p plan.Plan, u units.System) string {
	first, main := p.Loads()
	var parts []string
	if p.Kindling.Pieces > 0 {
		parts = append(parts, "kindling")
	}
	if first.Pieces > 0 && first.StackName == main.StackName {
		first.Pieces, main.Pieces = first.Pieces+main.Pieces, 0
	}
	for _, l := range []fire.Load{first, main} {
		if l.Pieces > 0 {
			short, _, _ := strings.Cut(l.StackName, ",")
			parts = append(parts, fmt.Sprintf("%d of %s", l.Pieces, short))
		}
	}
	return strings.Join(parts, ", ") + ": " + u.Mass(p.Mass())
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
		return &errInput{max(status, http.StatusUnprocessableEntity), cmp.Or(p.Form.First(), "The day is not said in full; plan it first.")}
	}
	air, _ := w.Stove.MainAir()
	var list []exchange.Appointment
	for i, win := range d.Windows {
		list = append(list, exchange.Appointment{ID: fmt.Sprintf("fire-%s-%d@smolder", p.Begin.UTC().Format("20060102T1504"), i), From: p.Begin.Add(win.From), Till: p.Begin.Add(win.Until),
			Title: fmt.Sprintf("%s: %s, %d pieces", w.Stove.Name, win.What, win.Fire.Pieces()),
			Text:  fmt.Sprintf("%s, %s. Charred, then in steps to %s. Only while somebody is there; the stove's manual has the last word.", loadWords(win.Fire, q.units()), win.Fire.Direction, air.Scale.Say(win.Fire.Final))})
	}
	q.Header("Content-Type", "text/calendar; charset=utf-8")
	q.Header("Content-Disposition", `attachment; filename="fires.ics"`)
	return exchange.WriteICal(q.Writer, "Fires in "+w.Stove.Name, q.now(), list)
}

// sheet is the plan on one sheet of A4, to pin by the stove.
func (s *Server) sheet(q *request) error {
	f, p, w, err := s.wished(q)
	if err != nil {
		return err
	}
	status, err := s.fillPlan(q, p, f, w)
	if err != nil {
		return err
	}
	if p.Plan == nil {
		q.render(max(status, http.StatusUnprocessableEntity), "plan", p)
		return nil
	}
	p.Title = p.Plan.Wish.Stove.Name + ", by the stove"
	q.render(status, "sheet", p)
	return nil
}
