package search

import (
	"context"
	"math"
	"slices"

	"smolder/internal/core/plan"
	"smolder/internal/core/policy"
)

const (
	// oneIn is in how many worlds a limit may be missed once.
	oneIn = 20
	// The share of the worlds, beyond that one, in which a limit is not kept is weighed by these,
	// and by far more beyond the share that is offered at all ([policy.UnsafeShare]).
	lostUnsafe, lostOffered, lostClean = 60.0, 400.0, 15.0
	// Where none of the best is safe in enough worlds ([policy.UnsafeShare]), those that run cooler
	// by so much are asked, some times.
	cooler = 0.94
	rounds = 4
)

// live burns the best in many stoves like this one, each followed by a hand that does
// what every step says besides, and puts them in the order of what they do on average:
// a plan is for a stove that nobody has measured, and not for the drawing board's.
func (s search) live(ctx context.Context, verdicts []verdict) {
	merits := map[int]float64{}
	var picked []int
	coolest, found := math.Inf(1), false
	for round := 0; round < rounds && !found; round++ {
		next := s.picked(verdicts, coolest)
		for _, i := range next {
			if ctx.Err() != nil {
				return
			}
			merit, unsafe := s.onAverage(verdicts[i])
			merits[i], found = merit, found || unsafe <= policy.UnsafeShare
		}
		for _, i := range next {
			coolest = min(coolest, cooler*float64(verdicts[i].summary.PeakGas))
		}
		if picked = append(picked, next...); len(next) == 0 {
			break
		}
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

// picked are the best that may be offered and whose gas gets no hotter than so, °C; no two
// alike but for a pause.
func (s search) picked(verdicts []verdict, hottest float64) []int {
	var out []int
	seen := map[plan.Recipe]bool{}
	for i, v := range verdicts {
		like := v.Recipe
		like.Pause = 0
		if v.good() && !seen[like] && float64(v.summary.PeakGas) <= hottest {
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
	return float64(unsafe) <= policy.UnsafeShare*float64(len(lives))
}

// onAverage is a verdict's merit over the worlds, and the share of them in which it is unsafe.
func (s search) onAverage(v verdict) (merit, share float64) {
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
	over := func(lost int, bears float64) float64 { return max(0, float64(lost)/n-bears) }
	lost := lostUnsafe*over(unsafe, 1.0/oneIn) + lostOffered*over(unsafe, policy.UnsafeShare) + lostClean*over(dirty, 1.0/oneIn)
	return sum/n + lost, float64(unsafe) / n
}

// Lost is what a plan that does not keep its limits in all of the stoves like this one costs
// in merit, as a search weighs it.
func Lost(p plan.Plan) float64 {
	if p.Trust.Of == 0 {
		return 0
	}
	share := float64(p.Trust.Of-p.Trust.Safe) / float64(p.Trust.Of)
	return lostUnsafe*max(0, share-1.0/oneIn) + lostOffered*max(0, share-policy.UnsafeShare)
}
