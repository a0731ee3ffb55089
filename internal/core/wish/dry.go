package wish

import (
	"slices"
	"strings"

	"smolder/internal/core/units"
	"smolder/internal/core/wood"
)

const (
	// WetFrom is how wet wood is, on the dry basis, that nothing is planned with while there
	// is drier; the meter's 20 %.
	WetFrom = wood.ReadyTo
	// aMeterOff is how far a reading of 20 may be off.
	aMeterOff units.Fraction = 0.005
	// enoughDry is how much dry wood is enough to leave the wet, as manual's loads.
	enoughDry = 2.0
)

// Dry is the wish without the wood that is wet, where enough of what it may take is dry:
// dry before wet, always. This goes before what is computed: what a wet load does to glass,
// flue and patience is more than its grams, and nobody knows how wet it is inside.
func (w Wish) Dry() Wish {
	wet := func(p Pick) bool { // what its owner has named for a load stays
		return tooWet(p) && !(w.Fixed.Any() && (p.ID == w.Fixed.FirstOf || p.ID == w.Fixed.MainOf))
	}
	woods := w.Woods()
	dry := slices.DeleteFunc(slices.Clone(woods), wet)
	mass := units.Kilogram(0)
	for _, p := range dry {
		mass += p.Stack.PieceMass * units.Kilogram(p.Stack.Pieces())
	}
	if len(dry) == 0 || len(dry) == len(woods) || w.Aim != Overnight && float64(mass) < enoughDry*float64(w.Stove.MaxLoad) {
		return w // for a night any dry piece goes before a wet load
	}
	var left []string
	for _, p := range woods {
		if wet(p) {
			left = append(left, p.Stack.Name)
		}
	}
	w.Wood, w.Others, w.LeftWet = dry[0], slices.Clone(dry[1:]), strings.Join(left, " and ")
	return w
}

// tooWet tells whether a stack is over what is burnt while there is drier.
func tooWet(p Pick) bool { return p.Stack.Moisture() > WetFrom+aMeterOff }

// nightWet tells whether a night is asked for with nothing but wet wood: turned down it
// smoulders for hours with nobody by.
func (w Wish) nightWet() bool {
	return w.Aim == Overnight && !slices.ContainsFunc(w.Woods(), func(p Pick) bool { return !tooWet(p) })
}
