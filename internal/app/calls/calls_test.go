package calls_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"smolder/internal/app/calls"
	"smolder/internal/core/burn"
	"smolder/internal/core/coach"
	"smolder/internal/core/fixture"
	"smolder/internal/core/follow"
	"smolder/internal/core/plan"
	"smolder/internal/lang"
	"smolder/internal/store"
)

// Quiet hours hold back what can wait, over midnight too, and nothing that hurts.
func TestWhoIsCalledWhen(t *testing.T) {
	at := func(clock string) time.Time {
		out, err := time.Parse("15:04", clock)
		assert.NoError(t, err)
		return out
	}
	night := calls.Wish{On: true, Quiet: [2]int{22 * 60, 7 * 60}}
	for _, c := range []struct {
		wish  calls.Wish
		kind  calls.Kind
		clock string
		wants bool
	}{
		{night, calls.Reload, "21:59", true}, {night, calls.Reload, "22:00", false}, {night, calls.Reload, "03:00", false}, {night, calls.Reload, "07:00", true},
		{night, calls.TooHot, "03:00", true},
		{calls.Wish{On: true, Quiet: [2]int{13 * 60, 14 * 60}}, calls.Upkeep, "13:30", false},
		{calls.Wish{On: true}, calls.Upkeep, "13:30", true},
		{calls.Wish{}, calls.TooHot, "13:30", false},
		{calls.Wish{On: true, Off: []string{"reload"}}, calls.Reload, "13:30", false},
	} {
		call := calls.Call{Kind: c.kind, Urgent: c.kind == calls.TooHot}
		assert.Equal(t, c.wants, c.wish.Wants(call, at(c.clock)), "%+v at %s", c.kind, c.clock)
	}
}

// A fire calls for what is to be done now, the same until it is done, and for nothing that waits.
func TestWhatAFireCallsFor(t *testing.T) {
	st := fixture.Stoves()[fixture.Auntie].Stove
	air, _ := st.MainAir()
	b := store.Burn{ID: 7, Burn: burn.Burn{Stove: st}}
	step := func(k plan.StepKind) coach.Advice {
		return coach.Advice{Code: coach.PlanStep, Ready: true, Step: &plan.Step{Kind: k, Control: air.Key, Opening: 0.5}}
	}
	for name, c := range map[string]struct {
		a    coach.Answer
		kind calls.Kind
	}{
		"a turn-down":       {coach.Answer{Advice: step(plan.TurnDown), Progress: follow.Progress{Done: 3}}, calls.TurnDown},
		"the next load":     {coach.Answer{Advice: step(plan.ReloadTime)}, calls.Reload},
		"the door":          {coach.Answer{Advice: coach.Advice{Code: coach.DoorAjar, Urgent: true, Ready: true}}, calls.DoorAjar},
		"too hot":           {coach.Answer{Advice: coach.Advice{Code: coach.Climbing, Urgent: true, Ready: true}}, calls.TooHot},
		"it goes out":       {coach.Answer{Advice: coach.Advice{Code: coach.CoalsGoing, Ready: true}}, calls.GoingOut},
		"fine":              {coach.Answer{Advice: coach.Advice{Code: coach.Fine}}, ""},
		"lighting it":       {coach.Answer{Advice: step(plan.LightIt)}, ""},
		"worked out anew":   {coach.Answer{Stale: true, Advice: step(plan.TurnDown)}, ""},
		"a sign to come":    {coach.Answer{Advice: coach.Advice{Code: coach.PlanStep, Step: &plan.Step{Kind: plan.TurnDown}}}, ""},
		"nobody has logged": {coach.Answer{Advice: coach.Advice{Code: coach.NobodyLogs}}, ""},
	} {
		c.a.Plan = &plan.Plan{Wish: fixture.Evening(fixture.Auntie, fixture.Beech, "cold")}
		call, ok := calls.OfFire(b, c.a, lang.Metric)
		assert.Equal(t, c.kind != "", ok, name)
		assert.Equal(t, c.kind, call.Kind, name)
		if ok {
			again, _ := calls.OfFire(b, c.a, lang.Metric)
			assert.Equal(t, again.Key, call.Key, name)
			assert.NotEmpty(t, call.Text, name)
			assert.Equal(t, "/burns/7/live", call.Link)
		}
	}
}

// Wood is called for from the afternoon on, once a day.
func TestWoodIsCarriedIn(t *testing.T) {
	day := time.Date(2026, 1, 14, 15, 0, 0, 0, time.UTC)
	_, ok := calls.Carry([]string{"5 pieces of Beech"}, day, lang.Metric)
	assert.False(t, ok)
	first, ok := calls.Carry([]string{"5 pieces of Beech"}, day.Add(time.Hour), lang.Metric)
	assert.True(t, ok)
	later, _ := calls.Carry([]string{"4 pieces of Beech"}, day.Add(3*time.Hour), lang.Metric)
	assert.Equal(t, first.Key, later.Key)
	_, ok = calls.Carry(nil, day.Add(time.Hour), lang.Metric)
	assert.False(t, ok)
}
