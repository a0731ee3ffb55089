package wood

import (
	"math"

	"smolder/internal/core/units"
)

// What is logged as burnt is never quite what was burnt: pieces are taken for
// usual ones that are not, a log is put on and forgotten. Two counts of the same
// stack with the loads logged between them show by how much.

// A Recount is a stack counted twice, and what was logged between: all oven-dry.
// What both counts take for too much, its air and its density, puts the
// difference off by its share; what one of them does, by its share of the whole.
type Recount struct {
	Before, After Amount
	Logged, Added units.Kilogram // as taken from the stack, and as put on it
}

// Unlogged is how much more is burnt than is logged, as a factor of what is
// logged, with the range that four out of five lie in: 1.08 is eight in a hundred
// more.
type Unlogged struct {
	Low, Middle, High float64
	Recounts          int // that taught it
}

// habitDoubt is how far households are off before anything is known of one, as a
// standard deviation of the factor.
const habitDoubt = 0.15

// leastDoubt is of any two counts, kg: a piece more or less.
const leastDoubt = 1.0

// Known tells whether the difference is more than the counting itself.
func (u Unlogged) Known() bool { return u.Recounts > 0 && (u.Low > 1 || u.High < 1) }

// UnloggedBy is what recounts say of a household: a normal belief about the
// factor, around 1 before the first, that every recount moves by its weight.
// Recounts between which nothing was logged say nothing of it and are left out.
func UnloggedBy(recounts []Recount) Unlogged {
	weight, mean := 1/(habitDoubt*habitDoubt), 1.0
	n := 0
	for _, r := range recounts {
		if r.Logged <= 0 {
			continue
		}
		before, after, logged := float64(r.Before.Middle), float64(r.After.Middle), float64(r.Logged)
		gone := before + float64(r.Added) - after
		doubt := math.Hypot(r.Before.Own*before, r.After.Own*after)
		doubt = math.Hypot(doubt, math.Max(r.Before.Same, r.After.Same)*logged)
		w := logged * logged / math.Max(doubt*doubt, leastDoubt*leastDoubt)
		mean, weight = (mean*weight+gone/logged*w)/(weight+w), weight+w
		n++
	}
	half := tenthAway / math.Sqrt(weight)
	return Unlogged{max(0, mean-half), max(0, mean), mean + half, n}
}
