package belief

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
)

// Whatever the weights, what is drawn has them to a draw, none is drawn twice, and no more than asked.
func TestDrawnByWeight(t *testing.T) {
	random := rand.New(rand.NewPCG(5, 8))
	for range 500 {
		weights, sum := make([]float64, 1+random.IntN(2*foreseers)), 0.0
		for i := range weights {
			if weights[i] = random.ExpFloat64(); random.IntN(4) == 0 {
				weights[i] *= 1e-6 // next to nothing
			}
			sum += weights[i]
		}
		for i := range weights {
			weights[i] /= sum
		}
		at, share := drawn(weights, foreseers)
		assert.LessOrEqual(t, len(at), foreseers)
		got, total := make([]float64, len(weights)), 0.0
		for k, i := range at {
			assert.Zero(t, got[i], "drawn once")
			got[i] = share[k]
			total += share[k]
		}
		assert.InDelta(t, 1, total, 1e-9)
		for i := range weights {
			assert.InDelta(t, weights[i], got[i], 1.01/foreseers)
		}
	}
	at, _ := drawn(append(make([]float64, 9), 1), foreseers)
	assert.Equal(t, []int{9}, at, "all of it on the last")
}
