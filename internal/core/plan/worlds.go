package plan

import (
	"math"
	"slices"
	"time"

	"smolder/internal/core/belief"
	"smolder/internal/core/fire"
	"smolder/internal/core/parallel"
	"smolder/internal/core/policy"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
)

// A plan is made on a drawing board's stove, and burnt in many that are like the one
// it is for: with another leak, another lever, other gauges, wood and weather, as far
// off as they usually are ([belief.Worlds]). In each somebody follows it, with what
// every step says to do when what should follow does not ([Hand]). The range on the
// strip, the times of the steps, and how far the plan is to be trusted come from there.

// Worlds is how many of them a plan is burnt in that is shown to an owner.
const Worlds = 20

// A Trust is how a plan does in the worlds that it was burnt in.
type Trust struct {
	Of     int // worlds
	Safe   int // in which it is never too hot and no smoke comes into the room
	Kept   int // in which it is clean besides
	Cooled int // in which the air had to be shut further, for a gauge near its limit
	Raised int // in which flames went out, and it took a step back
	Ajar   int // in which a load did not flame by itself
	Smoke  float64
}

const (
	// worldStep is the step of the simulation there: the range is rounder than what a
	// longer step gets wrong.
	worldStep = 8 * time.Second
	// weatherUnsaid is how far off a mild day may be that was only taken for want of a
	// better word, and weatherSaid a forecast: as standard deviations.
	weatherUnsaid, weatherSaid units.Celsius = 6, 2
	// meterOff is a moisture meter's error over all of tonight's wood, and middleOf the
	// standard deviations within which eight in ten lie.
	meterOff units.Fraction = 0.024
	middleOf units.Fraction = 1.28
	// goldenShare spreads moments evenly, however many worlds there are.
	goldenShare = 0.618034
)

// A Lived is what became of steps in one world.
type Lived struct {
	fire.Result
	Smoke float64 // g per kg, by the usual smoke of unburnt gas: what a hand can do about it
	hand  *hand
}

// Unsafe tells whether it was.
func (l Lived) Unsafe() bool { return TooHot(l.Summary) || Spills(l.Summary) }

// Dirty tells whether it smouldered or smoked.
func (l Lived) Dirty(by Clean) bool {
	sum := l.Summary
	sum.SmokePerKg = l.Smoke
	return by.Dirty(sum)
}

// worldsOf are n worlds of a wish.
func worldsOf(w wish.Wish, n int) []belief.World {
	doubt := belief.Doubt{Outdoor: weatherSaid, Wood: meterOff}
	if w.Mild {
		doubt.Outdoor = weatherUnsaid
	}
	for _, pick := range w.Woods() {
		doubt.Wood = max(doubt.Wood, pick.Stack.Spread/middleOf)
	}
	return belief.Worlds(w.Belief(), doubt, n)
}

// Live burns steps in n worlds, looked at as often as opt says.
func Live(w wish.Wish, steps []Step, n int, opt fire.Options) []Lived {
	w = w.Prepared()
	setup, done := w.Setup(), slices.DeleteFunc(slices.Clone(steps), func(s Step) bool { return s.Kind == ReloadTime })
	worlds := worldsOf(w, n)
	out := make([]Lived, len(worlds))
	parallel.InParallel(len(worlds), func(i int) {
		mine := opt
		mine.Step, mine.Coarse = worldStep, true
		if opt.Watch != nil {
			mine.Watch = opt.Watch.Fork()
		}
		h := newHand(w)
		mine.Hand = h
		// In every world somebody looks in at another moment.
		moves := Looked(w, done, math.Mod(float64(i)*goldenShare, 1))
		r := fire.Run(worlds[i].In(setup), worlds[i].Moves(moves), mine)
		out[i] = Lived{r, r.Summary.SmokePerKg / worlds[i].Tuning().Smoke, h}
	})
	return out
}

// TrustIn sums up lives, judged by their kind.
func TrustIn(lives []Lived, by Clean) Trust {
	t := Trust{Of: len(lives)}
	count := func(n *int, is bool) {
		if is {
			*n++
		}
	}
	for _, l := range lives {
		count(&t.Safe, !l.Unsafe())
		count(&t.Kept, !l.Unsafe() && !l.Dirty(by))
		count(&t.Cooled, l.hand.cooled)
		count(&t.Raised, l.hand.raised)
		count(&t.Ajar, l.hand.opened)
		t.Smoke += l.Smoke / float64(len(lives))
	}
	return t
}

// live burns the plan in n worlds and keeps the range, the times of its steps, and how
// far it is to be trusted.
func (p *Plan) live(n int) {
	guide := guideOf(p.Wish.Stove)
	middle := p.Predicted.Gauges[guide.Place]
	p.Low, p.High = slices.Clone(middle), slices.Clone(middle)
	if n == 0 {
		return
	}
	lives := Live(p.Wish, p.Steps, n, runOptions(p.Wish))
	p.Trust = TrustIn(lives, p.clean())
	values := make([]float64, 0, n)
	for i := range middle {
		values = append(values[:0], middle[i])
		for _, l := range lives {
			if i < len(l.Samples) {
				t, _ := l.Samples[i].Reading(guide.Place)
				values = append(values, float64(t))
			}
		}
		low, high := eightInTen(values)
		p.Low[i], p.High[i] = tenth(math.Min(low, middle[i])), tenth(math.Max(high, middle[i]))
	}
	for i := range p.Steps {
		s := &p.Steps[i]
		if s.Kind == ReloadTime || s.Expected < 0 {
			continue
		}
		values = append(values[:0], s.Expected.Seconds())
		byItself := 0
		for _, l := range lives {
			d := l.Done[i]
			if d < 0 {
				continue
			}
			values = append(values, d.Seconds())
			// The latest time stands in for a gauge that stays under its mark: that is no sign.
			if t := s.Fire.When; t.Latest == 0 || i == 0 || d-l.Done[i-1] < t.Latest-time.Minute {
				byItself++
			}
		}
		s.Share = float64(byItself) / float64(n)
		low, high := eightInTen(values)
		s.Earliest = min(s.Expected, time.Duration(low)*time.Second)
		s.Latest = max(s.Expected, time.Duration(high)*time.Second)
	}
}

// eightInTen are the values between which eight in ten lie.
func eightInTen(values []float64) (low, high float64) {
	slices.Sort(values)
	at := func(share float64) float64 { return values[int(math.Round(share*float64(len(values)-1)))] }
	return at(0.1), at(0.9)
}

// changed returns the plan's steps for the simulator with every act changed; the
// loads are copies.
func (p *Plan) changed(change func(*fire.Act, Step)) []fire.Move {
	steps := make([]fire.Move, 0, len(p.Steps))
	for _, s := range p.Steps {
		if s.Kind == ReloadTime {
			continue
		}
		step := fire.Move{When: s.Fire.When}
		for _, a := range s.Fire.Do {
			if a.Load != nil {
				l := *a.Load
				a.Load = &l
			}
			change(&a, s)
			step.Do = append(step.Do, a)
		}
		steps = append(steps, step)
	}
	return steps
}

// Limit is where a gauge of the stove's is near what it may not reach, and what the
// air goes to then.
func Limit(st stove.Stove) (g stove.Gauge, at units.Celsius, ok bool) {
	g, ok = st.Guide()
	return g, units.Celsius(policy.NearLimit * float64(g.Band.TooHot)), ok && g.Band.TooHot > 0
}
