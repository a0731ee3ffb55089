// Package season looks past one fire: how much heat a winter asks for, how much
// wood that is, and whether what is left lasts.
//
//	heat = UA · 24 h · degree-days / 1000   [kWh]
//	wood = heat / (net energy · efficiency)
//
// Answers are intervals: neither the weather to come, nor the stove's
// efficiency, nor the share of heat that comes from wood is known to better.
package season

import (
	"math"

	"smolder/internal/core/units"
)

// Base is the outdoor temperature from which a house needs heat: sun, people
// and cooking do the rest.
const Base units.Celsius = 15.5

// DegreeDays sums how far the days lie below [Base].
func DegreeDays(daily []units.Celsius) float64 {
	sum := 0.0
	for _, t := range daily {
		sum += math.Max(0, float64(Base-t))
	}
	return sum
}
