package plan

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"time"

	"smolder/internal/core/each"
	"smolder/internal/core/fire"
)

const (
	searchStep  = 8 * time.Second // of the simulation while searching
	searchEvery = 4 * time.Minute // between samples
	curveEvery  = 2 * time.Minute
	tail        = 90 * time.Minute // simulated beyond the wish, to see the coals

	maxSmoulder   = 25 * time.Minute
	maxTooHot     = 2 * time.Minute
	maxSpilling   = 30 * time.Second // after the first half hour, in all: a gust or two
	maxSmokePerKg = 9.0              // g; a clean burn makes 1 to 4

	emptyRoom = 0.2 // of the comfort that counts while everybody is out
)

// Make searches for the best plan for a wish. The error is a *[Refusal] when
// no plan is safe and clean.
func Make(w Wish) (Plan, error) { return best(context.Background(), w, nil) }

func best(ctx context.Context, w Wish, m *Meter) (Plan, error) {
	c, err := search(ctx, w, m)
	if err != nil {
		return Plan{}, err
	}
	return c.Plans[0], nil
}

// A Choice is the best plan and up to two real alternatives, with what makes
// them so.
type Choice struct {
	Plans []Plan
	Tried int
}

// Search burns every candidate and returns the best with its alternatives; m
// counts them and may be nil. The error is a *[Refusal] when no plan is safe and
// clean, or the context's when nobody waits for the answer any more.
func Search(ctx context.Context, w Wish, m *Meter) (Choice, error) {
	c, err := search(ctx, w, m)
	if err != nil {
		return Choice{}, err
	}
	output := c.Plans[0].Wish.OutputRange()
	for i := range c.Plans {
		c.Plans[i].Output = output
	}
	return c, nil
}

func search(ctx context.Context, w Wish, m *Meter) (Choice, error) {
	if err := w.check(); err != nil {
		return Choice{}, err
	}
	w = w.fewer().prepared()
	verdicts, tried := w.rank(ctx, m)
	if err := ctx.Err(); err != nil {
		return Choice{}, fmt.Errorf("searching for a plan: %w", err)
	}
	best, ok := w.confirm(verdicts)
	if !ok {
		return Choice{}, w.refuse(verdicts)
	}
	chosen := append([]verdict{verdicts[best]}, alternatives(verdicts[best:], w.holds)...)
	if longer, ok := w.longer(ctx, chosen, m); ok {
		// One load, and what it leaves, stays a choice.
		chosen = append([]verdict{longer}, chosen[:min(2, len(chosen))]...)
	}
	if err := ctx.Err(); err != nil {
		return Choice{}, fmt.Errorf("searching for a plan: %w", err)
	}
	c := Choice{Plans: make([]Plan, len(chosen)), Tried: tried}
	each.InParallel(len(chosen), func(i int) { c.Plans[i] = w.build(chosen[i]) })
	for i := range c.Plans {
		c.Plans[i].Tried = tried
	}
	return c, nil
}

// confirm burns the best at full accuracy, since the search takes coarser
// steps, and goes to the next where a limit is not kept after all. Verdicts
// that do not hold are marked. It returns the place of the best that holds.
func (w Wish) confirm(verdicts []verdict) (int, bool) {
	const most = 12
	for i := range verdicts[:min(most, len(verdicts))] {
		v := &verdicts[i]
		if !v.good() {
			return 0, false
		}
		if w.holds(v) {
			return i, true
		}
	}
	return 0, false
}

// holds burns a verdict's candidate at full accuracy and tells whether every
// limit is kept; where one is not, the verdict is marked.
func (w Wish) holds(v *verdict) bool {
	r := fire.Run(w.setup(), fireSteps(w.steps(v.candidate, v.feeds...)), fire.Options{Until: w.For + tail/3, Every: curveEvery})
	v.burnt = &r
	v.unsafe, v.dirty, v.late = unsafe(r.Summary), dirty(r.Summary), w.late(r)
	if !v.good() {
		v.summary = r.Summary
	}
	return v.good()
}

// rank judges the whole grid, best first. A strong draft or a small firebox
// runs away with all air open; then the same loads are tried with less.
func (w Wish) rank(ctx context.Context, m *Meter) (verdicts []verdict, tried int) {
	for _, brisk := range []float64{1, 0.6, 0.4} {
		verdicts = w.judgeAll(ctx, brisk, m)
		tried += len(verdicts)
		if len(verdicts) == 0 || !verdicts[0].unsafe {
			break
		}
	}
	return verdicts, tried
}

// judgeAll burns every candidate at one brisk opening, best first.
func (w Wish) judgeAll(ctx context.Context, brisk float64, m *Meter) []verdict {
	all := w.candidates(brisk)
	verdicts := make([]verdict, len(all))
	m.Expect(len(all))
	alike := together(all)
	each.InParallel(len(alike), func(i int) {
		from, to := alike[i][0], alike[i][1]
		if ctx.Err() != nil {
			return // nobody waits for it
		}
		w.judge(all[from:to], verdicts[from:to], m)
	})
	slices.SortStableFunc(verdicts, func(a, b verdict) int { return cmp.Compare(a.merit, b.merit) })
	return verdicts
}
