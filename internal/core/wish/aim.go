package wish

import "slices"

// An Aim is what the burn is for.
type Aim string

// The aims.
const (
	WarmUp    Aim = "warm-up"
	Hold      Aim = "hold"
	Overnight Aim = "overnight"
	TakeOff   Aim = "take-off"
	Away      Aim = "away"
	DryOut    Aim = "dry-out" // a damp room, or a new stove's first small fires
)

// Aims lists the aims in the order in which they are asked for most.
var Aims = []Aim{Hold, WarmUp, Overnight, TakeOff, Away, DryOut}

// Known tells whether a is one of [Aims].
func (a Aim) Known() bool { return slices.Contains(Aims, a) }
