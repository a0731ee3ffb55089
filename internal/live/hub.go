// Package live carries changes to the pages that are open, and keeps what the coach
// has said of fires that are looked at.
//
// Changes come through the database ([store.Store.Listen]), so that it does not matter
// which process of the server a page hangs on. Publishing never waits: a page that is
// slow loses what it cannot take and is told to look at everything again.
package live

import (
	"context"
	"errors"
	"log/slog"
	"sync"
	"time"

	"smolder/internal/store"
)

// A Hub fans changes out. Make it with [NewHub] and let it [Hub.Run].
type Hub struct {
	listen func(ctx context.Context, ready func(), heard func(store.Change)) error
	log    *slog.Logger

	mu    sync.Mutex
	pages map[*Page]bool
	open  map[int64]int // pages of each household
	ready chan struct{} // closed once it has listened
	once  sync.Once
}

// NewHub returns a hub of a database.
func NewHub(s *store.Store, log *slog.Logger) *Hub {
	return &Hub{listen: s.Listen, log: log, pages: map[*Page]bool{}, open: map[int64]int{}, ready: make(chan struct{})}
}

// A Page is one that is open, of one household.
type Page struct {
	household int64
	changes   chan store.Change
	lost      bool // something that did not fit
}

// waits is how many changes wait for a page; what comes beyond is one "look again".
const waits = 32

// MostPages is how many pages of one household may be open: each holds a connection.
const MostPages = 200

// ErrManyPages is returned where a household has as many pages open as it may.
var ErrManyPages = errors.New("too many pages are open")

// Open adds a page of a household; shut it when it is gone. It returns [ErrManyPages].
func (h *Hub) Open(household int64) (p *Page, shut func(), err error) {
	p = &Page{household: household, changes: make(chan store.Change, waits)}
	h.mu.Lock()
	defer h.mu.Unlock()
	if h.open[household] >= MostPages {
		return nil, nil, ErrManyPages
	}
	h.open[household]++
	h.pages[p] = true
	return p, func() {
		h.mu.Lock()
		defer h.mu.Unlock()
		if !h.pages[p] {
			return
		}
		delete(h.pages, p)
		if h.open[household]--; h.open[household] == 0 {
			delete(h.open, household)
		}
	}, nil
}

// Pages is how many are open.
func (h *Hub) Pages() int {
	h.mu.Lock()
	defer h.mu.Unlock()
	return len(h.pages)
}

// Changes are the page's. One without a household says that something was lost: look
// at everything again.
func (p *Page) Changes() <-chan store.Change { return p.changes }

// Ready is closed once the hub hears changes.
func (h *Hub) Ready() <-chan struct{} { return h.ready }

// Publish gives a change to the pages of its household; one without a household goes to
// all.
func (h *Hub) Publish(c store.Change) {
	h.mu.Lock()
	defer h.mu.Unlock()
	c.Heard = time.Now() // one moment for all pages, so that they share what is made of it
	for p := range h.pages {
		if c.Household == 0 || c.Household == p.household {
			p.give(c)
		}
	}
}

// give never waits.
func (p *Page) give(c store.Change) {
	if p.lost {
		select {
		case p.changes <- store.Change{}:
			p.lost = false
		default:
			return
		}
	}
	select {
	case p.changes <- c:
	default:
		p.lost = true
	}
}

// Run listens until the context ends. When the database goes away it tries again, and
// every page looks at everything once it is back.
func (h *Hub) Run(ctx context.Context) {
	const first, longest = 200 * time.Millisecond, 5 * time.Second
	wait := first
	for ctx.Err() == nil {
		err := h.listen(ctx, func() {
			wait = first
			h.once.Do(func() { close(h.ready) })
			h.Publish(store.Change{}) // whatever was told before
		}, h.Publish)
		if ctx.Err() != nil {
			return
		}
		h.log.Warn("changes are not heard", "error", err)
		select {
		case <-ctx.Done():
		case <-time.After(wait):
		}
		wait = min(2*wait, longest)
	}
}
