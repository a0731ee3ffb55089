package season_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"smolder/internal/core/house"
	"smolder/internal/core/season"
	"smolder/internal/core/units"
)

func cold(days int, t units.Celsius) []units.Celsius {
	out := make([]units.Celsius, days)
	for i := range out {
		out[i] = t
	}
	return out
}

func TestHeatAndWoodOfAWinter(t *testing.T) {
	h := house.Default().WithLoss(house.Learned{Loss: 100, Spans: 1})
	dd := season.DegreeDays(append(cold(100, 5.5), cold(50, 20)...))
	assert.InDelta(t, 1000, dd, 1e-9, "warm days ask for nothing")
	heat := season.Heat(h, dd)
	assert.InDelta(t, 100*24*1000./1000, heat.KWh(), 1e-6)
	assert.InDelta(t, heat.MJ()/15.2/0.75, float64(season.Wood(heat, 15.2, 0.75)), 1e-6)
	assert.Zero(t, season.Wood(heat, 0, 0.75))
}

func TestWhetherTheWoodLasts(t *testing.T) {
	h := house.Default().WithLoss(house.Learned{Loss: 100, Spans: 1})
	days := cold(100, 5.5)
	need := float64(season.Heat(h, 1000)) / 0.75
	half := season.Stock{Energy: units.Joule(need / 2), Efficiency: 0.75, Share: 1}
	o := half.Lasts(h, days)
	assert.InDelta(t, 50, o.Days[1], 1, "half the wood is gone in half the days")
	assert.Less(t, o.Days[0], o.Days[1])
	assert.Less(t, o.Days[1], o.Days[2])
	assert.Less(t, o.Needed[0], o.Needed[1])
	plenty := season.Stock{Energy: units.Joule(need * 2), Efficiency: 0.75, Share: 1}.Lasts(h, days)
	assert.Equal(t, [3]int{-1, -1, -1}, plenty.Days)
	just := season.Stock{Energy: units.Joule(need * 1.02), Efficiency: 0.75, Share: 1}.Lasts(h, days)
	assert.Positive(t, just.Days[0], "it may not last")
	assert.Equal(t, -1, just.Days[2], "and it may")
	shared := season.Stock{Energy: units.Joule(need / 2), Efficiency: 0.75, Share: 0.4}.Lasts(h, days)
	assert.Equal(t, -1, shared.Days[1], "other heating stretches it")
	assert.InDelta(t, 0.5, float64(season.HalfLeft(600, 1200)), 1e-9)
	assert.Zero(t, season.HalfLeft(1, 0))
}
