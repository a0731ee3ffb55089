package wish

import (
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
)

// longBurn is from how long a fire is to last thick pieces are worth picking out.
const longBurn = 6 * time.Hour

// Same tells whether two picks are of one stack, whatever the size of their pieces.
func (p Pick) Same(o Pick) bool { return p.ID == o.ID && p.Stack.Name == o.Stack.Name }

// Sizes is the wish with the sizes of its stacks as woods of their own, where they serve: thin
// pieces to light with, thick ones for a night, an absence, coals at the end, or a long fire.
func (w Wish) Sizes() Wish {
	var more []Pick
	add := func(p Pick, size wood.Size) {
		if s, ok := p.Stack.Of(size); ok {
			more = append(more, Pick{p.ID, s})
		}
	}
	for _, p := range w.Woods() {
		if w.Start.FirstFire() {
			add(p, wood.ThinPieces)
		}
		if w.Aim == Overnight || w.Aim == Away || w.Embers || w.For >= longBurn {
			add(p, wood.ThickPieces)
		}
	}
	w.Others = append(w.Others[:len(w.Others):len(w.Others)], more...)
	return w
}

// HasSize tells whether a stack's pieces of a size are among the woods.
func (w Wish) HasSize(of int, size wood.Size) bool {
	for _, p := range w.Woods() {
		if p.Same(w.Woods()[of]) && p.Stack.Size == size {
			return true
		}
	}
	return false
}

// Kindling by size: what is thinner than a thumb takes from the starter, what is as thick as a
// thumb from that.
const (
	fineStick  = units.Kilogram(0.1)  // a stick at most so heavy is finer than a thumb
	thumbStick = units.Kilogram(0.18) // 3 cm thick and a quarter of a metre long; 0.1 to 0.25
	fineShare  = 0.5                  // of the kindling that is fine
)

// KindlingBySize is the armful of kindling as it is fed by size: first fine sticks, then thumb-thick
// ones. A stack of kindling that has sizes gives its own.
func (w Wish) KindlingBySize(lay fire.Lay) (fine, thumb fire.Load) {
	all := w.KindlingLoad(lay)
	fine, thumb = all, all
	fine.PieceMass, thumb.PieceMass = min(all.PieceMass, fineStick), max(all.PieceMass, thumbStick)
	if k := w.Kindling; k != nil && k.ID == all.StackID {
		if k.Stack.Thin > 0 {
			fine.PieceMass = min(fine.PieceMass, k.Stack.Thin)
		}
		if k.Stack.Thick > 0 {
			thumb.PieceMass = max(all.PieceMass, k.Stack.Thick)
		}
	}
	fine.Pieces = max(4, int(fineShare*float64(all.Mass()/fine.PieceMass)+0.5))
	thumb.Pieces = max(2, int((1-fineShare)*float64(all.Mass()/thumb.PieceMass)+0.5))
	thumb.Lay, thumb.StarterKind, thumb.Starter = fire.OnCoals, "", 0
	return fine, thumb
}
