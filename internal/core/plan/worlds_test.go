package plan_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"smolder/internal/core/fire"
	"smolder/internal/core/fixture"
	"smolder/internal/core/plan"
	"smolder/internal/core/when"
	"smolder/internal/core/wish"
)

// onCoals is the kitchen's stove on a good bed, with so many pieces and a last setting.
func onCoals(pieces int, final float64) (wish.Wish, plan.Recipe) {
	w := fixture.Evening(0, 0, wish.GoodCoals)
	return w, plan.Recipe{Main: pieces, Direction: "end-on", Lay: fire.OnCoals, Brisk: 1, Most: 1, Final: final, Pause: 6 * time.Minute}
}

func lived(w wish.Wish, r plan.Recipe, n int) plan.Trust {
	return plan.TrustIn(plan.Live(w, plan.Steps(w, r), n, fire.Options{Until: w.For, Every: time.Hour}), plan.Clean{})
}

// A plan that leaves its load air keeps its limits in more of the stoves like this one
// than one that chokes it, and asks for fewer steps back.
func TestMoreAirIsSurer(t *testing.T) {
	w, choked := onCoals(3, 0.05)
	_, fed := onCoals(3, 0.6)
	low, high := lived(w, choked, 20), lived(w, fed, 20)
	t.Log(low, high)
	assert.Equal(t, 20, low.Of)
	assert.Greater(t, high.Kept, low.Kept)
	assert.Greater(t, low.Raised, high.Raised)
	assert.Greater(t, low.Smoke, 1.2*high.Smoke)
	assert.LessOrEqual(t, low.Kept, low.Safe)
}

// What the steps say besides is worth it: with somebody there to do it the same steps
// are safer.
func TestTheHandHelps(t *testing.T) {
	w, r := onCoals(6, 0.5)
	with := lived(w, r, 20)
	w.There = when.Presence{{From: 50 * time.Hour, To: 51 * time.Hour}} // nobody
	without := lived(w, r, 20)
	t.Log(with, without)
	assert.Zero(t, without.Cooled+without.Raised+without.Ajar)
	assert.Greater(t, with.Safe, without.Safe)
	assert.Less(t, with.Smoke, 1.4*without.Smoke, "air that is taken back from a hot fire costs some smoke")
	assert.Greater(t, with.Cooled, 3)
}

// The same steps live the same lives, and a plan's ranges hold what is expected.
func TestLivesAreTheSameEachTime(t *testing.T) {
	w, r := onCoals(3, 0.4)
	assert.Equal(t, lived(w, r, 8), lived(w, r, 8))
	steps := plan.Steps(w, r)
	p := plan.Make(w, r, nil, plan.Run(w, steps), 8)
	assert.Equal(t, 8, p.Trust.Of)
	for _, s := range p.Steps {
		assert.True(t, s.Earliest <= s.Expected && s.Expected <= s.Latest, s.Kind)
		assert.True(t, s.Share >= 0 && s.Share <= 1)
	}
	wide := 0
	for i, m := range p.Predicted.Gauges["connector-probe"] {
		assert.True(t, p.Low[i] <= m && m <= p.High[i])
		if p.High[i]-p.Low[i] > 40 {
			wide++
		}
	}
	assert.Greater(t, wide, 20, "nobody knows a stove to some degrees")
}
