package trouble

import (
	"log/slog"
	"runtime/debug"
	"slices"
	"sync"
	"sync/atomic"
	"time"

	"smolder/internal/core/trouble"
	"smolder/internal/planner"
)

// Causes are weighed once for all that ask the same, one after the other: it takes both hands of a
// small machine for some seconds. Answers of tests are put to what was weighed, at once.

const (
	mostWeighed = 48 // that are remembered
	mostWaiting = 8  // that wait for their turn
	patience    = 600 * time.Millisecond
)

// A weighing is one of them, done or under way.
type weighing struct {
	done    chan struct{}
	weighed trouble.Weighed
	part    atomic.Int64 // of the work that is done, in hundredths
	failed  bool         // it could not be weighed
}

type weighings struct {
	mu    sync.Mutex
	all   map[string]*weighing
	order []string
	turn  chan struct{}
	queue atomic.Int64
	weigh func(trouble.Asked, func(done, all int)) trouble.Weighed
}

func newWeighings() *weighings {
	return &weighings{all: map[string]*weighing{}, turn: make(chan struct{}, 1), weigh: trouble.Weigh}
}

// of is what was weighed under a key, begun now where nobody has; [planner.ErrBusy] where too many
// wait.
func (w *weighings) of(key string, log *slog.Logger, begin func() trouble.Asked) (*weighing, error) {
	w.mu.Lock()
	defer w.mu.Unlock()
	if x, there := w.all[key]; there {
		return x, nil
	}
	if w.queue.Load() >= mostWaiting {
		return nil, planner.ErrBusy
	}
	x := &weighing{done: make(chan struct{})}
	w.all[key], w.order = x, append(w.order, key)
	if len(w.order) > mostWeighed {
		delete(w.all, w.order[0])
		w.order = w.order[1:]
	}
	asked := begin()
	w.queue.Add(1)
	go func() {
		w.turn <- struct{}{}
		defer func() {
			if p := recover(); p != nil { // one diagnosis costs itself, and not the server
				log.Error("trouble", "error", p, "stack", string(debug.Stack()))
				x.failed = true
				w.forget(key)
			}
			<-w.turn
			w.queue.Add(-1)
			close(x.done)
		}()
		x.weighed = w.weigh(asked, func(done, all int) { x.part.Store(int64(100 * done / max(1, all))) })
	}()
	return x, nil
}

// forget lets what failed be asked anew.
func (w *weighings) forget(key string) {
	w.mu.Lock()
	defer w.mu.Unlock()
	delete(w.all, key)
	w.order = slices.DeleteFunc(w.order, func(k string) bool { return k == key })
}

// soon waits a moment for it.
func (x *weighing) soon() bool {
	select {
	case <-x.done:
		return true
	case <-time.After(patience):
		return false
	}
}
