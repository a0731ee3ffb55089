package plan

import (
	"math"

	"smolder/internal/core/each"
	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// variation is one way in which the day differs from the plan.
type variation struct {
	moisture units.Fraction
	outdoor  units.Celsius
	hand     float64 // factor on the final openings
}

// spread burns the plan under variations and keeps the range.
func (p *Plan) spread(opt fire.Options) {
	guide, ok := p.Wish.Stove.Guide()
	if !ok {
		guide = stove.NewGauge(stove.ConnectorProbe)
	}
	p.Low = append([]float64(nil), p.Predicted.Gauges[guide.Place]...)
	p.High = append([]float64(nil), p.Low...)
	variations := []variation{{0.025, 3, 0.85}, {-0.02, -3, 1.15}, {0.025, -3, 1.15}, {-0.02, 3, 0.85}}
	results := make([]fire.Result, len(variations))
	opt.Step = searchStep
	each.InParallel(len(variations), func(i int) { results[i] = p.vary(variations[i], opt) })
	for _, r := range results {
		p.NearHot = p.NearHot || r.Summary.TooHot > maxTooHot
		for i, s := range r.Samples {
			if i >= len(p.Low) {
				break
			}
			t, _ := s.Reading(guide.Place)
			p.Low[i], p.High[i] = math.Min(p.Low[i], tenth(float64(t))), math.Max(p.High[i], tenth(float64(t)))
		}
		for i, d := range r.Done {
			if d >= 0 && p.Steps[i].Expected >= 0 {
				p.Steps[i].Earliest, p.Steps[i].Latest = min(p.Steps[i].Earliest, d), max(p.Steps[i].Latest, d)
			}
		}
	}
}

// vary burns the plan once under a variation.
func (p *Plan) vary(v variation, opt fire.Options) fire.Result {
	w := p.Wish.prepared()
	w.Outdoor += v.outdoor
	w.Weather = append([]fire.Weather(nil), w.Weather...)
	for i := range w.Weather {
		w.Weather[i].Outdoor += v.outdoor
	}
	return fire.Run(w.setup(), p.changed(func(a *fire.Act, s Step) {
		if a.Load != nil {
			a.Load.Moisture = max(0.05, a.Load.Moisture+v.moisture)
		}
		if s.Kind == TurnDown {
			a.Opening *= v.hand
		}
	}), opt)
}

// changed returns the plan's steps for the simulator with every act changed; the
// loads are copies.
func (p *Plan) changed(change func(*fire.Act, Step)) []fire.Step {
	steps := make([]fire.Step, 0, len(p.Steps))
	for _, s := range p.Steps {
		if s.Kind == ReloadTime {
			continue
		}
		step := fire.Step{When: s.Fire.When}
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
