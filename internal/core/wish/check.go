package wish

import (
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/reason"
	"smolder/internal/core/stove"
	"smolder/internal/core/wood"
)

// Check refuses a wish that no search could answer; the error is a *[Refusal].
func (w Wish) Check() error {
	if r := w.refused(); r != nil {
		return r
	}
	return nil
}

func (w Wish) refused() *Refusal {
	for _, pick := range w.Woods() {
		if r := w.refusedWood(pick.Stack); r != nil {
			return r
		}
	}
	if w.Confined() && w.Unattended() && !w.Stove.Unattended {
		return refuse(Unattended)
	}
	if w.Start == Cold {
		if b := BeforeLighting(w); b.DoNot {
			return w.doNotLight(b)
		}
	}
	if !w.Presence().Somebody(0) {
		back, ever := w.Presence().Next(0)
		if !ever {
			return refuse(NobodyThere)
		}
		return refuse(NobodyYet, reason.Duration(back.Round(time.Minute)))
	}
	if w.Low >= w.High {
		return refuse(BandFalls, reason.Room(19), reason.Room(21))
	}
	if w.Lay != "" && (!w.Lay.Known() || w.Lay == fire.OnCoals) {
		return refuse(UnknownLay, reason.Text(string(w.Lay)))
	}
	if w.nightWet() {
		return refuse(NightWet, reason.Text(w.Wood.Stack.Name), reason.Share(w.Wood.Stack.Moisture()))
	}
	if w.Aim == HoldGauge && w.Target == (Target{}) {
		return refuse(NoTarget)
	}
	return w.refusedFixed()
}

// Suits tells whether this stove can be planned for with a stack: that it is wood,
// fits, is there, and is not too wet to burn clean.
func (w Wish) Suits(s wood.Stack) bool { return w.refusedWood(s) == nil }

func (w Wish) refusedWood(s wood.Stack) *Refusal {
	// What cannot be changed comes first: the kind of wood, its length, whether any is left.
	// Then what a saw, an axe or a summer would change.
	longest := max(w.Stove.LongestPiece(stove.EndOn), w.Stove.LongestPiece(stove.Sideways))
	name := reason.Text(s.Name)
	switch {
	case s.Species.Mineral:
		return refuse(MineralWood, name)
	case s.PieceLength > longest:
		return refuse(TooLong, name, reason.Size(s.PieceLength), reason.Size(longest))
	case s.Pieces() < 1:
		return refuse(UsedUp, name)
	case s.PieceMass > w.Stove.MaxLoad:
		if w.Stove.Takes("max-load") {
			return refuse(HeavyUntold, name, reason.Mass(s.PieceMass), reason.Mass(w.Stove.MaxLoad))
		}
		return refuse(TooHeavy, name, reason.Mass(s.PieceMass), reason.Mass(w.Stove.MaxLoad))
	case s.Moisture() > wood.Unburnable:
		return refuse(TooWet, name, reason.Share(s.Moisture()))
	}
	return nil
}
