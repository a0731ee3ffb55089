package plan

import (
	"math"
	"slices"
	"time"

	"smolder/internal/core/each"
	"smolder/internal/core/fire"
	"smolder/internal/core/units"
)

// A variation is one way in which the day differs from the plan.
type variation struct {
	moisture units.Fraction // more than the meter said
	outdoor  units.Celsius  // warmer than foretold, K
	hand     float64        // factor on the openings of the turn-down
}

// variations are a meter's error of two points, a forecast's of three degrees
// and a hand's of a sixth, in the four combinations that spread a burn most.
var variations = []variation{{0.025, 3, 0.85}, {-0.02, -3, 1.15}, {0.025, -3, 1.15}, {-0.02, 3, 0.85}}

// off is how far the wood is from what it was taken for: a meter's error, or as
// much as an estimate may be off.
func (v variation) off(spread units.Fraction) units.Fraction {
	if v.moisture < 0 {
		return min(v.moisture, -spread)
	}
	return max(v.moisture, spread)
}

// Variations is how many there are.
var Variations = len(variations)

const (
	// varyStep is the step of the simulation under variations: the range is
	// rounder than what a longer step gets wrong.
	varyStep = 8 * time.Second
	// weatherUnsaid is how many times further off than a forecast a mild day is
	// that was only taken for want of a better word: eight degrees.
	weatherUnsaid = 8.0 / 3
	// driest is the moisture under which no wood is kept.
	driest units.Fraction = 0.05
)

// spread burns the plan under n variations and keeps the range.
func (p *Plan) spread(n int) {
	guide := guideOf(p.Wish.Stove)
	p.Low = slices.Clone(p.Predicted.Gauges[guide.Place])
	p.High = slices.Clone(p.Low)
	results := make([]fire.Result, min(n, len(variations)))
	each.InParallel(len(results), func(i int) { results[i] = p.vary(variations[i]) })
	for _, r := range results {
		p.NearHot = p.NearHot || TooHot(r.Summary)
		for i, s := range r.Samples[:min(len(r.Samples), len(p.Low))] {
			t, _ := s.Reading(guide.Place)
			p.Low[i], p.High[i] = math.Min(p.Low[i], tenth(float64(t))), math.Max(p.High[i], tenth(float64(t)))
		}
		for i, d := range r.Done {
			if s := &p.Steps[i]; d >= 0 && s.Expected >= 0 {
				s.Earliest, s.Latest = min(s.Earliest, d), max(s.Latest, d)
			}
		}
	}
}

// vary burns the plan once under a variation.
func (p *Plan) vary(v variation) fire.Result {
	w := p.Wish.Prepared()
	warmer := v.outdoor
	if w.Mild {
		warmer *= weatherUnsaid
	}
	w.Outdoor += warmer
	w.Weather = slices.Clone(w.Weather)
	for i := range w.Weather {
		w.Weather[i].Outdoor += warmer
	}
	opt := runOptions(w)
	opt.Step = varyStep
	spreads := map[int64]units.Fraction{p.Wish.Wood.ID: p.Wish.Wood.Stack.Spread}
	for _, o := range p.Wish.Others {
		spreads[o.ID] = o.Stack.Spread
	}
	return fire.Run(w.Setup(), p.changed(func(a *fire.Act, s Step) {
		if a.Load != nil {
			a.Load.Moisture = max(driest, a.Load.Moisture+v.off(spreads[a.Load.StackID]))
		}
		if s.Kind == TurnDown {
			a.Opening *= v.hand
		}
	}), opt)
}

// changed returns the plan's steps for the simulator with every act changed; the
// loads are copies.
func (p *Plan) changed(change func(*fire.Act, Step)) []fire.Move {
	steps := make([]fire.Move, 0, len(p.Steps))
	for _, s := range p.Steps {
		if s.Kind == ReloadTime {
			continue
		}
		step := fire.Move{When: s.Fire.When}
		for _, a := range s.Fire.Do {
			if a.Load != nil {
				l := *a.Load
				a.Load = &l
			}
			change(&a, s)
			step.Do = append(step.Do, a)
		}
		steps = append(steps, step)
	}
	return steps
}
