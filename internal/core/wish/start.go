package wish

import (
	"slices"

	"smolder/internal/core/units"
)

// A Start is what is in the stove now.
type Start string

// The starts.
const (
	Cold       Start = "cold"
	FewCoals   Start = "few-coals"
	LayerCoals Start = "layer-of-coals"
	GoodCoals  Start = "good-coals"
)

// Starts lists the starts, from none to many coals.
var Starts = []Start{Cold, FewCoals, LayerCoals, GoodCoals}

// beds are what lies in a 55 L firebox at each start, and how warm the stove's
// body is by then: a bed of 700 g covers its floor two fingers deep. From is
// the least that is still called so.
var beds = map[Start]struct {
	Coals, From units.Kilogram
	Warmth      units.Celsius
}{
	FewCoals:   {0.1, 0.07, 70},
	LayerCoals: {0.3, 0.22, 90},
	GoodCoals:  {0.7, 0.5, 130},
}

// usualFirebox is the firebox that [beds] are of.
const usualFirebox units.Litre = 55

// Known tells whether s is one of [Starts].
func (s Start) Known() bool { return slices.Contains(Starts, s) }

// Few tells whether the coals are too few to light big wood by themselves.
func (s Start) Few() bool { return s == FewCoals || s == LayerCoals }

// FirstFire tells whether a first fire is made, and the load goes on its coals.
func (s Start) FirstFire() bool { return s == Cold || s.Few() }

// Coals returns the coals and the body temperature of a start in a firebox of
// that volume.
func (s Start) Coals(v units.Litre) (units.Kilogram, units.Celsius) {
	bed := beds[s]
	return bed.Coals * units.Kilogram(v/usualFirebox), bed.Warmth
}

// StartOn is what so many coals in a firebox of that volume are called.
func StartOn(coals units.Kilogram, v units.Litre) Start {
	for _, s := range slices.Backward(Starts) {
		if s != Cold && coals > beds[s].From*units.Kilogram(v/usualFirebox) {
			return s
		}
	}
	return Cold
}
