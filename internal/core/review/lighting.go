package review

import (
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
)

// litFromBelow: of wood above the flames the gas goes up before it can burn; of wood below
// them it passes through. Rafts are lit from above too.
func litFromBelow(f *found) []Finding {
	for _, l := range f.loads {
		if lay := l.Load.Lay; f.lit >= 0 && lay != fire.OnCoals && lay != fire.TopDown && lay != fire.Raft {
			return []Finding{{Code: Lit, At: f.lit, Edits: []Edit{{Kind: LaidOut, Lay: fire.TopDown}}}}
		}
	}
	return nil
}

// doorShutEarly: within the first minutes. Before the flue is warm it pulls little, and the
// door is the only inlet that is large enough; after some six minutes it does not matter.
//
// It is not asked: how hard a gap blows at the fire hangs on a finger's width, which no log
// has, and advised by a computation somebody would leave a door open on a fire that runs away.
func doorShutEarly(f *found) []Finding {
	if !doorsAreCalibrated {
		return nil
	}
	for _, d := range f.doors {
		at := f.since(d)
		if f.lit < 0 || at < f.lit || d.Door != fire.Shut || at-f.lit > 6*time.Minute {
			continue
		}
		by := []time.Duration{5 * time.Minute, 9 * time.Minute}
		var out []Finding
		for _, b := range by {
			out = append(out, Finding{Code: ShutEarly, At: at, By: b, Edits: []Edit{{Kind: Later, Entry: d.ID, By: b}}})
		}
		return out
	}
	return nil
}

// doorsAreCalibrated tells whether the gap of a door is known well enough for advice to leave
// it longer.
const doorsAreCalibrated = false

// doorAjarLong: a door that stands ajar lets in several times what the flames use. It blows
// at them, and what they give goes up the flue; half the time is tried.
func doorAjarLong(f *found) []Finding {
	for i, d := range f.doors {
		if d.Door == fire.Shut || i+1 >= len(f.doors) || f.doors[i+1].Door != fire.Shut {
			continue
		}
		if long := f.doors[i+1].At.Sub(d.At); long > 15*time.Minute {
			by := -long / 2
			return []Finding{{Code: AjarLong, At: f.since(f.doors[i+1]), By: by, Edits: []Edit{{Kind: Later, Entry: f.doors[i+1].ID, By: by}}}}
		}
	}
	return nil
}

// wetWood: each kilogram of water costs 2.6 MJ before anything burns, and cools the flames
// that would burn the gas. All of the wood is tried at what a meter reads of ready wood.
func wetWood(f *found) []Finding {
	const dry, wet = 0.17, wood.ReadyTo // dry basis; between them it is not worth a word
	worst, at := units.Fraction(0), time.Duration(0)
	for _, l := range f.loads {
		if l.Load.Guessed {
			continue // nobody has read it: drier wood is no advice where nobody knows how dry it is
		}
		if l.Load.Moisture > worst {
			worst, at = l.Load.Moisture, f.since(l)
		}
	}
	if worst <= wet {
		return nil
	}
	return []Finding{{Code: Wet, At: at, From: float64(worst), To: dry, Edits: []Edit{{Kind: Drier, To: dry}}}}
}
