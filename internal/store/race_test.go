package store_test

import (
	"fmt"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/burn"
	"smolder/internal/core/units"
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

// Readings come by their own way, as one text: undone and corrected ones among
// them, in order with everything else.
func TestReadingsComeBackAsTheyWere(t *testing.T) {
	s := storetest.New(t)
	h, stoveID, _ := furnished(t, s, "tarn")
	id := open(t, h, stoveID)
	read := func(name string, after time.Duration, v units.Celsius) burn.Entry {
		return burn.Entry{ID: name, At: noon.Add(after), Kind: burn.Temperature, Place: "top", Reading: v}
	}
	for i, v := range []units.Celsius{101.25, 202.5, 303.125} {
		require.NoError(t, h.AddEntry(ctx, id, read(fmt.Sprint("r", i), time.Duration(i)*1234567*time.Microsecond, v), later))
	}
	require.NoError(t, h.AddEntry(ctx, id, burn.Entry{ID: "n", At: noon.Add(1300 * time.Millisecond), Kind: burn.Note, Note: "between"}, later))
	require.NoError(t, h.UndoEntry(ctx, id, "r0", noon))
	require.NoError(t, h.CorrectEntry(ctx, id, "r2", read("r2b", 2*time.Second, 300), later))
	b, err := h.Burn(ctx, id)
	require.NoError(t, err)
	var all, valid []string
	for _, e := range b.Entries {
		all = append(all, fmt.Sprint(e.ID, " ", e.At.Sub(noon), " ", float64(e.Reading), " ", e.Undone, " ", e.Struck, " ", e.Corrects))
	}
	for _, e := range b.Valid() {
		valid = append(valid, e.ID)
	}
	assert.Equal(t, []string{"r0 0s 101.25 true true ", "r1 1.234567s 202.5 false false ", "n 1.3s 0 false false ",
		"r2b 2s 300 false false r2", "r2 2.469134s 303.125 false true "}, all)
	assert.Equal(t, []string{"r1", "n", "r2b"}, valid)
}
