package say

import (
	"fmt"

	"smolder/internal/core/lay"
)

// Placing says what is laid at one time: "3 splits end-on, a finger apart".
func Placing(p lay.Placing) string {
	what := counted(p.Pieces, "split", "splits")
	if p.Kindling {
		what = counted(p.Pieces, "stick of kindling", "sticks of kindling")
	}
	switch p.Do {
	case lay.Layer:
		return fmt.Sprintf("%s %s, a finger apart", what, p.Direction)
	case lay.Crossed:
		return what + ", crossed, with air between"
	case lay.Turned:
		return what + " side by side, each layer turned a little"
	case lay.InAV:
		return what + " as a V, open towards the door"
	case lay.Between:
		return what + " between them, loose"
	case lay.BackLog:
		return what + " across the back, as a back log"
	}
	return what + " leaned on it from the front, fanned"
}

// Burns says how many burns.
func Burns(n int) string { return counted(n, "burn", "burns") }

// Winters says how many winters.
func Winters(n int) string { return counted(n, "winter", "winters") }

func counted(n int, one, many string) string {
	if n == 1 {
		return "one " + one
	}
	return fmt.Sprintf("%d %s", n, many)
}

// Placings says all that is laid, in its order.
func Placings(list []lay.Placing) []string {
	out := make([]string, len(list))
	for i, p := range list {
		out[i] = Placing(p)
	}
	return out
}
