package wish_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"smolder/internal/core/fixture"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
)

// Dry before wet, while there is enough of it: whichever was named first, a reading of just
// twenty is dry, and the last dry piece is no reason to leave the rest.
func TestDryBeforeWet(t *testing.T) {
	w := fixture.Evening(0, 0, wish.Cold)
	w.Wood.Stack.Spread, w.Others = 0.01, nil
	w.Wood.Stack.Reading = 0.29
	w.Wood.Stack.Name = "wet"
	assert.Empty(t, w.Dry().LeftWet, "there is no other")
	dry := w.Wood
	dry.Stack.Name, dry.Stack.Reading = "dry", 0.2
	w.Others = []wish.Pick{dry}
	got := w.Dry()
	assert.Equal(t, "wet", got.LeftWet)
	assert.Equal(t, "dry", got.Wood.Stack.Name)
	assert.Empty(t, got.Others)
	w.Others[0].Stack.Mass = units.Kilogram(1.2 * float64(dry.Stack.PieceMass))
	assert.Empty(t, w.Dry().LeftWet, "one dry piece warms nobody")
}
