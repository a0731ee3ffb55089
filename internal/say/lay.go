package say

import (
	"smolder/internal/core/lay"
	"smolder/internal/lang"
)

// Placing says what is laid at one time: "3 splits end-on, a finger apart".
func Placing(p lay.Placing, loc lang.Locale) string {
	what := loc.N(p.Pieces, "one split", "%d splits")
	if p.Kindling {
		what = loc.N(p.Pieces, "one stick of kindling", "%d sticks of kindling")
	}
	switch p.Do {
	case lay.Layer:
		return loc.F("%s %s, a finger apart", what, Direction(p.Direction))
	case lay.Crossed:
		return what + loc.T(", crossed, with air between")
	case lay.Turned:
		return what + loc.T(" side by side, each layer turned a little")
	case lay.InAV:
		return what + loc.T(" as a V, open towards the door")
	case lay.Between:
		return what + loc.T(" between them, loose")
	case lay.BackLog:
		return what + loc.T(" across the back, as a back log")
	}
	return what + loc.T(" leaned on it from the front, fanned")
}

// Burns says how many burns.
func Burns(n int, loc lang.Locale) string { return loc.N(n, "one burn", "%d burns") }

// Winters says how many winters.
func Winters(n int, loc lang.Locale) string { return loc.N(n, "one winter", "%d winters") }

// Placings says all that is laid, in its order.
func Placings(list []lay.Placing, loc lang.Locale) []string {
	out := make([]string, len(list))
	for i, p := range list {
		out[i] = Placing(p, loc)
	}
	return out
}
