package plan_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"smolder/internal/core/plan"
)

// What is unsafe in more than one of ten stoves is said to be; its smoke is the mean of all,
// and never the best one's.
func TestUnsafeInMoreThanOneOfTen(t *testing.T) {
	var p plan.Plan
	p.Summary.SmokePerKg = 1.6
	assert.False(t, p.Unsafe())
	assert.InDelta(t, 1.6, p.SmokePerKg(), 1e-12, "burnt in none")
	p.Trust = plan.Trust{Of: 10, Safe: 9, Kept: 5, Smoke: 33}
	assert.False(t, p.Unsafe())
	p.Trust.Safe = 8
	assert.True(t, p.Unsafe())
	assert.InDelta(t, 33, p.SmokePerKg(), 1e-12)
	assert.True(t, p.Unclean())
	p.Trust = plan.Trust{Of: 4, Safe: 3}
	assert.True(t, p.Unsafe(), "one of four is more than one of ten")
}
