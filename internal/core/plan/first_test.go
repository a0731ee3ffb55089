package plan_test

import (
	"fmt"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"smolder/internal/core/fire"
	"smolder/internal/core/fixture"
	"smolder/internal/core/plan"
	"smolder/internal/core/stove"
	"smolder/internal/core/wish"
)

// TestAFirstFireIsLaidOfThinWood: thick pieces are split again for it, and all of the wood
// is there.
func TestAFirstFireIsLaidOfThinWood(t *testing.T) {
	for _, stack := range []int{fixture.Beech, fixture.Oak, fixture.Spruce} {
		for _, start := range []wish.Start{wish.Cold, wish.FewCoals} {
			w := fixture.Evening(fixture.Auntie, stack, start)
			r := usual
			r.First, r.Lay = 2, fire.TopDown
			made := plan.Make(w, r, nil, plan.Run(w, plan.Steps(w, r)), 1)
			first, main := made.Loads()
			taken, _ := made.Taken()
			assert.Equal(t, 2, taken.Pieces, "off the stack")
			assert.InDelta(t, float64(first.Mass()), float64(taken.Mass()), 1e-9)
			name := fmt.Sprint(w.Wood.Stack.Name, " ", start)
			assert.LessOrEqual(t, float64(first.PieceMass), 0.8+1e-9, name)
			assert.InDelta(t, 2*float64(w.Wood.Stack.PieceMass), float64(first.Mass()), 1e-9, name)
			assert.Equal(t, 2*w.FirstParts(0), first.Pieces, name)
			assert.InDelta(t, float64(w.Wood.Stack.PieceMass), float64(main.PieceMass), 1e-9, "what goes on coals stays as it is")
		}
	}
}

// TestABeginningAsGoodBurnersMakeIt burns the same first fire as a plan has it and as a
// careful habit does, which lays whole pieces and shuts the door after eight minutes: what
// is done with more care at the beginning makes clearly less smoke, in every stove.
func TestABeginningAsGoodBurnersMakeIt(t *testing.T) {
	for _, n := range []int{fixture.Auntie, fixture.Loom} {
		w := fixture.Evening(n, fixture.Beech, wish.Cold)
		r := usual
		r.First, r.Main, r.Lay, r.Direction = 2, 0, fire.TopDown, stove.Sideways
		good := plan.Fires(plan.Steps(w, r))[:2] // to light, and to shut the door
		first, kindling := w.LoadOf(0, 2, stove.Sideways, fire.TopDown), w.KindlingLoad(fire.TopDown)
		do := []fire.Act{}
		for _, a := range good[0].Do {
			if a.Load == nil && a.Kind != fire.ActLight {
				do = append(do, a)
			}
		}
		do = append(do, fire.Act{Kind: fire.ActLoad, Load: &first}, fire.Act{Kind: fire.ActLoad, Load: &kindling}, fire.Act{Kind: fire.ActLight})
		habit := []fire.Move{{Do: do}, {When: fire.Trigger{After: 8 * time.Minute}, Do: []fire.Act{{Kind: fire.ActDoor, Door: fire.Shut}}}}
		until := fire.Options{Until: 90 * time.Minute}
		by, against := fire.Run(w.Setup(), good, until).Summary, fire.Run(w.Setup(), habit, until).Summary
		assert.Less(t, by.Smoke, 0.85*against.Smoke, w.Stove.Name)
		assert.InDelta(t, float64(against.In), float64(by.In), 0.15*float64(against.In), "the same wood")
	}
}
