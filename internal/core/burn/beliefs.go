package burn

import (
	"reflect"
	"slices"
	"sync"
	"time"

	"smolder/internal/core/belief"
	"smolder/internal/core/fire"
)

// Beliefs keeps what is believed of burns at some moments, so that one more reading
// does not burn the evening again. What it gives is what [Burn.Believed] gives: a
// moment is used only while everything that the log says of the time before it is as
// it was. The zero Beliefs is ready; it is safe for concurrent use.
type Beliefs struct {
	mu    sync.Mutex
	burns []*believed // the one asked for last is at the end
}

// believed is one burn with its moments, the latest last. None of them is changed once
// it is here.
type believed struct {
	mu      sync.Mutex // held while a belief of this burn is worked out
	setup   fire.Setup
	doubt   belief.Doubt
	prior   belief.Prior
	moments []*belief.Belief
}

const (
	// mostBelieved is how many burns are kept; each moment of one is about a megabyte.
	mostBelieved = 24
	// mostBeliefs of one burn: after its last entry, and some before for what is typed
	// late.
	mostBeliefs = 3
)

// At is what is believed of a burn at a moment. It belongs to the caller.
func (k *Beliefs) At(prior belief.Prior, b Burn, at time.Time) *belief.Belief {
	record := b.Record(at)
	of := k.find(prior, b)
	of.mu.Lock()
	defer of.mu.Unlock()
	now := of.latest(record)
	if now == nil {
		now = belief.New(prior, of.setup, of.doubt)
	}
	behindAt, kept := at.Sub(b.Started)-behind, false
	more := record[len(now.Record()):]
	for _, e := range more {
		if !kept && e.At > behindAt && len(now.Record()) > 0 {
			of.keep(now.Clone())
			kept = true
		}
		now.Take(e)
	}
	if len(more) > 0 {
		of.keep(now.Clone())
	}
	now.Until(at.Sub(b.Started))
	return now
}

// find is the place of a burn, the oldest making room.
func (k *Beliefs) find(prior belief.Prior, b Burn) *believed {
	setup, doubt := b.Setup(), b.Doubt()
	k.mu.Lock()
	defer k.mu.Unlock()
	i := slices.IndexFunc(k.burns, func(o *believed) bool {
		return o.doubt == doubt && reflect.DeepEqual(o.prior, prior) && reflect.DeepEqual(o.setup, setup)
	})
	of := &believed{setup: setup, doubt: doubt, prior: prior}
	switch {
	case i >= 0:
		of = k.burns[i]
		k.burns = slices.Delete(k.burns, i, i+1)
	case len(k.burns) >= mostBelieved:
		k.burns = slices.Delete(k.burns, 0, 1)
	}
	k.burns = append(k.burns, of)
	return of
}

// latest is a copy of the latest moment of which the record still holds; nil: none.
func (o *believed) latest(record []belief.Event) *belief.Belief {
	for _, m := range slices.Backward(o.moments) {
		if had := m.Record(); len(had) <= len(record) && reflect.DeepEqual(had, record[:len(had)]) {
			return m.Clone()
		}
	}
	return nil
}

// keep adds a moment, and those make room that do not fit to it, and then the oldest of the
// others: who looks at how it was an hour ago takes nothing from the page that goes on.
func (o *believed) keep(m *belief.Belief) {
	had := m.Record()
	o.moments = slices.DeleteFunc(o.moments, func(old *belief.Belief) bool {
		r := old.Record()
		n := min(len(r), len(had))
		return len(r) == len(had) || !reflect.DeepEqual(r[:n], had[:n])
	})
	i := 0
	for i < len(o.moments) && len(o.moments[i].Record()) < len(had) {
		i++
	}
	if o.moments = slices.Insert(o.moments, i, m); len(o.moments) > mostBeliefs {
		oldest := 0
		if i == 0 {
			oldest = 1
		}
		o.moments = slices.Delete(o.moments, oldest, oldest+1)
	}
}
