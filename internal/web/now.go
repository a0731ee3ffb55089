package web

import (
	"errors"
	"math"
	"net/http"
	"net/url"
	"strconv"
	"time"

	"smolder/internal/core/day"
	"smolder/internal/core/fire"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
	"smolder/internal/say"
	"smolder/internal/store"
)

type nowPage struct {
	page
	Open     []openBurn
	Last     *burnLine
	NoStove  bool
	NoWood   bool
	Advice   []advice
	Kept     []keptLine
	Left     string
	LeftHeat string
}

// advice is what to do in one stove that nobody tends.
type advice struct {
	say.Advice
	Stove string
	Light bool // a fire is wanted now
	Link  string
}

type openBurn struct {
	store.Burn
	State string
	First *firstAnswer
	Next  *followed
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
		line := openBurn{Burn: b, Since: clockLength(now.Sub(b.Started)), State: string(fire.Preparing)}
		if first, found := b.First(now); found {
			line.First = answerFirst(q, b, first)
		}
		if !b.Simulated() {
			line.State = "on mineral fuel"
			p.Open = append(p.Open, line)
			continue
		}
		replay := s.replays.Replay(b.Burn, now)
		if n := len(replay.Samples); n > 0 {
			line.State = string(replay.Samples[n-1].Phase)
		}
		if b.Plan != nil && line.First == nil {
			progress := followPlan(q, b, replay, now)
			line.Next = progress
			if progress.NotCaught {
				line.First, line.Next = notCaught(b), nil
			}
		}
		p.Open = append(p.Open, line)
	}
	if err := s.fillNow(q, p); err != nil {
		return err
	}
	if p.Kept, err = q.kept(); err != nil {
		return err
	}
	if len(p.Open) == 0 {
		if err := s.advise(q, p); err != nil {
			return err
		}
	}
	q.render(http.StatusOK, "now", p)
	return nil
}

// recently is how long ago a burn may have ended for its replay to say how room
// and coals are now.
const recently = 18 * time.Hour

// advise says what to do in the stove that was lit last.
func (s *Server) advise(q *request, p *nowPage) error {
	lines, err := q.house.Burns(q.ctx(), s.Now().Add(time.Minute), 1)
	if err != nil || len(lines) == 0 {
		return err
	}
	st, err := q.house.Stove(q.ctx(), lines[0].StoveID)
	if errors.Is(err, store.ErrMissing) {
		return nil // it is off the list
	}
	if err != nil {
		return err
	}
	hours, ok := s.hourly(q, s.Now(), 14)
	if !ok {
		return nil // without the weather there is nothing to say; the rest of the page does not need it
	}
	at := day.Situation{House: st.Space.House, Wanted: st.Space.Wanted, Volume: st.Volume,
		Outdoor: func(d time.Duration) units.Celsius {
			return units.Celsius(hours[min(len(hours)-1, int(d/time.Hour))].Temperature)
		}}
	if ended := lines[0].Ended; ended.Valid && s.Now().Sub(ended.V) < recently {
		b, err := q.house.Burn(q.ctx(), lines[0].ID)
		if err != nil {
			return err
		}
		if samples := s.replays.Replay(b.Burn, s.Now()).Samples; len(samples) > 0 && b.Simulated() {
			at.Last = &samples[len(samples)-1]
		}
	}
	found := day.Advise(at)
	a := advice{Advice: say.Advise(found, q.units()), Stove: st.Name, Light: found.Do == day.Light}
	link := url.Values{"stove": {strconv.FormatInt(st.ID, 10)}, "aim": {string(wish.Hold)}, "start": {startToAsk(found.Start)}, "outdoor": {forecastWord}}
	if found.Known {
		link.Set("room", q.units().RoomTemperature(units.Celsius(math.Round(float64(found.Room)*10)/10)))
	}
	a.Link = "/plan?" + link.Encode()
	p.Advice = append(p.Advice, a)
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
		if st.Species.Mineral {
			continue
		}
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

// startToAsk is how a stove that should be cold starts; how many coals there are
// is never taken for granted, but asked.
func startToAsk(s wish.Start) string {
	if s == wish.Cold {
		return string(s)
	}
	return ""
}
