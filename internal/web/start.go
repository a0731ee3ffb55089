package web

import (
	"fmt"
	"net/http"
	"time"

	"github.com/google/uuid"

	"smolder/internal/core/burn"
	"smolder/internal/core/plan"
	"smolder/internal/core/stove"
	"smolder/internal/store"
)

// soon is how far ahead a plan is still one for now.
const soon = 30 * time.Minute

// startPlan starts a burn from the same sentence; the plan is made again, and
// comes out the same.
func (s *Server) startPlan(q *request) error {
	f, p, w, err := s.wished(q)
	if err != nil {
		return err
	}
	if p.Begin.Sub(q.now()) >= soon {
		f.wrong("begin", "this plan begins later: keep it until then, or plan it for now")
	}
	made, err := s.search(q, f, p, w)
	if made == nil {
		return err
	}
	if made.Before.DoNot && f.text("remedied") == "" {
		f.wrong("remedied", "say first that the draft is put right: fans off, a window cracked, and the flame leaning inwards")
		q.render(http.StatusUnprocessableEntity, "plan", p)
		return nil
	}
	coals, warmth := w.Start.Coals(w.Stove.Volume)
	b := burn.Burn{Stove: w.Stove, House: w.House, Outdoor: w.Outdoor, Room: w.Room, Coals: coals, Warmth: warmth,
		Wanted: [2]float64{float64(w.Low), float64(w.High)}, Started: s.Now()}
	return s.start(q, f, b, made)
}

// start keeps a burn in the form's stove and goes to it; a kept plan that it
// came from has done its work.
func (s *Server) start(q *request, f *form, b burn.Burn, p *plan.Plan) error {
	b.Started = b.Started.UTC().Truncate(time.Second)
	id, err := q.house.StartBurn(q.ctx(), f.number("stove"), "", b, p)
	if err != nil {
		return err
	}
	if err := q.dropKept(f); err != nil {
		return err
	}
	return q.seeOther(fmt.Sprintf("/burns/%d/live", id))
}

// newEntryID names an entry that was typed without a script.
func newEntryID() string { return uuid.NewString() }

type stovePage struct {
	page
	Form   *form
	Open   []store.Burn
	Stoves []option
	Starts []option
}

// atTheStove goes to the burn that is on; with none or several it asks.
func (s *Server) atTheStove(q *request) error {
	open, err := q.house.OpenBurns(q.ctx())
	if err != nil {
		return err
	}
	if len(open) == 1 {
		return q.seeOther(fmt.Sprintf("/burns/%d/live", open[0].ID))
	}
	return s.showStove(q, http.StatusOK, filled("room", q.units().RoomTemperature(17), "outdoor", q.units().Temperature(4)), open)
}

func (s *Server) showStove(q *request, status int, f *form, open []store.Burn) error {
	p, err := s.newPlanPage(q, f)
	if err != nil {
		return err
	}
	q.render(status, "stove-start", &stovePage{page: page{Title: "At the stove", Nav: "stove"}, Form: f, Open: open, Stoves: p.Stoves, Starts: p.Starts})
	return nil
}

// startUnplanned starts a burn without a plan, only to log it.
func (s *Server) startUnplanned(q *request) error {
	f, err := q.form()
	if err != nil {
		return err
	}
	outdoor := parse(f, "outdoor", in(parseOutdoor, q.units()))
	room := parse(f, "room", in(parseRoom, q.units()))
	start := plan.Start(f.text("start"))
	knownChoice(f, "start", start.Known())
	if !f.ok() {
		open, err := q.house.OpenBurns(q.ctx())
		if err != nil {
			return err
		}
		return s.showStove(q, http.StatusUnprocessableEntity, f, open)
	}
	st, err := q.house.Stove(q.ctx(), f.number("stove"))
	if err != nil {
		return err
	}
	coals, warmth := start.Coals(st.Volume)
	return s.start(q, f, burn.Burn{Stove: st.Stove, House: st.Around(q.profile), Outdoor: outdoor, Room: room, Coals: coals, Warmth: warmth,
		Wanted: [2]float64{float64(q.profile.Wanted[0]), float64(q.profile.Wanted[1])}, Started: s.Now()}, nil)
}

// handGauge reads which gauge's band the strip shows.
func handGauge(q *request) stove.Place { return stove.Place(q.Query("gauge")) }
