package coach_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/belief"
	"smolder/internal/core/burn"
	"smolder/internal/core/coach"
	"smolder/internal/core/fire"
	"smolder/internal/core/fixture"
	"smolder/internal/core/plan"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
)

// Who looks in seldom is told how long the fire can be left, comes back then and not before, and
// finds it well: on the stove as it is thought to be, and on one that burns quicker.
func TestComesBackWhenTold(t *testing.T) {
	for name, c := range map[string]struct {
		w      wish.Wish
		tuning fire.Tuning
	}{
		"as thought": {fixture.Evening(fixture.Auntie, fixture.Beech, wish.Cold), fire.Tuning{}},
		"hotter":     {fixture.Evening(fixture.Auntie, fixture.Beech, wish.Cold), belief.Worlds(belief.Usual(), belief.Doubt{}, 6)[2].Tuning()},
		"catalyst":   {fixture.Evening(fixture.Loom, fixture.Oak, wish.GoodCoals), fire.Tuning{}},
	} {
		c.w.Seldom, c.w.For = true, 4*time.Hour
		p := best(t, c.w)
		o := owns(t, &p, c.tuning)
		visits, longest, stays := 0, time.Duration(0), 0
		guide, _ := o.burn.Stove.Guide()
		hot := 0
		for m := 0; m <= 240; {
			for o.fire.Elapsed() < time.Duration(m)*time.Minute {
				o.fire.BurnTo(min(time.Duration(m)*time.Minute, o.fire.Elapsed()+time.Minute), 0)
				if v, _ := o.fire.Reading(guide.Place); units.Celsius(v) > guide.Band.TooHot {
					hot++
				}
			}
			if m > 0 {
				r, _ := o.fire.Reading(guide.Place)
				o.log(m, burn.Entry{Kind: burn.Temperature, Place: guide.Place, Reading: units.Celsius(r)})
			}
			if look := o.fire.Look(); look.Black && !o.black && look.Wood > 0.2 {
				o.black = true
				o.log(m, entryOf(burn.Black))
			}
			now := start.Add(time.Duration(m) * time.Minute)
			o.last = coach.Ask(coach.Asked{Burn: o.burn, Plan: o.plan, Now: now, Belief: o.kept.At(belief.Usual(), o.burn, now)})
			a, away := o.last.Advice, o.last.Away
			visits++
			if a.Ready && a.Asks() {
				assert.Nil(t, away, "%s, %d min: what is to be done goes first", name, m)
				for _, set := range a.Sets {
					o.does(m, fire.Act{Kind: fire.ActControl, Control: set.Control.Key, Role: set.Control.Role, Opening: set.Opening})
				}
				for _, act := range a.Acts {
					o.does(m, act)
					o.black = o.black && act.Load == nil
				}
			}
			switch {
			case away == nil:
				m += 4
			case away.Stay:
				stays++
				m += 4
			default:
				longest = max(longest, away.For)
				assert.GreaterOrEqual(t, away.Safe, 0.9)
				m += int(away.For.Minutes())
			}
		}
		t.Logf("%s: %d visits, %d told to stay, longest %v, too hot %d min", name, visits, stays, longest, hot)
		assert.Less(t, hot, 6, name)
		assert.GreaterOrEqual(t, longest, 30*time.Minute, name)
		assert.Less(t, visits, 38, "%s: an evening of looks every four minutes is 61", name)
	}
}

// Nobody who stands by the fire is told when to be back; who has come by every half hour is.
func TestLooksSeldomByTheVisits(t *testing.T) {
	w := fixture.Evening(fixture.Auntie, fixture.Beech, wish.Cold)
	p := best(t, w)
	asked := func(gap int) *coach.Away {
		o := owns(t, &p, fire.Tuning{})
		o.until(64, 4)
		for m := 68; m <= 68+4*gap; m += gap {
			o.fire.BurnTo(time.Duration(m)*time.Minute, 0)
			o.log(m, entryOf(burn.GasFlames))
			r, _ := o.fire.Reading(stove.ConnectorProbe)
			o.log(m, reading(stove.ConnectorProbe, r))
			now := start.Add(time.Duration(m) * time.Minute)
			o.last = coach.Ask(coach.Asked{Burn: o.burn, Plan: o.plan, Now: now, Belief: o.kept.At(belief.Usual(), o.burn, now)})
		}
		if a := o.last.Advice; a.Ready && a.Asks() {
			return &coach.Away{}
		}
		return o.last.Away
	}
	assert.Nil(t, asked(5))
	assert.NotNil(t, asked(28))
}

// A flue damper that went down with the last turn-down is opened with the step back: what starves
// behind it gains little by a lever.
func TestAStepBackOpensTheDamper(t *testing.T) {
	b := record(t, 0, 0.7, "0 air 1; 0 load 4.2; 12 probe 290; 15 black; 15 air 0.5; 25 air 0.1; 31 probe 210; 34 probe 180; 34 out")
	b.Stove.Controls = append(append([]stove.Control(nil), b.Stove.Controls...), stove.Control{Key: "damper", Name: "Flue damper", Role: stove.Damper, Scale: stove.Scale{Kind: stove.Lever}})
	at := start.Add(25 * time.Minute)
	b.Entries = append(b.Entries, burn.Entry{ID: "d", Seq: 99, At: at, Kind: burn.Control, Control: "damper", Opening: 0.3})
	now := start.Add(35 * time.Minute)
	a := coach.Ask(coach.Asked{Burn: b, Now: now, Belief: (&burn.Beliefs{}).At(belief.Usual(), b, now)}).Advice
	assert.Equal(t, coach.TooFar, a.Code)
	opens := false
	for _, set := range a.Sets {
		opens = opens || set.Control.Key == "damper" && set.Opening == 1
	}
	assert.True(t, opens, "%+v", a.Sets)
}

// Whoever comes late to a load of the plan is told to lay it on kindling, and not on coals that
// would not light it; in time it goes on them alone.
func TestALateLoadIsKindled(t *testing.T) {
	w := fixture.Evening(fixture.Auntie, fixture.Beech, wish.GoodCoals)
	steps := plan.Steps(w, plan.Recipe{Main: 3, Lay: fire.OnCoals, Direction: stove.Sideways, Brisk: 1, Final: 0.5},
		plan.Later{Pieces: 2, Left: 0.1, Brisk: 1, Final: 0.5})
	p := &plan.Plan{Wish: w, Main: 3, MainOf: w.Wood, Direction: stove.Sideways, Final: 0.5, Steps: steps}
	b := record(t, 0, 0.7, "0 air 1; 0 load 3.9; 10 probe 380; 15 black; 20 air 0.5; 60 probe 300; 118 probe 120; 120 probe 115")
	now := start.Add(121 * time.Minute)
	ask := func(coals, least float64) coach.Advice {
		standing := belief.Standing{Phase: fire.Coaling, Black: 1, Coals: belief.Three{Low: least, Middle: coals}}
		return coach.Ask(coach.Asked{Burn: b, Plan: p, Now: now, Before: &coach.Answer{Phase: fire.Coaling, Standing: standing}}).Advice
	}
	for coals, kindles := range map[float64]bool{0.5: false, 0.25: false, 0.1: true} {
		a := ask(coals, coals)
		require.Equal(t, coach.PlanStep, a.Code, "%.2f kg", coals)
		require.Equal(t, plan.FeedIt, a.Step.Kind)
		assert.True(t, a.Ready)
		assert.Equal(t, kindles, a.Kindle, "%.2f kg of coals", coals)
		loads := 0
		for _, act := range a.Acts {
			if act.Load != nil {
				loads++
			}
		}
		assert.Equal(t, map[bool]int{false: 1, true: 2}[kindles], loads)
	}
	// The gauge falls, and there may be too few: some sticks go under it, and no door ajar.
	a := ask(0.25, 0.1)
	assert.True(t, a.Sticks && !a.Kindle)
	for _, act := range a.Acts {
		assert.NotEqual(t, fire.ActDoor, act.Kind)
	}
}

// A load that lies there with all its air and the door ajar gets sticks and a match, once: who is told
// the same for half an hour has a cold stove.
func TestWhatDoesNotTakeIsLitAgain(t *testing.T) {
	w := fixture.Evening(fixture.Auntie, fixture.Beech, wish.GoodCoals)
	steps := plan.Steps(w, plan.Recipe{Main: 3, Lay: fire.OnCoals, Direction: stove.Sideways, Brisk: 1, Final: 0.5})
	p := &plan.Plan{Wish: w, Main: 3, MainOf: w.Wood, Direction: stove.Sideways, Final: 0.5, Steps: steps, Kindling: w.KindlingLoad(fire.TopDown)}
	const lies = "0 air 1; 0 load 3.9; 4 probe 120; 8 probe 90; 8 door ajar; 12 probe 80; 12 door ajar; 14 probe 75;"
	lights := func(record_ string, minute float64) bool {
		a := ask(record(t, 0, 0.2, record_), p, minute).Advice
		require.Equal(t, coach.NotCaught, a.Code)
		for _, act := range a.Acts {
			if act.Kind == fire.ActLight {
				return true
			}
		}
		return false
	}
	assert.False(t, lights(lies, 14.5), "it is being helped, however often that was logged")
	assert.True(t, lights(lies+"18 probe 70", 18.5))
	assert.False(t, lights(lies+"16 probe 90; 18 probe 105", 18.5), "it comes by itself")
}

// Nobody knows what a mark of a lever is worth in a stove: from open it goes down by stages, each of
// which has to show, however the plan has it.
func TestTurnedDownByStages(t *testing.T) {
	w := fixture.Evening(fixture.Auntie, fixture.Beech, wish.GoodCoals)
	steps := plan.Steps(w, plan.Recipe{Main: 4, Lay: fire.OnCoals, Direction: stove.Sideways, Brisk: 1, Final: 0.2})
	for i := range steps { // in one
		if steps[i].Kind == plan.TurnDown {
			steps[i].Opening = 0.2
			for j := range steps[i].Fire.Do {
				if steps[i].Fire.Do[j].Kind == fire.ActControl {
					steps[i].Fire.Do[j].Opening = 0.2
				}
			}
		}
	}
	p := &plan.Plan{Wish: w, Main: 4, MainOf: w.Wood, Direction: stove.Sideways, Final: 0.2, Steps: steps}
	standing := belief.Standing{Phase: fire.Charring, Black: 1, Flames: 1, Alight: belief.Three{Middle: 1}, Wood: belief.Three{Low: 3, Middle: 3, High: 3}}
	says := func(rest string, minute float64) coach.Advice {
		b := record(t, 0, 0.7, "0 air 1; 0 load 5.2; 0 lit; 8 probe 260; 14 probe 320; 16 black; 17 probe 330;"+rest)
		return coach.Ask(coach.Asked{Burn: b, Plan: p, Now: start.Add(time.Duration(minute * float64(time.Minute))),
			Before: &coach.Answer{Phase: fire.Charring, Standing: standing}}).Advice
	}
	first := says("", 18)
	require.Equal(t, coach.PlanStep, first.Code)
	require.Equal(t, plan.TurnDown, first.Step.Kind)
	require.Len(t, first.Sets, 1)
	half := first.Sets[0].Opening
	assert.GreaterOrEqual(t, half, 0.5)
	assert.Less(t, half, 0.75)
	assert.Equal(t, half, first.Step.Opening, "and so it is written")
}
