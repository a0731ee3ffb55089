package season_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"smolder/internal/core/season"
	"smolder/internal/core/units"
)

func cold(days int, t units.Celsius) []units.Celsius {
	out := make([]units.Celsius, days)
	for i := range out {
		out[i] = t
	}
	return out
}

func TestDegreeDays(t *testing.T) {
	dd := season.DegreeDays(append(cold(100, 5.5), cold(50, 20)...))
	assert.InDelta(t, 1000, dd, 1e-9, "warm days ask for nothing")
}
