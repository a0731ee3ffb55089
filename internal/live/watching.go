package live

import (
	"cmp"
	"context"
	"log/slog"
	"runtime/debug"
	"sync"
	"time"

	"smolder/internal/core/belief"
	"smolder/internal/core/burn"
	"smolder/internal/core/coach"
	"smolder/internal/store"
	"smolder/internal/trail"
)

// Watching keeps what is believed of fires and what the coach has said of them. An
// answer holds while the log is as it was, for some seconds; while a new one is worked
// out the last is shown. The zero Watching is ready; it is safe for concurrent use.
type Watching struct {
	Log *slog.Logger // of what went wrong while an answer was worked out; nil: nowhere
	// Patience is how long somebody waits for a new answer while there is an old one; 0 is the
	// usual, [waitsFor].
	Patience time.Duration

	beliefs burn.Beliefs

	mu      sync.Mutex
	closed  bool
	working sync.WaitGroup
	answers map[int64]*answered // by burn
	asked   []int64             // the one asked for last is at the end
}

// answered is the last answer of one burn, and the work on the next.
type answered struct {
	mu      sync.Mutex
	known   signature
	answer  coach.Answer
	there   bool
	wanted  *asked            // the newest that was asked for and is not worked out yet
	working bool              // somebody works on it
	fresh   chan struct{}     // closed when the next answer is there
	told    []belief.Forecast // of before, apart by [toldEvery], the latest last
	toldAt  []time.Time
}

// asked is a burn as somebody has seen it.
type asked struct {
	burn  store.Burn
	known signature
	now   time.Time
}

// signature is what an answer depends on, but for the time.
type signature struct {
	hand    hand
	entries int // and what thermometers reported
	last    time.Time
}

// A Seen is a burn as somebody has seen it: two of the same burn that are equal hold the same
// entries.
type Seen struct{ of signature }

// SeenOf is a burn as it is seen.
func SeenOf(b store.Burn) Seen { return Seen{signatureOf(b)} }

// hand is what people have logged.
type hand struct {
	entries, struck int
	newest          int64
	planned         bool
}

const (
	// holds is how long an answer holds while nothing changes.
	holds = 15 * time.Second
	// waitsFor is how long somebody waits for a new one while there is an old one, and
	// waitsFirst where there is none yet: then what the log alone says is answered.
	waitsFor, waitsFirst = 60 * time.Millisecond, 4 * time.Second
	// toldEvery lies between forecasts that are kept to be held against what came, and
	// toldBefore is how long ago one was made that is shown.
	toldEvery, toldBefore = 10 * time.Minute, 30 * time.Minute
	mostTold              = 8
	// mostAnswers is how many burns are kept.
	mostAnswers = 64
)

func signatureOf(b store.Burn) signature {
	s := signature{entries: len(b.Entries), hand: hand{planned: b.Plan != nil}}
	for i := range b.Entries {
		e := &b.Entries[i]
		if e.At.After(s.last) {
			s.last = e.At
		}
		if e.Reported {
			continue
		}
		s.hand.entries++
		if e.Struck {
			s.hand.struck++
		}
		s.hand.newest = max(s.hand.newest, e.Seq)
	}
	return s
}

// Now is what the coach says of a burn now. An answer is worked out once for all who ask,
// for the newest that any of them has seen, and also where they have gone meanwhile. Who
// has waited a moment gets what can be said at once: what was believed a moment ago, with
// all that was logged since, marked so ([coach.Answer.Stale]). What endangers somebody is
// always of now.
func (w *Watching) Now(ctx context.Context, b store.Burn, now time.Time) coach.Answer {
	kept, known := w.of(b.ID), signatureOf(b)
	answer, ok := kept.holds(known, now)
	if ok {
		return answer.WithDangers(b.Burn, now)
	}
	_, waited := trail.Step(ctx, "the coach answers")
	defer func() { waited(ctx.Err()) }()
	fresh, last, there := w.want(kept, asked{b, known, now})
	if w.over() {
		return atOnce(b, now, last, there)
	}
	patience := time.NewTimer(max(waitsFirst, w.Patience))
	if there {
		patience.Reset(cmp.Or(w.Patience, waitsFor))
	}
	defer patience.Stop()
	for {
		select {
		case <-fresh:
			if answer, ok = kept.holds(known, now); ok {
				return answer.WithDangers(b.Burn, now)
			}
			fresh, last, there = w.want(kept, asked{b, known, now})
		case <-patience.C:
			return atOnce(b, now, last, there)
		case <-ctx.Done():
			return atOnce(b, now, last, there)
		}
	}
}

// atOnce is what can be said without waiting: by the log, and by what was believed a
// moment ago.
func atOnce(b store.Burn, now time.Time, last coach.Answer, there bool) coach.Answer {
	a := coach.Asked{Burn: b.Burn, Plan: b.Plan, Now: now}
	if there {
		a.Before = &last
	}
	out := coach.Ask(a)
	out.Stale = true
	return out
}

// want asks for an answer, and starts working it out unless somebody does. It returns what
// is closed when the next one is there, and the last.
func (w *Watching) want(kept *answered, a asked) (fresh <-chan struct{}, last coach.Answer, there bool) {
	kept.mu.Lock()
	defer kept.mu.Unlock()
	if kept.wanted == nil || a.known.newerThan(kept.wanted.known) || a.known == kept.wanted.known && a.now.After(kept.wanted.now) {
		kept.wanted = &a
	}
	if kept.fresh == nil {
		kept.fresh = make(chan struct{})
	}
	if !kept.working {
		kept.working = w.begin(func() { w.work(kept) })
	}
	return kept.fresh, kept.answer, kept.there
}

// work works out what is wanted, the newest only, until nothing is.
func (w *Watching) work(kept *answered) {
	for {
		kept.mu.Lock()
		a := kept.wanted
		kept.wanted = nil
		if a == nil {
			kept.working = false
			kept.mu.Unlock()
			return
		}
		kept.mu.Unlock()
		var answer coach.Answer
		good := func() (good bool) {
			defer func() { // whoever waits is answered by the log
				if p := recover(); p != nil && w.Log != nil {
					w.Log.Error("what is believed of a fire", "burn", a.burn.ID, "error", p, "stack", string(debug.Stack()))
				}
			}()
			answer = w.At(a.burn, a.now)
			return true
		}()
		kept.mu.Lock()
		if good {
			kept.keep(a.known, answer)
		}
		if kept.fresh != nil { // nobody has asked since the last one was there, where it is nil
			close(kept.fresh)
			kept.fresh = nil
		}
		if good && kept.wanted != nil && kept.wanted.known == a.known { // asked for meanwhile, and answered
			kept.wanted = nil
		}
		kept.mu.Unlock()
	}
}

// begin works on something in the background, but for a watching that was closed.
func (w *Watching) begin(work func()) bool {
	w.mu.Lock()
	defer w.mu.Unlock()
	if w.closed {
		return false
	}
	w.working.Go(work)
	return true
}

func (w *Watching) over() bool {
	w.mu.Lock()
	defer w.mu.Unlock()
	return w.closed
}

// Close lets nothing more begin, and waits for what goes on: some seconds at the most. Whoever
// asks afterwards is answered by the log.
func (w *Watching) Close() {
	w.mu.Lock()
	w.closed = true
	w.mu.Unlock()
	w.working.Wait()
}

// At is what the coach says of a burn as of a moment: nothing that is logged of later
// counts.
func (w *Watching) At(b store.Burn, at time.Time) coach.Answer {
	a := coach.Asked{Burn: b.Burn, Plan: b.Plan, Now: at}
	if b.Simulated() && at.Sub(b.Started) <= burn.Longest {
		a.Belief = w.beliefs.At(b.Known.Belief(), b.Burn, at)
	}
	return coach.Ask(a)
}

// of is the place of a burn's answer; the one asked for longest ago makes room.
func (w *Watching) of(id int64) *answered {
	w.mu.Lock()
	defer w.mu.Unlock()
	if w.answers == nil {
		w.answers = map[int64]*answered{}
	}
	for i, other := range w.asked {
		if other == id {
			w.asked = append(w.asked[:i], w.asked[i+1:]...)
			break
		}
	}
	if w.asked = append(w.asked, id); len(w.asked) > mostAnswers {
		delete(w.answers, w.asked[0])
		w.asked = w.asked[1:]
	}
	if w.answers[id] == nil {
		w.answers[id] = &answered{}
	}
	return w.answers[id]
}

func (a *answered) holds(known signature, now time.Time) (coach.Answer, bool) {
	a.mu.Lock()
	defer a.mu.Unlock()
	age := now.Sub(a.answer.At)
	return a.answer, a.there && a.known == known && age >= 0 && age < holds
}

// newerThan tells whether a burn was seen later than another time: more was logged, or
// struck, or reported.
func (s signature) newerThan(other signature) bool {
	return s.hand.entries+s.hand.struck > other.hand.entries+other.hand.struck || s.entries > other.entries || s.last.After(other.last)
}

// keep keeps an answer; the caller holds the lock.
func (a *answered) keep(known signature, answer coach.Answer) {
	a.known, a.answer, a.there = known, answer, true
	if n := len(a.toldAt); n == 0 || answer.At.Sub(a.toldAt[n-1]) >= toldEvery {
		a.told, a.toldAt = append(a.told, answer.Forecast), append(a.toldAt, answer.At)
	}
	if len(a.told) > mostTold {
		a.told, a.toldAt = a.told[1:], a.toldAt[1:]
	}
}

// Before is what was foretold of a burn about half an hour ago, where this process was
// asked then.
func (w *Watching) Before(id int64, now time.Time) (*belief.Forecast, bool) {
	a := w.of(id)
	a.mu.Lock()
	defer a.mu.Unlock()
	for i := len(a.told) - 1; i >= 0; i-- {
		if now.Sub(a.toldAt[i]) >= toldBefore-toldEvery/2 {
			f := a.told[i]
			return &f, true
		}
	}
	return nil, false
}
