// Package search finds the best way to burn for a wish.
//
// It is a search, not a table: every candidate is burnt in the fire simulator
// in this stove, on this chimney, in this room, with pieces that this stack
// really has, and judged by what happens. The order of merit is: nothing
// unsafe, then clean, then comfort by the hour, then wood. A plan that would
// overfire or spill is never offered. Where nothing is clean the cleanest is, with
// what it makes; where nothing is safe, or burns at all, the answer is a refusal with
// its reasons.
//
// The search burns in coarse steps (grid.go makes the candidates, judge.go the
// verdicts, merit.go weighs them), chooses among the best by what they do on average
// in many stoves like this one (worlds.go), confirms the best at full accuracy, picks
// alternatives that differ in what an owner chooses by (choice.go), and goes on
// with later loads where one does not last (longer.go). How much of all that is
// done is its [Effort].
package search

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"time"

	"smolder/internal/core/behave"
	"smolder/internal/core/fire"
	"smolder/internal/core/parallel"
	"smolder/internal/core/plan"
	"smolder/internal/core/wish"
)

// A Choice is the best plan and up to two real alternatives; where the owner has fixed
// something, the last of them is the best with nothing fixed.
type Choice struct {
	Plans []plan.Plan
	Tried int // candidates
}

// An Effort is how much a search does.
type Effort struct {
	Candidates int           // it burns the coarsest grid that has so many, if there are as many ways
	Step       time.Duration // of the simulation
	Worlds     int           // stoves like this one, in which a plan is burnt for its ranges
	Weighed    int           // candidates that are chosen among by what they do there
	Others     int           // alternatives, at most
	Output     bool          // whether it finds what the stove can give besides
}

// Usual is the effort of what is shown to an owner; Quick is for trying many
// wishes, and its plans are safe and clean but not the best.
var (
	Usual = Effort{Candidates: 1000, Step: 8 * time.Second, Worlds: plan.Worlds, Weighed: 12, Others: 2, Output: true}
	Quick = Effort{Candidates: 40, Step: 8 * time.Second, Worlds: 4, Weighed: 4, Others: 1}
)

// Best searches for the best plan alone. The errors are those of [Plans].
func Best(ctx context.Context, w wish.Wish, effort Effort, m *Meter) (plan.Plan, error) {
	effort.Output = false
	c, err := Plans(ctx, w, effort, m)
	if err != nil {
		return plan.Plan{}, err
	}
	return c.Plans[0], nil
}

// Plans burns every candidate and returns the best with its alternatives; m
// counts them and may be nil. The error is a *[wish.Refusal] when no plan is safe
// and clean, or the context's when nobody waits for the answer any more.
func Plans(ctx context.Context, w wish.Wish, effort Effort, m *Meter) (Choice, error) {
	if err := w.Check(); err != nil {
		return Choice{}, err
	}
	s := search{Wish: fewer(w.Dry()).Sizes().Prepared(), effort: effort, meter: m}
	chosen, tried, err := s.choose(ctx)
	if err != nil {
		return Choice{}, err
	}
	c := s.made(chosen, tried)
	if w.Fixed.Any() && effort.Others > 0 { // what it costs shows beside what would have been found
		if free, ok := s.free(ctx); ok {
			c.Plans = append(c.Plans[:min(effort.Others, len(c.Plans))], free)
		}
		if err := given(ctx); err != nil {
			return Choice{}, err
		}
	}
	return c, nil
}

// made makes plans of verdicts.
func (s search) made(chosen []verdict, tried int) Choice {
	c := Choice{Plans: make([]plan.Plan, len(chosen)), Tried: tried}
	parallel.InParallel(len(chosen), func(i int) {
		v := chosen[i]
		c.Plans[i] = plan.Make(s.Wish, v.Recipe, v.later, *v.burnt, s.effort.Worlds)
	})
	var output plan.Output
	if s.effort.Output {
		output = behave.OutputRange(s.Wish)
	}
	for i := range c.Plans {
		c.Plans[i].Tried, c.Plans[i].Cold, c.Plans[i].Output = tried, chosen[i].cold, output
	}
	return c
}

// free is the best plan of a wish of which nothing is fixed; false where there is none.
func (s search) free(ctx context.Context) (plan.Plan, bool) {
	s.Wish.Fixed, s.least = wish.Fixed{}, nil
	chosen, tried, err := s.choose(ctx)
	if err != nil {
		return plan.Plan{}, false
	}
	return s.made(chosen[:1], tried).Plans[0], true
}

// search is one search for one wish.
type search struct {
	wish.Wish
	effort Effort
	meter  *Meter
	least  *fire.Summary // of the cleanest, once nothing is known to be clean
}

// choose returns the verdicts that become plans, the best first, each burnt at
// full accuracy.
func (s search) choose(ctx context.Context) (chosen []verdict, tried int, err error) {
	verdicts, tried := s.rank(ctx)
	if err := given(ctx); err != nil {
		return nil, 0, err
	}
	s.live(ctx, verdicts)
	best, ok := s.confirm(verdicts)
	if !ok {
		v, found := s.cleanest(verdicts)
		if !found {
			return nil, 0, s.refuse(verdicts)
		}
		// Where one load is not clean, the next is not either: the evening is answered all the same.
		s.least = &v.burnt.Summary
		if longer, ok := s.longer(ctx, []verdict{s.burn(v.Recipe, nil)}); ok {
			return []verdict{longer, v}, tried, given(ctx)
		}
		return []verdict{v}, tried, given(ctx)
	}
	chosen = append([]verdict{verdicts[best]}, alternatives(verdicts[best:], s.effort.Others, s.holds)...)
	if longer, ok := s.longer(ctx, chosen); ok {
		// One load, and what it leaves, stays a choice.
		chosen = append([]verdict{longer}, chosen[:min(s.effort.Others, len(chosen))]...)
	}
	return chosen, tried, given(ctx)
}

// given tells whether a search was given up.
func given(ctx context.Context) error {
	if err := ctx.Err(); err != nil {
		return fmt.Errorf("searching for a plan: %w", err)
	}
	return nil
}

// mostConfirmed is how many of the best are burnt at full accuracy before the
// wish is refused.
const mostConfirmed = 12

// confirm burns the best at full accuracy, since the search takes coarser
// steps, and goes to the next where a limit is not kept after all. Verdicts
// that do not hold are marked. It returns the place of the best that holds.
func (s search) confirm(verdicts []verdict) (int, bool) {
	for i := range verdicts[:min(mostConfirmed, len(verdicts))] {
		v := &verdicts[i]
		if !v.good() {
			return 0, false
		}
		if s.holds(v) {
			return i, true
		}
	}
	return 0, false
}

// cleanest is the least dirty of what is safe and in time, at full accuracy: where
// nothing burns clean, its owner has a fire to make all the same, and hears what it
// makes. A load that merely smoulders is none: it tars the chimney, and warms nobody.
func (s search) cleanest(verdicts []verdict) (verdict, bool) {
	safe := slices.DeleteFunc(slices.Clone(verdicts), func(v verdict) bool { return v.unsafe || v.late })
	slices.SortStableFunc(safe, func(a, b verdict) int { return cmp.Compare(a.summary.SmokePerKg, b.summary.SmokePerKg) })
	var best verdict
	found := false
	for i := range safe[:min(mostConfirmed, len(safe))] {
		v := &safe[i]
		s.holds(v)
		hopeless := v.burnt.Summary.SmokePerKg > plan.MostSmokePerKg
		if v.unsafe || v.late || hopeless || found && v.burnt.Summary.SmokePerKg >= best.burnt.Summary.SmokePerKg {
			continue
		}
		best, found = *v, true
	}
	return best, found
}

// holds burns a verdict's recipe at full accuracy and tells whether every limit
// is kept; where one is not, the verdict is marked.
func (s search) holds(v *verdict) bool {
	r := plan.Run(s.Wish, s.steps(*v))
	v.burnt = &r
	v.unsafe, v.dirty, v.late = unsafe(r.Summary), s.clean(len(v.later)).Dirty(r.Summary), late(s.Wish, r) || missed(r)
	if !v.good() {
		v.summary = r.Summary
	}
	return v.good()
}

func (s search) steps(v verdict) []plan.Step { return plan.Steps(s.Wish, v.Recipe, v.later...) }

// capped are the openings to char with, at most: where every fire with all air
// open runs away, the same loads are tried with less.
var capped = []float64{1, 0.6, 0.4}

// rank judges the whole grid, best first.
func (s search) rank(ctx context.Context) (verdicts []verdict, tried int) {
	for _, most := range capped {
		if s.Fixed.Brisk > 0 && most < 1 {
			break // it chars as its owner wants it
		}
		found := s.judgeAll(ctx, most)
		tried += len(found)
		if len(found) == 0 {
			break // so little air is none of its marks: what was tried with more says why it was refused
		}
		if verdicts = found; !verdicts[0].unsafe {
			break
		}
	}
	return verdicts, tried
}

// judgeAll burns every candidate that chars with at most so much air, best
// first.
func (s search) judgeAll(ctx context.Context, most float64) []verdict {
	all := s.candidates(most)
	verdicts := make([]verdict, len(all))
	s.meter.Expect(len(all))
	alike := together(all)
	parallel.InParallel(len(alike), func(i int) {
		from, to := alike[i][0], alike[i][1]
		if ctx.Err() != nil {
			return // nobody waits for it
		}
		s.judge(all[from:to], verdicts[from:to])
	})
	slices.SortStableFunc(verdicts, byMerit)
	return verdicts
}

func byMerit(a, b verdict) int { return cmp.Compare(a.merit, b.merit) }
