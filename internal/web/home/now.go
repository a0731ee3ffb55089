package home

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
	"smolder/internal/web/kit"
)

type nowPage struct {
	kit.Page
	Open     []openBurn
	Last     *kit.BurnLine
	NoStove  bool
	NoWood   bool
	Advice   []advice
	Kept     []kit.KeptLine
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
	First *kit.FirstAnswer
	Next  *kit.Followed
	Since string
}

// now answers what to do.
func (s Room) now(q *kit.Request) error {
	p := &nowPage{Page: kit.Page{Title: "Now", Nav: "now"}}
	open, err := q.Home.OpenBurns(q.Ctx())
	if err != nil {
		return err
	}
	now := s.Now().UTC()
	for _, o := range open {
		b, err := q.Home.Burn(q.Ctx(), o.ID)
		if err != nil {
			return err
		}
		line := openBurn{Burn: b, Since: kit.ClockLength(now.Sub(b.Started)), State: string(fire.Preparing)}
		if first, found := b.First(now); found {
			line.First = kit.AnswerFirst(q, b, first)
		}
		if !b.Simulated() {
			line.State = "on mineral fuel"
			p.Open = append(p.Open, line)
			continue
		}
		replay := s.Replays.Replay(b.Burn, now)
		if n := len(replay.Samples); n > 0 {
			line.State = string(replay.Samples[n-1].Phase)
		}
		if b.Plan != nil && line.First == nil {
			progress := kit.FollowPlan(q, b, replay, now)
			line.Next = progress
			if progress.NotCaught {
				line.First, line.Next = kit.NotCaught(b), nil
			}
		}
		p.Open = append(p.Open, line)
	}
	if err := s.fillNow(q, p); err != nil {
		return err
	}
	if p.Kept, err = q.Kept(); err != nil {
		return err
	}
	if len(p.Open) == 0 {
		if err := s.advise(q, p); err != nil {
			return err
		}
	}
	q.Show(http.StatusOK, "now", p)
	return nil
}

// recently is how long ago a burn may have ended for its replay to say how room
// and coals are now.
const recently = 18 * time.Hour

// advise says what to do in the stove that was lit last.
func (s Room) advise(q *kit.Request, p *nowPage) error {
	lines, err := q.Home.Burns(q.Ctx(), s.Now().Add(time.Minute), 1)
	if err != nil || len(lines) == 0 {
		return err
	}
	st, err := q.Home.Stove(q.Ctx(), lines[0].StoveID)
	if errors.Is(err, store.ErrMissing) {
		return nil // it is off the list
	}
	if err != nil {
		return err
	}
	hours, ok := s.Hourly(q, s.Now(), 14)
	if !ok {
		return nil // without the weather there is nothing to say; the rest of the page does not need it
	}
	at := day.Situation{House: st.Space.House, Wanted: st.Space.Wanted, Volume: st.Volume,
		Outdoor: func(d time.Duration) units.Celsius {
			return units.Celsius(hours[min(len(hours)-1, int(d/time.Hour))].Temperature)
		}}
	if ended := lines[0].Ended; ended.Valid && s.Now().Sub(ended.V) < recently {
		b, err := q.Home.Burn(q.Ctx(), lines[0].ID)
		if err != nil {
			return err
		}
		if samples := s.Replays.Replay(b.Burn, s.Now()).Samples; len(samples) > 0 && b.Simulated() {
			at.Last = &samples[len(samples)-1]
		}
	}
	found := day.Advise(at)
	a := advice{Advice: say.Advise(found, q.Units()), Stove: st.Name, Light: found.Do == day.Light}
	link := url.Values{"stove": {strconv.FormatInt(st.ID, 10)}, "aim": {string(wish.Hold)}, "start": {startToAsk(found.Start)}, "outdoor": {kit.ForecastWord}}
	if found.Known {
		link.Set("room", q.Units().RoomTemperature(units.Celsius(math.Round(float64(found.Room)*10)/10)))
	}
	a.Link = "/plan?" + link.Encode()
	p.Advice = append(p.Advice, a)
	return nil
}

// fillNow adds the last burn and the wood left.
func (s Room) fillNow(q *kit.Request, p *nowPage) error {
	stoves, err := q.Home.Stoves(q.Ctx())
	if err != nil {
		return err
	}
	stacks, err := q.Home.Stacks(q.Ctx())
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
	p.Left, p.LeftHeat = q.Units().Mass(units.Kilogram(mass)), q.Units().Energy(units.Joule(energy))
	lines, err := q.Home.Burns(q.Ctx(), s.Now().Add(time.Minute), 3)
	if err != nil {
		return err
	}
	for _, l := range lines {
		if l.Ended.Valid {
			line := kit.BurnLine{BurnLine: l, Day: l.Started.In(q.Profile.Location()).Format("2 January 2006"), Clock: l.Started.In(q.Profile.Location()).Format("15:04"), Mass: q.Units().Mass(l.Mass)}
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
