package season

import (
	"math"

	"smolder/internal/core/units"
)

// A Trip is some days in a boat, a van or a hut, with a stove to heat it.
type Trip struct {
	Loss       float64       // W/K of the space, with its vent open
	Room       units.Celsius // kept while somebody is in
	Outdoor    units.Celsius // mean of the trip's days and nights
	Days       float64
	Hours      float64        // a day that it is heated
	Efficiency units.Fraction // net
	Least      units.Watt     // the least that its stove gives and burns clean; 0: not known
}

// How far off a trip may be, as a share: wind, wet clothes, a door that is opened.
const tripDoubt = 0.3

// Heat is what a trip asks for in the fuel, J: the middle, and what to carry to be safe in
// nine trips of ten. What the stove gives at least is burnt all the same, with the hatch
// open.
func (t Trip) Heat() (middle, carry units.Joule) {
	want := math.Max(0, t.Loss*float64(t.Room-t.Outdoor))
	if want > 0 {
		want = math.Max(want, float64(t.Least))
	}
	j := want * t.Hours * 3600 * t.Days / math.Max(0.05, float64(t.Efficiency))
	return units.Joule(j), units.Joule(j * math.Exp(1.2816*tripDoubt))
}

// Fires are how many fires are lit: one for each day, two where it is let go out between.
func (t Trip) Fires() int {
	a := 1.0
	if t.Hours < 18 && t.Hours > 8 {
		a = 2
	}
	return int(math.Ceil(a * t.Days))
}
