package plan_test

import (
	"context"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/fire"
	"smolder/internal/core/fixture"
	"smolder/internal/core/plan"
	"smolder/internal/core/search"
	"smolder/internal/core/stove"
	"smolder/internal/core/when"
	"smolder/internal/core/wish"
)

// kitchen is a plan of a quick search in the kitchen's stove, changed before.
func kitchen(t *testing.T, change func(*wish.Wish)) plan.Plan {
	t.Helper()
	w := fixture.Evening(fixture.Auntie, fixture.Beech, wish.Cold)
	w.OneLoad = true
	change(&w)
	p, err := search.Best(context.Background(), w, search.Quick, nil)
	require.NoError(t, err)
	return p
}

func with(s *stove.Stove, role stove.Role, name string) {
	s.Controls = append(append([]stove.Control{}, s.Controls...), stove.Control{Key: string(role), Name: name, Role: role, Scale: stove.Scale{Kind: stove.PercentOpen}})
}

func stepOf(p plan.Plan, k plan.StepKind) (plan.Step, bool) {
	for _, s := range p.Steps {
		if s.Kind == k {
			return s, true
		}
	}
	return plan.Step{}, false
}

func brought(p plan.Plan, k plan.StepKind) (plan.Extra, bool) {
	for _, b := range p.Extras {
		if b.Kind == k {
			return b, true
		}
	}
	return plan.Extra{}, false
}

// A room blower goes on once the stove is warm and brings heat; it is off at the match, off
// again at a load, and stays off where people sleep or the room is warm already.
func TestTheBlower(t *testing.T) {
	p := kitchen(t, func(w *wish.Wish) {
		with(&w.Stove, stove.Blower, "Room blower")
		w.Outdoor, w.OneLoad, w.For = -6, false, 8*time.Hour
	})
	s, ok := stepOf(p, plan.BlowIt)
	require.True(t, ok)
	b, _ := brought(p, plan.BlowIt)
	assert.Positive(t, float64(b.Heat))
	down, _ := stepOf(p, plan.TurnDown)
	assert.Greater(t, s.Expected, down.Expected)
	for _, s := range p.Steps {
		for _, set := range s.Settings(p.Wish.Stove) {
			if set.Control.Role == stove.Blower {
				assert.Equal(t, s.Kind == plan.BlowIt, set.Opening > 0, "%s: %v", s.Kind, set.Opening)
			}
		}
		if s.Kind == plan.FeedIt {
			assert.Contains(t, s.Fire.Do, fire.Act{Kind: fire.ActControl, Control: string(stove.Blower), Role: stove.Blower}, "off before the door")
		}
	}
	for name, change := range map[string]func(*wish.Wish){
		"no blower": func(*wish.Wish) {},
		"asleep": func(w *wish.Wish) {
			with(&w.Stove, stove.Blower, "Room blower")
			w.Aim, w.Start = wish.Overnight, wish.GoodCoals
		},
		"warm": func(w *wish.Wish) { with(&w.Stove, stove.Blower, "Room blower"); w.Outdoor, w.Room = 16, 22 },
	} {
		p := kitchen(t, change)
		_, is := stepOf(p, plan.BlowIt)
		assert.False(t, is, name)
	}
}

// A damper in the flue of a chimney that draws hard is shut partly with the last turn-down:
// more heat, no more smoke; never under a quarter, and open again for a load.
func TestAFlueDamper(t *testing.T) {
	strong := func(w *wish.Wish) { w.Stove.Chimney.Height, w.Outdoor = 11, -8 }
	bare := kitchen(t, strong)
	p := kitchen(t, func(w *wish.Wish) { strong(w); with(&w.Stove, stove.Damper, "Flue damper") })
	b, is := brought(p, plan.DampFlue)
	require.True(t, is)
	assert.Positive(t, float64(b.Heat))
	assert.LessOrEqual(t, p.Summary.Smoke, 1.06*bare.Summary.Smoke)
	for _, s := range p.Steps {
		for _, set := range s.Settings(p.Wish.Stove) {
			if set.Control.Role == stove.Damper {
				assert.GreaterOrEqual(t, set.Opening, 0.25, "coals must not starve")
				assert.Equal(t, s.Kind == plan.TurnDown && s.Last, set.Opening < 1, "%s", s.Kind)
			}
		}
	}
}

// A window that was opened for the draft is shut once the flue draws, and opened for the next
// load; in a boat it stays open.
func TestAWindowThatMayBeShut(t *testing.T) {
	p := kitchen(t, func(w *wish.Wish) { w.Help.Window, w.OneLoad, w.For = true, false, 8*time.Hour })
	s, ok := stepOf(p, plan.ShutWindow)
	require.True(t, ok)
	assert.Contains(t, s.Fire.Do, fire.Act{Kind: fire.ActWindow})
	for _, s := range p.Steps {
		if s.Kind == plan.FeedIt {
			assert.Contains(t, s.Fire.Do, fire.Act{Kind: fire.ActWindow, Open: true})
		}
	}
	boat := kitchen(t, func(w *wish.Wish) {
		*w = fixture.Evening(fixture.Pip, fixture.CabinCuts, wish.Cold)
		w.Help.Window = true
	})
	_, ok = stepOf(boat, plan.ShutWindow)
	assert.False(t, ok)
	tight := kitchen(t, func(w *wish.Wish) { w.Help.Window, w.House.N50, w.House.Fan = true, 2, 160 })
	_, ok = stepOf(tight, plan.ShutWindow)
	assert.False(t, ok, "the kitchen's fan pulls at it")
}

// At bedtime the gate stays open as long as anything glows, and the damper a quarter; with
// nothing left both are shut.
func TestBedtime(t *testing.T) {
	gate := func(w *wish.Wish) {
		with(&w.Stove, stove.OutsideAir, "Gate")
		with(&w.Stove, stove.Damper, "Flue damper")
	}
	opens := func(p plan.Plan) map[stove.Role]float64 {
		s, ok := stepOf(p, plan.BedTime)
		require.True(t, ok)
		out := map[stove.Role]float64{}
		for _, set := range s.Settings(p.Wish.Stove) {
			out[set.Control.Role] = set.Opening
		}
		return out
	}
	night := kitchen(t, func(w *wish.Wish) { gate(w); w.Aim, w.For, w.Start = wish.Overnight, 8*time.Hour, wish.GoodCoals })
	b, _ := brought(night, plan.BedTime)
	assert.True(t, b.Burns)
	assert.Equal(t, map[stove.Role]float64{stove.OutsideAir: 1}, opens(night), "what burns keeps its air")
	coals := kitchen(t, func(w *wish.Wish) {
		gate(w)
		w.Aim, w.For, w.Start, w.There = wish.Hold, 11*time.Hour, wish.GoodCoals, when.Presence{{From: 0, To: 4*time.Hour + 30*time.Minute}}
	})
	b, _ = brought(coals, plan.BedTime)
	require.True(t, b.Glows && !b.Burns)
	assert.Equal(t, map[stove.Role]float64{stove.OutsideAir: 1, stove.Damper: 0.25}, opens(coals))
	_, is := brought(kitchen(t, func(w *wish.Wish) { w.Aim, w.Start = wish.Overnight, wish.GoodCoals }), plan.BedTime)
	assert.False(t, is, "nothing to leave open or shut")
}
