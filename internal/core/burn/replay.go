package burn

import (
	"reflect"
	"slices"
	"sync"
	"time"

	"smolder/internal/core/fire"
)

// replayStep is the step of the simulation when a log is replayed.
const replayStep = 4 * time.Second

// Replay runs the log through the simulator until the given time.
func (b Burn) Replay(until time.Time) fire.Result {
	return fire.Run(b.Setup(), b.Steps(), b.replayOptions(until))
}

func (b Burn) replayOptions(until time.Time) fire.Options {
	return fire.Options{Until: min(max(until.Sub(b.Started), time.Minute), Longest), Step: replayStep}
}

// Replays keeps burns as they stood at some moments of their replay, so that one
// more entry does not burn the evening again from the match. What it gives is
// what [Burn.Replay] gives, to the last digit: a moment is used only while
// everything that the log says of the time before it is as it was. The zero
// Replays is ready; it is safe for concurrent use, and a nil one keeps nothing.
type Replays struct {
	mu    sync.Mutex
	burns []replayed // the one asked for last is at the end
}

// replayed is one burn with its moments, the latest last.
type replayed struct {
	setup   fire.Setup
	moments []fire.Paused
}

const (
	// mostReplayed is how many burns are kept: those with a fire in, of the
	// households that look at them.
	mostReplayed = 64
	// mostMoments of one burn: the last two looks, and moments before for entries
	// that are typed late.
	mostMoments = 4
	// behind is how far the moment that is kept lies behind the one that is asked
	// for, since the next entry may be of a minute ago.
	behind = 5 * time.Minute
	// apart is how far two moments lie from each other at least.
	apart = 20 * time.Minute
)

// Replay is [Burn.Replay], from the latest kept moment that still holds.
func (r *Replays) Replay(b Burn, until time.Time) fire.Result {
	if r == nil {
		return b.Replay(until)
	}
	setup, moves, opt := b.Setup(), b.Steps(), b.replayOptions(until)
	from, known := r.find(setup, moves, opt.Until)
	if halfway := opt.Until - behind; halfway > 0 && (!known || from.At() < halfway) {
		if known {
			_, from = from.GoOn(due(moves, halfway), halfway)
		} else {
			first := opt
			first.Until = halfway
			_, from = fire.RunAndPause(setup, due(moves, halfway), first)
		}
		known = true
		r.keep(setup, from)
	}
	if !known {
		return fire.Run(setup, moves, opt)
	}
	result, _ := from.GoOn(moves, opt.Until)
	return result
}

// due are the moves before a moment: those that a burn paused there has taken.
func due(moves []fire.Move, at time.Duration) []fire.Move {
	n := 0
	for n < len(moves) && moves[n].When.At <= at {
		n++
	}
	return moves[:n]
}

// find returns the latest kept moment of a burn that still holds: nothing that
// was done before it has changed, and nothing was added.
func (r *Replays) find(setup fire.Setup, moves []fire.Move, until time.Duration) (fire.Paused, bool) {
	r.mu.Lock()
	defer r.mu.Unlock()
	i := r.index(setup)
	if i < 0 {
		return fire.Paused{}, false
	}
	for _, m := range slices.Backward(r.burns[i].moments) {
		taken := m.Steps()
		if m.At() <= until && len(taken) <= len(moves) && reflect.DeepEqual(taken, moves[:len(taken)]) &&
			(len(taken) == len(moves) || moves[len(taken)].When.At >= m.At()) {
			return m, true
		}
	}
	return fire.Paused{}, false
}

func (r *Replays) index(setup fire.Setup) int {
	return slices.IndexFunc(r.burns, func(b replayed) bool { return reflect.DeepEqual(b.setup, setup) })
}

// keep adds a moment to a burn's, and lets the oldest go.
func (r *Replays) keep(setup fire.Setup, m fire.Paused) {
	r.mu.Lock()
	defer r.mu.Unlock()
	entry := replayed{setup: setup}
	if i := r.index(setup); i >= 0 {
		entry = r.burns[i]
		r.burns = slices.Delete(r.burns, i, i+1)
	} else if len(r.burns) >= mostReplayed {
		r.burns = slices.Delete(r.burns, 0, 1)
	}
	// The latest makes room for one that is hardly later; of those of before, the
	// ones far apart stay.
	moments := slices.DeleteFunc(slices.Clone(entry.moments), func(old fire.Paused) bool { return old.At() >= m.At() })
	if n := len(moments); n > 1 && moments[n-1].At()-moments[n-2].At() < apart {
		moments = slices.Delete(moments, n-1, n)
	}
	moments = append(moments, m)
	if len(moments) > mostMoments {
		moments = slices.Delete(moments, 0, len(moments)-mostMoments)
	}
	entry.moments = moments
	r.burns = append(r.burns, entry)
}
