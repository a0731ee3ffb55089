package live

import (
	"context"
	"sync"
	"time"

	"smolder/internal/core/belief"
	"smolder/internal/core/burn"
	"smolder/internal/core/coach"
	"smolder/internal/store"
)

// Watching keeps what is believed of fires and what the coach has said of them. An
// answer holds while the log is as it was, for some seconds; while a new one is worked
// out the last is shown. The zero Watching is ready; it is safe for concurrent use.
type Watching struct {
	beliefs burn.Beliefs

	mu      sync.Mutex
	answers map[int64]*answered // by burn
	asked   []int64             // the one asked for last is at the end
}

// answered is the last answer of one burn.
type answered struct {
	work sync.Mutex // held while one is worked out

	mu     sync.Mutex
	known  signature
	answer coach.Answer
	there  bool
	told   []belief.Forecast // of before, apart by [toldEvery], the latest last
	toldAt []time.Time
}

// signature is what an answer depends on, but for the time.
type signature struct {
	hand    hand
	entries int // and what thermometers reported
	last    time.Time
}

// hand is what people have logged.
type hand struct {
	entries, struck int
	newest          int64
	planned         bool
}

const (
	// holds is how long an answer holds while nothing changes.
	holds = 15 * time.Second
	// waitsFor is how long somebody waits for a new one while there is an old one that
	// knows of all that was logged; one that does not would ask again for what was done.
	waitsFor = 700 * time.Millisecond
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

// Now is what the coach says of a burn now, or has said a moment ago.
func (w *Watching) Now(ctx context.Context, b store.Burn, now time.Time) coach.Answer {
	kept, known := w.of(b.ID), signatureOf(b)
	if answer, ok := kept.holds(known, now); ok {
		return answer
	}
	done := make(chan coach.Answer, 1)
	go func() {
		defer close(done)
		defer func() { _ = recover() }() // who waits is answered below, with what there is
		kept.work.Lock()
		defer kept.work.Unlock()
		if answer, ok := kept.holds(known, now); ok { // somebody else has worked it out
			done <- answer
			return
		}
		answer := w.At(b, now)
		kept.keep(known, answer)
		done <- answer
	}()
	last, there := kept.last(known.hand)
	patience := time.NewTimer(waitsFor)
	defer patience.Stop()
	for {
		select {
		case answer, ok := <-done:
			if !ok {
				return w.At(b, now) // it panicked: let it do so here, where it is answered
			}
			return answer
		case <-patience.C:
			if there {
				return last
			}
		case <-ctx.Done():
			return last
		}
	}
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

// last is the last answer, and whether it knows of all that people have logged.
func (a *answered) last(known hand) (coach.Answer, bool) {
	a.mu.Lock()
	defer a.mu.Unlock()
	return a.answer, a.there && a.known.hand == known
}

func (a *answered) keep(known signature, answer coach.Answer) {
	a.mu.Lock()
	defer a.mu.Unlock()
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
