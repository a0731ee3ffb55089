package flue_test

import (
	"fmt"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/flue"
	"smolder/internal/core/reason"
	"smolder/internal/core/units"
)

func ExampleStackDraft() {
	fmt.Printf("%.0f Pa\n", flue.StackDraft(6, 200, 0, 0))
	// Output: 32 Pa
}

func TestDraft(t *testing.T) {
	assert.InDelta(t, 0, float64(flue.StackDraft(6, 10, 10, 0)), 1e-9)
	assert.Negative(t, float64(flue.StackDraft(6, 0, 20, 0)), "a flue colder than outdoors draws the wrong way")
	assert.InDelta(t, 0.788, float64(flue.StackDraft(6, 200, 0, 2000)/flue.StackDraft(6, 200, 0, 0)), 0.005, "thin air at 2000 m")
	taller := flue.StackDraft(9, 200, 0, 0)
	assert.InEpsilon(t, 1.5, float64(taller/flue.StackDraft(6, 200, 0, 0)), 1e-9)
}

func TestHousePressure(t *testing.T) {
	// (300/C)^(1/0.65) with C = 3·400/50^0.65
	c := 3 * 400 / math.Pow(50, 0.65)
	assert.InEpsilon(t, math.Pow(300/c, 1/0.65), float64(flue.HousePressure(300, 3, 400_000)), 1e-9)
	assert.Zero(t, flue.HousePressure(0, 3, 400_000))
	assert.True(t, math.IsInf(float64(flue.HousePressure(300, 0, 400_000)), 1), "no leak at all")
	assert.Greater(t, flue.HousePressure(300, 1.5, 400_000), flue.HousePressure(300, 9, 400_000), "a tight house is pulled down further")
}

// The worked check of EN 16510-1's method with C 50 %, H 6 %, O 43 %.
func TestLossByFlueGas(t *testing.T) {
	l, err := flue.LossOf(flue.Sample{Gas: 250, Room: 20, CO2: 0.09, CO: 0.002, Moisture: 0.18})
	require.NoError(t, err)
	assert.InDelta(t, 19.0, l.Sensible.Percent(), 0.5)
	assert.InDelta(t, 1.4, l.CO.Percent(), 0.1)
	assert.InDelta(t, 79.6, l.Net.Percent(), 0.5)
	assert.InDelta(t, 11.6, l.O2.Percent(), 0.2)
	assert.InDelta(t, 2.2, l.AirFactor, 0.05)
	assert.InDelta(t, float64(l.Net*(1-l.Latent)), float64(l.Gross), 1e-12)

	back, err := flue.LossOf(flue.Sample{Gas: 250, Room: 20, O2: l.O2, CO: 0.002, Moisture: 0.18})
	require.NoError(t, err)
	assert.InDelta(t, 9.0, back.CO2.Percent(), 0.01, "from oxygen the same gas is found again")

	for _, bad := range []flue.Sample{{CO2: 0.3}, {CO2: 0.001}, {CO2: -0.1}, {CO2: 0.2, CO: 0.2}} {
		_, err := flue.LossOf(bad)
		assert.ErrorIs(t, err, flue.ErrGas, "%+v", bad)
	}
}

func TestGasFromSurfaceAndBack(t *testing.T) {
	for _, gas := range []units.Celsius{60, 150, 300, 500} {
		surface := flue.SurfaceFromGas(gas, 20)
		assert.Less(t, surface, gas)
		assert.InDelta(t, float64(gas), float64(flue.GasFromSurface(surface, 20)), 0.5)
	}
	assert.InDelta(t, 20, float64(flue.SurfaceFromGas(20, 20)), 1e-6)
}

func TestChimneyIsChecked(t *testing.T) {
	good := flue.Chimney{Height: 6, Diameter: 0.15, Lining: flue.Insulated}
	require.NoError(t, good.Check())
	for code, spoil := range map[reason.Code]func(*flue.Chimney){
		flue.HeightLow:     func(c *flue.Chimney) { c.Height = 0 },
		flue.HeightHigh:    func(c *flue.Chimney) { c.Height = 90 },
		flue.DiameterRange: func(c *flue.Chimney) { c.Diameter = 0.02 },
		flue.BendsRange:    func(c *flue.Chimney) { c.Bends = 20 },
		flue.RunRange:      func(c *flue.Chimney) { c.Horizontal = 12 },
		flue.UnknownLining: func(c *flue.Chimney) { c.Lining = "straw" },
	} {
		c := good
		spoil(&c)
		assert.ErrorContains(t, c.Check(), string(code))
	}
	bent := good
	bent.Bends = 2
	assert.Greater(t, bent.Resistance(), good.Resistance())
}

func TestProfileCoolsUpwards(t *testing.T) {
	for _, l := range flue.Linings {
		c := flue.Chimney{Height: 6, Diameter: 0.15, Lining: l}
		levels := flue.Profile(c, 250, 5, 0.005)
		for i := 1; i < len(levels); i++ {
			assert.Less(t, levels[i].Gas, levels[i-1].Gas)
			assert.Less(t, levels[i].Wall, levels[i].Gas)
			assert.Greater(t, levels[i].Wall, units.Celsius(5))
		}
	}
	top := func(l flue.Lining) units.Celsius {
		levels := flue.Profile(flue.Chimney{Height: 6, Diameter: 0.15, Lining: l}, 250, 5, 0.005)
		return levels[len(levels)-1].Wall
	}
	assert.Greater(t, top(flue.Insulated), top(flue.BareLiner))
	assert.Greater(t, top(flue.BareLiner), top(flue.SingleRun))
}
