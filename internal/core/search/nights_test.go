package search_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/flue"
	"smolder/internal/core/house"
	"smolder/internal/core/policy"
	"smolder/internal/core/search"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
	"smolder/internal/core/wood"
)

// night is a wish for nine hours on good coals, with dry beech in pieces of a kilogram and a half.
func night(f stove.Family, volume, load float64) wish.Wish {
	st := stove.Stove{Name: "the stove", Family: f, Volume: units.Litre(volume), MaxLoad: units.Kilogram(load), Chimney: flue.Chimney{Height: 6, Diameter: 0.15, Lining: flue.Insulated},
		Controls: []stove.Control{{Key: "air", Name: "Air", Role: stove.Combined, Scale: stove.Scale{Kind: stove.PercentOpen}}},
		Gauges:   []stove.Gauge{stove.NewGauge(stove.ConnectorProbe), stove.NewGauge(stove.Top)}}.Assume()
	beech, _ := wood.SpeciesByKey("beech")
	return wish.Wish{Stove: st, House: house.House{Floor: 40 + 0.6*volume, Build: house.Ordinary, N50: 5, Volume: 300_000}, Aim: wish.Overnight, For: 9 * time.Hour,
		Outdoor: 3, Room: 18, Low: 19, High: 21.5, Start: wish.GoodCoals,
		Wood: wish.Pick{ID: 1, Stack: wood.Stack{Name: "dry", Species: beech, PieceMass: 1.5, PieceLength: 0.33, Reading: 0.16, WoodTemp: 15, Mass: 500}}}
}

// A night is what somebody of twenty winters makes of it: a full or nearly full load, turned
// down far, glowing in the morning; safe in nine of ten stoves like this one.
func TestNightsOfAGoodBurner(t *testing.T) {
	for _, c := range []struct {
		family       stove.Family
		volume, load float64
		share        float64 // of the manual's load, at the least
	}{{stove.SecondaryAir, 55, 11, 0.6}, {stove.SecondaryAir, 80, 16, 0.6}, {stove.Refractory, 60, 12, 0.6}} {
		p, err := search.Best(t.Context(), night(c.family, c.volume, c.load), search.Usual, nil)
		require.NoError(t, err)
		at := int(p.Wish.For / p.Predicted.Every)
		t.Logf("%s, %.0f L: %d × %.1f kg %s, down to %.2f, coals at dawn %.2f kg, %v", c.family, c.volume, p.Main, float64(p.MainOf.Stack.PieceMass), p.Direction, p.Final,
			p.Predicted.Coals[at], p.Trust)
		assert.GreaterOrEqual(t, float64(p.Mass()), c.share*c.load, "%s %.0f L", c.family, c.volume)
		assert.LessOrEqual(t, p.Final, 0.4, "%s %.0f L", c.family, c.volume)
		assert.Greater(t, p.Predicted.Coals[at], 0.1, "%s %.0f L: coals in the morning", c.family, c.volume)
		assert.LessOrEqual(t, float64(p.Trust.Of-p.Trust.Safe), policy.UnsafeShare*float64(p.Trust.Of), "%s %.0f L", c.family, c.volume)
	}
}

// Whatever lies in the stove, an evening is answered with a plan that is safe in nine of ten.
func TestAnEveningFromEveryStart(t *testing.T) {
	for _, start := range wish.Starts {
		w := night(stove.SecondaryAir, 55, 11)
		w.Aim, w.For, w.Start, w.Wood.Stack.PieceMass = wish.Hold, 6*time.Hour, start, 1.3
		p, err := search.Best(t.Context(), w, search.Usual, nil)
		require.NoError(t, err, start)
		assert.LessOrEqual(t, float64(p.Trust.Of-p.Trust.Safe), policy.UnsafeShare*float64(p.Trust.Of), "%s: %v", start, p.Trust)
	}
}
