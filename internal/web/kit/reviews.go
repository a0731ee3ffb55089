package kit

import (
	"log/slog"
	"runtime/debug"
	"slices"
	"sync"
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/learn"
	"smolder/internal/core/review"
	"smolder/internal/planner"
)

// Reviews are those of burns that are not in the household's log: practised ones, and what others
// share. A review takes both hands of a small machine for some seconds, so one is made at a time,
// in the background, and remembered.
type Reviews struct {
	mu      sync.Mutex
	kept    []*Reviewed // the one asked for last is at the end
	turn    chan struct{}
	waiting int
}

// A Reviewed is one of them, done or under way.
type Reviewed struct {
	Burn     burn.Burn
	Review   review.Review
	Measures burn.Measures // as it most likely was
	Failed   bool

	key  string
	done chan struct{}
}

const (
	mostReviewed = 48
	mostToReview = 8
	patience     = 700 * time.Millisecond
)

// NewReviews has none yet.
func NewReviews() *Reviews { return &Reviews{turn: make(chan struct{}, 1)} }

// Of is the review of a burn under a key, begun now where nobody has; [planner.ErrBusy] where too
// many wait. Its fields are there once it is done ([Reviewed.Soon]).
func (r *Reviews) Of(key string, log *slog.Logger, begin func() (burn.Burn, learn.Known)) (*Reviewed, error) {
	r.mu.Lock()
	defer r.mu.Unlock()
	if i := slices.IndexFunc(r.kept, func(k *Reviewed) bool { return k.key == key }); i >= 0 {
		k := r.kept[i]
		r.kept = append(slices.Delete(r.kept, i, i+1), k)
		return k, nil
	}
	if r.waiting >= mostToReview {
		return nil, planner.ErrBusy
	}
	if len(r.kept) >= mostReviewed {
		r.kept = slices.Delete(r.kept, 0, 1)
	}
	k := &Reviewed{key: key, done: make(chan struct{})}
	r.kept = append(r.kept, k)
	r.waiting++
	go func() {
		r.turn <- struct{}{}
		defer func() {
			if p := recover(); p != nil { // one review costs itself, and not the server
				log.Error("review", "error", p, "stack", string(debug.Stack()))
				k.Failed = true
			}
			<-r.turn
			r.mu.Lock()
			r.waiting--
			r.mu.Unlock()
			close(k.done)
		}()
		b, known := begin()
		k.Burn = b
		var past *review.Past
		if k.Review, past = review.Of(b, known); past != nil {
			k.Measures = past.Measures()
		}
	}()
	return k, nil
}

// Soon waits a moment for it, and tells whether it is done.
func (k *Reviewed) Soon() bool {
	select {
	case <-k.done:
		return true
	case <-time.After(patience):
		return false
	}
}
