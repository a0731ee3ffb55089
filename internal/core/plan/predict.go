package plan

import (
	"math"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// curveOf keeps of a run what the strip draws.
func curveOf(s stove.Stove, r fire.Result) Curve {
	c := Curve{Every: curveEvery, Gauges: map[stove.Place][]float64{}}
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

func tenth(v float64) float64 { return math.Round(v*10) / 10 }

// weakestDraft is the least draft after the last turn-down, while there are
// coals.
func (p Plan) weakestDraft() units.Pascal {
	last := time.Duration(0)
	for _, s := range p.Steps {
		if s.Kind == TurnDown {
			last = max(last, s.Expected)
		}
	}
	weakest := math.Inf(1)
	for i, d := range p.Predicted.Draft {
		if at := time.Duration(i) * p.Predicted.Every; at > last && at <= p.Wish.For && p.Predicted.Coals[i] > 0.05 {
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
