package api

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
)

// Unknown tokens are counted by where they come from: after some a minute the rest are not
// looked up; others go on, the next minute begins anew, and the memory of it is bounded.
func TestGuessingAtTokens(t *testing.T) {
	var g guesses
	now := time.Date(2026, 1, 1, 12, 0, 0, 0, time.UTC)
	for range missesAMinute {
		assert.True(t, g.may("a", now))
		g.missed("a", now)
	}
	assert.False(t, g.may("a", now))
	assert.True(t, g.may("b", now))
	assert.True(t, g.may("a", now.Add(time.Minute)))
	for i := range mostAddresses + 10 {
		g.missed(fmt.Sprint(i), now)
	}
	assert.LessOrEqual(t, len(g.of), mostAddresses)
}
