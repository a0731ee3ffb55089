package wood_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/units"
	"smolder/internal/core/wood"
)

func TestHowFastAStackDries(t *testing.T) {
	usual := wood.DryingRate(0.12, false, wood.Roof, 0.5)
	assert.InDelta(t, 0.012, usual, 0.0005, "a 12 cm split under a roof")
	assert.InDelta(t, usual/2, wood.DryingRate(0.12, true, wood.Roof, 0.5), 1e-9, "a round takes twice as long")
	assert.Greater(t, wood.DryingRate(0.06, false, wood.Roof, 0.5), 2*usual, "thin pieces dry fast")
	before := 1.0
	for _, c := range []wood.Cover{wood.Inside, wood.Roof, wood.Top, wood.Open, wood.Wrap} {
		k := wood.DryingRate(0.12, false, c, 0.5)
		assert.Less(t, k, before, "%s", c)
		before = k
	}
	warm, cool := wood.DryDay(0.5, usual, wood.Day{Air: 25, Humidity: 0.6}), wood.DryDay(0.5, usual, wood.Day{Air: 15, Humidity: 0.6})
	assert.InEpsilon(t, 2, float64((0.5-warm)/(0.5-cool)), 0.06, "doubling with every 10 K")
	assert.Greater(t, wood.DryDay(0.10, usual, wood.Day{Air: 5, Humidity: 0.95}), units.Fraction(0.10), "dry wood takes on water in damp air")
}

func TestShapesAndKinds(t *testing.T) {
	beech, _ := wood.SpeciesByKey("beech")
	assert.InDelta(t, 1000*0.65*0.56, float64(wood.InStack(beech, 1000, wood.Neat)), 1e-9)
	assert.Less(t, wood.InStack(beech, 1000, wood.Tipped), wood.InStack(beech, 1000, wood.Crooked))
	mineral, err := wood.SpeciesByKey("mineral-fuel")
	require.NoError(t, err)
	assert.Equal(t, wood.NotBurning, wood.Stack{Species: mineral}.Readiness())
}
