package search

import (
	"math"

	"smolder/internal/core/plan"
)

const (
	// mostFailing is how many verdicts may fail at full accuracy before the search
	// for alternatives ends: each costs a burn.
	mostFailing = 8
	// An alternative is shorter, takes less wood or is warmer by at least these.
	shorter, lessWood, warmer = 0.75, 0.8, 0.5
	// A best that leaves the room too warm by so much, K, has one beside it that is less so.
	tooWarm, lessWarm = 1.0, 0.8
	// otherSetting is how far apart two final openings are for owners to call them
	// two.
	otherSetting = 0.15
)

// alternatives picks at most n verdicts that differ from the best in something
// an owner would choose by: shorter and hotter, less wood, warmer, other wood,
// another way round, another lay. Each must hold at full accuracy. Fewer are
// left only where nothing else is safe and clean.
func alternatives(ranked []verdict, n int, holds func(*verdict) bool) []verdict {
	best := ranked[0]
	var out []verdict
	failing := 0
	take := func(better func(v verdict) bool) {
		for i := range ranked[1:] {
			v := &ranked[1+i]
			if len(out) >= n || failing == mostFailing {
				return
			}
			if !v.good() || !better(*v) || !different(*v, best) || len(out) > 0 && !different(*v, out[0]) {
				continue
			}
			if holds(v) {
				out = append(out, *v)
				return
			}
			failing++
		}
	}
	if best.over > tooWarm { // too warm is a fault like too cold
		take(func(v verdict) bool { return v.over < best.over-lessWarm })
	}
	take(func(v verdict) bool {
		lasts, bestLasts := v.summary.ToCoals, best.summary.ToCoals
		return lasts > 0 && bestLasts > 0 && float64(lasts) < shorter*float64(bestLasts)
	})
	take(func(v verdict) bool { return v.kilos < lessWood*best.kilos })
	take(func(v verdict) bool { return v.cold < best.cold-warmer })
	take(func(v verdict) bool { return v.MainOf != best.MainOf })
	take(func(v verdict) bool { return v.Direction != best.Direction })
	take(func(v verdict) bool { return v.Lay != best.Lay })
	take(func(verdict) bool { return true })
	return out
}

// different tells whether an owner would call it another plan: set otherwise, and
// something else comes of it.
func different(a, b verdict) bool {
	set := a.Main != b.Main || a.MainOf != b.MainOf || a.First != b.First || a.Direction != b.Direction || a.Lay != b.Lay ||
		math.Abs(a.Final-b.Final) > otherSetting
	return set && !a.coming().Against(b.coming()).Alike()
}

func (v verdict) coming() plan.Coming {
	return plan.Coming{ToCoals: v.summary.ToCoals, Kilos: v.kilos, Smoke: v.summary.SmokePerKg, Cold: v.cold}
}
