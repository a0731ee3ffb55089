package web

import (
	"html/template"
	"slices"
	"strings"
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/plan"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/when"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/strip"
)

// A pair is a strip at the laptop's and at the phone's width; the style shows
// one of them.
type pair struct{ Wide, Narrow template.HTML }

const (
	wideStrip   = 1060
	narrowStrip = 358
	otherStrip  = 510 // of an alternative, beside the other one
)

// draw makes both widths of a chart.
func draw(c strip.Chart, wide float64) pair {
	id := c.ID
	c.Width, c.ID = wide, id+"-wide"
	out := pair{Wide: c.SVG()}
	c.Width, c.ID = narrowStrip, id+"-narrow"
	out.Narrow = c.SVG()
	return out
}

// planChart puts a plan on a strip. started is when it would begin.
func planChart(q *request, p *plan.Plan, started time.Time) strip.Chart {
	c := strip.Chart{ID: "plan", Title: "The planned burn of " + p.Wish.Stove.Name + " as a strip: temperatures, air, fuel and room over time",
		Units: q.units(), Zone: q.profile.Location(), Start: started, Clock: true,
		To:     min(p.Wish.For+30*time.Minute, time.Duration(len(p.Predicted.Room)-1)*p.Predicted.Every),
		Wanted: [2]units.Celsius{p.Wish.Low, p.Wish.High}}
	if g, ok := p.Wish.Stove.Guide(); ok {
		c.Band = g
	} else {
		c.Band = stove.NewGauge(stove.ConnectorProbe)
	}
	addPlan(&c, p, true)
	addPresence(&c, p.Wish.There)
	return c
}

// addPresence adds a lane of when somebody is by the stove, where that is not
// all the time.
func addPresence(c *strip.Chart, there when.Presence) {
	if there == nil {
		return
	}
	lane := strip.Lane{Name: "tended"}
	if !there.Somebody(0) {
		lane.Plan = append(lane.Plan, strip.LaneStep{Opening: 0, Say: "nobody there"})
	}
	for _, s := range there {
		if s.From < c.To {
			lane.Plan = append(lane.Plan, strip.LaneStep{At: s.From, Opening: 0.5, Say: "somebody"})
		}
		if s.To < c.To {
			lane.Plan = append(lane.Plan, strip.LaneStep{At: s.To, Opening: 0, Say: "nobody there"})
		}
	}
	c.Lanes = append(c.Lanes, lane)
}

// addPlan lays a plan's pens, lanes and loads on a chart. all draws every
// gauge and the range; else only the gauge in hand, under the ink.
func addPlan(c *strip.Chart, p *plan.Plan, all bool) {
	for _, place := range stove.Places {
		curve, there := p.Predicted.Gauges[place]
		if !there || (!all && place != c.Band.Place) {
			continue
		}
		c.Pens = append(c.Pens, strip.Pen{Place: place, Planned: true, Points: points(curve, p.Predicted.Every)})
	}
	if _, there := p.Predicted.Gauges[c.Band.Place]; there && all {
		c.Range = [2][]strip.Point{points(p.Low, p.Predicted.Every), points(p.High, p.Predicted.Every)}
	}
	c.Pens = append(c.Pens, strip.Pen{Place: stove.RoomAir, Planned: true, Points: points(p.Predicted.Room, p.Predicted.Every)})
	lanes := map[string]int{}
	for _, control := range p.Wish.Stove.Controls {
		lanes[control.Key] = -1
	}
	for _, s := range p.Steps {
		if s.Expected < 0 {
			continue
		}
		for _, a := range s.Fire.Do {
			switch {
			case a.Kind == fire.ActControl:
				control, known := p.Wish.Stove.Control(a.Control)
				if !known || !worthALane(p, control) {
					continue
				}
				laneOf(c, control).Plan = append(laneOf(c, control).Plan, strip.LaneStep{At: s.Expected, Opening: a.Opening, Say: shortSay(control, a.Opening)})
			case a.Kind == fire.ActLoad && a.Load != nil && all:
				c.Fuel = append(c.Fuel, block(*a.Load, s.Expected, c.Units, true))
			case a.Kind == fire.ActDoor && all:
				c.Marks = append(c.Marks, strip.Mark{At: s.Expected, Kind: doorSign(a.Door), Word: "planned: " + say.Door(a.Door)})
			case a.Kind == fire.ActPrime && all:
				c.Marks = append(c.Marks, strip.Mark{At: s.Expected, Kind: "prime", Word: "planned: warm the flue"})
			case a.Kind == fire.ActLight && all:
				c.Marks = append(c.Marks, strip.Mark{At: s.Expected, Kind: "light", Word: "planned: light"})
			}
		}
	}
	if all {
		c.States = states(p.Predicted.Phases, p.Predicted.Every)
	}
}

// worthALane tells whether a plan moves a control at all: one that stays as it is
// set at the start is told in words.
func worthALane(p *plan.Plan, c stove.Control) bool {
	if air, ok := p.Wish.Stove.MainAir(); ok && air.Key == c.Key || c.Role == stove.BypassRole {
		return true
	}
	moves := 0
	for _, s := range p.Steps {
		for _, a := range s.Fire.Do {
			if a.Kind == fire.ActControl && a.Control == c.Key {
				moves++
			}
		}
	}
	return moves > 1
}

func points(values []float64, every time.Duration) []strip.Point {
	out := make([]strip.Point, len(values))
	for i, v := range values {
		out[i] = strip.Point{At: time.Duration(i) * every, V: v}
	}
	return out
}

// laneOf finds or makes the lane of a control.
func laneOf(c *strip.Chart, control stove.Control) *strip.Lane {
	name := units.LowerFirst(control.Name)
	for i := range c.Lanes {
		if c.Lanes[i].Name == name {
			return &c.Lanes[i]
		}
	}
	c.Lanes = append(c.Lanes, strip.Lane{Name: name})
	return &c.Lanes[len(c.Lanes)-1]
}

// fractionSigns shorten a lever's words on the strip.
var fractionSigns = strings.NewReplacer("an eighth", "⅛", "a sixth", "⅙", "a quarter", "¼", "a third", "⅓", "a half", "½", "two thirds", "⅔", "three quarters", "¾",
	"fully right", "right", "fully left", "left", "fully open", "open")

func shortSay(c stove.Control, opening float64) string {
	return fractionSigns.Replace(say.Mark(c.Scale, opening))
}

func block(l fire.Load, at time.Duration, s units.System, planned bool) strip.Block {
	label := s.Mass(l.Mass())
	if l.Kindling {
		label += " kindling"
	} else if word, _, ok := strings.Cut(l.StackName, ","); ok || word != "" {
		label += " " + word
	}
	b := strip.Block{At: at, Mass: l.Mass(), Pieces: l.Pieces, Moisture: l.Moisture, Label: label, Planned: planned}
	if l.Species.Mineral {
		b.Moisture = 0
	}
	return b
}

// states joins equal phases.
func states(phases []fire.Phase, every time.Duration) []strip.State {
	var out []strip.State
	for i, p := range phases {
		if len(out) == 0 || out[len(out)-1].Name != string(p) {
			out = append(out, strip.State{At: time.Duration(i) * every, Name: string(p)})
		}
	}
	return settled(out, time.Duration(len(phases))*every)
}

// settled drops states shorter than four minutes: a flicker is not a phase.
func settled(in []strip.State, end time.Duration) []strip.State {
	var out []strip.State
	for i, s := range in {
		until := end
		if i+1 < len(in) {
			until = in[i+1].At
		}
		switch {
		case len(out) > 0 && out[len(out)-1].Name == s.Name:
		case until-s.At < 4*time.Minute && len(out) > 0:
		default:
			out = append(out, s)
		}
	}
	return out
}

// Limits of what one strip shows: more could not be told apart on it.
const (
	mostDots   = 300  // readings marked one by one
	mostPoints = 1200 // of a pen
	mostMarks  = 400
)

// burnChart puts a logged burn on a strip, over its plan if it had one.
func burnChart(q *request, b store.Burn, m burn.Measures, until time.Time, hand stove.Place) strip.Chart {
	c := strip.Chart{ID: "burn", Title: "The burn of " + b.Stove.Name + " as a strip: temperatures, air, fuel and room over time",
		Units: q.units(), Zone: q.profile.Location(), Start: b.Started, Clock: true, To: until.Sub(b.Started) + 4*time.Minute,
		Wanted: [2]units.Celsius{units.Celsius(b.Wanted[0]), units.Celsius(b.Wanted[1])}, Band: m.Gauge}
	if g, ok := b.Stove.Gauge(hand); ok && hand.OfFire() {
		c.Band = g
	}
	if b.Ended.IsZero() {
		c.Now = until.Sub(b.Started)
	}
	valid := slices.Collect(b.NotReadings())
	for _, control := range b.Stove.Controls {
		for _, e := range valid {
			if e.Kind == burn.Control && e.Control == control.Key {
				l := laneOf(&c, control)
				l.Steps = append(l.Steps, strip.LaneStep{At: e.At.Sub(b.Started), Opening: e.Opening, Say: shortSay(control, e.Opening)})
			}
		}
	}
	if b.Plan != nil {
		addPlan(&c, b.Plan, false)
		span := time.Duration(len(b.Plan.Predicted.Room)-1) * b.Plan.Predicted.Every
		if b.Ended.IsZero() {
			c.To = max(c.To, min(span, b.Plan.Wish.For+30*time.Minute))
		}
	} else if b.Ended.IsZero() {
		c.To = max(c.To, 2*time.Hour)
	}
	for _, place := range stove.Places {
		if readings := b.Readings(place); len(readings) > 0 && place != stove.OutdoorAir {
			pen := strip.Pen{Place: place, Dots: len(readings) <= mostDots}
			for _, e := range readings {
				pen.Points = append(pen.Points, strip.Point{At: e.At.Sub(b.Started), V: float64(e.Reading)})
			}
			pen.Points = strip.Thinned(pen.Points, mostPoints)
			c.Pens = append(c.Pens, pen)
		}
	}
	addReplay(&c, b, m)
	for _, e := range valid {
		at := e.At.Sub(b.Started)
		if kind, word := markOf(q, b, *e); kind != "" && len(c.Marks) < mostMarks {
			c.Marks = append(c.Marks, strip.Mark{At: at, Kind: kind, Word: e.At.In(c.Zone).Format("15:04") + " " + word})
		}
		if e.Load != nil && len(c.Fuel) < mostMarks {
			c.Fuel = append(c.Fuel, block(*e.Load, at, c.Units, false))
		}
	}
	var phases []fire.Phase
	for _, s := range m.Replay.Samples {
		phases = append(phases, s.Phase)
	}
	c.States = states(phases, time.Minute)
	return c
}

// addReplay draws the replayed gauge in hand when the owner did not read it.
func addReplay(c *strip.Chart, b store.Burn, m burn.Measures) {
	if b.ReadingsAt(c.Band.Place) >= 2 || len(m.Replay.Samples) == 0 {
		return
	}
	if _, there := b.Stove.Gauge(c.Band.Place); !there && !m.NoGauge {
		return
	}
	pen := strip.Pen{Place: c.Band.Place, Replayed: true}
	for i, s := range m.Replay.Samples {
		if t, ok := s.Reading(c.Band.Place); ok && i%2 == 0 {
			pen.Points = append(pen.Points, strip.Point{At: s.At, V: float64(t)})
		}
	}
	c.Pens = append(c.Pens, pen)
}

// markOf returns the sign and the word of an entry, or nothing.
func markOf(q *request, b store.Burn, e burn.Entry) (kind, word string) {
	switch e.Kind {
	case burn.Light:
		return "light", "lit"
	case burn.Door:
		return doorSign(e.Door), say.Door(e.Door)
	case burn.Smoke:
		return "smoke-" + e.Smoke, say.Smoke(e.Smoke)
	case burn.Draft:
		return "draft", "draft " + q.units().Draft(e.Draft)
	case burn.Note:
		return "note", e.Note
	case burn.Out:
		return "out", "out"
	case burn.Prime:
		return "prime", "flue warmed"
	case burn.Rake:
		return "rake", "coals raked"
	case burn.Control:
		if c, ok := b.Stove.Control(e.Control); ok && c.Role == stove.BypassRole {
			return "bypass", units.LowerFirst(c.Name) + " " + say.Mark(c.Scale, e.Opening)
		}
	}
	return "", ""
}

func doorSign(d fire.Door) string {
	return map[fire.Door]string{fire.Shut: "door-shut", fire.Ajar: "door-ajar", fire.Open: "door-open"}[d]
}
