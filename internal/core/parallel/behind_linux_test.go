package parallel_test

import (
	"sync/atomic"
	"syscall"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/parallel"
)

// Long work and all that it does in parallel runs on threads that stand behind others; what runs
// beside it and afterwards does not, and a panic in it is its caller's.
func TestBehind(t *testing.T) {
	parallel.Niceness(parallel.UsualNiceness)
	nice := func() int {
		got, err := syscall.Getpriority(syscall.PRIO_PROCESS, 0)
		require.NoError(t, err)
		return 20 - got
	}
	usual := nice()
	var far, near, beside atomic.Int64
	count := func(into *atomic.Int64) {
		if nice() >= usual+10 {
			into.Add(1)
		}
	}
	parallel.Behind(func() {
		count(&far)
		parallel.InParallel(20, func(int) {
			count(&far)
			parallel.Aside(3, func(int) { count(&far) })
		})
		other := make(chan struct{})
		go func() { count(&beside); close(other) }()
		<-other
	})
	assert.EqualValues(t, 1+20+60, far.Load(), "all of it")
	parallel.InParallel(200, func(int) { count(&near) })
	assert.Zero(t, near.Load(), "and nothing afterwards")
	assert.Zero(t, beside.Load(), "nor beside it")
	assert.Equal(t, usual, nice())
	assert.Panics(t, func() { parallel.Behind(func() { parallel.InParallel(3, func(int) { panic("one of them") }) }) })
}
