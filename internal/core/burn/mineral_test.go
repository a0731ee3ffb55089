package burn_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/fixture"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
)

// A day on mineral fuel, by hand: three loads of 2 kg, five hours apart, hold 168 MJ, of
// which 60 to 78 % are the room's, and leave 0.42 kg of ash.
func TestADayOnMineralFuel(t *testing.T) {
	coal, err := wood.SpeciesByKey("mineral-fuel")
	require.NoError(t, err)
	oak, err := wood.SpeciesByKey("oak")
	require.NoError(t, err)
	start := time.Date(2026, 1, 14, 7, 0, 0, 0, time.UTC)
	b := burn.Burn{Stove: fixture.Stoves()[fixture.Clinker].Stove, Started: start}
	add := func(h float64, e burn.Entry) {
		e.At, e.ID = start.Add(time.Duration(h*float64(time.Hour))), time.Duration(h*1e12).String()
		b.Entries = append(b.Entries, e)
	}
	load := func(sp wood.Species, mass units.Kilogram, kindling bool) *fire.Load {
		return &fire.Load{Species: sp, Pieces: 1, PieceMass: mass, PieceLength: 0.05, Moisture: 0.05, Kindling: kindling}
	}
	_, there := b.Banked()
	assert.False(t, there)
	add(0, burn.Entry{Kind: burn.Load, Load: load(oak, 0.5, true)})
	for _, h := range []float64{0.5, 5.5, 10.5} {
		add(h, burn.Entry{Kind: burn.Mineral, Load: load(coal, 2, false)})
		add(h+0.01, burn.Entry{Kind: burn.Riddle})
	}
	add(10.9, burn.Entry{Kind: burn.Load, Load: load(oak, 0.3, true)})
	add(11, burn.Entry{Kind: burn.Bed, Depth: 0.09})
	add(12, burn.Entry{Kind: burn.AshOut})
	m, there := b.Banked()
	require.True(t, there)
	assert.InDelta(t, 6, float64(m.Fuel), 1e-9)
	assert.Equal(t, 5*time.Hour, m.Every)
	assert.Equal(t, 3, m.Riddles)
	assert.InDelta(t, 100.8e6, float64(m.HeatLow), 1e3)
	assert.InDelta(t, 131.04e6, float64(m.HeatHigh), 1e3)
	assert.InDelta(t, 0.42, float64(m.Ash), 1e-6)
	assert.Zero(t, m.WithWood, "what lights it is no second fuel")
	assert.False(t, m.WoodStove)
	assert.Equal(t, []units.Metre{0.09}, m.Beds)
	add(13, burn.Entry{Kind: burn.Load, Load: load(oak, 1.5, false)})
	b.Stove = fixture.Stoves()[fixture.Auntie].Stove
	m, _ = b.Banked()
	assert.InDelta(t, 1.5, float64(m.WithWood), 1e-9, "two fuels at once")
	assert.True(t, m.WoodStove)

	low, high := burn.BedFor(0.3)
	assert.Less(t, low, high)
	assert.LessOrEqual(t, high, units.Metre(0.15))
	at := start.Add(time.Hour)
	require.NoError(t, b.Check(burn.Entry{ID: "bed", At: at, Kind: burn.Bed, Depth: 0.1}, at))
	assert.Error(t, b.Check(burn.Entry{ID: "bed", At: at, Kind: burn.Bed, Depth: 3}, at))
}
