package behave

import (
	"slices"
	"sync/atomic"
	"time"

	"smolder/internal/core/belief"
	"smolder/internal/core/fire"
	"smolder/internal/core/parallel"
	"smolder/internal/core/plan"
	"smolder/internal/core/stove"
	"smolder/internal/core/wish"
)

// A Given is what a setting of the main air gives when a load is left at it: the middle of the
// stoves that this one may be, and where eight of ten of them lie.
type Given struct {
	Opening float64
	Heat    Spread  // W to the room on average, until the load is coals
	Smoke   Spread  // g/kg of dry wood
	Hours   Spread  // from the load until it is coals
	Hot     float64 // share of the stoves in which it is too hot
	Dark    float64 // and in which it smoulders for long: the flames are lost
}

// A Spread is a number in eight of ten stoves.
type Spread struct{ Low, Middle, High float64 }

// How a setting is tried.
const (
	GivenWorlds = 8
	lostFor     = 15 * time.Minute // of smouldering, that is a fire that has lost its flames
)

// Settings tries a load of so many pieces on good coals at each of some openings, in stoves drawn
// from what is believed of this one. tell hears how many are done, from
// several goroutines.
func Settings(w wish.Wish, pieces int, openings []float64, worlds int, tell func(done int)) []Given {
	all := belief.Worlds(w.Belief(), belief.Doubt{}, worlds)
	type one struct{ heat, smoke, hours, hot, dark float64 }
	tried := make([]one, len(openings)*len(all))
	var done atomic.Int64
	w.Known = nil // it is in the worlds
	parallel.InParallel(len(tried), func(i int) {
		setup, steps := Trial(w, pieces, usualDirection(w), openings[i/len(all)])
		world := all[i%len(all)]
		saw := &heats{}
		sum := fire.Run(world.In(setup), world.Moves(steps), fire.Options{Until: outputFor, Every: outputLook, Step: outputStep, Coarse: true, Watch: saw}).Summary
		until := sum.ToCoals
		if until <= 0 {
			until = outputFor
		}
		o := one{heat: float64(saw.mean(until)), smoke: sum.SmokePerKg, hours: until.Hours()}
		if plan.TooHot(sum) {
			o.hot = 1
		}
		if sum.Smoulder > lostFor {
			o.dark = 1
		}
		tried[i] = o
		if n := int(done.Add(1)); tell != nil {
			tell(n)
		}
	})
	out := make([]Given, len(openings))
	for i := range out {
		mine := tried[i*len(all) : (i+1)*len(all)]
		spread := func(of func(one) float64) Spread {
			v := make([]float64, 0, len(mine))
			for _, o := range mine {
				v = append(v, of(o))
			}
			slices.Sort(v)
			at := func(share float64) float64 { return v[min(len(v)-1, int(share*float64(len(v))))] }
			return Spread{at(0.1), at(0.5), at(0.9)}
		}
		share := func(of func(one) float64) float64 {
			sum := 0.0
			for _, o := range mine {
				sum += of(o)
			}
			return sum / float64(len(mine))
		}
		out[i] = Given{Opening: openings[i], Heat: spread(func(o one) float64 { return o.heat }), Smoke: spread(func(o one) float64 { return o.smoke }),
			Hours: spread(func(o one) float64 { return o.hours }), Hot: share(func(o one) float64 { return o.hot }), Dark: share(func(o one) float64 { return o.dark })}
	}
	return out
}

// Marks are the openings of a control that are worth trying, as it is marked, from the least to
// all of it.
func Marks(c stove.Control) []float64 {
	tried := []float64{0.05, 0.1, 0.15, 0.2, 0.25, 1. / 3, 0.4, 0.5, 0.6, 0.75, 0.9, 1}
	if c.Scale.Kind == stove.Notches {
		tried = c.Scale.Steps()
	}
	var out []float64
	for _, o := range tried {
		if o = c.Scale.Nearest(o); o > 0 && !slices.Contains(out, o) {
			out = append(out, o)
		}
	}
	slices.Sort(out)
	return out
}
