package trouble

import (
	"log/slog"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/trouble"
	"smolder/internal/planner"
)

// A diagnosis that cannot be worked out costs itself and not the server, and is asked anew; more than
// may wait are refused, and the same is weighed once.
func TestWeighings(t *testing.T) {
	w := newWeighings()
	w.weigh = func(trouble.Asked, func(int, int)) trouble.Weighed { panic("no such stove") }
	ask := func(key string) (*weighing, error) {
		return w.of(key, slog.New(slog.DiscardHandler), func() trouble.Asked { return trouble.Asked{} })
	}
	x, err := ask("a")
	require.NoError(t, err)
	<-x.done
	assert.True(t, x.failed)
	held, times := make(chan struct{}), make(chan struct{}, 100)
	w.weigh = func(trouble.Asked, func(int, int)) trouble.Weighed {
		times <- struct{}{}
		<-held
		return trouble.Weighed{}
	}
	again, err := ask("a")
	require.NoError(t, err)
	assert.NotSame(t, x, again)
	same, err := ask("a")
	require.NoError(t, err)
	assert.Same(t, again, same)
	var many error
	for i := range mostWaiting + 1 {
		if _, many = ask(string(rune('b' + i))); many != nil {
			break
		}
	}
	require.ErrorIs(t, many, planner.ErrBusy)
	close(held)
	<-again.done
	assert.False(t, again.failed)
}
