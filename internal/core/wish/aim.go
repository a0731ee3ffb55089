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
	HoldGauge Aim = "gauge"   // a gauge at a number: to bake, to simmer, to warm a tank
)

// Aims lists the aims in the order in which they are asked for most.
var Aims = []Aim{Hold, WarmUp, Overnight, TakeOff, Away, DryOut, HoldGauge}

// Known tells whether a is one of [Aims].
func (a Aim) Known() bool { return slices.Contains(Aims, a) }
