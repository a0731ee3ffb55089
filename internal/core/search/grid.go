package search

import (
	"cmp"
	"slices"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/plan"
	"smolder/internal/core/stove"
	"smolder/internal/core/wish"
	"smolder/internal/core/wood"
)

// A mesh is how fine the grid of candidates is: how many values are tried, at
// most, of each thing that can be chosen.
type mesh struct {
	firsts   int // loads to light with
	mains    int // loads on the coals
	openings int // final openings of the main air
	pauses   int // row of [pauses]: ways to pace the turn-down
}

// finer are the meshes from coarse to fine, each about a sixth larger than the
// one before. The more stacks, directions and lays there are to choose from, the
// less finely each is searched. Loads and final openings come first: a burn
// changes most by them; the pace of the turn-down after.
//
//	firsts mains openings pauses
var finer = []mesh{
	{1, 2, 2, 1}, {2, 2, 2, 1}, {2, 2, 3, 1},
	{2, 3, 3, 1}, {2, 4, 3, 1}, {2, 4, 4, 1}, {2, 5, 4, 1}, {3, 4, 4, 1}, {2, 6, 4, 1},
	{2, 4, 4, 2}, {2, 5, 4, 2}, {3, 4, 4, 2}, {3, 4, 5, 2}, {3, 5, 5, 2}, {3, 5, 4, 3},
	{3, 5, 5, 3}, {3, 6, 5, 3}, {4, 6, 5, 3}, {4, 7, 5, 3}, {4, 8, 5, 3}, {4, 7, 5, 4},
	{4, 8, 5, 4}, {4, 8, 6, 4}, {4, 9, 6, 5}, {4, 10, 7, 5}, {4, 14, 7, 6}, {4, 14, 7, 7},
	{4, 20, 7, 7}, {4, 20, 8, 7}, {4, 20, 8, 8}, {4, 20, 9, 8}, {4, 20, 9, 9}, {4, 20, 9, 10},
}

// pauses between the steps of a turn-down, min, from few to many to choose from.
var pauses = [][]int{
	{8},
	{8, 12},
	{4, 8, 12},
	{4, 7, 10, 14},
	{4, 6, 9, 12, 16},
	{3, 5, 7, 9, 12, 16},
	{3, 5, 7, 9, 11, 13, 16},
	{3, 4, 6, 8, 10, 12, 15, 18},
	{3, 4, 5, 6, 7, 8, 9, 10, 12, 14, 16, 18},
	{3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14, 15, 16, 17, 18, 19, 20, 21, 22},
}

const (
	// mostFirst is how many splits a first fire has at most, and firstShare how
	// much of the manual's load.
	mostFirst, firstShare = 4, 0.6
	// leastBrisk is the least opening that wood chars with.
	leastBrisk = 0.2
	// mostStacks is how many stacks a search tries. The grid is as fine as so many
	// allow; with every further one it would only get coarser, or take longer.
	mostStacks = 6
)

// Shares of what it may be at most are tried to char with, in this order. A load of a
// first fire chars with all that the stove bears; on a bed of coals a large one is
// tried with less besides, since with all the air it would run away; a later one, on a stove
// that is hot, with less only where all would be too hot.
var (
	briskShares   = []float64{1, 0.75, 0.6, 0.85}
	onCoalsShares = []float64{1, 0.75, 0.5} // with less than half, wood that is not black chars badly
)

// candidates lists the coarsest grid that has enough: whole pieces of the stacks
// at hand, lays, directions that fit, final openings in the control's own marks,
// how quickly it is turned down, and how far open it chars, up to most.
func (s search) candidates(most float64) []plan.Recipe {
	var out []plan.Recipe
	for _, m := range finer {
		if out = s.grid(m, most); len(out) >= s.effort.Candidates {
			break
		}
	}
	return out
}

// grid lists every candidate of a mesh.
func (s search) grid(m mesh, most float64) []plan.Recipe {
	var out []plan.Recipe
	woods := s.Woods()
	for mainOf := range woods {
		for firstOf := range woods {
			// Only the lightest wood is worth lighting with beside the main one.
			apart := s.Start.FirstFire() && (firstOf == s.Lightest() || s.Fixed.FirstOf != 0 || s.Fixed.MainOf != 0 || woods[firstOf].Same(woods[mainOf]))
			if !s.sizeServes(firstOf, mainOf) {
				continue
			}
			if firstOf != mainOf && !apart || !s.Feeds(mainOf) || s.Start.FirstFire() && !s.Lights(firstOf) {
				continue
			}
			for _, d := range []stove.Direction{stove.EndOn, stove.Sideways} {
				if s.Lies(d) && s.Fits(firstOf, d) && s.Fits(mainOf, d) {
					out = s.loads(out, m, plan.Recipe{FirstOf: firstOf, MainOf: mainOf, Direction: d, Most: most})
				}
			}
		}
	}
	return out
}

// sizeServes tells whether the sizes of two woods are those for lighting and for the coals: where a
// stack has thin pieces it is lit with those, and they go on no coals; thick ones light nothing.
func (s search) sizeServes(firstOf, mainOf int) bool {
	first, main := s.Woods()[firstOf].Stack.Size, s.Woods()[mainOf].Stack.Size
	if main == wood.ThinPieces {
		return false
	}
	if !s.Start.FirstFire() {
		return true
	}
	return first == wood.ThinPieces || first == "" && !s.HasSize(firstOf, wood.ThinPieces)
}

// loads adds every load, lay and turn-down of a direction and its stacks.
func (s search) loads(out []plan.Recipe, m mesh, r plan.Recipe) []plan.Recipe {
	for _, r.First = range s.firsts(m, r) {
		for _, r.Main = range s.mains(m, r) {
			if !s.enough(r) {
				continue
			}
			for _, r.Lay = range s.lays() {
				if r.Lay == fire.OpenV && r.First < 2 && s.Lay == "" {
					continue // a V is made of two
				}
				out = s.airs(out, m, r)
			}
		}
	}
	return out
}

// firsts are the splits to light with: none on a good bed.
func (s search) firsts(m mesh, r plan.Recipe) []int {
	if !s.Start.FirstFire() {
		return []int{0}
	}
	if s.Fixed.First > 0 {
		return []int{s.Fixed.First}
	}
	allowed := int(float64(s.Stove.MaxLoad) * firstShare / float64(s.Woods()[r.FirstOf].Stack.PieceMass))
	out := plan.Counts(1, max(1, min(mostFirst, allowed, s.MostPieces(r.FirstOf))), m.firsts)
	if s.Start == wish.Cold && s.Lay == fire.OpenV { // a V is made of two
		out = slices.DeleteFunc(out, func(n int) bool { return n < 2 })
	}
	return out
}

// mains are the pieces of the load on the coals: after a first fire, maybe none.
func (s search) mains(m mesh, r plan.Recipe) []int {
	switch {
	case s.Fixed.Main == wish.NoLoad && s.Start.FirstFire():
		return []int{0}
	case s.Fixed.Main > 0:
		return []int{s.Fixed.Main}
	}
	out := plan.Counts(1, s.MostPieces(r.MainOf), m.mains)
	if s.Fixed.Each > 0 {
		out = []int{s.Fixed.Each}
	}
	if s.Start.FirstFire() {
		return append([]int{0}, out...)
	}
	return out
}

// lays are the lays to light with: the one wished, or those that smoke least.
func (s search) lays() []fire.Lay {
	switch {
	case s.Start != wish.Cold:
		return []fire.Lay{fire.OnCoals}
	case s.Fixed.BySize:
		return []fire.Lay{fire.BottomUp} // what is fed grows from below
	case s.Lay != "":
		return []fire.Lay{s.Lay}
	case s.Starter.Row().Below:
		return []fire.Lay{fire.OpenV, fire.LeanTo, fire.BottomUp}
	}
	return []fire.Lay{fire.TopDown, fire.Raft}
}

// airs adds every way to set the air of a load.
func (s search) airs(out []plan.Recipe, m mesh, r plan.Recipe) []plan.Recipe {
	air, _ := s.Stove.MainAir()
	brisks, finals := s.brisks(r.Most, s.charring()), plan.Openings(air, m.openings, plan.Lowest(s.Wish))
	if s.Fixed.Brisk > 0 {
		brisks = []float64{s.Fixed.Brisk}
	}
	if s.Fixed.Final > 0 {
		finals = []float64{s.Fixed.Final}
	}
	for _, r.Brisk = range brisks {
		for _, r.Final = range finals {
			if r.Final >= r.Brisk {
				continue
			}
			for _, minutes := range pauses[min(m.pauses, len(pauses))-1] {
				r.Pause = time.Duration(minutes) * time.Minute
				out = append(out, r)
			}
		}
	}
	return out
}

// charring are the shares that the load of a recipe is tried to char with.
func (s search) charring() []float64 {
	if s.Start.FirstFire() && !s.Seldom {
		return briskShares[:1]
	}
	return onCoalsShares
}

// brisks are openings to char with: shares of the most.
func (s search) brisks(most float64, shares []float64) []float64 {
	air, _ := s.Stove.MainAir()
	var out []float64
	for _, share := range shares {
		if o := air.Scale.Nearest(most * share); o > leastBrisk && !slices.Contains(out, o) {
			out = append(out, o)
		}
	}
	return out
}

// fewer leaves out stacks where there are more than a search can try: the one
// that was named for the wish or for a load stays, and of the others those dry enough, from the lightest to
// the densest in even steps.
func fewer(w wish.Wish) wish.Wish {
	if len(w.Others) < mostStacks {
		return w
	}
	others := slices.Clone(w.Others)
	slices.SortStableFunc(others, func(a, b wish.Pick) int { return cmp.Compare(a.Stack.Moisture(), b.Stack.Moisture()) })
	dry := slices.IndexFunc(others, func(p wish.Pick) bool { return p.Stack.Moisture() > wood.ReadyTo })
	if dry < 0 {
		dry = len(others)
	}
	others = others[:max(dry, mostStacks-1)]
	slices.SortStableFunc(others, func(a, b wish.Pick) int { return cmp.Compare(a.Stack.Species.Gravity, b.Stack.Species.Gravity) })
	named := func(p wish.Pick) bool { return p.ID != 0 && (p.ID == w.Fixed.FirstOf || p.ID == w.Fixed.MainOf) }
	kept := slices.DeleteFunc(slices.Clone(w.Others), func(p wish.Pick) bool { return !named(p) })
	others = slices.DeleteFunc(others, named)
	for _, i := range plan.Counts(0, len(others)-1, mostStacks-1-len(kept)) {
		kept = append(kept, others[i])
	}
	w.LeftOut = len(w.Others) - len(kept)
	w.Others = kept
	return w
}

// enough tells whether the stacks hold the pieces, and they are no more than is wanted.
func (s search) enough(r plan.Recipe) bool {
	woods := s.Woods()
	if most := s.Fixed.Most; most > 0 && s.kilos(verdict{Recipe: r}) > float64(most) {
		return false
	}
	if r.FirstOf == r.MainOf {
		return r.First+r.Main <= woods[r.MainOf].Stack.Pieces()
	}
	return r.First <= woods[r.FirstOf].Stack.Pieces() && r.Main <= woods[r.MainOf].Stack.Pieces()
}

// together returns the runs of recipes, first and one past the last, that are
// the same fire until it is turned down.
func together(all []plan.Recipe) [][2]int {
	var out [][2]int
	for i, r := range all {
		r.Final, r.Pause = 0, 0
		if n := len(out); n > 0 {
			before := all[i-1]
			if before.Final, before.Pause = 0, 0; before == r {
				out[n-1][1] = i + 1
				continue
			}
		}
		out = append(out, [2]int{i, i + 1})
	}
	return out
}
