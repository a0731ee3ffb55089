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

// Tuning is the stove of this world.
func (w World) Tuning() fire.Tuning { return w.at.tuning() }
