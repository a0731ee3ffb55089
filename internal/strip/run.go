package strip

import (
	"strings"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
	"smolder/internal/lang"
	"smolder/internal/say"
)

// A Run is a simulated burn to be drawn.
type Run struct {
	Setup  fire.Setup
	Steps  []fire.Move
	Result fire.Result
}

// RunChart puts a simulated burn on a strip, in ink, and lays another over it
// in the second ink where there is one.
func RunChart(id string, u lang.Locale, run Run, over *Run) Chart {
	c := Chart{ID: id, Title: u.T("The simulated burn of ") + run.Setup.Stove.Name + u.T(" as a strip: temperatures, air, fuel and room over time"),
		Locale: u, Zone: time.UTC, To: run.length(), Band: stove.NewGauge(stove.ConnectorProbe)}
	if g, ok := run.Setup.Stove.Guide(); ok {
		c.Band = g
	}
	c.add(run, false)
	if over != nil {
		c.To = max(c.To, over.length())
		c.add(*over, true)
	}
	return c
}

func (r Run) length() time.Duration {
	if n := len(r.Result.Samples); n > 0 {
		return r.Result.Samples[n-1].At
	}
	return 0
}

// add puts the pens, lanes, loads and states of a run on the chart.
func (c *Chart) add(run Run, second bool) {
	places := []stove.Place{}
	for _, g := range run.Setup.Stove.Gauges {
		if g.Place.OfFire() {
			places = append(places, g.Place)
		}
	}
	if len(places) == 0 {
		places = append(places, stove.ConnectorProbe)
	}
	for _, p := range append(places, stove.RoomAir) {
		if second && p != c.Band.Place && p != stove.RoomAir {
			continue // the second setting is told by the gauge in hand
		}
		pen := Pen{Place: p, Second: second}
		for i := 0; i < len(run.Result.Samples); i += 1 + len(run.Result.Samples)/500 {
			s := run.Result.Samples[i]
			t, _ := s.Reading(p)
			pen.Points = append(pen.Points, Point{s.At, float64(t)})
		}
		c.Pens = append(c.Pens, pen)
	}
	for i, step := range run.Steps {
		at := time.Duration(-1)
		if i < len(run.Result.Done) {
			at = run.Result.Done[i]
		}
		for _, a := range step.Do {
			if at >= 0 {
				c.act(run.Setup.Stove, a, at, second)
			}
		}
	}
	if !second {
		for _, s := range run.Result.Samples {
			if n := len(c.States); n == 0 || c.States[n-1].Name != string(s.Phase) {
				c.States = append(c.States, State{s.At, string(s.Phase)})
			}
		}
	}
}

// act puts one act where it was done.
func (c *Chart) act(s stove.Stove, a fire.Act, at time.Duration, second bool) {
	switch {
	case a.Kind == fire.ActControl:
		control, ok := s.Control(a.Control)
		if !ok {
			return
		}
		lane := c.lane(strings.ToLower(control.Name))
		step := LaneStep{At: at, Opening: a.Opening, Say: say.Mark(control.Scale, a.Opening, c.Locale)}
		if second {
			lane.Plan = append(lane.Plan, step)
		} else {
			lane.Steps = append(lane.Steps, step)
		}
	case a.Kind == fire.ActLoad && a.Load != nil:
		c.Fuel = append(c.Fuel, Block{At: at, Mass: a.Load.Mass(), Pieces: a.Load.Pieces, Moisture: a.Load.Moisture, Planned: second,
			Label: c.Locale.Mass(a.Load.Mass()) + " " + strings.ToLower(say.Species(a.Load.Species, c.Locale))})
	case second: // marks of the second setting would hide the first's
	case a.Kind == fire.ActDoor:
		kinds, words := []string{"door-shut", "door-ajar", "door-open"}, []string{c.Locale.T("door shut"), c.Locale.T("door ajar"), c.Locale.T("door open")}
		c.Marks = append(c.Marks, Mark{At: at, Kind: kinds[a.Door], Word: words[a.Door]})
	case a.Kind == fire.ActLight:
		c.Marks = append(c.Marks, Mark{At: at, Kind: "light", Word: c.Locale.T("lit")})
	case a.Kind == fire.ActPrime:
		c.Marks = append(c.Marks, Mark{At: at, Kind: "draft", Word: c.Locale.T("flue primed")})
	}
}

func (c *Chart) lane(name string) *Lane {
	for i := range c.Lanes {
		if c.Lanes[i].Name == name {
			return &c.Lanes[i]
		}
	}
	c.Lanes = append(c.Lanes, Lane{Name: name})
	return &c.Lanes[len(c.Lanes)-1]
}

// inks are the strip's styles for a file of its own, in the colours of the
// paper theme.
const inks = `text{font:12px "Atkinson Hyperlegible Next",sans-serif;fill:#211d17}.quiet{fill:#655c4c}.note{font:italic 12.5px Literata,serif;fill:#655c4c}` +
	`.small{font-size:12px}.grid line{stroke:#d3cab5}.tickline,.base,.state{stroke:#655c4c;stroke-width:1}.state-lead{stroke:#655c4c;stroke-width:.7}` +
	`.band{fill:#e8e0cd}.hatch{stroke:#655c4c;opacity:.6}.hatch-hot{stroke:#ad3f12}.pen{fill:none;stroke:#211d17;stroke-width:1.9}.pen-pipe{stroke-width:1.5}` +
	`.pen-top{stroke-dasharray:9 4;stroke-width:1.6}.pen-cat{stroke:#48626f;stroke-dasharray:12 3 2 3}.pen-door{stroke-dasharray:6 2 2 2;stroke-width:1.3}.pen-box{stroke:#655c4c;stroke-dasharray:3 2}` +
	`.pen-room{stroke:#59652c;stroke-width:1.6}.ribbon rect{fill:#76909c}.block-fill{fill:#f3eee1}.block-edge{fill:none;stroke:#211d17;stroke-width:1.2}` +
	`.block-bar{stroke:#211d17;stroke-width:.9}.block-wet{stroke:#48626f;stroke-width:.9}.sign{fill:none;stroke:#211d17;stroke-width:1.3}` +
	`.sign-ember{fill:#ad3f12}.sign-dot{fill:#211d17}.mark-area{fill:none}.cross{display:none}`

// Standalone returns the chart as an SVG file with its styles in it.
func (c Chart) Standalone() string {
	svg := string(c.SVG())
	head, rest, _ := strings.Cut(svg, ">")
	return `<?xml version="1.0" encoding="UTF-8"?>` + "\n" + head + "><style>" + inks + `</style><rect width="100%" height="100%" fill="#f3eee1"/>` + rest + "\n"
}
