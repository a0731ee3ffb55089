package plan_test

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/fire"
	"smolder/internal/core/plan"
	"smolder/internal/core/units"
)

// Whoever lights another way than the planner's gets a plan for that way, or
// hears why not.
func TestAPlanForEveryLay(t *testing.T) {
	smoke := map[fire.Lay]float64{}
	for _, l := range fire.Lays {
		w := wish(0, 0, plan.Cold)
		w.Lay = l.Key
		p, err := plan.Make(w)
		if l.Key == fire.OnCoals {
			assert.ErrorContains(t, err, "no lay called", "coals are not laid")
			continue
		}
		if err != nil {
			assert.ErrorContains(t, err, "Another lay would do", l.Key)
			continue
		}
		smoke[l.Key] = p.Summary.SmokePerKg
		assert.Equal(t, l.Key, p.Lay)
		said := p.Say(units.Metric)[0]
		assert.Contains(t, said.Do, "door ajar")
		assert.NotContains(t, said.Do, "%!")
		if l.Key == fire.OpenV {
			assert.GreaterOrEqual(t, p.First, 2, "a V of two")
		}
	}
	require.Contains(t, smoke, fire.TopDown)
	if s, ok := smoke[fire.BottomUp]; ok {
		assert.Greater(t, s, smoke[fire.TopDown], "lit from below it smokes more")
	}
	best, err := plan.Make(wish(0, 0, plan.Cold))
	require.NoError(t, err)
	assert.LessOrEqual(t, best.Summary.SmokePerKg, smoke[fire.TopDown]+0.5)
	w := wish(0, 0, plan.Cold)
	w.Lay = "pyramid"
	_, err = plan.Make(w)
	assert.ErrorContains(t, err, `no lay called "pyramid"`)
}

// Nothing is asked of hands that are not there.
func TestEveryStepComesWhileSomebodyIsThere(t *testing.T) {
	for _, start := range []plan.Start{plan.Cold, plan.GoodCoals} {
		w := wish(0, 0, start)
		w.Aim, w.For, w.There = plan.Away, 7*time.Hour, plan.Presence{{To: 2 * time.Hour}}
		p, err := plan.Make(w)
		require.NoError(t, err, start)
		for _, s := range p.Steps {
			assert.GreaterOrEqual(t, s.Expected, time.Duration(0), s.Kind)
			assert.LessOrEqual(t, s.Expected, w.There[0].To-15*time.Minute, s.Kind)
			assert.LessOrEqual(t, s.Latest, w.There[0].To-10*time.Minute, "%s: and with wetter wood", s.Kind)
			assert.NotEqual(t, plan.ReloadTime, s.Kind, "nobody to reload")
		}
		assert.Contains(t, strings.Join(p.Warnings(units.Metric), " "), "watched for 15 min")
	}
	w := wish(0, 0, plan.Cold)
	w.There = plan.Presence{{To: 30 * time.Minute}}
	_, err := plan.Make(w)
	require.ErrorContains(t, err, "in the 30 min that somebody is there")
	assert.ErrorContains(t, err, "Stay longer")
}

// A stove whose manual allows one piece is fed piece by piece, and says so.
func TestSinglePieces(t *testing.T) {
	for _, start := range []plan.Start{plan.Cold, plan.GoodCoals} {
		w := wish(3, woodOf[3], start)
		w.Stove.MaxLoad = w.Wood.Stack.PieceMass * 3 / 2
		w.For = 90 * time.Minute
		p, err := plan.Make(w)
		require.NoError(t, err, start)
		assert.LessOrEqual(t, p.Main, 1)
		assert.LessOrEqual(t, p.First, 1)
		assert.Contains(t, strings.Join(p.Warnings(units.Metric), " "), "planned piece by piece")
	}
	w := wish(0, 0, plan.Cold)
	w.Stove.MaxLoad = w.Wood.Stack.PieceMass * 3 / 2
	_, err := plan.Make(w)
	require.ErrorContains(t, err, "One piece by itself does not keep this firebox hot", "a large one")
	p, err := plan.Make(wish(0, 0, plan.GoodCoals))
	require.NoError(t, err)
	assert.NotContains(t, strings.Join(p.Warnings(units.Metric), " "), "piece by piece")
}
