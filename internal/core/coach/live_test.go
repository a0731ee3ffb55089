package coach_test

import (
	"fmt"
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

// An owner makes a fire that the belief knows nothing of, reads the guiding gauge now and
// then, and does what the coach says; ignore is asked what is left undone.
type owner struct {
	t      *testing.T
	fire   *fire.Fire
	burn   burn.Burn
	plan   *plan.Plan
	kept   burn.Beliefs
	prior  belief.Prior
	ignore func(minute int, a coach.Advice) bool
	said   map[coach.RuleID]int // how often a rule spoke
	asked  int
	last   coach.Answer
	put    units.Kilogram
	black  bool // it was logged of the last load
}

func owns(t *testing.T, p *plan.Plan, tuning fire.Tuning) *owner {
	setup := p.Wish.Setup()
	o := &owner{t: t, plan: p, said: map[coach.RuleID]int{}, prior: belief.Usual()}
	o.burn = burn.Burn{Stove: setup.Stove, House: setup.House, Outdoor: setup.Outdoor, Room: setup.Room, Warmth: setup.Warmth, Coals: setup.Coals,
		Wanted: [2]float64{float64(p.Wish.Low), float64(p.Wish.High)}, Started: start}
	setup.Tuning = tuning
	o.fire = fire.New(setup, 4*time.Second)
	return o
}

func (o *owner) log(minute int, e burn.Entry) {
	e.ID, e.Seq, e.At = fmt.Sprint("o", len(o.burn.Entries)), int64(len(o.burn.Entries)), start.Add(time.Duration(minute)*time.Minute)
	o.burn.Entries = append(o.burn.Entries, e)
}

// does does an act and writes it down.
func (o *owner) does(minute int, a fire.Act) {
	o.fire.Do(a)
	o.writes(minute, a)
}

func reading(p stove.Place, celsius float64) burn.Entry {
	return burn.Entry{Kind: burn.Temperature, Place: p, Reading: units.Celsius(celsius)}
}

func entryOf(k burn.Kind) burn.Entry { return burn.Entry{Kind: k} }

// writes writes an act down.
func (o *owner) writes(minute int, a fire.Act) {
	if e, ok := burn.EntryOf(a); ok {
		o.log(minute, e)
	}
}

// until lives until a minute, asking every few.
func (o *owner) until(minutes, every int) {
	guide, guided := o.burn.Stove.Guide()
	for m := 0; m <= minutes; m += every {
		o.fire.BurnTo(time.Duration(m)*time.Minute, 0)
		if guided && m > 0 {
			r, _ := o.fire.Reading(guide.Place)
			o.log(m, burn.Entry{Kind: burn.Temperature, Place: guide.Place, Reading: units.Celsius(r)})
		}
		now := start.Add(time.Duration(m) * time.Minute)
		o.last = coach.Ask(coach.Asked{Burn: o.burn, Plan: o.plan, Now: now, Belief: o.kept.At(belief.Usual(), o.burn, now)})
		o.asked++
		a := o.last.Advice
		if a.Urgent {
			o.said[a.Code]++
		}
		if o.ignore != nil && o.ignore(m, a) || !a.Ready {
			continue
		}
		for _, set := range a.Sets {
			o.does(m, fire.Act{Kind: fire.ActControl, Control: set.Control.Key, Role: set.Control.Role, Opening: set.Opening})
		}
		for _, act := range a.Acts {
			o.does(m, act)
		}
	}
}

// A plan that is followed on a stove that is as its owner says is not interrupted.
func TestQuietWhenAllIsWell(t *testing.T) {
	for _, w := range []wish.Wish{fixture.Evening(fixture.Auntie, fixture.Beech, wish.Cold), fixture.Evening(fixture.Loom, fixture.Oak, wish.GoodCoals)} {
		p := best(t, w)
		o := owns(t, &p, fire.Tuning{})
		o.until(120, 4)
		spoke := 0
		for _, n := range o.said {
			spoke += n
		}
		assert.LessOrEqual(t, spoke, 1, "%s: %v", w.Stove.Name, o.said)
		assert.Greater(t, o.last.Progress.Done, 2, "%s: the steps were done as they came", w.Stove.Name)
	}
}

// Whoever sets the lever otherwise than planned gets what is left of the plan anew, and
// is told why; whoever follows it is not.
func TestAPlanIsWorkedOutAgain(t *testing.T) {
	p := best(t, fixture.Evening(fixture.Auntie, fixture.Beech, wish.GoodCoals))
	o := owns(t, &p, fire.Tuning{})
	o.until(4, 4)
	require.Empty(t, o.last.Reworked)
	require.NotEmpty(t, o.last.Ahead)
	assert.Greater(t, o.last.Ahead[0].Latest, 4*time.Minute, "times are of the belief, and ahead")
	// Otherwise than it should char, and not so far down that it is the plan's next step.
	otherwise := p.Steps[0].Opening - 0.25
	if otherwise < o.last.Ahead[0].Opening+0.1 {
		otherwise = p.Steps[0].Opening + 0.25
	}
	o.does(5, fire.Act{Kind: fire.ActControl, Control: "lever", Role: "combined", Opening: otherwise})
	o.ignore = func(int, coach.Advice) bool { return true }
	now := start.Add(9 * time.Minute)
	o.fire.BurnTo(9*time.Minute, 0)
	a := coach.Ask(coach.Asked{Burn: o.burn, Plan: &p, Now: now, Belief: o.kept.At(belief.Usual(), o.burn, now)})
	require.Equal(t, 1, a.Progress.Done)
	assert.Equal(t, coach.OtherAir, a.Reworked)
	require.NotNil(t, a.Plan)
	assert.GreaterOrEqual(t, a.Plan.Final, plan.Floor, "never under the floor")
	assert.Equal(t, p.Steps[0], a.Plan.Steps[0], "what is done stays")
	light := o.burn
	light.Entries = nil
	for _, e := range o.burn.Entries {
		if e.Load != nil {
			l := *e.Load
			l.Pieces = 1
			e.Load = &l
		}
		light.Entries = append(light.Entries, e)
	}
	now = start.Add(4 * time.Minute)
	a = coach.Ask(coach.Asked{Burn: light, Plan: &p, Now: now, Belief: light.Believed(belief.Usual(), now)})
	assert.Equal(t, coach.OtherLoad, a.Reworked)
}

// Air that is given again after a fire was too hot is half of what it had then, also
// where somebody had begun to shut it.
func TestAirAfterItWasTooHot(t *testing.T) {
	for text, want := range map[string]float64{
		"6 probe 400; 8 probe 500; 8.2 air 0; 12 probe 330":                           0.5,
		"6 probe 400; 8 probe 500; 8.2 air 0.5; 9 probe 505; 9.2 air 0; 12 probe 330": 0.5,
		"4 air 0.5; 6 probe 400; 9 probe 500; 9.2 air 0; 12 probe 330":                1. / 3,
	} {
		a := ask(record(t, fixture.Auntie, 0.9, onCoals+text), nil, 12.5)
		if assert.Equal(t, coach.Cooled, a.Advice.Code, text) {
			got := a.Advice.Sets[0].Opening // half of what it had, or a step less where that is likely to be too hot again
			assert.LessOrEqual(t, got, want+1e-9, text)
			assert.GreaterOrEqual(t, got, 1./4-1e-9, text)
		}
	}
}

// What climbs now climbs, also after minutes in which it did not, where a gauge reports.
func TestTheRateOfAThermometerThatReports(t *testing.T) {
	text := onCoals
	for s := range 37 { // ten seconds apart: steady, and then up by 20 K a minute
		at, c := 6+float64(s)/6, 300.0
		if s > 18 {
			c += (at - 9) * 20
		}
		text += fmt.Sprintf("%.4f probe %.1f;", at, c)
	}
	a := ask(record(t, fixture.Auntie, 0.9, text), nil, 12.1)
	assert.InDelta(t, 20, a.Gauges[0].Rate, 1)
}

// Where nothing of the plan is left that could be done otherwise, nothing is said to have
// been worked out again.
func TestNothingLeftToWorkOutAgain(t *testing.T) {
	p := best(t, fixture.Evening(fixture.Auntie, fixture.Beech, wish.GoodCoals))
	o := owns(t, &p, fire.Tuning{})
	o.until(40, 4)
	require.NotEmpty(t, o.last.Ahead)
	require.NotEqual(t, plan.TurnDown, o.last.Ahead[0].Kind, "all that there is of this load is done")
	o.does(41, fire.Act{Kind: fire.ActControl, Control: "lever", Role: "combined", Opening: 1})
	now := start.Add(46 * time.Minute)
	a := coach.Ask(coach.Asked{Burn: o.burn, Plan: &p, Now: now, Belief: o.kept.At(belief.Usual(), o.burn, now)})
	assert.Empty(t, a.Reworked)
}

// A plan for the night says when it can be left, and not before.
func TestReadyForTheNight(t *testing.T) {
	w := fixture.Evening(fixture.Auntie, fixture.Oak, wish.GoodCoals)
	w.Aim, w.For = wish.Overnight, 8*time.Hour
	p := best(t, w)
	o := owns(t, &p, fire.Tuning{})
	var ready, early bool
	o.ignore = func(_ int, a coach.Advice) bool {
		down := o.last.Progress.Done >= len(p.Steps) || o.last.Progress.Next.Kind == plan.ReloadTime ||
			o.last.Progress.Next.Kind == plan.KeepIt || o.last.Progress.Next.Kind == plan.FeedIt
		ready = ready || a.Code == coach.NightReady
		early = early || a.Code == coach.NightReady && !down
		return false
	}
	o.until(110, 4)
	assert.True(t, ready || o.said[coach.NightNotYet] > 0, "something is said before they go: %v", o.said)
	assert.False(t, early)
}

// What a step says else is of this plan, also when its times are the belief's.
func TestAStepIsFoundInItsPlan(t *testing.T) {
	p := best(t, fixture.Evening(fixture.Auntie, fixture.Beech, wish.Cold))
	o := owns(t, &p, fire.Tuning{})
	o.until(24, 4)
	require.NotNil(t, o.last.Advice.Step)
	require.True(t, o.last.Progress.Has)
	assert.Equal(t, o.last.Progress.Next, o.last.Plan.Steps[o.last.Progress.Done])
}

// The same record gives the same answer, and what came later changes nothing of what
// was said before.
func TestAsOf(t *testing.T) {
	b := record(t, fixture.Auntie, 0.7, onCoals+"5 probe 210; 8 probe 240; 12 probe 280; 15 black; 15 air 0.5; 22 air 0.33; 40 probe 250")
	early := b
	early.Entries = nil
	for _, e := range b.Entries {
		if e.At.Sub(start) <= 9*time.Minute {
			early.Entries = append(early.Entries, e)
		}
	}
	got, want := ask(b, nil, 9), ask(early, nil, 9)
	assert.Equal(t, want.Advice, got.Advice)
	assert.Equal(t, want.Standing, got.Standing)
	assert.Equal(t, want.Gauges, got.Gauges)
	assert.Equal(t, want.Forecast, got.Forecast)
}

// Mineral fuel is recorded, not simulated: the coach goes by the log alone.
func TestWithoutABelief(t *testing.T) {
	b := record(t, fixture.Clinker, 0.3, "0 air 1; 0 load 2; 0 lit; 10 surface 480")
	a := coach.Ask(coach.Asked{Burn: b, Now: start.Add(11 * time.Minute)})
	assert.Equal(t, coach.OverLimit, a.Advice.Code)
	assert.Empty(t, a.Phase)
	b.Entries = b.Entries[:3]
	a = coach.Ask(coach.Asked{Burn: b, Now: start.Add(11 * time.Minute)})
	assert.Equal(t, coach.Fine, a.Advice.Code)
}

// Every rule speaks in some test above; a new one needs a record of its own.
func TestEveryRuleHasACode(t *testing.T) {
	seen := map[coach.RuleID]bool{}
	for _, c := range coach.Codes() {
		assert.False(t, seen[c], "%s twice", c)
		seen[c] = true
	}
	assert.Len(t, seen, 49)
}
