package plan

import (
	"cmp"
	"math"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"smolder/internal/core/each"
	"smolder/internal/core/fire"
	"smolder/internal/core/flue"
	"smolder/internal/core/house"
	"smolder/internal/core/stove"
	"smolder/internal/core/wood"
)

// tenHours is a night from cold in a mid-size stove with two stacks at hand.
func tenHours() Wish {
	beech, _ := wood.SpeciesByKey("beech")
	oak, _ := wood.SpeciesByKey("oak")
	return Wish{Stove: stove.Stove{Name: "Auntie", Family: stove.SecondaryAir, Volume: 55, Width: 0.46, Depth: 0.38, Height: 0.33, MaxLoad: 7, Output: 8000,
		Controls: []stove.Control{{Key: "lever", Name: "Lever", Role: stove.Combined, Scale: stove.Scale{Kind: stove.Lever}}},
		Gauges:   []stove.Gauge{stove.NewGauge(stove.ConnectorProbe)}, Chimney: flue.Chimney{Height: 6, Diameter: 0.15, Lining: flue.Insulated}},
		House: house.Default(), Aim: Overnight, For: 10 * time.Hour, Outdoor: 0, Room: 17, Low: 18, High: 21.5, Start: Cold,
		Wood:   Pick{1, wood.Stack{Name: "Beech", Species: beech, PieceMass: 1.3, PieceLength: 0.33, Reading: 0.16, WoodTemp: 8, Mass: 2000}},
		Others: []Pick{{2, wood.Stack{Name: "Oak", Species: oak, PieceMass: 1.9, PieceLength: 0.35, Reading: 0.17, WoodTemp: 6, Mass: 1900}}}}
}

// A ten-hour plan is sought among a thousand fires, whatever it starts from and
// however it is laid.
func TestAThousandAreTried(t *testing.T) {
	for _, lay := range []fire.Lay{"", fire.OpenV, fire.Raft} {
		for _, start := range Starts {
			for _, others := range []int{0, 1} {
				w := tenHours()
				w.Start, w.Lay, w.Others = start.Key, lay, w.Others[:others]
				all := w.candidates(1)
				assert.GreaterOrEqual(t, len(all), 1000, "%s %s, %d more stacks", start.Key, lay, others)
				assert.Less(t, len(all), 1900, "%s %s, %d more stacks: and answered within a second", start.Key, lay, others)
				seen := map[candidate]bool{}
				for _, c := range all {
					assert.False(t, seen[c], "%+v twice", c)
					seen[c] = true
				}
			}
		}
	}
}

// BenchmarkTenHourPlan is a whole search with its three plans. Its floor, in
// the same run, is one plain simulation of the same ten hours at the search's
// step for every candidate, on as many cores.
func BenchmarkTenHourPlan(b *testing.B) {
	w := tenHours()
	w.Others = nil // one stack: over a thousand candidates
	tried := 0
	for b.Loop() {
		c, err := Search(b.Context(), w, nil)
		if err != nil {
			b.Fatal(err)
		}
		tried = c.Tried
	}
	search := b.Elapsed() / time.Duration(b.N)
	all := w.candidates(1)
	begin := time.Now()
	each.InParallel(len(all), func(i int) {
		fire.Run(w.setup(), fireSteps(w.steps(all[i])), fire.Options{Until: w.For + tail, Every: searchEvery, Step: searchStep})
	})
	floor := time.Since(begin)
	b.ReportMetric(float64(tried), "candidates")
	b.ReportMetric(search.Seconds()*1000, "ms/plan")
	b.ReportMetric(float64(search)/float64(floor), "×floor")
}

// BenchmarkChosenAgainstExhaustive judges the same grid again with nothing
// skipped, at the step that published figures are made with, and reports by how
// much the chosen plan's merit lies over the best there is.
func BenchmarkChosenAgainstExhaustive(b *testing.B) {
	w := tenHours()
	w.Others = nil
	over := 0.0
	for b.Loop() {
		ranked, _ := w.rank(b.Context(), nil)
		exact := make([]verdict, len(ranked))
		each.InParallel(len(ranked), func(i int) {
			c := ranked[i].candidate
			exact[i] = w.weighed(c, nil, fire.Run(w.setup(), fireSteps(w.steps(c)), fire.Options{Until: w.For + tail, Every: searchEvery}))
		})
		chosen := exact[0].merit
		best := slices.MinFunc(exact, func(a, b verdict) int { return cmp.Compare(a.merit, b.merit) }).merit
		over = math.Max(over, chosen/best-1)
	}
	b.ReportMetric(100*over, "%over-best")
}
