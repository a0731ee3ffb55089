package belief

import (
	"maps"
	"math"
	"slices"
	"sync/atomic"
	"time"

	"gonum.org/v1/gonum/mat"

	"smolder/internal/core/fire"
	"smolder/internal/core/parallel"
	"smolder/internal/core/stove"
)

// A Wrong is something that may be wrong with a burn beside what is said of it: with the stove and
// its space, with what was done, or with numbers of the stove that are further off than chance has
// them.
type Wrong struct {
	Setup func(*fire.Setup)  // nil: as it was said
	Act   func(*fire.Act)    // likewise
	Shift map[string]float64 // factors, by the names of a [Prior]
}

// wrongSteps are taken at most from a world with something wrong to its likeliest.
const wrongSteps = 5

// A Told is how well a burn's record is told with something wrong or nothing, in the likeliest world
// that has it.
type Told struct {
	Worth float64 // as a logarithm: those of one record can be set against each other
	at    world
	by    *smoother
}

// Curve is what the gauge at a place would have read in that world, °C, every so often until a moment
// since the start.
func (t Told) Curve(place stove.Place, every, until time.Duration) []float64 {
	if t.by == nil {
		return nil
	}
	w := t.by.shifted(t.at)
	f, loads, touched, next := w.fire(t.by.setup), 0, time.Duration(0), 0
	var out []float64
	for at := time.Duration(0); at <= until; at += every {
		for ; next < len(t.by.record) && t.by.record[next].At <= at; next++ {
			if e := t.by.record[next]; e.Act != nil {
				f.BurnTo(e.At, touched)
				f.Do(w.own(*e.Act, &loads))
				touched = e.At
			}
		}
		f.BurnTo(at, touched)
		reads, ok := f.Reading(place)
		if !ok {
			return nil
		}
		out = append(out, reads)
	}
	return out
}

// Compare is how likely a burn's record is with nothing wrong, and with each of some things wrong. In each the stove may differ from what is
// usual as far as is believed of it: what any stove could show speaks for nothing.
//
// The likeliest world is climbed to once (see [Smooth]); with something wrong it is left by a few
// steps along the same slopes, so that each costs some burns and not some hundred. tell hears after
// each how many are done.
func Compare(prior Prior, setup fire.Setup, doubt Doubt, record []Event, wrongs []Wrong, tell func(done int)) (sound Told, with []Told) {
	with = make([]Told, len(wrongs))
	about := prior.gaussian(doubt, prior.wider())
	s := smoother{setup: setup, record: sparse(record), about: &about}
	at, base := s.begin()
	if len(base) == 0 {
		return Told{}, with
	}
	at, base, worth := s.climb(at, base)
	sound = Told{worth, at, &s}
	slopes := make([][]float64, numbers)
	parallel.InParallel(numbers, func(k int) { slopes[k] = s.slope(at, base, k) })
	var done atomic.Int64
	parallel.InParallel(len(wrongs), func(i int) {
		with[i] = s.wrong(wrongs[i], at, base, slopes)
		if n := done.Add(1); tell != nil {
			tell(int(n))
		}
	})
	return sound, with
}

// wrong is the likeliest world with something wrong in it.
func (s *smoother) wrong(x Wrong, from world, base []sighting, slopes [][]float64) Told {
	so := &smoother{setup: s.setup, record: s.record, about: s.about, shift: shiftOf(x.Shift)}
	if x.Setup != nil {
		so.setup.Stove.Controls = slices.Clone(so.setup.Stove.Controls)
		x.Setup(&so.setup)
	}
	if x.Act != nil {
		so.record = slices.Clone(s.record)
		for i, e := range so.record {
			if e.Act != nil {
				a := x.act(*e.Act)
				so.record[i].Act = &a
			}
		}
	}
	best := Told{Worth: math.Inf(-1), by: so}
	starts := []world{from, s.about.mean}
	if so.shift != nil { // what the sound world took for chance is what is wrong
		back := slices.Clone(from)
		for i, by := range so.shift {
			back[i] -= by
		}
		starts[0] = back
	}
	for _, at := range starts {
		seen := so.burn(at)
		if len(seen) != len(base) {
			continue // a gauge that is not there with it
		}
		worth := so.worth(at, seen, nil)
		for range wrongSteps {
			_, step := so.along(at, seen, slopes)
			share := so.reach(step)
			to := make(world, numbers)
			for k := range to {
				to[k] = at[k] + share*step.AtVec(k)
			}
			next := so.burn(to)
			w := so.worth(to, next, nil)
			if w <= worth+goodEnough {
				break
			}
			at, seen, worth = to, next, w
		}
		if worth > best.Worth {
			best.Worth, best.at = worth, at
		}
	}
	if best.at == nil {
		best.by = nil
	}
	return best
}

// act is something done as it is with this wrong.
func (x *Wrong) act(a fire.Act) fire.Act {
	if a.Load != nil {
		l := *a.Load
		a.Load = &l
	}
	x.Act(&a)
	return a
}

// shiftOf is a world's numbers that are further off, as logarithms.
func shiftOf(factors map[string]float64) world {
	if len(factors) == 0 {
		return nil
	}
	out := make(world, numbers)
	for _, name := range slices.Sorted(maps.Keys(factors)) {
		for i, u := range unknowns {
			if u.name == name {
				out[i] = math.Log(factors[name])
			}
		}
	}
	return out
}

// shifted is a world with what is further off in it.
func (s *smoother) shifted(w world) world {
	if s.shift == nil {
		return w
	}
	out := slices.Clone(w)
	for i, by := range s.shift {
		out[i] += by
	}
	return out
}

// along is [smoother.newton] with slopes that are known.
func (s *smoother) along(at world, base []sighting, slopes [][]float64) (*mat.SymDense, *mat.VecDense) {
	residual, weight, _ := terms(base, nil)
	return s.solved(at, residual, weight, slopes)
}
