package ways_test

import (
	"math"
	"math/rand/v2"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/review"
	"smolder/internal/core/units"
	"smolder/internal/core/ways"
)

// The mouse data of Efron and Tibshirani (1993), An Introduction to the Bootstrap, tables
// 2.1 and 2.2 and section 15.2: days of survival after an operation.
var (
	treated = []float64{94, 197, 16, 38, 99, 141, 23}
	control = []float64{52, 104, 146, 10, 51, 30, 40, 27, 46}
)

func TestAgainstPublishedExamples(t *testing.T) {
	assert.InDelta(t, 86.86, ways.Mean(treated), 0.01)
	assert.InDelta(t, 56.22, ways.Mean(control), 0.01)
	assert.InDelta(t, 94, ways.Median(treated), 0)
	assert.InDelta(t, 46, ways.Median(control), 0)
	assert.InDelta(t, 23.36, ways.Spread(treated, ways.Mean, 20000), 0.5, "the mean's, of endless draws")
	assert.InDelta(t, 37.83, ways.Spread(treated, ways.Median, 20000), 1, "and the median's")
	// one side of 0.14 is given; of both it is about twice that
	assert.InDelta(t, 0.28, ways.Shuffled(control, treated, ways.Mean), 0.03)
	low, high := ways.Drawn(control, treated, ways.Mean, 0.05)
	assert.Less(t, low, 0.0)
	assert.Greater(t, high, 60.0)
}

// made are burns of two lays, one taking so many times as long to the working band, in
// weather that delays it too.
func made(n int, times float64, r *rand.Rand) []ways.Burn {
	var out []ways.Burn
	for i := range n {
		cold := r.Float64()*12 - 2
		minutes := 20 * math.Exp(0.25*r.NormFloat64()) * (1 - 0.03*cold)
		way := review.Way{Cold: true, Lay: fire.TopDown, Moisture: units.Fraction(0.14 + 0.06*r.Float64())}
		if i%2 == 0 {
			way.Lay, minutes = fire.BottomUp, minutes*times
		}
		out = append(out, burnt(way, minutes, cold, i))
	}
	return out
}

func burnt(way review.Way, minutes, outdoor float64, day int) ways.Burn {
	return ways.Burn{Lit: time.Date(2026, 1, 1, 18, 0, 0, 0, time.UTC).AddDate(0, 0, day), Review: review.Review{Simulated: true, FromLog: true, Used: 8,
		ToWorking: time.Duration(minutes * float64(time.Minute)), SmokePerKg: minutes / 4, Outdoor: units.Celsius(outdoor), Way: way}}
}

var lays = ways.Question{Subject: ways.Lay, A: string(fire.TopDown), B: string(fire.BottomUp)}

// A difference that is there is found, one that is not is seldom claimed, and of few burns
// nothing is said.
func TestCompare(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 6))
	found, claimed := 0, 0
	for range 40 {
		if v := ways.Compare(lays, ways.Early, made(24, 1.6, r)); v.Sure() && v.Difference > 0 {
			found++
		}
		if ways.Compare(lays, ways.Early, made(24, 1, r)).Sure() {
			claimed++
		}
	}
	assert.GreaterOrEqual(t, found, 32, "of 40")
	assert.LessOrEqual(t, claimed, 6, "of 40")
	few := ways.Compare(lays, ways.Early, made(6, 5, r))
	assert.True(t, few.TooFew)
	assert.False(t, few.Sure())
	none := ways.Compare(ways.Question{Subject: ways.Lay, A: "raft", B: "open-v"}, ways.Early, made(20, 2, r))
	assert.True(t, none.TooFew)
}

// The weather does not decide: burns of one lay on cold days only are made comparable, and
// what comes of it stays possible.
func TestAdjusted(t *testing.T) {
	var burns []ways.Burn
	r := rand.New(rand.NewPCG(7, 8))
	for i := range 40 {
		out := 8 * r.Float64()
		lay := fire.TopDown
		if i%2 == 0 {
			lay, out = fire.BottomUp, out-4
		}
		way := review.Way{Cold: true, Lay: lay, Moisture: units.Fraction(0.15 + 0.04*r.Float64())}
		burns = append(burns, burnt(way, 20*math.Exp(-0.12*out+0.03*r.NormFloat64()), out, i))
	}
	v := ways.Compare(lays, ways.Early, burns)
	assert.InDelta(t, 0, v.Difference, 1, "all of it was the weather")
	assert.False(t, v.Sure())
	for i := range burns { // hardly any at all but for the coldest: by a straight line some were under nought
		if burns[i].ToWorking = 0; burns[i].Outdoor < -2 {
			burns[i].ToWorking = time.Hour
		}
	}
	for _, x := range ways.Compare(lays, ways.Early, burns).A {
		assert.GreaterOrEqual(t, x, 0.0)
	}
}

// A model's figure is never one of those that are asked of chance; what is observed is:
// by a gauge that was read, by the eye, by the room's thermometer.
func TestWhatIsObserved(t *testing.T) {
	for _, f := range ways.Computed {
		assert.NotContains(t, ways.Observed, f)
	}
	b := burnt(review.Way{Cold: true}, 12, 3, 0)
	has := func(f ways.Figure) bool { _, ok := ways.ValueOf(f, b); return ok }
	assert.True(t, has(ways.Early) && has(ways.TooHot) && has(ways.Used))
	assert.False(t, has(ways.Cap) || has(ways.Glass) || has(ways.Warm), "nobody has looked, and no thermometer hangs there")
	b.FromLog = false
	assert.False(t, has(ways.Early) || has(ways.TooHot), "the replay is no observation")
	b.Eye = burn.Eye{Smoke: "for long", Glass: "clear"}
	b.Length, b.Held, b.House.Readings = 4*time.Hour, 3*time.Hour, 5
	for f, want := range map[ways.Figure]float64{ways.Cap: 2, ways.Glass: 0, ways.Warm: 75} {
		got, ok := ways.ValueOf(f, b)
		assert.True(t, ok)
		assert.InDelta(t, want, got, 1e-9, f)
	}
}

// What goes with the ways is told, and where it goes with them altogether no difference is
// claimed: all oak burns were night burns.
func TestWhatGoesWithTheWays(t *testing.T) {
	oak := ways.Question{Subject: ways.Wood, A: "beech", B: "oak"}
	made := func(night func(i int) bool) (out []ways.Burn) {
		r := rand.New(rand.NewPCG(3, 4))
		for i := range 20 {
			way, minutes := review.Way{Cold: true, Species: "beech", Moisture: 0.16}, 10.0
			if i%2 == 0 {
				way.Species, minutes = "oak", 25
			}
			b := burnt(way, minutes+r.Float64(), 8*r.Float64(), i)
			if night(i) {
				b.Lit = b.Lit.Add(4 * time.Hour)
			}
			out = append(out, b)
		}
		return out
	}
	mixed := made(func(i int) bool { return i%2 == 0 })
	said := ways.Confounds(oak, mixed)
	assert.Len(t, said, 1)
	assert.Equal(t, ways.Confound{Trait: ways.ByHours, Shares: [2]float64{0, said[0].Shares[1]}, Whole: true}, said[0])
	v := ways.Compare(oak, ways.Early, mixed)
	assert.True(t, v.Mixed)
	assert.False(t, v.Sure())
	fair := made(func(i int) bool { return i%4 < 2 })
	assert.Empty(t, ways.Confounds(oak, fair))
	assert.True(t, ways.Compare(oak, ways.Early, fair).Sure())
	for i := range fair {
		fair[i].Outdoor = units.Celsius(i%2*10 + i%4)
	}
	cold := ways.Confounds(oak, fair)
	assert.Len(t, cold, 1)
	assert.Equal(t, ways.ByOutdoor, cold[0].Trait)
	assert.True(t, cold[0].Number && cold[0].Whole)
}

// Of many figures asked at once one by chance is no finding, and half a minute is none
// however sure.
func TestSeveralAtOnce(t *testing.T) {
	r := rand.New(rand.NewPCG(15, 16))
	alone, together, burnsOf := 0, 0, func() []ways.Burn {
		out := made(24, 1, r)
		for i := range out {
			out[i].Review.TooHot = time.Duration(r.ExpFloat64() * float64(20*time.Minute))
			out[i].Review.Used = units.Kilogram(4 + 6*r.Float64())
			out[i].House.Readings, out[i].Length, out[i].Held = 4, 4*time.Hour, time.Duration(r.Float64()*float64(4*time.Hour))
		}
		return out
	}
	for range 80 {
		burns := burnsOf()
		for _, f := range ways.Observed {
			if ways.Compare(lays, f, burns).Sure() {
				alone++
				break
			}
		}
		for _, v := range ways.Together(lays, ways.Observed, burns) {
			if v.Sure() {
				together++
				break
			}
		}
	}
	t.Logf("of 80 with no difference %d alone, %d together", alone, together)
	assert.Less(t, together, alone)
	assert.LessOrEqual(t, together, 8)

	small := made(24, 1, r)
	for i := range small {
		small[i].ToWorking = 10*time.Minute + time.Duration(i)*time.Second
		if small[i].Way.Lay == fire.BottomUp {
			small[i].ToWorking += 30 * time.Second
		}
	}
	v := ways.Compare(lays, ways.Early, small)
	assert.Less(t, v.Chance, 0.05)
	assert.True(t, v.Small)
	assert.False(t, v.Sure())
}

// In every pair of burns both ways come once; a clear difference ends a trial early, and
// burns that are none of its are not counted.
func TestTrial(t *testing.T) {
	trial := ways.Trial{Question: lays, Seed: 11, Most: 20}
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
	other := ways.Burn{Review: review.Review{Simulated: true, Way: review.Way{Lay: fire.OnCoals}}}
	s = trial.Standing([]ways.Burn{other, other})
	assert.Zero(t, s.Burns)
	assert.Equal(t, trial.Lot(0), s.Next)
}
