package planner_test

import (
	"context"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/search"
	"smolder/internal/planner"
)

// hold runs something that lasts until it is released.
func hold(t *testing.T, q *planner.Queue) (release func()) {
	begun, end, over := make(chan struct{}), make(chan struct{}), make(chan struct{})
	go func() {
		defer close(over)
		_ = q.Do(context.Background(), 99, nil, func(context.Context, *search.Meter) error {
			close(begun)
			<-end
			return nil
		})
	}()
	<-begun
	return func() { close(end); <-over }
}

// queued starts a search that notes when it runs, and waits until it has its
// place in the queue.
func queued(t *testing.T, q *planner.Queue, group *sync.WaitGroup, household int64, ran func()) {
	placed := make(chan struct{})
	var once sync.Once
	group.Go(func() {
		err := q.Do(context.Background(), household, func(_, _, waiting int) {
			if waiting > 0 {
				once.Do(func() { close(placed) })
			}
		}, func(context.Context, *search.Meter) error { ran(); return nil })
		assert.NoError(t, err)
	})
	select {
	case <-placed:
	case <-time.After(20 * time.Second):
		t.Fatal("it never got a place")
	}
}

func TestHouseholdsTakeTurns(t *testing.T) {
	var q planner.Queue
	release := hold(t, &q)
	var group sync.WaitGroup
	var mu sync.Mutex
	var order []int64
	for _, household := range []int64{1, 1, 1, 2, 3, 2} {
		queued(t, &q, &group, household, func() { mu.Lock(); order = append(order, household); mu.Unlock() })
	}
	release()
	group.Wait()
	assert.Equal(t, []int64{1, 2, 3, 1, 2, 1}, order)
}

func TestTheQueueIsBounded(t *testing.T) {
	var q planner.Queue
	release := hold(t, &q)
	var group sync.WaitGroup
	for range 4 {
		queued(t, &q, &group, 1, func() {})
	}
	err := q.Do(context.Background(), 1, nil, func(context.Context, *search.Meter) error { return nil })
	require.ErrorIs(t, err, planner.ErrBusy)
	queued(t, &q, &group, 2, func() {})
	release()
	group.Wait()
}

func TestNobodyWaitsAnyMore(t *testing.T) {
	var q planner.Queue
	release := hold(t, &q)
	ctx, cancel := context.WithCancel(context.Background())
	cancel()
	err := q.Do(ctx, 1, nil, func(context.Context, *search.Meter) error { t.Error("it ran for nobody"); return nil })
	require.ErrorIs(t, err, context.Canceled)
	release()
	assert.Panics(t, func() {
		_ = q.Do(context.Background(), 1, nil, func(context.Context, *search.Meter) error { panic("one search") })
	})
	var last [3]int
	err = q.Do(context.Background(), 1, func(b, f, w int) { last = [3]int{b, f, w} }, func(_ context.Context, m *search.Meter) error {
		m.Expect(3)
		m.Count()
		return nil
	})
	require.NoError(t, err, "a panic of one leaves the queue to the next")
	assert.Equal(t, [3]int{1, 3, 0}, last, "and the last count is kept")
}
