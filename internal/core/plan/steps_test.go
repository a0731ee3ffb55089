package plan_test

import (
	"encoding/json"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/fire"
	"smolder/internal/core/fixture"
	"smolder/internal/core/plan"
	"smolder/internal/core/reason"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
)

// usual is a recipe that burns well in the mid-size stoves.
var usual = plan.Recipe{Main: 3, Direction: stove.EndOn, Final: 0.25, Brisk: 1, Most: 1, Pause: 6 * time.Minute}

// made is the usual recipe worked out for a wish on coals.
func made(w wish.Wish) plan.Plan {
	return plan.Make(w, usual, nil, plan.Run(w, plan.Steps(w, usual)), 1)
}

func TestTheCatalystWaitsForLightOff(t *testing.T) {
	closed := -1
	for i, s := range plan.Steps(fixture.Evening(fixture.Loom, fixture.Oak, wish.GoodCoals), usual) {
		if s.Kind == plan.CloseIt {
			closed = i
			assert.Equal(t, stove.CatalystProbe, s.Fire.When.Gauge)
			assert.GreaterOrEqual(t, s.Fire.When.Above, units.Celsius(260))
		}
		if s.Kind == plan.TurnDown {
			assert.GreaterOrEqual(t, closed, 0, "trim the air only once the bypass is closed")
		}
	}
	assert.GreaterOrEqual(t, closed, 0)
}

// What is less open than the air while it chars is a turn-down, and nothing
// else; the last is the recipe's own.
func TestTurnDownsGoDown(t *testing.T) {
	for _, scale := range []stove.Scale{{Kind: stove.Lever}, {Kind: stove.PercentOpen},
		{Kind: stove.Notches, Notches: []string{"shut", "one", "two", "open"}}} {
		for _, brisk := range []float64{1, 0.6} {
			for _, final := range []float64{1. / 8, 1. / 3, 0.5} {
				w := fixture.Evening(fixture.Auntie, fixture.Beech, wish.Cold)
				w.Stove.Controls[0].Scale = scale
				r := usual
				r.First, r.Lay, r.Brisk, r.Final = 2, fire.TopDown, brisk, scale.Nearest(final)
				if r.Final >= brisk {
					continue // no recipe
				}
				before, downs := brisk, 0
				for _, s := range plan.Steps(w, r) {
					if s.Kind != plan.TurnDown {
						continue
					}
					downs++
					assert.LessOrEqual(t, s.Opening, before)
					before = s.Opening
				}
				assert.InDelta(t, r.Final, before, 1e-9)
				assert.Positive(t, downs)
				assert.LessOrEqual(t, downs, 3)
			}
		}
	}
}

// A plan that was made here can be kept and read again; one that was bent on the
// way is refused with what is wrong, and costs nothing.
func TestCheckHoldsWhatComesFromElsewhere(t *testing.T) {
	good := made(fixture.Evening(fixture.Auntie, fixture.Beech, wish.GoodCoals))
	require.NoError(t, good.Check())
	kept, err := json.Marshal(good)
	require.NoError(t, err)
	for code, bend := range map[reason.Code]func(*plan.Plan){
		plan.BadStove:    func(p *plan.Plan) { p.Wish.Stove.Volume = 1e9 },
		plan.BadHouse:    func(p *plan.Plan) { p.Wish.House.Floor = -1 },
		plan.BadKeys:     func(p *plan.Plan) { p.Wish.Aim = "dance" },
		plan.BadStarter:  func(p *plan.Plan) { p.Wish.Starter = "wishes" },
		plan.BadSpan:     func(p *plan.Plan) { p.Wish.For = 1e18 },
		plan.BadSettings: func(p *plan.Plan) { p.Wish.Room = 900 },
		plan.ManyPoints:  func(p *plan.Plan) { p.Wish.Weather = make([]fire.Weather, 9999) },
		plan.BadPieces:   func(p *plan.Plan) { p.Main = -3 },
		plan.StepCount:   func(p *plan.Plan) { p.Steps = make([]plan.Step, 999) },
		plan.BadDraft:    func(p *plan.Plan) { p.Before.Net = 1e12 },
		plan.BadFigures:  func(p *plan.Plan) { p.Tried = -1 },
		plan.BadWeather:  func(p *plan.Plan) { p.Wish.Weather = []fire.Weather{{Outdoor: -400}} },
		plan.BadStack:    func(p *plan.Plan) { p.MainOf.Stack.Species.Gravity = -1 },
		plan.BadFeeds:    func(p *plan.Plan) { p.Feeds = []plan.Feed{{}} },
		plan.BadKind:     func(p *plan.Plan) { p.Steps[0].Kind = "dance" },
		plan.BadTime:     func(p *plan.Plan) { p.Steps[0].Expected = 1 << 60 },
		plan.BadSign:     func(p *plan.Plan) { p.Steps[1].Fire.When.After = -time.Hour },
		plan.BadDoing:    func(p *plan.Plan) { p.Steps[0].Fire.Do[0].Opening = 7 },
		plan.BadLoad:     func(p *plan.Plan) { p.Steps[0].Fire.Do[1].Load = &fire.Load{} },
		plan.BadCurve:    func(p *plan.Plan) { p.Predicted.Every = 1 },
		plan.BadGauge:    func(p *plan.Plan) { p.Predicted.Gauges["moon"] = nil },
		plan.BadState:    func(p *plan.Plan) { p.Predicted.Phases[0] = "asleep" },
		plan.BadSums:     func(p *plan.Plan) { p.Summary.SmokePerKg = 1e9 },
	} {
		var p plan.Plan
		require.NoError(t, json.Unmarshal(kept, &p))
		bend(&p)
		var because reason.Reason
		require.ErrorAs(t, p.Check(), &because, code)
		assert.Equal(t, code, because.Code, because.Error())
	}
}
