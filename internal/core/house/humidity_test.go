package house_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"smolder/internal/core/house"
	"smolder/internal/core/units"
)

// Tables of moist air: saturation pressure and vapour at saturation.
func TestSaturation(t *testing.T) {
	for _, c := range []struct {
		t          units.Celsius
		pa, vapour float64
	}{{0, 611, 4.85}, {10, 1228, 9.41}, {20, 2339, 17.3}, {30, 4247, 30.4}} {
		assert.InEpsilon(t, c.pa, house.Saturation(c.t), 0.004, "%v", c.t)
		assert.InEpsilon(t, c.vapour, house.VapourIn(c.t, 1), 0.006, "%v", c.t)
	}
}

func TestAiringDries(t *testing.T) {
	assert.InDelta(t, 0.436, float64(house.Warmed(7, 0.93, 19)), 0.02, "damp sea air is dry once it is warm")
	assert.Equal(t, units.Fraction(1), house.Warmed(25, 0.95, 15), "warm air in a cold room wets it")
	wet := house.DriedBy(100, 19, 0.75, 7, 0.9)
	assert.InDelta(t, 0.55, float64(wet), 0.06, "a hundred cubic metres take about half a litre out")
	assert.Negative(t, float64(house.DriedBy(100, 14, 0.5, 20, 0.9)))
	assert.InDelta(t, 0, float64(house.DriedBy(100, 20, 0.6, 20, 0.6)), 1e-9)
	assert.InDelta(t, 2*float64(wet), float64(house.DriedBy(200, 19, 0.75, 7, 0.9)), 1e-9)
}

// A room by itself cools towards the weather, the air first, and never past it.
func TestARoomAlone(t *testing.T) {
	h := house.Default()
	cold := func(time.Duration) units.Celsius { return 2 }
	last := units.Celsius(20)
	for _, span := range []time.Duration{time.Hour, 4 * time.Hour, 12 * time.Hour, 40 * time.Hour} {
		got := h.Alone(20, cold, span)
		assert.Less(t, got, last, "after %v", span)
		assert.Greater(t, got, units.Celsius(2))
		last = got
	}
	tight := h
	tight.Build = house.Tight
	assert.Greater(t, tight.Alone(20, cold, 6*time.Hour), h.Alone(20, cold, 6*time.Hour), "a tight house holds its warmth")
	assert.InDelta(t, 20, float64(h.Alone(20, cold, 0)), 1e-9)
	assert.Greater(t, h.Alone(10, func(time.Duration) units.Celsius { return 25 }, 3*time.Hour), units.Celsius(10))
}
