package store_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/burn"
	"smolder/internal/core/plan"
	"smolder/internal/core/wish"
	"smolder/internal/store"
	"smolder/internal/storetest"
)

// A plan is a row: made once, opened by its number, kept, dropped, put back and
// started; never seen from another household.
func TestPlansAreRows(t *testing.T) {
	s := storetest.New(t)
	h, stoveID, _ := furnished(t, s, "tarn")
	other := storetest.Household(t, s, "holm")
	st, err := h.Stove(ctx, stoveID)
	require.NoError(t, err)
	rows := []store.Planned{{StoveID: stoveID, Choice: "one", Burn: &plan.Plan{Main: 3, Wish: wish.Wish{Stove: st.Stove}},
		Sentence: "Beech: three pieces", Asked: "stove=1&for=6+h", Begins: noon.Add(4 * time.Hour), Made: noon},
		{StoveID: stoveID, Choice: "one", Place: 1, Burn: &plan.Plan{Main: 2}, Sentence: "Beech: two pieces", Begins: noon.Add(9 * time.Hour), Made: noon}}
	ids, err := h.KeepPlans(ctx, rows)
	require.NoError(t, err)
	_, err = other.KeepPlans(ctx, rows)
	require.ErrorIs(t, err, store.ErrMissing, "another household's stove")
	got, err := h.Planned(ctx, ids[1])
	require.NoError(t, err)
	assert.Equal(t, 2, got.Burn.Main)
	_, err = other.Planned(ctx, ids[1])
	require.ErrorIs(t, err, store.ErrMissing)
	choice, err := h.Choice(ctx, "one")
	require.NoError(t, err)
	require.Len(t, choice, 2)
	assert.Equal(t, ids[0], choice[0].ID)

	none, err := h.KeptPlans(ctx, noon)
	require.NoError(t, err)
	assert.Empty(t, none, "made is not kept")
	for _, id := range []int64{ids[1], ids[0], ids[0]} {
		require.NoError(t, h.MarkKept(ctx, id, noon), "twice is as good as once")
		require.ErrorIs(t, other.MarkKept(ctx, id, noon), store.ErrMissing)
	}
	list, err := h.KeptPlans(ctx, noon)
	require.NoError(t, err)
	require.Len(t, list, 2)
	assert.True(t, list[0].Begins.Equal(rows[0].Begins), "the next first")
	past, err := h.KeptPlans(ctx, noon.Add(5*time.Hour))
	require.NoError(t, err)
	assert.Len(t, past, 1)

	gone := list[1].ID
	require.ErrorIs(t, other.DropPlan(ctx, gone, true, noon), store.ErrMissing)
	require.NoError(t, h.DropPlan(ctx, gone, true, noon))
	require.NoError(t, h.DropPlan(ctx, gone, true, noon), "twice is fine")
	list, err = h.KeptPlans(ctx, noon)
	require.NoError(t, err)
	require.Len(t, list, 1)
	require.NoError(t, h.DropPlan(ctx, gone, false, noon))

	b := burn.Burn{Stove: st.Stove, Started: noon}
	first, err := h.StartPlan(ctx, list[0], b)
	require.NoError(t, err)
	second, err := h.StartPlan(ctx, list[0], b)
	require.NoError(t, err, "the second tap leads to the same burn")
	assert.Equal(t, first, second)
	started, err := h.Burn(ctx, first)
	require.NoError(t, err)
	assert.Equal(t, 3, started.Plan.Main, "what was seen is what is started")
	_, err = other.StartPlan(ctx, list[0], b)
	require.ErrorIs(t, err, store.ErrMissing)
	list, err = h.KeptPlans(ctx, noon)
	require.NoError(t, err)
	assert.Len(t, list, 1, "it is used up")
}

// Plans that nobody keeps make room for newer ones; kept ones stay.
func TestPlansThatNobodyKeepsGo(t *testing.T) {
	s := storetest.New(t)
	h, stoveID, _ := furnished(t, s, "tarn")
	var first int64
	for i := range 70 {
		ids, err := h.KeepPlans(ctx, []store.Planned{{StoveID: stoveID, Choice: "c", Burn: &plan.Plan{}, Begins: noon,
			Made: noon.Add(time.Duration(i) * time.Second)}})
		require.NoError(t, err)
		if i == 0 {
			first = ids[0]
			require.NoError(t, h.MarkKept(ctx, first, noon))
		}
	}
	_, err := h.Planned(ctx, first)
	require.NoError(t, err)
	all, err := h.Choice(ctx, "c")
	require.NoError(t, err)
	assert.Len(t, all, 61)
}

func TestHowFarASearchIs(t *testing.T) {
	s := storetest.New(t)
	h, _, _ := furnished(t, s, "tarn")
	other := storetest.Household(t, s, "holm")
	require.NoError(t, h.Progress(ctx, "a", 10, 1000, 0, noon))
	require.NoError(t, h.Progress(ctx, "a", 20, 1000, 0, noon))
	burnt, fires, waiting, err := h.ProgressOf(ctx, "a")
	require.NoError(t, err)
	assert.Equal(t, []int{20, 1000, 0}, []int{burnt, fires, waiting})
	burnt, _, _, err = other.ProgressOf(ctx, "a")
	require.NoError(t, err)
	assert.Zero(t, burnt, "each household has its own")
}
