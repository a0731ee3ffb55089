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
