package house

import (
	"math"

	"smolder/internal/core/units"
)

// Saturation returns the vapour pressure of saturated air over water, Pa:
//
//	e = 611.2 · exp(17.62 t / (243.12 + t))
//
// the Magnus form with the constants of the WMO Guide to Instruments and Methods
// of Observation (WMO-No. 8), within 0.3 % from −45 to 60 °C.
func Saturation(t units.Celsius) float64 {
	return 611.2 * math.Exp(17.62*float64(t)/(243.12+float64(t)))
}

// VapourIn returns the water in air of a temperature and relative humidity,
// g/m³, by the gas law for vapour.
func VapourIn(t units.Celsius, relative units.Fraction) float64 {
	return float64(relative) * Saturation(t) / (461.5 * t.Kelvin()) * 1000
}

// Warmed returns the relative humidity of outdoor air once it is in the room: the
// same vapour at the room's temperature, at most 1.
func Warmed(outdoor units.Celsius, relative units.Fraction, room units.Celsius) units.Fraction {
	return min(1, relative*units.Fraction(Saturation(outdoor)/Saturation(room)))
}

// DriedBy returns the water that leaves a room of a relative humidity with so
// much of its air, m³ at the room's temperature, when outdoor air takes its
// place, kg; negative where the outdoor air brings more than it takes.
func DriedBy(air float64, room units.Celsius, inside units.Fraction, outdoor units.Celsius, outside units.Fraction) units.Kilogram {
	brought := VapourIn(room, inside) - VapourIn(outdoor, outside)*outdoor.Kelvin()/room.Kelvin() // it expands as it warms
	return units.Kilogram(air * brought / 1000)
}
