package house_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"smolder/internal/core/house"
)

// A stove's evening warms the air of a heavy house by some degrees, and that of a light one
// by more: six and a half kilowatt-hours in two hours, from 16 °C, 0 °C outside. The person
// in it feels less, or more, as the walls do.
func TestAnEveningsHeat(t *testing.T) {
	rise := func(b house.Build, floor float64) (air, felt float64) {
		h := house.House{Floor: floor, Build: b, Volume: 300_000}
		walls, r := h.Walls(), house.Settled(16)
		for range 240 {
			r, _ = walls.Step(r, 3250, 0, 30)
		}
		return float64(r.Air - 16), float64(r.Felt() - house.Settled(16).Felt())
	}
	air, felt := rise(house.Ordinary, 60)
	t.Log(air, felt)
	assert.InDelta(t, 2, air, 0.7, "a heavy house")
	assert.Less(t, felt, air+0.1)
	light, _ := rise(house.Cabin, 60)
	assert.InDelta(t, 3.75, light, 0.75, "a light one")
	van, _ := rise(house.Vehicle, 20)
	t.Log(light, van)
	assert.Greater(t, van, 2*air, "and a van")
}
