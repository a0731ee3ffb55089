package ways

import (
	"slices"

	"smolder/internal/core/plan"
	"smolder/internal/core/review"
	"smolder/internal/core/stove"
)

// How low a stove is known to burn clean: by its own burns, and only where they agree.
const (
	lowestBurns = 2    // burns that were left so low, at the least
	lowestClean = 0.75 // share of them that were clean
	sameMark    = 0.02 // of the way, within which two settings are one
	leastWood   = 3.0  // kg, of a burn that says anything of a setting
)

// Lowest is the least opening of the main air, under a fifth of its way, at which a stove's
// burns were clean: at least two were left there or lower, and of all that were left there or
// higher three quarters without smouldering, without grey smoke and without too much smoke by what is computed.
// 0: none is known.
func Lowest(burns []Burn, family stove.Family) float64 {
	type left struct {
		at    float64
		clean bool
	}
	var all []left
	for _, b := range burns {
		if b.Simulated && b.Way.Final >= 0 && b.Way.Final < plan.Floor && b.Way.Loads > 0 && float64(b.Used) >= leastWood {
			all = append(all, left{b.Way.Final, cleanly(b, family)})
		}
	}
	slices.SortFunc(all, func(a, b left) int { return int(1e6 * (a.at - b.at)) })
	for i := range all {
		from, n, clean, asLow := all[i].at, 0, 0, 0
		for _, o := range all {
			if o.clean && o.at <= from+sameMark {
				asLow++
			}
			if o.at >= from-sameMark {
				n++
				if o.clean {
					clean++
				}
			}
		}
		if all[i].clean && from > 0 && asLow >= lowestBurns && float64(clean) >= lowestClean*float64(n) {
			return from
		}
	}
	return 0
}

// smokedLong is an eye's mark of smoke at the cap for long ([burn.EyeMarks]).
const smokedLong = "for long"

// cleanly tells whether a burn was clean to its end, by its eye and by its review.
func cleanly(b Burn, family stove.Family) bool {
	judged := plan.Clean{Family: family}
	found := func(f review.Finding) bool { return f.Code == review.TooFar }
	return b.Smoulder <= plan.MaxSmoulder && b.SmokePerKg <= judged.MaxSmoke() && b.Eye.Smoke != smokedLong && !slices.ContainsFunc(b.Findings, found)
}
