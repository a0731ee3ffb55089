package stove

import (
	"math"
)

// A ScaleKind is the way a control is marked.
type ScaleKind string

// The kinds of scale.
const (
	Turns       ScaleKind = "turns"
	Millimetres ScaleKind = "mm"
	Sixteenths  ScaleKind = "sixteenths"
	Lever       ScaleKind = "lever"
	Notches     ScaleKind = "notches"
	PercentOpen ScaleKind = "percent"
)

// ScaleKinds lists the kinds, the most common first.
var ScaleKinds = []ScaleKind{Lever, Turns, Millimetres, Sixteenths, Notches, PercentOpen}

// A Scale turns the owner's reading into an opening from 0 (shut) to 1 (fully
// open) and back.
type Scale struct {
	Kind     ScaleKind
	Full     float64  // turns, mm or sixteenths when fully open
	Notches  []string // from shut to open
	OpenLeft bool     // a lever that opens to the left
}

// Nearest returns the opening nearest to one that a hand finds by the marks: a
// notch, a named share of a lever's way, a quarter turn, a whole millimetre or
// sixteenth, five percent.
func (s Scale) Nearest(opening float64) float64 {
	steps := 20.0 // of five percent
	switch s.Kind {
	case Notches:
		steps = float64(len(s.Notches) - 1)
	case Turns:
		steps = 4 * s.Full
	case Millimetres, Sixteenths:
		steps = s.Full
	case Lever:
		return nearestShare(opening)
	}
	if steps < 1 {
		return opening
	}
	return math.Min(1, math.Round(opening*steps)/steps)
}

func nearestShare(opening float64) float64 {
	best := math.Round(math.Max(0, math.Min(1, opening))) // an end of its way
	for _, f := range Shares {
		if math.Abs(f.Opening-opening) < math.Abs(best-opening) {
			best = f.Opening
		}
	}
	return best
}

// AtLeast returns the lowest mark that opens no less than that, but for a hair.
func (s Scale) AtLeast(opening float64) float64 {
	const hair, fine = 1e-9, 200
	for i := range fine + 1 {
		if o := s.Nearest(opening + float64(i)/fine); o >= opening-hair {
			return o
		}
	}
	return 1
}

// Steps returns the openings offered for one-tap entry, from shut to open.
func (s Scale) Steps() []float64 {
	if s.Kind == Notches {
		steps := make([]float64, len(s.Notches))
		for i := range steps {
			steps[i] = float64(i) / float64(len(steps)-1)
		}
		return steps
	}
	return []float64{0, 1. / 8, 1. / 4, 1. / 3, 1. / 2, 3. / 4, 1}
}
