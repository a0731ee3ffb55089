package wish

import "smolder/internal/core/units"

// A Felt is how a room is to somebody without a thermometer.
type Felt string

// How it may be, from cold to warm.
const (
	FeelsCold   Felt = "cold"
	FeelsChilly Felt = "chilly"
	FeelsRight  Felt = "right"
	FeelsWarm   Felt = "warm"
)

// Felts are they, in their order.
var Felts = []Felt{FeelsCold, FeelsChilly, FeelsRight, FeelsWarm}

// How far from the wanted band a room is that is called so, K; by what people call their own rooms.
const (
	coldUnder, chillyUnder, warmOver units.Celsius = 5, 2, 1
)

// Room is about how warm a room is that is wanted between two temperatures; false: no such word.
func (f Felt) Room(low, high units.Celsius) (units.Celsius, bool) {
	switch f {
	case FeelsCold:
		return low - coldUnder, true
	case FeelsChilly:
		return low - chillyUnder, true
	case FeelsRight:
		return (low + high) / 2, true
	case FeelsWarm:
		return high + warmOver, true
	}
	return 0, false
}
