package web

import (
	"fmt"
	"net/http"
	"time"

	"smolder/internal/store"
)

// keptLine is a kept plan for the first page.
type keptLine struct {
	store.Planned
	When string // "16:00", "tomorrow 06:30"
	Due  bool   // now
	Link string
}

// overdue is how long a kept plan waits after its time.
const overdue = 3 * time.Hour

// soon is how far ahead a plan is still one for now.
const soon = 30 * time.Minute

// keepPlan keeps a plan that begins later; twice is as good as once.
func (s *Server) keepPlan(q *request) error {
	row, err := s.plannedOf(q)
	if err != nil {
		return err
	}
	switch {
	case row.BurnID != 0:
		return &errInput{http.StatusConflict, "This plan has been started already."}
	case row.Begins.Sub(s.Now()) < soon:
		return badInput("A plan is kept for half an hour from now or later; one for now is started.")
	}
	if err := q.house.MarkKept(q.ctx(), row.ID, s.Now()); err != nil {
		return err
	}
	q.say("Kept for %s. It stands here until then.", q.dayWord(row.Begins))
	return q.seeOther("/")
}

// kept lists the plans kept for later, and those that are due.
func (q *request) kept() ([]keptLine, error) {
	list, err := q.house.KeptPlans(q.ctx(), q.now().Add(-overdue))
	out := make([]keptLine, len(list))
	for i, k := range list {
		out[i] = keptLine{Planned: k, When: q.dayWord(k.Begins), Due: k.Begins.Sub(q.now()) < soon, Link: planPath(k.ID)}
	}
	return out, err
}

// dayWord is a time today or on another day.
func (q *request) dayWord(t time.Time) string {
	t, now := t.In(q.profile.Location()), q.now()
	day := func(t time.Time) string { return t.Format(time.DateOnly) }
	switch day(t) {
	case day(now):
		return t.Format("15:04")
	case day(now.AddDate(0, 0, 1)):
		return "tomorrow at " + t.Format("15:04")
	case day(now.AddDate(0, 0, -1)):
		return "yesterday at " + t.Format("15:04")
	}
	return t.Format("2 January at 15:04")
}

func (s *Server) dropPlan(q *request) error {
	id, err := q.id("id")
	if err != nil {
		return err
	}
	if err := q.house.DropPlan(q.ctx(), id, true); err != nil {
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
	if err := q.house.DropPlan(q.ctx(), id, false); err != nil {
		return err
	}
	return q.seeOther("/")
}

type keptPage struct {
	page
	ID int64
}

// startPlan begins a burn from a plan as it was made and seen. A second tap leads
// to the same burn.
func (s *Server) startPlan(q *request) error {
	row, err := s.plannedOf(q)
	if err != nil {
		return err
	}
	if row.Burn == nil {
		return badInput("There is no burn in this plan to start.")
	}
	if row.BurnID == 0 {
		p, err := s.planPageOf(q, row)
		if err != nil {
			return err
		}
		if !p.Startable {
			p.Said = firstOf(p.Stale, p.Gone, "This plan begins later: keep it until then, or plan it for now.")
			q.render(http.StatusUnprocessableEntity, "plan", p)
			return nil
		}
	}
	id, err := q.house.StartPlan(q.ctx(), row, burnOfPlan(row, s.Now()))
	if err != nil {
		return err
	}
	return q.seeOther(fmt.Sprintf("/burns/%d/live", id))
}

func firstOf(texts ...string) string {
	for _, t := range texts {
		if t != "" {
			return t
		}
	}
	return ""
}
