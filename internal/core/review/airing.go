package review

import (
	"time"

	"smolder/internal/core/burn"
)

// downEarly: each turn-down within half an hour of a load, later by some minutes, and those
// after it with it, so that their order stays. Wood that is not yet burning all over goes
// on gassing when its air is taken back, and there is no flame to burn it.
func downEarly(f *found) []Finding {
	var out []Finding
	for i, m := range f.moves {
		if m.Opening >= f.before(i)-0.1 || !f.soonAfterLoad(m) {
			continue
		}
		for _, by := range []time.Duration{4 * time.Minute, 8 * time.Minute, 14 * time.Minute} {
			edits := []Edit{{Kind: Later, Entry: m.ID, By: by}}
			for _, next := range f.moves[i+1:] {
				if next.Opening < f.before(i) && next.At.Sub(m.At) < 40*time.Minute {
					edits = append(edits, Edit{Kind: Later, Entry: next.ID, By: by})
				}
			}
			out = append(out, Finding{Code: DownEarly, At: f.since(m), By: by, Control: f.air, From: m.Opening, Edits: edits})
		}
		if len(out) >= 9 {
			break
		}
	}
	return out
}

// soonAfterLoad tells whether a move of the air is of the charring of a load.
func (f *found) soonAfterLoad(m burn.Entry) bool {
	for _, l := range f.loads {
		if since := m.At.Sub(l.At); since > 0 && since < 30*time.Minute {
			return true
		}
	}
	return false
}

// downLate: where it ran too hot, the air back before it did. It is asked of every load,
// and the last two answers are kept: what makes a stove too hot is seldom its first wood.
func downLate(f *found) []Finding {
	if f.m.TooHot < 2*time.Minute && f.m.Replay.Summary.TooHot < 2*time.Minute {
		return nil
	}
	var out []Finding
	for _, l := range f.loads {
		load := f.since(l)
		for _, wait := range []time.Duration{10 * time.Minute, 18 * time.Minute} {
			at := load + wait
			if at >= f.lasted-10*time.Minute || f.openingAt(at) < 0.45 {
				continue
			}
			to := f.air.Scale.Nearest(1. / 3)
			out = append(out, Finding{Code: DownLate, At: at, Control: f.air, From: f.openingAt(at), To: to, By: wait,
				Edits: []Edit{{Kind: Turned, By: at, Key: f.air.Key, To: to}}})
		}
	}
	return out[max(0, len(out)-4):]
}

// openingAt is where the main air stood at a moment; before anybody moved it, open.
func (f *found) openingAt(at time.Duration) float64 {
	o := 1.0
	for _, m := range f.moves {
		if f.since(m) <= at {
			o = m.Opening
		}
	}
	return o
}

// turnedTooFar: the last setting one and two marks further open. Below what a load needs to
// flame it smoulders; how far that is differs more from stove to stove than anything else.
func turnedTooFar(f *found) []Finding {
	if len(f.moves) == 0 {
		return nil
	}
	last := f.moves[len(f.moves)-1]
	var out []Finding
	for _, more := range []float64{0.1, 0.2} {
		to := f.air.Scale.Nearest(last.Opening + more)
		if to > last.Opening+0.02 && last.Opening < 0.5 {
			out = append(out, Finding{Code: TooFar, At: f.since(last), Control: f.air, From: last.Opening, To: to, Edits: []Edit{{Kind: SetTo, Entry: last.ID, To: to}}})
		}
	}
	return out
}

// tooOpen: the last setting lower, where the wood was gone soon or its heat up the flue:
// more air than the gas needs carries its heat away. One that was never turned down is
// tried at a third of the way, a quarter of an hour after the last load.
func tooOpen(f *found) []Finding {
	if len(f.moves) == 0 { // never touched at all
		if len(f.loads) == 0 || f.air.Key == "" {
			return nil
		}
		at, to := f.since(f.loads[len(f.loads)-1])+15*time.Minute, f.air.Scale.Nearest(1./3)
		return []Finding{{Code: TooOpen, At: at, Control: f.air, From: 1, To: to, Edits: []Edit{{Kind: Turned, By: at, Key: f.air.Key, To: to}}}}
	}
	last := f.moves[len(f.moves)-1]
	if last.Opening < 0.3 || len(f.loads) == 0 {
		return nil
	}
	if last.Opening >= 0.95 { // never turned down
		at := f.since(f.loads[len(f.loads)-1]) + 15*time.Minute
		to := f.air.Scale.Nearest(1. / 3)
		return []Finding{{Code: TooOpen, At: at, Control: f.air, From: last.Opening, To: to, Edits: []Edit{{Kind: Turned, By: at, Key: f.air.Key, To: to}}}}
	}
	to := f.air.Scale.Nearest(last.Opening * 0.65)
	return []Finding{{Code: TooOpen, At: f.since(last), Control: f.air, From: last.Opening, To: to, Edits: []Edit{{Kind: SetTo, Entry: last.ID, To: to}}}}
}
