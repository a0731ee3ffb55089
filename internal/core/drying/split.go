package drying

import (
	"sort"
	"time"

	"smolder/internal/core/units"
)

// SplitBy is the last day, to a week, on which pieces can be split to be down to a moisture
// on a day to come, nine times in ten; ok is false where even splitting them now is too
// late.
func SplitBy(p Pieces, l Place, c Climate, target units.Fraction, ready, now time.Time) (by time.Time, ok bool) {
	const week = 7 * 24 * time.Hour
	weeks := int(ready.Sub(now) / week)
	if weeks < 0 {
		return time.Time{}, false
	}
	split := func(n int) time.Time { return now.Add(time.Duration(n) * week) }
	// Whoever splits later is not ready sooner, so that the first week that is too late
	// ends those that are not.
	late := sort.Search(weeks+1, func(n int) bool {
		d := Believe(Stack{Pieces: p, Place: l, Since: split(n)}, c, split(n)).Ready(target)
		return d.Late.IsZero() || d.Late.After(ready)
	})
	if late == 0 {
		return time.Time{}, false
	}
	return split(late - 1), true
}
