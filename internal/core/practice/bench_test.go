package practice_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"smolder/internal/core/fire"
	"smolder/internal/core/fixture"
	"smolder/internal/core/practice"
	"smolder/internal/core/stove"
	"smolder/internal/core/wish"
)

// BenchmarkFrame is what a thirtieth of a second of a practice costs at 120 times the pace of life:
// four seconds of fire, what is seen of it, and its hint once a minute. Its floor is the fire's
// steps alone, in the same run.
func BenchmarkFrame(b *testing.B) {
	w := fixture.FamilyEvening(stove.SecondaryAir, wish.Cold)
	spec := practice.Spec{Lesson: practice.TurnDown, Seed: 1, Hints: practice.EachStep, Stove: w.Stove, House: w.House, Wood: w.Wood.Stack,
		Low: w.Low, High: w.High}
	begin := func() *practice.Practice {
		p, err := practice.New(spec, nil)
		require.NoError(b, err)
		return p
	}
	p := begin()
	n := 0
	for b.Loop() {
		if p.Left() == 0 {
			b.StopTimer()
			p = begin()
			b.StartTimer()
		}
		p.GoTo(p.Now() + 4*time.Second)
		p.Scene()
		p.Hint()
		n++
	}
	frame := float64(b.Elapsed().Nanoseconds()) / float64(n)
	sim := fire.New(p.Wish.Setup(), practice.Step)
	load := p.Wish.LoadOf(0, 2, stove.EndOn, fire.OnCoals)
	sim.Load(load)
	at := time.Now()
	for range 2 * n {
		sim.Step()
	}
	floor := float64(time.Since(at).Nanoseconds()) / float64(n)
	b.ReportMetric(frame/1e6, "ms/frame")
	b.ReportMetric(frame/floor, "×floor")
	b.ReportMetric(50*30*frame/1e9/2, "of-2-cores-for-50")
}
