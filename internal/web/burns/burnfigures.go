package burns

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
	"smolder/internal/lang"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/web/kit"
)

// foremost is the key of the figures that stand open; the others are behind "all figures".
const foremost = "foremost"

// Foremost are the figures that stand open, Further the others; where none is marked all do.
func (p *burnPage) Foremost() []kit.Figure { return p.figures(true) }
func (p *burnPage) Further() []kit.Figure  { return p.figures(false) }

func (p *burnPage) figures(first bool) []kit.Figure {
	marked := slices.ContainsFunc(p.Figures, func(f kit.Figure) bool { return f.Key == foremost })
	var out []kit.Figure
	for _, f := range p.Figures {
		if (f.Key == foremost || !marked) == first {
			out = append(out, f)
		}
	}
	return out
}

// burnFigures are what a burn came to.
func burnFigures(q *kit.Request, l looked) []kit.Figure {
	if !l.m.Simulated {
		return mineralFigures(q, l.Burn, l.m)
	}
	out := []kit.Figure{heatFigure(q, l)}
	if f, ok := phasesFigure(q, l); ok {
		out = append([]kit.Figure{f}, out...)
	}
	if f, ok := houseFigure(q, l); ok {
		out = append(out, f)
	}
	out = append(out, efficiencyFigure(q, l), energyIn(q, l), bandFigure(q, l.m), workingFigure(q, l))
	if f, ok := recoveryFigure(l, q.Locale()); ok {
		out = append(out, f)
	}
	out = append(out, rateFigure(q, l), usedFigure(q, l), heldFigure(q, l), smokeFigure(q, l), depositsFigure(q, l))
	if f, ok := leftFigure(q, l); ok {
		out = append(out, f)
	}
	out = append(out, coalsFigure(q, l))
	if l.whole && l.review.Usual > 0 {
		out = append(out, foretoldFigure(q, l))
	}
	return out
}

// foretoldFigure is how well the burn's gauge was told before anything of it was known but
// what was done.
func foretoldFigure(q *kit.Request, l looked) kit.Figure {
	u := q.Locale()
	return kit.Figure{Label: q.T("forecast, by what was known before it"), Value: q.T("to ") + say.Apart(l.review.Known, u),
		Formula: q.T("How far off the gauge in hand 24 stoves were, drawn from what was known before this burn, less half of how far they were from each other."),
		Inputs:  []kit.Input{kit.From(q.T("by what is usual of such stoves"), q.T("to ")+say.Apart(l.review.Usual, u), kit.Computed)}}
}

// from says what a figure stands on: the log in the stove as it is known.
func from(l looked, loc lang.Locale) kit.Input {
	if l.Known.InUse() {
		return kit.From(loc.T("replayed in the stove as its burns have shown it to be"), "", kit.Computed)
	}
	return kit.From(loc.T("replayed in a usual stove of its kind"), "", kit.Computed)
}

// phasesFigure is how long each state of the burn lasted.
func phasesFigure(q *kit.Request, l looked) (kit.Figure, bool) {
	lasted, begun := map[fire.Phase]time.Duration{}, map[fire.Phase]time.Duration{}
	var order []fire.Phase
	for i, p := range l.review.Phases {
		until := l.review.Length
		if i+1 < len(l.review.Phases) {
			until = l.review.Phases[i+1].At
		}
		if _, seen := begun[p.Name]; !seen {
			begun[p.Name] = p.At
			order = append(order, p.Name)
		}
		lasted[p.Name] += until - p.At
	}
	f := kit.Figure{Label: q.T("its phases"), Formula: q.T("By the flames, the wood that is not yet black and the coals of the replay. A phase that came more than once is added up."), Inputs: nil}
	var parts []string
	for _, p := range order {
		if lasted[p] < time.Minute || p == fire.Out || p == fire.Preparing {
			continue
		}
		parts = append(parts, say.Phase(p, q.Locale())+" "+q.Locale().Duration(lasted[p]))
		f.Inputs = append(f.Inputs, kit.From(say.Phase(p, q.Locale())+q.T(" from"), l.Started.Add(begun[p]).In(q.Profile.Location()).Format("15:04"), kit.Computed))
	}
	f.Value = strings.Join(parts, " · ")
	f.Inputs = append(f.Inputs, from(l, q.Locale()))
	return f, len(parts) > 0
}

func heatFigure(q *kit.Request, l looked) kit.Figure {
	u, r := q.Locale(), l.review
	f := kit.Figure{Key: foremost, Label: q.T("heat to the room"), Value: u.EnergyRange(r.HeatLow, r.HeatHigh),
		Formula: q.T("What the burn's wood has given the room, with what the stove still held at its end. The range is of eight in ten of the stoves and evenings in which the log and the gauges would have come about so."),
		Inputs: []kit.Input{kit.From(q.T("the likeliest"), u.Energy(r.HeatMiddle), kit.Computed), kit.From(q.T("net energy of the wood put on"),
			u.Energy(r.In), kit.Computed)}}
	if least := units.Joule(leastTold); r.Simulated {
		unburnt, coals, before := l.UnburntEnergy(r.Unburnt), burn.CharEnergy(r.Coals), burn.CharEnergy(l.Coals)
		for _, part := range []struct {
			name string
			heat units.Joule
		}{{q.T("and the coals of before"), before}, {q.T("less the wood left unburnt"), unburnt}, {q.T("less the coals left"), coals}} {
			if part.heat > least {
				f.Inputs = append(f.Inputs, kit.From(part.name, u.Energy(part.heat), kit.Computed))
			}
		}
		f.Inputs = append(f.Inputs, kit.From(q.T("so much burnt"), u.Energy(max(0, r.In+before-unburnt-coals)), kit.Computed))
	}
	f.Inputs = append(f.Inputs, from(l, q.Locale()))
	if !l.whole {
		f.Formula = q.T("Energy of the wood burnt so far × efficiency, with 4 points on either side.")
	}
	return f
}

// leastTold is the least energy that a figure's working names, J: less is nothing in kWh.
const leastTold = 0.1 * 3.6e6

// houseFigure is the heat once more, by what the room did.
func houseFigure(q *kit.Request, l looked) (kit.Figure, bool) {
	h, u := l.review.House, q.Locale()
	if h.Readings == 0 {
		return kit.Figure{}, false
	}
	apart := float64(h.Middle)/float64(l.review.HeatMiddle) - 1
	how := q.T("about as much as the wood says")
	switch {
	case apart > 0.1:
		how = q.Locale().Percent(units.Fraction(apart), 0) + q.T(" more than the wood says: sun, cooking, another stove, or a space that loses less than is taken")
	case apart < -0.1:
		how = q.Locale().Percent(units.Fraction(-apart), 0) + q.T(" less than the wood says: a door or window, or a space that loses more than is taken")
	}
	return kit.Figure{Label: q.T("heat by what the room did"), Value: u.EnergyRange(h.Low, h.High),
		Formula: q.T("The heat with which the space, air and walls, follows the room's readings best. The range comes from what is not known of its heat loss."),
		Inputs: []kit.Input{kit.From(q.T("room readings"), fmt.Sprint(h.Readings), kit.Measured), kit.From(q.T("the likeliest"), u.Energy(h.Middle), kit.Computed),
			kit.From(q.T("against the wood"), how, kit.Computed)}}, true
}

func efficiencyFigure(q *kit.Request, l looked) kit.Figure {
	r := l.review
	f := kit.Figure{Label: q.T("efficiency, net"), Value: rangeOf(r.EffLow, r.EffHigh),
		Formula: q.T("1 − (heat in the flue gas at the collar + unburnt gas) ÷ energy burnt. Once by replaying the log; once, where the gas or pipe was read, from that temperature at the computed excess air; 4 points on either side."),
		Inputs:  []kit.Input{kit.From(q.T("by replay"), q.Locale().Percent(r.ByReplay, 0), kit.Computed)}}
	if r.ByGas > 0 {
		f.Inputs = append(f.Inputs, kit.From(q.T("by the gas temperatures read"), q.Locale().Percent(r.ByGas, 0), kit.Measured))
	} else {
		f.Inputs = append(f.Inputs, kit.From(q.T("by gas temperature"), q.T("not known: fewer than three readings of the gas or the pipe"), kit.Computed))
	}
	return f
}

func energyIn(q *kit.Request, l looked) kit.Figure {
	u := q.Locale()
	in := kit.Figure{Label: q.T("energy in"), Value: u.Energy(l.review.In), Formula: q.T("For each load: mass × net energy per kg at its moisture."),
		Inputs: []kit.Input{kit.From(q.T("wood put on"), u.Mass(l.review.Used), kit.Entered)}}
	for e := range l.NotReadings() {
		if e.Kind == burn.Load && e.Load != nil {
			how, moisture := kit.Entered, q.Locale().Percent(e.Load.Moisture, 0) // in an old log nobody has said whether it was read
			switch {
			case e.Load.Guessed:
				how = kit.Assumed
			case e.Load.Spread > 0:
				how = kit.Measured
			}
			if e.Load.Spread >= 0.01 {
				moisture += " ± " + q.Locale().Number(e.Load.Spread.Percent(), 0)
			}
			in.Inputs = append(in.Inputs, kit.From(say.StackName(e.Load.StackName, q.Locale()), q.F("%s at %s: %s", u.Mass(e.Load.Mass()), moisture,
				u.HeatOf(wood.NetEnergy(e.Load.Species.Gross, e.Load.Moisture))), how))
		}
	}
	if r := l.review; l.whole && r.Give > 0 && r.Give < 0.02 {
		how := "wetter"
		if r.Wetter < 0 {
			how = "drier"
		}
		points := func(v units.Fraction) string { return q.Locale().Number(max(v.Percent(), -v.Percent()), 1) }
		in.Inputs = append(in.Inputs, kit.From(q.T("by how it burnt"), points(r.Wetter)+q.T(" points ")+how+q.T(" than that, give or take ")+points(r.Give), kit.Computed))
	}
	return in
}

func rateFigure(q *kit.Request, l looked) kit.Figure {
	return kit.Figure{Label: q.T("burn rate while it flamed"), Value: q.Locale().Mass(units.Kilogram(l.review.PerHour)) + q.T(" an hour"),
		Formula: q.T("Dry wood that turned to gas and char, over the time in which flames were seen."), Inputs: []kit.Input{from(l, q.Locale())}}
}

func recoveryFigure(l looked, loc lang.Locale) (kit.Figure, bool) {
	var parts []string
	var inputs []kit.Input
	for _, r := range l.review.Recoveries {
		text := loc.T("not back")
		switch {
		case r.Took == 0:
			text = loc.T("never left it")
		case r.Took > 0:
			text = loc.Duration(r.Took)
		}
		parts = append(parts, text)
		inputs = append(inputs, kit.From(loc.T("load ")+kit.ClockLength(r.At)+loc.T(" in"), text, kit.Computed))
	}
	return kit.Figure{Label: loc.T("back in its band after each load"), Value: strings.Join(parts, " · "),
		Formula: loc.T("From a load on coals until the gauge in hand stood in its working band again."), Inputs: inputs}, len(parts) > 0
}

func usedFigure(q *kit.Request, l looked) kit.Figure {
	u := q.Locale()
	f := kit.Figure{Key: foremost, Label: q.T("wood used"), Value: u.Mass(l.review.Used), Formula: q.T("Sum of all loads, as they were put on; each is taken off its stack."),
		Inputs: []kit.Input{kit.From(q.T("loads"), fmt.Sprint(countKind(l.Burn.Burn, burn.Load)), kit.Entered)}}
	if per, ok := l.review.WoodPerKelvinHour(); ok {
		grams := 1000 * float64(per)
		unit := q.T(" g for each °C and hour")
		if u.System == units.Imperial {
			grams /= 1.8
			unit = q.T(" g for each °F and hour")
		}
		f.Value += " · " + q.Locale().Number(grams, 0) + unit
		f.Inputs = append(f.Inputs, kit.From(q.T("between room and outdoors, over the burn"), q.Locale().Number(l.review.KelvinHours, 0)+" K·h", kit.Computed))
	}
	return f
}

func heldFigure(q *kit.Request, l looked) kit.Figure {
	f := kit.Figure{Key: foremost, Label: q.T("the room held"), Value: q.Locale().Duration(l.review.Held), Formula: q.T("Time in which the room was as warm as wanted, or warmer."),
		Inputs: []kit.Input{kit.From(q.T("wanted from"), q.Locale().RoomTemperature(units.Celsius(l.Wanted[0])), kit.Entered)}}
	if l.Wanted[0] >= l.Wanted[1] {
		return kit.Figure{Key: foremost, Label: q.T("the room held"), Value: q.T("not known: nobody said how warm it should be")}
	}
	return f
}

func smokeFigure(q *kit.Request, l looked) kit.Figure {
	r := l.review
	return kit.Figure{Key: foremost, Label: q.T("smoke"), Value: q.F("%s, %s · smouldering %s", say.SmokeMass(r.Smoke, q.Locale()),
		say.Smoke(r.SmokePerKg, q.Locale()), q.Locale().Duration(r.Smoulder)),
		Formula: q.T("Of the tar that leaves unburnt the half that condenses, and soot; more or less by what was seen at the cap of this stove. The range is how well that is known of a stove whose smoke nobody has measured. Good for comparing burns, not for a certificate."),
		Inputs:  []kit.Input{kit.From(q.T("against others"), say.AgainstUse(r.SmokePerKg, l.Stove.Family, q.Locale()), kit.Computed), from(l, q.Locale())}}
}

func depositsFigure(q *kit.Request, l looked) kit.Figure {
	f := kit.Figure{Label: q.T("settled in the flue"), Value: say.SmokeMass(l.review.Settled(), q.Locale()),
		Formula: q.T("The share of the smoke whose flue wall was below ") + q.Locale().Temperature(120) + q.T(", section by section from the stove up."), Inputs: nil}
	n := len(l.review.Deposits)
	for i, g := range l.review.Deposits {
		name := q.F("section %d of %d from the stove up", i+1, n-1)
		if i == n-1 {
			name = q.T("horizontal run")
			if l.Stove.Chimney.Horizontal <= 0 {
				continue
			}
		}
		f.Inputs = append(f.Inputs, kit.From(name, q.Locale().Number(g, 1)+" g", kit.Computed))
	}
	f.Inputs = append(f.Inputs, from(l, q.Locale()))
	return f
}

// leftFigure is the wood that did not burn; none where all did.
func leftFigure(q *kit.Request, l looked) (kit.Figure, bool) {
	u, left := q.Locale(), l.review.Unburnt
	return kit.Figure{Label: q.T("wood left unburnt"), Value: q.T("about ") + u.Mass(left),
		Formula: q.T("What of the loads was neither gas nor char at the end, by the replay; counted dry. The next fire in this stove begins with it."),
		Inputs:  []kit.Input{kit.From(q.T("its energy"), u.Energy(l.UnburntEnergy(left)), kit.Computed), from(l, q.Locale())}}, left >= leastLeft
}

// leastLeft is the least wood left that is a figure, kg, dry: less are crumbs.
const leastLeft = 0.1

func coalsFigure(q *kit.Request, l looked) kit.Figure {
	return kit.Figure{Key: foremost, Label: q.T("coals left"), Value: q.T("about ") + q.Locale().Mass(l.review.Coals),
		Formula: q.T("Char that still glowed at the end, by the replay."), Inputs: []kit.Input{from(l, q.Locale())}}
}

// mineralFigures are what is known of a burn in which mineral fuel was burnt:
// what was put on, and what the gauges said.
func mineralFigures(q *kit.Request, b store.Burn, m burn.Measures) []kit.Figure {
	u := q.Locale()
	out := []kit.Figure{
		{Label: q.T("mineral fuel"), Value: u.Mass(m.Mineral), Formula: q.T("Sum of its loads. It is recorded and not simulated."),
			Inputs: []kit.Input{kit.From(q.T("loads"), fmt.Sprint(countKind(b.Burn, burn.Mineral)), kit.Entered)}},
	}
	if m.Used > 0 {
		out = append(out, kit.Figure{Label: q.T("wood used"), Value: u.Mass(m.Used), Formula: q.T("Sum of all loads of wood."),
			Inputs: []kit.Input{kit.From(q.T("loads"), fmt.Sprint(countKind(b.Burn, burn.Load)), kit.Entered)}})
	}
	if !m.NoGauge {
		band := bandFigure(q, m)
		band.Label = q.T("under, in and over the gauge's band")
		out = append(out, band)
	}
	return append(append(out, bankedFigures(u, b.Burn)...), kit.Figure{Label: q.T("efficiency, smoke, deposits"), Value: q.T("not known")})
}

// bankedFigures are what follows from what was logged of mineral fuel.
func bankedFigures(u lang.Locale, b burn.Burn) []kit.Figure {
	m, there := b.Banked()
	if !there {
		return nil
	}
	out := []kit.Figure{
		{Label: u.T("heat in the fuel to the room"), Value: u.Energy(m.HeatLow) + u.T(" to ") + u.Energy(m.HeatHigh),
			Formula: u.T("Mass × net heating value × what stoves on such fuel are known to give: no more is known, and nothing of it is simulated."),
			Inputs: []kit.Input{kit.From(u.T("net heating value"), u.HeatOf(28), kit.Assumed), kit.From(u.T("efficiency"), u.T("60 to 78 %"), kit.Assumed),
				kit.From(u.T("mass"), u.Mass(m.Fuel), kit.Entered)}},
		{Label: u.T("put on"), Value: u.N(len(m.Refuels), "%d time", "%d times"), Formula: u.T("Loads of mineral fuel in the log."), Inputs: nil},
		{Label: u.T("ash that it leaves"), Value: u.T("about ") + u.Mass(m.Ash), Formula: u.T("7 % of what was put on; 4 to 12 by the kind."), Inputs: nil},
	}
	if m.Every > 0 {
		out[1].Value += u.T(", every ") + u.Duration(m.Every.Round(5*time.Minute))
	}
	if m.Riddles+m.AshOuts > 0 {
		out = append(out, kit.Figure{Label: u.T("riddled · ash out"), Value: u.F("%d · %d times", m.Riddles, m.AshOuts)})
	}
	if n := len(m.Beds); n > 0 {
		out = append(out, kit.Figure{Label: u.T("bed, as it was seen last"), Value: u.Size(m.Beds[n-1])})
	}
	return out
}

func countKind(b burn.Burn, k burn.Kind) int {
	n := 0
	for e := range b.NotReadings() {
		if e.Kind == k {
			n++
		}
	}
	return n
}

func bandFigure(q *kit.Request, m burn.Measures) kit.Figure {
	f := kit.Figure{Key: foremost, Label: q.T("cold and smoky · working · too hot"),
		Value:   fmt.Sprintf("%s · %s · %s", q.Locale().Duration(m.Cold), q.Locale().Duration(m.Working), q.Locale().Duration(m.TooHot)),
		Formula: q.T("Minutes that the gauge in hand stood below, in and above its band; too hot counts every gauge that has a limit. Readings up to 45 minutes apart are joined by a straight line; beyond that the time counts as not known."),
		Inputs: []kit.Input{kit.From(q.T("gauge"), gaugeName(m, q.Locale()), kit.Entered),
			kit.From(q.T("band"), q.F("%s to %s, too hot from %s", q.Locale().Degrees(m.Gauge.Band.Low), q.Locale().Degrees(m.Gauge.Band.High),
				q.Locale().Temperature(m.Gauge.Band.TooHot)), kit.Entered), kit.From(q.T("not known"), q.Locale().Duration(m.Unknown), kit.Measured)}}
	if m.NoGauge {
		f.Value = q.T("by the computed flue gas: ") + f.Value
	}
	if m.Source == burn.FromReplay {
		f.Inputs = append(f.Inputs, kit.From(q.T("readings"), q.T("fewer than three, so the replay of the log was used"), kit.Assumed))
	}
	return f
}

// gaugeName is the guiding gauge, or that there is none.
func gaugeName(m burn.Measures, loc lang.Locale) string {
	if m.NoGauge {
		return loc.T("none here: ") + loc.T(say.Places.Short(m.Gauge.Place)) + loc.T(" as the simulator has it")
	}
	return loc.T(say.Places.Name(m.Gauge.Place))
}

func workingFigure(q *kit.Request, l looked) kit.Figure {
	span := func(d time.Duration) string {
		if d < 0 {
			return q.T("not reached")
		}
		return q.Locale().Duration(d)
	}
	r := l.review
	return kit.Figure{Label: q.T("to a steady draft · to the working band"), Value: span(r.ToDraft) + " · " + span(r.ToWorking),
		Formula: q.T("From the start until the flue had pulled 6 Pa for five minutes, by the replay; and until the gauge in hand first stood in its band."),
		Inputs:  []kit.Input{kit.From(q.T("band from"), q.Locale().Temperature(l.m.Gauge.Band.Low), kit.Entered)}}
}

func rangeOf(low, high units.Fraction) string {
	return units.Number(low.Percent(), 0) + "–" + units.Percent(high, 0)
}
