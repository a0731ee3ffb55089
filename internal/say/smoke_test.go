package say_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"smolder/internal/core/stove"
	"smolder/internal/lang"
	"smolder/internal/say"
)

// Smoke is never said to a tenth of a gram that nobody knows.
func TestSmokeIsARange(t *testing.T) {
	for perKg, says := range map[float64]string{0.5: "0.2–1 g per kg", 3.2: "1–7 g per kg", 12: "5–26 g per kg", 140: "64–310 g per kg", 0: "0 g per kg"} {
		assert.Equal(t, says, say.Smoke(perKg, lang.Metric))
	}
	assert.Equal(t, "about 23–110 g", say.SmokeMass(50, lang.Metric))
	assert.Equal(t, "about half of what such stoves make as they are used", say.AgainstUse(3.5, stove.SecondaryAir, lang.Metric))
	assert.Equal(t, "about twice what such stoves make as they are used", say.AgainstUse(30, stove.Plain, lang.Metric))
}
