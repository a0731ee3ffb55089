package search_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/fire"
	"smolder/internal/core/fixture"
	"smolder/internal/core/plan"
	"smolder/internal/core/search"
	"smolder/internal/core/wish"
	"smolder/internal/core/wood"
)

// Who feeds a first fire by size gets fine kindling, thumb-thick sticks, wrist-thick pieces and
// the load as steps of their own, each within minutes of the one before, and a fire that takes.
func TestFedBySize(t *testing.T) {
	for _, st := range []int{fixture.Auntie, fixture.Loom} {
		w := fixture.Evening(st, fixture.Beech, wish.Cold)
		w.OneLoad, w.Fixed.BySize = true, true
		c, err := search.Plans(context.Background(), w, search.Quick, nil)
		require.NoError(t, err)
		p := c.Plans[0]
		grown := 0
		var heaviest float64
		for i, s := range p.Steps {
			for _, a := range s.Fire.Do {
				if a.Load == nil || s.Kind == plan.FeedIt {
					continue
				}
				assert.Greater(t, float64(a.Load.PieceMass), heaviest, "%d: step %d is thicker than the one before", st, i)
				heaviest = float64(a.Load.PieceMass)
			}
			if s.Kind == plan.GrowIt {
				grown++
				assert.Less(t, (s.Expected - p.Steps[i-1].Expected).Minutes(), 8.)
			}
		}
		assert.Equal(t, 2, grown)
		first, _ := p.Loads()
		assert.Positive(t, first.Pieces)
		assert.False(t, p.Unsafe())
		assert.Less(t, p.SmokePerKg(), 1.3*c.Plans[len(c.Plans)-1].SmokePerKg()+1, "it is no dirty way")
	}
}

// A stack with sizes is lit with its thin pieces, and its thick ones are for the night.
func TestSizesOfAStack(t *testing.T) {
	w := fixture.Evening(fixture.Auntie, fixture.Beech, wish.Cold)
	w.OneLoad, w.Others = true, nil
	w.Wood.Stack.Thin, w.Wood.Stack.Thick = 0.7, 2.2
	p, err := search.Best(context.Background(), w, search.Quick, nil)
	require.NoError(t, err)
	assert.Equal(t, wood.ThinPieces, p.FirstOf.Stack.Size)
	first, main := p.Loads()
	assert.InDelta(t, 0.7, float64(first.PieceMass), 1e-9)
	if main.Pieces > 0 {
		assert.InDelta(t, 1.3, float64(main.PieceMass), 1e-9)
	}

	night := w.Sizes()
	assert.Len(t, night.Woods(), 2, "thick pieces are for long fires")
	w.Aim, w.Start = wish.Overnight, wish.GoodCoals
	night = w.Sizes()
	require.Len(t, night.Woods(), 2)
	assert.Equal(t, wood.ThickPieces, night.Woods()[1].Stack.Size)
	thick := night.LoadOf(1, 3, "sideways", fire.OnCoals)
	assert.InDelta(t, 6.6, float64(thick.Mass()), 1e-9)
	assert.Equal(t, w.Wood.ID, thick.StackID, "they come off the same stack")

	w.Wood.Stack.Thick, w.Wood.Stack.Thin = 1.4, 1.2
	assert.Len(t, w.Sizes().Woods(), 1, "what is hardly heavier is no other size")
}
