package store_test

import (
	"fmt"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/burn"
	"smolder/internal/store"
	"smolder/internal/storetest"
)

// Two phones at one stove: entries sent at once, some of them twice, are all
// kept once, and of many that light the same stove one succeeds.
func TestManyHandsAtOneStove(t *testing.T) {
	s := storetest.New(t)
	h, stoveID, stack := furnished(t, s, "tarn")
	st, err := h.Stove(ctx, stoveID)
	require.NoError(t, err)
	var group sync.WaitGroup
	var mu sync.Mutex
	lit := []int64{}
	for range 8 {
		group.Go(func() {
			id, err := h.StartBurn(ctx, stoveID, "", burn.Burn{Stove: st.Stove, Started: noon}, nil)
			mu.Lock()
			defer mu.Unlock()
			if err == nil {
				lit = append(lit, id)
			} else {
				assert.ErrorIs(t, err, store.ErrBurning)
			}
		})
	}
	group.Wait()
	require.Len(t, lit, 1)
	for hand := range 6 {
		group.Go(func() {
			for i := range 20 {
				e := load(stack, fmt.Sprintf("e%d", (hand/2)*20+i), noon.Add(time.Duration(i)*time.Second))
				assert.NoError(t, h.AddEntry(ctx, lit[0], e, later))
			}
		})
	}
	group.Wait()
	b, err := h.Burn(ctx, lit[0])
	require.NoError(t, err)
	assert.Len(t, b.Entries, 60, "three pairs of hands, each entry once")

	// Correcting one entry from two sides leaves one correction.
	wins := 0
	for i := range 4 {
		group.Go(func() {
			err := h.CorrectEntry(ctx, lit[0], "e0", load(stack, fmt.Sprintf("c%d", i), noon), later)
			mu.Lock()
			defer mu.Unlock()
			if err == nil {
				wins++
			} else {
				assert.ErrorIs(t, err, burn.ErrChanged)
			}
		})
	}
	group.Wait()
	assert.Equal(t, 1, wins)
	b, err = h.Burn(ctx, lit[0])
	require.NoError(t, err)
	assert.Len(t, b.Valid(), 60)
}

// Entries at the same moment keep the order in which they came.
func TestOrderOfEntries(t *testing.T) {
	s := storetest.New(t)
	h, stoveID, _ := furnished(t, s, "tarn")
	id := open(t, h, stoveID)
	for i := range 5 {
		require.NoError(t, h.AddEntry(ctx, id, burn.Entry{ID: fmt.Sprint(9 - i), At: noon, Kind: burn.Note, Note: fmt.Sprint(i)}, later))
	}
	require.NoError(t, h.AddEntry(ctx, id, burn.Entry{ID: "early", At: noon.Add(-time.Second), Kind: burn.Note, Note: "first"}, later))
	b, err := h.Burn(ctx, id)
	require.NoError(t, err)
	var notes []string
	for _, e := range b.Entries {
		notes = append(notes, e.Note)
	}
	assert.Equal(t, []string{"first", "0", "1", "2", "3", "4"}, notes)
	assert.Equal(t, time.UTC, b.Started.Location())
}
