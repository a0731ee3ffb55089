package store_test

import (
	"context"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/storetest"
)

// Of several processes one does what may be there only once; where it ends, or its connection breaks,
// another goes on, and never two at a time.
func TestAlone(t *testing.T) {
	s := storetest.New(t)
	var mu sync.Mutex
	doing, most, begun := 0, 0, map[int]int{}
	var all sync.WaitGroup
	defer all.Wait()
	ends := make([]context.CancelFunc, 3)
	for i := range ends {
		ctx, end := context.WithCancel(t.Context())
		defer end()
		ends[i] = end
		other := storetest.Again(t, s)
		all.Go(func() {
			other.Alone(ctx, "once", func(ctx context.Context) {
				mu.Lock()
				doing++
				begun[i]++
				most = max(most, doing)
				mu.Unlock()
				<-ctx.Done()
				mu.Lock()
				doing--
				mu.Unlock()
			})
		})
	}
	one := func() (who int) {
		require.Eventually(t, func() bool {
			mu.Lock()
			defer mu.Unlock()
			return doing == 1
		}, 30*time.Second, 20*time.Millisecond)
		mu.Lock()
		defer mu.Unlock()
		for i := range ends {
			if begun[i] > 0 {
				who = i
			}
		}
		return who
	}
	first := one()
	another, end := context.WithCancel(t.Context())
	s.Alone(another, "another", func(context.Context) { end() }) // under another name it is free
	ends[first]()
	require.Eventually(t, func() bool {
		mu.Lock()
		defer mu.Unlock()
		return len(begun) == 2 && doing == 1
	}, 30*time.Second, 20*time.Millisecond, "the next goes on")
	mu.Lock()
	before := begun[0] + begun[1] + begun[2]
	mu.Unlock()
	_, err := s.DB().Exec(`SELECT pg_terminate_backend(pid) FROM pg_locks WHERE locktype = 'advisory' AND classid::bigint = hashtext('smolder alone')::bigint & 4294967295`)
	require.NoError(t, err)
	require.Eventually(t, func() bool {
		mu.Lock()
		defer mu.Unlock()
		return begun[0]+begun[1]+begun[2] > before && doing == 1
	}, 30*time.Second, 20*time.Millisecond, "and where its connection breaks")
	mu.Lock()
	defer mu.Unlock()
	assert.Equal(t, 1, most, "never two")
}
