package each_test

import (
	"sync/atomic"
	"testing"

	"github.com/stretchr/testify/assert"

	"smolder/internal/core/each"
)

func TestInParallel(t *testing.T) {
	var sum atomic.Int64
	each.InParallel(100, func(i int) { sum.Add(int64(i)) })
	assert.Equal(t, int64(4950), sum.Load())
	each.InParallel(0, func(int) { t.Error("there is nothing to do") })
	var others atomic.Int64
	assert.Panics(t, func() {
		each.InParallel(100, func(i int) {
			if i == 7 {
				panic("one of them")
			}
			others.Add(1)
		})
	}, "the caller hears of it")
	assert.GreaterOrEqual(t, others.Load(), int64(7))
}
