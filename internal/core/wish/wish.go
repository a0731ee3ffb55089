// Package wish is what an owner wants of a burn: what for, for how long, in
// which stove and weather, with which wood, and when somebody is by the stove.
//
// A [Wish] is checked ([Wish.Check]) before anything is searched for: what no
// plan could answer is refused at once, with its reasons. The draft before
// lighting belongs to it ([Draft]), and so does what the simulator needs to
// begin with ([Wish.Setup], [Wish.Load]).
package wish

import (
	"time"

	"smolder/internal/core/belief"
	"smolder/internal/core/fire"
	"smolder/internal/core/house"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/when"
	"smolder/internal/core/wood"
)

// A Pick is a stack to burn from, with its number in the household.
type Pick struct {
	ID    int64
	Stack wood.Stack
}

// A Wish is everything the plan is made for.
type Wish struct {
	Stove    stove.Stove
	House    house.House
	Aim      Aim
	For      time.Duration
	Outdoor  units.Celsius
	Weather  []fire.Weather // by the hour, where it is known; it goes before Outdoor
	Humidity units.Fraction // relative, over the wish; 0: not known
	Mild     bool           // nobody said what it is outside: Outdoor is a mild day's
	Room     units.Celsius
	Feels    bool // nobody has a thermometer: Room is what a word like "chilly" means
	Low      units.Celsius
	High     units.Celsius
	Start    Start
	Wood     Pick
	Others   []Pick // more stacks to choose from
	LeftOut  int    // stacks that there were besides, too many to try
	LeftWet  string // stacks that were asked for and left where they lie, being wet with enough dry wood at hand
	Kindling *Pick
	Lay      fire.Lay      // of the first fire; empty: whichever is best
	Body     units.Celsius // of the stove, where it is known; 0: as the start says
	There    when.Presence // when somebody is by the stove
	Help     Help          // for the draft
	Starter  fire.Starter  // what the kindling is lit with; empty: a wax block
	Beside   []fire.Beside // what another stove in the same space gives meanwhile
	Known    *belief.Prior // of the stove, by its burns; nil: what is usual
	Lowest   float64       // opening of the main air at which its burns were clean, under which none is tried; 0: not known
	Fixed    Fixed         // what the owner wants done in their own way
	Embers   bool          // coals are wanted at the end, that light the next load without kindling
	Seldom   bool          // whoever is there looks in about every half hour only, once it is lit
	Target   Target        // of the aim to hold a gauge

	OneLoad bool  // also where the wish is longer
	primed  *bool // whether the flue is warmed first, once that is worked out
}

// A Target is a gauge and what it is to read.
type Target struct {
	Place stove.Place
	At    units.Celsius
}

// LooksEvery is how often somebody looks in who looks seldom, once a fire is lit and loaded.
const LooksEvery = 30 * time.Minute

// Unattended tells whether people sleep, or nobody is in, while the fire is in.
func (w Wish) Unattended() bool {
	if w.Aim == Overnight || w.Aim == Away {
		return true
	}
	for at := time.Duration(0); at < w.For; at += 5 * time.Minute {
		if !w.Presence().Somebody(at) {
			return true
		}
	}
	return false
}

// Confined tells whether the stove stands where people sleep beside it in little
// air: a boat, a van, a hut.
func (w Wish) Confined() bool { return w.House.Mobile() || w.Stove.Small() }

// awayLeave is when nobody is in any more, if the aim says so and nobody said
// when.
const awayLeave = 90 * time.Minute

// Watched is how long a fire must burn at its last setting before it is left;
// Slack is how much longer than expected everything before may take, with
// wetter wood or a slower hand.
const (
	Watched = 15 * time.Minute
	Slack   = 1.3
)

// Presence is when somebody is by the stove, where the aim says so and nobody else.
func (w Wish) Presence() when.Presence {
	if w.There == nil && w.Aim == Away {
		return when.Presence{{From: 0, To: awayLeave}}
	}
	return w.There
}

// Hands returns until when there are hands for the first steps; false: all the
// time.
func (w Wish) Hands() (time.Duration, bool) {
	first, _ := w.Presence().At(0)
	return first.To - Watched, first.To < w.For
}
