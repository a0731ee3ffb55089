package web

import (
	"fmt"
	"net/http"
)

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
