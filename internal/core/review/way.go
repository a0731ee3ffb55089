package review

import (
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// A Way is how a burn was made, by which burns are found, compared and tried.
type Way struct {
	Cold      bool // lit, and not on coals of the fire before
	Lay       fire.Lay
	Starter   fire.Starter
	Species   string // key of most of its wood
	Wood      string // and its name
	Moisture  units.Fraction
	Direction stove.Direction // of the last load
	Loads     int             // of wood, kindling left out
	Pieces    int             // of the largest
	Ajar      time.Duration   // that the door stood open after it was lit, until it was first shut
	Hold      time.Duration   // from the last load until the air was first taken back; negative: never
	Final     float64         // opening of the main air at the end; negative: nobody moved it
	Planned   bool
	ByNight   bool // nobody logged anything for six hours
}

// WayOf tells how a burn was made.
func WayOf(b burn.Burn) Way {
	air, _ := b.Stove.MainAir()
	t := telling{Way: Way{Hold: -1, Final: -1}, air: air.Key, opening: 1, kilos: map[string]float64{}}
	for e := range b.NotReadings() {
		t.hear(e)
	}
	return t.end(b.Ended)
}

// unwatched is how long nobody logs anything at night.
const unwatched = 6 * time.Hour

// takenBack is by how much the air is less, at the least, where somebody has turned it down.
const takenBack = 0.05

// A telling is what of a burn's way is known so far.
type telling struct {
	Way
	air           string             // the main air's key
	opening       float64            // of it, last
	kilos         map[string]float64 // of each wood that was put on
	water, mass   float64            // kg
	lit, lastLoad time.Time
	before        time.Time // of the entry before
}

// hear takes the next entry.
func (t *telling) hear(e *burn.Entry) {
	if !e.Reported {
		t.ByNight = t.ByNight || !t.before.IsZero() && e.At.Sub(t.before) > unwatched
		t.before = e.At
	}
	switch {
	case e.Kind == burn.Light:
		t.lit, t.Cold = e.At, true
	case e.Kind == burn.Load && e.Load != nil && e.Load.Kindling:
		t.Starter = e.Load.StarterKind
	case e.Kind == burn.Load && e.Load != nil:
		t.loaded(e)
	case e.Kind == burn.Door && e.Door == fire.Shut && !t.lit.IsZero() && t.Ajar == 0:
		t.Ajar = e.At.Sub(t.lit)
	case e.Kind == burn.Control && e.Control == t.air:
		// The first time that the air is taken back after a load ends its charring.
		if e.Opening < t.opening-takenBack && t.Hold < 0 && !t.lastLoad.IsZero() && e.At.After(t.lastLoad) {
			t.Hold = e.At.Sub(t.lastLoad)
		}
		t.opening, t.Final = e.Opening, e.Opening
	}
}

// loaded takes a load of wood. The wood of a burn is the kind of which most was put on; a later
// load begins anew: what counts is how the last one was treated.
func (t *telling) loaded(e *burn.Entry) {
	l, most := e.Load, t.kilos[t.Species]
	t.Loads++
	t.lastLoad, t.Hold, t.Direction = e.At, -1, l.Direction
	t.kilos[l.Species.Key] += float64(l.Mass())
	if t.kilos[l.Species.Key] > most {
		t.Species, t.Wood = l.Species.Key, l.Species.Name
	}
	t.water, t.mass = t.water+float64(l.Mass())*float64(l.Moisture), t.mass+float64(l.Mass())
	t.Pieces = max(t.Pieces, l.Pieces)
	if t.Lay == "" {
		t.Lay = l.Lay
	}
}

// end is the way as it was; its moisture is the mean by mass.
func (t *telling) end(ended time.Time) Way {
	if t.mass > 0 {
		t.Moisture = units.Fraction(t.water / t.mass)
	}
	if ended.Sub(t.before) > unwatched && !t.before.IsZero() {
		t.ByNight = true
	}
	return t.Way
}
