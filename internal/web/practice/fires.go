package practice

import (
	"slices"
	"sync"
	"time"

	"smolder/internal/core/practice"
	"smolder/internal/store"
)

// mostFires is how many practices burn at once in this process, each a few hundred kilobytes; one
// that is pushed out is burnt again from what was done in it when it is asked for.
const mostFires = 64

// fires are the practices that somebody is at. Nothing is lost with them: what was done is kept in
// the database, and whoever asks says how far they have come.
type fires struct {
	mu   sync.Mutex
	kept []*held // the one asked for last is at the end
}

func newFires() *fires { return &fires{} }

// held is one of them.
type held struct {
	sync.Mutex
	id   int64
	fire *practice.Practice
	kept time.Duration // how far it was when it was last kept
}

// of is a practice as it stands, locked: whoever is given it unlocks it. What another process has
// done to it goes before what this one remembers.
func (f *fires) of(p store.Practice) (*held, error) {
	f.mu.Lock()
	i := slices.IndexFunc(f.kept, func(h *held) bool { return h.id == p.ID })
	h := &held{id: p.ID}
	if i >= 0 {
		h = f.kept[i]
		f.kept = slices.Delete(f.kept, i, i+1)
	} else if len(f.kept) >= mostFires {
		f.kept = slices.Delete(f.kept, 0, 1)
	}
	f.kept = append(f.kept, h)
	f.mu.Unlock()
	h.Lock()
	if h.fire != nil && len(h.fire.Done) == len(p.Done) {
		h.fire.GoTo(max(h.fire.Now(), p.Elapsed)) // another process may have taken it further
		return h, nil
	}
	fire, err := practice.New(p.Spec, p.Done)
	if err != nil {
		h.Unlock()
		return nil, err
	}
	fire.GoTo(p.Elapsed)
	h.fire, h.kept = fire, p.Elapsed
	return h, nil
}
