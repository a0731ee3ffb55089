package belief

import (
	"math/rand/v2"
	"time"

	"smolder/internal/core/fire"
)

// A Hidden is a stove and an evening that the belief knows nothing of.
type Hidden struct{ w world }

// Draw returns hidden ones, times as far out as is usual.
func Draw(n int, seed uint64, times float64) []Hidden {
	prior := Usual()
	g := prior.gaussian(Doubt{}, 1)
	var out []Hidden
	for _, w := range g.draw(n, rand.New(rand.NewPCG(seed, 9))) {
		for k := range w {
			w[k] = clamp(times*w[k], -1.1, 1.1)
			if k >= atOutdoor {
				w[k] = clamp(w[k], -6, 6)
			}
		}
		out = append(out, Hidden{w})
	}
	return out
}

// Burn burns moves as they are there.
func (h Hidden) Burn(setup fire.Setup, moves []fire.Move, opt fire.Options) fire.Result {
	return fire.Run(h.w.in(setup), h.w.all(moves, 0), opt)
}

// Plain is the stove as its owner says it is.
func Plain() Hidden { return Hidden{make(world, numbers)} }

// Of gives one of the stove's own numbers, as a factor.
func (h Hidden) Of(name string) float64 {
	for i, u := range unknowns {
		if u.name == name {
			return h.w[i]
		}
	}
	return 0
}

// Bare is to burn copies of a belief's members through events, and nothing else.
func Bare(b *Belief, events []Event) func() {
	var fires []*fire.Fire
	for _, m := range b.members {
		fires = append(fires, m.fire.Clone())
	}
	return func() {
		for _, f := range fires {
			touched := b.touched
			for _, e := range events {
				f.BurnTo(e.At, touched)
				if e.Act != nil {
					f.Do(*e.Act)
					touched = e.At
				}
			}
		}
	}
}

// BareAhead is to burn copies of the members on by moves, and nothing else.
func BareAhead(b *Belief, moves []fire.Move, until time.Duration) func() {
	return func() {
		for _, m := range b.members {
			fire.GoOn(m.fire, b.touched, b.touched, moves, fire.Options{Until: until, Every: until, Coarse: true, Watch: blind{}})
		}
	}
}

type blind struct{}

func (blind) See(*fire.Fire)     {}
func (blind) Fork() fire.Watcher { return blind{} }

// BurntAgain is how many times a member was burnt again from the match.
func (b *Belief) BurntAgain() int { return b.burntAgain }

// BareAgain is to burn a belief's record again in as many worlds, and nothing else.
func BareAgain(b *Belief, n int) func() {
	return func() {
		for i := range n {
			f, touched, loads, w := b.members[i%Members].world.fire(b.setup), time.Duration(0), 0, b.members[i%Members].world
			for _, e := range b.record {
				f.BurnTo(e.At, touched)
				if e.Act != nil {
					f.Do(w.own(*e.Act, &loads))
					touched = e.At
				}
			}
		}
	}
}

// Tonight is the same stove on another evening: other wood, other weather.
func (h Hidden) Tonight(random *rand.Rand) Hidden {
	w := append(world(nil), h.w...)
	for k := range w[atCoals:] {
		spread := []float64{0.3, 1.5, 0.02, 0.015, 0.015, 0.015, 0.015, 0}[k]
		w[atCoals+k] = spread * random.NormFloat64()
	}
	return Hidden{w}
}
