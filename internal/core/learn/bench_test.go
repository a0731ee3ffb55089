package learn_test

import (
	"testing"
	"time"

	"smolder/internal/core/learn"
)

// Forty burns are taken in, one after the other, each foretold both ways before; 20 s are
// allowed, in the background.
func BenchmarkFortyBurns(b *testing.B) {
	burns := winter(0, 40)
	for b.Loop() {
		known := learn.New()
		for _, burn := range burns {
			known, _ = known.Burnt(burn)
		}
	}
	b.ReportMetric(b.Elapsed().Seconds()/float64(b.N), "s/40-burns")
	b.ReportMetric(float64(b.Elapsed()/time.Millisecond)/float64(40*b.N), "ms/burn")
}
