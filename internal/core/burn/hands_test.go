package burn_test

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/burn"
	"smolder/internal/core/fixture"
)

// Who did it is a name that somebody may have, also where a file says it.
func TestHands(t *testing.T) {
	lit := time.Date(2026, 1, 14, 18, 0, 0, 0, time.UTC)
	b := burn.Burn{Stove: fixture.Stoves()[fixture.Auntie].Stove, Started: lit}
	rake := func(by string) burn.Entry { return burn.Entry{ID: "a", At: lit, Kind: burn.Rake, By: by} }
	require.NoError(t, b.Check(rake(""), lit))
	require.NoError(t, b.Check(rake("Fell"), lit))
	for _, bad := range []string{strings.Repeat("x", 5000), "a\x00b", "\u202eFell"} {
		require.ErrorIs(t, b.Check(rake(bad), lit), burn.ErrEntry, "%.20q", bad)
		b.LitBy = bad
		assert.Error(t, b.CheckStart(lit))
		b.LitBy = ""
	}
	assert.False(t, b.Several())
	b.LitBy, b.Entries = "tarn", []burn.Entry{rake("tarn"), rake("")}
	assert.False(t, b.Several())
	b.Entries[1].UndoneBy = "Fell"
	assert.True(t, b.Several())
}
