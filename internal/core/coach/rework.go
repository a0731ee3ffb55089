package coach

import (
	"math"
	"time"

	"smolder/internal/core/belief"
	"smolder/internal/core/fire"
	"smolder/internal/core/plan"
	"smolder/internal/core/units"
)

type forecast = belief.Forecast

// Where a fire is elsewhere than its plan wanted it, the turn-downs that are left are
// worked out again: each final setting of a few is burnt on from where the fire is, in
// some of the stoves that it is believed to be, and the one is taken that does best on
// average. Signs that hardly come in this stove are left out: then black wood and the
// clock stand for them, or the eye.

// finals are the settings that are tried, beside the plan's own; under the first none
// is, until this stove's lever is known.
var finals = []float64{plan.Floor, 1. / 4, 1. / 3, 1. / 2, 2. / 3, 1}

const (
	// triedIn is in how many of the members.
	triedIn = 16
	// What a setting costs: smoke, the room's cold and heat, and a limit that is passed.
	smokeCosts = 0.6   // per g/kg
	coldCosts  = 3.0   // per K, as the mean over what is left of the wish
	hotCosts   = 2.0   //
	unsafeCost = 200.0 // per share of the members
)

// Rework returns the plan with its remaining steps worked out anew; opening is how the
// main air stands, ahead what was foretold by the steps as they are.
func Rework(b *belief.Belief, p plan.Plan, done int, opening float64, ahead belief.Forecast) plan.Plan {
	p.Steps = append([]plan.Step(nil), p.Steps...)
	surer(p.Steps[done:], ahead)
	first, last := downs(p.Steps, done)
	if first < 0 {
		return p
	}
	key := p.Steps[first].Control
	c, _ := p.Wish.Stove.Control(key)
	tried := append([]float64{p.Steps[last].Opening}, finals...)
	best, least := p.Steps, math.Inf(1)
	seen := map[float64]bool{}
	for _, final := range tried {
		if final = c.Scale.Nearest(final); final < plan.Floor {
			final = c.Scale.AtLeast(plan.Floor) // the mark nearest to a fifth may be a sixth
		}
		if seen[final] {
			continue
		}
		seen[final] = true
		steps := downTo(p.Steps, first, last, min(1, opening), final, c.Scale.Nearest)
		if cost := costOf(b, p, opening, steps[done:]); cost < least {
			best, least = steps, cost
		}
	}
	p.Steps = best
	p.Final = best[last].Opening
	return p
}

// downs are the first and the last turn-down before a later load; −1: none is left.
func downs(steps []plan.Step, done int) (first, last int) {
	first, last = -1, -1
	for i := done; i < len(steps) && steps[i].Kind != plan.FeedIt; i++ {
		if steps[i].Kind == plan.TurnDown {
			if first < 0 {
				first = i
			}
			last = i
		}
	}
	return first, last
}

// downTo are the steps with the turn-downs going evenly, by ratio, to a final setting.
func downTo(steps []plan.Step, first, last int, from, final float64, nearest func(float64) float64) []plan.Step {
	out := append([]plan.Step(nil), steps...)
	n := 0
	for i := first; i <= last; i++ {
		if out[i].Kind == plan.TurnDown {
			n++
		}
	}
	k := 0
	for i := first; i <= last; i++ {
		st := &out[i]
		if st.Kind != plan.TurnDown {
			continue
		}
		k++
		o := final
		if k < n {
			o = nearest(max(final, from*math.Pow(final/max(from, final), float64(k)/float64(n))))
		}
		st.Opening = o
		do := append([]fire.Act(nil), st.Fire.Do...)
		for j := range do {
			if do[j].Kind == fire.ActControl && do[j].Control == st.Control {
				do[j].Opening = o
			}
		}
		st.Fire.Do = do
	}
	return out
}

// surer takes a gauge out of signs that it hardly ever shows in this stove: black wood
// stands for it, and where there is no wood to turn black, time.
func surer(steps []plan.Step, ahead belief.Forecast) {
	k := 0
	for i := range steps {
		if steps[i].Kind == plan.ReloadTime {
			continue
		}
		if k >= len(ahead.Moves) {
			return
		}
		share, when := ahead.Moves[k].Share, &steps[i].Fire.When
		k++
		if share >= surelyComes || when.Gauge == "" || steps[i].Kind == plan.CloseIt {
			continue
		}
		if !when.Charred {
			when.After = max(when.After, when.Latest/2)
		}
		when.Gauge, when.Above, when.Held = "", 0, 0
		return // those behind it wait for this one
	}
}

// costOf is what steps cost from here on.
func costOf(b *belief.Belief, p plan.Plan, opening float64, steps []plan.Step) float64 {
	var moves []fire.Move
	for _, st := range steps {
		if st.Kind != plan.ReloadTime {
			moves = append(moves, st.Fire)
		}
	}
	until := max(p.Wish.For, b.Now()+time.Hour)
	lives := b.Lives(triedIn, moves, until, func() fire.Watcher { return &comfort{wish: p.Wish.Low, high: p.Wish.High} },
		func() fire.Hand { return plan.HandFrom(p.Wish, opening, b.Now()) })
	return meanCost(lives)
}

// comfort keeps how far a room is from what is wanted.
type comfort struct {
	wish, high units.Celsius
	cold, hot  float64
	n          float64
}

// See takes a moment into account.
func (c *comfort) See(f *fire.Fire) {
	c.n++
	c.cold += math.Max(0, float64(c.wish-f.Room()))
	if c.high > 0 {
		c.hot += math.Max(0, float64(f.Room()-c.high))
	}
}

// Fork is the same once more.
func (c *comfort) Fork() fire.Watcher { fork := *c; return &fork }

func (c *comfort) cost() float64 {
	if c.n == 0 {
		return 0
	}
	return (coldCosts*c.cold + hotCosts*c.hot) / c.n
}

// openings are the settings that the main air is tried at, for the best.
var openings = []float64{0.1, 0.15, plan.Floor, 0.25, 1. / 3, 0.4, 0.5, 2. / 3, 0.8, 1}

// bestAir is the setting of the main air from least to most at which this fire, as it is
// believed to be, neither gets too hot within a quarter of an hour nor smoulders at its
// end; of those that are as good the one nearest to what is wanted. What is wanted stands
// where nothing is believed.
func (s *situation) bestAir(least, most, wanted float64) []plan.Setting {
	if s.air.Key == "" {
		return nil
	}
	if s.Belief == nil {
		return s.airTo(wanted)
	}
	const hotWeighs, nearWeighs = 3.0, 0.1
	best, cost := wanted, math.Inf(1)
	seen := map[float64]bool{}
	for _, o := range append([]float64{wanted}, openings...) {
		o = s.air.Scale.Nearest(min(o, s.most))
		if o < least-1e-9 || o > most+1e-9 || seen[o] {
			continue
		}
		seen[o] = true
		r := s.Belief.RisksIf(fire.Act{Kind: fire.ActControl, Control: s.air.Key, Role: s.air.Role, Opening: o})
		if c := hotWeighs*r.TooHot + r.Smoulder + nearWeighs*math.Abs(o-wanted); c < cost {
			best, cost = o, c
		}
	}
	return set(s.air, best)
}
