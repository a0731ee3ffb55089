// Package plan is one burn worked out: which pieces, which way round, when to
// shut the door, when to turn down and how far.
//
// A [Recipe] is a way to burn in numbers. [Steps] writes it out as things to do,
// each with the sign that it waits for; [Run] burns them; [Make] makes a plan of
// the two. Steps wait for signs (a gauge, black wood, coals) and only then for
// the clock; the times shown are ranges, made by burning the plan in many stoves
// like the one that it is for. Which recipe is best is found in package search.
package plan

import (
	"smolder/internal/core/fire"
	"smolder/internal/core/policy"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
)

// A Plan is one burn worked out.
type Plan struct {
	Wish      wish.Wish
	Direction stove.Direction
	Lay       fire.Lay  // of the first fire
	FirstOf   wish.Pick // the stack of the first fire
	MainOf    wish.Pick // and of the load on coals
	First     int       // splits of the first fire; 0 on coals
	Main      int       // pieces of the load on coals; 0: none
	Kindling  fire.Load
	Feeds     []Feed // later loads, where the wish is longer than one
	Final     float64
	Capped    bool // fully open it would run too hot
	Steps     []Step
	Predicted Curve
	Low       []float64 // of the guiding gauge, for the range
	High      []float64 //
	Summary   fire.Summary
	Output    Output  // what the stove can give with this wood, clean and safe
	Air       float64 // that the fire takes until the wish is over
	Before    wish.Before
	Trust     Trust         // how it does in stoves like this one
	Extras    []Extra       // what is moved besides the fire, and what it brings
	IfDry     *fire.Summary // of the same pieces, dried; where some are too wet
	Tried     int
	Cold      float64 // under the wanted band, as the search weighed it

	body []units.Celsius // of the stove, as long as the curve
}

// Mass returns the wood of the whole plan, kindling included.
func (p Plan) Mass() units.Kilogram {
	sum := p.Kindling.Mass() + p.FirstOf.Stack.PieceMass*units.Kilogram(p.First) + p.MainOf.Stack.PieceMass*units.Kilogram(p.Main)
	for _, f := range p.Feeds {
		sum += f.Mass()
	}
	return sum
}

// Unclean tells whether the plan is only the cleanest that was found, and not clean: on
// the drawing board, or on average of the stoves that it was burnt in.
func (p Plan) Unclean() bool {
	return p.clean().Dirty(p.Summary) || p.Trust.Of > 0 && p.Trust.Smoke > p.clean().MaxSmoke()
}

// Unsafe tells whether the plan is too hot, or lets smoke into the room, in more than one
// of ten stoves like this one: then that is said with it, wherever it is shown.
func (p Plan) Unsafe() bool {
	return float64(p.Trust.Of-p.Trust.Safe) > policy.UnsafeShare*float64(p.Trust.Of)
}

// SmokePerKg is what the plan makes on average in the stoves that it was burnt in, g; on
// the drawing board where it was burnt in none.
func (p Plan) SmokePerKg() float64 {
	if p.Trust.Of > 0 {
		return p.Trust.Smoke
	}
	return p.Summary.SmokePerKg
}

// clean is what the plan is judged by.
func (p Plan) clean() Clean { return Clean{Family: p.Wish.Stove.Family, Later: len(p.Feeds)} }

// Pieces returns the pieces of the stack that the plan uses.
func (p Plan) Pieces() int {
	n := p.First + p.Main
	for _, f := range p.Feeds {
		n += f.Pieces
	}
	return n
}

// Loads returns the splits of the first fire and the load on coals; one that is
// not planned has no pieces.
func (p Plan) Loads() (first, main fire.Load) {
	for _, s := range p.Steps {
		for _, a := range s.Fire.Do {
			switch {
			case a.Load == nil || a.Load.Kindling:
			case s.Kind == LightIt, s.Kind == GrowIt:
				first = *a.Load
			case s.Kind == LoadIt:
				main = *a.Load
			}
		}
	}
	return first, main
}

// Taken are [Plan.Loads] as they come off their stacks: of a first fire the pieces as they
// lie there, before they are split.
func (p Plan) Taken() (first, main fire.Load) {
	first, main = p.Loads()
	if p.First > 0 && first.Pieces > p.First {
		first.Pieces, first.PieceMass = p.First, first.Mass()/units.Kilogram(p.First)
	}
	return first, main
}

// feedLoads are the later loads of the plan, in their order.
func (p Plan) feedLoads() []fire.Load {
	var out []fire.Load
	for _, s := range p.Steps {
		for _, a := range s.Fire.Do {
			if s.Kind == FeedIt && a.Load != nil {
				out = append(out, *a.Load)
			}
		}
	}
	return out
}

// AllLoads are every load of the plan that is not kindling, as they come off their stacks.
func (p Plan) AllLoads() []fire.Load {
	first, main := p.Taken()
	var out []fire.Load
	for _, l := range append([]fire.Load{first, main}, p.feedLoads()...) {
		if l.Pieces > 0 {
			out = append(out, l)
		}
	}
	return out
}

// MainIndex is the place of the main wood among the wish's stacks.
func (p Plan) MainIndex() int {
	for i, pick := range p.Wish.Woods() {
		if pick.Same(p.MainOf) && pick.Stack.Size == p.MainOf.Stack.Size {
			return i
		}
	}
	return 0
}
