package behave_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"smolder/internal/core/behave"
	"smolder/internal/core/fire"
	"smolder/internal/core/fixture"
	"smolder/internal/core/plan"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
)

func TestWhatAStoveCanGive(t *testing.T) {
	w := fixture.Evening(0, 0, wish.GoodCoals)
	o := behave.OutputRange(w)
	assert.Greater(t, o.Low, units.Watt(800))
	assert.Greater(t, o.High, 14*o.Low/10, "a stove has a range")
	assert.Less(t, o.High, units.Watt(14000))
	assert.Equal(t, plan.TooMuch, o.Match(o.Low/3))
	assert.Equal(t, plan.TooLittle, o.Match(o.High*2))
	assert.Equal(t, plan.Suits, o.Match((o.Low+o.High)/2))
	w.Wood.Stack.Reading = 0.6
	assert.Equal(t, plan.NoClean, behave.OutputRange(w).Match(2000))
}

func TestTrial(t *testing.T) {
	w := fixture.Evening(1, 1, wish.Cold)
	setup, steps := behave.Trial(w, 4, stove.Sideways, 0.25)
	assert.Positive(t, float64(setup.Coals), "always on coals")
	r := fire.Run(setup, steps, fire.Options{Until: 3 * time.Hour})
	assert.Zero(t, r.Summary.MovesMissed)
	assert.Equal(t, stove.Sideways, steps[0].Do[len(steps[0].Do)-2].Load.Direction)
	last := steps[len(steps)-1].Do[0]
	assert.InDelta(t, 0.25, last.Opening, 1e-9)
}
