package belief

import (
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/parallel"
)

// A Life is how one of the members goes on.
type Life struct {
	fire.Result
	Smoke float64 // g per kg from here on, by the usual smoke of unburnt gas
}

// Lives burns n of the members on by moves, drawn evenly by their weights, each with a
// hand and a watcher of its own. Until is counted from the start of the burn.
func (b *Belief) Lives(n int, moves []fire.Move, until time.Duration, watch func() fire.Watcher, hand func() fire.Hand) []Life {
	const often = 4 * time.Minute
	weights, of := b.weights(), make([]*member, 0, n)
	at, sum := 0.5/float64(n), 0.0
	for i, w := range weights {
		for sum += w; at < sum && len(of) < n; at += 1 / float64(n) {
			of = append(of, b.members[i])
		}
	}
	out := make([]Life, len(of))
	parallel.InParallel(len(of), func(i int) {
		m := of[i]
		r := fire.GoOn(m.fire, b.touched, b.touched, m.world.all(moves, m.loads),
			fire.Options{Until: until, Every: often, Coarse: true, Watch: watch(), Hand: hand()})
		smoke := m.world.tuning().Smoke
		out[i] = Life{r, r.Summary.SmokePerKg / max(smoke, 0.1)}
	})
	return out
}
