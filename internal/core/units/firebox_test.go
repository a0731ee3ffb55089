package units

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A firebox is told by its volume or by its sides, in either household's way of writing.
func TestFireboxByItsSides(t *testing.T) {
	for _, c := range []struct {
		typed  string
		system System
		litres float64
		wide   float64 // m
	}{
		{"55 L", Metric, 55, 0}, {"2 ft3", Imperial, 56.6, 0},
		{"46 x 38 x 33 cm", Metric, 57.7, 0.46}, {"460x380x330", Metric, 57.7, 0.46}, {"46 cm × 380 mm × 33 cm", Metric, 57.7, 0.46},
		{"18 x 15 x 13 in", Imperial, 57.5, 0.457}, {"18 by 15 by 13", Imperial, 57.5, 0.457}, {`18" x 15" x 13"`, Imperial, 57.5, 0.457},
		{"46 mal 38 mal 33 cm", Metric, 57.7, 0.46}, {"0.46 x 0.38 x 0.33 m", Metric, 57.7, 0.46},
	} {
		got, err := ParseFirebox(c.typed, c.system)
		require.NoError(t, err, c.typed)
		assert.InDelta(t, c.litres, float64(got.Volume), 0.1, c.typed)
		assert.InDelta(t, c.wide, float64(got.Sides[0]), 0.001, c.typed)
	}
	for _, wrong := range []string{"46 x 38", "46 x 38 x 33 x 20 cm", "46 x hot x 33 cm", "x", "", "46 x 38 x 33 kg"} {
		_, err := ParseFirebox(wrong, Metric)
		assert.Error(t, err, wrong)
	}
}
