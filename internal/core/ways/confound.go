package ways

import (
	"cmp"
	"math"
	"slices"

	"smolder/internal/core/season"
)

// A Trait is what else two ways may differ in: where it goes with them, what looks like the
// one may be the other.
type Trait string

// The traits.
const (
	ByHours   Trait = "night"   // lit for the night
	ByKind    Trait = "kind"    // the commonest wood of the first way
	ByStart   Trait = "cold"    // lit cold, and not on coals
	ByOutdoor Trait = "outdoor" // °C
	ByWater   Trait = "water"   // moisture, dry basis
	ByLoad    Trait = "load"    // kg put on
	ByTime    Trait = "time"    // one was done before the other; days
)

// A Confound is a trait that goes with the ways.
type Confound struct {
	Trait  Trait
	Kind   string     // of [ByKind]: the species
	Shares [2]float64 // of the burns of each way that have it; medians of what is a number
	Number bool
	Whole  bool // it differs between any two burns of the two ways
}

// How much a trait goes with the ways before it is told: the shares lie so far apart, or of
// two burns, one of each way, the same one has more of it in so many cases (Cliff's delta).
const (
	sharesApart = 0.5
	deltaApart  = 0.6
)

// Confounds are the traits that go with the ways of a question, over all its burns.
func Confounds(q Question, burns []Burn) []Confound {
	var a, b []Burn
	for _, x := range burns {
		switch WayIn(q.Subject, x.Way) {
		case q.A:
			a = append(a, x)
		case q.B:
			b = append(b, x)
		}
	}
	return confounds(q, "", a, b)
}

// confounds are those of the burns of both ways; of the figure itself nothing is said.
func confounds(q Question, f Figure, a, b []Burn) (out []Confound) {
	if len(a) < Fewest || len(b) < Fewest {
		return nil
	}
	has := func(t Trait, kind string, is func(Burn) bool) {
		c := Confound{Trait: t, Kind: kind}
		for i, side := range [][]Burn{a, b} {
			for _, x := range side {
				if is(x) {
					c.Shares[i] += 1 / float64(len(side))
				}
			}
		}
		if apart := math.Abs(c.Shares[0] - c.Shares[1]); apart >= sharesApart {
			c.Whole = apart > 1-1e-9
			out = append(out, c)
		}
	}
	more := func(t Trait, of func(Burn) float64) {
		x, y := make([]float64, len(a)), make([]float64, len(b))
		for i := range a {
			x[i] = of(a[i])
		}
		for i := range b {
			y[i] = of(b[i])
		}
		if d := delta(x, y); math.Abs(d) >= deltaApart {
			out = append(out, Confound{Trait: t, Number: true, Shares: [2]float64{Median(x), Median(y)}, Whole: math.Abs(d) > 1-1e-9})
		}
	}
	has(ByHours, "", func(x Burn) bool { return !x.Lit.IsZero() && season.HoursAt(x.Lit) == season.Night })
	if q.Subject != Wood {
		kind := commonest(a)
		has(ByKind, kind, func(x Burn) bool { return x.Way.Species == kind })
	}
	if q.Subject != Lay && q.Subject != Door && f != Early { // of those all are lit cold
		has(ByStart, "", func(x Burn) bool { return x.Way.Cold })
	}
	more(ByOutdoor, func(x Burn) float64 { return float64(x.Outdoor) })
	if q.Subject != Dryness {
		more(ByWater, func(x Burn) float64 { return float64(x.Way.Moisture) })
	}
	if f != Used {
		more(ByLoad, func(x Burn) float64 { return float64(x.Review.Used) })
	}
	more(ByTime, func(x Burn) float64 { return float64(x.Lit.Unix()) / 86400 })
	return out
}

// commonest is the species that most of the burns are of.
func commonest(burns []Burn) string {
	count := map[string]int{}
	for _, b := range burns {
		count[b.Way.Species]++
	}
	keys := make([]string, 0, len(count))
	for k := range count {
		keys = append(keys, k)
	}
	if len(keys) == 0 {
		return ""
	}
	return slices.MaxFunc(keys, func(a, b string) int { return cmp.Or(cmp.Compare(count[a], count[b]), cmp.Compare(b, a)) })
}

// delta is how much oftener y is more than x than less, of all pairs: −1 to 1 (Cliff 1993).
func delta(x, y []float64) float64 {
	sum := 0
	for _, a := range x {
		for _, b := range y {
			sum += cmp.Compare(b, a)
		}
	}
	return float64(sum) / float64(len(x)*len(y))
}
