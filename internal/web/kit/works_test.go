package kit

import (
	"log/slog"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/planner"
)

// What cannot be made costs itself and not the server, and is made anew for who asks again; the same
// is made once, and more than may wait are refused.
func TestWorks(t *testing.T) {
	w := NewWorks[int]("counting")
	log := slog.New(slog.DiscardHandler)
	x, err := w.Of("a", log, func(func(int, int)) int { panic("no such number") })
	require.NoError(t, err)
	<-x.done
	assert.True(t, x.Failed)
	held := make(chan struct{})
	made := 0
	slow := func(tell func(int, int)) int {
		tell(1, 4)
		<-held
		made++
		return 7
	}
	again, err := w.Of("a", log, slow)
	require.NoError(t, err)
	assert.NotSame(t, x, again)
	same, err := w.Of("a", log, slow)
	require.NoError(t, err)
	assert.Same(t, again, same)
	require.Eventually(t, func() bool { return again.Part() == 25 }, patience*20, patience/100)
	var many error
	for i := range mostWaiting + 1 {
		if _, many = w.Of(string(rune('b'+i)), log, slow); many != nil {
			break
		}
	}
	require.ErrorIs(t, many, planner.ErrBusy)
	close(held)
	<-again.done
	assert.True(t, again.Soon())
	assert.False(t, again.Failed)
	assert.Equal(t, 7, again.Made)
}
