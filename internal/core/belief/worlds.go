package belief

import (
	"math/rand/v2"

	"smolder/internal/core/fire"
)

// A World is one way in which everything that nobody knows of a burn may be, for
// whoever asks what a plan does in many of them.
type World struct{ at world }

// Worlds are n of them, drawn evenly from what is believed: the same each time, and in
// pairs on both sides of what is likeliest.
func Worlds(prior Prior, doubt Doubt, n int) []World {
	g := prior.gaussian(doubt, 1)
	out := make([]World, 0, n)
	for _, w := range g.draw(n, rand.New(rand.NewPCG(20, 1))) {
		out = append(out, World{w})
	}
	return out
}

// In is a setup as it is in this world.
func (w World) In(setup fire.Setup) fire.Setup { return w.at.in(setup) }

// Moves are moves as they are done in this world: what is loaded is as wet as it is
// there.
func (w World) Moves(moves []fire.Move) []fire.Move { return w.at.all(moves, 0) }

// Logs are the numbers of this world's stove, as a [Prior] has them.
func (w World) Logs(n int) []float64 { return append([]float64(nil), w.at[:n]...) }

// Tuning is the stove of this world.
func (w World) Tuning() fire.Tuning { return w.at.tuning() }

// With is a setup and its moves as they are in this world, with something wrong besides; nil:
// nothing.
func (w World) With(x *Wrong, setup fire.Setup, moves []fire.Move) (fire.Setup, []fire.Move) {
	at := w.at
	if x == nil {
		return at.in(setup), at.all(moves, 0)
	}
	s := smoother{shift: shiftOf(x.Shift)}
	at = s.shifted(at)
	setup = at.in(setup)
	if x.Setup != nil {
		x.Setup(&setup)
	}
	moves = at.all(moves, 0)
	if x.Act == nil {
		return setup, moves
	}
	out := make([]fire.Move, len(moves))
	for i, m := range moves {
		out[i] = fire.Move{When: m.When, Do: make([]fire.Act, len(m.Do))}
		for j, a := range m.Do {
			out[i].Do[j] = x.act(a)
		}
	}
	return setup, out
}

// OneWorld is a world drawn by a seed: another for each, and the same for one.
func OneWorld(prior Prior, doubt Doubt, seed uint64) World {
	g := prior.gaussian(doubt, 1)
	return World{g.draw(1, rand.New(rand.NewPCG(seed, 20)))[0]}
}
