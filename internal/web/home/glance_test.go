package home

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"smolder/internal/core/coach"
	"smolder/internal/core/plan"
)

// Somebody comes back for the next load that is planned, not for the coals after the last one.
func TestNextLoadAhead(t *testing.T) {
	ahead := []plan.Step{{Kind: plan.TurnDown, Expected: 40 * time.Minute}, {Kind: plan.LoadIt, Expected: 100 * time.Minute},
		{Kind: plan.LoadIt, Expected: 170 * time.Minute}, {Kind: plan.ReloadTime, Expected: 240 * time.Minute}}
	at, loads := nextLoad(coach.Answer{Ahead: ahead}, 50*time.Minute)
	assert.True(t, loads)
	assert.Equal(t, 100*time.Minute, at)
	at, loads = nextLoad(coach.Answer{Ahead: ahead}, 2*time.Hour)
	assert.True(t, loads)
	assert.Equal(t, 170*time.Minute, at, "a time that is over is not said")
	_, loads = nextLoad(coach.Answer{Ahead: ahead[3:]}, 2*time.Hour)
	assert.False(t, loads, "coals at the end are no load")
}
