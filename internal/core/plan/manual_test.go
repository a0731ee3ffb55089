package plan_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/fire"
	"smolder/internal/core/fixture"
	"smolder/internal/core/plan"
	"smolder/internal/core/stove"
	"smolder/internal/core/wish"
)

// doors are how the steps set the door, and settings how they set a control, in their order.
func doors(steps []plan.Step) (out []fire.Door) {
	for _, s := range steps {
		for _, a := range s.Fire.Do {
			if a.Kind == fire.ActDoor {
				out = append(out, a.Door)
			}
		}
	}
	return out
}

func settings(steps []plan.Step, key string) (out []float64) {
	for _, s := range steps {
		for _, a := range s.Fire.Do {
			if a.Kind == fire.ActControl && a.Control == key {
				out = append(out, a.Opening)
			}
		}
	}
	return out
}

// The manual of a stove goes before the rule: how the door stands to light and for how long,
// which inlets are open, whether the ash flap may be, and when a catalyst is engaged.
func TestTheManualGoesBeforeTheRule(t *testing.T) {
	r := plan.Recipe{First: 2, Main: 3, Lay: fire.TopDown, Direction: stove.EndOn, Final: 0.5, Brisk: 1, Most: 1, Pause: 8 * time.Minute}
	w := fixture.Evening(fixture.Clinker, fixture.Spruce, wish.Cold)
	w.Stove.Controls = append(w.Stove.Controls, stove.Control{Key: "flap", Name: "Ash flap", Role: stove.AshFlap, Scale: stove.Scale{Kind: stove.PercentOpen}})
	flap := len(w.Stove.Controls) - 1
	usual := plan.Steps(w, r)
	assert.Equal(t, []fire.Door{fire.Ajar, fire.Shut}, doors(usual))
	assert.Equal(t, []float64{0}, settings(usual, "flap"), "shut on wood")

	shut := w
	shut.Stove.Manual.Door = stove.DoorShut
	assert.Equal(t, []fire.Door{fire.Shut}, doors(plan.Steps(shut, r)), "and no step that shuts it")

	short := w
	short.Stove.Manual.DoorFor = 5 * time.Minute
	door := plan.Steps(short, r)[1]
	require.Equal(t, plan.ShutDoor, door.Kind)
	assert.LessOrEqual(t, door.Fire.When.Latest, 5*time.Minute)
	assert.LessOrEqual(t, door.Fire.When.After, 5*time.Minute)

	lights := w
	lights.Stove.Manual.Flap = stove.FlapLight
	assert.Equal(t, []float64{1, 0}, settings(plan.Steps(lights, r), "flap"), "open to light, shut when it burns")
	coals := lights
	coals.Start = wish.GoodCoals
	assert.Equal(t, []float64{0}, settings(plan.Steps(coals, r), "flap"), "nothing is lit on coals")

	inlet := w
	inlet.Stove.Controls = append([]stove.Control(nil), w.Stove.Controls...)
	for i := range inlet.Stove.Controls {
		if inlet.Stove.Controls[i].Key == "grate" {
			inlet.Stove.Controls[i].ToLight = stove.OpenUntilBlack
		}
	}
	assert.Equal(t, []float64{1, 0}, settings(plan.Steps(inlet, r), "grate"), "open until the first turn-down")
	inlet.Stove.Controls[flap].ToLight = stove.StaysShut
	inlet.Stove.Manual.Flap = stove.FlapNever
	assert.Equal(t, []float64{0}, settings(plan.Steps(inlet, r), "flap"))

	comb := fixture.Evening(fixture.Loom, fixture.Oak, wish.GoodCoals)
	comb.Stove.Manual.Engage = 300
	for _, s := range plan.Steps(comb, r) {
		if s.Kind == plan.CloseIt {
			assert.InDelta(t, 300, float64(s.Fire.When.Above), 1e-9)
		}
	}
}

// A door that the manual has shut is never set ajar to help a fire.
func TestADoorThatStaysShut(t *testing.T) {
	w := fixture.Evening(fixture.Auntie, fixture.Beech, wish.FewCoals)
	w.Stove.Manual.Door = stove.DoorShut
	r := plan.Recipe{First: 1, Main: 5, Lay: fire.OnCoals, Direction: stove.EndOn, Final: 0.2, Brisk: 0.25, Most: 0.25, Pause: 3 * time.Minute}
	for _, l := range plan.Live(w, plan.Steps(w, r), 8, fire.Options{Until: 3 * time.Hour, Every: time.Minute}) {
		for _, s := range l.Samples {
			assert.Equal(t, fire.Shut, s.Door)
		}
	}
}
