package api

import (
	"context"
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/store"
)

// Unknown tokens are counted by where they come from, for all processes: after some a minute the rest
// are not looked up, nor counted; others go on, the next minute begins anew, and the memory of it is
// bounded.
func TestGuessingAtTokens(t *testing.T) {
	now := time.Date(2026, 1, 1, 12, 0, 0, 0, time.UTC)
	of := map[string]int{}
	count := func(_ context.Context, _ time.Time, limits ...store.Limit) (*store.Limit, []int64, error) {
		if of[limits[0].Key] >= limits[0].Most {
			return &limits[0], nil, nil
		}
		of[limits[0].Key]++
		return nil, nil, nil
	}
	one, two := guesses{count: count}, guesses{count: count}
	tried := 0
	for _, g := range []*guesses{&one, &two} {
		for range missesAMinute + 5 {
			if g.may("a", now) {
				tried++
				require.NoError(t, g.missed(t.Context(), "a", now))
			}
		}
		assert.False(t, g.may("a", now))
		assert.True(t, g.may("b", now))
		assert.True(t, g.may("a", now.Add(time.Minute)))
	}
	assert.Equal(t, missesAMinute+2, tried, "one more each, which is told that it is too many: the second process counts on")
	for i := range mostAddresses + 10 {
		of["token from "+fmt.Sprint(i)] = missesAMinute
		require.NoError(t, one.missed(t.Context(), fmt.Sprint(i), now))
	}
	assert.LessOrEqual(t, len(one.of), mostAddresses)
}
