package plan

import (
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
)

// What a burn that is offered must keep to. A clean burn makes 1 to 4 g of smoke
// a kilogram (the emission tests of EN 16510-1 and 40 CFR 60 AAA allow less than
// 5 on their own loads); 9 is what an old stove makes when it is burnt well, and
// more is offered to nobody.
const (
	MaxTooHot      = 2 * time.Minute  // over a gauge's limit: a gauge lags
	MaxSmoulder    = 25 * time.Minute // of gas that leaves mostly unburnt, with one load
	eachSmoulders  = 8 * time.Minute  // and with each later one: every load has its beginning
	MaxSmokePerKg  = 9.0              // g
	plainSmoke     = 15.0             // g, of a stove without secondary air: 8 to 25 is usual for them
	MostSmokePerKg = 30.0             // g, of a fire that is made at all: a load that smoulders makes 30 to 100
	maxSpilling    = 30 * time.Second // after the first half hour, in all: a gust or two
)

// TooHot tells whether a burn runs too hot.
func TooHot(s fire.Summary) bool { return s.TooHot > MaxTooHot }

// Dirty tells whether a burn of one load in a stove with secondary air smoulders or
// smokes.
func Dirty(s fire.Summary) bool { return Clean{}.Dirty(s) }

// A Clean is what a burn is judged by: a plain stove and a fire of single pieces by
// their own kind.
type Clean struct {
	Family stove.Family
	Later  int           // loads after the first on coals
	Least  *fire.Summary // the cleanest that was found, where nothing is clean: what is no dirtier will do
}

// noDirtier is by how much a burn may smoke and smoulder more than the cleanest that was
// found, to count as no dirtier.
const noDirtier = 1.15

// MaxSmoke is how much a burn may smoke, g/kg.
func (c Clean) MaxSmoke() float64 {
	most := MaxSmokePerKg
	if c.Family == stove.Plain {
		most = plainSmoke
	}
	if c.Least != nil {
		most = max(most, min(MostSmokePerKg, noDirtier*c.Least.SmokePerKg))
	}
	return most
}

// maxSmoulder is for how long it may smoulder in all.
func (c Clean) maxSmoulder() time.Duration {
	if c.Least != nil {
		one := max(MaxSmoulder, time.Duration(noDirtier*float64(c.Least.Smoulder)))
		return one * time.Duration(c.Later+1)
	}
	return MaxSmoulder + time.Duration(c.Later)*eachSmoulders
}

// Dirty tells whether a burn smoulders or smokes.
func (c Clean) Dirty(s fire.Summary) bool {
	return s.Smoulder > c.maxSmoulder() || s.SmokePerKg > c.MaxSmoke()
}

// Spills tells whether a burn lets smoke into the room: in its first half hour,
// when the fire is young and the door may be open, at all; later for longer than
// a gust or two.
func Spills(s fire.Summary) bool {
	return (s.SpilledCold || s.Spilling > maxSpilling) && s.MinDraft < 0
}
