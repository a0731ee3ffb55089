package wood_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/wood"
)

// Wood that has lain longer is drier on every day of a first year and never wetter
// than when it was split; its range narrows; and twenty years are not too many.
func TestWoodDriesByItsTime(t *testing.T) {
	now := time.Date(2026, 3, 1, 12, 0, 0, 0, time.UTC)
	beech, err := wood.SpeciesByKey("beech")
	require.NoError(t, err)
	last := wood.Estimate{High: 2, Middle: 2}
	for months := 1; months <= 12; months++ {
		e := wood.Lain(beech, 0.085, wood.Roof, now.AddDate(0, -months, 0), now)
		assert.Less(t, e.Low, e.Middle)
		assert.Less(t, e.Middle, e.High)
		assert.Less(t, e.Middle, last.Middle, "%d months", months)
		last = e
	}
	fresh, old := wood.Lain(beech, 0.085, "", now, now), wood.Lain(beech, 0.085, "", now.AddDate(-20, 0, 0), now)
	assert.InDelta(t, 0.65, float64(fresh.Middle), 0.01, "green")
	assert.InDelta(t, 0.17, float64(old.Middle), 0.03, "as dry as its air")
	assert.Less(t, old.Spread(), fresh.Spread())
	assert.GreaterOrEqual(t, float64(old.Spread()), 0.0199, "air and meter leave two points")
	assert.Equal(t, fresh, wood.Lain(beech, 0.085, "", now.AddDate(1, 0, 0), now), "a day to come counts as today")
}

// One summer under a roof dries splits of ash, and does not dry thick oak: the rule
// that everybody knows, which no constant here was chosen for.
func TestOneSummer(t *testing.T) {
	now := time.Date(2026, 10, 1, 0, 0, 0, 0, time.UTC)
	ash, _ := wood.SpeciesByKey("ash")
	oak, _ := wood.SpeciesByKey("oak")
	spring := now.AddDate(0, -7, 0)
	assert.Less(t, float64(wood.Lain(ash, 0.07, wood.Roof, spring, now).Middle), 0.20)
	assert.Greater(t, float64(wood.Lain(oak, 0.15, wood.Top, spring, now).Middle), 0.25)
}

// Every kind has a piece that can be handled, and an amount.
func TestUsualPieces(t *testing.T) {
	for _, sp := range wood.AllSpecies() {
		mass, length := wood.UsualPiece(sp, 0.18, wood.Fit{})
		assert.InDelta(t, 0.33, float64(length), 1e-9)
		assert.True(t, mass > 0.5 && mass < 4, "%s: %.2f kg", sp.Key, mass)
		short, cut := wood.UsualPiece(sp, 0.18, wood.Fit{Longest: 0.2})
		assert.InDelta(t, 0.2, float64(cut), 1e-9)
		assert.Less(t, short, mass/2, "a short piece is a thin one")
		fine, _ := wood.UsualPiece(sp, 0.18, wood.Fit{Load: 2})
		assert.LessOrEqual(t, float64(fine), 0.5, "four of them are a load")
		assert.Positive(t, wood.UsualAmount(sp, 0.18))
	}
}
