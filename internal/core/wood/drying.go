package wood

import (
	"math"

	"smolder/internal/core/units"
)

// Drying of a stack is first order towards the moisture that the air allows:
//
//	du/dt = −k (u − EMC(T, RH))
//
// k starts from what is known of the pieces and of how they lie, about 0.012 a
// day for a 12 cm split under a roof at 15 °C, and doubles with every 10 K. What
// rain does, and what an owner's meter readings teach of one stack, is in package
// drying.

// A Cover is how a stack lies.
type Cover string

// The covers.
const (
	Roof   Cover = "roof"   // a shed or a roof, air from the sides
	Top    Cover = "top"    // boards or a sheet on top only
	Wrap   Cover = "wrap"   // wrapped in a sheet: it stays damp
	Open   Cover = "open"   // rain on it
	Inside Cover = "inside" // in a heated room
	Tunnel Cover = "tunnel" // under clear plastic, open at the ends: no rain, and the sun warms it
)

// Covers lists the covers and how much they speed drying up.
var Covers = []struct {
	Key    Cover
	Factor float64
}{
	{Roof, 1},
	{Top, 0.85},
	{Open, 0.55},
	{Wrap, 0.45},
	{Inside, 1.2},
	{Tunnel, 1.4}, // 1.0 to 2, by the sun and by how far the ends stand open
}

const (
	usualRate      = 0.012 // a day, of usualThickness at usualAir
	usualThickness = 0.12  // m
	usualAir       = 15.0  // °C
)

// DryingRate returns k per day at 15 °C for pieces of this thickness (m).
// Water leaves through the faces, so a piece twice as thick takes nearly three
// times as long; a round keeps its bark and takes twice as long as a split.
// windy is 0 for a sheltered place, 1 for an open one.
func DryingRate(thickness units.Metre, round bool, cover Cover, windy float64) float64 {
	k := usualRate * math.Pow(usualThickness/math.Max(0.01, float64(thickness)), 1.5)
	if round {
		k /= 2
	}
	for _, c := range Covers {
		if c.Key == cover {
			k *= c.Factor
		}
	}
	return math.Min(0.2, k*(0.85+0.3*math.Max(0, math.Min(1, windy))))
}

// SlowAir is the air in which wood outdoors hardly dries any more: what it draws to is
// higher, and what water leaves, leaves at a third of its speed in summer.
const SlowAir units.Celsius = 7

// A Day is a day of weather for a stack.
type Day struct {
	Air      units.Celsius
	Humidity units.Fraction
}

// DryDay returns the moisture after a day, from the moisture before it.
func DryDay(u units.Fraction, rate float64, d Day) units.Fraction {
	target := Equilibrium(d.Air, units.Fraction(math.Min(0.97, float64(d.Humidity))))
	k := rate * math.Pow(2, (float64(d.Air)-usualAir)/10)
	return target + (u-target)*units.Fraction(math.Exp(-k))
}
