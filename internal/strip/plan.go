package strip

import (
	"html/template"
	"strings"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/plan"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/when"
	"smolder/internal/lang"
	"smolder/internal/say"
)

// A View is how whoever looks wants a chart: units, zone, and when its nought is.
type View struct {
	Locale lang.Locale
	Zone   *time.Location
	Start  time.Time
}

// A Pair is a strip at the laptop's and at the phone's width; the style shows
// one of them.
type Pair struct{ Wide, Narrow template.HTML }

// The widths of strips, px: they are drawn for where they stand, and not shrunk.
const (
	Page   = 1040 // across a page
	Wide   = 1000
	Sheet  = 740 // on the sheet for the wall
	Beside = 640 // beside what is to be done
	Live   = 640 // at the stove
	Phone  = 358
)

// Draw makes both widths of a chart.
func Draw(c Chart, wide float64) Pair {
	id := c.ID
	c.Width, c.ID = wide, id+"-wide"
	out := Pair{Wide: c.SVG()}
	c.Width, c.ID = Phone, id+"-narrow"
	out.Narrow = c.SVG()
	return out
}

// OfPlan puts a plan on a strip.
func OfPlan(p plan.Plan, v View) Chart {
	c := Chart{ID: "plan", Title: v.Locale.T("The planned burn of ") + p.Wish.Stove.Name + v.Locale.T(" as a strip: temperatures, air, fuel and room over time"),
		Locale: v.Locale, Zone: v.Zone, Start: v.Start, Clock: true,
		To:     min(p.Wish.For+30*time.Minute, time.Duration(len(p.Predicted.Room)-1)*p.Predicted.Every),
		Wanted: [2]units.Celsius{p.Wish.Low, p.Wish.High}}
	if g, ok := p.Wish.Stove.Guide(); ok {
		c.Band = g
	} else {
		c.Band = stove.NewGauge(stove.ConnectorProbe)
	}
	addPlan(&c, &p, true)
	addPresence(&c, p.Wish.There)
	return c
}

// addPresence adds a lane of when somebody is by the stove, where that is not
// all the time.
func addPresence(c *Chart, there when.Presence) {
	if there == nil {
		return
	}
	lane := Lane{Name: c.Locale.T("tended")}
	if !there.Somebody(0) {
		lane.Plan = append(lane.Plan, LaneStep{Opening: 0, Say: c.Locale.T("nobody there")})
	}
	for _, s := range there {
		if s.From < c.To {
			lane.Plan = append(lane.Plan, LaneStep{At: s.From, Opening: 0.5, Say: c.Locale.T("somebody")})
		}
		if s.To < c.To {
			lane.Plan = append(lane.Plan, LaneStep{At: s.To, Opening: 0, Say: c.Locale.T("nobody there")})
		}
	}
	c.Lanes = append(c.Lanes, lane)
}

// addPlan lays a plan's pens, lanes and loads on a chart. all draws every
// gauge and the range; else only the gauge in hand, under the ink.
func addPlan(c *Chart, p *plan.Plan, all bool) {
	for _, place := range stove.Places {
		curve, there := p.Predicted.Gauges[place]
		if !there || (!all && place != c.Band.Place) {
			continue
		}
		c.Pens = append(c.Pens, Pen{Place: place, Planned: true, Points: points(curve, p.Predicted.Every)})
	}
	if _, there := p.Predicted.Gauges[c.Band.Place]; there && all {
		c.Range = [2][]Point{points(p.Low, p.Predicted.Every), points(p.High, p.Predicted.Every)}
	}
	c.Pens = append(c.Pens, Pen{Place: stove.RoomAir, Planned: true, Points: points(p.Predicted.Room, p.Predicted.Every)})
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
				laneOf(c, control).Plan = append(laneOf(c, control).Plan, LaneStep{At: s.Expected, Opening: a.Opening, Say: say.ShortMark(control.Scale, a.Opening, c.Locale)})
			case a.Kind == fire.ActLoad && a.Load != nil && all:
				c.Fuel = append(c.Fuel, block(*a.Load, s.Expected, c.Locale, true))
			case a.Kind == fire.ActDoor && all:
				c.Marks = append(c.Marks, Mark{At: s.Expected, Kind: say.DoorSign(a.Door), Word: c.Locale.T("planned: ") + say.Door(a.Door, c.Locale), Says: say.Door(a.Door, c.Locale)})
			case a.Kind == fire.ActPrime && all:
				c.Marks = append(c.Marks, Mark{At: s.Expected, Kind: "prime", Word: c.Locale.T("planned: warm the flue"), Says: c.Locale.T("warm the flue")})
			case a.Kind == fire.ActLight && all:
				c.Marks = append(c.Marks, Mark{At: s.Expected, Kind: "light", Word: c.Locale.T("planned: light"), Says: c.Locale.T("light")})
			}
		}
	}
	if all {
		c.States = states(p.Predicted.Phases, p.Predicted.Every)
	}
}

// worthALane tells whether a plan moves a control at all: one that stays as it is
// set at the start, however often that is said again, is told in words.
func worthALane(p *plan.Plan, c stove.Control) bool {
	if air, ok := p.Wish.Stove.MainAir(); ok && air.Key == c.Key || c.Role == stove.BypassRole {
		return true
	}
	var set *float64
	for _, s := range p.Steps {
		for _, a := range s.Fire.Do {
			if a.Kind != fire.ActControl || a.Control != c.Key {
				continue
			}
			if set != nil && a.Opening != *set {
				return true
			}
			set = &a.Opening
		}
	}
	return false
}

func points(values []float64, every time.Duration) []Point {
	out := make([]Point, len(values))
	for i, v := range values {
		out[i] = Point{At: time.Duration(i) * every, V: v}
	}
	return out
}

// laneOf finds or makes the lane of a control.
func laneOf(c *Chart, control stove.Control) *Lane {
	name := c.Locale.Mid(control.Name)
	for i := range c.Lanes {
		if c.Lanes[i].Name == name {
			return &c.Lanes[i]
		}
	}
	c.Lanes = append(c.Lanes, Lane{Name: name})
	return &c.Lanes[len(c.Lanes)-1]
}

func block(l fire.Load, at time.Duration, s lang.Locale, planned bool) Block {
	label := s.Mass(l.Mass())
	if l.Kindling {
		label += s.T(" kindling")
	} else if word, _, ok := strings.Cut(say.StackName(l.StackName, s), ","); ok || word != "" {
		label += " " + word
	}
	b := Block{At: at, Mass: l.Mass(), Pieces: l.Pieces, Moisture: l.Moisture, Label: label, Planned: planned}
	if l.Species.Mineral {
		b.Moisture = 0
	}
	return b
}

// states joins equal phases.
func states(phases []fire.Phase, every time.Duration) []State {
	var out []State
	for i, p := range phases {
		if len(out) == 0 || out[len(out)-1].Name != string(p) {
			out = append(out, State{At: time.Duration(i) * every, Name: string(p)})
		}
	}
	return settled(out, time.Duration(len(phases))*every)
}

// settled drops states shorter than four minutes: a flicker is not a phase.
func settled(in []State, end time.Duration) []State {
	var out []State
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
