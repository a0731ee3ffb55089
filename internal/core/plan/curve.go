package plan

import (
	"math"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
)

// A Curve is a predicted burn at even steps of time.
type Curve struct {
	Every  time.Duration
	Gauges map[stove.Place][]float64
	Room   []float64
	Draft  []float64
	Smoke  []float64
	Coals  []float64
	Heat   []float64
	Phases []fire.Phase
}

// curveOf keeps of a run what the strip draws.
func curveOf(s stove.Stove, r fire.Result) Curve {
	c := Curve{Every: Every, Gauges: map[stove.Place][]float64{}}
	places := []stove.Place{}
	for _, g := range s.Gauges {
		if g.Place.OfFire() {
			places = append(places, g.Place)
		}
	}
	if len(places) == 0 {
		places = append(places, stove.ConnectorProbe)
	}
	for _, sample := range r.Samples {
		for _, p := range places {
			t, _ := sample.Reading(p)
			c.Gauges[p] = append(c.Gauges[p], tenth(float64(t)))
		}
		c.Room = append(c.Room, tenth(float64(sample.Room)))
		c.Draft = append(c.Draft, tenth(float64(sample.Draft)))
		c.Smoke = append(c.Smoke, tenth(sample.Smoke*1e6))
		c.Coals = append(c.Coals, math.Round(float64(sample.Coals)*100)/100)
		c.Heat = append(c.Heat, math.Round(float64(sample.ToRoom)))
		c.Phases = append(c.Phases, sample.Phase)
	}
	return c
}

// WeakestDraft is the least draft after the last turn-down, while there are
// coals.
func (p Plan) WeakestDraft() units.Pascal {
	last := time.Duration(0)
	for _, s := range p.Steps {
		if s.Kind == TurnDown {
			last = max(last, s.Expected)
		}
	}
	weakest := math.Inf(1)
	for i, d := range p.Predicted.Draft {
		if at := time.Duration(i) * p.Predicted.Every; at > last && at <= p.Wish.For && p.Predicted.Coals[i] > fire.CoalsGone {
			weakest = math.Min(weakest, d)
		}
	}
	return units.Pascal(weakest)
}

// RoomRange is the coldest and the warmest that the room gets in the second half
// of the wish, °C.
func (p Plan) RoomRange() (lowest, highest float64) {
	lowest, highest = math.Inf(1), math.Inf(-1)
	for i, t := range p.Predicted.Room {
		if at := time.Duration(i) * p.Predicted.Every; at > p.Wish.For/2 && at <= p.Wish.For {
			lowest, highest = math.Min(lowest, t), math.Max(highest, t)
		}
	}
	return lowest, highest
}

// coolsIn and coalsIn are the times in which a stove left alone and its coals go
// down to a third, once nothing is put on any more, h.
const coolsIn, coalsIn = 2.0, 3.0

// HeatAt returns what the plan gives the room at a time since its beginning, W;
// before it nothing.
func (p Plan) HeatAt(at time.Duration) float64 {
	if at < 0 || p.Predicted.Every <= 0 {
		return 0
	}
	return p.heatAt(at)
}

// heatAt returns the plan's heat into the room at a time, W; beyond its end the
// stove cools.
func (p Plan) heatAt(at time.Duration) float64 {
	heat := p.Predicted.Heat
	if i := int(at / p.Predicted.Every); i < len(heat) {
		return heat[i]
	}
	if n := len(heat); n > 0 {
		return heat[n-1] * math.Exp(-p.beyond(at, n)/coolsIn)
	}
	return 0
}

// beyond is how long a time lies after a curve of n points, h.
func (p Plan) beyond(at time.Duration, n int) float64 {
	return (at - time.Duration(n)*p.Predicted.Every).Hours()
}

// BodyAt returns how warm the stove is at a time; beyond the plan's end it
// cools towards the room.
func (p Plan) BodyAt(at time.Duration, room units.Celsius) units.Celsius {
	n := len(p.body)
	if n == 0 {
		return room
	}
	if i := int(at / p.Predicted.Every); i < n {
		return p.body[i]
	}
	return room + (p.body[n-1]-room)*units.Celsius(math.Exp(-p.beyond(at, n)/coolsIn))
}

// BurntDown tells whether the heat has fallen to half of its peak: the wood has
// gone to coals.
func (p Plan) BurntDown(at time.Duration) bool {
	peak := 0.0
	for t := time.Duration(0); t <= at; t += 10 * time.Minute {
		peak = math.Max(peak, p.heatAt(t))
	}
	return p.heatAt(at) < peak/2
}

// StartAt is what a later load finds at a time of the plan.
func (p Plan) StartAt(at time.Duration) wish.Start {
	kilos, coals := 0.0, p.Predicted.Coals
	if i := int(at / p.Predicted.Every); i < len(coals) {
		kilos = coals[i]
	} else if n := len(coals); n > 0 {
		kilos = coals[n-1] * math.Exp(-p.beyond(at, n)/coalsIn)
	}
	return wish.StartOn(units.Kilogram(kilos), p.Wish.Stove.Volume)
}
