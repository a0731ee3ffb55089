package burn_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
)

// What was done can be asked for again: the loads, the setting that they charred with, and
// where the air was left; entries that were taken back do not count.
func TestAsDone(t *testing.T) {
	start := time.Date(2026, 11, 3, 17, 0, 0, 0, time.UTC)
	st := stove.Stove{Controls: []stove.Control{{Key: "air", Role: stove.Combined, Scale: stove.Scale{Kind: stove.Lever}}}}
	load := func(pieces int, lay fire.Lay, kindling bool) *fire.Load {
		return &fire.Load{Pieces: pieces, PieceMass: 1.2, Lay: lay, Direction: stove.Sideways, Kindling: kindling}
	}
	b := burn.Burn{Stove: st, Started: start}
	add := func(minute int, e burn.Entry) {
		e.ID, e.At = string(rune('a'+len(b.Entries))), start.Add(time.Duration(minute)*time.Minute)
		b.Entries = append(b.Entries, e)
	}
	air := func(o float64) burn.Entry { return burn.Entry{Kind: burn.Control, Control: "air", Opening: o} }
	add(0, air(1))
	add(0, burn.Entry{Kind: burn.Load, Load: load(2, fire.TopDown, false)})
	add(0, burn.Entry{Kind: burn.Load, Load: load(12, fire.TopDown, true)})
	add(1, burn.Entry{Kind: burn.Light})
	add(30, air(0.5))
	add(35, burn.Entry{Kind: burn.Load, Load: load(4, fire.OnCoals, false)})
	add(35, air(0.8))
	add(50, air(0.5))
	add(60, air(0.25))
	d := b.AsDone()
	assert.Equal(t, 2, d.First.Pieces)
	assert.Equal(t, 4, d.Main.Pieces)
	assert.Equal(t, fire.TopDown, d.Lay)
	assert.InDelta(t, 0.8, d.Brisk, 1e-9, "opened again for the load")
	assert.InDelta(t, 0.25, d.Final, 1e-9)
	assert.Equal(t, stove.Sideways, d.Way)
	none := burn.Burn{Stove: st, Started: start}.AsDone()
	assert.Zero(t, none.Main.Pieces)
	assert.Zero(t, none.Final)
}
