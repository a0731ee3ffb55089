package plan

import (
	"cmp"
	"math"
	"slices"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
	"smolder/internal/core/wood"
)

// candidate is one way to burn.
type candidate struct {
	first, main int
	firstOf     int // which of the wish's stacks
	mainOf      int
	lay         fire.Lay // of the first fire
	direction   stove.Direction
	final       float64
	brisk       float64       // the main air while it chars
	most        float64       // the most that it may be: less than fully open where that runs too hot
	pause       time.Duration // between the steps of the turn-down
}

// A mesh is how fine the grid is: at most so many loads to light with and on the
// coals, final openings, ways to pace the turn-down and openings while it chars.
type mesh struct{ firsts, mains, openings, pauses, brisks int }

// meshes go from coarse to fine: the more stacks, directions and lays there are
// to choose from, the less finely each is searched.
var meshes = []mesh{
	{2, 3, 3, 1, 1}, {2, 4, 3, 1, 1}, {2, 4, 4, 1, 1}, {2, 5, 4, 1, 1}, {3, 4, 4, 1, 1}, {2, 6, 4, 1, 1}, {2, 4, 4, 2, 1}, {2, 5, 4, 2, 1}, {3, 4, 4, 2, 1}, {3, 4, 5, 2, 1}, {3, 5, 5, 2, 1}, {3, 5, 4, 3, 1},
	{3, 5, 5, 3, 1}, {3, 6, 5, 3, 1}, {4, 6, 5, 3, 1}, {4, 7, 5, 3, 1}, {4, 8, 5, 3, 1}, {4, 7, 5, 4, 1}, {4, 8, 5, 4, 1}, {4, 8, 6, 4, 1}, {4, 9, 6, 5, 1},
	{4, 10, 7, 5, 1}, {4, 14, 7, 6, 1}, {4, 14, 7, 7, 1}, {4, 14, 6, 5, 2}, {4, 14, 7, 5, 2}, {4, 20, 7, 6, 2}, {4, 20, 8, 7, 2}, {4, 20, 8, 6, 3}, {4, 20, 9, 8, 3}, {4, 20, 9, 8, 4}, {4, 20, 9, 9, 4},
}

// enoughTried is how many candidates a search burns, where there are so many
// ways to burn this wood in this stove.
const enoughTried = 1000

// candidates lists the coarsest grid that has enough: whole pieces of the stacks
// at hand, lays, directions that fit, final openings in the control's own marks,
// how quickly it is turned down, and how far open it chars, at most at most.
func (w Wish) candidates(most float64) []candidate {
	var out []candidate
	for _, m := range meshes {
		if out = w.grid(m, most); len(out) >= enoughTried {
			break
		}
	}
	return out
}

// grid lists every candidate of a mesh.
func (w Wish) grid(m mesh, most float64) []candidate {
	var out []candidate
	for mainOf := range w.woods() {
		for firstOf := range w.woods() {
			// Only the lightest wood is worth lighting with beside the main one.
			if firstOf != mainOf && (!w.Start.firstFire() || firstOf != w.lightest()) {
				continue
			}
			for _, d := range []stove.Direction{stove.EndOn, stove.Sideways} {
				if w.fits(firstOf, d) && w.fits(mainOf, d) {
					out = w.loads(out, m, most, candidate{firstOf: firstOf, mainOf: mainOf, direction: d})
				}
			}
		}
	}
	return out
}

// loads adds every load, lay and turn-down of a direction and its stacks.
func (w Wish) loads(out []candidate, m mesh, most float64, c candidate) []candidate {
	firsts, mains, lays := []int{0}, counts(1, w.mostPieces(c.mainOf), m.mains), []fire.Lay{fire.OnCoals}
	if w.Start.firstFire() {
		half := int(float64(w.Stove.MaxLoad) * 0.6 / float64(w.woods()[c.firstOf].Stack.PieceMass))
		firsts = counts(1, max(1, min(4, half, w.mostPieces(c.firstOf))), m.firsts)
		mains = append([]int{0}, mains...)
		if w.Start == Cold {
			lays = []fire.Lay{fire.TopDown, fire.Raft}
		}
		if w.Start == Cold && w.Lay != "" {
			lays = []fire.Lay{w.Lay}
		}
	}
	if w.Start == Cold && w.Lay == fire.OpenV { // a V is made of two
		firsts = slices.DeleteFunc(firsts, func(n int) bool { return n < 2 })
	}
	for _, c.first = range firsts {
		for _, c.main = range mains {
			if !w.enough(c) {
				continue
			}
			for _, c.lay = range lays {
				out = w.airs(out, m, most, c)
			}
		}
	}
	return out
}

// airs adds every way to set the air of a load.
func (w Wish) airs(out []candidate, m mesh, most float64, c candidate) []candidate {
	c.most = most
	for _, c.brisk = range w.brisks(most, m.brisks) {
		for _, c.final = range w.openings(m.openings) {
			if c.final >= c.brisk {
				continue
			}
			for _, c.pause = range pauses[min(m.pauses, len(pauses))-1] {
				out = append(out, c)
			}
		}
	}
	return out
}

// pauses between the steps of a turn-down, from few to many to choose from.
var pauses = [][]time.Duration{
	minutes(8), minutes(8, 12), minutes(4, 8, 12), minutes(4, 7, 10, 14), minutes(4, 6, 9, 12, 16), minutes(3, 5, 7, 9, 12, 16),
	minutes(3, 5, 7, 9, 11, 13, 16), minutes(3, 4, 6, 8, 10, 12, 15, 18), minutes(3, 4, 5, 6, 7, 8, 9, 10, 12, 14, 16, 18),
}

func minutes(of ...int) []time.Duration {
	out := make([]time.Duration, len(of))
	for i, m := range of {
		out[i] = time.Duration(m) * time.Minute
	}
	return out
}

// mostStacks is how many stacks a search tries. The grid is as fine as so many
// allow; with every further one it would only get coarser, or take longer.
const mostStacks = 6

// fewer leaves out stacks where there are more than a search can try: the one
// that was named stays, and of the others those dry enough, from the lightest to
// the densest in even steps.
func (w Wish) fewer() Wish {
	if len(w.Others) < mostStacks {
		return w
	}
	others := slices.Clone(w.Others)
	slices.SortStableFunc(others, func(a, b Pick) int { return cmp.Compare(a.Stack.Moisture(), b.Stack.Moisture()) })
	dry := slices.IndexFunc(others, func(p Pick) bool { return p.Stack.Moisture() > wetWood })
	if dry < 0 {
		dry = len(others)
	}
	others = others[:max(dry, mostStacks-1)]
	slices.SortStableFunc(others, func(a, b Pick) int { return cmp.Compare(a.Stack.Species.Gravity, b.Stack.Species.Gravity) })
	w.LeftOut = len(w.Others) - (mostStacks - 1)
	w.Others = nil
	for _, i := range counts(0, len(others)-1, mostStacks-1) {
		w.Others = append(w.Others, others[i])
	}
	return w
}

// woods are the stacks at hand: the first wished, then the others.
func (w Wish) woods() []Pick { return append([]Pick{w.Wood}, w.Others...) }

// lightest is the stack of the lightest wood.
func (w Wish) lightest() int {
	best := 0
	for i, p := range w.woods() {
		if p.Stack.Species.Gravity < w.woods()[best].Stack.Species.Gravity {
			best = i
		}
	}
	return best
}

func (w Wish) fits(of int, d stove.Direction) bool {
	return w.woods()[of].Stack.PieceLength <= w.Stove.LongestPiece(d)
}

// enough tells whether the stacks hold the pieces.
func (w Wish) enough(c candidate) bool {
	woods := w.woods()
	if c.firstOf == c.mainOf {
		return c.first+c.main <= woods[c.mainOf].Stack.Pieces()
	}
	return c.first <= woods[c.firstOf].Stack.Pieces() && c.main <= woods[c.mainOf].Stack.Pieces()
}

// mostPieces is how many pieces the manual, the firebox and the stack allow.
func (w Wish) mostPieces(of int) int {
	s := w.woods()[of].Stack
	byManual := int(float64(w.Stove.MaxLoad)/float64(s.PieceMass) + 1e-9)
	each := wood.LoadOf(s.Species, s.Moisture(), s.PieceMass).Stacked
	byRoom := int(float64(w.Stove.Volume) * 0.85 / float64(each))
	return max(1, min(byManual, byRoom, s.Pieces()))
}

// openings are at most n final settings worth trying, as the control is marked.
func (w Wish) openings(n int) []float64 {
	c, _ := w.Stove.MainAir()
	tried := []float64{1. / 8, 1. / 4, 1. / 2, 1. / 3, 1. / 6, 2. / 3, 0.2, 0.4, 0.05}
	if c.Scale.Kind == stove.Notches {
		tried = c.Scale.Steps()
		n = len(tried)
	}
	var out []float64
	for _, o := range tried {
		if o = c.Scale.Nearest(o); o > 0.01 && o < 0.8 && len(out) < n && !slices.Contains(out, o) {
			out = append(out, o)
		}
	}
	return out
}

// brisks are at most n openings to char with, from most downwards.
func (w Wish) brisks(most float64, n int) []float64 {
	c, _ := w.Stove.MainAir()
	var out []float64
	for _, share := range []float64{1, 0.75, 0.6, 0.85}[:n] {
		if o := c.Scale.Nearest(most * share); o > 0.2 && !slices.Contains(out, o) {
			out = append(out, o)
		}
	}
	return out
}

// counts returns at most n whole numbers from low to high, both included.
func counts(low, high, n int) []int {
	var out []int
	for i := range n {
		v := low
		if n > 1 {
			v = low + int(math.Round(float64(high-low)*float64(i)/float64(n-1)))
		}
		if len(out) == 0 || out[len(out)-1] != v {
			out = append(out, v)
		}
	}
	return out
}

// together returns the runs of candidates, first and one past the last, that are
// the same fire until it is turned down.
func together(all []candidate) [][2]int {
	var out [][2]int
	for i, c := range all {
		c.final, c.pause = 0, 0
		if n := len(out); n > 0 {
			before := all[i-1]
			if before.final, before.pause = 0, 0; before == c {
				out[n-1][1] = i + 1
				continue
			}
		}
		out = append(out, [2]int{i, i + 1})
	}
	return out
}
