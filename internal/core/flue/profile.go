package flue

import (
	"math"

	"smolder/internal/core/units"
)

// A Level is the state of gas and inner wall at a height above the collar.
type Level struct {
	Height units.Metre
	Gas    units.Celsius
	Wall   units.Celsius
}

// Condenses is the inner wall's temperature below which smoke settles, °C.
const Condenses units.Celsius = 120

// Profile returns gas and wall temperature from the collar to the cap when the
// fire has been steady for long: at each height the wall stands where the heat
// from the gas equals the heat to what is around it, and the gas cools by
// that heat.
//
//	T_wall = (h_i T_gas + h_o T_around) / (h_i + h_o),  dT_gas/dz = −h_i(T_gas − T_wall)/(ṁ c_p)
//
// flow is the gas in kg/s, 0.003 to 0.02 for stoves. around is the temperature
// beside the chimney: outdoors, or mostly the house for an inside one.
func Profile(c Chimney, collar, around units.Celsius, flow float64) []Level {
	const steps, heat = 24, 1060.0
	w := c.Wall()
	inner := w.Inner * math.Pow(math.Max(0.3, flow/0.006), 0.6)
	decay := inner * w.Outer / (inner + w.Outer) / (math.Max(flow, 5e-4) * heat) // 1/m
	out := make([]Level, 0, steps+1)
	for i := range steps + 1 {
		z := float64(c.Height) * float64(i) / steps
		gas := around + (collar-around)*units.Celsius(math.Exp(-decay*z))
		wall := (units.Celsius(inner)*gas + units.Celsius(w.Outer)*around) / units.Celsius(inner+w.Outer)
		out = append(out, Level{units.Metre(z), gas, wall})
	}
	return out
}

// MeanGas returns the mean gas temperature of a profile.
func MeanGas(levels []Level) units.Celsius {
	sum := units.Celsius(0)
	for _, l := range levels {
		sum += l.Gas
	}
	return sum / units.Celsius(max(1, len(levels)))
}

// How far a chimney shares the house's warmth, and the gas in it that of the room,
// when nothing burns: shares between outdoors and the room.
const (
	InsideShare  = 0.6  // of a chimney in the house; what is above the roof is cold
	OutsideShare = 0.15 // of the still gas in one on an outside wall, by the stove at its foot
)

// Around returns the temperature beside a chimney: outdoors on an outside
// wall, mostly the house for an inside one.
func (c Chimney) Around(room, outdoor units.Celsius) units.Celsius {
	if c.Outside {
		return outdoor
	}
	return InsideShare*room + (1-InsideShare)*outdoor
}

// WarmDraft is what a chimney leaves of its draft for the stove under a steady
// fire, Pa: the warm column's, less what entry, bends, friction and cap take of
// flow kg/s of gas.
func (c Chimney) WarmDraft(gas, room, outdoor units.Celsius, flow float64) units.Pascal {
	mean := MeanGas(Profile(c, gas, c.Around(room, outdoor), flow))
	density := AirDensity(mean, c.Altitude)
	speed := flow / density / c.Area()
	return StackDraft(c.Height, mean, outdoor, c.Altitude) - units.Pascal(c.Resistance()*density*speed*speed/2)
}

// Still is the mean temperature of the gas in a chimney under which nothing burns.
func (c Chimney) Still(room, outdoor units.Celsius) units.Celsius {
	if c.Outside {
		return OutsideShare*room + (1-OutsideShare)*outdoor
	}
	return c.Around(room, outdoor)
}
