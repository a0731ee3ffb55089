package live_test

import (
	"log/slog"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/live"
	"smolder/internal/store"
)

func hub() *live.Hub { return live.NewHub(nil, slog.New(slog.DiscardHandler)) }

// heard is all that waits for a page.
func heard(p *live.Page) (out []store.Change) {
	for {
		select {
		case c := <-p.Changes():
			c.Heard = time.Time{} // by the clock
			out = append(out, c)
		default:
			return out
		}
	}
}

// A page hears of its own household and of nobody else's.
func TestAPageHearsItsOwn(t *testing.T) {
	h := hub()
	mine, shut, err := h.Open(1)
	require.NoError(t, err)
	other, shutOther, err := h.Open(2)
	require.NoError(t, err)
	h.Publish(store.Change{Household: 1, Burn: 7})
	assert.Equal(t, []store.Change{{Household: 1, Burn: 7}}, heard(mine))
	assert.Empty(t, heard(other))
	h.Publish(store.Change{})
	assert.Len(t, heard(mine), 1, "whatever it was, look again")
	assert.Len(t, heard(other), 1)
	shut()
	shut()
	shutOther()
	h.Publish(store.Change{Household: 1})
	assert.Empty(t, heard(mine))
	assert.Zero(t, h.Pages())
}

// Whoever does not take what comes holds nobody up, and is told to look at everything.
func TestASlowPage(t *testing.T) {
	h := hub()
	slow, shut, err := h.Open(1)
	require.NoError(t, err)
	defer shut()
	for i := range 500 {
		h.Publish(store.Change{Household: 1, Burn: int64(i + 1)})
	}
	assert.Less(t, len(heard(slow)), 100)
	h.Publish(store.Change{Household: 1, Burn: 501})
	assert.Equal(t, []store.Change{{}, {Household: 1, Burn: 501}}, heard(slow), "something was lost, and this")
}

// A household may have many pages open, and not any number; another's are its own.
func TestManyPages(t *testing.T) {
	h := hub()
	var shuts []func()
	for range live.MostPages {
		_, shut, err := h.Open(1)
		require.NoError(t, err)
		shuts = append(shuts, shut)
	}
	_, _, err := h.Open(1)
	require.ErrorIs(t, err, live.ErrManyPages)
	_, shut, err := h.Open(2)
	require.NoError(t, err)
	shut()
	shuts[0]()
	shuts[0]()
	_, _, err = h.Open(1)
	require.NoError(t, err, "one was shut")
	_, _, err = h.Open(1)
	require.ErrorIs(t, err, live.ErrManyPages, "and only one, though it was shut twice")
}

// Pages come and go while changes come.
func TestPagesComeAndGo(t *testing.T) {
	h := hub()
	var all sync.WaitGroup
	for range 8 {
		all.Go(func() {
			for range 200 {
				p, shut, err := h.Open(1)
				if assert.NoError(t, err) {
					h.Publish(store.Change{Household: 1})
					assert.NotEmpty(t, heard(p))
					shut()
				}
			}
		})
	}
	all.Wait()
	assert.Zero(t, h.Pages())
}
