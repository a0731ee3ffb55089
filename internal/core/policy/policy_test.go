package policy_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"smolder/internal/core/fire"
	"smolder/internal/core/policy"
	"smolder/internal/core/stove"
)

// calm is a fire of an hour with the air at a half, a warm gauge, flames and wood: nothing is
// to be done.
func calm() policy.Situation {
	return policy.Situation{Gauges: []policy.Gauge{{Place: stove.ConnectorProbe, Value: 300, Low: 200, Limit: 500, HasRate: true}},
		Air: 0.5, Feeds: 0.5, Before: 1, Moved: 20 * time.Minute, Most: 1, HotAgo: -1, Lit: true, Loaded: 30 * time.Minute, Wood: 2}
}

// Each reason just over its bound and just under it.
func TestDecide(t *testing.T) {
	t.Parallel()
	type s = policy.Situation
	gauge := func(value, rate float64) func(*s) {
		return func(x *s) { x.Gauges[0].Value, x.Gauges[0].Rate = value, rate }
	}
	both := func(all ...func(*s)) func(*s) {
		return func(x *s) {
			for _, f := range all {
				f(x)
			}
		}
	}
	dark := func(x *s) { x.Dark = true }
	shut := func(x *s) {
		x.Air, x.Feeds, x.Before, x.Moved, x.HotAgo, x.Most = 0.05, 0.05, 1, 10*time.Minute, 12*time.Minute, 0.5
	}
	pale := func(x *s) { x.Pale, x.Dark, x.Loaded, x.Gauges[0].Value = true, true, 10*time.Minute, 150 }
	opening := func(air, before float64) func(*s) {
		return func(x *s) { x.Air, x.Feeds, x.Before = air, air, before }
	}
	for name, c := range map[string]struct {
		change func(*s)
		want   policy.Reason // empty: nothing
		air    float64       // that is moved to; negative: it is not moved
	}{
		"calm":                                 {func(*s) {}, "", -1},
		"over its limit by a little":           {gauge(500, 0), policy.OverLimit, 0.15},
		"just over, and nearly shut":           {both(gauge(500, 0), opening(0.3, 1)), policy.OverLimit, 0},
		"just over, taken down a moment ago":   {both(gauge(505, 0), opening(0.35, 1), func(x *s) { x.Moved = 3 * time.Minute }), policy.OverLimit, 0},
		"just over, with the door ajar":        {both(gauge(505, 0), func(x *s) { x.Door = fire.Ajar }), policy.OverLimit, 0},
		"up to so far over":                    {gauge(530, 0), policy.OverLimit, 0.15},
		"over its limit by more":               {gauge(531, 0), policy.OverLimit, 0},
		"near its limit":                       {gauge(475, 0), policy.Climbs, 0.25},
		"not near":                             {gauge(474, 0), "", -1},
		"near, and falling":                    {gauge(480, -3), "", -1},
		"near, and falling slowly":             {gauge(480, -2.9), policy.Climbs, 0.25},
		"climbs to it within three minutes":    {gauge(440, 21), policy.Climbs, 0.25},
		"climbs, and is believed to flatten":   {gauge(440, 19), "", -1},
		"climbs, and is believed to go on":     {both(gauge(440, 19), func(x *s) { x.Risk = 0.4 }), policy.Climbs, 0.25},
		"climbs, and nobody knows":             {both(gauge(440, 5), func(x *s) { x.Risk = -1 }), policy.Climbs, 0.25},
		"climbs for longer than counts":        {both(gauge(440, 3.9), func(x *s) { x.Risk = -1 }), "", -1},
		"climbs too slowly":                    {both(gauge(470, 2.9), func(x *s) { x.Risk = -1 }), "", -1},
		"climbs from far below":                {both(gauge(274, 80), func(x *s) { x.Risk = -1 }), "", -1},
		"climbs from over half":                {both(gauge(276, 80), func(x *s) { x.Risk = -1 }), policy.Climbs, 0.25},
		"answered a moment ago":                {both(gauge(480, 0), func(x *s) { x.Moved = 3 * time.Minute }), "", -1},
		"opened a moment ago":                  {both(gauge(480, 0), opening(1, 0.5), func(x *s) { x.Moved = 3 * time.Minute }), policy.Climbs, 0.5},
		"nothing left to shut":                 {both(gauge(480, 0), opening(0.1, 1)), "", -1},
		"pale wood keeps a third":              {both(gauge(480, 0), opening(0.5, 1), func(x *s) { x.Pale = true }), policy.Climbs, 1. / 3},
		"pale wood that lies there for long":   {both(gauge(480, 0), func(x *s) { x.Pale, x.Loaded = true, 51*time.Minute }), policy.Climbs, 0.25},
		"likely too hot by the belief alone":   {func(x *s) { x.Risk = 0.8 }, policy.Climbs, 0.25},
		"not so likely":                        {func(x *s) { x.Risk = 0.79 }, "", -1},
		"kindling flares":                      {both(gauge(550, 30), func(x *s) { x.Flares = true }), "", -1},
		"kindling flares too far":              {both(gauge(580, 30), func(x *s) { x.Flares = true }), policy.OverLimit, 0},
		"shut, and hot no more":                {both(shut, gauge(420, 0)), policy.AirAgain, 0.5},
		"shut to a tenth counts":               {both(shut, opening(0.1, 1), gauge(420, 0)), policy.AirAgain, 0.5},
		"shut to more does not":                {both(shut, opening(0.11, 1), gauge(420, 0)), "", -1},
		"just so hot no more":                  {both(shut, gauge(425, 0)), policy.AirAgain, 0.5},
		"over its limit, and shut already":     {both(gauge(510, 0), opening(0, 1)), policy.OverLimit, -1},
		"shut, and still hot":                  {both(shut, gauge(430, 0)), "", -1},
		"shut long ago":                        {both(shut, func(x *s) { x.Moved, x.HotAgo = 31*time.Minute, 33*time.Minute }), "", -1},
		"shut, and it was not for heat":        {both(shut, func(x *s) { x.HotAgo = 21 * time.Minute }), "", -1},
		"half an hour after it was shut":       {both(shut, func(x *s) { x.Moved, x.HotAgo = 30*time.Minute, 40*time.Minute }), policy.AirAgain, 0.5},
		"a step back that is none":             {both(dark, opening(0.5, 1), func(x *s) { x.Moved, x.Most, x.HotAgo = 5*time.Minute, 0.5, 20*time.Minute }), "", -1},
		"flames died after a turn-down":        {both(dark, func(x *s) { x.Moved = 2 * time.Minute }), policy.StepBack, 1},
		"it has not shown yet":                 {both(dark, func(x *s) { x.Moved = 119 * time.Second }), "", -1},
		"and no further than was good":         {both(dark, func(x *s) { x.Moved, x.Most, x.HotAgo = 5*time.Minute, 0.6, 20*time.Minute }), policy.StepBack, 0.6},
		"dark, and no wood for flames":         {both(dark, func(x *s) { x.Wood = 0.19 }), "", -1},
		"dark, long after":                     {both(dark, func(x *s) { x.Moved = 26 * time.Minute }), policy.AllItHas, 1},
		"dark, long after, with little wood":   {both(dark, func(x *s) { x.Moved, x.Wood = 26*time.Minute, 0.39 }), "", -1},
		"dark with all air":                    {both(dark, opening(0.95, 0.5)), policy.AllItHas, -1},
		"a load that does not take":            {pale, policy.NotTaken, 1},
		"it has not had its time":              {both(pale, func(x *s) { x.Loaded = 359 * time.Second }), policy.StepBack, 1},
		"it is no question of taking any more": {both(pale, func(x *s) { x.Loaded, x.Moved = 41*time.Minute, 30*time.Minute }), policy.AllItHas, 1},
		"black wood took":                      {both(pale, func(x *s) { x.Pale = false }), policy.StepBack, 1},
		"a warm gauge is of one that took":     {both(pale, gauge(200, 0)), policy.StepBack, 1},
		"helped, and it flames":                {func(x *s) { x.Helping, x.Door = true, fire.Ajar }, policy.Flames, -1},
		"helped, and it does not":              {both(pale, opening(1, 1), func(x *s) { x.Helping, x.Door = true, fire.Ajar }), "", -1},
		"not lit":                              {both(pale, func(x *s) { x.Lit = false }), "", -1},
	} {
		t.Run(name, func(t *testing.T) {
			t.Parallel()
			x := calm()
			c.change(&x)
			act, does := x.Decide()
			if !assert.Equal(t, c.want != "", does, "%+v", act) || !does {
				return
			}
			assert.Equal(t, c.want, act.Reason)
			if assert.Equal(t, c.air >= 0, act.Moves) && act.Moves {
				assert.InDelta(t, c.air, act.Air, 1e-9)
			}
		})
	}
}

// The door is set ajar for what does not take, and shut again; never where it was too hot.
func TestTheDoorHelps(t *testing.T) {
	t.Parallel()
	x := calm()
	x.Pale, x.Dark, x.Loaded, x.Gauges = true, true, 10*time.Minute, nil
	act, _ := x.Decide()
	assert.Equal(t, policy.Act{Reason: policy.NotTaken, Moves: true, Air: 1, Sets: true, Door: fire.Ajar}, act)
	x.HotAgo, x.Most = 10*time.Minute, 0.5
	x.Air = 0.4
	act, _ = x.Decide()
	assert.Equal(t, policy.NotTaken, act.Reason)
	assert.False(t, act.Sets, "it was too hot with this load")
	assert.False(t, x.MayBeAjar())
	x = calm()
	x.Door, x.Helping = fire.Ajar, true
	act, _ = x.Decide()
	assert.Equal(t, policy.Act{Reason: policy.Flames, Sets: true, Door: fire.Shut}, act)
}

// What was good: half of what it had, and never under a third.
func TestMostAfter(t *testing.T) {
	t.Parallel()
	assert.InDelta(t, 0.5, policy.MostAfter(1), 1e-9)
	assert.InDelta(t, 0.4, policy.MostAfter(0.8), 1e-9)
	assert.InDelta(t, 1./3, policy.MostAfter(0.5), 1e-9)
}
