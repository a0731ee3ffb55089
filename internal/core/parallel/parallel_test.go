package parallel_test

import (
	"runtime"
	"sync/atomic"
	"testing"

	"github.com/stretchr/testify/assert"

	"smolder/internal/core/parallel"
)

func TestInParallel(t *testing.T) {
	var sum atomic.Int64
	parallel.InParallel(100, func(i int) { sum.Add(int64(i)) })
	assert.Equal(t, int64(4950), sum.Load())
	parallel.InParallel(0, func(int) { t.Error("there is nothing to do") })
	var others atomic.Int64
	assert.Panics(t, func() {
		parallel.InParallel(100, func(i int) {
			if i == 7 {
				panic("one of them")
			}
			others.Add(1)
		})
	}, "the caller hears of it")
	assert.GreaterOrEqual(t, others.Load(), int64(7))
}

// While several wait for an answer work on all cores leaves one of them to those, and takes it
// back when they have gone.
func TestRoomForThoseWhoWait(t *testing.T) {
	at := func() int64 {
		var now, most atomic.Int64
		parallel.InParallel(64, func(int) {
			if n := now.Add(1); n > most.Load() {
				most.Store(n)
			}
			runtime.Gosched()
			now.Add(-1)
		})
		return most.Load()
	}
	cores := int64(runtime.GOMAXPROCS(0))
	assert.LessOrEqual(t, at(), cores)
	var gone []func()
	for range 3 {
		gone = append(gone, parallel.Beside())
	}
	assert.LessOrEqual(t, at(), max(1, cores-1))
	for _, g := range gone {
		g()
		g() // twice is once
	}
	gone = append(gone[:0], parallel.Beside(), parallel.Beside())
	assert.LessOrEqual(t, at(), cores)
	for _, g := range gone {
		g()
	}
}
