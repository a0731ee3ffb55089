package fire_test

import (
	"fmt"
	"math"
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

// factors are the uncertain numbers of a stove, each moved by its usual spread.
var factors = []struct {
	name string
	fire.Tuning
}{
	{"leak × 1.8", fire.Tuning{Leak: 1.8}},
	{"inlets × 1.3", fire.Tuning{Inlets: 1.3}},
	{"curve ^ 1.5", fire.Tuning{Curve: 1.5}},
	{"exchange × 1.25", fire.Tuning{Exchange: 1.25}},
	{"shield × 1.3", fire.Tuning{Shield: 1.3}},
	{"char rate × 1.3", fire.Tuning{CharRate: 1.3}},
	{"flue loss × 1.3", fire.Tuning{FlueLoss: 1.3}},
	{"smoke × 1.6", fire.Tuning{Smoke: 1.6}},
	{"probe reads × 1.08", fire.Tuning{Probe: fire.GaugeTuning{Error: 1.08}}},
	{"probe lags × 1.5", fire.Tuning{Probe: fire.GaugeTuning{Lag: 1.5}}},
	{"top reads × 1.08", fire.Tuning{Top: fire.GaugeTuning{Error: 1.08}}},
}

// sixHours burns the usual evening, turned down by the clock, so that a gauge that
// reads wrong moves no hand.
func sixHours(tuning fire.Tuning) fire.Result {
	s := subject{mid(stove.SecondaryAir, 55)}
	setup := s.setup()
	setup.Tuning = tuning
	at := func(minutes int, o float64) fire.Move {
		return fire.Move{When: fire.Trigger{At: time.Duration(minutes) * time.Minute}, Do: []fire.Act{s.air(o)}}
	}
	return fire.Run(setup, []fire.Move{{Do: []fire.Act{s.air(1), {Kind: fire.ActLoad, Load: s.load(6, 0.18, 4, stove.EndOn)}}},
		at(8, 0.5), at(14, 0.25)}, fire.Options{Until: 6 * time.Hour})
}

// Every factor of a tuning does something, and in the direction that it says;
// none is no tuning.
func TestATuningChangesTheFire(t *testing.T) {
	of := func(tuning fire.Tuning) fire.Summary { return sixHours(tuning).Summary }
	plain := of(fire.Tuning{})
	one := fire.GaugeTuning{Error: 1, Lag: 1}
	assert.Equal(t, plain, of(fire.Tuning{Leak: 1, Inlets: 1, Curve: 1, Exchange: 1, Shield: 1, CharRate: 1, FlueLoss: 1, Smoke: 1,
		Top: one, Probe: one, Surface: one, Catalyst: one, Firebox: one}))
	assert.InDelta(t, 1.5*plain.Smoke, of(fire.Tuning{Smoke: 1.5}).Smoke, 0.02*plain.Smoke)
	assert.Greater(t, of(fire.Tuning{Exchange: 1.2}).Efficiency, plain.Efficiency)
	assert.Less(t, of(fire.Tuning{CharRate: 1.3}).Coals, plain.Coals)
	assert.Less(t, of(fire.Tuning{Shield: 1.2}).ToCoals, plain.ToCoals)
	assert.Less(t, of(fire.Tuning{FlueLoss: 1.3}).MinDraft, plain.MinDraft)
	assert.NotEqual(t, plain.PeakGas, of(fire.Tuning{Leak: 2}).PeakGas)
	assert.NotEqual(t, plain.PeakGas, of(fire.Tuning{Inlets: 1.3}).PeakGas)
	assert.Greater(t, of(fire.Tuning{Curve: 1.5}).ToCoals, plain.ToCoals, "a lever that shuts sooner")
	// A gauge that reads wrong shows it, and changes no fire and no limit.
	high, truth := sixHours(fire.Tuning{Probe: fire.GaugeTuning{Error: 1.1}}), sixHours(fire.Tuning{})
	a, _ := high.Samples[60].Reading(stove.ConnectorProbe)
	b, _ := truth.Samples[60].Reading(stove.ConnectorProbe)
	assert.InEpsilon(t, 1.1*float64(b), float64(a), 1e-9)
	assert.Equal(t, truth.Summary, high.Summary)
	late, _ := sixHours(fire.Tuning{Probe: fire.GaugeTuning{Lag: 2}}).Samples[2].Reading(stove.ConnectorProbe)
	soon, _ := truth.Samples[2].Reading(stove.ConnectorProbe)
	assert.Less(t, late, soon, "a slow probe is behind a fire that rises")
}

// What each factor does to a burn, and which of them a flue probe alone can tell
// apart: two whose effects on its trace point the same way (a cosine near 1) are
// one to it.
func TestSensitivities(t *testing.T) {
	trace := func(r fire.Result) (out []float64) {
		for i := 4; i < len(r.Samples); i += 4 {
			g, _ := r.Samples[i].Reading(stove.ConnectorProbe)
			out = append(out, float64(g))
		}
		return out
	}
	plain := sixHours(fire.Tuning{})
	base := trace(plain)
	report := fmt.Sprintf("\n%-20s %8s %8s %8s %8s %8s %8s %10s\n", "", "gas peak", "top peak", "h", "η %", "g/kg", "coals kg", "probe, K rms")
	effects := make([][]float64, len(factors))
	for i, f := range factors {
		r := sixHours(f.Tuning)
		m, sum := r.Summary, 0.0
		for j, g := range trace(r) {
			d := g - base[j]
			effects[i] = append(effects[i], d)
			sum += d * d
		}
		p := plain.Summary
		report += fmt.Sprintf("%-20s %+8.0f %+8.0f %+8.2f %+8.1f %+8.1f %+8.2f %10.1f\n", f.name, float64(m.PeakGas-p.PeakGas), float64(m.PeakTop-p.PeakTop),
			(m.ToCoals - p.ToCoals).Hours(), (m.Efficiency - p.Efficiency).Percent(), m.SmokePerKg-p.SmokePerKg, float64(m.Coals-p.Coals),
			math.Sqrt(sum/float64(len(base))))
		unseen := f.Smoke > 0 || f.Top.Error > 0
		assert.Equal(t, unseen, sum == 0, "%s: a flue probe sees it, or does not", f.name)
	}
	alike := 0
	for i := range factors {
		for j := range i {
			if c := cosine(effects[i], effects[j]); math.Abs(c) > 0.9 {
				alike++
				report += fmt.Sprintf("a flue probe alone hardly tells %s from %s (cosine %.2f)\n", factors[i].name, factors[j].name, c)
			}
		}
	}
	t.Log(report)
	assert.Less(t, alike, 8, "most of them have a trace of their own")
}

// cosine is that of the angle between two effects; 0 where one is none.
func cosine(a, b []float64) float64 {
	ab, aa, bb := 0.0, 0.0, 0.0
	for i := range a {
		ab, aa, bb = ab+a[i]*b[i], aa+a[i]*a[i], bb+b[i]*b[i]
	}
	if aa == 0 || bb == 0 {
		return 0
	}
	return ab / math.Sqrt(aa*bb)
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
