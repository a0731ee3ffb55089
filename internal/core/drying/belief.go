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
	Since    time.Time // split, or felled where it is round; zero: nobody said, and it begins with the first reading
	Dead     bool      // the tree stood dead for years before it was felled
	Readings []Reading // in any order; those from before Since are left out

	read bool // its beginning is a reading
}

// standingDead is the moisture of a tree that stood dead for years, of dry wood, and how
// far off it may be: dry at its top, wet at its foot.
const standingDead, standingDoubt = 0.30, 0.08

// pressedDoubt is how far off pressed logs are in their wrap.
const pressedDoubt = 0.008

// began is the stack with a beginning where nobody told one: its first reading, of
// wood that was then as wet as it read.
func (s Stack) began(at time.Time) (_ Stack, first grid) {
	first = grid{green: float64(wood.Green(s.Pieces.Species))}
	first.greenWide = first.green * greenDoubt
	switch {
	case s.Pieces.wrapped() && len(s.Readings) == 0:
		first.greenWide = pressedDoubt
		if s.Since.IsZero() {
			s.Since = at
		}
	case s.Dead && !s.Since.IsZero():
		first.green, first.greenWide = standingDead, standingDoubt
	case !s.Since.IsZero():
	case len(s.Readings) == 0 && s.Dead:
		s.Since, first.green, first.greenWide = at, standingDead, standingDoubt
	case len(s.Readings) == 0:
		s.Since, first.green, first.greenWide = at, Untold, UntoldDoubt
	default:
		r := s.Readings[0]
		s.read = true
		s.Since, s.Readings = r.At, s.Readings[1:]
		first.green, first.greenWide = float64(r.Mean), r.doubt()
	}
	if remembers := s.remembers(); at.Sub(s.Since) > remembers {
		s.Since = at.Add(-remembers)
		s.Readings = slices.DeleteFunc(slices.Clone(s.Readings), func(r Reading) bool { return r.At.Before(s.Since) })
	}
	return s, first
}

// remembers is how long a stack remembers how wet it was: until of that, in the slowest
// stack that it may be, less than one part in a hundred and fifty is left.
func (s Stack) remembers() time.Duration {
	const slowest, gone, cool = 0.3, 5.0, 0.7 // of k; in exponents; of k through a usual year
	k := Rate(s.Pieces, s.Place) * slowest * cool
	if k <= 0 {
		return longest
	}
	return min(longest, time.Duration(gone/k*24*float64(time.Hour)))
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
	site     float64 // how much wetter the air at this very place keeps wood than usual, of dry wood
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

// Untold is taken for wood of which nobody knows anything, of dry wood: found, given, or
// sold as dry. UntoldDoubt is its standard deviation: between dry and fresh.
const Untold, UntoldDoubt = 0.28, 0.09

// Believe is what is known of a stack at a moment, from what was told until then.
func Believe(s Stack, c Climate, at time.Time) Belief {
	s.Readings = slices.DeleteFunc(slices.Clone(s.Readings), func(r Reading) bool {
		return r.At.Before(s.Since) || r.At.After(at) || r.Pieces < 1
	})
	slices.SortStableFunc(s.Readings, func(a, b Reading) int { return a.At.Compare(b.At) })
	s, prior := s.began(at)
	b := Belief{stack: s, climate: c, at: at}
	if prior.zWide = rateDoubt; s.Place.Cover == "" {
		prior.zWide = math.Hypot(rateDoubt, coverDoubt)
	}
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
//
// Every member is dried from its beginning to now through usual weather, and stops at each
// reading on its way: the further what it is then from what was read, measured in what the
// reading may be off, the less it weighs. Weights are gathered as logarithms and taken
// against the best, so that twenty readings do not make them all zero.
//
// Years to come, and how damp the air is at this very place, are not on the grid: each
// member draws its own from sequences in bases that have no common factor, so that they
// are spread evenly and belong to no rate and no fresh moisture.
func (b *Belief) lay(over, prior grid) {
	b.members = b.members[:0]
	k, wetted := Rate(b.stack.Pieces, b.stack.Place), b.stack.wetted()
	var stretches [][]step
	from := b.stack.Since
	for _, r := range b.stack.Readings {
		stretches, from = append(stretches, b.past(from, r.At)), r.At
	}
	stretches = append(stretches, b.past(from, b.at))
	usual := b.air().year(0, 0)
	logs, best := make([]float64, 0, gridRates*gridGreens), math.Inf(-1)
	doubts := make([]float64, len(b.stack.Readings))
	for i, r := range b.stack.Readings {
		doubts[i] = r.doubt()
	}
	for i := range gridRates {
		for j := range gridGreens {
			n := len(b.members)
			m := member{
				z:      over.z + over.zWide*gridWide*along(i, gridRates),
				green:  math.Max(0.05, over.green+over.greenWide*gridWide*along(j, gridGreens)),
				warmer: b.air().AirDoubt * normal(n, 2), damper: b.air().HumidityDoubt * normal(n, 5), site: siteDoubt * normal(n, 7),
			}
			l := -square((m.z-prior.z)/prior.zWide)/2 - square((m.green-prior.green)/prior.greenWide)/2
			m.u = m.green
			own := k * math.Exp(m.z)
			for s, stretch := range stretches {
				for _, step := range stretch {
					m.u = usual.dry(m.u, m.site, own, wetted, step)
				}
				if s < len(b.stack.Readings) {
					r := b.stack.Readings[s]
					l -= square((float64(r.Mean)-m.u)/doubts[s]) / 2
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

// past are the steps of time that is gone by: what is long ago is walked in longer ones,
// for of its weather only the mean is left.
func (b *Belief) past(from, to time.Time) []step {
	old := b.at.Add(-longAgo)
	if !from.Before(old) {
		return steps(from, to, stepDays)
	}
	if to.Before(old) {
		return steps(from, to, longStep)
	}
	return append(steps(from, old, longStep), steps(old, to, stepDays)...)
}

// left is the grid over what the readings leave: as wide as the weights are, and never so
// narrow that all members are one.
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
	return math.Hypot(r.meter(), apart/math.Sqrt(float64(r.Pieces)))
}

// wetFrom is what a meter reads in wood whose fibres are nearly full: from there on it
// tells less and less, and a little later hardly more than that the wood is wet.
const wetFrom, wetWhole = 0.27, 0.31

// meter is how far off the meter itself is at what it reads.
func (r Reading) meter() float64 {
	wet := math.Max(0, math.Min(1, (float64(r.Mean)-wetFrom)/(wetWhole-wetFrom)))
	return math.Hypot(meterDoubt, wet*wetMeter*float64(r.Mean))
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

// Moisture is what it is now. Where nobody has read it, it is no better known than wood is
// whose time and cover are told: a sheet leaks, a row stands against a wall.
func (b Belief) Moisture() wood.Estimate {
	e := b.estimate(func(m member) float64 { return m.u })
	if len(b.stack.Readings) > 0 || b.stack.read || b.stack.Pieces.wrapped() {
		return e
	}
	wider := func(side units.Fraction) units.Fraction {
		return units.Fraction(math.Hypot(float64(side), tenthAway*unreadDoubt))
	}
	return wood.Estimate{Low: max(leastUnread, e.Middle-wider(e.Middle-e.Low)), Middle: e.Middle, High: e.Middle + wider(e.High-e.Middle)}
}

// tenthAway is where a tenth lies beyond, in standard deviations; leastUnread the driest
// that wood outdoors is taken for unread.
const tenthAway, leastUnread = 1.2816, 0.06

// Past is how it came to be as it is, from its beginning to now: the members that the
// readings leave, walked through usual weather.
func (b Belief) Past() []Point {
	k, wetted, usual := Rate(b.stack.Pieces, b.stack.Place), b.stack.wetted(), b.air().year(0, 0)
	walked := b.past(b.stack.Since, b.at)
	u := make([]float64, len(b.members))
	for i, m := range b.members {
		u[i] = m.green
	}
	at := b.stack.Since
	out := []Point{{at, b.quantiles(u)}}
	for _, s := range walked {
		for i, m := range b.members {
			u[i] = usual.dry(u[i], m.site, k*math.Exp(m.z), wetted, s)
		}
		at = at.Add(time.Duration(s.days * 24 * float64(time.Hour)))
		out = append(out, Point{at, b.quantiles(u)})
	}
	return out
}

// Began is when it was split, as told or as taken.
func (b Belief) Began() time.Time { return b.stack.Since }

// quantiles are those of a moisture of each member.
func (b Belief) quantiles(u []float64) wood.Estimate {
	pairs := make([]weighed, len(u))
	for i := range u {
		pairs[i] = weighed{u[i], b.members[i].weight}
	}
	q := quantiles(pairs, 0.1, 0.5, 0.9)
	return wood.Estimate{Low: units.Fraction(q[0]), Middle: units.Fraction(q[1]), High: units.Fraction(q[2])}
}

func (b Belief) estimate(of func(member) float64) wood.Estimate {
	u := make([]float64, len(b.members))
	for i, m := range b.members {
		u[i] = of(m)
	}
	return b.quantiles(u)
}

type weighed struct{ value, weight float64 }

// quantiles are of weighted values, between them by straight lines; pairs are
// sorted on the way. Each value stands in the middle of its own weight, so that of equal
// weights the middle one is the median. An infinite value is given as it is: between it
// and another there is no line.
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
