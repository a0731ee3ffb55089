package store_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/store"
	"smolder/internal/storetest"
)

func TestPlansAreKeptForLater(t *testing.T) {
	s := storetest.New(t)
	h, stoveID, _ := furnished(t, s, "tarn")
	other := storetest.Household(t, s, "holm")
	late := store.KeptPlan{StoveID: stoveID, Begins: noon.Add(9 * time.Hour), Sentence: "Beech: three pieces", Asked: "stove=1&for=6+h"}
	soon := late
	soon.Begins = noon.Add(4 * time.Hour)
	for _, k := range []store.KeptPlan{late, soon} {
		_, err := h.KeepPlan(ctx, k)
		require.NoError(t, err)
		_, err = other.KeepPlan(ctx, k)
		require.ErrorIs(t, err, store.ErrMissing, "another household's stove")
	}
	list, err := h.KeptPlans(ctx, noon)
	require.NoError(t, err)
	require.Len(t, list, 2)
	assert.True(t, list[0].Begins.Equal(soon.Begins), "the next first")
	assert.Equal(t, "Beech: three pieces", list[0].Sentence)
	assert.Equal(t, soon.Asked, list[0].Asked)
	assert.NotEmpty(t, list[0].Stove)

	past, err := h.KeptPlans(ctx, noon.Add(5*time.Hour))
	require.NoError(t, err)
	assert.Len(t, past, 1)

	require.ErrorIs(t, other.RemovePlan(ctx, list[0].ID, true), store.ErrMissing)
	gone := list[0].ID
	require.NoError(t, h.RemovePlan(ctx, gone, true))
	require.NoError(t, h.RemovePlan(ctx, gone, true), "twice is fine")
	list, err = h.KeptPlans(ctx, noon)
	require.NoError(t, err)
	require.Len(t, list, 1)
	require.NoError(t, h.RemovePlan(ctx, gone, false))
	list, err = h.KeptPlans(ctx, noon)
	require.NoError(t, err)
	assert.Len(t, list, 2, "put back")
}
