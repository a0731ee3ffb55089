package fire_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
)

// usualEvening is the usual load in a mid-size stove.
func usualEvening() (fire.Setup, []fire.Move) {
	s := subject{mid(stove.SecondaryAir, 55)}
	return s.setup(), s.staged(s.load(6, 0.18, 4, stove.EndOn), 0.25)
}

// Every factor of a tuning does something, and in the direction that it says;
// none is no tuning.
func TestATuningChangesTheFire(t *testing.T) {
	of := func(tuning fire.Tuning) fire.Summary {
		setup, steps := usualEvening()
		setup.Tuning = tuning
		return fire.Run(setup, steps, fire.Options{Until: 6 * time.Hour}).Summary
	}
	plain := of(fire.Tuning{})
	assert.Equal(t, plain, of(fire.Tuning{Leak: 1, Inlets: 1, Exchange: 1, Shield: 1, CharRate: 1, FlueLoss: 1, Smoke: 1}))
	assert.InDelta(t, 1.5*plain.Smoke, of(fire.Tuning{Smoke: 1.5}).Smoke, 0.01*plain.Smoke)
	assert.Greater(t, of(fire.Tuning{Exchange: 1.2}).Efficiency, plain.Efficiency)
	assert.Less(t, of(fire.Tuning{CharRate: 1.3}).Coals, plain.Coals)
	assert.Less(t, of(fire.Tuning{Shield: 1.2}).ToCoals, plain.ToCoals)
	assert.Less(t, of(fire.Tuning{FlueLoss: 1.3}).MinDraft, plain.MinDraft)
	assert.NotEqual(t, plain.PeakGas, of(fire.Tuning{Leak: 2}).PeakGas)
	assert.NotEqual(t, plain.PeakGas, of(fire.Tuning{Inlets: 1.3}).PeakGas)
}

// counting keeps only how warm the room was, as a judge would.
type counting struct{ seen, warm int }

func (c *counting) See(f *fire.Fire) {
	c.seen++
	if f.Room() > 17 {
		c.warm++
	}
}

func (c *counting) Fork() fire.Watcher { fork := *c; return &fork }

// A watched run sees what a sampled one keeps, and a branch of it what its own
// run would have.
func TestAWatchedFire(t *testing.T) {
	setup, steps := usualEvening()
	opt := fire.Options{Until: 3 * time.Hour}
	kept := fire.Run(setup, steps, opt)
	warm := 0
	for _, sample := range kept.Samples {
		if sample.Room > 17 {
			warm++
		}
	}
	opt.Watch = &counting{}
	watched := fire.Run(setup, steps, opt)
	assert.Empty(t, watched.Samples)
	assert.Equal(t, &counting{len(kept.Samples), warm}, watched.Watched)
	assert.Equal(t, kept.Summary, watched.Summary)
	opt.Watch = &counting{}
	branch := fire.RunTo(setup, steps, 1, opt)
	for range 2 {
		assert.Equal(t, watched.Watched, branch.Run(steps).Watched)
	}
}

// A burn that is paused and goes on is the burn that was never paused.
func TestAPausedFire(t *testing.T) {
	setup, steps := usualEvening()
	steps = append(steps, fire.Move{When: fire.Trigger{At: 100 * time.Minute}, Do: []fire.Act{{Kind: fire.ActDoor, Door: fire.Ajar}}})
	whole := fire.Run(setup, steps, fire.Options{Until: 3 * time.Hour})
	_, paused := fire.RunAndPause(setup, steps[:len(steps)-1], fire.Options{Until: 95*time.Minute + 7*time.Second})
	assert.GreaterOrEqual(t, paused.At(), 95*time.Minute)
	for range 2 { // as often as is wanted
		on, _ := paused.GoOn(steps, 3*time.Hour)
		assert.Equal(t, whole, on)
	}
	part, further := paused.GoOn(steps, 2*time.Hour)
	assert.Len(t, part.Samples, 121)
	on, _ := further.GoOn(steps, 3*time.Hour)
	assert.Equal(t, whole, on)
}
