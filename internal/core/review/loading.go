package review

import (
	"slices"
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
)

// lateLoad: a load on coals that had gone down, sooner, and all that was done to it with
// it. Under some three grams of coals for each litre of firebox a load takes long to flame.
func lateLoad(f *found) []Finding {
	acts := slices.Collect(f.NotReadings())
	for _, l := range f.loads {
		at := f.since(l)
		if l.Load.Lay != fire.OnCoals || at < 40*time.Minute {
			continue
		}
		s := f.samples(at-time.Minute, at)
		if len(s) == 0 || float64(s[0].Coals) > 0.003*float64(f.Stove.Volume) {
			continue
		}
		by := -15 * time.Minute
		var edits []Edit
		for _, e := range acts {
			if since := e.At.Sub(l.At); Moves(*e) && since >= -4*time.Minute && since < time.Hour {
				edits = append(edits, Edit{Kind: Later, Entry: e.ID, By: by})
			}
		}
		return []Finding{{Code: LateLoad, At: at, By: by, Edits: edits[:min(len(edits), mostEdits)]}}
	}
	return nil
}

// heldFor is how many minutes a catalyst must have been hot before its bypass is shut.
const heldFor = 6

// bypassOpen: shut once the catalyst was hot for some minutes. Open, the smoke goes past it,
// and shut too early it clogs: so it is asked only where it was hot for twice as long.
func bypassOpen(f *found) []Finding {
	bypass, ok := f.Stove.Bypass()
	if !ok {
		return nil
	}
	var moves []burn.Entry
	for e := range f.NotReadings() {
		if e.Kind == burn.Control && e.Control == bypass.Key {
			moves = append(moves, *e)
		}
	}
	open, since, hot := true, time.Duration(0), 0
	lightOff := stove.CatalystProbe.DefaultBand().Low
	for _, s := range f.m.Replay.Samples {
		for len(moves) > 0 && f.since(moves[0]) <= s.At {
			open, moves = moves[0].Opening > 0.5, moves[1:]
		}
		if t, _ := s.Reading(stove.CatalystProbe); open && t > lightOff {
			if hot++; hot == heldFor {
				since = s.At
			}
		} else if hot < heldFor {
			hot = 0
		}
	}
	if hot < 2*heldFor {
		return nil
	}
	return []Finding{{Code: BypassOut, At: since, Control: bypass, From: 1, Edits: []Edit{{Kind: Turned, By: since, Key: bypass.Key}}}}
}

// tooMuch: a piece fewer where the room was more than a degree over what is wanted for an
// hour, half the pieces where it was three degrees, and the last load not at all where
// there was another before it. Nobody uses that heat, and it is the wood that a smaller
// load saves.
func tooMuch(f *found) []Finding {
	over, far := 0, 0
	for _, s := range f.m.Replay.Samples {
		room := float64(s.Room)
		if f.Wanted[1] <= f.Wanted[0] {
			break
		}
		if room > f.Wanted[1]+1 {
			over++
		}
		if room > f.Wanted[1]+3 {
			far++
		}
	}
	if over < 60 || len(f.loads) == 0 {
		return nil
	}
	last := f.loads[len(f.loads)-1]
	pieces := last.Load.Pieces
	fewer := func(to int) Finding {
		return Finding{Code: TooMuch, At: f.since(last), From: float64(pieces), To: float64(to), Edits: []Edit{{Kind: SetTo, Entry: last.ID, To: float64(to)}}}
	}
	var out []Finding
	if pieces >= 2 {
		out = append(out, fewer(pieces-1))
	}
	if far >= 60 && pieces >= 4 {
		out = append(out, fewer(pieces/2))
	}
	if far >= 60 && len(f.loads) > 1 {
		out = append(out, Finding{Code: TooMuch, At: f.since(last), From: float64(pieces), Edits: []Edit{{Kind: Without, Entry: last.ID}}})
	}
	return out
}

// earlyLoad: a load that was put on while the gauge was over the middle of its band and
// flames stood, later by some minutes. On wood that still flames it runs hot, and its gas
// finds no air.
func earlyLoad(f *found) []Finding {
	gauge := f.m.Curve(f.Burn)
	acts := slices.Collect(f.NotReadings())
	var out []Finding
	for i, l := range f.loads {
		at := f.since(l)
		t, ok := gauge(at)
		s := f.samples(at-time.Minute, at)
		hot := ok && float64(t) > (float64(f.guide.Band.Low)+float64(f.guide.Band.High))/2
		if i == 0 || l.Load.Lay != fire.OnCoals || !hot || len(s) == 0 || float64(s[0].Wood) < 0.3*f.loads[i-1].Load.Dry() {
			continue
		}
		for _, by := range []time.Duration{12 * time.Minute, 25 * time.Minute} {
			var edits []Edit
			for _, e := range acts {
				if since := e.At.Sub(l.At); Moves(*e) && since >= -4*time.Minute && since < 40*time.Minute {
					edits = append(edits, Edit{Kind: Later, Entry: e.ID, By: by})
				}
			}
			out = append(out, Finding{Code: EarlyLoad, At: at, By: by, Edits: edits[:min(len(edits), mostEdits)]})
		}
	}
	return out[max(0, len(out)-4):]
}
