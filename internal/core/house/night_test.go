package house_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"smolder/internal/core/house"
	"smolder/internal/core/units"
)

// Of a house that hardly loses anything a winter night takes some degrees, and of
// others more: 21 °C in the evening, −18 °C outside, ten hours without a fire.
func TestANightWithoutAFire(t *testing.T) {
	fall := func(b house.Build) float64 {
		h := house.House{Floor: 60, Build: b, Volume: 300_000}
		walls, r := h.Walls(), house.Settled(21)
		for range 10 * 1800 {
			r, _ = walls.Step(r, 0, -18, 2)
		}
		return float64(units.Celsius(21) - r.Air)
	}
	assert.InDelta(t, 3, fall(house.Super), 1, "super-insulated")
	assert.Greater(t, fall(house.Tight), fall(house.Super)+1)
	assert.Greater(t, fall(house.Ordinary), fall(house.Tight)+2)
}
