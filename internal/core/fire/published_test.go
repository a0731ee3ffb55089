package fire_test

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
	"smolder/internal/core/wood"
)

// A check is a figure that somebody has published and nothing here was shaped on.
type check struct {
	what, source string
	of           func() float64
	low, high    float64
	why          string // that it lies outside, where it does
}

// household burns as households do: from cold, and two reloads at a middle setting.
func (s subject) household() fire.Summary {
	setup := s.setup()
	setup.Coals, setup.Warmth = 0, 0
	steps := append(s.lit(fire.BottomUp, 2), fire.Move{When: fire.Trigger{At: 25 * time.Minute}, Do: []fire.Act{s.air(0.6)}})
	for _, at := range []int{40, 150} {
		start := time.Duration(at) * time.Minute
		steps = append(steps, fire.Move{When: fire.Trigger{At: start}, Do: []fire.Act{s.air(0.7), {Kind: fire.ActLoad, Load: s.load(4.5, 0.20, 3, stove.EndOn)}}})
		if s.Family == stove.Catalytic {
			steps = append(steps, fire.Move{When: fire.Trigger{After: 10 * time.Minute}, Do: []fire.Act{bypass(0)}})
		}
		steps = append(steps, fire.Move{When: fire.Trigger{At: start + 15*time.Minute}, Do: []fire.Act{s.air(0.4)}},
			fire.Move{When: fire.Trigger{After: 10 * time.Minute}, Do: []fire.Act{s.air(0.3)}})
	}
	return fire.Run(setup, steps, fire.Options{Until: 5 * time.Hour}).Summary
}

// monoxide is g of CO for each kg of dry wood.
func monoxide(m fire.Summary) float64 {
	carbon := float64(m.Gas.CO2 + m.Gas.CO + m.Gas.CH4 + m.Gas.Tar)
	return float64(m.Gas.CO) / carbon * 0.5 / 12.011 * 28.01 * 1000
}

// gross is the efficiency on the gross basis, per cent: water and hydrogen of wood at
// 20 % take a tenth of its gross energy.
func gross(m fire.Summary) float64 { return m.Efficiency.Percent() * 0.91 }

// steady burns small loads at their time in a hot stove and returns the means of
// what an analyser and a probe show, once two of them are burnt.
func (s subject) steady(kilos float64, every time.Duration, air float64) (gas, co2, co13, heat float64) {
	var steps []fire.Move
	for i := range 5 {
		steps = append(steps, fire.Move{When: fire.Trigger{At: time.Duration(i) * every},
			Do: []fire.Act{s.air(air), {Kind: fire.ActLoad, Load: s.load(kilos/s.scale(), 0.16, 2, stove.EndOn)}}})
	}
	r := fire.Run(s.setup(), steps, fire.Options{Until: 5 * every})
	n, co, o2 := 0.0, 0.0, 0.0
	for _, x := range r.Samples[int(2*every/time.Minute):] {
		g, _ := x.Reading(stove.ConnectorProbe)
		n++
		gas, co2, co, o2, heat = gas+float64(g), co2+x.CO2.Percent(), co+x.CO.Percent(), o2+x.O2.Percent(), heat+float64(x.ToRoom)
	}
	return gas / n, co2 / n, co / n * (21 - 13) / (21 - o2/n), heat / n
}

func checks() []check {
	secondary, plain, catalytic := subject{mid(stove.SecondaryAir, 55)}, subject{mid(stove.Plain, 55)}, subject{mid(stove.Catalytic, 55)}
	a, b, c := secondary.household(), plain.household(), catalytic.household()
	small := mid(stove.SecondaryAir, 20)
	small.Output = 5000
	gas, co2, co13, heat := subject{small}.steady(1.3, 50*time.Minute, 0.5)
	open := fire.Run(secondary.setup(), secondary.staged(secondary.load(6, 0.18, 4, stove.EndOn), 1)[:1], fire.Options{Until: time.Hour})
	const ap42 = "EPA AP-42 ch. 1.10, in use"
	const damped = "nothing is damped for the night here, where most of it comes from"
	const rates = "40 CFR 60 AAA, method 28 categories"
	return []check{
		{"smoke, plain stove, g/kg", ap42, func() float64 { return b.SmokePerKg }, 8, 25,
			""},
		{"smoke, secondary-air, g/kg", ap42, func() float64 { return a.SmokePerKg }, 3, 12, ""},
		{"smoke, catalytic, g/kg", ap42, func() float64 { return c.SmokePerKg }, 3, 12, ""},
		{"CO, plain stove, g/kg", ap42, func() float64 { return monoxide(b) }, 60, 180, damped},
		{"CO, secondary-air, g/kg", ap42, func() float64 { return monoxide(a) }, 35, 110, ""},
		{"CO, catalytic, g/kg", ap42, func() float64 { return monoxide(c) }, 25, 90, ""},
		{"efficiency, plain stove, gross %", ap42, func() float64 { return gross(b) }, 45, 65, ""},
		{"efficiency, secondary-air, gross %", ap42, func() float64 { return gross(a) }, 58, 74, ""},
		{"efficiency, catalytic, gross %", ap42, func() float64 { return gross(c) }, 58, 78, ""},
		{"small stove at nominal heat: gas, °C", "EN 16510-1 type tests", func() float64 { return gas }, 230, 330, ""},
		{"the same: CO2, %", "EN 16510-1 type tests", func() float64 { return co2 }, 7, 12, ""},
		{"the same: CO at 13 % O2, %", "EU 2015/1185: at most 0.12", func() float64 { return co13 }, 0.02, 0.12, ""},
		{"the same: heat, W", "its manual", func() float64 { return heat }, 4000, 6000, ""},
		{"burn rate, lowest clean, kg/h", rates + " 1 and 2", func() float64 {
			l := secondary.load(6, 0.18, 4, stove.EndOn)
			m := secondary.burn(secondary.staged(l, secondary.lowest(l, clean)), 10)
			return l.Dry() / m.ToCoals.Hours()
		}, 0.8, 1.6, ""},
		{"burn rate, air open, kg/h", rates + " 4", func() float64 {
			return 3600 * (float64(open.Samples[0].Wood-open.Samples[50].Wood) / 3000)
		}, 1.9, 6, ""},
		{"CO2 + O2 in good burning, %", "stoichiometry of wood: 20.3 to 20.9", func() float64 {
			x := open.Samples[30]
			return (x.CO2 + x.O2).Percent()
		}, 20, 21, ""},
		{"wood to char, kg/kg dry", "Neves et al. 2011, slow pyrolysis at 500 °C", func() float64 {
			return float64(plain.charOf())
		}, 0.18, 0.30, ""},
		{"wet wood (30 %), times the smoke of 18 % at a middle setting", "field tests: 1.5 to 4", func() float64 {
			wet := secondary.burn(secondary.staged(secondary.load(6, 0.30, 4, stove.EndOn), 0.3), 10)
			dry := secondary.burn(secondary.staged(secondary.load(6, 0.18, 4, stove.EndOn), 0.3), 10)
			return wet.SmokePerKg / dry.SmokePerKg
		}, 1.5, 4, ""},
		{"a lone log without coals in a cold stove: kg/h after half an hour", "it goes out", func() float64 {
			return secondary.lone()
		}, 0, 0.05, ""},
		{"heat that a kilogram of dry wood gives, MJ", "net calorific value, 18.3 to 18.9", func() float64 {
			beech, _ := wood.SpeciesByKey("beech")
			return wood.NetEnergyDry(beech.Gross)
		}, 18, 19, ""},
	}
}

// charOf is the share of a load's dry wood that has not become gas once half an hour
// of open air has charred it.
func (s subject) charOf() float64 {
	laid := []fire.Move{{Do: []fire.Act{s.air(1), {Kind: fire.ActLoad, Load: s.load(6, 0.12, 4, stove.EndOn)}}}}
	r := fire.Run(s.setup(), laid, fire.Options{Until: 30 * time.Minute})
	x := r.Samples[30]
	gone := float64(r.Samples[0].Wood - x.Wood)
	gas := 0.0
	for _, y := range r.Samples[1:] {
		gas += y.Gas * 60
	}
	return (gone - gas) / gone
}

// lone lights one big piece with a wax block alone.
func (s subject) lone() float64 {
	setup := s.setup()
	setup.Coals, setup.Warmth = 0, 0
	l := s.load(2, 0.18, 1, stove.EndOn)
	l.Lay, l.StarterKind = fire.TopDown, fire.WaxBlock
	r := fire.Run(setup, []fire.Move{{Do: []fire.Act{s.air(1), {Kind: fire.ActLoad, Load: l}, {Kind: fire.ActLight}}}}, fire.Options{Until: 40 * time.Minute})
	return float64(r.Samples[35].BurnRate) * 3600
}

// The model against figures that it was not shaped on: what lies inside, and of what
// does not, why.
func TestAgainstPublishedFigures(t *testing.T) {
	report := "\n"
	for _, c := range checks() {
		got := c.of()
		inside := got >= c.low && got <= c.high
		mark, why := " ", ""
		if !inside {
			mark, why = "✗", "   "+c.why
		}
		report += fmt.Sprintf("%s %-62s %8.3g   %g to %g   %s%s\n", mark, c.what, got, c.low, c.high, c.source, why)
		assert.True(t, inside || c.why != "", "%s is %.3g, published %g to %g, and nothing says why", c.what, got, c.low, c.high)
		assert.False(t, inside && c.why != "", "%s lies inside, and something says why not", c.what)
	}
	t.Log(report)
}

// The step of two seconds against one of a tenth, on the table's stoves: a load on
// coals that is staged down, and a cold start.
func TestAgainstATenthOfASecond(t *testing.T) {
	report := "\n"
	for _, s := range stoves() {
		cold := s.setup()
		cold.Coals, cold.Warmth = 0, 0
		for _, c := range []struct {
			what  string
			setup fire.Setup
			moves []fire.Move
		}{{"staged", s.setup(), s.staged(s.load(6, 0.18, 4, stove.EndOn), 0.3)}, {"cold", cold, s.lit(fire.TopDown, 3)}} {
			a := fire.Run(c.setup, c.moves, fire.Options{Until: 6 * time.Hour}).Summary
			b := fire.Run(c.setup, c.moves, fire.Options{Until: 6 * time.Hour, Step: 100 * time.Millisecond}).Summary
			off := func(a, b float64) float64 { return 100 * (a/b - 1) }
			room, smoke := off(float64(a.ToRoom), float64(b.ToRoom)), off(a.SmokePerKg, b.SmokePerKg)
			top := float64(a.PeakTop - b.PeakTop)
			report += fmt.Sprintf("  %-14s %3.0f L  %-7s heat %+.2f %%   peak of the top %+.1f K   smoke %+.1f %%\n",
				s.Family, float64(s.Volume), c.what, room, top, smoke)
			assert.InDelta(t, 0, room, 1)
			assert.InDelta(t, 0, top, 3)
			assert.InDelta(t, 0, smoke, 10)
		}
	}
	t.Log(report)
}
