package due_test

import (
	"context"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/app/due"
	"smolder/internal/core/upkeep"
	"smolder/internal/demo"
	"smolder/internal/store"
	"smolder/internal/storetest"
)

func TestMain(m *testing.M) { storetest.Main(m) }

var (
	ctx = context.Background()
	now = storetest.Noon
)

// tarnMill is a household with the demo's stoves and no burns.
func tarnMill(t *testing.T) (store.Household, []int64) {
	t.Helper()
	s := storetest.New(t)
	h := storetest.Household(t, s, "tarn")
	var ids []int64
	for i, st := range demo.Stoves() {
		space := st.Space
		id, err := h.AddSpace(ctx, space)
		if i == 0 || err != nil {
			spaces, err := h.Spaces(ctx)
			require.NoError(t, err)
			id = spaces[0].ID
		}
		sp, err := h.Space(ctx, id)
		require.NoError(t, err)
		st.Space = sp
		n, err := h.AddStove(ctx, st)
		require.NoError(t, err)
		ids = append(ids, n)
	}
	return h, ids
}

func lines(t *testing.T, h store.Household, at time.Time) map[upkeep.Key]map[int64]due.Line {
	t.Helper()
	stoves, err := h.Stoves(ctx)
	require.NoError(t, err)
	profile, err := h.Profile(ctx)
	require.NoError(t, err)
	all, err := due.Of(ctx, h, stoves, profile.Alarms, at)
	require.NoError(t, err)
	out := map[upkeep.Key]map[int64]due.Line{}
	for _, l := range all {
		if out[l.Task.Key] == nil {
			out[l.Task.Key] = map[int64]due.Line{}
		}
		out[l.Task.Key][l.Stove.ID] = l
	}
	return out
}

// Each stove has the tasks of its family and its chimney, the household its own once; of a
// household without a stove there is nothing.
func TestWhoHasWhichTasks(t *testing.T) {
	none, err := due.Of(ctx, storetest.Household(t, storetest.New(t), "nobody"), nil, now, now)
	require.NoError(t, err)
	assert.Empty(t, none)
	h, ids := tarnMill(t)
	auntie, loom, clinker, pip := ids[0], ids[1], ids[2], ids[3]
	all := lines(t, h, now)
	assert.Len(t, all[upkeep.Sweep], 4)
	assert.Len(t, all[upkeep.Detectors], 1)
	for key, has := range map[upkeep.Key][]int64{upkeep.Catalyst: {loom}, upkeep.Grate: {clinker}, upkeep.LevelRun: {clinker}, upkeep.TravelCap: {pip}} {
		assert.Len(t, all[key], len(has), "%s", key)
		for _, id := range has {
			assert.Contains(t, all[key], id, "%s", key)
		}
	}
	assert.NotContains(t, all[upkeep.Inlet], auntie)
	assert.Contains(t, all[upkeep.Inlet], pip)
	assert.True(t, all[upkeep.Sweep][auntie].Danger(), "nobody has said when")
	assert.False(t, all[upkeep.Gasket][auntie].Danger(), "and who begins is not met by a wall of it")
}

// The dangerous stand first; a stove's list leaves out the others' and keeps the household's.
func TestDangersComeFirst(t *testing.T) {
	h, ids := tarnMill(t)
	for _, id := range ids[1:] {
		_, err := h.MarkDone(ctx, id, string(upkeep.Sweep), "", now.AddDate(0, -1, 0))
		require.NoError(t, err)
	}
	stoves, err := h.Stoves(ctx)
	require.NoError(t, err)
	all, err := due.Of(ctx, h, stoves, time.Time{}, now)
	require.NoError(t, err)
	danger := true
	for _, l := range all {
		if !l.Danger() {
			danger = false
		}
		assert.True(t, danger || !l.Danger(), "%s of %s comes after what is no danger", l.Task.Key, l.Stove.Name)
	}
	keys := func(ls []due.Line) (out []upkeep.Key) {
		for _, l := range ls {
			out = append(out, l.Task.Key)
		}
		return out
	}
	assert.Contains(t, keys(due.Dangers(all, ids[0], now)), upkeep.Sweep)
	assert.NotContains(t, keys(due.Dangers(all, ids[1], now)), upkeep.Sweep)
	assert.Contains(t, keys(due.Dangers(all, ids[1], now)), upkeep.Detectors, "the household's are everybody's")
}

// Use is counted from when the task was done last, and new paint until its fires.
func TestUseIsCountedSince(t *testing.T) {
	h, ids := tarnMill(t)
	_, err := h.MarkDone(ctx, ids[0], string(upkeep.Painted), "", now.AddDate(0, 0, -2))
	require.NoError(t, err)
	assert.True(t, lines(t, h, now)[upkeep.CurePaint][ids[0]].Danger())
	assert.False(t, lines(t, h, now)[upkeep.CurePaint][ids[1]].IsDue())
	_, err = h.MarkDone(ctx, ids[0], string(upkeep.CurePaint), "", now.AddDate(0, 0, -1))
	require.NoError(t, err)
	assert.False(t, lines(t, h, now)[upkeep.CurePaint][ids[0]].IsDue())
	_, err = h.MarkDone(ctx, ids[0], string(upkeep.Painted), "", now)
	require.NoError(t, err)
	assert.True(t, lines(t, h, now)[upkeep.CurePaint][ids[0]].IsDue(), "painted again")
}
