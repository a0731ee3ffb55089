package plan_test

import (
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/fire"
	"smolder/internal/core/plan"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// reached is when the room comes to a temperature.
func reached(p plan.Plan, t float64) time.Duration {
	i := slices.IndexFunc(p.Predicted.Room, func(r float64) bool { return r >= t })
	if i < 0 {
		return p.Wish.For * 2
	}
	return time.Duration(i) * p.Predicted.Every
}

func TestAims(t *testing.T) {
	plans := map[plan.Aim]plan.Plan{}
	for _, a := range plan.Aims {
		w := wish(0, 0, plan.GoodCoals)
		w.Aim = a.Key
		if a.Key == plan.Overnight {
			w.For, w.Wood.Stack = 9*time.Hour, wish(1, 1, plan.Cold).Wood.Stack // the oak
		}
		p, err := plan.Make(w)
		require.NoError(t, err, a.Key)
		plans[a.Key] = p
		assert.Greater(t, p.Tried, 20)
	}
	assert.LessOrEqual(t, reached(plans[plan.WarmUp], 19), reached(plans[plan.TakeOff], 19), "to warm up quickly is to be warm soon")
	assert.LessOrEqual(t, plans[plan.TakeOff].Mass(), plans[plan.WarmUp].Mass(), "the chill takes little wood")
	assert.Greater(t, float64(plans[plan.Overnight].Summary.Coals), 0.1, "coals in the morning")
	assert.True(t, plan.Hold.Known() && plan.Cold.Known())
	assert.False(t, plan.Aim("dance").Known() || plan.Start("lukewarm").Known())
}

// Whatever is planned is said: every step of every stove has words, in both
// systems of units, and the simulated hand finds every sign.
func TestEveryStepIsSaidAndComesToPass(t *testing.T) {
	for i := range 4 {
		p, err := plan.Make(wish(i, woodOf[i], plan.Cold))
		require.NoError(t, err)
		for _, sys := range []units.System{units.Metric, units.Imperial} {
			said := p.Say(sys)
			require.Len(t, said, len(p.Steps))
			for _, in := range said {
				assert.NotEmpty(t, in.Do)
				assert.NotEmpty(t, in.Sign)
				assert.NotContains(t, in.Do+in.Sign+in.Why, "%!", "a broken format")
			}
			assert.NotEmpty(t, p.Sentence(sys))
			for _, line := range append(p.Checklist(sys), p.Warnings(sys)...) {
				assert.NotContains(t, line, "%!")
				assert.True(t, strings.HasSuffix(line, "."), line)
			}
		}
		for _, s := range p.Steps {
			if s.Kind != plan.ReloadTime && s.Kind != plan.LightIt {
				assert.GreaterOrEqual(t, s.Expected, time.Duration(0), "%s: %s never comes", p.Wish.Stove.Name, s.Kind)
			}
			if s.Kind == plan.TurnDown {
				air, _ := p.Wish.Stove.MainAir()
				if air.Scale.Kind == stove.Notches {
					assert.InDelta(t, s.Opening, air.Scale.Nearest(s.Opening), 1e-9, "a notch there is")
				}
			}
		}
	}
}

func TestPlansWarn(t *testing.T) {
	w := wish(0, 0, plan.GoodCoals)
	w.Wood.Stack.Reading = 0.22
	p, err := plan.Make(w)
	require.NoError(t, err)
	assert.Contains(t, strings.Join(p.Warnings(units.Metric), " "), "Wood under 20 % would burn better")
	far := wish(0, 0, plan.GoodCoals)
	far.Outdoor, far.Room, far.For = -28, 5, 8*time.Hour
	p, err = plan.Make(far)
	require.NoError(t, err)
	assert.Contains(t, strings.Join(p.Warnings(units.Metric), " "), "burning hotter is not the way")
	tiny, err := plan.Make(wish(3, 4, plan.Cold))
	require.NoError(t, err)
	assert.Contains(t, strings.Join(tiny.Warnings(units.Metric), " "), "opening for fresh air")
}

// A cold chimney is primed in the plan as it is on the checklist, and a flue on
// an outside wall needs it more.
func TestPriming(t *testing.T) {
	w := wish(2, 2, plan.Cold)
	p, err := plan.Make(w)
	require.NoError(t, err)
	require.True(t, p.Before.Prime)
	primed := false
	for _, a := range p.Steps[0].Fire.Do {
		primed = primed || a.Kind == fire.ActPrime
	}
	assert.True(t, primed)
	assert.Contains(t, p.Say(units.Metric)[0].Sign, "warm the flue")
	assert.Contains(t, strings.Join(p.Checklist(units.Metric), " "), "burning paper held high")
	w.Outdoor, w.Stove.Chimney.Outside = -15, false
	w.Room = 18
	cold := plan.BeforeLighting(w)
	assert.False(t, cold.Prime, "frost outside and a chimney in the house: %v Pa", cold.Net)
}

func TestTrial(t *testing.T) {
	w := wish(1, 1, plan.Cold)
	setup, steps := w.Trial(4, stove.Sideways, 0.25)
	assert.Positive(t, float64(setup.Coals), "always on coals")
	r := fire.Run(setup, steps, fire.Options{Until: 3 * time.Hour})
	assert.Zero(t, r.Summary.StepsMissed)
	assert.Equal(t, stove.Sideways, steps[0].Do[len(steps[0].Do)-2].Load.Direction)
	last := steps[len(steps)-1].Do[0]
	assert.InDelta(t, 0.25, last.Opening, 1e-9)
}

func TestSeveralStacksAndAlternatives(t *testing.T) {
	w := wish(0, 2, plan.Cold) // spruce at hand, and the oak
	w.Wood.ID = 3
	w.Others = []plan.Pick{{ID: 2, Stack: wish(1, 1, plan.Cold).Wood.Stack}}
	w.Aim, w.For = plan.Overnight, 9*time.Hour
	c, err := plan.Search(t.Context(), w, nil)
	require.NoError(t, err)
	require.Len(t, c.Plans, 3, "the best and two real alternatives")
	require.Len(t, c.Plans, 3)
	seen := map[string]bool{}
	for i, p := range c.Plans {
		said := p.Sentence(units.Metric)
		assert.False(t, seen[said], "%s is there twice", said)
		seen[said] = true
		assert.NotEmpty(t, c.Why(i, units.Metric))
		assert.LessOrEqual(t, p.Summary.TooHot, 2*time.Minute)
		assert.Less(t, p.Summary.SmokePerKg, 9.5)
		for _, s := range p.Steps {
			for _, a := range s.Fire.Do {
				if a.Load != nil && !a.Load.Kindling {
					assert.Contains(t, []int64{2, 3}, a.Load.StackID, "from a stack that is at hand")
				}
			}
		}
	}
	first := strings.Join([]string{c.Plans[0].Say(units.Metric)[0].Do, c.Plans[0].Sentence(units.Metric)}, " ")
	assert.Contains(t, first, c.Plans[0].FirstOf.Stack.Name, "which stack is said where there are several")
	alone, err := plan.Search(t.Context(), wish(0, 0, plan.GoodCoals), nil)
	require.NoError(t, err)
	assert.Greater(t, alone.Tried, 100)
}

// Wood that is too wet is used only with what it costs, in figures.
func TestWetWoodSaysWhatItCosts(t *testing.T) {
	w := wish(0, 0, plan.GoodCoals)
	w.Wood.Stack.Reading = 0.22
	p, err := plan.Make(w)
	require.NoError(t, err)
	require.NotNil(t, p.IfDry)
	assert.Less(t, p.IfDry.SmokePerKg, p.Summary.SmokePerKg)
	assert.Regexp(t, `Dried to 18 % the same pieces would make \d\.\d g of smoke per kg instead of \d\.\d`, strings.Join(p.Warnings(units.Metric), " "))
	w.Wood.Stack.Reading = 0.14
	p, err = plan.Make(w)
	require.NoError(t, err)
	assert.Nil(t, p.IfDry)
}
