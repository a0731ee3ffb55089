package web

import "smolder/internal/core/house"

// A figure is a computed value that opens its working: the formula in words,
// the inputs, and where each came from.
type figure struct {
	Label, Value string
	Formula      string
	Inputs       []input
}

// An input is one thing a figure was computed from.
type input struct{ Name, Value, From string }

// Where an input came from.
const (
	measured = "measured"
	entered  = "entered"
	assumed  = "assumed"
	computed = "computed"
)

// lossFrom says where a space's heat loss comes from, for a figure's working.
func lossFrom(h house.House) string {
	switch {
	case h.Assumed:
		return assumed
	case h.Given > 0:
		return entered
	}
	return computed
}
