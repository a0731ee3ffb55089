package plan

import "smolder/internal/core/units"

// An Output is what a stove can give with this wood: its lowest clean and its
// highest safe heat to the room, as means over a burn from loading to coals.
// Both are 0 when no setting burns it clean and safe.
type Output struct {
	Low  units.Watt
	High units.Watt
}

// A Match is how a stove goes with the heat that is wanted.
type Match string

// The matches.
const (
	NoClean   Match = "no-clean" // no setting burns this wood clean and safe
	TooMuch   Match = "too-much" // even at its lowest clean setting
	TooLittle Match = "too-little"
	Suits     Match = "suits"
)

// wellOver is the share of the lowest output under which the heat wanted is too
// little to be held by one fire.
const wellOver = 0.7

// Match says whether a stove goes with the heat wanted.
func (o Output) Match(wanted units.Watt) Match {
	switch {
	case o.High == 0:
		return NoClean
	case float64(wanted) < wellOver*float64(o.Low):
		return TooMuch
	case wanted > o.High:
		return TooLittle
	}
	return Suits
}
