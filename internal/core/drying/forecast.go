package drying

import (
	"cmp"
	"math"
	"slices"
	"time"

	"smolder/internal/core/units"
	"smolder/internal/core/wood"
)

// Furthest is as far as a forecast goes.
const Furthest = 3 * 365 * 24 * time.Hour

// A Point is the moisture at a moment to come.
type Point struct {
	At       time.Time
	Moisture wood.Estimate
}

// Forecast is how it goes on, every ten days until a moment, not further than
// [Furthest]: usual weather, and of the years the spread.
func (b Belief) Forecast(until time.Time) []Point {
	course := b.course(until)
	out := make([]Point, len(course.at))
	u := make([]float64, len(b.members))
	for i, at := range course.at {
		for j := range u {
			u[j] = course.u[j][i]
		}
		out[i] = Point{at, b.quantiles(u)}
	}
	return out
}

// A course is every member's moisture at moments to come, the first of them now.
type course struct {
	at []time.Time
	u  [][]float64 // by member, by moment
}

func (b Belief) course(until time.Time) course {
	if until.Sub(b.at) > Furthest {
		until = b.at.Add(Furthest)
	}
	k, wetted := Rate(b.stack.Pieces, b.stack.Place), b.stack.wetted()
	ahead := steps(b.at, until, stepDays)
	c := course{at: []time.Time{b.at}, u: make([][]float64, len(b.members))}
	for _, s := range ahead {
		c.at = append(c.at, c.at[len(c.at)-1].Add(time.Duration(s.days*24*float64(time.Hour))))
	}
	for i, m := range b.members {
		u, own := make([]float64, 1, len(c.at)), k*math.Exp(m.z)
		u[0] = m.u
		weather := b.air().year(m.warmer, m.damper)
		for _, s := range ahead {
			u = append(u, weather.dry(u[len(u)-1], m.site, own, wetted, s))
		}
		c.u[i] = u
	}
	return c
}

// A Date is when a stack comes to a moisture: the range that four out of five
// lie in, zero where it lies beyond [Furthest], and the share of all it may be
// that come to it by then.
type Date struct {
	Early, Likely, Late time.Time
	Share               float64
}

// Wide is how far early and late lie apart; further than any where late is not
// known.
func (d Date) Wide() time.Duration {
	if d.Late.IsZero() {
		return Furthest
	}
	return d.Late.Sub(d.Early)
}

// Ready is when it comes down to a moisture.
func (b Belief) Ready(target units.Fraction) Date {
	return b.date(b.readyIn(target), b.weights())
}

// readyIn is each member's days until it comes down to a moisture; infinite where
// it does not.
func (b Belief) readyIn(target units.Fraction) []float64 {
	c := b.course(b.at.Add(Furthest))
	out := make([]float64, len(b.members))
	for i, u := range c.u {
		out[i] = math.Inf(1)
		for j, now := range u {
			if now > float64(target) {
				continue
			}
			if out[i] = 0; j > 0 { // on the way between two steps, by a straight line
				back := (float64(target) - now) / (u[j-1] - now)
				out[i] = c.at[j].Sub(b.at).Hours()/24 - back*c.at[j].Sub(c.at[j-1]).Hours()/24
			}
			break
		}
	}
	return out
}

func (b Belief) weights() []float64 {
	out := make([]float64, len(b.members))
	for i, m := range b.members {
		out[i] = m.weight
	}
	return out
}

func (b Belief) date(days, weights []float64) Date {
	pairs, d, whole := make([]weighed, len(days)), Date{}, 0.0
	for i := range days {
		pairs[i] = weighed{days[i], weights[i]}
		if whole += weights[i]; !math.IsInf(days[i], 1) {
			d.Share += weights[i]
		}
	}
	d.Share /= whole
	moments := []*time.Time{&d.Early, &d.Likely, &d.Late}
	for i, q := range quantiles(pairs, 0.1, 0.5, 0.9) {
		if !math.IsInf(q, 1) && !math.IsNaN(q) {
			*moments[i] = b.at.Add(time.Duration(q * 24 * float64(time.Hour)))
		}
	}
	return d
}

// After is what a reading of some pieces at a moment to come would leave of the
// width of the ready date, as a share: 0.5 halves it. Nobody knows yet what it
// will read, so it is read of many that the stack may be, and the mean taken. ok
// is false where there is no width to lessen.
func (b Belief) After(at time.Time, pieces int, target units.Fraction) (share float64, ok bool) {
	days, weights := b.readyIn(target), b.weights()
	before := b.date(days, weights)
	if before.Early.IsZero() || before.Wide() <= 0 || !at.After(b.at) {
		return 1, false
	}
	then := b.course(at)
	read := make([]float64, len(b.members))
	order := make([]int, len(b.members))
	for i, u := range then.u {
		read[i], order[i] = u[len(u)-1], i
	}
	slices.SortFunc(order, func(i, j int) int { return cmp.Compare(read[i], read[j]) })
	// Nine members that stand for all: each ninth of the weight, from the driest to the
	// wettest, is what the stack turns out to be once, and all are weighed anew by it.
	const truths = 9
	sum, passed, next, n := 0.0, 0.0, 0, 0
	again := make([]float64, len(weights))
	for _, i := range order {
		if passed += weights[i]; next == truths || passed < (float64(next)+0.5)/truths {
			continue
		}
		next++
		doubt := Reading{Mean: units.Fraction(read[i]), Pieces: max(1, pieces)}.doubt()
		for j := range again {
			again[j] = weights[j] * math.Exp(-square((read[j]-read[i])/doubt)/2)
		}
		sum += float64(b.date(days, again).Wide())
		n++
	}
	return math.Min(1, sum/float64(n)/float64(before.Wide())), true
}

// Changed is the same stack as it would be from now on with other pieces or
// another place: what sets it apart from others stays with it.
func (b Belief) Changed(p Pieces, l Place) Belief {
	b.stack.Pieces, b.stack.Place = p, l
	b.stack.Readings = nil
	return b
}

// Indoors is the moisture of pieces that were brought indoors with a moisture, some days
// later: usual wood of its kind in the air of a room with a stove.
func Indoors(u units.Fraction, p Pieces, days float64) units.Fraction {
	if p.wrapped() || days <= 0 {
		return u
	}
	in := heated.year(0, 0)
	return units.Fraction(in.dry(float64(u), 0, Rate(p, Place{Cover: wood.Inside, Wind: 0.5}), 0, step{days, time.January}))
}
