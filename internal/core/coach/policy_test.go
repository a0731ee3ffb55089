package coach_test

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/belief"
	"smolder/internal/core/burn"
	"smolder/internal/core/coach"
	"smolder/internal/core/fire"
	"smolder/internal/core/fixture"
	"smolder/internal/core/policy"
	"smolder/internal/core/stove"
)

// said is what the coach calls each of the policy's reasons.
var said = map[policy.Reason]coach.RuleID{policy.OverLimit: coach.OverLimit, policy.AirAgain: coach.Cooled, policy.Climbs: coach.Climbing,
	policy.NotTaken: coach.NotCaught, policy.StepBack: coach.TooFar, policy.AllItHas: coach.Dies}

// The coach says what the hand does, by which the safety of every plan is foretold: one fire,
// as somebody who stands before it sees it, and as a log with a belief tells it.
func TestTheCoachSaysWhatTheHandDoes(t *testing.T) {
	auntie := fixture.Stoves()[fixture.Auntie]
	air, ok := auntie.MainAir()
	require.True(t, ok)
	guide, ok := auntie.Guide()
	require.True(t, ok)
	low, limit := float64(guide.Band.Low), float64(guide.Band.TooHot)
	r := rand.New(rand.NewPCG(22, 1))
	pick := func(of ...float64) float64 { return of[r.IntN(len(of))] }
	chance := func(share float64) bool { return r.Float64() < share }
	mark := func(o float64) float64 { return air.Scale.Nearest(o) }
	seen := map[policy.Reason]int{}
	for n := range 3000 {
		loaded := 2 + r.IntN(60)
		moved := 1 + r.IntN(min(loaded-1, 40))
		s := policy.Situation{Risk: pick(0, 0, 0.5, 0.9), Air: mark(pick(0.15, 0.2, 0.33, 0.5, 0.67, 1)), Before: mark(pick(0.33, 0.5, 0.67, 1, 1)), Most: 1, HotAgo: -1, Lit: true,
			Moved: time.Duration(moved) * time.Minute, Loaded: time.Duration(loaded) * time.Minute, Wood: pick(0.1, 0.3, 1, 2), Pale: chance(0.4), Dark: chance(0.5)}
		value, rate := pick(0.6, 0.75, 0.9, 0.96, 1.02)*limit, pick(-10, -4, 0, 4, 12)
		if chance(0.3) { // a gauge that is cold
			value, rate = 0.9*low, pick(-4, 0, 4)
			s.Dark = s.Dark || s.Pale
		}
		log := fmt.Sprintf("0 air %g; 0 load 4.2; 0 lit;", s.Before)
		if !s.Pale {
			log += "1.5 black;"
		}
		if loaded > moved+2 && chance(0.3) { // it was hot before the air was moved
			hot := loaded - moved - 1
			log += fmt.Sprintf("%d probe %g;", hot, 0.97*limit)
			had := s.Before
			if hot <= 4 {
				had = 1 // it had been laid with all its air
			}
			s.HotAgo, s.Most = time.Duration(loaded-hot)*time.Minute, policy.MostAfter(had)
			if chance(0.5) { // and shut for it
				s.Air = 0.05
				s.Air = mark(s.Air)
			}
		}
		log += fmt.Sprintf("%d air %g;", loaded-moved, s.Air)
		if s.Dark {
			log += fmt.Sprintf("%g out;", float64(loaded)-0.5*float64(moved))
		}
		if loaded >= 5 {
			log += fmt.Sprintf("%d probe %g;", loaded-3, value-3*rate)
		} else {
			rate = 0
		}
		log += fmt.Sprintf("%d probe %g", loaded, value)
		b := record(t, fixture.Auntie, 0.9, log)
		slices.SortStableFunc(b.Entries, func(x, y burn.Entry) int { return x.At.Compare(y.At) })
		// What the log says of rates and of heat is what whoever stands there has seen too.
		g := policy.Gauge{Place: stove.ConnectorProbe, Value: value, Low: low, Limit: limit, Rate: rate, HasRate: loaded >= 5}
		if value >= policy.NearLimit*limit && max(s.Air, s.Before) > policy.LeastAir {
			had := s.Air
			if s.Moved <= policy.Answered {
				had = max(had, s.Before)
			}
			if s.Loaded <= policy.Answered {
				had = 1
			}
			if had > policy.LeastAir {
				s.HotAgo, s.Most = 0, policy.MostAfter(had)
			}
		}
		if near := value - 3*rate; loaded >= 5 && near >= policy.NearLimit*limit && s.HotAgo != 0 {
			continue // hot three minutes ago, and the air moved since: the log knows it closer than this test
		}
		if s.HotAgo > 0 && s.HotAgo < 9*time.Minute {
			continue // that reading is part of the slope that the log has
		}
		if value < low && s.HotAgo > policy.ColdAfter {
			s.Most = 1
		}
		s.Gauges, s.Feeds = []policy.Gauge{g}, s.Air
		if s.Air <= 0.06 && !(s.HotAgo >= 0) {
			continue
		}
		standing := belief.Standing{Phase: fire.Cruising, Flames: 1, Black: 1, Wood: belief.Three{Middle: s.Wood}, Coals: belief.Three{Middle: 0.3}, Room: belief.Three{Middle: 20}}
		if s.Dark {
			standing.Flames, standing.NotCaught = 0, 1
		}
		if s.Pale {
			standing.Black = 0
		}
		before := coach.Answer{Phase: fire.Cruising, Standing: standing}
		before.Forecast.Risks.TooHot = s.Risk
		now := start.Add(s.Loaded)
		got := coach.Ask(coach.Asked{Burn: b, Now: now, Before: &before}).Advice
		want, acts := s.Decide()
		if acts && want.Moves && mark(want.Air) == s.Air {
			continue // no mark between
		}
		text := fmt.Sprintf("%d: %s\nsituation %+v", n, log, s)
		if !acts && s.Pale && s.Dark && value < low {
			continue // all is done for a load that does not take: the coach says once more what stands so
		}
		if !acts {
			for reason, code := range said {
				if !assert.NotEqual(t, code, got.Code, "nothing is to be done, and the coach says so: %s\n%s", reason, text) {
					return
				}
			}
			continue
		}
		seen[want.Reason]++
		code := said[want.Reason]
		if want.Reason == policy.AllItHas && s.Pale && got.Code == coach.NotCharred {
			code = got.Code // pale wood without flames wants the same, by another name
		}
		if !assert.Equal(t, code, got.Code, text) {
			return
		}
		for _, set := range got.Sets {
			if want.Moves && set.Control.Key == air.Key && !assert.InDelta(t, mark(min(want.Air, s.Most)), set.Opening, 0.101, text) {
				return
			}
		}
		if want.Sets && !assert.Contains(t, got.Acts, fire.Act{Kind: fire.ActDoor, Door: want.Door}, text) {
			return
		}
	}
	for reason := range said {
		assert.Greater(t, seen[reason], 8, "situations in which it is %s", reason)
	}
	t.Log(seen)
}
