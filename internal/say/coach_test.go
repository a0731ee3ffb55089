package say_test

import (
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"smolder/internal/core/burn"
	"smolder/internal/core/coach"
	"smolder/internal/core/fire"
	"smolder/internal/core/fixture"
	"smolder/internal/core/plan"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
	"smolder/internal/lang"
	"smolder/internal/say"
)

// Every rule is said, with numbers and without, in both systems of units.
func TestEveryRuleIsSaid(t *testing.T) {
	st := fixture.Stoves()[fixture.Auntie].Stove
	lever, _ := st.MainAir()
	dangers := []coach.RuleID{coach.OverLimit, coach.Monoxide, coach.ChimneyFire, coach.Spillage, coach.SomeMonoxide, coach.FlapOpen, coach.Overloaded,
		coach.TwoFuels, coach.Glazed}
	full := coach.Advice{Sets: []plan.Setting{{Control: lever, Opening: 0.5}}, Acts: []fire.Act{{Kind: fire.ActDoor, Door: fire.Ajar}},
		Gauge: stove.ConnectorProbe, Reading: 310, Limit: 475, Rate: 21, Since: 7 * time.Minute, From: 4 * time.Minute, To: 9 * time.Minute,
		Draft: 1, Mass: 4.2, Again: 5 * time.Minute}
	for _, code := range append(coach.Codes(), coach.Fine) {
		for _, a := range []coach.Advice{full, {Gauge: stove.Top}} {
			a.Code = code
			for _, sys := range []units.System{units.Metric, units.Imperial} {
				c := say.Coach(coach.Answer{Advice: a}, st, nil, lang.English(sys))
				if slices.Contains(dangers, code) {
					continue // the log's own alarm says it
				}
				assert.NotEmpty(t, c.Sees, code)
				assert.NotEmpty(t, c.Why, code)
				for _, text := range []string{c.Sees, c.Do, c.Why, c.Else, c.Again} {
					assert.NotContains(t, text, "%!", code)
					assert.NotContains(t, text, "  ", code)
					assert.False(t, strings.HasSuffix(text, ".."), code)
				}
			}
		}
	}
	said := say.Coach(coach.Answer{Advice: coach.Advice{Code: coach.Climbing, Sets: full.Sets, Gauge: full.Gauge, Reading: 400, Limit: 475, Rate: 21,
		From: 4 * time.Minute, To: 9 * time.Minute, Again: 3 * time.Minute}}, st, nil, lang.Metric)
	assert.Equal(t, "The flue gas climbs by 21 °C a minute: over 475 °C in 4–9 min as it goes.", said.Sees)
	assert.Equal(t, "Lever to a half", said.Do)
	assert.Equal(t, "Look again in 3 min.", said.Again)
	for _, why := range []coach.Elsewhere{coach.OtherAir, coach.OtherLoad, coach.Late, coach.Unlikely} {
		assert.NotEmpty(t, say.Reworked(why, lang.Metric))
	}
	for _, code := range []coach.RuleID{coach.WatchLimit, coach.WatchFlames, coach.WatchBlack, coach.WatchProbe, coach.WatchCoals,
		coach.WatchDoor, coach.WatchCap} {
		assert.NotEmpty(t, say.Watched(coach.Watched{Code: code, Gauge: stove.Top, Limit: 400, Control: lever, Opening: 0.5}, lang.Imperial), code)
	}
}

// Every danger is said, just now and long ago, in both systems of units.
func TestEveryDangerIsSaid(t *testing.T) {
	said := map[string]bool{}
	for _, kind := range burn.FirstKinds {
		for _, f := range []burn.First{
			{Kind: kind, Gauge: stove.NewGauge(stove.Top), Reading: 440, Known: true, Draft: -2, PPM: 40, Mass: 12, Most: 6, For: 3 * time.Minute,
				Control: stove.Control{Name: "Ash flap"}, Door: fire.Ajar},
			{Kind: kind, Gauge: stove.NewGauge(stove.Top), Reading: 440, Seen: true, Mass: 8, Most: 6, Assumed: true, For: 40 * time.Minute},
		} {
			for _, sys := range []units.System{units.Metric, units.Imperial} {
				a := say.First(f, true, lang.English(sys))
				assert.NotEmpty(t, a.Says, kind)
				assert.NotEmpty(t, a.Do, kind)
				assert.NotContains(t, a.Says+a.Do+a.Why, "%!", kind)
				if said[a.Says] = true; sys == units.Imperial {
					assert.NotContains(t, a.Says+a.Do+a.Why, "°C", kind)
					assert.NotContains(t, a.Says, " kg", kind)
				}
			}
		}
	}
	assert.Contains(t, said, "12.0 kg went on: twice the manual's largest load of 6.0 kg.")
	assert.Contains(t, said, "Too hot: the top was at 440 °C 40 min ago, over its limit of 425 °C, and was not read since.")
}

// A next load is said in the stove's own pieces.
func TestANextLoadIsOfThisStove(t *testing.T) {
	for most, want := range map[units.Kilogram]string{1.5: "one piece, up to the manual's 1.5 kg", 2.4: "two pieces, up to the manual's 2.4 kg",
		6: "three pieces or more, up to the manual's 6.0 kg"} {
		assert.Equal(t, want, say.Reload(stove.Stove{Family: stove.SecondaryAir, Volume: 20, MaxLoad: most}, lang.Metric))
	}
}

// A gauge that stands near its limit, and does not rise, is said to be near: nobody has
// computed that it will be over it.
func TestNearIsNotLikelyOver(t *testing.T) {
	st := fixture.Stoves()[fixture.Auntie].Stove
	said := func(reading, rate float64) string {
		a := coach.Answer{Advice: coach.Advice{Code: coach.Climbing, Urgent: true, Ready: true, Gauge: stove.ConnectorProbe, Reading: units.Celsius(reading), Limit: 500,
			Rate: rate, To: 15 * time.Minute}}
		return say.Coach(a, st, nil, lang.Metric).Sees
	}
	assert.Contains(t, said(480, 0), "close to the 500 °C")
	assert.NotContains(t, said(480, 0), "likely")
	assert.Contains(t, said(300, 0), "likely over 500 °C")
	assert.Contains(t, said(440, 20), "climbs by")
}

// A load that was fitted to a fire that runs hot is said as it is to be put on, and not as it
// was planned.
func TestAFittedLoadIsSaidAsItIs(t *testing.T) {
	w := fixture.Evening(fixture.Auntie, fixture.Beech, wish.Cold)
	air, _ := w.Stove.MainAir()
	planned, fitted := w.LoadOf(0, 4, stove.EndOn, fire.OnCoals), w.LoadOf(0, 3, stove.EndOn, fire.OnCoals)
	step := plan.Step{Kind: plan.LoadIt, Fire: fire.Move{Do: []fire.Act{{Kind: fire.ActLoad, Load: &planned}}}}
	p := plan.Plan{Wish: w, MainOf: w.Wood, Main: 4, Direction: stove.EndOn, Steps: []plan.Step{step}}
	a := coach.Answer{Plan: &p, Advice: coach.Advice{Code: coach.PlanStep, Step: &p.Steps[0], Ready: true, Acts: []fire.Act{{Kind: fire.ActLoad, Load: &planned}}}}
	assert.Contains(t, say.Coach(a, w.Stove, &p, lang.Metric).Do, "four pieces")
	a.Advice.Fitted, a.Advice.Acts = true, []fire.Act{{Kind: fire.ActLoad, Load: &fitted}}
	a.Advice.Sets = []plan.Setting{{Control: air, Opening: 0.5}}
	said := say.Coach(a, w.Stove, &p, lang.Metric)
	assert.Equal(t, "Load three pieces, 3.9 kg, end-on; lever to a half", said.Do)
	assert.Contains(t, said.Why, "Less than was planned")
	kindling := w.KindlingLoad(fire.OnCoals)
	a.Advice.Kindle, a.Advice.Acts = true, []fire.Act{{Kind: fire.ActLoad, Load: &kindling}, {Kind: fire.ActLoad, Load: &fitted}}
	said = say.Coach(a, w.Stove, &p, lang.Metric)
	assert.Equal(t, "Load three pieces, 3.9 kg, end-on; lever to a half, kindling under it, door ajar", said.Do, "kindling is not taken for the load")
}

// Whatever the coach says to a stove whose manual has the door shut, it is never to set it ajar.
func TestNoDoorAjarWhereTheManualHasItShut(t *testing.T) {
	st := fixture.Stoves()[fixture.Auntie].Stove
	st.Manual.Door = stove.DoorShut
	for _, code := range coach.Codes() {
		if code == coach.DoorAjar {
			continue // which has it shut
		}
		for _, a := range []coach.Advice{{Code: code}, {Code: code, Mass: 2, Since: time.Hour}} {
			said := say.Coach(coach.Answer{Advice: a}, st, nil, lang.Metric)
			for _, text := range []string{said.Do, said.Else} {
				assert.NotContains(t, text, "ajar", code)
			}
		}
	}
}
