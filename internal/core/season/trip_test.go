package season_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"smolder/internal/core/season"
)

// Four days in a cabin that loses 45 W/K, 18 °C inside and 2 °C out, ten hours a day at 65 %:
// 720 W · 40 h = 104 MJ of heat, 160 MJ of wood, 10.5 kg of it at 15.2 MJ/kg.
func TestFuelForATrip(t *testing.T) {
	trip := season.Trip{Loss: 45, Room: 18, Outdoor: 2, Days: 4, Hours: 10, Efficiency: 0.65}
	middle, carry := trip.Heat()
	assert.InDelta(t, 159.5, middle.MJ(), 0.1)
	assert.InDelta(t, 10.5, middle.MJ()/15.2, 0.05)
	assert.InDelta(t, 1.47, carry.MJ()/middle.MJ(), 0.01)
	assert.Equal(t, 8, trip.Fires())
	trip.Least = 1200
	least, _ := trip.Heat()
	assert.InDelta(t, 1200*40*3600/0.65/1e6, least.MJ(), 0.1, "the stove burns no less")
	trip.Outdoor = 20
	none, _ := trip.Heat()
	assert.Zero(t, float64(none))
	trip.Hours = 24
	assert.Equal(t, 4, trip.Fires())
}
