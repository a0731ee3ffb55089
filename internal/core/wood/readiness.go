package wood

import "smolder/internal/core/units"

// What a moisture means for burning, of dry wood. Meters and books say "under
// 20 %": from there on the heat that drives water off is felt; everything else
// follows from the simulator (docs/model.md).
const (
	Brisk      units.Fraction = 0.12 // drier burns fast: mix it with denser wood
	Seasoned   units.Fraction = 0.18 // what good drying comes to outdoors
	ReadyTo    units.Fraction = 0.20 // wetter costs heat and smoke
	Smoulders  units.Fraction = 0.22 // wetter smoulders in many stoves whatever the air
	Damp       units.Fraction = 0.25 // wetter is too wet to burn well in any
	Unburnable units.Fraction = 0.35 // no setting of any stove burns it clean
)

// A Readiness is what a stack is good for.
type Readiness string

// The readinesses, from dry to wet.
const (
	VeryDry    Readiness = "very-dry"
	ReadyNow   Readiness = "ready"
	LittleWet  Readiness = "a-little-wet"
	TooWet     Readiness = "too-wet"
	NotBurning Readiness = "recorded" // mineral fuel: not simulated
)

// ReadinessOf is what wood of a moisture is good for.
func ReadinessOf(u units.Fraction) Readiness {
	switch {
	case u < Brisk:
		return VeryDry
	case u <= ReadyTo:
		return ReadyNow
	case u <= Damp:
		return LittleWet
	}
	return TooWet
}

// Readiness is what the stack is good for.
func (s Stack) Readiness() Readiness {
	if s.Species.Mineral {
		return NotBurning
	}
	return ReadinessOf(s.Moisture())
}
