package practice_test

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"

	"smolder/internal/core/fire"
	"smolder/internal/core/practice"
	"smolder/internal/core/review"
	"smolder/internal/core/units"
)

// The mouse data of Efron and Tibshirani (1993), An Introduction to the Bootstrap, tables
// 2.1 and 2.2 and section 15.2: days of survival after an operation.
var (
	treated = []float64{94, 197, 16, 38, 99, 141, 23}
	control = []float64{52, 104, 146, 10, 51, 30, 40, 27, 46}
)

func TestAgainstPublishedExamples(t *testing.T) {
	assert.InDelta(t, 86.86, practice.Mean(treated), 0.01)
	assert.InDelta(t, 56.22, practice.Mean(control), 0.01)
	assert.InDelta(t, 94, practice.Median(treated), 0)
	assert.InDelta(t, 46, practice.Median(control), 0)
	assert.InDelta(t, 23.36, practice.Spread(treated, practice.Mean, 20000), 0.5, "the mean's, of endless draws")
	assert.InDelta(t, 37.83, practice.Spread(treated, practice.Median, 20000), 1, "and the median's")
	// one side of 0.14 is given; of both it is about twice that
	assert.InDelta(t, 0.28, practice.Shuffled(control, treated, practice.Mean), 0.03)
	low, high := practice.Drawn(control, treated, practice.Mean, 0.05)
	assert.Less(t, low, 0.0)
	assert.Greater(t, high, 60.0)
}

// made are burns of two lays, one smoking so many times as much, in weather that smokes too.
func made(n int, times float64, r *rand.Rand) []review.Review {
	var out []review.Review
	for i := range n {
		cold := r.Float64()*12 - 2
		smoke := 6 * (1 + 0.25*r.NormFloat64()) * (1 - 0.03*cold)
		way := review.Way{Cold: true, Lay: fire.TopDown, Moisture: units.Fraction(0.14 + 0.06*r.Float64())}
		if i%2 == 0 {
			way.Lay, smoke = fire.BottomUp, smoke*times
		}
		out = append(out, review.Review{Simulated: true, Used: 8, SmokePerKg: smoke, Outdoor: units.Celsius(cold), Way: way})
	}
	return out
}

var lays = practice.Question{Subject: practice.Lay, A: string(fire.TopDown), B: string(fire.BottomUp)}

// A difference that is there is found, one that is not is seldom claimed, and of few burns
// nothing is said.
func TestCompare(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 6))
	found, claimed := 0, 0
	for range 40 {
		if v := practice.Compare(lays, practice.Smoke, made(24, 1.6, r)); v.Sure() && v.Difference > 0 {
			found++
		}
		if practice.Compare(lays, practice.Smoke, made(24, 1, r)).Sure() {
			claimed++
		}
	}
	assert.GreaterOrEqual(t, found, 32, "of 40")
	assert.LessOrEqual(t, claimed, 6, "of 40")
	few := practice.Compare(lays, practice.Smoke, made(6, 5, r))
	assert.True(t, few.TooFew)
	assert.False(t, few.Sure())
	none := practice.Compare(practice.Question{Subject: practice.Lay, A: "raft", B: "open-v"}, practice.Smoke, made(20, 2, r))
	assert.True(t, none.TooFew)
}

// The weather does not decide: burns of one lay on cold days only are made comparable.
func TestAdjusted(t *testing.T) {
	var burns []review.Review
	r := rand.New(rand.NewPCG(7, 8))
	for i := range 40 {
		out := 8 * r.Float64()
		lay := fire.TopDown
		if i%2 == 0 {
			lay, out = fire.BottomUp, out-4
		}
		burns = append(burns, review.Review{Simulated: true, Used: 8, SmokePerKg: 10 - 0.8*out + 0.3*r.NormFloat64(), Outdoor: units.Celsius(out),
			Way: review.Way{Cold: true, Lay: lay, Moisture: units.Fraction(0.15 + 0.04*r.Float64())}})
	}
	v := practice.Compare(lays, practice.Smoke, burns)
	assert.InDelta(t, 0, v.Difference, 0.5, "all of it was the weather")
}

// In every pair of burns both ways come once; a clear difference ends a trial early, and
// burns that are none of its are not counted.
func TestTrial(t *testing.T) {
	trial := practice.Trial{Question: lays, Seed: 11, Most: 20}
	for n := 0; n < 20; n += 2 {
		assert.NotEqual(t, trial.Lot(n), trial.Lot(n+1))
	}
	r := rand.New(rand.NewPCG(9, 9))
	s := trial.Standing(made(20, 4, r))
	assert.True(t, s.Clear)
	assert.Less(t, s.Burns, 20)
	assert.Empty(t, s.Next)
	s = trial.Standing(made(20, 1, r))
	assert.True(t, s.Over)
	assert.Equal(t, 20, s.Burns)
	other := review.Review{Simulated: true, Way: review.Way{Lay: fire.OnCoals}}
	s = trial.Standing([]review.Review{other, other})
	assert.Zero(t, s.Burns)
	assert.Equal(t, trial.Lot(0), s.Next)
}
