package strip

import (
	"slices"
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/plan"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/say"
)

// Limits of what one strip shows: more could not be told apart on it.
const (
	mostDots   = 300  // readings marked one by one
	mostPoints = 1200 // of a pen
	mostMarks  = 400
)

// OfBurn puts a logged burn on a strip, over its plan if it had one, until a
// moment; hand is the gauge that the pen in hand draws, if the stove has it.
func OfBurn(b burn.Burn, p *plan.Plan, m burn.Measures, until time.Time, hand stove.Place, v View) Chart {
	c := Chart{ID: "burn", Title: v.Locale.T("The burn of ") + b.Stove.Name + v.Locale.T(" as a strip: temperatures, air, fuel and room over time"),
		Locale: v.Locale, Zone: v.Zone, Start: b.Started, Clock: true, To: until.Sub(b.Started) + 4*time.Minute,
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
				l.Steps = append(l.Steps, LaneStep{At: e.At.Sub(b.Started), Opening: e.Opening, Say: say.ShortMark(control.Scale, e.Opening, v.Locale)})
			}
		}
	}
	if p != nil {
		addPlan(&c, p, false)
		span := time.Duration(len(p.Predicted.Room)-1) * p.Predicted.Every
		if b.Ended.IsZero() {
			c.To = max(c.To, min(span, p.Wish.For+30*time.Minute))
		}
	} else if b.Ended.IsZero() {
		c.To = max(c.To, 2*time.Hour)
	}
	for _, place := range stove.Places {
		if readings := b.Readings(place); len(readings) > 0 && place != stove.OutdoorAir {
			pen := Pen{Place: place, Dots: len(readings) <= mostDots}
			for _, e := range readings {
				pen.Points = append(pen.Points, Point{At: e.At.Sub(b.Started), V: float64(e.Reading)})
			}
			pen.Points = Thinned(pen.Points, mostPoints)
			c.Pens = append(c.Pens, pen)
		}
	}
	addReplay(&c, b, m)
	for _, e := range valid {
		at := e.At.Sub(b.Started)
		if e.Reported {
			continue // a draft gauge makes too many to be marked one by one
		}
		if kind, word, brief := say.EntryMark(b, *e, v.Locale); kind != "" && len(c.Marks) < mostMarks {
			c.Marks = append(c.Marks, Mark{At: at, Kind: kind, Word: e.At.In(c.Zone).Format("15:04") + " " + word, Says: brief})
		}
		if e.Load != nil && len(c.Fuel) < mostMarks {
			c.Fuel = append(c.Fuel, block(*e.Load, at, c.Locale, false))
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
func addReplay(c *Chart, b burn.Burn, m burn.Measures) {
	if b.ReadingsAt(c.Band.Place) >= 2 || len(m.Replay.Samples) == 0 {
		return
	}
	if _, there := b.Stove.Gauge(c.Band.Place); !there && !m.NoGauge {
		return
	}
	pen := Pen{Place: c.Band.Place, Replayed: true}
	for i, s := range m.Replay.Samples {
		if t, ok := s.Reading(c.Band.Place); ok && i%2 == 0 {
			pen.Points = append(pen.Points, Point{At: s.At, V: float64(t)})
		}
	}
	c.Pens = append(c.Pens, pen)
}

// believedOver is over how long a replayed line goes over to what is believed.
const believedOver = 45 * time.Minute

// EndsAt lets the line that was replayed, because nobody read its gauge, end at what is
// believed that it shows now: the replay is of a usual stove, and one page must not say two
// numbers of one gauge.
func (c *Chart) EndsAt(p stove.Place, celsius float64) {
	for i := range c.Pens {
		pen := &c.Pens[i]
		n := len(pen.Points)
		if !pen.Replayed || pen.Place != p || n == 0 {
			continue
		}
		last := pen.Points[n-1]
		off := celsius - last.V
		points := slices.Clone(pen.Points)
		for k := range points {
			if back := last.At - points[k].At; back < believedOver {
				points[k].V += off * (1 - float64(back)/float64(believedOver))
			}
		}
		pen.Points = points
	}
}
