package wood

import (
	"math"
	"slices"

	"smolder/internal/core/units"
)

// SolidShare is the share of wood in the outline of a neat stack of splits;
// the rest is air. 0.60 to 0.70 by shape of the pieces.
const SolidShare = 0.65

// A Stack is wood of one kind, size and dryness that lies together.
type Stack struct {
	Name        string
	Species     Species
	PieceMass   units.Kilogram // a usual piece, as it is
	PieceLength units.Metre    // along the grain
	Thin        units.Kilogram // a piece of its thinnest, where there are sizes; 0: all alike
	Thick       units.Kilogram // and of its thickest
	Size        Size           // which of them PieceMass is, where they are picked out; empty: the usual
	Reading     units.Fraction // pin meter on a fresh face, dry basis
	WoodTemp    units.Celsius  // of the wood when it was read
	Mass        units.Kilogram // what is left, as it is
	Kindling    bool           // split fine, for lighting only
	// Spread is how far off the moisture may be on either side where Reading is
	// an [Estimate]'s middle and no meter's; 0 where a meter was read.
	Spread units.Fraction
	// Colder is how much colder than the room its pieces are when they are put on, K:
	// straight from outdoors.
	Colder units.Celsius
	// Assumed lists what is taken as usual because its owner does not know it:
	// "piece-mass", "piece-length", "mass".
	Assumed []string
}

// Moisture returns the moisture on dry basis, corrected for the wood's
// temperature, or as it is estimated. What a meter reads too much or too little in one kind
// of wood is left to how far off any meter is: makers' tables of it differ.
func (s Stack) Moisture() units.Fraction {
	if s.Spread > 0 {
		return s.Reading
	}
	return DryBasis(s.Reading, s.WoodTemp)
}

// Takes tells whether a field's value is assumed.
func (s Stack) Takes(field string) bool { return slices.Contains(s.Assumed, field) }

// NetEnergy returns MJ per kg of this wood as it is fired.
func (s Stack) NetEnergy() float64 { return NetEnergy(s.Species.Gross, s.Moisture()) }

// Pieces returns how many usual pieces are left, rounded down.
func (s Stack) Pieces() int {
	if s.PieceMass <= 0 {
		return 0
	}
	return int(math.Floor(float64(s.Mass/s.PieceMass) + 1e-9))
}

// PieceThickness returns the side of a square piece of this mass and length, m.
func (s Stack) PieceThickness() units.Metre {
	density := s.Species.Gravity * 1000 * (1 + float64(s.Moisture()))
	if density <= 0 || s.PieceLength <= 0 {
		return 0
	}
	return units.Metre(math.Sqrt(float64(s.PieceMass) / density / float64(s.PieceLength)))
}

// Load is what one load of a species holds.
type Load struct {
	DryMass units.Kilogram
	Energy  units.Joule // net
	Stacked units.Litre // in a neat stack
}

// LoadOf returns dry mass, net energy and stacked volume of a mass of wood.
func LoadOf(s Species, u units.Fraction, asFired units.Kilogram) Load {
	dry := DryMass(asFired, u)
	return Load{
		DryMass: dry,
		Energy:  units.Joule(NetEnergy(s.Gross, u) * float64(asFired) * 1e6),
		Stacked: units.Litre(float64(dry) / s.Gravity / SolidShare),
	}
}

// A Size is which pieces of a stack are meant that has some thinner and some thicker ones.
type Size string

// The sizes; empty: the usual pieces.
const (
	ThinPieces  Size = "thin"
	ThickPieces Size = "thick"
)

// Known tells whether it is one of the sizes, or none.
func (s Size) Known() bool { return s == "" || s == ThinPieces || s == ThickPieces }

const (
	// clearlyOther is how much lighter or heavier than a usual piece one must be to count as
	// another size: less is within what pieces of one size differ by.
	clearlyOther = 1.2
	// sizeShare is how much of a stack is of a size that is not the usual, of its mass.
	sizeShare = 0.3
)

// Of is the stack with the pieces of one of its sizes alone; false: it has none of them.
func (s Stack) Of(size Size) (Stack, bool) {
	mass := map[Size]units.Kilogram{ThinPieces: s.Thin, ThickPieces: s.Thick}[size]
	other := size == ThinPieces && mass*clearlyOther < s.PieceMass || size == ThickPieces && mass > clearlyOther*s.PieceMass
	if mass <= 0 || !other {
		return s, false
	}
	s.PieceMass, s.Mass, s.Size, s.Thin, s.Thick = mass, s.Mass*sizeShare, size, 0, 0
	return s, s.Pieces() > 0
}
