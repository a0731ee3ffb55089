// Package reviewing works out what ended burns came to and what they teach.
//
// What is to be done is what the database lacks, so that nothing is lost when a server stops,
// and done twice changes nothing (each stove is worked on by one at a time). For every ended burn
// there is first a quick review, by a replay; then what is known of its stove after it, in the
// order of the burns; and then the whole review, with what would have been, the newest burn
// first. A burn that is changed afterwards is reviewed again, and what was learned from it and
// after it is learned again. Package background says when.
package reviewing

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"runtime/debug"
	"slices"
	"sync"
	"time"

	"smolder/internal/core/learn"
	"smolder/internal/core/review"
	"smolder/internal/store"
)

// A Worker does it. The zero value with a store is ready.
type Worker struct {
	Store *store.Store
	Log   *slog.Logger
	// Rests is how long it rests after each burn, as a share of what that took: whoever
	// waits for a page goes first.
	Rests float64

	mu   sync.Mutex
	told map[int64]time.Time // when each household's progress was kept last
}

// Progress is how far a household's work is.
type Progress struct {
	Left  int // burns that are not done
	All   int // of how many
	Learn bool
}

// ProgressName is under which it is kept, where every server sees it, and progressHolds how long
// it holds: whoever works keeps it anew every second or so.
const (
	progressName  = "reviewing"
	progressHolds = 5 * time.Minute
	progressEvery = time.Second
)

// ProgressOf is how far the work of a household is, on whichever server; nothing to do is zero.
func ProgressOf(ctx context.Context, h store.Household) Progress {
	done, all, learns, err := h.ProgressSince(ctx, progressName, time.Now().Add(-progressHolds))
	if err != nil || done >= all {
		return Progress{}
	}
	return Progress{Left: all - done, All: all, Learn: learns > 0}
}

// says keeps how far it is, now and then; where all is done, at once.
func (w *Worker) says(ctx context.Context, h store.Household, p Progress) {
	now := time.Now()
	w.mu.Lock()
	soon := p.Left > 0 && now.Sub(w.told[h.ID()]) < progressEvery
	if !soon {
		if w.told == nil {
			w.told = map[int64]time.Time{}
		}
		w.told[h.ID()] = now
	}
	w.mu.Unlock()
	if soon {
		return
	}
	learns := 0
	if p.Learn {
		learns = 1
	}
	if err := h.Progress(context.WithoutCancel(ctx), progressName, p.All-p.Left, p.All, learns, now); err != nil && w.Log != nil {
		w.Log.Warn("keeping how far it is", "household", h.ID(), "error", err)
	}
}

// newestFirst is how many of the newest burns are looked at with what is known so far,
// before long learning: they are the ones that somebody opens. They are looked at again
// in their turn.
const newestFirst = 4

// CatchUp does all that is to be done for a household. A burn or a stove that cannot be
// worked on costs itself and no other; the error has them all.
func (w *Worker) CatchUp(ctx context.Context, household int64) error {
	h := w.Store.Household(household)
	defer w.says(ctx, h, Progress{})
	failed := w.Quick(ctx, household)
	if _, err := w.Store.TryLocked(ctx, fmt.Sprintf("reviewing %d", household), func(ctx context.Context) error { return w.newest(ctx, h) }); err != nil {
		failed = errors.Join(failed, err)
	}
	stoves, err := h.Stoves(ctx)
	if err != nil {
		return errors.Join(failed, err)
	}
	for _, st := range stoves {
		_, err := w.Store.TryLocked(ctx, fmt.Sprintf("learning %d", st.ID), func(ctx context.Context) error { return w.Learn(ctx, h, st.ID) })
		if err != nil {
			failed = errors.Join(failed, fmt.Errorf("learning stove %d: %w", st.ID, err))
		}
	}
	_, err = w.Store.TryLocked(ctx, fmt.Sprintf("reviewing %d", household), func(ctx context.Context) error { return w.review(ctx, h) })
	return errors.Join(failed, err)
}

// newest looks at the newest burns, where so many wait that they would not have their turn
// for long.
func (w *Worker) newest(ctx context.Context, h store.Household) error {
	todo, err := h.Unreviewed(ctx)
	if err != nil || len(todo) <= 2*newestFirst {
		return err
	}
	for _, u := range todo[:newestFirst] {
		begun := time.Now()
		if err := w.one(ctx, h, u.Burn, false); err != nil && !errors.Is(err, store.ErrMissing) {
			return fmt.Errorf("burn %d: %w", u.Burn, err)
		}
		w.rest(ctx, begun)
	}
	return nil
}

// Quick makes the reviews that a replay tells, of all ended burns that have none.
func (w *Worker) Quick(ctx context.Context, household int64) (failed error) {
	h := w.Store.Household(household)
	todo, err := h.Unreviewed(ctx)
	if err != nil {
		return err
	}
	for i, u := range todo {
		if !u.Old {
			continue
		}
		w.says(ctx, h, Progress{Left: len(todo) - i, All: len(todo)})
		if err := w.quick(ctx, h, u.Burn); err != nil {
			if ctx.Err() != nil {
				return err
			}
			failed = errors.Join(failed, fmt.Errorf("burn %d: %w", u.Burn, err))
		}
	}
	return failed
}

func (w *Worker) quick(ctx context.Context, h store.Household, id int64) error {
	b, err := h.Burn(ctx, id)
	if errors.Is(err, store.ErrMissing) || err == nil && b.Ended.IsZero() {
		return nil
	}
	if err != nil {
		return err
	}
	r := review.Review{Way: review.WayOf(b.Burn)}
	w.safely("looking at", id, func() { r = review.Quick(b.Burn) })
	return h.KeepReview(ctx, b, false, r)
}

// Learn brings what is known of a stove up to its last burn.
func (w *Worker) Learn(ctx context.Context, h store.Household, stove int64) error {
	teachers, err := h.Teachers(ctx, stove)
	if err != nil {
		return err
	}
	had, err := h.LessonHeads(ctx, stove)
	if err != nil {
		return err
	}
	n := 0
	for n < len(had) && n < len(teachers) && had[n].Same(teachers[n]) && had[n].MadeBy == learn.Version {
		n++
	}
	if n < len(had) {
		if err := h.ForgetLessons(ctx, stove, n+1); err != nil {
			return err
		}
	}
	known := learn.New()
	if n > 0 {
		last, err := h.Lessons(ctx, stove, 1)
		if err != nil {
			return err
		}
		if len(last) > 0 {
			known = last[0].Known()
		}
	}
	// What burns of long ago have taught is forgotten by now: of a logbook that comes in whole
	// they are passed over.
	for skip := len(teachers) - mostTaught; n < skip; n++ {
		if err := h.KeepLesson(ctx, stove, n+1, teachers[n], learn.Known{}); err != nil {
			return err
		}
	}
	for ; n < len(teachers); n++ {
		w.says(ctx, h, Progress{Left: len(teachers) - n, All: len(teachers), Learn: true})
		t, begun := teachers[n], time.Now()
		switch {
		case t.Kind == store.Back:
			if known, err = h.KnownAfter(ctx, stove, t.BackTo); err != nil {
				return err
			}
		case t.Change != 0:
			known = known.Changed(t.Kind)
		default:
			b, err := h.Burn(ctx, t.Burn)
			if errors.Is(err, store.ErrUnreadable) {
				break // it cannot be read, and teaches nothing; those after it do
			}
			if err != nil {
				return err
			}
			if b.Revision != t.Revision {
				return nil // it has changed meanwhile: next time
			}
			before := known
			if !w.safely("learning from", t.Burn, func() { known, _ = known.Burnt(b.Burn) }) {
				known = before
			}
		}
		if err := h.KeepLesson(ctx, stove, n+1, t, known); err != nil {
			return err
		}
		w.rest(ctx, begun)
	}
	return nil
}

// mostTaught is how many of a stove's last burns and changes teach it.
const mostTaught = 240

// safely lets a burn that the computation cannot bear cost itself and no other: it is
// logged, and the next one's turn comes.
func (w *Worker) safely(what string, burn int64, f func()) (ok bool) {
	defer func() {
		if p := recover(); p != nil && w.Log != nil {
			w.Log.Error(what+" a burn", "burn", burn, "error", p, "stack", string(debug.Stack()))
		}
	}()
	f()
	return true
}

// answersOf is how many burns before are looked through for the aim that one answers.
const answersOf = 8

// review makes the whole reviews, the newest burns first.
func (w *Worker) review(ctx context.Context, h store.Household) (failed error) {
	todo, err := h.Unreviewed(ctx)
	if err != nil {
		return err
	}
	for i, u := range todo {
		w.says(ctx, h, Progress{Left: len(todo) - i, All: len(todo)})
		begun := time.Now()
		if err := w.One(ctx, h, u.Burn); err != nil && !errors.Is(err, store.ErrMissing) {
			if ctx.Err() != nil {
				return err
			}
			failed = errors.Join(failed, fmt.Errorf("burn %d: %w", u.Burn, err))
		}
		w.rest(ctx, begun)
	}
	return failed
}

// rest rests after something that was begun at a moment.
func (w *Worker) rest(ctx context.Context, begun time.Time) {
	if w.Rests <= 0 {
		return
	}
	select {
	case <-ctx.Done():
	case <-time.After(time.Duration(w.Rests * float64(time.Since(begun)))):
	}
}

// One makes the whole review of one burn.
func (w *Worker) One(ctx context.Context, h store.Household, id int64) error {
	return w.one(ctx, h, id, true)
}

// one makes it; where it is not whole it is made again in its turn.
func (w *Worker) one(ctx context.Context, h store.Household, id int64, whole bool) error {
	b, err := h.Burn(ctx, id)
	if err != nil || b.Ended.IsZero() || b.Removed {
		return err
	}
	before, err := h.KnownBefore(ctx, b.StoveID, id)
	if err != nil {
		return err
	}
	r := review.Review{Way: review.WayOf(b.Burn)}
	if !w.safely("reviewing", id, func() { r, _ = review.Of(b.Burn, before) }) {
		return h.KeepReview(ctx, b, whole, r) // it is tried again when it changes
	}
	after, err := h.KnownAfter(ctx, b.StoveID, id)
	if err != nil {
		return err
	}
	if n := len(after.Trials); n > 0 && !slices.Equal(after.Trials, before.Trials) { // this burn was foretold
		r.Known, r.Usual = after.Trials[n-1].Known, after.Trials[n-1].Usual
	}
	earlier, err := h.ReviewsBefore(ctx, b.StoveID, b.Started, answersOf)
	if err != nil {
		return err
	}
	var reviews []review.Review
	for _, e := range earlier {
		reviews = append(reviews, e.Review())
	}
	r.Findings = review.Weary(r.Findings, reviews)
	for _, e := range earlier {
		if then := e.Review(); len(then.Findings) > 0 {
			r.Answer = review.Answered(review.Aim{Finding: then.Findings[0], Burn: e.Burn, Of: e.Started}, then, r, reviews)
			break
		}
	}
	return h.KeepReview(ctx, b, whole, r)
}
