package search

import (
	"context"
	"slices"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/parallel"
	"smolder/internal/core/plan"
	"smolder/internal/core/wish"
)

// feedLefts are the shares of the load before that may still be wood when the
// next goes on: a last flame, or none.
var feedLefts = []float64{0.1, 0.04}

// feedsAtATime are they where a piece goes on at a time.
var feedsAtATime = []float64{0.4, 0.25, 0.1}

const (
	worthAFeed = 0.1 // of merit, that a further load must be better by
	// and of kelvin-hours under the band: less smoke for each kilogram, because
	// there are more kilograms, is no reason to burn them
	worthInDegrees = 0.2
	coldEnough     = 0.3              // kelvin-hours under the band, before a further load is tried
	feedTakes      = 40 * time.Minute // charred, turned down and seen to burn
	mostFeedsTried = 6                // at full accuracy, for one further load

	// How finely a further load is sought.
	feedPieces, feedBrisks, feedFinals = 4, 3, 4
)

// long tells whether the aim is one that more loads serve: an evening or a day
// that somebody spends by the stove, or an absence or a night before which there
// is time for another.
func (s search) long() bool {
	switch s.Aim {
	case wish.Hold, wish.Away, wish.HoldGauge:
		return true
	case wish.Overnight:
		return s.There != nil
	}
	return false
}

// longer goes on with the best burn, or one of its alternatives, where one load
// leaves the room cold before the wish is over. It returns the best of them;
// false where nothing is better than the one load.
func (s search) longer(ctx context.Context, chosen []verdict) (verdict, bool) {
	if !s.long() || s.OneLoad || chosen[0].lacks < coldEnough {
		return verdict{}, false
	}
	best, found := chosen[0], false
	for _, v := range chosen {
		next := s.longerThan(ctx, v)
		if len(next.later) > 0 && next.merit < best.merit-worthAFeed && next.lacks <= chosen[0].lacks-worthInDegrees {
			best, found = next, true
		}
	}
	return best, found
}

// longerThan puts one load after the other on a burn, each when the one before
// has gone to coals, as long as that is better. It returns the verdict as it was
// where nothing is.
func (s search) longerThan(ctx context.Context, v verdict) verdict {
	best := s.burn(v.Recipe, v.later)
	for range plan.MostFeeds {
		if ctx.Err() != nil || best.lacks < coldEnough {
			break
		}
		next, ok := s.nextFeed(best, s.fed(ctx, best))
		if !ok {
			break
		}
		best = next
	}
	return best
}

// nextFeed is the first of ranked ways to go on that is worth it, keeps every limit at full
// accuracy too, and is safe in most of the stoves like this one.
func (s search) nextFeed(before verdict, ranked []verdict) (verdict, bool) {
	at := len(s.steps(before))
	for _, next := range ranked[:min(mostFeedsTried, len(ranked))] {
		if next.merit > before.merit-worthAFeed {
			break
		}
		if next.lacks <= before.lacks-worthInDegrees && s.holds(&next) && s.inTime(*next.burnt, at) && s.safeInMost(next) {
			return next, true
		}
	}
	return verdict{}, false
}

// fed are the ways to put one more load on that keep every limit, best first.
func (s search) fed(ctx context.Context, v verdict) []verdict {
	tries := s.waysToFeed(v)
	before := len(s.steps(v))
	branches := map[float64]fire.Branch{}
	for _, t := range tries {
		left := t.Left
		if _, is := branches[left]; is {
			continue
		}
		with := v
		with.later = append(slices.Clone(v.later), plan.Later{Pieces: 1, Left: left, Brisk: v.Brisk, Final: v.Final})
		branches[left] = fire.RunTo(s.Setup(), s.moves(s.steps(with)), before, s.options())
	}
	verdicts := make([]verdict, len(tries))
	s.meter.Expect(len(tries))
	parallel.InParallel(len(tries), func(i int) {
		if ctx.Err() != nil {
			return
		}
		later := append(slices.Clone(v.later), tries[i])
		r := branches[tries[i].Left].Run(s.moves(plan.Steps(s.Wish, v.Recipe, later...)))
		verdicts[i] = s.weighed(v.Recipe, later, r)
		verdicts[i].late = verdicts[i].late || !s.inTime(r, before)
		s.meter.Count()
	})
	// With less air only where all that the load before had is too hot.
	hot := !slices.ContainsFunc(verdicts, func(o verdict) bool { return len(o.later) > 0 && o.good() && o.later[len(o.later)-1].Brisk >= v.Brisk })
	verdicts = slices.DeleteFunc(verdicts, func(o verdict) bool {
		return len(o.later) == 0 || !o.good() || !hot && o.later[len(o.later)-1].Brisk < v.Brisk
	})
	slices.SortStableFunc(verdicts, byMerit)
	return verdicts
}

// waysToFeed are the further loads worth trying, of the pieces that are left.
func (s search) waysToFeed(v verdict) []plan.Later {
	stack := s.Woods()[v.MainOf].Stack
	most := min(s.MostPieces(v.MainOf), stack.Pieces()-used(v))
	if kilos := s.Fixed.Most; kilos > 0 {
		most = min(most, int((float64(kilos)-v.kilos)/float64(stack.PieceMass)+1e-9))
	}
	least, lefts := 1, feedLefts
	if each := s.Fixed.Each; each > 0 { // a log goes on while the one before still flames: two or three make a fire
		most, least, lefts = min(most, each), min(most, each), feedsAtATime
	}
	if most < 1 {
		return nil
	}
	air, _ := s.Stove.MainAir()
	finals, shares := []float64{v.Final}, briskShares[:feedBrisks]
	for _, o := range plan.Openings(air, feedFinals, plan.Lowest(s.Wish)) {
		if o < v.Brisk && !slices.Contains(finals, o) {
			finals = append(finals, o)
		}
	}
	if s.Fixed.Final > 0 {
		finals = finals[:1]
	}
	if s.Fixed.Brisk > 0 {
		shares = shares[:1]
	}
	var tries []plan.Later
	for _, left := range lefts {
		for _, pieces := range plan.Counts(least, most, feedPieces) {
			for _, brisk := range s.brisks(v.Brisk, shares) {
				for _, final := range finals {
					if final = air.Scale.Nearest(final); final < brisk {
						tries = append(tries, plan.Later{Pieces: pieces, Left: left, Brisk: brisk, Final: final})
					}
				}
			}
		}
	}
	return tries
}

// used is how many pieces of the main stack a burn takes.
func used(v verdict) int {
	n := v.Main
	if v.FirstOf == v.MainOf {
		n += v.First
	}
	for _, l := range v.later {
		n += l.Pieces
	}
	return n
}

// inTime tells whether a feed, and all that belongs to it, is done before the
// wish is over and while somebody is there to see it char.
func (s search) inTime(r fire.Result, at int) bool {
	if len(r.Done) <= at || slices.Contains(r.Done[at:], -1) {
		return false
	}
	span, somebody := s.Presence().At(r.Done[at])
	return somebody && r.Done[at]+feedTakes <= s.For && span.To-r.Done[at] >= feedTakes
}
