package belief

import (
	"math"
	"math/rand/v2"
	"slices"
	"time"

	"gonum.org/v1/gonum/mat"
	"gonum.org/v1/gonum/stat"
	"gonum.org/v1/gonum/stat/distuv"

	"smolder/internal/core/parallel"
)

const (
	fewest      = 0.5   // of the members that carry the weight, under which they are renewed
	moves       = 2     // of each member in a renewal
	leastShare  = 0.02  // of a sight that is taken in at a time
	fewestMoves = 8     // at a reading, while any are owed
	stepsAtOnce = 60000 // of the simulation at a reading, for moves: some 70 ms of one core
	moveKeep    = 0.6   // share of where a member is, that a move keeps; 0.5 to 0.9
	// Of the covariances that an ensemble shows between its numbers, most are chance
	// where it is small against the square of how many there are.
	shrink = 0.5 // of what lies off the diagonal, that is taken for chance
	// The ensemble's own spread stands for the distribution that it is drawn from; it is
	// a little narrow.
	widen = 1.1
)

// renew resamples the members by what they are worth, and owes each some moves that
// leave what is believed as it is: see the package comment. Where a sight leaves hardly
// any member, it is taken in by shares of its weight (tempering), and the ensemble as it
// was after the first share tells where to move.
func (b *Belief) renew() {
	b.renewed++
	for done := 0.0; done < 1; {
		share := 1 - done
		if effective(softmax(b.members, share)) < fewest*Members {
			low, high := 0.0, share
			for range 20 {
				share = (low + high) / 2
				if effective(softmax(b.members, share)) < fewest*Members {
					high = share
				} else {
					low = share
				}
			}
			share = max(low, leastShare)
		}
		b.resample(softmax(b.members, share))
		if done == 0 {
			b.moveIn = b.around()
		}
		done += share
	}
	for _, m := range b.members {
		m.settled, m.pending = m.settled+m.pending, 0
	}
	b.settled = len(b.record)
	b.owed = moves * Members
}

// move moves the next members that are owed it, as many as the steps allow that it costs
// to burn the record again.
func (b *Belief) move(steps int) {
	n := min(b.owed, max(fewestMoves, steps/(1+int(b.now/step))))
	if n == 0 {
		return
	}
	seeds := make([]uint64, n)
	for i := range seeds {
		seeds[i] = b.random.Uint64()
	}
	first := moves*Members - b.owed
	parallel.InParallel(n, func(i int) { b.moveMember((first+i)%Members, rand.New(rand.NewPCG(seeds[i], uint64(i)))) })
	b.owed -= n
	b.burntAgain += n
}

// FinishMoves pays all moves that are owed.
func (b *Belief) FinishMoves() {
	for b.owed > 0 {
		b.move(math.MaxInt)
	}
}

// resample draws the members anew by weights, systematically: one draw, and then
// evenly.
func (b *Belief) resample(weights []float64) {
	next := make([]*member, 0, Members)
	at, sum := b.random.Float64()/Members, 0.0
	for i, w := range weights {
		sum += w
		for ; at < sum && len(next) < Members; at += 1.0 / Members {
			next = append(next, b.members[i].copy())
		}
	}
	for len(next) < Members { // rounding
		next = append(next, b.members[len(b.members)-1].copy())
	}
	b.members = next
	b.shuffleBeds()
}

// shuffleBeds draws how many coals there are anew, while nobody has looked: nothing else that is
// seen depends on it, so that this leaves what is believed as it is, and copies of one member
// do not all have the same.
func (b *Belief) shuffleBeds() {
	if slices.ContainsFunc(b.record, func(e Event) bool { return e.Seen != nil && e.Seen.Sight == CoalsLeft }) {
		return
	}
	for i, m := range b.members {
		// In even steps of the distribution, and dealt out in an order that has nothing to do with the members'.
		share := (float64((i*dealt)%Members) + 0.5) / Members
		m.world[atBed] = math.Log(bedUsual) + math.Log(bedSpread)*distuv.UnitNormal.Quantile(share)
	}
}

// dealt has no factor in common with [Members].
const dealt = 37

func (m *member) copy() *member {
	c := *m
	c.world, c.fire = slices.Clone(m.world), m.fire.Clone()
	return &c
}

// around is the ensemble's mean and covariance, as a distribution to move in.
func (b *Belief) around() gaussian {
	data := mat.NewDense(len(b.members), numbers, nil)
	mean := make([]float64, numbers)
	for i, m := range b.members {
		data.SetRow(i, m.world)
		for k, x := range m.world {
			mean[k] += x / float64(len(b.members))
		}
	}
	cov := mat.NewSymDense(numbers, nil)
	stat.CovarianceMatrix(cov, data, nil)
	for i := range numbers {
		for j := range i {
			cov.SetSym(i, j, cov.At(i, j)*(1-shrink)*widen)
		}
		cov.SetSym(i, i, cov.At(i, i)*widen+1e-10)
	}
	return newGaussian(mean, cov)
}

// move offers a member another world near its own, burns it there from the match, and
// lets it go there as often as what was seen until the renewal wants it; what was seen
// since weighs it anew.
func (b *Belief) moveMember(i int, random *rand.Rand) {
	m, in := b.members[i], &b.moveIn
	z := make([]float64, numbers)
	for k := range z {
		z[k] = random.NormFloat64()
	}
	offered := in.at(z)
	goes := math.Sqrt(1 - moveKeep*moveKeep)
	for k := range offered {
		offered[k] = in.mean[k] + moveKeep*(m.world[k]-in.mean[k]) + goes*(offered[k]-in.mean[k])
	}
	other := b.again(offered)
	worth := func(m *member) float64 { return b.about.log(m.world) - in.log(m.world) + m.settled }
	if math.Log(random.Float64()) < worth(other)-worth(m) {
		b.members[i] = other
	}
}

// again burns the record in another world. What was seen until the last renewal is
// told apart from what was seen since, as it is for all members.
func (b *Belief) again(w world) *member {
	m := &member{world: w, fire: w.fire(b.setup)}
	touched := time.Duration(0)
	for i, e := range b.record {
		m.take(e, touched)
		if e.Act != nil {
			touched = e.At
		}
		if i == b.settled-1 {
			m.settled, m.pending = m.pending, 0
		}
	}
	m.fire.BurnTo(b.now, touched)
	return m
}
