package foreign_test

import (
	"math"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/burn"
	"smolder/internal/core/foreign"
	"smolder/internal/core/house"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

func evenings(t *testing.T) []foreign.Evening {
	t.Helper()
	all, err := foreign.Evenings()
	require.NoError(t, err)
	require.Len(t, all, 45)
	return all
}

func TestEvenings(t *testing.T) {
	for _, e := range evenings(t) {
		b := e.Burn(10 * time.Minute)
		require.NoError(t, b.Stove.Check(), e.Name)
		require.NoError(t, b.House.Check(), e.Name)
		assert.NotEmpty(t, b.Readings(stove.Top), e.Name)
		_, lit := b.Last(func(x burn.Entry) bool { return x.Kind == burn.Light })
		assert.True(t, lit, e.Name)
	}
}

// With the heat that the stove gave, the room is as it was: after two hours within 0.7 K, in
// every house, though no number of the room is fitted to one of them.
func TestRoomsOfOtherHouses(t *testing.T) {
	worst, sum, n := map[string]float64{}, 0.0, 0.0
	for _, e := range evenings(t) {
		b := e.Burn(time.Hour)
		walls, r := b.House.Walls(), house.Settled(b.Room)
		setup := b.Setup()
		per := e.Every.Seconds()
		for i := range e.At(2 * time.Hour) {
			outdoor := setup.Weather[min(len(setup.Weather)-1, int(time.Duration(i)*e.Every/time.Hour))].Outdoor
			for range 8 {
				r, _ = walls.Step(r, (e.Heat[i+1]-e.Heat[i])/per, outdoor, per/8)
			}
		}
		off := float64(r.Air - units.Celsius(e.Gauges[stove.RoomAir][e.At(2*time.Hour)]))
		worst[e.House] = max(worst[e.House], math.Abs(off))
		sum, n = sum+math.Abs(off), n+1
	}
	assert.Less(t, sum/n, 0.5, "K on the mean")
	for h, w := range worst {
		assert.Less(t, w, 1.1, h)
	}
}
