package plan_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"smolder/internal/core/fire"
	"smolder/internal/core/house"
	"smolder/internal/core/plan"
	"smolder/internal/core/units"
)

func TestWhatToDoNow(t *testing.T) {
	situation := func(outdoor, room units.Celsius, coals units.Kilogram) plan.Situation {
		return plan.Situation{House: house.Default(), Wanted: [2]units.Celsius{19, 21.5}, Volume: 55,
			Outdoor: func(time.Duration) units.Celsius { return outdoor }, Last: &fire.Sample{Room: room, Coals: coals}}
	}
	for _, c := range []struct {
		outdoor, room units.Celsius
		coals         units.Kilogram
		do            string
		light         bool
	}{
		{0, 16, 0, "Light a fire", true},
		{0, 18, 0.3, "Restart on the coals, with small wood", true},
		{0, 18.5, 0.8, "Load on the coals", true},
		{0, 21.5, 0.8, "Nothing yet", false},
		{18.5, 21, 0, "Nothing: the house holds", false},
	} {
		a := plan.Advise(situation(c.outdoor, c.room, c.coals), units.Metric)
		assert.Equal(t, c.do, a.Do, "%v outside, %v inside", c.outdoor, c.room)
		assert.Equal(t, c.light, a.Light)
		assert.NotEmpty(t, a.Why)
		assert.True(t, a.Known)
	}
	wait := plan.Advise(situation(0, 21.5, 0.8), units.Metric)
	colder := plan.Advise(situation(-12, 21.5, 0.8), units.Metric)
	assert.Greater(t, wait.Wait, colder.Wait, "a colder night waits less")
	assert.Contains(t, plan.Advise(situation(13, 18, 0), units.Metric).Why, "small hot fire")
	unknown := situation(0, 0, 0)
	unknown.Last = nil
	assert.Equal(t, "Look at the room first", plan.Advise(unknown, units.Metric).Do)
	unknown.Outdoor = func(time.Duration) units.Celsius { return 25 }
	assert.Equal(t, "No fire is needed", plan.Advise(unknown, units.Imperial).Do)
}
