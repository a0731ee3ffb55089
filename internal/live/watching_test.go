package live_test

import (
	"fmt"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/burn"
	"smolder/internal/core/fixture"
	"smolder/internal/live"
	"smolder/internal/store"
)

var noon = time.Date(2026, 1, 14, 12, 0, 0, 0, time.UTC)

// fire is one that is just lit, with so many notes in its log.
func fire(notes int) store.Burn {
	st := fixture.Stoves()[0]
	b := store.Burn{ID: 7, Burn: burn.Burn{Stove: st.Stove, House: st.Space.House, Room: 18, Outdoor: 2, Wanted: [2]float64{19, 21}, Started: noon}}
	b.Entries = append(b.Entries, burn.Entry{ID: "lit", At: noon, Kind: burn.Light, Seq: 1})
	for i := range notes {
		b.Entries = append(b.Entries, burn.Entry{ID: fmt.Sprint("note", i), At: noon.Add(time.Duration(i) * time.Second), Kind: burn.Note, Note: "x", Seq: int64(i + 2)})
	}
	return b
}

// Whoever has no patience gets what was said a moment ago, with every danger of now.
func TestWhatHurtsIsOfNow(t *testing.T) {
	w := &live.Watching{Patience: time.Nanosecond}
	first := w.Now(t.Context(), fire(0), noon.Add(5*time.Minute))
	assert.Empty(t, first.Advice.First, "nothing hurts")
	b := fire(0)
	b.Entries = append(b.Entries, burn.Entry{ID: "smoke", At: noon.Add(5 * time.Minute), Kind: burn.Smoke, Smoke: burn.SmokeRoom, Seq: 2})
	for range 5 {
		got := w.Now(t.Context(), b, noon.Add(6*time.Minute))
		require.NotEmpty(t, got.Advice.First, "late or not: %v", got.Stale)
	}
}

// Many ask of many states of one log at once, the older ones last: each is answered, and the
// worker comes to its end every time.
func TestManyAskAtOnce(t *testing.T) {
	w := &live.Watching{Patience: time.Millisecond}
	for round := range 3 {
		var all sync.WaitGroup
		for i := range 12 {
			all.Go(func() {
				got := w.Now(t.Context(), fire(round*12+11-i), noon.Add(5*time.Minute))
				assert.False(t, got.At.IsZero())
			})
		}
		all.Wait()
	}
}

// A watching that was closed works nothing out any more, and still answers at once.
func TestAWatchingThatWasClosed(t *testing.T) {
	w := &live.Watching{Patience: time.Hour}
	known := w.Now(t.Context(), fire(0), noon.Add(5*time.Minute))
	require.False(t, known.Stale)
	w.Close()
	w.Close()
	got := w.Now(t.Context(), fire(3), noon.Add(6*time.Minute))
	assert.True(t, got.Stale)
	assert.False(t, got.At.IsZero())
}
