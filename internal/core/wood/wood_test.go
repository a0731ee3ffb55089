package wood_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/units"
	"smolder/internal/core/wood"
)

func ExampleDryBasis() {
	// A meter reads 15 % in wood that lay in the frost.
	fmt.Printf("%.1f %%\n", wood.DryBasis(0.15, 0).Percent())
	// Output: 17.7 %
}

func TestMoistureOnBothBases(t *testing.T) {
	for _, c := range []struct{ reading, temperature, want float64 }{
		{15, 0, 17.7}, {18, 20, 18.2}, {20, -15, 25.9}, {16, 8, 17.9}, {12, 30, 11.4},
	} {
		got := wood.DryBasis(units.Fraction(c.reading/100), units.Celsius(c.temperature)).Percent()
		assert.InDelta(t, c.want, got, 0.35, "%v %% at %v °C", c.reading, c.temperature)
	}
	assert.InDelta(t, 1./6, float64(wood.WetBasis(0.20)), 1e-12)
	assert.InDelta(t, 5, float64(wood.DryMass(6, 0.20)), 1e-12)
	assert.Equal(t, wood.DryBasis(0.2, -20), wood.DryBasis(0.2, -50), "colder than the formula holds: taken at its end")
}

func TestNetEnergy(t *testing.T) {
	assert.InDelta(t, 15.2, wood.NetEnergy(20, 0.20), 0.05)
	assert.InDelta(t, 4.2, wood.NetEnergy(20, 0.20)/3.6, 0.05)
	assert.Greater(t, wood.NetEnergy(20, 0.10), wood.NetEnergy(20, 0.30), "drier wood gives more")
}

// Values read from the table of equilibrium moisture in the Wood Handbook.
func TestEquilibrium(t *testing.T) {
	for _, c := range []struct{ temperature, humidity, want float64 }{
		{21.1, 65, 12.0}, {21.1, 30, 6.2}, {4.4, 80, 16.5}, {-1.1, 50, 9.5}, {21.1, 90, 20.5},
	} {
		got := wood.Equilibrium(units.Celsius(c.temperature), units.Fraction(c.humidity/100)).Percent()
		assert.InDelta(t, c.want, got, 0.25, "%v °C, %v %%", c.temperature, c.humidity)
	}
}

func TestLoad(t *testing.T) {
	beech, err := wood.SpeciesByKey("Beech")
	require.NoError(t, err)
	l := wood.LoadOf(beech, 0.18, 6)
	assert.InDelta(t, 6/1.18, float64(l.DryMass), 1e-9)
	assert.InDelta(t, wood.NetEnergy(19.7, 0.18)*6, l.Energy.MJ(), 1e-9)
	assert.InDelta(t, 6/1.18/0.56/0.65, float64(l.Stacked), 1e-9)
	_, err = wood.SpeciesByKey("plywood")
	assert.ErrorContains(t, err, `"plywood" is not a known wood: one of alder, ash`)
}

func TestStack(t *testing.T) {
	oak, _ := wood.SpeciesByKey("oak")
	s := wood.Stack{Species: oak, PieceMass: 1.9, PieceLength: 0.35, Reading: 0.17, WoodTemp: 6, Mass: 20}
	assert.Equal(t, 10, s.Pieces())
	assert.InDelta(t, 0.090, float64(s.PieceThickness()), 0.003)
	assert.Zero(t, wood.Stack{}.Pieces())
	for i, list := 1, wood.AllSpecies(); i < len(list); i++ {
		assert.GreaterOrEqual(t, list[i-1].Gravity, list[i].Gravity, "densest first")
	}
	for u, want := range map[units.Fraction]wood.Readiness{0.08: wood.VeryDry, 0.15: wood.ReadyNow, 0.22: wood.LittleWet, 0.4: wood.TooWet} {
		assert.Equal(t, want, wood.ReadinessOf(u))
	}
}
