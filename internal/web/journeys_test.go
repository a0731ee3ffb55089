package web_test

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/browsertest"
	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/plan"
	"smolder/internal/store"
	"smolder/internal/web/webtest"
)

// A journey is somebody's way from an empty database, on a phone, with what they typed or chose
// and what they tapped.
type journey struct {
	*webtest.Person
	answers, taps int
	began         time.Time
}

func (j *journey) says(name, text string)  { j.T.Helper(); j.answers++; j.Types(name, text) }
func (j *journey) picks(name, text string) { j.T.Helper(); j.answers++; j.Picks(name, text) }

// ticks chooses a picture, or a box.
func (j *journey) ticks(selector string) { j.T.Helper(); j.answers++; j.Clicks(selector) }

func (j *journey) taps1(selector string) { j.T.Helper(); j.taps++; j.Clicks(selector) }

// begins is who they are; units and zone are those of their device.
func (j *journey) begins(s *webtest.Site) {
	j.T.Helper()
	code, err := s.Store.SetupCode(j.T.Context())
	j.Must(err)
	j.GoTo("/setup?code=" + code)
	j.began = time.Now()
	j.says("name", "Ro")
	j.says("password", "three dry splits")
}

// enters keeps the form by the keyboard, from the field that was typed last: what is drawn beside it
// may still move a button.
func (j *journey) enters() { j.T.Helper(); j.taps++; j.Hits("\r") }

const keepsIt = `form .btn:not([type="button"])`

// plans asks for what the page has filled in, and starts it.
func (j *journey) plans() {
	j.T.Helper()
	j.taps1("form.wish .btn")
	j.Arrives(`^/plans/\d+`)
	j.Sees("What to do")
}

// burns does the steps of the plan when they are due, by the one tap that its page offers; of stages
// of a turn-down it says the last, and those before it with it. It says how many taps it took, and how
// many steps there were with the start.
func (j *journey) burns(s *webtest.Site) (taps, steps int) {
	j.T.Helper()
	j.Clicks(`form[action$="/start"] .btn`)
	taps, steps = 1, 1
	j.Arrives(`^/burns/\d+/live$`)
	live, err := j.Path()
	j.Must(err)
	rows, err := s.Store.Household(webtest.HouseholdOf(j.T, s)).OpenBurns(ctx)
	require.NoError(j.T, err)
	require.Len(j.T, rows, 1)
	began := rows[0].Started
	var due []plan.Step
	for _, step := range rows[0].Plan.Steps {
		if step.Expected >= 0 && !step.Kind.Extra() && step.Kind != plan.ReloadTime {
			due = append(due, step)
		}
	}
	steps += len(due)
	for i, step := range due {
		if i+1 < len(due) && step.Kind == due[i+1].Kind && due[i+1].Expected-step.Expected <= together {
			continue // the next stage comes soon
		}
		at := began.Add(step.Expected + time.Minute)
		if at.Before(time.Now()) {
			at = time.Now()
		}
		s.Clock.At = at
		j.Must(j.Clock(time.Until(at)))
		j.GoTo(live)
		for _, button := range []string{`.asked form[action$="/done"] button`, `form[data-tap="y"] button`} {
			there, err := browsertest.Eval[bool](j.Browser, fmt.Sprintf(`Boolean(document.querySelector(%q))`, button))
			j.Must(err)
			if there {
				j.Clicks(button)
				j.Waits(webtest.WhatWaits + ` === 0`)
				taps++
				break // else what it asks for is done already
			}
		}
	}
	s.Clock.At = time.Time{}
	b, err := s.Store.Household(webtest.HouseholdOf(j.T, s)).Burn(ctx, rows[0].ID)
	require.NoError(j.T, err)
	for _, step := range due {
		for _, act := range step.Fire.Do {
			if act.Kind == fire.ActControl && step.Kind == plan.TurnDown {
				assert.Condition(j.T, func() bool { return stoodSo(b, act, began.Add(step.Expected)) }, "%s to %.2f about %v", act.Control, act.Opening, step.Expected)
			}
		}
	}
	return taps, steps
}

// together is within what time stages of a turn-down are said together.
const together = 15 * time.Minute

// stoodSo tells whether a control was logged as a plan wanted it, about when.
func stoodSo(b store.Burn, act fire.Act, at time.Time) bool {
	return slices.ContainsFunc(b.Entries, func(e burn.Entry) bool {
		return e.Kind == burn.Control && e.Control == act.Control && math.Abs(e.Opening-act.Opening) < 0.03 && e.At.Sub(at).Abs() < together
	})
}

// Five new owners come to their first plan, and through one burn by doing what is said when it is
// said. Seconds are the machine's, and only told.
func TestJourneysOfNewOwners(t *testing.T) {
	for _, c := range []struct {
		name          string
		answers, taps int // to the first plan, at most
		goes          func(j *journey)
	}{
		{"a beginner without a thermometer", 7, 4, func(j *journey) {
			j.enters()
			j.Arrives("^/stoves/new$")
			j.ticks(`input[name="family"][value="plain"]`)
			j.says("volume", "38 x 32 x 30 cm")
			j.says("chimney-height", "6 m")
			j.enters()
			j.Arrives("^/wood/new$")
			j.picks("species", "beech")
			j.says("lain", "2 years")
			j.enters()
			j.Arrives("^/plan$")
			j.plans()
		}},
		{"Fahrenheit and a catalyst", 13, 6, func(j *journey) {
			j.taps1(`details.unfold summary`)
			j.picks("units", "°F, lb, feet, inches of water")
			j.taps1(keepsIt)
			j.Arrives("^/stoves/new$")
			j.ticks(`input[name="family"][value="catalytic"]`)
			j.says("volume", "2.4 ft3")
			j.says("control-1-name", "Dial")
			j.taps1(`details.unfold > summary`)
			j.ticks(`input[name="gauge-catalyst"]`)
			j.picks("outside", "on an outside wall")
			j.says("chimney-height", "24 ft")
			j.enters()
			j.Arrives("^/wood/new$")
			j.picks("species", "red oak")
			j.says("lain", "3 years")
			j.enters()
			j.Arrives("^/plan$")
			j.says("room", "60")
			j.says("outdoor", "28")
			j.plans()
			j.Sees("°F")
		}},
		{"a van", 17, 6, func(j *journey) {
			j.enters()
			j.Arrives("^/stoves/new$")
			j.ticks(`input[name="family"][value="tiny"]`)
			j.says("volume", "8 L")
			j.says("control-1-name", "Vent")
			j.says("chimney-height", "2.2 m")
			j.taps1(`details.unfold > summary`)
			j.picks("space-id", "another, described below")
			j.taps1(`details.mt-1:has([name="own-space"]) > summary`)
			j.says("own-space", "the van")
			j.says("own-floor", "6 m2")
			j.picks("own-build", "van or boat")
			j.says("own-low", "16 C")
			j.says("own-high", "22 C")
			j.enters()
			j.Arrives("^/wood/new$")
			j.picks("species", "alder")
			j.says("lain", "2 years")
			j.enters()
			j.Arrives("^/plan$")
			j.says("room", "9 C")
			j.plans()
			j.ticks(`form[action$="/start"] input[name="air"]`)
			j.ticks(`form[action$="/start"] input[name="co"]`)
		}},
		{"two stoves", 12, 8, func(j *journey) {
			j.enters()
			j.Arrives("^/stoves/new$")
			j.ticks(`input[name="family"][value="secondary-air"]`)
			j.says("volume", "45 L")
			j.says("chimney-height", "7 m")
			j.enters()
			j.Arrives("^/wood/new$")
			j.picks("species", "ash")
			j.says("lain", "2 years")
			j.enters()
			j.Arrives("^/plan$")
			j.GoTo("/stoves/new")
			j.taps++
			j.ticks(`input[name="family"][value="plain"]`)
			j.says("volume", "30 L")
			j.says("chimney-height", "6 m")
			j.taps1(`details.unfold > summary`)
			j.says("name", "Loft stove")
			j.enters()
			j.Arrives(`^/stoves/\d+`)
			j.GoTo("/plan")
			j.taps++
			j.picks("stove", "Loft stove")
			j.plans()
		}},
		{"a lover of data", 16, 5, func(j *journey) {
			j.enters()
			j.Arrives("^/stoves/new$")
			j.ticks(`input[name="family"][value="secondary-air"]`)
			j.says("volume", "46 x 38 x 33 cm")
			j.says("control-1-name", "Lever")
			j.says("chimney-height", "6.4 m")
			j.taps1(`details.unfold > summary`)
			j.says("max-load", "6 kg")
			j.says("diameter", "150 mm")
			j.ticks(`input[name="gauge-connector-probe"]`)
			j.ticks(`input[name="gauge-top"]`)
			j.ticks(`input[name="gauge-room"]`)
			j.says("bends", "0")
			j.enters()
			j.Arrives("^/wood/new$")
			j.picks("species", "beech")
			j.says("reading", "16 17 15 18")
			j.enters()
			j.Arrives("^/plan$")
			j.says("room", "17.2 C")
			j.says("outdoor", "3.5 C")
			j.plans()
		}},
	} {
		t.Run(strings.ReplaceAll(c.name, " ", "-"), func(t *testing.T) {
			s := webtest.New(t, false)
			j := &journey{Person: webtest.Browse(t, s, 390, 844)}
			j.begins(s)
			c.goes(j)
			seconds := time.Since(j.began).Seconds()
			taps, steps := j.burns(s)
			t.Logf("%s: %d answers, %d taps, %.0f s to the first plan; %d taps through the burn, %d were each stage tapped by itself",
				c.name, j.answers, j.taps, seconds, taps, steps)
			assert.LessOrEqual(t, j.answers, c.answers, "answers to the first plan")
			assert.LessOrEqual(t, j.taps, c.taps, "taps to the first plan")
			assert.LessOrEqual(t, taps, 7, "taps through the burn")
		})
	}
}
