package web

import (
	"net/http"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/plan"
	"smolder/internal/core/units"
	"smolder/internal/store"
)

type nowPage struct {
	page
	Open     []openBurn
	Last     *burnLine
	NoStove  bool
	NoWood   bool
	Left     string
	LeftHeat string
}

type openBurn struct {
	store.Burn
	State fire.Phase
	Next  *plan.Progress
	Since string
}

// now answers what to do.
func (s *Server) now(q *request) error {
	p := &nowPage{page: page{Title: "Now", Nav: "now"}}
	open, err := q.house.OpenBurns(q.ctx())
	if err != nil {
		return err
	}
	now := s.Now().UTC()
	for _, o := range open {
		b, err := q.house.Burn(q.ctx(), o.ID)
		if err != nil {
			return err
		}
		replay := b.Replay(now)
		line := openBurn{Burn: b, Since: clockLength(now.Sub(b.Started)), State: fire.Preparing}
		if n := len(replay.Samples); n > 0 {
			line.State = replay.Samples[n-1].Phase
		}
		if b.Plan != nil {
			progress := b.Plan.Follow(b.Burn, replay, now, q.units())
			line.Next = &progress
		}
		p.Open = append(p.Open, line)
	}
	if err := s.fillNow(q, p); err != nil {
		return err
	}
	q.render(http.StatusOK, "now", p)
	return nil
}

// fillNow adds the last burn and the wood left.
func (s *Server) fillNow(q *request, p *nowPage) error {
	stoves, err := q.house.Stoves(q.ctx())
	if err != nil {
		return err
	}
	stacks, err := q.house.Stacks(q.ctx())
	if err != nil {
		return err
	}
	p.NoStove, p.NoWood = len(stoves) == 0, len(stacks) == 0
	var mass, energy float64
	for _, st := range stacks {
		mass += float64(st.Mass)
		energy += st.NetEnergy() * float64(st.Mass) * 1e6
	}
	p.Left, p.LeftHeat = q.units().Mass(units.Kilogram(mass)), q.units().Energy(units.Joule(energy))
	lines, err := q.house.Burns(q.ctx(), s.Now().Add(time.Minute), 3)
	if err != nil {
		return err
	}
	for _, l := range lines {
		if l.Ended.Valid {
			line := burnLine{BurnLine: l, Day: l.Started.In(q.profile.Location()).Format("2 January 2006"), Clock: l.Started.In(q.profile.Location()).Format("15:04"), Mass: q.units().Mass(l.Mass)}
			p.Last = &line
			break
		}
	}
	return nil
}
