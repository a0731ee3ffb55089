package kit

import (
	"smolder/internal/core/house"
	"smolder/internal/lang"
)

// A Figure is a computed value that opens its working: the formula in words,
// the inputs, and where each came from.
type Figure struct {
	Key          string // what it is, where something asks; empty: nobody does
	Label, Value string
	Formula      string
	Inputs       []Input
}

// An Input is one thing a figure was computed from.
type Input struct {
	Name, Value string
	From        lang.Message
}

// Where an input came from.
const (
	Measured lang.Message = "measured"
	Entered  lang.Message = "entered"
	Assumed  lang.Message = "assumed"
	Computed lang.Message = "computed"
)

// LossFrom says where a space's heat loss comes from, for a figure's working.
func LossFrom(h house.House) lang.Message {
	switch {
	case h.Assumed:
		return Assumed
	case h.Given > 0:
		return Entered
	}
	return Computed
}

// NewFigure is a figure with its working.
func NewFigure(label, value, how string, inputs ...Input) Figure {
	return Figure{Label: label, Value: value, Formula: how, Inputs: inputs}
}

// As gives a figure its key.
func (f Figure) As(key string) Figure {
	f.Key = key
	return f
}

// From is one input of a figure: what it is, its value, and where it comes from.
func From(name, value string, source lang.Message) Input {
	return Input{Name: name, Value: value, From: source}
}
