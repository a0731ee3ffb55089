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
	w := Way{Hold: -1, Final: -1}
	// The wood of a burn is the kind of which most was put on; its moisture is the mean by mass.
	kilos, most, pieces := map[string]float64{}, 0.0, 0
	var lit, lastLoad, before time.Time
	air, _ := b.Stove.MainAir()
	opening, water, mass := 1.0, 0.0, 0.0
	for e := range b.NotReadings() {
		if !e.Reported {
			w.ByNight = w.ByNight || !before.IsZero() && e.At.Sub(before) > 6*time.Hour
			before = e.At
		}
		switch {
		case e.Kind == burn.Light:
			lit, w.Cold = e.At, true
		case e.Kind == burn.Load && e.Load != nil && e.Load.Kindling:
			w.Starter = e.Load.StarterKind
		case e.Kind == burn.Load && e.Load != nil:
			l := e.Load
			w.Loads++
			// A later load begins anew: what counts is how the last one was treated.
			lastLoad, w.Hold, w.Direction = e.At, -1, l.Direction
			kilos[l.Species.Key] += float64(l.Mass())
			if kilos[l.Species.Key] > most {
				most, w.Species, w.Wood = kilos[l.Species.Key], l.Species.Key, l.Species.Name
			}
			water, mass = water+float64(l.Mass())*float64(l.Moisture), mass+float64(l.Mass())
			pieces = max(pieces, l.Pieces)
			if w.Lay == "" {
				w.Lay = l.Lay
			}
		case e.Kind == burn.Door && e.Door == fire.Shut && !lit.IsZero() && w.Ajar == 0:
			w.Ajar = e.At.Sub(lit)
		case e.Kind == burn.Control && e.Control == air.Key:
			// The first time that the air is taken back after a load ends its charring.
			if e.Opening < opening-0.05 && w.Hold < 0 && !lastLoad.IsZero() && e.At.After(lastLoad) {
				w.Hold = e.At.Sub(lastLoad)
			}
			opening, w.Final = e.Opening, e.Opening
		}
	}
	w.Pieces = pieces
	if mass > 0 {
		w.Moisture = units.Fraction(water / mass)
	}
	if b.Ended.Sub(before) > 6*time.Hour && !before.IsZero() {
		w.ByNight = true
	}
	return w
}
