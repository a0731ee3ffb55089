package coach

import (
	"math"
	"slices"
	"time"

	"smolder/internal/core/belief"
	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/follow"
	"smolder/internal/core/plan"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
)

// An Elsewhere is why a fire is not where its plan wanted it.
type Elsewhere string

// The reasons.
const (
	OtherAir  Elsewhere = "other-air"  // the air stands otherwise
	OtherLoad Elsewhere = "other-load" // another load was put on
	Late      Elsewhere = "late"       // the next sign comes much later than was thought
	Unlikely  Elsewhere = "unlikely"   // it hardly comes at all
)

const (
	otherOpening  = 0.12             // from the plan's, that is another setting
	otherMass     = 0.30             // share of a load, by which it is another
	muchLater     = 12 * time.Minute // than the latest that was said
	hardlyComes   = 0.5              // of the members
	surelyComes   = 0.8
	settledAfter  = 3 * time.Minute // that a hand may take from one control to the next
	tailOfWish    = 30 * time.Minute
	leastForecast = 90 * time.Minute
)

// followPlan holds the fire against its plan, foretells it, and works out what is left
// of the plan anew where the fire is elsewhere.
func (s *situation) followPlan() {
	until := s.at + horizon
	if s.plan != nil {
		until = max(s.at+leastForecast, s.plan.Wish.For+tailOfWish)
		s.progress = follow.Plan(*s.plan, s.Burn, s.seen(), s.Now)
		s.steps = left(s.plan.Steps, s.progress.Done)
	}
	until = min(until, s.at+longestAhead)
	if !s.known {
		return
	}
	if s.Belief == nil {
		s.asBefore()
		return
	}
	if s.plan == nil {
		s.ahead = s.Belief.ForecastAfter(s.at-s.moved, nil, until, s.hand)
		return
	}
	s.ahead = s.foretell(until)
	if s.reworked = s.elsewhere(); s.reworked == "" {
		return
	}
	again := Rework(s.Belief, *s.plan, s.progress.Done, s.opening, s.ahead)
	s.plan = &again
	s.progress = follow.Plan(again, s.Burn, s.seen(), s.Now)
	s.steps = left(again.Steps, s.progress.Done)
	s.ahead = s.foretell(until)
}

// asBefore takes what was foretold a moment ago: times of steps that are still to come, and
// the plan as it was worked out again then.
func (s *situation) asBefore() {
	s.ahead, s.reworked = s.Before.Forecast, s.Before.Reworked
	if s.plan == nil {
		return
	}
	if s.Before.Plan != nil {
		s.plan = s.Before.Plan
	}
	s.progress = follow.Plan(*s.plan, s.Burn, s.seen(), s.Now)
	s.steps = left(s.plan.Steps, s.progress.Done)
	if s.progress.Has && !s.progress.Ready {
		if in := s.progress.Next.Expected - s.at; in >= time.Minute {
			s.progress.In = in.Round(time.Minute)
		}
	}
}

// left are the steps from one on; one's times are the belief's from here on.
func left(steps []plan.Step, done int) []plan.Step {
	return slices.Clone(steps[min(done, len(steps)):])
}

// foretell burns the members on by the steps that are left, and puts their times into
// them and into the next step.
func (s *situation) foretell(until time.Duration) (f forecast) {
	var moves []fire.Move
	var of []int
	for i, st := range s.steps {
		if st.Kind != plan.ReloadTime {
			moves, of = append(moves, st.Fire), append(of, i)
		}
	}
	f = s.Belief.ForecastAfter(s.lastStep(), moves, until, s.hand)
	for k, i := range of {
		span, st := f.Moves[k], &s.steps[i]
		st.Earliest, st.Expected, st.Latest, st.Share = span.Earliest, span.Likely, span.Latest, span.Share
	}
	for i := range s.steps {
		if st := &s.steps[i]; st.Kind == plan.ReloadTime {
			span := f.Events[belief.ReloadFrom]
			st.Earliest, st.Expected, st.Latest, st.Share = span.Earliest, span.Likely, span.Latest, span.Share
			if span.Share < hardlyComes {
				st.Earliest, st.Expected, st.Latest = -1, -1, -1
			}
		}
	}
	if s.progress.Has && len(s.steps) > 0 {
		next := s.steps[0]
		s.progress.Next = next
		s.progress.In = 0
		if in := next.Expected - s.at; !s.progress.Ready && in >= time.Minute {
			s.progress.In = in.Round(time.Minute)
		}
	}
	// The plan has these times too, so that a step is found in it by whoever says it.
	timed := *s.plan
	timed.Steps = append(slices.Clone(timed.Steps[:min(s.progress.Done, len(timed.Steps))]), s.steps...)
	s.plan = &timed
	return f
}

// hand is somebody who goes on with this fire, and does what every step says else: a
// forecast in which nobody shuts the air at the limit would foretell what nobody lets
// happen.
func (s *situation) hand() fire.Hand {
	w := wish.Wish{Stove: s.Burn.Stove}
	if s.plan != nil {
		w = s.plan.Wish
	}
	loaded, _ := s.loaded()
	return plan.HandFrom(w, s.opening, s.at-loaded)
}

// lastStep is when the last of the plan's steps was done, since the start.
func (s *situation) lastStep() time.Duration {
	if s.progress.Done == 0 {
		return 0
	}
	return max(0, s.progress.Since.Sub(s.Burn.Started))
}

// seen is the fire as follow holds it against a plan.
func (s *situation) seen() follow.Seen {
	if !s.known || s.heard > unheardFor {
		return follow.Seen{}
	}
	seen := follow.Seen{Known: true, Phase: s.now.Phase, Wood: units.Kilogram(s.now.Wood.Middle), Black: s.now.Black, Flames: s.now.Flames,
		Coals: units.Kilogram(s.now.Coals.Middle), Least: units.Kilogram(s.leastCoals()), Gauges: map[stove.Place]units.Celsius{}}
	for p, g := range s.now.Gauges {
		seen.Gauges[p] = units.Celsius(g.Middle)
	}
	if _, ago, ok := s.last(ofKind(burn.Black)); ok {
		if loaded, is := s.loaded(); is && ago <= loaded {
			seen.Black = 1
		}
	}
	return seen
}

// elsewhere says why the fire is not where its plan wanted it, while there is something
// of the plan left that could be done otherwise for it.
func (s *situation) elsewhere() Elsewhere {
	if !s.progress.Has || s.progress.Done == 0 {
		return ""
	}
	if first, _ := downs(s.plan.Steps, s.progress.Done); first < 0 {
		return ""
	}
	done := s.plan.Steps[:s.progress.Done]
	if want, ok := openingAfter(done, s.air.Key); ok && s.isMoved && s.moved >= settledAfter && math.Abs(want-s.opening) > otherOpening {
		return OtherAir
	}
	if s.otherLoad(done) {
		return OtherLoad
	}
	next, planned := s.progress.Next, s.Asked.Plan.Steps[s.progress.Done]
	if next.Kind != plan.TurnDown && next.Kind != plan.CloseIt {
		return ""
	}
	between := planned.Latest - s.Asked.Plan.Steps[s.progress.Done-1].Expected
	switch {
	case next.Share > 0 && next.Share < hardlyComes:
		return Unlikely
	case planned.Latest > 0 && next.Expected > s.lastStep()+between+muchLater:
		return Late
	}
	return ""
}

// openingAfter is how steps leave a control.
func openingAfter(steps []plan.Step, key string) (opening float64, ok bool) {
	for _, st := range steps {
		for _, a := range st.Fire.Do {
			if a.Kind == fire.ActControl && a.Control == key {
				opening, ok = a.Opening, true
			}
		}
	}
	return opening, ok
}

// otherLoad tells whether the last load weighs much more or less than the plan's.
func (s *situation) otherLoad(done []plan.Step) bool {
	e, _, ok := s.last(splits)
	if !ok {
		return false
	}
	for _, st := range slices.Backward(done) {
		for _, a := range st.Fire.Do {
			if a.Load != nil && !a.Load.Kindling {
				planned := float64(a.Load.Mass())
				return planned > 0 && math.Abs(float64(e.Load.Mass())-planned) > otherMass*planned
			}
		}
	}
	return false
}
