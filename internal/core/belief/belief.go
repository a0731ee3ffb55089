// Package belief is what is believed of a fire: never one simulation, but an
// ensemble of them that differ in what nobody knows.
//
// Nobody knows a stove's leak, the true opening behind a lever's mark, the error of
// a gauge, or how wet tonight's pieces are inside. Each [Belief] holds [Members]
// fires, every one a possible stove with possible wood, weighted by how well it
// foretold what has been seen. Acts are done to all of them; a reading, the colour
// of the smoke, "the flames are gone" change their weights. From where they stand
// they burn on, and their spread is the forecast.
//
// Within one burn the unknown numbers do not change, so that what is asked for is
// the distribution of those numbers given all that was seen (iterated batch
// importance sampling, Chopin 2002): when few members would carry the weight, they
// are resampled, and each is moved by a step that leaves that distribution as it is
// (preconditioned Crank–Nicolson about the ensemble's own mean and covariance, Cotter
// et al. 2013) and burnt again from the match. So no two are alike, and each has the
// past that follows from its numbers.
//
// A member is never right: what its gauges miss follows a process of its own
// ([modelError], [errorLasts]), which the weights reckon with and the forecast
// carries on.
//
// A [Prior] comes in and a posterior goes out, both plain numbers with a version. The
// same record gives the same belief.
package belief

import (
	"cmp"
	"math"
	"math/rand/v2"
	"slices"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/parallel"
)

// Members is how many fires a belief holds.
const Members = 96

// step is the step of the members' simulation.
const step = 8 * time.Second

// A Belief is the ensemble at a moment of a burn. It is not safe for concurrent use.
type Belief struct {
	setup   fire.Setup
	doubt   Doubt
	about   gaussian // before anything was seen
	members []*member
	record  []Event
	now     time.Duration
	touched time.Duration
	wide    widths
	settled int // of the record, that was seen when the members were last renewed
	source  *rand.PCG
	random  *rand.Rand // of the source

	renewed, owed, burntAgain int // renewals; moves that members are still owed, and that they were paid
	moveIn                    gaussian
}

// member is one of the fires.
type member struct {
	world   world
	fire    *fire.Fire
	loads   int
	settled float64 // log likelihood of what was seen until the last renewal
	pending float64 // of what was seen since: its weight
	misses  [misses]miss
}

// An Event is something that was done or seen, at a time since the start.
type Event struct {
	At   time.Duration
	Act  *fire.Act
	Seen *Seen
}

// New returns the belief before the first match.
func New(prior Prior, setup fire.Setup, doubt Doubt) *Belief {
	b := &Belief{setup: setup, doubt: doubt, about: prior.gaussian(doubt, prior.wider()), source: rand.NewPCG(1, 2)}
	b.random = rand.New(b.source)
	for _, w := range b.about.draw(Members, b.random) {
		b.members = append(b.members, &member{world: w, fire: w.fire(setup)})
	}
	return b
}

// Clone is the same belief once more, which goes its own way from here.
func (b *Belief) Clone() *Belief {
	c := *b
	c.record, c.members = slices.Clone(b.record), make([]*member, len(b.members))
	for i, m := range b.members {
		c.members[i] = m.copy()
	}
	source := *b.source
	c.source, c.random = &source, rand.New(&source)
	return &c
}

// Record is what the belief has taken in.
func (b *Belief) Record() []Event { return b.record }

// Now is the moment at which the belief stands, since the start.
func (b *Belief) Now() time.Duration { return b.now }

// Renewed is how many times the ensemble was renewed.
func (b *Belief) Renewed() int { return b.renewed }

// Take takes in what was done or seen. Events come in the order of time; one that is
// earlier than those before counts as of now.
func (b *Belief) Take(e Event) {
	e.At = max(e.At, b.now)
	b.record = append(b.record, e)
	if e.Seen != nil && e.Seen.Sight == Reading {
		b.Until(e.At)
		b.foretold(e)
	}
	parallel.InParallel(len(b.members), func(i int) { b.members[i].take(e, b.touched) })
	b.now = e.At
	if e.Act != nil {
		b.touched = e.At
	}
	if e.Seen != nil && b.carry() < fewest*Members {
		b.renew()
	}
	b.move(stepsAtOnce)
}

// Until lets the belief burn to a moment at which nothing is seen.
func (b *Belief) Until(at time.Duration) {
	if at > b.now {
		parallel.InParallel(len(b.members), func(i int) { b.members[i].fire.BurnTo(at, b.touched) })
		b.now = at
	}
}

// take burns a member to an event and lets it happen.
func (m *member) take(e Event, touched time.Duration) {
	m.fire.BurnTo(e.At, touched)
	switch {
	case e.Act != nil:
		m.fire.Do(m.world.own(*e.Act, &m.loads))
	case e.Seen != nil:
		m.pending += m.likely(e.At, *e.Seen)
	}
}

// weights are the members', adding up to one.
func (b *Belief) weights() []float64 { return softmax(b.members, 1) }

// softmax are weights by a share of what is pending.
func softmax(members []*member, share float64) []float64 {
	most := math.Inf(-1)
	for _, m := range members {
		most = max(most, m.pending)
	}
	out, sum := make([]float64, len(members)), 0.0
	for i, m := range members {
		out[i] = math.Exp(share * (m.pending - most))
		sum += out[i]
	}
	for i := range out {
		out[i] /= sum
	}
	return out
}

// effective is how many members carry the weight (Kish).
func effective(weights []float64) float64 {
	sum := 0.0
	for _, w := range weights {
		sum += w * w
	}
	return 1 / sum
}

func (b *Belief) carry() float64 { return effective(b.weights()) }

// Tunings are the members' stoves with their weights, for whoever looks at them.
func (b *Belief) Tunings() ([]fire.Tuning, []float64) {
	out := make([]fire.Tuning, len(b.members))
	for i, m := range b.members {
		out[i] = m.world.tuning()
	}
	return out, b.weights()
}

// threeOf are the tenth, the middle and the ninetieth in a hundred of values with
// weights that add up to one; at has the length of the values.
func threeOf(values, weights []float64, at []int) (low, middle, high float64) {
	for i := range at {
		at[i] = i
	}
	slices.SortFunc(at, func(i, j int) int { return cmp.Or(cmp.Compare(values[i], values[j]), i-j) })
	// Each value stands in the middle of its weight; between two it goes evenly.
	find := func(share float64) float64 {
		below, last, lastAt := 0.0, values[at[0]], 0.0
		for _, i := range at {
			if here := below + weights[i]/2; here >= share {
				if here <= lastAt {
					return values[i]
				}
				return last + (values[i]-last)*clamp((share-lastAt)/(here-lastAt), 0, 1)
			}
			last, lastAt = values[i], below+weights[i]/2
			below += weights[i]
		}
		return last
	}
	return find(0.1), find(0.5), find(0.9)
}

func clamp(x, low, high float64) float64 { return math.Min(math.Max(x, low), high) }
