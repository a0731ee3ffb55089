package plan

import (
	"time"

	"smolder/internal/core/fire"
)

// What a burn that is offered must keep to. A clean burn makes 1 to 4 g of smoke
// a kilogram (the emission tests of EN 16510-1 and 40 CFR 60 AAA allow less than
// 5 on their own loads); 9 is what an old stove makes when it is burnt well, and
// more is offered to nobody.
const (
	MaxTooHot      = 2 * time.Minute  // over a gauge's limit: a gauge lags
	MaxSmoulder    = 25 * time.Minute // of gas that leaves mostly unburnt
	MaxSmokePerKg  = 9.0              // g
	MostSmokePerKg = 30.0             // g, of a fire that is made at all: a load that smoulders makes 30 to 100
	maxSpilling    = 30 * time.Second // after the first half hour, in all: a gust or two
)

// TooHot tells whether a burn runs too hot.
func TooHot(s fire.Summary) bool { return s.TooHot > MaxTooHot }

// Dirty tells whether a burn smoulders or smokes.
func Dirty(s fire.Summary) bool { return s.Smoulder > MaxSmoulder || s.SmokePerKg > MaxSmokePerKg }

// Spills tells whether a burn lets smoke into the room: in its first half hour,
// when the fire is young and the door may be open, at all; later for longer than
// a gust or two.
func Spills(s fire.Summary) bool {
	return (s.SpilledCold || s.Spilling > maxSpilling) && s.MinDraft < 0
}
