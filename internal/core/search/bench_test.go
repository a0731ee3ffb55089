package search

import (
	"cmp"
	"math"
	"runtime"
	"slices"
	"testing"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/fixture"
	"smolder/internal/core/parallel"
	"smolder/internal/core/plan"
)

// BenchmarkTenHourPlan is a whole search with its three plans. Its floor, in
// the same run, is one plain simulation of the same ten hours at the search's
// step for every candidate, on as many cores.
func BenchmarkTenHourPlan(b *testing.B) {
	w := fixture.TenHours()
	w.Others = nil // one stack: over a thousand candidates
	tried := 0
	var before, after runtime.MemStats
	runtime.ReadMemStats(&before)
	for b.Loop() {
		c, err := Plans(b.Context(), w, Usual, nil)
		if err != nil {
			b.Fatal(err)
		}
		tried = c.Tried
	}
	took := b.Elapsed() / time.Duration(b.N)
	runtime.ReadMemStats(&after)
	s := of(w)
	all := s.candidates(1)
	begin := time.Now()
	parallel.InParallel(len(all), func(i int) {
		fire.Run(w.Setup(), plan.Fires(plan.Steps(w, all[i])), fire.Options{Until: w.For + beyond, Every: every, Step: Usual.Step})
	})
	floor := time.Since(begin)
	b.ReportMetric(float64(tried), "candidates")
	b.ReportMetric(took.Seconds()*1000, "ms/plan")
	b.ReportMetric(float64(took)/float64(floor), "×floor")
	b.ReportMetric(float64(after.TotalAlloc-before.TotalAlloc)/float64(b.N)/1e6, "MB/plan")
}

// BenchmarkChosenAgainstExhaustive judges the same grid again with nothing
// skipped, at the step that published figures are made with, and reports by how
// much the chosen plan's merit lies over the best there is.
func BenchmarkChosenAgainstExhaustive(b *testing.B) {
	w := fixture.TenHours()
	w.Others = nil
	s := of(w)
	over := 0.0
	for b.Loop() {
		ranked, _ := s.rank(b.Context())
		exact := make([]verdict, len(ranked))
		parallel.InParallel(len(ranked), func(i int) {
			r := ranked[i].Recipe
			exact[i] = s.weighed(r, nil, fire.Run(w.Setup(), plan.Fires(plan.Steps(w, r)),
				fire.Options{Until: w.For + beyond, Every: every, Watch: newTally(w)}))
		})
		chosen := exact[0].merit
		best := slices.MinFunc(exact, func(a, b verdict) int { return cmp.Compare(a.merit, b.merit) }).merit
		over = math.Max(over, chosen/best-1)
	}
	b.ReportMetric(100*over, "%over-best")
}
