package plan

import (
	"math"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/policy"
	"smolder/internal/core/stove"
	"smolder/internal/core/when"
	"smolder/internal/core/wish"
)

// A hand follows a plan as it asks to be followed: it does the steps, and besides what the
// coach would say ([policy.Situation.Decide]), with the delay of a person: what it has seen at
// one look and sees again at the next, a minute later, it does.
//
// Once it has gone back for flames that died, no step of the plan goes lower while that load
// burns; once it has shut the air for heat, none opens it further than was good.
//
// It sees what an owner sees (the stove's own gauges, flames, wood), and does nothing
// while nobody is there.
type hand struct {
	air    string
	role   stove.Role
	there  when.Presence
	gauges []handGauge

	s       policy.Situation
	floor   float64       // under which no step goes any more
	most    float64       // to which the air may be opened with this load
	hot     time.Duration // when a gauge was last near its limit; negative: never with this load
	moved   time.Duration // when the air was last moved; negative: it was not
	dark    time.Duration // since when no flame is seen; negative: one is
	loaded  time.Duration
	lit     bool
	door    fire.Door
	helping bool
	burnt   bool // it was a fire before: kindling flares in no stove that has coals
	meant   policy.Reason

	cooled, raised, opened bool // whether it ever helped so

	every, looked time.Duration // how often it looks in; 0: all the time
}

// handGauge is a gauge with what it read at the last looks.
type handGauge struct {
	stove.Gauge
	reads [looksBack]float64
	seen  int
}

// staysBy is for how long somebody who looks in seldom stays by a load.
const staysBy = 12 * time.Minute

// looksBack is over how many looks, each a minute, a hand sees a gauge rise.
const looksBack = 3

// HandFrom is somebody who goes on with a fire that burns, the main air standing at an
// opening and the last load having been put on at a moment since the start.
func HandFrom(w wish.Wish, opening float64, loaded time.Duration) fire.Hand {
	h := newHand(w)
	h.s.Air, h.s.Before, h.lit, h.loaded, h.moved, h.burnt = opening, opening, true, loaded, loaded, true
	return h
}

func newHand(w wish.Wish) *hand {
	air, _ := w.Stove.MainAir()
	h := &hand{air: air.Key, role: air.Role, there: w.Presence(), most: 1, hot: -1, moved: -1, dark: -1, burnt: w.Start != wish.Cold}
	if w.Seldom {
		h.every = wish.LooksEvery
	}
	h.s.Air, h.s.Before, h.s.Sealed = 1, 1, !w.Stove.Ajar()
	for _, g := range w.Stove.Gauges {
		if g.Place.OfFire() {
			h.gauges = append(h.gauges, handGauge{Gauge: g})
		}
	}
	return h
}

// Fork is the same hand, which goes its own way.
func (h *hand) Fork() fire.Hand {
	fork := *h
	fork.gauges = append([]handGauge(nil), h.gauges...)
	return &fork
}

// Doing keeps a step between what the hand has found out.
func (h *hand) Doing(f *fire.Fire, a fire.Act) fire.Act {
	switch {
	case a.Kind == fire.ActLoad:
		h.loaded, h.lit, h.dark, h.most, h.hot, h.floor = f.Elapsed(), true, -1, 1, -1, 0
	case a.Kind == fire.ActDoor:
		h.door, h.helping = a.Door, false
	case a.Kind == fire.ActControl && a.Control == h.air:
		a.Opening = min(max(a.Opening, h.floor), h.most)
		h.to(f, a.Opening)
	}
	return a
}

// to remembers how the air stands.
func (h *hand) to(f *fire.Fire, o float64) {
	h.s.Before, h.s.Air, h.moved = h.s.Air, o, f.Elapsed()
}

// Look helps the fire where it needs it.
func (h *hand) Look(f *fire.Fire) []fire.Act {
	now := f.Elapsed()
	if h.every > 0 && h.lit && now-h.loaded > staysBy && now-h.looked < h.every {
		return nil
	}
	h.looked = now
	h.see(f, now)
	if h.there != nil {
		if _, somebody := h.there.At(now); !somebody {
			h.meant = ""
			return nil
		}
	}
	act, ok := h.s.Decide()
	seldom := h.every > 0 && now-h.loaded > staysBy // who looks in seldom does at once what is seen
	if !ok || act.Reason != h.meant && !seldom {
		h.meant = act.Reason // done at the next look, if it is still so
		return nil
	}
	h.meant = ""
	return h.does(f, act)
}

// see takes the fire in as a person does.
func (h *hand) see(f *fire.Fire, now time.Duration) {
	s, look := &h.s, f.Look()
	ago := func(at time.Duration) time.Duration {
		if at < 0 {
			return -1
		}
		return now - at
	}
	s.Gauges = s.Gauges[:0:0]
	for i := range h.gauges {
		g := &h.gauges[i]
		t, ok := f.Reading(g.Place)
		if !ok {
			continue
		}
		seen := policy.Gauge{Place: g.Place, Value: t, Low: float64(g.Band.Low), Limit: float64(g.Band.TooHot)}
		if g.seen >= looksBack {
			seen.Rate, seen.HasRate = (t-g.reads[g.seen%looksBack])/looksBack, true
		}
		g.reads[g.seen%looksBack] = t
		g.seen++
		s.Gauges = append(s.Gauges, seen)
		if seen.Limit > 0 && t >= policy.NearLimit*seen.Limit && s.Air > policy.LeastAir {
			h.hot, h.most = now, policy.MostAfter(s.Air)
		}
	}
	if cold := len(s.Gauges) > 0 && s.Gauges[0].Value < s.Gauges[0].Low; cold && h.hot >= 0 && now-h.hot > policy.ColdAfter {
		h.most = 1
	}
	flames := look.Flame > policy.FlameSeen
	switch {
	case flames || look.Wood < policy.SomeWood:
		h.dark = -1
	case h.dark < 0:
		h.dark = now
	}
	s.Risk = 0 // who has watched a stove knows how a rise flattens
	s.Feeds, s.Moved, s.Most, s.HotAgo, s.Loaded, s.Lit = s.Air, ago(h.moved), h.most, ago(h.hot), ago(h.loaded), h.lit
	s.Wood, s.Pale, s.Door, s.Helping = look.Wood, !look.Black && look.Wood >= policy.SomeWood, h.door, h.helping
	s.Dark = h.dark >= 0 && now-h.dark >= policy.ShownAfter || h.helping && !flames
	s.Flares = now < policy.FlareFor && !h.burnt
}

// does moves what an act moves.
func (h *hand) does(f *fire.Fire, act policy.Act) []fire.Act {
	switch act.Reason {
	case policy.OverLimit, policy.Climbs:
		h.cooled = true
	case policy.StepBack, policy.AllItHas:
		h.raised, h.dark, h.floor = true, -1, math.Max(h.floor, act.Air)
	case policy.NotTaken:
		h.opened, h.helping = true, true
	case policy.Flames:
		h.helping = false
	}
	var out []fire.Act
	if act.Moves {
		h.to(f, act.Air)
		out = append(out, fire.Act{Kind: fire.ActControl, Control: h.air, Role: h.role, Opening: act.Air})
	}
	if act.Sets {
		h.door = act.Door
		out = append(out, door(act.Door))
	}
	return out
}
