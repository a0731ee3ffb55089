package fire_test

import (
	"math"
	"testing"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
)

const tenHours = 10 * time.Hour

// BenchmarkTenHours burns ten hours in two-second steps and, in the same run,
// makes the exponentials and powers that the model's equations ask for at each
// step, bare. The ratio of the two is what the rest of the step costs.
func BenchmarkTenHours(b *testing.B) {
	for _, family := range []stove.Family{stove.SecondaryAir, stove.Catalytic} {
		s := subject{mid(family, 55)}
		steps := s.staged(s.load(6, 0.18, 4, stove.EndOn), 0.25)
		b.Run(string(family), func(b *testing.B) {
			b.ReportAllocs()
			n := int(tenHours / fire.DefaultStep)
			for b.Loop() {
				fire.Run(s.setup(), steps, fire.Options{Until: tenHours})
			}
			step := float64(b.Elapsed().Nanoseconds()) / float64(b.N) / float64(n)
			floor := bareCalls(n, 50, family == stove.Catalytic)
			b.ReportMetric(step, "ns/step")
			b.ReportMetric(floor, "floor-ns/step")
			b.ReportMetric(step/floor, "×floor")
		})
	}
}

// BenchmarkStep is one step in the middle of a burn: it must allocate nothing.
func BenchmarkStep(b *testing.B) {
	s := subject{mid(stove.SecondaryAir, 55)}
	sim := fire.New(s.setup(), 0)
	sim.Load(*s.load(6, 0.18, 4, stove.EndOn))
	b.ReportAllocs()
	for b.Loop() {
		sim.Step()
	}
}

var sink float64

// bareCalls times, in ns per step, the calls that the equations have. math.Exp: the
// bed's cover and its surface, a face's char, what a piece alone needs, flames among
// pieces, gas to body, connector, flue wall; and while gas burns, which is half of
// the ten hours, an Arrhenius term and its burnout for tar, organic gas and monoxide
// in each of two zones; four more in a catalyst. math.Pow: the packing and the flue's
// film. Fourth powers and square roots are not counted.
func bareCalls(steps, rounds int, catalyst bool) float64 {
	exps, pows := 8+12/2, 2
	if catalyst {
		exps += 4
	}
	x := 0.7
	begin := time.Now()
	for range rounds {
		for range steps {
			for range exps {
				x = 1 + 0.5*math.Exp(-x)
			}
			for range pows {
				x = 0.3 + 0.5*math.Pow(x, 0.6)
			}
		}
	}
	sink = x
	return float64(time.Since(begin).Nanoseconds()) / float64(steps*rounds)
}
