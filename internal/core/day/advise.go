package day

import (
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/house"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
)

// A Situation is what is known of a stove in which nobody tends a fire.
type Situation struct {
	House   house.House
	Wanted  [2]units.Celsius
	Outdoor house.Forecast // nil: not known
	Volume  units.Litre    // of the firebox
	Last    *fire.Sample   // the last burn replayed until now; nil when it is too long ago
}

// A Thing is what there is to do now.
type Thing string

// The things.
const (
	Look  Thing = "look"  // nobody has logged a fire lately: the room is not known
	Never Thing = "never" // the house holds itself in this weather
	Holds Thing = "holds" // the room holds for the next half day
	Wait  Thing = "wait"  // for some time
	Light Thing = "light" // a fire is wanted: from what it would start, the start says
)

// An Advice is what to do now, and on what it rests.
type Advice struct {
	Do      Thing
	Start   wish.Start    // what a fire would start from
	Room    units.Celsius // as far as known
	Known   bool          // the room's temperature is
	Wait    time.Duration // until a fire is wanted; 0: now or not known
	Outside units.Celsius
	Weather bool          // Outside is known
	Wanted  units.Celsius // the low end of the band
	Needs   units.Watt    // that hold the middle of the band
	Mild    bool          // a small hot fire is enough
}

const (
	mildBelow = 1500 // W, under which it is mild for a fire that burns all the time
	halfDay   = 12 * time.Hour
	inBand    = 0.3 // K over the low end, from where a room counts as warm
	worthWait = 30 * time.Minute
)

// Advise answers what to do now: nothing yet, a restart on the coals, or a cold
// start; in mild weather a small hot fire and not a smouldering one.
func Advise(s Situation) Advice {
	a := Advice{Do: Look, Start: wish.Cold, Wanted: s.Wanted[0]}
	if s.Outdoor == nil {
		return a
	}
	a.Outside, a.Weather = s.Outdoor(0), true
	a.Needs = s.House.HeatWanted((s.Wanted[0]+s.Wanted[1])/2, a.Outside)
	a.Mild = a.Needs < mildBelow
	if s.Last == nil {
		if a.Needs == 0 {
			a.Do = Never
		}
		return a
	}
	a.Room, a.Known, a.Start = s.Last.Room, true, wish.StartOn(s.Last.Coals, s.Volume)
	holds := s.House.Coast(house.Settled(a.Room), s.Wanted[0], s.Outdoor, halfDay)
	switch {
	case a.Room >= a.Wanted && holds >= halfDay:
		a.Do = Holds
	case a.Room >= a.Wanted+inBand && holds > worthWait:
		a.Do, a.Wait = Wait, holds
	default:
		a.Do = Light
	}
	return a
}
