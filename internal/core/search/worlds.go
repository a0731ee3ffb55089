package search

import (
	"context"
	"slices"

	"smolder/internal/core/plan"
)

const (
	// oneIn is in how many worlds a limit may be missed once.
	oneIn = 20
	// lostUnsafe and lostClean weigh the share of the worlds, beyond that one, in which a
	// limit is not kept.
	lostUnsafe, lostClean = 200.0, 15.0
)

// live burns the best in many stoves like this one, each followed by a hand that does
// what every step says besides, and puts them in the order of what they do on average:
// a plan is for a stove that nobody has measured, and not for the drawing board's.
func (s search) live(ctx context.Context, verdicts []verdict) {
	picked := s.picked(verdicts)
	merits := make(map[int]float64, len(picked))
	for _, i := range picked {
		if ctx.Err() != nil {
			return
		}
		merits[i] = s.onAverage(verdicts[i])
	}
	// The others keep their order behind those.
	front := make([]verdict, 0, len(verdicts))
	slices.SortStableFunc(picked, func(a, b int) int {
		switch {
		case merits[a] < merits[b]:
			return -1
		case merits[a] > merits[b]:
			return 1
		}
		return a - b
	})
	for _, i := range picked {
		front = append(front, verdicts[i])
	}
	for i, v := range verdicts {
		if _, taken := merits[i]; !taken {
			front = append(front, v)
		}
	}
	copy(verdicts, front)
}

// picked are the best that may be offered, no two alike but for a pause.
func (s search) picked(verdicts []verdict) []int {
	var out []int
	seen := map[plan.Recipe]bool{}
	for i, v := range verdicts {
		like := v.Recipe
		like.Pause = 0
		if v.good() && !seen[like] {
			seen[like] = true
			out = append(out, i)
		}
		if len(out) == s.effort.Weighed {
			break
		}
	}
	return out
}

// safeInMost tells whether a way to burn is safe in nine of ten stoves like this one: in
// more it would not be offered without a warning. A load that goes on later meets a hotter
// stove than any before it.
func (s search) safeInMost(v verdict) bool {
	opt := s.options()
	opt.GiveUp.Smoulder = 0
	lives, unsafe := plan.Live(s.Wish, s.steps(v), s.effort.Worlds, opt), 0
	for _, l := range lives {
		if l.Unsafe() {
			unsafe++
		}
	}
	return unsafe <= len(lives)/10
}

// onAverage is a verdict's merit over the worlds.
func (s search) onAverage(v verdict) float64 {
	opt := s.options()
	opt.GiveUp.Smoulder = 0
	lives := plan.Live(s.Wish, s.steps(v), s.effort.Worlds, opt)
	sum, unsafe, dirty := 0.0, 0, 0
	for _, l := range lives {
		summary := l.Summary
		summary.SmokePerKg = l.Smoke
		sum += l.Watched.(*tally).merit(s.Wish, summary, v.kilos)
		if l.Unsafe() {
			unsafe++
		} else if l.Dirty(s.clean(len(v.later))) {
			dirty++
		}
	}
	n := float64(len(lives))
	over := func(lost int) float64 { return max(0, float64(lost)/n-1.0/oneIn) }
	return sum/n + lostUnsafe*over(unsafe) + lostClean*over(dirty)
}
