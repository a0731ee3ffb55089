package wood_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/units"
	"smolder/internal/core/wood"
)

func kind(t *testing.T, key string) wood.Species {
	t.Helper()
	s, err := wood.SpeciesByKey(key)
	require.NoError(t, err)
	return s
}

// A tonne of beech at 20 %: 1000/1.2 kg oven dry, 4.2 kWh a kg as it is by the
// formula's own check, 3.15 of them in the room at 75 %: 200 for 3,170 kWh.
func TestWhatAnOfferIsWorth(t *testing.T) {
	beech := kind(t, "beech")
	tonne := func(u, spread units.Fraction) wood.Offer {
		return wood.Offer{Species: beech, Price: 200, Wood: wood.Weighed(1000, u, spread), Moisture: u, Spread: spread}
	}
	dry, ok := tonne(0.20, 0).Cost(0.75, 0.03)
	require.True(t, ok)
	assert.InDelta(t, 200/(1000*wood.NetEnergy(beech.Gross, 0.20)/3.6*0.75), dry.Middle, 1e-9)
	assert.InDelta(t, 0.064, dry.Middle, 0.001)
	assert.Less(t, dry.Low, dry.Middle)
	assert.Greater(t, dry.High, dry.Middle)

	// Sold as dry by weight and read at 45 %, the same tonne is nearly half dearer: much of
	// what was paid for as wood is water, and it burns worse. By volume it is a fifth.
	wet, ok := tonne(0.45, 0).Cost(0.75, 0.03)
	require.True(t, ok)
	assert.InDelta(t, 1.24/0.85, wet.Middle/dry.Middle, 0.05)
	cord := func(u units.Fraction) wood.Offer {
		return wood.Offer{Species: beech, Price: 200, Wood: wood.AsSold(beech, wood.Cords(1), wood.Neat), Moisture: u}
	}
	soaked, _ := cord(0.45).Cost(0.75, 0.03)
	seasoned, _ := cord(0.20).Cost(0.75, 0.03)
	assert.InDelta(t, 1.03/0.85, soaked.Middle/seasoned.Middle, 0.03)

	spruce := cord(0.20)
	spruce.Species = kind(t, "spruce")
	spruce.Wood = wood.AsSold(spruce.Species, wood.Cords(1), wood.Neat)
	light, _ := spruce.Cost(0.75, 0.03)
	assert.Greater(t, light.Middle, 1.3*seasoned.Middle, "a cord of light wood is less wood")

	vague, _ := tonne(0.20, 0.10).Cost(0.75, 0.03)
	assert.Greater(t, vague.High-vague.Low, dry.High-dry.Low, "nobody read a meter")
	_, ok = wood.Offer{Species: beech, Price: 10}.Cost(0.75, 0.03)
	assert.False(t, ok, "an offer of nothing")
	_, ok = tonne(0.20, 0).Cost(0, 0)
	assert.False(t, ok, "a stove that warms nothing")
	_, ok = tonne(9, 0).Cost(0.75, 0.03)
	assert.False(t, ok, "wood so wet that it gives no heat")
}
