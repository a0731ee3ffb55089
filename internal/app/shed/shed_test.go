package shed_test

import (
	"context"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/app/shed"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
	"smolder/internal/demo"
	"smolder/internal/store"
	"smolder/internal/storetest"
)

func TestMain(m *testing.M) { storetest.Main(m) }

var (
	ctx  = context.Background()
	noon = storetest.Noon
)

// A stack is as dry as it has become, its pieces weigh what they weigh then, and what goes back
// into the store is the piece as it is now with the moisture it has now.
func TestAStackAsItIsNow(t *testing.T) {
	h := storetest.Household(t, storetest.New(t), "tarn")
	w := demo.Stacks()[0]
	w.Reading, w.PieceMass, w.Mass = 0.30, 1.6, 1000
	row, reading, count := shed.Bare(w)
	row.Cover = wood.Roof
	id, err := h.AddStack(ctx, row, reading, count, noon)
	require.NoError(t, err)
	var s shed.Shed
	then, err := s.Stack(ctx, h, id, noon.Add(time.Hour))
	require.NoError(t, err)
	later, err := s.Stack(ctx, h, id, noon.AddDate(0, 7, 0))
	require.NoError(t, err)
	assert.InDelta(t, float64(w.Moisture()), float64(then.Moisture()), 0.01)
	assert.Less(t, later.Moisture(), then.Moisture()-0.05, "a summer under a roof")
	assert.Less(t, later.PieceMass, then.PieceMass)
	dry := func(s shed.Stack) float64 { return float64(s.PieceMass) / (1 + float64(s.Moisture())) }
	assert.InEpsilon(t, dry(then), dry(later), 1e-9, "of the same wood")
	assert.InEpsilon(t, float64(then.Left.Middle), float64(later.Left.Middle), 1e-9)
	assert.Equal(t, later.Moisture(), later.Row().PieceMoisture)
	require.NoError(t, h.SaveStack(ctx, later.Row()))
	again, err := s.Stack(ctx, h, id, noon.AddDate(0, 7, 0))
	require.NoError(t, err)
	assert.InEpsilon(t, dry(later), dry(again), 1e-9, "keeping it changes nothing")
}

// What recounts teach counts for every stack, and does not end with the stack that taught it.
func TestRecountsOfAStackThatIsGone(t *testing.T) {
	h := storetest.Household(t, storetest.New(t), "tarn")
	var ids []int64
	for i := range 2 {
		w := demo.Stacks()[i]
		id, err := storetest.AddStack(h, w, noon)
		require.NoError(t, err)
		ids = append(ids, id)
	}
	count := func(dry units.Kilogram, at time.Time) {
		require.NoError(t, h.AddCount(ctx, ids[0], store.StackCount{At: at, Way: wood.OnScale, Typed: "weighed", Amount: wood.Amount{Middle: dry, Own: 0.002}}))
	}
	count(1000, noon.Add(time.Hour))
	count(700, noon.AddDate(0, 1, 0))
	var s shed.Shed
	before, err := s.Of(ctx, h, noon.AddDate(0, 2, 0))
	require.NoError(t, err)
	require.Len(t, before.Stacks, 2)
	require.NoError(t, h.RemoveStack(ctx, ids[0], true, noon.AddDate(0, 2, 0)))
	after, err := s.Of(ctx, h, noon.AddDate(0, 2, 0))
	require.NoError(t, err)
	require.Len(t, after.Stacks, 1)
	assert.Equal(t, before.Unlogged, after.Unlogged)
	_, err = s.Stack(ctx, h, ids[0], noon.AddDate(0, 2, 0))
	require.ErrorIs(t, err, store.ErrMissing)
	gone := s.Gone(after, noon.AddDate(0, 2, 0))
	require.Len(t, gone, 1)
	assert.Equal(t, ids[0], gone[0].ID)
}
