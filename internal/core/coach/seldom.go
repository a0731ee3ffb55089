package coach

import (
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/plan"
	"smolder/internal/core/policy"
)

// Whoever looks in seldom wants to know two things: whether the fire can be left now, and when to
// be back. It is found by leaving it: the fire is burnt on in some of the stoves that this one may
// be, with nobody by it for so long, and then with the steps that are left.

// An Away is how long the fire can be left.
type Away struct {
	Stay bool          // it cannot be: something is to be done sooner than anybody would be back
	For  time.Duration // it can be left for so long from now
	Wait bool          // the next step comes before that, and can wait for it
	Safe float64       // share of the stoves that this may be in which nothing is too hot or smokes into the room until then
}

var (
	// aways are how long somebody may be away, tried from the longest.
	aways = []time.Duration{time.Hour, 45 * time.Minute, 30 * time.Minute, 20 * time.Minute, 10 * time.Minute}
)

const (
	// worthStaying is what being late for the next steps may cost, as settings are weighed: more,
	// and it is worth staying for.
	worthStaying = 0.5
	// staysBy is how long somebody stays by a load, until it is seen to burn.
	staysBy = 12 * time.Minute
	// Who has come by the stove so far apart, so often, looks in seldom.
	seldomGap, seldomGaps = 20 * time.Minute, 3
	// together are entries that belong to one visit.
	together = 8 * time.Minute
	// hereFor is how long after an entry somebody counts as being by the stove.
	hereFor = 12 * time.Minute
)

// looksSeldom tells whether whoever keeps the fire comes by about every half hour: by the wish, or
// by the last visits.
func (s *situation) looksSeldom() bool {
	if s.plan != nil && s.plan.Wish.Seldom {
		return true
	}
	var visits []time.Time
	for _, e := range s.log {
		if n := len(visits); n == 0 || e.At.Sub(visits[n-1]) > together {
			visits = append(visits, e.At)
		}
	}
	if len(visits) <= seldomGaps {
		return false
	}
	visits = visits[len(visits)-seldomGaps-1:]
	for i := 1; i < len(visits); i++ {
		if visits[i].Sub(visits[i-1]) < seldomGap {
			return false
		}
	}
	return true
}

// away is how long the fire can be left, for who looks in seldom; nil where there is something to
// do first, or nothing is known.
func (s *situation) away(a Advice) *Away {
	if s.Belief == nil || s.air.Key == "" || !s.isLit() || s.heard > hereFor || a.Urgent || a.Ready && a.Asks() || len(s.dangers) > 0 || !s.looksSeldom() {
		return nil
	}
	if door, _ := s.doorStands(); door != fire.Shut || s.Burn.IsOut(s.Now) || s.now.Out > policy.Bright {
		return nil
	}
	if loaded, ok := s.loaded(); ok && loaded < staysBy || s.now.Wood.Middle > policy.SomeWood && s.now.Flames < policy.Bright {
		return nil // it is not seen to burn yet
	}
	cost := s.going(0)
	for _, d := range aways {
		if later, safe := s.left(d); safe >= 1-policy.UnsafeShare && later <= cost+worthStaying {
			wait := s.progress.Has && s.progress.Next.Kind != plan.ReloadTime && s.progress.Next.Expected >= 0 && s.progress.Next.Expected < s.at+d
			return &Away{For: d, Safe: safe, Wait: wait}
		}
	}
	return &Away{Stay: true}
}

// left is what the fire costs with nobody by it for so long, and the share of the stoves in which
// it stays safe.
func (s *situation) left(d time.Duration, first ...fire.Act) (cost, safe float64) {
	w, back := s.wish(), s.at+d
	var moves []fire.Move
	if len(first) > 0 {
		moves = append(moves, fire.Move{Do: first})
	}
	for i, st := range s.steps {
		if st.Kind == plan.ReloadTime {
			continue
		}
		m := st.Fire
		if i == 0 {
			m.When.At = max(m.When.At, back)
		}
		moves = append(moves, m)
	}
	lives := s.Belief.Lives(triedIn, moves, s.lasts(), func() fire.Watcher { return &comfort{wish: w.Low, high: w.High} },
		func() fire.Hand { return &backAt{Hand: plan.HandFrom(w, s.opening, s.at), back: back} })
	for _, l := range lives {
		if !plan.TooHot(l.Summary) && !plan.Spills(l.Summary) {
			safe += 1 / float64(len(lives))
		}
	}
	return meanCost(lives), safe
}

// going is what the fire costs from here on with the steps that are left, after something is done first.
func (s *situation) going(d time.Duration, first ...fire.Act) float64 {
	cost, _ := s.left(d, first...)
	return cost
}

// backAt is a hand that is not there before a moment.
type backAt struct {
	fire.Hand
	back time.Duration
}

// Look sees nothing before.
func (h *backAt) Look(f *fire.Fire) []fire.Act {
	if f.Elapsed() < h.back {
		return nil
	}
	return h.Hand.Look(f)
}

// Fork is the same hand, which goes its own way.
func (h *backAt) Fork() fire.Hand { return &backAt{h.Hand.Fork(), h.back} }
