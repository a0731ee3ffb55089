package day

import (
	"errors"
	"time"

	"smolder/internal/core/plan"
	"smolder/internal/core/search"
	"smolder/internal/core/units"
	"smolder/internal/core/when"
	"smolder/internal/core/wish"
)

// A night, or an absence that is as long, is part of the day's chain: the evening's last load
// leaves the coals that the night's needs, and the night's those for the morning. The evening's
// load is chosen by what both come to together.

const (
	longAway     = 5 * time.Hour    // that nobody is there, from which it is a night
	nightBefore  = 90 * time.Minute // everybody goes, that the night's load is due: charred, turned down, seen to burn
	lastEvening  = shortFire        // before the night's load, from which a load that is due is the night's
	leastEvening = 75 * time.Minute // that a load burns before the night's
	lastChance   = plan.LoadTakes   // before they go, after which none goes on any more
	holdsAlone   = 0.5              // K under the band, that the room may fall to by itself before a night is worth a fire
	longestNight = 14 * time.Hour   // that one load is planned for
	lights       = time.Hour        // that somebody is there afterwards, for whom coals are worth something

	// What a chain costs, as a search weighs one burn: by g of smoke per kg, by kg of wood, and
	// by mean K under the band.
	smokeCosts, woodCosts, coldCosts, noNight = 0.6, 0.15, 4, 100
)

// A night is when nobody is there, and when its load is due.
type night struct {
	load, last time.Duration // when it goes on, and at the latest
	to, until  time.Duration // when everybody goes, and comes back
	morning    bool          // somebody is there long enough afterwards to light on its coals
}

// nightAfter is the next night from a time on, within the day.
func (r *run) nightAfter(at time.Duration) (night, bool) {
	span, ok := r.w.There.At(at)
	for ok && r.w.There != nil && span.To < r.span {
		next, again := r.w.There.Next(span.To)
		if !again || next > r.span {
			next, again = r.span, false
		}
		if next-span.To >= longAway {
			n := night{load: max(span.From, span.To-nightBefore).Truncate(every), last: span.To - lastChance, to: span.To, until: next}
			if again {
				after, _ := r.w.There.At(next)
				n.morning = after.To-next >= lights
			}
			return n, true
		}
		span, ok = r.w.There.At(next)
	}
	return night{}, false
}

// nightDue tells whether a night's load goes on now: it is time for it, and the fire before
// has gone to coals. One that never does has wood for the night in it.
func (r *run) nightDue(at time.Duration) (night, bool) {
	n, ok := r.nightAfter(at)
	if !ok || at < n.load || at > n.last || r.banked >= n.until {
		return night{}, false
	}
	since := at - r.begun
	return n, r.burning == nil || since > time.Hour && r.burning.BurntDown(since)
}

// bank plans the load for a night, where the house does not hold by itself.
func (r *run) bank(at time.Duration, n night) error {
	if r.alone(at, n.until) >= r.w.Low-holdsAlone {
		r.banked = n.until
		return nil
	}
	next := r.nightWish(r.wishAt(at), at, n)
	p, err := search.Best(r.ctx, next, r.effort, r.meter)
	var refused *wish.Refusal
	if errors.As(err, &refused) {
		r.Refused, r.banked = refused, n.until
		return nil
	}
	if err != nil {
		return err
	}
	r.banked = n.until
	win := Window{From: max(0, at-early), Best: at, Until: max(at, n.last), Fire: p, Night: true}
	r.took(win, next)
	return nil
}

// nightWish is a wish for the night's load.
func (r *run) nightWish(w wish.Wish, at time.Duration, n night) wish.Wish {
	w.Aim, w.OneLoad, w.For, w.Embers = wish.Overnight, true, min(n.until-at, longestNight), n.morning
	w.There = when.Presence{{From: 0, To: n.to - at}}
	return w
}

// alone is the room at a later time if nothing more is put on.
func (r *run) alone(at, until time.Duration) units.Celsius {
	room := r.room
	for t := at; t < until; t += every {
		heat := r.w.BesideAt(t)
		if r.burning != nil {
			heat += r.burning.HeatAt(t - r.begun + every/2)
		}
		for range every / part {
			room, _ = r.w.House.Step(room, heat, r.w.OutdoorAt(t), part.Seconds())
		}
	}
	return room.Air
}

// evening plans a load with a night before it: of the plans for the time until the night's
// load goes on the one that with the best night on its coals costs least; or, shortly before,
// the night's load at once, which is then the evening's last.
func (r *run) evening(at time.Duration, next wish.Wish, n night) (p plan.Plan, banked bool, err error) {
	var best chain
	if until := n.load - at; until >= leastEvening {
		e := next
		e.For, e.Embers = until, true
		c, err := search.Plans(r.ctx, e, r.effort, r.meter)
		if err = unlessRefused(err); err != nil {
			return plan.Plan{}, false, err
		}
		for _, p := range c.Plans {
			if !p.BurntDown(n.last - at) {
				continue // its wood is in the way of the night's
			}
			found, err := r.slept(at, e, p, n)
			if err != nil {
				return plan.Plan{}, false, err
			}
			if best.plans == nil || found.cost() < best.cost() {
				best = found
			}
		}
	}
	if n.load-at < lastEvening {
		now, err := search.Best(r.ctx, r.nightWish(next, at, n), r.effort, r.meter)
		if err = unlessRefused(err); err != nil {
			return plan.Plan{}, false, err
		}
		if found := (chain{plans: []plan.Plan{now}}); len(now.Steps) > 0 && (best.plans == nil || found.cost() < best.cost()) {
			return now, true, nil
		}
	}
	if best.plans == nil {
		p, err = search.Best(r.ctx, next, r.effort, r.meter)
		return p, false, err
	}
	return best.plans[0], false, nil
}

// unlessRefused is an error that is no refusal.
func unlessRefused(err error) error {
	var refused *wish.Refusal
	if errors.As(err, &refused) {
		return nil
	}
	return err
}

// slept is an evening's plan with the best night on what it leaves.
func (r *run) slept(at time.Duration, e wish.Wish, p plan.Plan, n night) (chain, error) {
	then := *r
	then.burning, then.begun = &p, at
	room := then.alone(at, n.load)
	w := e
	w.Room, w.Start, w.Body = room, p.StartAt(e.For), p.BodyAt(e.For, room)
	w.Weather, w.Beside = wish.WeatherFrom(e.Weather, e.For), wish.BesideFrom(e.Beside, e.For)
	w.Wood, w.Others, w.Kindling = left(e, p)
	night, err := search.Best(r.ctx, r.nightWish(w, n.load, n), r.effort, r.meter)
	if err = unlessRefused(err); err != nil {
		return chain{}, err
	}
	if len(night.Steps) == 0 {
		return chain{plans: []plan.Plan{p}, without: true}, nil
	}
	return chain{plans: []plan.Plan{p, night}}, nil
}

// A chain is burns one after the other; without says that no night can be had after them.
type chain struct {
	plans   []plan.Plan
	without bool
}

// cost is what a chain costs in all.
func (c chain) cost() float64 {
	cold, hours, smoke, kilos, lost := 0.0, 0.0, 0.0, 0.0, 0.0
	for _, p := range c.plans {
		hours += p.Wish.For.Hours()
		for i, t := range p.Predicted.Room {
			if time.Duration(i)*p.Predicted.Every <= p.Wish.For {
				cold += max(0, float64(p.Wish.Low)-t) * p.Predicted.Every.Hours()
			}
		}
		smoke, kilos, lost = smoke+p.SmokePerKg()*float64(p.Mass()), kilos+float64(p.Mass()), lost+search.Lost(p)
	}
	if c.without {
		lost += noNight
	}
	return smokeCosts*smoke/max(kilos, 1e-9) + woodCosts*kilos + coldCosts*cold/max(hours, 1) + lost
}
