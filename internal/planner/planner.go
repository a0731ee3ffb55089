// Package planner lets searches for plans wait their turn.
//
// A search takes all cores for a second or more; several at once would only
// delay each other. So one runs at a time, the others wait in a bounded queue in
// which households take turns: somebody who asks for ten plans does not hold up
// a neighbour who asks for one. A search ends, or leaves the queue, when nobody
// waits for it any more. How far it is goes to whoever keeps it ([Report]), so
// that any process of the server can tell.
package planner

import (
	"context"
	"errors"
	"sync"
	"time"

	"smolder/internal/core/parallel"
	"smolder/internal/core/search"
	"smolder/internal/trail"
)

// ErrBusy says that too many searches wait already.
var ErrBusy = errors.New("too many plans are being worked out just now")

const (
	mostWaiting = 40 // in all
	mostEach    = 4  // of one household
	every       = 150 * time.Millisecond
)

// A Report keeps how far a search is: fires burnt, of how many so far, and how
// many searches come before it.
type Report func(burnt, fires, waiting int)

// A Queue runs searches one at a time. The zero Queue is ready.
type Queue struct {
	mu      sync.Mutex
	running bool
	waiting []*ticket // in the order in which they will run
}

type ticket struct {
	household int64
	turn      chan struct{} // closed when it runs
}

// Do waits for its turn and does the work, in the caller's own goroutine. The
// error is the work's, [ErrBusy], or the context's when nobody waits any more.
func (q *Queue) Do(ctx context.Context, household int64, report Report, work func(context.Context, *search.Meter) error) error {
	t, err := q.join(household)
	if err != nil {
		return err
	}
	m := &search.Meter{}
	done := make(chan struct{})
	var told sync.WaitGroup
	told.Go(func() { q.tell(t, m, report, done) })
	defer told.Wait()
	defer close(done)
	_, waited := trail.Step(ctx, "a search waits its turn")
	select {
	case <-t.turn:
		waited(nil)
	case <-ctx.Done():
		waited(ctx.Err())
		q.leave(t)
		return ctx.Err()
	}
	defer q.next()
	searching, searched := trail.Step(ctx, "a plan is searched for")
	parallel.Behind(func() { err = work(searching, m) }) // pages go before it
	searched(err)
	return err
}

// tell reports until the search is over, and once at the end.
func (q *Queue) tell(t *ticket, m *search.Meter, report Report, done chan struct{}) {
	if report == nil {
		return
	}
	ticks := time.NewTicker(every)
	defer ticks.Stop()
	for {
		burnt, fires := m.Read()
		report(burnt, fires, q.before(t))
		select {
		case <-done:
			burnt, fires = m.Read()
			report(burnt, fires, 0)
			return
		case <-ticks.C:
		}
	}
}

// join queues up: behind those who have waited as often as this household, so
// that households take turns.
func (q *Queue) join(household int64) (*ticket, error) {
	q.mu.Lock()
	defer q.mu.Unlock()
	t := &ticket{household, make(chan struct{})}
	if !q.running {
		q.running = true
		close(t.turn)
		return t, nil
	}
	mine := 0
	for _, w := range q.waiting {
		if w.household == household {
			mine++
		}
	}
	if mine >= mostEach || len(q.waiting) >= mostWaiting {
		return nil, ErrBusy
	}
	// Its place: after the mine-th of every other household.
	seen, at := map[int64]int{}, len(q.waiting)
	for i, w := range q.waiting {
		seen[w.household]++
		if seen[w.household] > mine+1 {
			at = i
			break
		}
	}
	q.waiting = append(q.waiting, nil)
	copy(q.waiting[at+1:], q.waiting[at:])
	q.waiting[at] = t
	return t, nil
}

// leave gives a place in the queue away, or the turn if it came just now.
func (q *Queue) leave(t *ticket) {
	q.mu.Lock()
	for i, w := range q.waiting {
		if w == t {
			q.waiting = append(q.waiting[:i], q.waiting[i+1:]...)
			q.mu.Unlock()
			return
		}
	}
	q.mu.Unlock()
	q.next()
}

// next lets the first of those who wait run.
func (q *Queue) next() {
	q.mu.Lock()
	defer q.mu.Unlock()
	if len(q.waiting) == 0 {
		q.running = false
		return
	}
	close(q.waiting[0].turn)
	q.waiting = q.waiting[1:]
}

// before is how many searches run before a ticket's.
func (q *Queue) before(t *ticket) int {
	q.mu.Lock()
	defer q.mu.Unlock()
	for i, w := range q.waiting {
		if w == t {
			return i + 1
		}
	}
	return 0
}
