package store

import (
	"context"
	"fmt"
	"slices"
	"sync"
	"time"

	"golang.org/x/sync/singleflight"

	"smolder/internal/core/burn"
)

// The readings of a fire that burns are asked for with every page at it, by everybody who
// stands there: what was read for one is remembered for the others, for as long as the
// database counts the same.

// A span is readings of a stove from one moment to another.
type span struct {
	household, stove int64
	from, to         time.Time
}

// counted is what a span's readings are known by: none is ever changed in its place.
type counted struct {
	Count  int       `db:"count"`
	Over   float64   `db:"over"`   // s, from the first to the last
	Newest time.Time `db:"newest"` // the last
}

// readingCache remembers the readings of some spans, those asked for longest ago making room.
type readingCache struct {
	once  singleflight.Group // many ask for the same at the same moment: it is read once
	mu    sync.Mutex
	of    map[span]heard
	order []span
}

type heard struct {
	counted
	entries []burn.Entry
}

const (
	// mostHeard is how many spans are remembered, of some 6,000 readings at most each; fewer
	// than leastHeard are read again sooner than they are found.
	mostHeard, leastHeard = 16, 400
)

// read is what is remembered of a span, or is read and remembered now, once for all who ask.
func (h *readingCache) read(ctx context.Context, s span, c counted, read func(context.Context) ([]burn.Entry, error)) ([]burn.Entry, error) {
	if found, there := h.find(s, c); there {
		return found, nil
	}
	if c.Count < leastHeard {
		return read(ctx)
	}
	reading := h.once.DoChan(fmt.Sprintf("%v %v", s, c), func() (any, error) {
		// Whoever asked first may go before it is read: the others still wait for it.
		out, err := read(context.WithoutCancel(ctx))
		if err == nil {
			h.keep(s, c, out)
		}
		return out, err
	})
	select {
	case <-ctx.Done():
		return nil, ctx.Err()
	case got := <-reading:
		if got.Err != nil {
			return nil, got.Err
		}
		return slices.Clone(got.Val.([]burn.Entry)), nil
	}
}

func (h *readingCache) find(s span, c counted) ([]burn.Entry, bool) {
	h.mu.Lock()
	defer h.mu.Unlock()
	found, there := h.of[s]
	if !there || found.Count != c.Count || found.Over != c.Over || !found.Newest.Equal(c.Newest) {
		return nil, false
	}
	return slices.Clone(found.entries), true
}

func (h *readingCache) keep(s span, c counted, entries []burn.Entry) {
	h.mu.Lock()
	defer h.mu.Unlock()
	if h.of == nil {
		h.of = map[span]heard{}
	}
	h.order = append(slices.DeleteFunc(h.order, func(o span) bool { return o == s }), s)
	if len(h.order) > mostHeard {
		delete(h.of, h.order[0])
		h.order = h.order[1:]
	}
	h.of[s] = heard{c, slices.Clone(entries)}
}
