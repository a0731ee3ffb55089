package burns

import (
	"fmt"

	"smolder/internal/core/burn"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/web/kit"
)

// burnFigures are what a burn came to.
func burnFigures(q *kit.Request, b store.Burn, m burn.Measures) []kit.Figure {
	u := q.Units()
	if !m.Simulated {
		return mineralFigures(q, b, m)
	}
	heat := kit.Figure{Label: "heat to the room", Value: u.EnergyRange(m.HeatLow, m.HeatHigh),
		Formula: "Energy of the wood burnt so far × efficiency. The range spans both estimates of the efficiency and 4 points on either side, because neither the simulated stove nor one gauge knows the burn better.",
		Inputs: []kit.Input{kit.From("energy burnt so far", u.Energy(m.Replay.Summary.In), kit.Computed),
			kit.From("efficiency, net", rangeOf(m.EffLow, m.EffHigh), kit.Computed)}}
	efficiency := kit.Figure{Label: "efficiency, net", Value: rangeOf(m.EffLow, m.EffHigh),
		Formula: "1 − (heat in the flue gas at the collar + unburnt gas) ÷ energy burnt. Once by replaying the log through the simulator; once, where the gas or pipe was read, from that temperature at the simulated excess air.",
		Inputs:  []kit.Input{kit.From("by replay", units.Percent(m.ByReplay, 0), kit.Computed)}}
	if m.ByGas != nil {
		efficiency.Inputs = append(efficiency.Inputs, kit.From("by the gas temperatures read", units.Percent(*m.ByGas, 0), kit.Measured))
	} else {
		efficiency.Inputs = append(efficiency.Inputs, kit.From("by gas temperature",
			"not known: fewer than three readings of the gas or the pipe", kit.Measured))
	}
	in := kit.Figure{Label: "energy in", Value: u.Energy(m.In), Formula: "For each load: mass × net energy per kg at its moisture.",
		Inputs: []kit.Input{kit.From("wood put on", u.Mass(m.Used), kit.Entered)}}
	for e := range b.All() {
		if e.Kind == burn.Load && e.Load != nil {
			in.Inputs = append(in.Inputs, kit.From(e.Load.StackName, fmt.Sprintf("%s at %s: %s MJ/kg", u.Mass(e.Load.Mass()), units.Percent(e.Load.Moisture, 0),
				units.Number(wood.NetEnergy(e.Load.Species.Gross, e.Load.Moisture), 1)), kit.Measured))
		}
	}
	figures := []kit.Figure{
		heat,
		in,
		efficiency,
		bandFigure(q, m),
		workingFigure(q, m),
		{Label: "wood used", Value: u.Mass(m.Used), Formula: "Sum of all loads, as they were put on; each is taken off its stack.",
			Inputs: []kit.Input{kit.From("loads", fmt.Sprint(countLoads(b.Burn)), kit.Entered)}},
		{Label: "smoke and deposits", Value: fmt.Sprintf("about %s g smoke per kg, %s g in the flue", units.Number(m.SmokePerKg, 1),
			units.Number(m.Deposits, 1)),
			Formula: "60 g of particles for each kg of gas that leaves unburnt; what settles is its share where the liner's inner wall is below " + u.Temperature(120) + ". From the replay: good for comparing burns, not for a certificate.",
			Inputs:  []kit.Input{kit.From("replay of the log", "", kit.Computed)}},
	}
	return figures
}

// mineralFigures are what is known of a burn in which mineral fuel was burnt:
// what was put on, and what the gauges said.
func mineralFigures(q *kit.Request, b store.Burn, m burn.Measures) []kit.Figure {
	u := q.Units()
	out := []kit.Figure{
		{Label: "mineral fuel", Value: u.Mass(m.Mineral), Formula: "Sum of its loads. It is recorded and not simulated.",
			Inputs: []kit.Input{kit.From("loads", fmt.Sprint(countKind(b.Burn, burn.Mineral)), kit.Entered)}},
	}
	if m.Used > 0 {
		out = append(out, kit.Figure{Label: "wood used", Value: u.Mass(m.Used), Formula: "Sum of all loads of wood.",
			Inputs: []kit.Input{kit.From("loads", fmt.Sprint(countLoads(b.Burn)), kit.Entered)}})
	}
	if !m.NoGauge {
		band := bandFigure(q, m)
		band.Label = "under, in and over the gauge's band"
		out = append(out, band)
	}
	return append(out, kit.Figure{Label: "heat, efficiency, smoke", Value: "not known"})
}

func countKind(b burn.Burn, k burn.Kind) int {
	n := 0
	for e := range b.All() {
		if e.Kind == k {
			n++
		}
	}
	return n
}

func countLoads(b burn.Burn) int {
	n := 0
	for e := range b.All() {
		if e.Kind == burn.Load {
			n++
		}
	}
	return n
}

func bandFigure(q *kit.Request, m burn.Measures) kit.Figure {
	f := kit.Figure{Label: "cold and smoky · working · too hot",
		Value:   fmt.Sprintf("%s · %s · %s", units.Duration(m.Cold), units.Duration(m.Working), units.Duration(m.TooHot)),
		Formula: "Minutes that the gauge in hand stood below, in and above its band; too hot counts every gauge that has a limit. Readings up to 45 minutes apart are joined by a straight line; beyond that the time counts as not known.",
		Inputs: []kit.Input{kit.From("gauge", gaugeName(m), kit.Entered),
			kit.From("band", fmt.Sprintf("%s to %s, too hot from %s", q.Units().Degrees(m.Gauge.Band.Low), q.Units().Degrees(m.Gauge.Band.High),
				q.Units().Temperature(m.Gauge.Band.TooHot)), kit.Entered), kit.From("not known", units.Duration(m.Unknown), kit.Measured)}}
	if m.NoGauge {
		f.Value = "by the computed flue gas: " + f.Value
	}
	if m.Source == burn.FromReplay {
		f.Inputs = append(f.Inputs, kit.From("readings", "fewer than three, so the replay of the log was used", kit.Assumed))
	}
	return f
}

// gaugeName is the guiding gauge, or that there is none.
func gaugeName(m burn.Measures) string {
	if m.NoGauge {
		return "none here: " + say.Places.Short(m.Gauge.Place) + " as the simulator has it"
	}
	return say.Places.Name(m.Gauge.Place)
}

func workingFigure(q *kit.Request, m burn.Measures) kit.Figure {
	value := "not reached"
	if m.ToWorking >= 0 {
		value = units.Duration(m.ToWorking)
	}
	return kit.Figure{Label: "time to the working band", Value: value, Formula: "From the start until the gauge in hand first stood in its band.",
		Inputs: []kit.Input{kit.From("from", q.Units().Temperature(m.Gauge.Band.Low), kit.Entered)}}
}

func rangeOf(low, high units.Fraction) string {
	return units.Number(low.Percent(), 0) + "–" + units.Percent(high, 0)
}
