package plan_test

import (
	"context"
	"runtime"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/fire"
	"smolder/internal/core/plan"
	"smolder/internal/core/units"
	"smolder/internal/demo"
)

func TestADayOfCycles(t *testing.T) {
	w := wish(0, 0, plan.Cold)
	w.Outdoor, w.Room, w.Low, w.High = 4, 17, 18, 22
	d, err := plan.PlanDay(t.Context(), w, 14*time.Hour, nil)
	require.NoError(t, err)
	require.Greater(t, len(d.Windows), 1, "a cold day takes more than one load")
	for i, win := range d.Windows {
		assert.LessOrEqual(t, win.From, win.Best)
		assert.Less(t, win.Best, win.Until)
		assert.LessOrEqual(t, win.Fire.Mass(), w.Stove.MaxLoad+units.Kilogram(5), "first fire and load together at most")
		assert.NotEmpty(t, win.What)
		assert.LessOrEqual(t, win.Best, 13*time.Hour, "none that warms only when the day is over")
		if i > 0 {
			assert.Greater(t, win.Best, d.Windows[i-1].Best+time.Hour, "never on top of a fresh load")
		}
	}
	assert.NotEmpty(t, d.Say(units.Metric))
	assert.Len(t, d.Room, 14*6)
	for i := 7; i < len(d.Room); i++ { // a loaded stove is still warm
		assert.Greater(t, float64(d.Room[i]-d.Room[i-1]), -0.3, "the room does not fall in a hole at %v", time.Duration(i)*d.Every)
	}

	mild := w
	mild.Outdoor, mild.Room = 14, 19
	m, err := plan.PlanDay(t.Context(), mild, 14*time.Hour, nil)
	require.NoError(t, err)
	assert.Less(t, m.Wood, d.Wood, "a mild day takes less wood")
	require.NotEmpty(t, m.Windows)
	assert.Positive(t, m.Windows[0].Best, "the room is warm: the first fire waits until it is not")
	summer := mild
	summer.Outdoor, summer.Room = 19, 20
	none, err := plan.PlanDay(t.Context(), summer, 14*time.Hour, nil)
	require.NoError(t, err)
	assert.Empty(t, none.Windows)
	assert.Contains(t, strings.Join(none.Say(units.Metric), " "), "No fire is needed")
	late := w
	late.There = plan.Presence{{From: 3 * time.Hour, To: 15 * time.Hour}}
	after, err := plan.PlanDay(t.Context(), late, 14*time.Hour, nil)
	require.NoError(t, err)
	assert.Equal(t, 3*time.Hour, after.Windows[0].Best, "somebody comes home and lights it")
	assert.LessOrEqual(t, len(m.Windows), len(d.Windows))

	out := w
	out.There = plan.Presence{{To: 2 * time.Hour}, {From: 10 * time.Hour, To: 15 * time.Hour}}
	away, err := plan.PlanDay(t.Context(), out, 14*time.Hour, nil)
	require.NoError(t, err)
	for _, win := range away.Windows {
		assert.True(t, out.There.Somebody(win.Best+30*time.Minute), "no load while nobody is there: %v", win.Best)
	}
	assert.Contains(t, strings.Join(away.Say(units.Metric), " "), "nobody is there long enough")
}

// A day burns from all the stacks at hand, and what it has burnt is gone.
func TestADayTakesItsWoodFromTheStacks(t *testing.T) {
	w := wish(0, 0, plan.Cold)
	w.Outdoor, w.Room, w.Low, w.High = 0, 17, 19, 22
	w.Wood.Stack.Mass = 3.2 * w.Wood.Stack.PieceMass
	w.Others = []plan.Pick{{ID: 3, Stack: demo.Stacks()[3]}}
	d, err := plan.PlanDay(t.Context(), w, 14*time.Hour, nil)
	require.NoError(t, err)
	taken := map[string]int{}
	for _, win := range d.Windows {
		first, main := win.Fire.Loads()
		for _, l := range []fire.Load{first, main} {
			taken[l.StackName] += l.Pieces
		}
	}
	assert.LessOrEqual(t, taken[w.Wood.Stack.Name], 3, "no more pieces than there are")
	assert.Positive(t, taken[w.Others[0].Stack.Name], "then the other stack")
	assert.InDelta(t, 3.2*float64(w.Wood.Stack.PieceMass), float64(w.Wood.Stack.Mass), 1e-9, "the wish is the caller's")

	w.Others = nil
	d, err = plan.PlanDay(t.Context(), w, 14*time.Hour, nil)
	require.NoError(t, err)
	assert.Contains(t, strings.Join(d.Say(units.Imperial), " "), "none could be planned", "the wood is used up, and that is said")
}

func TestADayFollowsItsWeather(t *testing.T) {
	w := wish(0, 0, plan.Cold)
	w.Outdoor, w.Room, w.Low, w.High = 10, 18, 18, 22
	w.Weather = []fire.Weather{{At: 0, Outdoor: 10}, {At: 6 * time.Hour, Outdoor: -6}, {At: 20 * time.Hour, Outdoor: -8}}
	turning, err := plan.PlanDay(t.Context(), w, 14*time.Hour, nil)
	require.NoError(t, err)
	w.Weather = nil
	even, err := plan.PlanDay(t.Context(), w, 14*time.Hour, nil)
	require.NoError(t, err)
	assert.Greater(t, turning.Wood, even.Wood, "frost in the evening wants its wood")
	w.Wood.Stack.Reading = 0.5
	_, err = plan.PlanDay(t.Context(), w, 14*time.Hour, nil)
	assert.Error(t, err)
}

// A search for which nobody waits any more ends, and is neither a plan nor a
// refusal.
func TestASearchIsGivenUp(t *testing.T) {
	ctx, cancel := context.WithCancel(t.Context())
	m := &plan.Meter{}
	go func() {
		for burnt, _ := m.Read(); burnt == 0; burnt, _ = m.Read() {
			runtime.Gosched()
		}
		cancel()
	}()
	w := wish(0, 0, plan.Cold)
	_, err := plan.Search(ctx, w, m)
	require.ErrorIs(t, err, context.Canceled)
	refused := new(plan.Refusal)
	assert.NotErrorAs(t, err, &refused)
	burnt, all := m.Read()
	assert.Less(t, burnt, all, "it did not burn them all")
	_, err = plan.PlanDay(ctx, w, 14*time.Hour, nil)
	assert.ErrorIs(t, err, context.Canceled)
}
