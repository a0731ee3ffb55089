package plan

import (
	"fmt"
	"math"
	"strings"
	"time"

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
	return set && len(a.came().against(b.came(), units.Metric)) > 0
}

// WhyBest says why a plan won.
func (p Plan) WhyBest(sys units.System) string {
	return fmt.Sprintf("The best by all that counts: %.1f g of smoke per kg, %s under the wanted band, %s of wood.",
		p.Summary.SmokePerKg, degreeHours(p.Cold, 1, sys), sys.Mass(p.Mass()-p.Kindling.Mass()))
}

// Differs says how a plan differs from the best.
func (p Plan) Differs(best Plan, sys units.System) string {
	var says []string
	if p.Main > 0 && best.Main > 0 && p.MainOf.Stack.Name != best.MainOf.Stack.Name {
		says = append(says, "from "+p.MainOf.Stack.Name)
	}
	if p.Direction != best.Direction {
		says = append(says, string(p.Direction))
	}
	if p.Lay != best.Lay {
		says = append(says, "laid "+string(p.Lay))
	}
	return units.UpperFirst(strings.Join(append(says, p.came().against(best.came(), sys)...), ", ")) + "."
}

// Why says why the first plan won (0), or how one of the others differs from it.
func (c Choice) Why(i int, sys units.System) string {
	if i == 0 {
		return c.Plans[0].WhyBest(sys)
	}
	return c.Plans[i].Differs(c.Plans[0], sys)
}

// degreeHours prints kelvin-hours in the household's degrees.
func degreeHours(v float64, places int, sys units.System) string {
	if sys == units.Imperial {
		v *= 1.8
	}
	return units.Number(v, places) + " degree-hours"
}

// came is what a burn comes to, as far as an owner chooses by it.
type came struct {
	toCoals     time.Duration
	kilos       float64
	smoke, cold float64 // g/kg; kelvin-hours under the band
}

func (v verdict) came() came {
	return came{v.summary.ToCoals, v.kilos, v.summary.SmokePerKg, v.cold}
}

func (p Plan) came() came {
	return came{p.Summary.ToCoals, float64(p.Mass() - p.Kindling.Mass()), p.Summary.SmokePerKg, p.Cold}
}

// against says what else comes of a burn than of the best.
func (c came) against(best came, sys units.System) []string {
	var says []string
	if d := c.toCoals - best.toCoals; c.toCoals > 0 && best.toCoals > 0 && math.Abs(d.Minutes()) >= 15 {
		word := "longer"
		if d < 0 {
			word = "shorter"
			d = -d
		}
		says = append(says, units.Duration(d)+" "+word)
	}
	if d := c.kilos - best.kilos; math.Abs(d) >= 0.3 {
		says = append(says, fmt.Sprintf("%s of wood %s", sys.Mass(units.Kilogram(math.Abs(d))), moreOrLess(d)))
	}
	if d := c.smoke - best.smoke; math.Abs(d) >= 0.2 {
		says = append(says, fmt.Sprintf("%.1f g of smoke per kg %s", math.Abs(d), moreOrLess(d)))
	}
	if d := c.cold - best.cold; math.Abs(d) >= 0.5 {
		says = append(says, degreeHours(math.Abs(d), 0, sys)+" "+map[bool]string{true: "colder", false: "warmer"}[d > 0])
	}
	return says
}

func moreOrLess(d float64) string {
	if d > 0 {
		return "more"
	}
	return "less"
}
