package plan

import (
	"fmt"
	"math"
	"strings"

	"smolder/internal/core/units"
)

// alternatives picks up to two verdicts that differ from the best in something
// an owner would choose by: shorter and hotter, less wood, or warmer at the end.
func alternatives(ranked []verdict) []verdict {
	best := ranked[0]
	var out []verdict
	take := func(better func(v verdict) bool) {
		for _, v := range ranked[1:] {
			if !v.good() || len(out) == 2 {
				return
			}
			if better(v) && different(v, best) && (len(out) == 0 || different(v, out[0])) {
				out = append(out, v)
				return
			}
		}
	}
	take(func(v verdict) bool {
		return v.summary.ToCoals > 0 && best.summary.ToCoals > 0 && v.summary.ToCoals < best.summary.ToCoals*3/4
	})
	take(func(v verdict) bool { return v.kilos < 0.8*best.kilos })
	take(func(v verdict) bool { return v.cold < best.cold-0.5 })
	take(func(v verdict) bool { return v.mainOf != best.mainOf })
	return out
}

// different tells whether an owner would call it another plan.
func different(a, b verdict) bool {
	return a.main != b.main || a.mainOf != b.mainOf || a.first != b.first || a.direction != b.direction || math.Abs(a.final-b.final) > 0.15
}

// reasons says why the first won, and how each of the others differs from it.
func (w Wish) reasons(chosen []verdict) []string {
	best := chosen[0]
	out := []string{fmt.Sprintf("The best by all that counts: %.1f g of smoke per kg, %.1f degree-hours under the wanted band, %.1f kg of wood.", best.summary.SmokePerKg, best.cold, best.kilos)}
	for _, v := range chosen[1:] {
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
			says = append(says, fmt.Sprintf("%.1f kg of wood %s", math.Abs(d), moreOrLess(d)))
		}
		if d := v.summary.SmokePerKg - best.summary.SmokePerKg; math.Abs(d) >= 0.2 {
			says = append(says, fmt.Sprintf("%.1f g of smoke per kg %s", math.Abs(d), moreOrLess(d)))
		}
		if d := v.cold - best.cold; math.Abs(d) >= 0.5 {
			says = append(says, fmt.Sprintf("%.0f degree-hours %s", math.Abs(d), map[bool]string{true: "colder", false: "warmer"}[d > 0]))
		}
		if len(says) == 0 {
			says = append(says, "much the same by another way")
		}
		text := strings.Join(says, ", ")
		out = append(out, strings.ToUpper(text[:1])+text[1:]+".")
	}
	return out
}

func moreOrLess(d float64) string {
	if d > 0 {
		return "more"
	}
	return "less"
}
