package drying

import (
	"cmp"
	"math"
	"slices"
	"time"

	"smolder/internal/core/units"
	"smolder/internal/core/wood"
)

// A Stack is what is told of one.
type Stack struct {
	Pieces   Pieces
	Place    Place
	Since    time.Time // split, or felled where it is round
	Readings []Reading // in any order; those from before Since are left out
}

// A Belief is a stack as several hundred that it may be, each with its weight.
type Belief struct {
	stack   Stack
	climate Climate
	at      time.Time
	members []member
}

// A member is one stack that this one may be.
type member struct {
	z, green float64 // ln k away from the usual; moisture when fresh
	warmer   float64 // years to come, K
	damper   float64 // likewise, of relative humidity
	weight   float64
	u        float64 // at the belief's moment
}

// The members stand on a grid of ln k and fresh moisture, that is laid once over
// all that is possible and once more over what the readings leave.
const (
	gridRates  = 33
	gridGreens = 9
	gridWide   = 3.0 // standard deviations on either side
	leastGrid  = 0.02
	longest    = 20 * 365 * 24 * time.Hour // a stack that lies longer has forgotten its beginning
)

// Believe is what is known of a stack at a moment, from what was told until then.
func Believe(s Stack, c Climate, at time.Time) Belief {
	if at.Sub(s.Since) > longest {
		s.Since = at.Add(-longest)
	}
	s.Readings = slices.DeleteFunc(slices.Clone(s.Readings), func(r Reading) bool { return r.At.Before(s.Since) || r.At.After(at) || r.Pieces < 1 })
	slices.SortStableFunc(s.Readings, func(a, b Reading) int { return a.At.Compare(b.At) })
	b := Belief{stack: s, climate: c, at: at}
	green, doubt := float64(wood.Green(s.Pieces.Species)), rateDoubt
	if s.Place.Cover == "" {
		doubt = math.Hypot(rateDoubt, coverDoubt)
	}
	prior := grid{0, doubt, green, green * greenDoubt}
	b.lay(prior, prior)
	if len(s.Readings) > 0 {
		b.lay(b.left(), prior)
	}
	return b
}

// air is the weather where the stack lies.
func (b *Belief) air() Climate {
	if b.stack.Place.Cover == wood.Inside {
		return heated
	}
	return b.climate
}

// A grid is where members stand: around a middle, so wide.
type grid struct{ z, zWide, green, greenWide float64 }

// lay puts the members on a grid and weighs them by the prior and the readings.
func (b *Belief) lay(over, prior grid) {
	b.members = b.members[:0]
	k, wetted := Rate(b.stack.Pieces, b.stack.Place), rained[b.stack.Place.cover()]
	var stretches [][]step
	from := b.stack.Since
	for _, r := range b.stack.Readings {
		stretches, from = append(stretches, steps(from, r.At)), r.At
	}
	stretches = append(stretches, steps(from, b.at))
	usual := b.air().year(0, 0)
	logs, best := make([]float64, 0, gridRates*gridGreens), math.Inf(-1)
	for i := range gridRates {
		for j := range gridGreens {
			n := len(b.members)
			m := member{
				z:      over.z + over.zWide*gridWide*along(i, gridRates),
				green:  math.Max(0.05, over.green+over.greenWide*gridWide*along(j, gridGreens)),
				warmer: b.air().AirDoubt * normal(n, 2), damper: b.air().HumidityDoubt * normal(n, 5),
			}
			l := -square((m.z-prior.z)/prior.zWide)/2 - square((m.green-prior.green)/prior.greenWide)/2
			m.u = m.green
			own := k * math.Exp(m.z)
			for s, stretch := range stretches {
				for _, step := range stretch {
					m.u = usual.dry(m.u, own, wetted, step)
				}
				if s < len(b.stack.Readings) {
					r := b.stack.Readings[s]
					l -= square((float64(r.Mean)-m.u)/r.doubt()) / 2
				}
			}
			b.members, logs, best = append(b.members, m), append(logs, l), math.Max(best, l)
		}
	}
	sum := 0.0
	for i := range logs {
		b.members[i].weight = math.Exp(logs[i] - best)
		sum += b.members[i].weight
	}
	for i := range b.members {
		b.members[i].weight /= sum
	}
}

// left is the grid over what the readings leave.
func (b *Belief) left() grid {
	var g grid
	for _, m := range b.members {
		g.z += m.weight * m.z
		g.green += m.weight * m.green
	}
	for _, m := range b.members {
		g.zWide += m.weight * square(m.z-g.z)
		g.greenWide += m.weight * square(m.green-g.green)
	}
	g.zWide, g.greenWide = math.Max(leastGrid, math.Sqrt(g.zWide)), math.Max(leastGrid*g.green, math.Sqrt(g.greenWide))
	return g
}

// doubt is how far a reading's mean may be from the stack's.
func (r Reading) doubt() float64 {
	apart := float64(r.Spread)
	if apart <= 0 {
		apart = piecesApart
	}
	return math.Hypot(meterDoubt, apart/math.Sqrt(float64(r.Pieces)))
}

// along is from −1 to 1 over n places.
func along(i, n int) float64 { return 2*float64(i)/float64(n-1) - 1 }

func square(x float64) float64 { return x * x }

// normal is the i-th of evenly spread standard normals (Halton's sequence in a
// base, through the inverse error function): the years to come, of which no two
// members see the same.
func normal(i, base int) float64 {
	x, f := 0.0, 1.0
	for n := i + 1; n > 0; n /= base {
		f /= float64(base)
		x += f * float64(n%base)
	}
	return math.Sqrt2 * math.Erfinv(2*x-1)
}

// Moisture is what it is now.
func (b Belief) Moisture() wood.Estimate {
	return b.estimate(func(m member) float64 { return m.u })
}

func (b Belief) estimate(of func(member) float64) wood.Estimate {
	pairs := make([]weighed, len(b.members))
	for i, m := range b.members {
		pairs[i] = weighed{of(m), m.weight}
	}
	q := quantiles(pairs, 0.1, 0.5, 0.9)
	return wood.Estimate{Low: units.Fraction(q[0]), Middle: units.Fraction(q[1]), High: units.Fraction(q[2])}
}

type weighed struct{ value, weight float64 }

// quantiles are of weighted values, between them by straight lines; pairs are
// sorted on the way.
func quantiles(pairs []weighed, at ...float64) []float64 {
	slices.SortFunc(pairs, func(a, b weighed) int { return cmp.Compare(a.value, b.value) })
	whole := 0.0
	for _, p := range pairs {
		whole += p.weight
	}
	out := make([]float64, len(at))
	for i, share := range at {
		sum := 0.0
		for j, p := range pairs {
			middle := sum + p.weight/2
			if out[i] = p.value; middle >= share*whole {
				if j > 0 && !math.IsInf(p.value, 0) {
					before := sum - pairs[j-1].weight/2
					out[i] = p.value + (pairs[j-1].value-p.value)*(middle-share*whole)/(middle-before)
				}
				break
			}
			sum += p.weight
		}
	}
	return out
}
