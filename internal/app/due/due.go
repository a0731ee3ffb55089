// Package due puts together how a household's upkeep stands: what was done when, and
// what its stoves have been through since.
package due

import (
	"cmp"
	"context"
	"slices"
	"time"

	"smolder/internal/core/units"
	"smolder/internal/core/upkeep"
	"smolder/internal/store"
)

// A Line is one task as it stands, of a stove or of the household.
type Line struct {
	upkeep.Status
	Stove store.Stove // zero: the household's
	Place upkeep.Place
}

const (
	lookBack = 3 * 365 * 24 * time.Hour
	litFor   = 6 * 7 * 24 * time.Hour // a stove is in use for so long after a fire
	tightN50 = 3.0                    // air changes at 50 Pa, under which a room leaks little
)

// Of gathers it at a moment: what is due first, the most dangerous before the others.
// alarms is when the household says that it tested its alarms; the zero time: never.
func Of(ctx context.Context, h store.Household, stoves []store.Stove, alarms, now time.Time) ([]Line, error) {
	done, err := h.LastDone(ctx)
	if err != nil {
		return nil, err
	}
	wears, err := h.Wears(ctx, now.Add(-lookBack))
	if err != nil {
		return nil, err
	}
	rests, err := h.Rests(ctx)
	if err != nil {
		return nil, err
	}
	burnt, err := h.BurntChimneys(ctx)
	if err != nil {
		return nil, err
	}
	resting := func(s upkeep.Status, stove int64) upkeep.Status {
		if r, ok := rests[stove][string(s.Task.Key)]; ok && r.Until.Valid {
			s.PutOff, s.Why = r.Until.V, r.Note
		}
		return s
	}
	var out []Line
	for _, st := range stoves {
		p := placeOf(st, wears, now)
		for _, t := range upkeep.Tasks {
			if t.Household || !t.Applies(p) {
				continue
			}
			since := done[st.ID][string(t.Key)]
			u := useSince(st.ID, wears, since)
			u.Painted = unfired(done[st.ID])
			switch t.Key {
			case upkeep.Inspect:
				_, u.Burnt = burnt[st.ID]
			case upkeep.Ash:
				u.Charcoal = upkeep.CharcoalOf(rests[st.ID][string(t.Key)].Note)
			}
			out = append(out, Line{resting(upkeep.Of(t, p, since, now, u), st.ID), st, p})
		}
	}
	for _, t := range upkeep.Tasks {
		if !t.Household || len(stoves) == 0 {
			continue
		}
		since := done[0][string(t.Key)]
		if t.Key == upkeep.Detectors && alarms.After(since) {
			since = alarms
		}
		out = append(out, Line{Status: resting(upkeep.Of(t, upkeep.Place{Winter: true}, since, now, upkeep.Use{}), 0)})
	}
	slices.SortStableFunc(out, func(a, b Line) int {
		rank := func(l Line) int {
			switch {
			case l.Rests(now):
				return 3
			case l.Danger():
				return 0
			case l.IsDue():
				return 1
			case l.Soon():
				return 2
			}
			return 3
		}
		if rank(a) == rank(b) && !a.Danger() { // dangers stay in the order of the tasks
			return cmp.Compare(b.Share, a.Share)
		}
		return cmp.Compare(rank(a), rank(b))
	})
	return out, nil
}

// unfired tells that a stove is new, or was painted, and has not had its first fires since.
func unfired(done map[string]time.Time) bool {
	painted := done[string(upkeep.Painted)]
	return !painted.IsZero() && !done[string(upkeep.CurePaint)].After(painted)
}

func placeOf(st store.Stove, wears []store.Wear, now time.Time) upkeep.Place {
	p := upkeep.Place{Stove: st.Stove, Small: st.Confined(), Tight: st.Space.House.N50 > 0 && st.Space.House.N50 < tightN50}
	for _, w := range wears {
		if w.StoveID == st.ID && now.Sub(w.At) < litFor {
			p.Winter = true
		}
	}
	return p
}

// useSince adds up what a stove has been through since a moment.
func useSince(stove int64, wears []store.Wear, since time.Time) upkeep.Use {
	var u upkeep.Use
	var peaks []float64
	for _, w := range wears {
		if w.StoveID != stove || w.At.Before(since) {
			continue
		}
		u.Burns++
		u.Hours, u.Smoulder = u.Hours+w.Hours, u.Smoulder+w.Smoulder
		u.Dry, u.Mineral = u.Dry+units.Kilogram(w.Dry), u.Mineral+units.Kilogram(w.Mineral)
		if w.Black {
			u.Black++
		}
		if len(w.Settled) > len(u.Settled) {
			u.Settled = append(u.Settled, make([]float64, len(w.Settled)-len(u.Settled))...)
		}
		for i, g := range w.Settled {
			u.Settled[i] += g
		}
		if w.Catalyst > 0 {
			peaks = append(peaks, w.Catalyst)
		}
	}
	u.Fallen, _ = upkeep.Fallen(peaks)
	return u
}

// Dangers are those that are overdue and dangerous: of a stove, or of all (0).
func Dangers(lines []Line, stove int64, now time.Time) []Line {
	return slices.DeleteFunc(slices.Clone(lines), func(l Line) bool {
		return !l.Danger() || l.Rests(now) || stove != 0 && l.Stove.ID != 0 && l.Stove.ID != stove
	})
}
