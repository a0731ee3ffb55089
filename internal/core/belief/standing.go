package belief

import (
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/parallel"
	"smolder/internal/core/policy"
	"smolder/internal/core/stove"
)

// A Three is a number as it is believed: the tenth, the middle and the ninetieth in a
// hundred.
type Three struct{ Low, Middle, High float64 }

// A Standing is how a fire is believed to be at a moment. What is or is not comes as a
// probability, 0 to 1.
type Standing struct {
	At       time.Duration // since the start
	Phase    fire.Phase    // the likeliest
	Flames   float64       // some are seen
	Black    float64       // the last load is black all over
	Smoulder float64
	Spilling float64
	Hot      float64 // a gauge is over its limit, or would be if it hung there
	Out      float64
	// NotCaught is that the last load has lain there for some minutes, and hardly any of it is
	// alight: no fire that has burnt down, and none that burns.
	NotCaught float64

	Alight Three                 // share of the last load's faces
	Wood   Three                 // kg, dry, not yet char
	Coals  Three                 // kg
	Room   Three                 // °C
	Draft  Three                 // Pa
	Gauges map[stove.Place]Three // °C, as each would read now
}

// Standing says how the fire is believed to be now.
func (b *Belief) Standing() Standing {
	places := b.places()
	looks, samples := make([]fire.Look, len(b.members)), make([]fire.Sample, len(b.members))
	parallel.InParallel(len(b.members), func(i int) {
		looks[i], samples[i] = b.members[i].fire.Look(), b.members[i].fire.Sample()
	})
	weights := b.weights()
	s := Standing{At: b.now, Gauges: map[stove.Place]Three{}}
	phases := map[fire.Phase]float64{}
	for i, l := range looks {
		w := weights[i]
		phases[samples[i].Phase] += w
		for _, is := range []struct {
			share *float64
			so    bool
		}{
			{&s.Flames, l.Flame > policy.FlameSeen}, {&s.Black, l.Black}, {&s.Smoulder, l.Smoulder}, {&s.Spilling, l.Spilling},
			{&s.Hot, l.Hot}, {&s.Out, l.Out}, {&s.NotCaught, b.notCaught(l)},
		} {
			if is.so {
				*is.share += w
			}
		}
	}
	// In the order of a burn, so that of two as likely the same is said each time.
	for _, p := range []fire.Phase{fire.Preparing, fire.Lighting, fire.Establishing, fire.Charring, fire.Cruising, fire.Coaling, fire.Out} {
		if phases[p] > phases[s.Phase] {
			s.Phase = p
		}
	}
	values, at := make([]float64, len(b.members)), make([]int, len(b.members))
	three := func(of func(i int) float64) (t Three) {
		for i := range values {
			values[i] = of(i)
		}
		t.Low, t.Middle, t.High = threeOf(values, weights, at)
		return t
	}
	s.Alight = three(func(i int) float64 { return looks[i].Alight })
	s.Wood = three(func(i int) float64 { return looks[i].Wood })
	s.Coals = three(func(i int) float64 { return b.members[i].world.coals(looks[i].Coals, b.now) })
	s.Draft = three(func(i int) float64 { return float64(samples[i].Draft) })
	reads := func(i int, p stove.Place, celsius float64) float64 {
		m := b.members[i]
		sigma, lasts := errorOf(p, celsius, float64(m.fire.Room()), 0)
		return celsius + sigma*m.misses[missOf[p]].left(b.now, lasts)
	}
	s.Room = three(func(i int) float64 { return reads(i, stove.RoomAir, float64(b.members[i].fire.Room())) })
	for _, p := range places {
		s.Gauges[p] = three(func(i int) float64 {
			t, _ := b.members[i].fire.Reading(p)
			return reads(i, p, t)
		})
	}
	return s
}

const (
	catchesWithin = 4 * time.Minute // that a load needs to flame where it does; 1 to 6
	hardlyAlight  = 0.35            // share of its faces
)

// notCaught tells whether a member's last load does not take.
func (b *Belief) notCaught(l fire.Look) bool {
	loaded := time.Duration(-1)
	for _, e := range b.record {
		if e.Act != nil && e.Act.Kind == fire.ActLoad {
			loaded = e.At
		}
	}
	return loaded >= 0 && b.now-loaded >= catchesWithin && l.Wood > hardlyWood && l.Alight < hardlyAlight && l.Flame < policy.FlameSeen
}

// left is what is left of what a gauge missed, in standard deviations.
func (m *miss) left(now, lasts time.Duration) float64 {
	if !m.seen {
		return 0
	}
	return fade(now-m.at, lasts) * m.by
}
