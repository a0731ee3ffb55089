package plan

import (
	"fmt"
	"math"
	"strings"

	"smolder/internal/core/units"
)

// mostFailing is how many verdicts may fail at full accuracy before the search
// for alternatives ends: each costs a burn.
const mostFailing = 8

// alternatives picks two verdicts that differ from the best in something an
// owner would choose by: shorter and hotter, less wood, warmer, other wood,
// another way round, another lay. Each must hold at full accuracy. Fewer are
// left only where nothing else is safe and clean.
func alternatives(ranked []verdict, holds func(*verdict) bool) []verdict {
	best := ranked[0]
	var out []verdict
	failing := 0
	take := func(better func(v verdict) bool) {
		for i := range ranked[1:] {
			v := &ranked[1+i]
			if len(out) == 2 || failing == mostFailing {
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
	take(func(v verdict) bool {
		return v.summary.ToCoals > 0 && best.summary.ToCoals > 0 && v.summary.ToCoals < best.summary.ToCoals*3/4
	})
	take(func(v verdict) bool { return v.kilos < 0.8*best.kilos })
	take(func(v verdict) bool { return v.cold < best.cold-0.5 })
	take(func(v verdict) bool { return v.mainOf != best.mainOf })
	take(func(v verdict) bool { return v.direction != best.direction })
	take(func(v verdict) bool { return v.lay != best.lay })
	take(func(verdict) bool { return true })
	return out
}

// different tells whether an owner would call it another plan: set otherwise, and
// something else comes of it.
func different(a, b verdict) bool {
	set := a.main != b.main || a.mainOf != b.mainOf || a.first != b.first || a.direction != b.direction || a.lay != b.lay || math.Abs(a.final-b.final) > 0.15
	return set && len(outcome(a, b, units.Metric)) > 0
}

// Why says why the first plan won (0), or how one of the others differs from it.
func (c Choice) Why(i int, sys units.System) string {
	best := c.chosen[0]
	if i == 0 {
		return fmt.Sprintf("The best by all that counts: %.1f g of smoke per kg, %s under the wanted band, %s of wood.",
			best.summary.SmokePerKg, degreeHours(best.cold, 1, sys), sys.Mass(units.Kilogram(best.kilos)))
	}
	v := c.chosen[i]
	return upperFirst(strings.Join(append(c.Plans[0].Wish.otherWay(v.candidate, best.candidate), outcome(v, best, sys)...), ", ")) + "."
}

// degreeHours prints kelvin-hours in the household's degrees.
func degreeHours(v float64, places int, sys units.System) string {
	if sys == units.Imperial {
		v *= 1.8
	}
	return units.Number(v, places) + " degree-hours"
}

// outcome says what else comes of a plan than of the best.
func outcome(v, best verdict, sys units.System) []string {
	var says []string
	if d := v.summary.ToCoals - best.summary.ToCoals; v.summary.ToCoals > 0 && best.summary.ToCoals > 0 && math.Abs(d.Minutes()) >= 15 {
		word := "longer"
		if d < 0 {
			word = "shorter"
			d = -d
		}
		says = append(says, units.Duration(d)+" "+word)
	}
	if d := v.kilos - best.kilos; math.Abs(d) >= 0.3 {
		says = append(says, fmt.Sprintf("%s of wood %s", sys.Mass(units.Kilogram(math.Abs(d))), moreOrLess(d)))
	}
	if d := v.summary.SmokePerKg - best.summary.SmokePerKg; math.Abs(d) >= 0.2 {
		says = append(says, fmt.Sprintf("%.1f g of smoke per kg %s", math.Abs(d), moreOrLess(d)))
	}
	if d := v.cold - best.cold; math.Abs(d) >= 0.5 {
		says = append(says, degreeHours(math.Abs(d), 0, sys)+" "+map[bool]string{true: "colder", false: "warmer"}[d > 0])
	}
	return says
}

// otherWay says in what way the wood goes in otherwise.
func (w Wish) otherWay(v, best candidate) []string {
	var says []string
	if v.main > 0 && best.main > 0 && v.mainOf != best.mainOf {
		says = append(says, "from "+w.woods()[v.mainOf].Stack.Name)
	}
	if v.direction != best.direction {
		says = append(says, string(v.direction))
	}
	if v.lay != best.lay {
		says = append(says, "laid "+string(v.lay))
	}
	return says
}

func moreOrLess(d float64) string {
	if d > 0 {
		return "more"
	}
	return "less"
}
