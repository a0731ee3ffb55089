package burn_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/belief"
	"smolder/internal/core/burn"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// Kept or burnt from the match: the same is believed, also after an entry that comes
// late, and after one that is undone.
func TestKeptBeliefsAreThoseFromTheMatch(t *testing.T) {
	b := evening()
	var kept burn.Beliefs
	same := func(at time.Time) {
		t.Helper()
		want, got := b.Believed(belief.Usual(), at).Standing(), kept.At(belief.Usual(), b, at).Standing()
		assert.Equal(t, want, got)
	}
	start := b.Started
	b.Entries = nil
	add := func(minute int, e burn.Entry) {
		e.At = start.Add(time.Duration(minute) * time.Minute)
		b.Entries = append(b.Entries, e)
	}
	load := evening().Entries
	for _, e := range load {
		if e.At.Sub(start) < 30*time.Minute {
			b.Entries = append(b.Entries, e)
		}
	}
	same(start.Add(12 * time.Minute))
	add(14, burn.Entry{ID: "r1", Kind: burn.Temperature, Place: stove.ConnectorProbe, Reading: 160})
	add(19, burn.Entry{ID: "r2", Kind: burn.Temperature, Place: stove.ConnectorProbe, Reading: 205})
	same(start.Add(20 * time.Minute))
	add(17, burn.Entry{ID: "late", Kind: burn.Smoke, Smoke: burn.SmokeClear})
	same(start.Add(21 * time.Minute))
	for i := range b.Entries {
		b.Entries[i].Struck = b.Entries[i].ID == "r1"
	}
	same(start.Add(22 * time.Minute))
}

// A thermometer that reports each second says no more to a belief than a pencil does.
func TestReadingsOfAThermometerAreThinned(t *testing.T) {
	b := evening()
	b.Entries = nil
	for s := range 600 {
		b.Entries = append(b.Entries, burn.Entry{At: b.Started.Add(time.Duration(s) * time.Second), Kind: burn.Temperature,
			Place: stove.ConnectorProbe, Reading: 100})
	}
	assert.Len(t, b.Record(b.Started.Add(time.Hour)), 12)
	for i := range b.Entries {
		b.Entries[i].Kind, b.Entries[i].Place, b.Entries[i].Reading, b.Entries[i].Draft = burn.Draft, "", 0, 11
		if i == 25 {
			b.Entries[i].Draft = -3
		}
	}
	assert.Len(t, b.Record(b.Started.Add(time.Hour)), 14, "a gust is told of")
}

// Whoever looks at how it was takes nothing from the page that goes on.
func TestALookBackLeavesWhatIsKept(t *testing.T) {
	b := evening()
	var kept burn.Beliefs
	now := b.Started.Add(70 * time.Minute)
	kept.At(belief.Usual(), b, now)
	newest := len(b.Record(now))
	require.Contains(t, kept.Moments(), newest)
	for _, minute := range []time.Duration{20, 30, 10, 40, 25} {
		kept.At(belief.Usual(), b, b.Started.Add(minute*time.Minute))
		assert.Contains(t, kept.Moments(), newest, "after a look at minute %d", minute)
	}
	kept.At(belief.Usual(), b, now)
	assert.Equal(t, newest, kept.Moments()[len(kept.Moments())-1], "the latest last")
	assert.LessOrEqual(t, len(kept.Moments()), 3)
}

// Whoever taps "lit" and nothing else has lit it with kindling: the fire lives.
func TestWhoHasLitItHadKindling(t *testing.T) {
	b := kitchen()
	b.Coals, b.Warmth, b.Room = 0, 0, 18
	b.Entries = []burn.Entry{at(0, burn.Entry{ID: "1", Kind: burn.Load, Load: load(2.8)}), at(0, burn.Entry{ID: "2", Kind: burn.Light})}
	assert.Greater(t, b.Replay(start.Add(20*time.Minute)).Summary.PeakGas, units.Celsius(150))
	assert.Len(t, b.Record(start.Add(time.Hour)), 3)
	kindling := load(1.2)
	kindling.Kindling = true
	b.Entries = append([]burn.Entry{at(0, burn.Entry{ID: "0", Kind: burn.Load, Load: kindling})}, b.Entries...)
	assert.Len(t, b.Record(start.Add(time.Hour)), 3, "what is logged is not put on twice")
}
