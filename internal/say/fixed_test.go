package say_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"smolder/internal/core/fixture"
	"smolder/internal/core/plan"
	"smolder/internal/core/stove"
	"smolder/internal/core/wish"
	"smolder/internal/lang"
	"smolder/internal/say"
)

// What is fixed is said in its own words, and what it costs only where an owner would notice.
func TestWhatIsFixedIsSaid(t *testing.T) {
	w := fixture.Evening(fixture.Auntie, fixture.Beech, wish.Cold)
	assert.Empty(t, say.Fixed(w, lang.Metric))
	w.Fixed = wish.Fixed{First: 2, Main: wish.NoLoad, Direction: stove.Sideways, Final: 0.25, Most: 4}
	assert.Equal(t, "In your own way: two pieces to light, nothing on the coals, sideways, left at a quarter, at most 4.0 kg in all.", say.Fixed(w, lang.Metric))
	p := plan.Plan{Wish: w, Trust: plan.Trust{Of: 20, Safe: 20, Smoke: 4}}
	assert.Contains(t, say.FixedCost(p, p, lang.Metric), "no difference that you would notice")
	worse := p
	worse.Trust.Safe, worse.Trust.Smoke, worse.Cold = 15, 6, 2
	text := say.FixedCost(worse, p, lang.Metric)
	for _, part := range []string{"2.0 g of smoke per kg more", "colder", "in 5 more of 20 stoves"} {
		assert.Contains(t, text, part)
	}
}

// Too warm is said of a fire that leaves the room so, and of one that is cold by its end only
// where it was far too warm.
func TestTooWarmAndLetItGoOut(t *testing.T) {
	w := fixture.Evening(fixture.Auntie, fixture.Beech, wish.Cold)
	w.Low, w.High, w.For = 19, 21.5, 2*time.Hour
	of := func(room ...float64) plan.Plan {
		return plan.Plan{Wish: w, Predicted: plan.Curve{Every: time.Hour, Room: room, Coals: make([]float64, len(room))}}
	}
	assert.Empty(t, say.TooWarm(of(18, 22.4, 20), lang.Metric))
	assert.Contains(t, say.TooWarm(of(18, 22.6, 20), lang.Metric), "Too warm: it comes to about 23 °C after 1 h")
	assert.Empty(t, say.TooWarm(of(18, 23, 18), lang.Metric), "a night begins warm")
	assert.NotEmpty(t, say.TooWarm(of(18, 24.6, 18), lang.Metric))
	w.Aim, w.Room = wish.Overnight, 18
	cold := float64(w.Unlit())
	assert.Contains(t, say.LetOut(of(18, 18, cold+0.5), lang.Metric), "Let it go out")
	assert.Empty(t, say.LetOut(of(18, 18, cold+1.5), lang.Metric))
	warm := of(18, 18, cold+0.5)
	warm.Predicted.Coals[2] = 0.5
	assert.Empty(t, say.LetOut(warm, lang.Metric), "coals in the morning are worth a fire")
}
