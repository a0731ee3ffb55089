// Package learn is what burns teach about a stove, from one to the next.
//
// [Known] is what is known at a time: the belief itself ([belief.Prior]), and how well it
// and what is usual of such stoves foretold the last burns, each before it was looked at.
// A burn is foretold both ways and then taken in ([Known.Burnt]); between two the belief
// grows a little wider, and much wider in what a repair has changed ([Known.Changed]).
// It is used only while it foretells better than what is usual does ([Known.InUse]):
// a belief that has learned something wrong harms nobody.
package learn

import (
	"smolder/internal/core/belief"
	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// Version counts up when what is learned changes: it is learned again.
const Version = 2

const (
	// mostTrials is how many of the last burns say whether a belief is used.
	mostTrials = 12
	// leastTrials is how many must have been foretold before it is.
	leastTrials = 3
	// leastReadings is how many readings of a gauge make a burn that can be foretold.
	leastReadings = 4
)

// A Trial is how well one burn's gauge was foretold, K off: by what is usual, and by what
// was known before it.
type Trial struct {
	Place        stove.Place
	Usual, Known float64
}

// Known is what is known of a stove. The zero Known is a stove that nothing is known of.
type Known struct {
	Prior  belief.Prior
	Trials []Trial // of the last burns, the newest last
	Burns  int     // that were taken in since it was new
}

// New is a stove that nothing is known of.
func New() Known { return Known{Prior: belief.Usual()} }

// A Lesson is what one burn has taught.
type Lesson struct {
	Trial    Trial
	Foretold bool             // Trial says something
	Readings int              // taken in; 0: the burn taught nothing
	Wetter   units.Fraction   // of its wood, than was said, in points; by what was burnt
	Give     units.Fraction   // and how far that may be off, as a standard deviation
	Sight    belief.Hindsight // of the burn
}

// Burnt takes a burn in. One that was not simulated, or in which nothing was read,
// teaches nothing and changes nothing.
func (k Known) Burnt(b burn.Burn) (Known, Lesson) {
	if k.Prior.Names == nil {
		k = New()
	}
	var lesson Lesson
	if !b.Simulated() || b.Ended.IsZero() || b.Used() <= 0 {
		return k, lesson
	}
	b = b.In(fire.Tuning{}) // the worlds have their own
	record, setup, doubt := b.Record(b.Ended), b.Setup(), b.Doubt()
	if place, ok := judged(b); ok {
		usual := belief.Foretell(belief.Usual(), setup, doubt, record, place)
		trial := Trial{place, usual.Off, usual.Off}
		if k.Prior.Burns > 0 {
			trial.Known = belief.Foretell(k.Prior, setup, doubt, record, place).Off
			lesson.Trial, lesson.Foretold = trial, true
			k.Trials = append(append([]Trial(nil), k.Trials...), trial)
			k.Trials = k.Trials[max(0, len(k.Trials)-mostTrials):]
		}
	}
	h := belief.Smooth(k.Prior.Older(), setup, doubt, record)
	if lesson.Readings = h.Readings; h.Readings > 0 {
		k.Prior, k.Burns = h.Prior, k.Burns+1
		lesson.Wetter, lesson.Give = h.Wetter, h.Give
	}
	lesson.Sight = h
	return k, lesson
}

// Sight looks back at one burn with what was known before it, and learns nothing.
func (k Known) Sight(b burn.Burn) belief.Hindsight {
	if k.Prior.Names == nil {
		k = New()
	}
	b = b.In(fire.Tuning{})
	return belief.Smooth(k.Prior.Older(), b.Setup(), b.Doubt(), b.Record(b.Ended))
}

// judged is the gauge that a burn is foretold by: the guiding one, or the room where the
// stove has none. Two kinds of gauge are not put together: a room is foretold to a degree.
func judged(b burn.Burn) (stove.Place, bool) {
	place := stove.RoomAir
	if g, ok := b.Stove.Guide(); ok {
		place = g.Place
	}
	return place, b.ReadingsAt(place) >= leastReadings
}

// Changed is what is still known after something was changed. What it touches must show
// anew that it foretells.
func (k Known) Changed(c belief.Change) Known {
	if k.Prior.Names == nil || c == belief.Moved {
		return New()
	}
	k.Prior = k.Prior.After(c)
	return k
}

// Foretells is how well the last burns were foretold, K off on average: by what was
// known, and by what is usual.
func (k Known) Foretells() (known, usual float64, burns int) {
	for _, t := range k.Trials {
		known += t.Known / float64(len(k.Trials))
		usual += t.Usual / float64(len(k.Trials))
	}
	return known, usual, len(k.Trials)
}

// InUse tells whether what is known foretells better than what is usual, and did so often
// enough.
func (k Known) InUse() bool {
	known, usual, n := k.Foretells()
	return n >= leastTrials && known < usual
}

// ForPlans is the belief for a wish; nil where what is usual goes.
func (k Known) ForPlans() *belief.Prior {
	if !k.InUse() {
		return nil
	}
	older := k.Prior.Older()
	return &older
}

// Belief is what whoever computes goes by: what is known where it is in use, and else
// what is usual.
func (k Known) Belief() belief.Prior {
	if k.InUse() {
		return k.Prior
	}
	return belief.Usual()
}
