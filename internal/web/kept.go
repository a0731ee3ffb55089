package web

import (
	"errors"
	"net/http"
	"net/url"
	"strconv"
	"time"

	"smolder/internal/core/plan"
	"smolder/internal/store"
)

// keptLine is a kept plan for the first page.
type keptLine struct {
	store.KeptPlan
	When string // "16:00", "tomorrow 06:30"
	Due  bool   // now
	Link string
}

// overdue is how long a kept plan waits after its time.
const overdue = 3 * time.Hour

// keepPlan keeps a plan that begins later, as it was asked.
func (s *Server) keepPlan(q *request) error {
	f, p, w, err := s.wished(q)
	if err != nil {
		return err
	}
	if p.Begin.Sub(q.now()) < soon {
		f.wrong("begin", "a plan is kept for half an hour from now or later; one for now is started")
	}
	made, err := s.search(q, f, p, w)
	if made == nil {
		return err
	}
	asked := url.Values{}
	for name, values := range f.Values {
		asked[name] = values
	}
	asked.Set("begin", p.Begin.Format(plan.BeginFormat))
	asked.Set("room", q.roomSays(w.Room))
	asked.Del("kept")
	_, err = q.house.KeepPlan(q.ctx(), store.KeptPlan{StoveID: f.number("stove"), Begins: p.Begin, Sentence: made.Sentence(q.units()), Asked: asked.Encode()})
	if err != nil {
		return err
	}
	if err := q.dropKept(f); err != nil { // it was one already, and has been changed
		return err
	}
	q.say("Kept for %s. It is made anew with the weather of then when it is opened.", q.dayWord(p.Begin))
	return q.seeOther("/")
}

// dropKept drops the kept plan that a sentence came from, if it came from one.
func (q *request) dropKept(f *form) error {
	id := f.number("kept")
	if id == 0 {
		return nil
	}
	err := q.house.RemovePlan(q.ctx(), id, true)
	if errors.Is(err, store.ErrMissing) {
		return nil // dropped meanwhile
	}
	return err
}

// kept lists the plans kept for later, and those that are due.
func (q *request) kept() ([]keptLine, error) {
	list, err := q.house.KeptPlans(q.ctx(), q.now().Add(-overdue))
	out := make([]keptLine, len(list))
	for i, k := range list {
		out[i] = keptLine{KeptPlan: k, When: q.dayWord(k.Begins), Due: k.Begins.Sub(q.now()) < soon,
			Link: "/plan?kept=" + strconv.FormatInt(k.ID, 10) + "&" + k.Asked}
	}
	return out, err
}

// dayWord is a time today or on another day.
func (q *request) dayWord(t time.Time) string {
	t, now := t.In(q.profile.Location()), q.now()
	switch {
	case t.YearDay() == now.YearDay() && t.Year() == now.Year():
		return t.Format("15:04")
	case now.AddDate(0, 0, 1).YearDay() == t.YearDay():
		return "tomorrow at " + t.Format("15:04")
	}
	return t.Format("2 January at 15:04")
}

func (s *Server) dropPlan(q *request) error {
	id, err := q.id("id")
	if err != nil {
		return err
	}
	if err := q.house.RemovePlan(q.ctx(), id, true); err != nil {
		return err
	}
	q.render(http.StatusOK, "plan-gone", &keptPage{page: page{Title: "The plan", Nav: "now"}, ID: id})
	return nil
}

func (s *Server) putBackPlan(q *request) error {
	id, err := q.id("id")
	if err != nil {
		return err
	}
	if err := q.house.RemovePlan(q.ctx(), id, false); err != nil {
		return err
	}
	return q.seeOther("/")
}

type keptPage struct {
	page
	ID int64
}
