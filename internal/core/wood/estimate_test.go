package wood_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"smolder/internal/core/wood"
)

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
