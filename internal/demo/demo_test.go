package demo_test

import (
	"context"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/app/shed"
	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/demo"
	"smolder/internal/storetest"
)

func TestMain(m *testing.M) { storetest.Main(m) }

func TestHouseholdIsSound(t *testing.T) {
	for _, s := range demo.Stoves() {
		require.NoError(t, s.Check(), s.Name)
		require.NoError(t, s.Space.House.Check(), s.Name)
	}
	for _, w := range demo.Stacks() {
		fits := 0
		for _, s := range demo.Stoves() {
			if w.PieceLength <= max(s.LongestPiece("end-on"), s.LongestPiece("sideways")) && w.PieceMass <= s.MaxLoad {
				fits++
			}
		}
		assert.Positive(t, fits, "%s fits no stove", w.Name)
	}
}

// The season is a winter as it would be logged: the same at every load, every
// entry allowed, burns that do not overlap in one stove, mistakes among them.
func TestSeason(t *testing.T) {
	ctx := context.Background()
	loaded := time.Date(2026, 4, 10, 2, 0, 0, 0, time.UTC)
	s := storetest.New(t)
	id, err := demo.Load(ctx, s, "hash", loaded)
	require.NoError(t, err)
	h := s.Household(id)
	lines, err := h.Burns(ctx, time.Date(2027, 1, 1, 0, 0, 0, 0, time.UTC), 500)
	require.NoError(t, err)
	assert.InDelta(t, 150, len(lines), 25)
	stoves, planned, smoky := map[string]int{}, 0, 0
	lastBegin := map[int64]time.Time{}
	for _, l := range lines {
		require.True(t, l.Ended.Valid, "nothing burns on since the winter")
		if begin, ok := lastBegin[l.StoveID]; ok {
			assert.False(t, l.Ended.V.After(begin), "%s burns twice at %v", l.Stove, l.Started)
		}
		lastBegin[l.StoveID] = l.Started
		stoves[l.Stove]++
		assert.True(t, l.Ended.V.Before(loaded), "%s %v is out before it is loaded", l.Stove, l.Started)
		b, err := h.Burn(ctx, l.ID)
		require.NoError(t, err)
		for _, e := range b.Entries {
			require.NoError(t, b.Check(e, b.Ended), "%s %s", l.Stove, l.Started)
			if e.Kind == burn.Smoke && e.Smoke == burn.SmokeGrey {
				smoky++
			}
		}
		if b.Plan != nil {
			planned++
		}
		assert.Less(t, float64(l.Outdoor), 20.0)
	}
	assert.Len(t, stoves, 4, "every stove is lit")
	assert.Greater(t, planned, 3)
	assert.Greater(t, smoky, 5, "and not always well")
	again, first := demo.Burn(), demo.Burn()
	assert.Equal(t, first, again, "the same at every load")
	stacks, err := new(shed.Shed).Stacks(ctx, h, time.Now())
	require.NoError(t, err)
	for _, w := range stacks {
		assert.Positive(t, float64(w.Used), "%s is burnt from", w.Name)
		assert.Positive(t, float64(w.Mass), "%s lasts", w.Name)
	}
	coldest := 99.0
	for _, l := range lines {
		if m := l.Started.Month(); m == time.January || m == time.February {
			coldest = min(coldest, float64(l.Outdoor))
		}
	}
	assert.Less(t, coldest, 2.0, "January is cold")
	assert.NotEqual(t, fire.Summary{}, demo.Burn().Replay(demo.Burn().Ended).Summary)
}
