package units

import (
	"regexp"
	"strings"
)

// A Firebox is the inside of a stove as it was typed: its volume, or its sides, of which the
// volume follows.
type Firebox struct {
	Volume Litre
	Sides  [3]Metre // wide, deep, high; zero: by its volume alone
}

// between stands between two sides.
var between = regexp.MustCompile(`(?i)\s*(?:[x×*]|\bby\b|\bmal\b)\s*`)

// lastUnit is the unit that a text ends with.
var lastUnit = regexp.MustCompile(`[^\d\s.,/]+$`)

// ParseFirebox reads "55 L", "2 ft3", or the sides, wide by deep by high: "46 x 38 x 33 cm",
// "18 x 15 x 13 in". A unit stands behind each side, or behind the last for all; without one
// sides are millimetres, or inches.
func ParseFirebox(typed string, s System) (Firebox, error) {
	parts := between.Split(strings.TrimSpace(typed), -1)
	if len(parts) < 2 {
		v, err := ParseVolume(typed, s)
		return Firebox{Volume: v}, err
	}
	if len(parts) != 3 {
		return Firebox{}, &ParseError{Input: typed, What: "volume", Reason: "a firebox has three sides", Try: "46 x 38 x 33 cm, or 55 L"}
	}
	unit := lastUnit.FindString(parts[2])
	out := Firebox{Volume: 1000}
	for i, p := range parts {
		if unit != "" && !lastUnit.MatchString(p) {
			p += " " + unit
		}
		side, err := ParseSmallLength(p, s)
		if err != nil {
			return Firebox{}, err
		}
		out.Sides[i] = side
		out.Volume *= Litre(side)
	}
	return out, nil
}
