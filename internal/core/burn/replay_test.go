package burn_test

import (
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
)

// Whatever is logged, late or in time, corrected or undone: a replay that goes on
// from a kept moment is the replay from the match.
func TestReplaysGoOn(t *testing.T) {
	var kept burn.Replays
	b := kitchen()
	b.Entries = []burn.Entry{at(0, burn.Entry{ID: "lit", Kind: burn.Light}), at(1, burn.Entry{ID: "load", Kind: burn.Load, Load: load(6)})}
	same := func(minute int, what string) {
		t.Helper()
		now := start.Add(time.Duration(minute) * time.Minute)
		assert.Equal(t, b.Replay(now), kept.Replay(b, now), what)
		assert.Equal(t, b.Replay(now), kept.Replay(b, now), "%s, again", what)
	}
	add := func(minute int, e burn.Entry) { b.Entries = append(b.Entries, at(minute, e)) }
	same(2, "at once")
	same(30, "half an hour in")
	add(31, burn.Entry{ID: "down", Kind: burn.Control, Control: "lever", Opening: 0.25})
	same(32, "turned down")
	same(90, "an hour later")
	add(20, burn.Entry{ID: "late", Kind: burn.Door, Door: fire.Ajar})
	add(24, burn.Entry{ID: "shut", Kind: burn.Door, Door: fire.Shut})
	same(91, "what was forgotten is typed late")
	b.Entries[2].Struck = true
	same(92, "undone")
	same(60, "looked back at")
	add(88, burn.Entry{ID: "again", Kind: burn.Load, Load: load(3)})
	same(150, "loaded again")
	b.Outdoor -= 10
	same(151, "the weather was typed wrong")
	same(72*60, "and the longest burn")
	var none *burn.Replays
	assert.Equal(t, b.Replay(start.Add(time.Hour)), none.Replay(b, start.Add(time.Hour)))
}

// Many pages may look at many fires at once.
func TestReplaysOfManyAtOnce(t *testing.T) {
	var kept burn.Replays
	var all sync.WaitGroup
	for i := range 8 {
		all.Go(func() {
			b := kitchen()
			b.Room += 1
			b.Coals = 0.1
			for j := range 4 {
				now := start.Add(time.Duration(10+7*j+i%3) * time.Minute)
				got := kept.Replay(b, now)
				assert.NotEmpty(t, got.Samples)
			}
		})
	}
	all.Wait()
}

func BenchmarkOneMoreEntry(b *testing.B) {
	var kept burn.Replays
	log := kitchen()
	log.Entries = []burn.Entry{at(0, burn.Entry{ID: "lit", Kind: burn.Light}), at(1, burn.Entry{ID: "load", Kind: burn.Load, Load: load(6)})}
	now := start.Add(10 * time.Hour)
	kept.Replay(log, now)
	for b.Loop() {
		kept.Replay(log, now)
	}
	goes := b.Elapsed() / time.Duration(b.N)
	begin := time.Now()
	for range b.N {
		log.Replay(now)
	}
	b.ReportMetric(float64(goes)/float64(time.Since(begin)/time.Duration(b.N)), "×from-the-match")
}
