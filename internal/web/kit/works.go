package kit

import (
	"log/slog"
	"runtime/debug"
	"slices"
	"sync"
	"sync/atomic"
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/learn"
	"smolder/internal/core/parallel"
	"smolder/internal/core/review"
	"smolder/internal/planner"
)

// Works are things that take both hands of a small machine for some seconds, such as the review of a
// burn that is in no log: one is made at a time, in the background, once for all that ask the same,
// and remembered.
type Works[T any] struct {
	name    string // for the log
	mu      sync.Mutex
	kept    []*Work[T] // the one asked for last is at the end
	turn    chan struct{}
	waiting int
}

// A Work is one of them, done or under way.
type Work[T any] struct {
	Made   T    // once it is done, see [Work.Soon]
	Failed bool // it could not be made; likewise

	key  string
	done chan struct{}
	part atomic.Int64 // that is done, in hundredths
}

const (
	mostWorks   = 48 // that are remembered
	mostWaiting = 8  // that wait for their turn, or are made
	patience    = 700 * time.Millisecond
)

// NewWorks has none yet; name says in the log what they are.
func NewWorks[T any](name string) *Works[T] {
	return &Works[T]{name: name, turn: make(chan struct{}, 1)}
}

// Of is what was made under a key, begun now where nobody has; [planner.ErrBusy] where too many wait.
// Who makes it tells how much of it is done, from any goroutine.
func (w *Works[T]) Of(key string, log *slog.Logger, begin func(tell func(done, all int)) T) (*Work[T], error) {
	w.mu.Lock()
	defer w.mu.Unlock()
	if i := slices.IndexFunc(w.kept, func(k *Work[T]) bool { return k.key == key }); i >= 0 {
		k := w.kept[i]
		w.kept = append(slices.Delete(w.kept, i, i+1), k)
		return k, nil
	}
	if w.waiting >= mostWaiting {
		return nil, planner.ErrBusy
	}
	if len(w.kept) >= mostWorks {
		w.kept = slices.Delete(w.kept, 0, 1)
	}
	k := &Work[T]{key: key, done: make(chan struct{})}
	w.kept = append(w.kept, k)
	w.waiting++
	go w.make(k, log, begin)
	return k, nil
}

// make makes one when its turn comes. One that fails costs itself and not the server, and is made
// anew for who asks again.
func (w *Works[T]) make(k *Work[T], log *slog.Logger, begin func(tell func(done, all int)) T) {
	w.turn <- struct{}{}
	defer func() {
		p := recover()
		if p != nil {
			log.Error(w.name, "error", p, "stack", string(debug.Stack()))
			k.Failed = true
		}
		<-w.turn
		w.mu.Lock()
		w.waiting--
		if p != nil {
			w.kept = slices.DeleteFunc(w.kept, func(o *Work[T]) bool { return o == k })
		}
		w.mu.Unlock()
		close(k.done)
	}()
	parallel.Behind(func() { k.Made = begin(func(done, all int) { k.part.Store(int64(100 * done / max(1, all))) }) })
}

// Soon waits a moment for it, and tells whether it is done.
func (k *Work[T]) Soon() bool {
	select {
	case <-k.done:
		return true
	case <-time.After(patience):
		return false
	}
}

// Part is how much of it is done, in hundredths.
func (k *Work[T]) Part() int64 { return k.part.Load() }

// A Reviewed is a burn that is in no log, as it was reviewed.
type Reviewed struct {
	Burn     burn.Burn
	Review   review.Review
	Measures burn.Measures // as it most likely was
}

// ReviewIt reviews a burn with what is known of its stove.
func ReviewIt(b burn.Burn, known learn.Known) Reviewed {
	out := Reviewed{Burn: b}
	var past *review.Past
	if out.Review, past = review.Of(b, known); past != nil {
		out.Measures = past.Measures()
	}
	return out
}
