package burn

import (
	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
)

// Done is how a burn was made, as far as it can be made again.
type Done struct {
	First fire.Load       // of wood on the kindling; no pieces: none was put there
	Main  fire.Load       // the first load on coals
	Air   stove.Control   // the main air
	Brisk float64         // its opening while the main load charred; 0: not known
	Final float64         // and where it was left; 0: nobody moved it, or it was shut
	Lay   fire.Lay        // of the first fire
	Way   stove.Direction // of the main load, or of the first
}

// AsDone tells how a burn was made: its loads, its first and last settings.
func (b Burn) AsDone() Done {
	d := Done{}
	d.Air, _ = b.Stove.MainAir()
	opening, moved, lit := 0.0, false, false
	for e := range b.NotReadings() {
		switch {
		case e.Kind == Light:
			lit = true
		case e.Kind == Load && e.Load != nil && !e.Load.Kindling && !e.Load.Species.Mineral:
			switch l := *e.Load; {
			case !lit && d.First.Pieces == 0 && l.Lay != fire.OnCoals:
				d.First, d.Lay, d.Way = l, l.Lay, l.Direction
			case d.Main.Pieces == 0:
				d.Main, d.Way, d.Brisk = l, l.Direction, opening
			}
		case e.Kind == Control && e.Control == d.Air.Key:
			// What it is set to within minutes of the load is what the load charred with.
			if d.Main.Pieces > 0 && !moved && e.Opening >= opening {
				d.Brisk = e.Opening
			} else if d.Main.Pieces > 0 {
				moved = true
			}
			opening, d.Final = e.Opening, e.Opening
		}
	}
	return d
}
