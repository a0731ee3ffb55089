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
	var out []float64
	there := true
	t.Watch(every, until, func(f *fire.Fire) {
		reads, ok := f.Reading(place)
		there = there && ok
		out = append(out, reads)
	})
	if !there {
		return nil
	}
	return out
}

// Watch burns the evening once more in that world and shows its fire every so often, from the start
// until a moment since then. Where nothing was compared there is nothing to see.
func (t Told) Watch(every, until time.Duration, see func(*fire.Fire)) {
	if t.by == nil {
		return
	}
	w := t.by.shifted(t.at)
	f, loads, touched, next := w.fire(t.by.setup), 0, time.Duration(0), 0
	for at := time.Duration(0); at <= until; at += every {
		for ; next < len(t.by.record) && t.by.record[next].At <= at; next++ {
			if e := t.by.record[next]; e.Act != nil {
				f.BurnTo(e.At, touched)
				f.Do(w.own(*e.Act, &loads))
				touched = e.At
			}
		}
		f.BurnTo(at, touched)
		see(f)
	}
}

// A Comparison sets a burn's record against what may be wrong. In each case the stove may differ from
// what is usual as far as is believed of it: what any stove could show speaks for nothing.
//
// The likeliest world is climbed to once (see [Smooth]); with something wrong it is left by a few
// steps along the same slopes, so that each costs some burns and not some hundred.
type Comparison struct {
	Sound Told // with nothing wrong

	s      *smoother
	base   []sighting
	slopes [][]float64
}

// Compare climbs to the likeliest world with nothing wrong.
func Compare(prior Prior, setup fire.Setup, doubt Doubt, record []Event) *Comparison {
	about := prior.gaussian(doubt, prior.wider())
	c := &Comparison{s: &smoother{setup: setup, record: sparse(record), about: &about}}
	at, base := c.s.begin()
	if len(base) == 0 {
		return c
	}
	at, base, worth := c.s.climb(at, base)
	c.Sound, c.base, c.slopes = Told{worth, at, c.s}, base, make([][]float64, numbers)
	parallel.InParallel(numbers, func(k int) { c.slopes[k] = c.s.slope(at, base, k) })
	return c
}

// With is how well the record is told with each of some things wrong; tell hears after each how many
// are done. Where nothing was read or seen all are as good.
func (c *Comparison) With(wrongs []Wrong, tell func(done int)) []Told {
	with := make([]Told, len(wrongs))
	if len(c.base) == 0 {
		return with
	}
	var done atomic.Int64
	parallel.InParallel(len(wrongs), func(i int) {
		with[i] = c.with(wrongs[i])
		if n := done.Add(1); tell != nil {
			tell(int(n))
		}
	})
	c.again(with)
	return with
}

// again sets out once more from where the best of them was found: a fire that took and one that did
// not have no slope between them, so that who set out on the wrong side stayed there.
func (c *Comparison) again(with []Told) {
	best := 0
	for i := range with {
		if with[i].Worth > with[best].Worth {
			best = i
		}
	}
	if len(with) < 2 || with[best].by == nil {
		return
	}
	there := with[best].by.shifted(with[best].at)
	parallel.InParallel(len(with), func(i int) {
		so := with[i].by
		if i == best || so == nil {
			return
		}
		from := slices.Clone(there)
		for k := range so.shift {
			from[k] -= so.shift[k]
		}
		if at, worth, ok := c.leave(so, from); ok && worth > with[i].Worth {
			with[i].Worth, with[i].at = worth, at
		}
	})
}

// with is the likeliest world with something wrong in it.
func (c *Comparison) with(x Wrong) Told {
	s := c.s
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
	from := c.Sound.at
	if so.shift != nil { // what the sound world took for chance is what is wrong
		from = slices.Clone(from)
		for i, by := range so.shift {
			from[i] -= by
		}
	}
	best := Told{Worth: math.Inf(-1), by: so}
	for _, at := range []world{from, s.about.mean} {
		if at, worth, ok := c.leave(so, at); ok && worth > best.Worth {
			best.Worth, best.at = worth, at
		}
	}
	if best.at == nil {
		best.by = nil
	}
	return best
}

// leave goes from a world towards the likeliest along the slopes of the sound one; false: a gauge is
// not there with what is wrong.
func (c *Comparison) leave(so *smoother, at world) (world, float64, bool) {
	seen := so.burn(at)
	if len(seen) != len(c.base) {
		return at, 0, false
	}
	worth := so.worth(at, seen, nil)
	for range wrongSteps {
		_, step := so.along(at, seen, c.slopes)
		moved := false
		// A step that makes it worse is halved, as in [smoother.climb].
		for half, share := 0, so.reach(step); half <= halvings; half, share = half+1, share/2 {
			to := make(world, numbers)
			for k := range to {
				to[k] = at[k] + share*step.AtVec(k)
			}
			next := so.burn(to)
			if w := so.worth(to, next, nil); w > worth {
				moved = w > worth+goodEnough
				at, seen, worth = to, next, w
				break
			}
		}
		if !moved {
			break
		}
	}
	return at, worth, true
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
