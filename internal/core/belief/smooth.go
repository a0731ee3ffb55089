package belief

import (
	"math"
	"math/rand/v2"
	"time"

	"gonum.org/v1/gonum/mat"

	"smolder/internal/core/fire"
	"smolder/internal/core/parallel"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// A whole burn is taken in at once where nobody waits for it: the likeliest world of all,
// and how far from it the others lie (iterated extended Kalman smoothing, which is
// Gauss and Newton's method on the logarithm of the posterior; Bell and Cathey 1993).
//
//	maximise  −½ (w − m)ᵀ P⁻¹ (w − m) + Σ log p(seen | w)
//
// with the prior's mean m and covariance P. The derivatives are differences of burns on
// both sides of a world. An ensemble of a hundred would show the same by its covariances,
// with an error of chance in each that twenty burns one after the other add up
// (Evensen 2009); two burns a number show it without.
const (
	mostRounds         = 6               // of the method: two or three suffice where little is new
	halvings           = 3               // of a step that makes it worse
	differ             = 0.6             // standard deviations on either side, from which the derivative is taken
	farthestStep       = 1.0             // of a round, in standard deviations of the prior
	seenWeight         = 0.6             // that what is seen is worth: what is wrong with a model is wrong all evening
	leastLeft          = 0.5             // of a number's variance, after one burn
	goodEnough         = 0.05            // that a round gains in the logarithm, under which it ends
	beginners, clearly = 20, 3.0         // worlds to begin from, and by how much one must be likelier
	sparseBy           = 3 * time.Minute // that two readings of a gauge lie apart
	uncertainty        = 1e-12           // of a number's variance, that counts as nothing
)

// A Fit is how well a burn was told by the world that tells it best.
type Fit struct {
	Readings int     // that were taken in
	Gained   float64 // in the logarithm, over the middle of the prior
	// Wetter is how much wetter the burn's wood was than was said, points of moisture, and
	// Give how far that may be off, as a standard deviation.
	Wetter, Give units.Fraction
}

// A Hindsight is what is believed of a burn that is over: of the stove, as the prior of
// the next burn, and of the evening itself.
type Hindsight struct {
	Prior
	Fit
	of gaussian
}

// Worlds are n of those in which the burn may have been, drawn evenly, in pairs on both
// sides of the likeliest.
func (h Hindsight) Worlds(n int) []World {
	out := make([]World, 0, n)
	for _, w := range h.of.draw(n, rand.New(rand.NewPCG(12, 1))) {
		out = append(out, World{w})
	}
	return out
}

// Likeliest is the world in which the burn most likely was.
func (h Hindsight) Likeliest() World { return World{append(world(nil), h.of.mean...)} }

// Smooth takes a whole burn in. One in which nothing was read or seen teaches nothing: what
// was believed before stays.
func Smooth(prior Prior, setup fire.Setup, doubt Doubt, record []Event) Hindsight {
	wider := 1.0
	if prior.Burns == 0 {
		wider = inflation
	}
	about := prior.gaussian(doubt, wider)
	s := smoother{setup: setup, record: sparse(record), about: &about}
	at, base := s.begin()
	fit := Fit{Readings: len(base)}
	if len(base) == 0 {
		return Hindsight{prior, fit, about}
	}
	first := s.worth(at, base, nil)
	at, base, worth := s.climb(at, base)
	fit.Gained = worth - first
	precision, _ := s.newton(at, base)
	fit.Wetter = units.Fraction(at[atWood])
	var chol mat.Cholesky
	var cov mat.SymDense
	if !chol.Factorize(precision) || chol.InverseTo(&cov) != nil {
		return Hindsight{prior, Fit{}, about}
	}
	fit.Give = units.Fraction(math.Sqrt(cov.At(atWood, atWood)))
	return Hindsight{posterior(prior, &about, at, &cov), fit, newGaussian(at, &cov)}
}

// climb goes from a world to the likeliest, and returns it with what is seen in it and its worth.
func (s *smoother) climb(at world, base []sighting) (world, []sighting, float64) {
	worth := s.worth(at, base, nil)
	for range mostRounds {
		var to world
		_, step := s.newton(at, base)
		moved := false
		// A step that makes it worse is halved: between a fire that takes and one that does not,
		// the slope is no guide.
		for half, share := 0, s.reach(step); half <= halvings; half, share = half+1, share/2 {
			to = make(world, numbers)
			for k := range to {
				to[k] = at[k] + share*step.AtVec(k)
			}
			// What a gauge may be off follows from what it should read; between two worlds that
			// are compared it stays as it was in the first.
			seen := s.burn(to)
			if w := s.worth(to, seen, base); w > worth {
				at, base, moved = to, seen, w > worth+goodEnough
				worth = s.worth(at, base, nil)
				break
			}
		}
		if !moved {
			break
		}
	}
	return at, base, worth
}

// begin is the world to set out from: the likeliest of some that are drawn, since a fire
// that nearly goes out and one that does have no slope between them.
func (s *smoother) begin() (world, []sighting) {
	worlds := append(s.about.draw(beginners, rand.New(rand.NewPCG(8, 1))), append(world(nil), s.about.mean...))
	seen, worths := make([][]sighting, len(worlds)), make([]float64, len(worlds))
	parallel.Aside(len(worlds), func(i int) {
		seen[i] = s.burn(worlds[i])
		worths[i] = s.worth(worlds[i], seen[i], nil)
	})
	best := len(worlds) - 1 // the middle, unless another is clearly better
	for i := range worlds {
		if worths[i] > worths[best]+clearly {
			best = i
		}
	}
	return worlds[best], seen[best]
}

// sparse is a record with a reading of each gauge every few minutes: what a gauge misses
// lasts, so that those between tell little and cost as much.
func sparse(record []Event) []Event {
	var last [misses]time.Duration
	out := make([]Event, 0, len(record))
	for _, e := range record {
		if e.Seen != nil && (e.Seen.Sight == Reading || e.Seen.Sight == Draft) {
			i, known := missOf[e.Seen.Place]
			if e.Seen.Sight == Draft {
				i, known = draftMiss, true
			}
			if !known || last[i] > 0 && e.At-last[i] < sparseBy {
				continue
			}
			last[i] = max(e.At, 1)
		}
		out = append(out, e)
	}
	return out
}

// posterior cuts the stove's numbers out of a burn's.
func posterior(prior Prior, about *gaussian, at world, cov *mat.SymDense) Prior {
	p, n := Usual(), len(unknowns)
	p.Burns = prior.Burns + 1
	copy(p.Mean, at[:n])
	// However sure a burn seems, it is one evening, with one way of being wrong: of the
	// variance that there was, a share is left.
	// And what it has told nothing of is as unsure as is usual, and no more.
	wider, usual := make([]float64, n), Usual()
	for i := range n {
		wider[i] = max(1, math.Sqrt(leastLeft*about.variance(i)/cov.At(i, i)))
		wider[i] = min(wider[i], math.Sqrt(usual.Covariance[i*n+i]/cov.At(i, i)))
	}
	for i := range n {
		for j := range n {
			p.Covariance[i*n+j] = wider[i] * wider[j] * cov.At(i, j)
		}
	}
	return p
}

// variance is that of one number.
func (g *gaussian) variance(k int) float64 {
	sum := 0.0
	for j := range k + 1 {
		sum += g.root.At(k, j) * g.root.At(k, j)
	}
	return sum
}

// A smoother takes one burn in.
type smoother struct {
	setup  fire.Setup
	record []Event
	about  *gaussian
	shift  world // of what is further off than chance has it; nil: nothing
}

// A sighting is one thing that was seen, as a world has it.
type sighting struct {
	gauge  int // of the misses; negative: by eye
	at     time.Duration
	lasts  time.Duration
	seen   float64
	would  float64
	sigma  float64
	colour string
}

// burn burns the record in a world and returns what would have been seen.
func (s *smoother) burn(w world) []sighting {
	w = s.shifted(w)
	f, loads, touched := w.fire(s.setup), 0, time.Duration(0)
	var last [misses]struct {
		at    time.Duration
		would float64
		seen  bool
	}
	out := make([]sighting, 0, len(s.record))
	for _, e := range s.record {
		f.BurnTo(e.At, touched)
		if e.Act != nil {
			f.Do(w.own(*e.Act, &loads))
			touched = e.At
			continue
		}
		x := sighting{at: e.At, seen: e.Seen.Value, gauge: -1, colour: e.Seen.Colour}
		switch e.Seen.Sight {
		case Reading:
			would, ok := f.Reading(e.Seen.Place)
			i, known := missOf[e.Seen.Place]
			if !ok || !known {
				continue
			}
			rate := 0.0
			if last[i].seen && e.At > last[i].at {
				rate = (would - last[i].would) / (e.At - last[i].at).Seconds()
			}
			last[i].at, last[i].would, last[i].seen = e.At, would, true
			x.gauge, x.would = i, would
			x.sigma, x.lasts = errorOf(e.Seen.Place, would, float64(f.Room()), rate)
		case Draft:
			x.gauge, x.would, x.sigma, x.lasts = draftMiss, float64(f.Draft()), draftError, errorLasts
		case Smoke:
			x.would = eyeSharp * math.Log(max(1e-6, f.Look().Dense))
		default:
			continue // the moment of a change says little of a whole burn
		}
		out = append(out, x)
	}
	return out
}

// terms are, for each sighting of a world, the residual that the method makes small, and
// how much it counts; sigmas come from another world where one is given. A gauge's misses
// follow each other, see [miss.log], and what is left after that is as good as
// independent. Seeing smoke or none is worth what a logistic regression gives it.
func terms(all, of []sighting) (residual, weight []float64, worth float64) {
	if of == nil {
		of = all
	}
	residual, weight = make([]float64, len(all)), make([]float64, len(all))
	var before [misses]struct {
		at   time.Duration
		by   float64
		seen bool
	}
	for i, x := range all {
		if x.gauge < 0 {
			grey := logistic(x.would)
			is := grey
			if x.colour != Grey {
				is = 1 - grey
			}
			slope := grey * (1 - grey)
			weight[i] = max(seenWeight*slope, 1e-3)
			residual[i] = seenWeight * (1 - is) / weight[i]
			if x.colour != Grey {
				residual[i] = -residual[i]
			}
			worth += seenWeight * math.Log(eyeErrs/3+(1-eyeErrs)*is)
			continue
		}
		m, keeps := &before[x.gauge], 0.0
		sigma := of[i].sigma
		by := (x.seen - x.would) / sigma
		if m.seen {
			keeps = fade(x.at-m.at, x.lasts)
		}
		spread := math.Sqrt(1 - keeps*keeps + readingOff*readingOff)
		z := (by - keeps*m.by) / spread
		m.at, m.by, m.seen = x.at, by, true
		residual[i], weight[i] = z, seenWeight*(heavyTailed+1)/(heavyTailed+z*z)
		worth += seenWeight * (studentLog(z, heavyTailed) - math.Log(spread*sigma))
	}
	return residual, weight, worth
}

// reach is the share of a step that goes as far as the derivatives may be trusted.
func (s *smoother) reach(step *mat.VecDense) float64 {
	var z mat.VecDense
	if z.SolveVec(&s.about.root, step) != nil {
		return 1
	}
	furthest := 0.0
	for k := range numbers {
		furthest = max(furthest, math.Abs(z.AtVec(k)))
	}
	return min(1, farthestStep/max(furthest, 1e-9))
}

func (s *smoother) worth(w world, seen, of []sighting) float64 {
	_, _, worth := terms(seen, of)
	return worth + s.about.log(w)
}

// newton returns the precision of the posterior about a world, and the step from there.
func (s *smoother) newton(at world, base []sighting) (*mat.SymDense, *mat.VecDense) {
	// Each number is varied by itself, on both sides, in a burn of its own: two burns a
	// number, which do not wait for each other.
	residual, weight, _ := terms(base, nil)
	slopes := make([][]float64, numbers) // of the residuals, negative, by each number
	parallel.Aside(numbers, func(k int) { slopes[k] = s.slope(at, base, k) })
	return s.solved(at, residual, weight, slopes)
}

// solved is the precision about a world and the step from there, by its residuals.
func (s *smoother) solved(at world, residual, weight []float64, slopes [][]float64) (*mat.SymDense, *mat.VecDense) {
	var inverse mat.SymDense
	if s.about.chol.InverseTo(&inverse) != nil {
		return &inverse, mat.NewVecDense(numbers, nil)
	}
	// Gauss and Newton: P⁻¹ + JᵀWJ and P⁻¹(m − w) + JᵀWr, with the residuals r, their weights
	// W and their slopes J, which are taken negative.
	precision, gradient := mat.NewSymDense(numbers, nil), mat.NewVecDense(numbers, nil)
	for k := range numbers {
		sum := 0.0
		for j := range numbers {
			sum -= inverse.At(k, j) * (at[j] - s.about.mean[j])
		}
		for i := range residual {
			sum += slopes[k][i] * weight[i] * residual[i]
		}
		gradient.SetVec(k, sum)
		for j := range k + 1 {
			x := inverse.At(k, j)
			for i := range residual {
				x += slopes[k][i] * weight[i] * slopes[j][i]
			}
			precision.SetSym(k, j, x)
		}
	}
	var chol mat.Cholesky
	step := mat.NewVecDense(numbers, nil)
	if !chol.Factorize(precision) || chol.SolveVecTo(step, gradient) != nil {
		return precision, mat.NewVecDense(numbers, nil)
	}
	return precision, step
}

// slope is how the residuals fall with one of the numbers.
func (s *smoother) slope(at world, base []sighting, k int) []float64 {
	out := make([]float64, len(base))
	row := s.about.variance(k)
	if row <= uncertainty || s.idle(k) {
		return out
	}
	h := differ * math.Sqrt(row)
	var side [2][]float64
	for i, sign := range []float64{-1, 1} {
		w := append(world(nil), at...)
		w[k] += sign * h
		seen := s.burn(w)
		side[i] = make([]float64, len(seen))
		for j, x := range seen {
			if x.gauge < 0 {
				side[i][j] = x.would
			}
		}
		r, _, _ := terms(seen, base)
		for j, x := range seen {
			if x.gauge >= 0 {
				side[i][j] = -r[j]
			}
		}
	}
	for j := range out {
		out[j] = (side[1][j] - side[0][j]) / (2 * h)
	}
	return out
}

// idle tells whether a number is of a gauge that the stove has not.
func (s *smoother) idle(k int) bool {
	if k >= len(unknowns) {
		return false
	}
	p, of := placesOf[unknowns[k].name]
	if !of {
		return false
	}
	_, there := s.setup.Stove.Gauge(p)
	return !there
}

// placesOf are the unknowns that are a gauge's error.
var placesOf = func() map[string]stove.Place {
	out := map[string]stove.Place{}
	for _, r := range stove.PlaceRows {
		if r.Number != "" {
			out[r.Number] = r.Place
		}
	}
	return out
}()

// ErrorOf names the unknown that is the error of a gauge; empty: none is.
func ErrorOf(p stove.Place) string { return p.Row().Number }
