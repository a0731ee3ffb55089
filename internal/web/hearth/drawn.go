package hearth

import (
	"sync"
	"time"

	"smolder/internal/core/coach"
	"smolder/internal/core/stove"
	"smolder/internal/lang"
	"smolder/internal/live"
	"smolder/internal/store"
	"smolder/internal/strip"
)

// Everybody at one fire looks at the same strip: it is drawn once for all who ask while it
// stays the same.

// A look is all that a strip depends on.
type look struct {
	burn   int64
	seen   live.Seen
	answer time.Time
	stale  bool
	until  time.Time // to drawnHolds
	hand   stove.Place
	loc    lang.Locale
	zone   string
}

// lookOf is what somebody looks at.
func lookOf(b store.Burn, a coach.Answer, until time.Time, hand stove.Place, v strip.View) look {
	at := a.At
	if a.Stale { // it says of this moment what was believed before
		at = at.Truncate(drawnHolds)
	}
	return look{b.ID, live.SeenOf(b), at, a.Stale, until.Truncate(drawnHolds), hand, v.Locale, v.Zone.String()}
}

// drawnHolds is how long the line of now may stand where it is, of a strip of hours.
const drawnHolds = 5 * time.Second

// mostDrawn is how many strips are remembered.
const mostDrawn = 64

type drawings struct {
	mu    sync.Mutex
	of    map[look]func() strip.Pair
	order []look
}

// of is the strip of a look: draw is run once, and who asks meanwhile waits for it.
func (d *drawings) draw(l look, draw func() strip.Pair) strip.Pair {
	d.mu.Lock()
	once, there := d.of[l]
	if !there {
		if d.of == nil {
			d.of = map[look]func() strip.Pair{}
		}
		once = sync.OnceValue(draw)
		d.of[l], d.order = once, append(d.order, l)
		if len(d.order) > mostDrawn {
			delete(d.of, d.order[0])
			d.order = d.order[1:]
		}
	}
	d.mu.Unlock()
	return once()
}
