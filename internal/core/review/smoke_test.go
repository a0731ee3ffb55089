package review_test

import (
	"math"
	"math/rand/v2"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"smolder/internal/core/belief"
	"smolder/internal/core/burn"
	"smolder/internal/core/learn"
	"smolder/internal/core/review"
)

// A belief that thermometers have led far away does not treble what a season smoked: until
// somebody has looked at the cap, it moves the smoke of a burn by a factor of two at most.
func TestThermometersAloneDoNotTrebleSmoke(t *testing.T) {
	h := drawn(2)[0]
	r := rand.New(rand.NewPCG(9, 2))
	w := someWay(r)
	b := h.logged(w, h.truth(w), r, 4*time.Hour)
	led := learn.New()
	led.Prior.Mean, led.Prior.Covariance = slices.Clone(led.Prior.Mean), slices.Clone(led.Prior.Covariance)
	for i, name := range led.Prior.Names {
		if name == "burnout" {
			led.Prior.Mean[i] = math.Log(6)
			led.Prior.Covariance[i*len(led.Prior.Names)+i] = 1e-4
		}
	}
	usual, _ := review.Of(b, learn.New())
	told, _ := review.Of(b, led)
	t.Logf("usual %.1f g, with what was learned %.1f g", usual.Smoke, told.Smoke)
	assert.Less(t, told.Smoke, 3*usual.Smoke)
	assert.InDelta(t, told.SmokePerKg/told.Smoke, usual.SmokePerKg/usual.Smoke, 0.15*usual.SmokePerKg/usual.Smoke, "grams and grams per kilogram belong together")
	seen := b
	seen.Entries = append(slices.Clone(b.Entries), burn.Entry{ID: "looked", At: b.Started.Add(100 * time.Minute), Kind: burn.Smoke, Smoke: belief.Grey})
	slices.SortStableFunc(seen.Entries, func(x, y burn.Entry) int { return x.At.Compare(y.At) })
	looked, _ := review.Of(seen, led)
	assert.Greater(t, looked.Smoke, told.Smoke, "who has seen grey smoke may believe it")
}
