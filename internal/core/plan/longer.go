package plan

import (
	"cmp"
	"context"
	"slices"
	"time"

	"smolder/internal/core/each"
	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// A Feed is a later load of a wish that is longer than one load.
type Feed struct {
	Of     Pick    `json:"from"`
	Pieces int     `json:"pieces"`
	Final  float64 `json:"final_opening"`
}

// Mass is the wood of a feed.
func (f Feed) Mass() units.Kilogram {
	return f.Of.Stack.PieceMass * units.Kilogram(f.Pieces)
}

// feed is a later load while searching: how many pieces, at how much wood that
// is left of the one before, and how far down after.
type feed struct {
	pieces int
	left   float64 // share of the load before that may still be wood
	brisk  float64 // the main air while it chars
	final  float64
}

// feedLefts are the shares of the load before that may still be wood when the
// next goes on: a last flame, or none.
var feedLefts = []float64{0.1, 0.04}

const (
	mostFeeds  = 10
	worthAFeed = 0.1 // of merit, that a further load must be better by
	// and of degree-hours under the band: less smoke for each kilogram, because
	// there are more kilograms, is no reason to burn them
	worthInDegrees = 0.2
	coldEnough     = 0.3              // degree-hours under the band, before a further load is tried
	feedTakes      = 40 * time.Minute // charred, turned down and seen to burn
	feedPause      = 6 * time.Minute  // between the steps of its turn-down
	feedAtFirst    = 15 * time.Minute // after the last turn-down, at the earliest
)

// long tells whether the aim is one that more loads serve: an evening or a day
// that somebody spends by the stove, or an absence or a night before which there
// is time for another.
func (w Wish) long() bool {
	switch w.Aim {
	case Hold, Away:
		return true
	case Overnight:
		return w.There != nil
	}
	return false
}

// longer goes on with the best burn, or one of its alternatives, where one load
// leaves the room cold before the wish is over. It returns the best of them;
// false where nothing is better than the one load.
func (w Wish) longer(ctx context.Context, chosen []verdict, m *Meter) (verdict, bool) {
	if !w.long() || w.single || chosen[0].cold < coldEnough {
		return verdict{}, false
	}
	best, found := chosen[0], false
	for _, v := range chosen {
		if next := w.longerThan(ctx, v, m); len(next.feeds) > 0 && next.merit < best.merit-worthAFeed && next.cold <= chosen[0].cold-worthInDegrees {
			best, found = next, true
		}
	}
	return best, found
}

// longerThan puts one load after the other on a burn, each when the one before
// has gone to coals, as long as that is better. It returns the verdict as it was
// where nothing is.
func (w Wish) longerThan(ctx context.Context, v verdict, m *Meter) verdict {
	best := w.reweighed(v)
	for range mostFeeds {
		if ctx.Err() != nil || best.cold < coldEnough {
			break
		}
		next, ok := w.nextFeed(best, w.fed(ctx, best, m))
		if !ok {
			break
		}
		best = next
	}
	return best
}

// nextFeed is the first of ranked ways to go on that is worth it and keeps every
// limit at full accuracy too.
func (w Wish) nextFeed(before verdict, ranked []verdict) (verdict, bool) {
	const most = 6
	at := len(w.steps(before.candidate, before.feeds...))
	for i := range ranked[:min(most, len(ranked))] {
		next := ranked[i]
		if next.merit > before.merit-worthAFeed {
			break
		}
		if next.cold <= before.cold-worthInDegrees && w.holds(&next) && w.inTime(*next.burnt, at) {
			return next, true
		}
	}
	return verdict{}, false
}

// reweighed burns a verdict's candidate with its feeds as a search does.
func (w Wish) reweighed(v verdict) verdict {
	r := fire.Run(w.setup(), fireSteps(w.steps(v.candidate, v.feeds...)), w.searching())
	return w.weighed(v.candidate, v.feeds, r)
}

// fed are the ways to put one more load on that keep every limit, best first.
func (w Wish) fed(ctx context.Context, v verdict, m *Meter) []verdict {
	air, _ := w.Stove.MainAir()
	most := w.mostPieces(v.mainOf)
	used := v.first + v.main
	for _, f := range v.feeds {
		used += f.pieces
	}
	if v.firstOf != v.mainOf {
		used -= v.first
	}
	most = min(most, w.woods()[v.mainOf].Stack.Pieces()-used)
	if most < 1 {
		return nil
	}
	finals := []float64{v.final}
	for _, o := range w.openings(4) {
		if o < v.brisk && !slices.Contains(finals, o) {
			finals = append(finals, o)
		}
	}
	var tries []feed
	for _, left := range feedLefts {
		for _, pieces := range counts(1, most, 4) {
			for _, brisk := range w.brisks(v.brisk, 3) {
				for _, final := range finals {
					if final = air.Scale.Nearest(final); final < brisk {
						tries = append(tries, feed{pieces, left, brisk, final})
					}
				}
			}
		}
	}
	before := len(w.steps(v.candidate, v.feeds...))
	branches := map[float64]fire.Branch{}
	for _, left := range feedLefts {
		with := append(slices.Clone(v.feeds), feed{1, left, v.brisk, v.final})
		branches[left] = fire.RunTo(w.setup(), fireSteps(w.steps(v.candidate, with...)), before, w.searching())
	}
	verdicts := make([]verdict, len(tries))
	m.Expect(len(tries))
	each.InParallel(len(tries), func(i int) {
		if ctx.Err() != nil {
			return
		}
		feeds := append(slices.Clone(v.feeds), tries[i])
		r := branches[tries[i].left].Run(fireSteps(w.steps(v.candidate, feeds...)))
		verdicts[i] = w.weighed(v.candidate, feeds, r)
		if !w.inTime(r, before) {
			verdicts[i].late = true
		}
		m.Count()
	})
	verdicts = slices.DeleteFunc(verdicts, func(v verdict) bool { return len(v.feeds) == 0 || !v.good() })
	slices.SortStableFunc(verdicts, func(a, b verdict) int { return cmp.Compare(a.merit, b.merit) })
	return verdicts
}

// inTime tells whether a feed, and all that belongs to it, is done before the
// wish is over and while somebody is there to see it char.
func (w Wish) inTime(r fire.Result, at int) bool {
	if len(r.Done) <= at || slices.Contains(r.Done[at:], -1) {
		return false
	}
	span, somebody := w.there().at(r.Done[at])
	return somebody && r.Done[at]+feedTakes <= w.For && span.To-r.Done[at] >= feedTakes
}

// feedSteps are the steps of a later load: everything set as for lighting,
// coals raked to the air, the pieces on; then down again.
func (w Wish) feedSteps(c candidate, f feed, before fire.Load, air stove.Control, guide stove.Gauge, hasGuide bool) []Step {
	load := w.load(c.mainOf, f.pieces, c.direction, fire.OnCoals)
	dry := float64(before.Mass()) / (1 + float64(before.Moisture))
	do := w.ready()
	for i := range do {
		if do[i].Control == air.Key {
			do[i].Opening = f.brisk
		}
	}
	do = append(do, fire.Act{Kind: fire.ActRake}, fire.Act{Kind: fire.ActLoad, Load: &load})
	steps := []Step{{Kind: FeedIt, Control: air.Key, Opening: f.brisk, Fire: fire.Step{When: fire.Trigger{After: feedAtFirst, WoodLeft: units.Kilogram(max(0.01, f.left*dry))}, Do: do}}}
	steps = append(steps, w.closeBypass()...)
	c.brisk, c.final, c.pause = f.brisk, f.final, feedPause
	return append(steps, w.turnDowns(c, air, guide, hasGuide)...)
}

// feedLoads are the later loads of the plan, in their order.
func (p Plan) feedLoads() []fire.Load {
	var out []fire.Load
	for _, s := range p.Steps {
		for _, a := range s.Fire.Do {
			if s.Kind == FeedIt && a.Load != nil {
				out = append(out, *a.Load)
			}
		}
	}
	return out
}

// AllLoads are every load of the plan that is not kindling.
func (p Plan) AllLoads() []fire.Load {
	first, main := p.Loads()
	var out []fire.Load
	for _, l := range append([]fire.Load{first, main}, p.feedLoads()...) {
		if l.Pieces > 0 {
			out = append(out, l)
		}
	}
	return out
}
