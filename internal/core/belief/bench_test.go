package belief_test

import (
	"math/rand/v2"
	"runtime"
	"testing"
	"time"

	"smolder/internal/core/belief"
	"smolder/internal/core/fire"
)

// half is a belief in the middle of an evening, with readings every two minutes.
func half(until time.Duration) (*belief.Belief, learnedInflation, []float64) {
	random := rand.New(rand.NewPCG(4, 5))
	e := anEvening(0, random)
	h := belief.Draw(3, 77, 1)[2]
	came := disturbed(h.Burn(e.setup, e.moves, fire.Options{Until: 12 * time.Hour}), e.guide, 2*time.Minute, random)
	b := belief.New(belief.Usual(), e.setup, belief.Doubt{})
	for _, event := range record(e, came, 2*time.Minute, 0, until) {
		b.Take(event)
	}
	return b, e, came
}

// One more reading after an hour, on one core: with what it costs to renew the
// ensemble when that is due, over as many as come until it is; the floor is to burn
// the members those minutes and nothing else.
func BenchmarkOneReading(b *testing.B) {
	defer runtime.GOMAXPROCS(runtime.GOMAXPROCS(1))
	var took, bare, longest time.Duration
	n := 0
	for b.Loop() {
		b.StopTimer()
		m, e, came := half(time.Hour)
		next := record(e, came, 2*time.Minute, time.Hour, 100*time.Minute)
		floor, before := belief.Bare(m, next), m.BurntAgain()
		b.StartTimer()
		for _, event := range next {
			begin := time.Now()
			m.Take(event)
			d := time.Since(begin)
			took, longest = took+d, max(longest, d)
			n++
		}
		b.StopTimer()
		again := belief.BareAgain(m, m.BurntAgain()-before)
		begin := time.Now()
		floor()
		again()
		bare += time.Since(begin)
		b.StartTimer()
	}
	b.ReportMetric(float64(took.Microseconds())/1e3/float64(n), "ms/reading")
	b.ReportMetric(float64(longest.Microseconds())/1e3, "ms/longest")
	b.ReportMetric(float64(took)/float64(bare), "×floor")
}

// A forecast of ten hours on one core; the floor is the same steps by themselves.
func BenchmarkForecast(b *testing.B) {
	defer runtime.GOMAXPROCS(runtime.GOMAXPROCS(1))
	m, e, _ := half(time.Hour)
	rest := e.moves[5:]
	var took, bare time.Duration
	n := 0
	for b.Loop() {
		begin := time.Now()
		m.Forecast(rest, 11*time.Hour)
		took += time.Since(begin)
		n++
		b.StopTimer()
		floor := belief.BareAhead(m, rest, 11*time.Hour)
		begin = time.Now()
		floor()
		bare += time.Since(begin)
		b.StartTimer()
	}
	b.ReportMetric(float64(took.Milliseconds())/float64(n), "ms/forecast")
	b.ReportMetric(float64(took)/float64(bare), "×floor")
}
