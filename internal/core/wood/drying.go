package wood

import (
	"math"

	"smolder/internal/core/units"
)

// Drying of a stack is first order towards the moisture that the air allows:
//
//	du/dt = −k (u − EMC(T, RH))
//
// k starts from what is known of the pieces and of how they lie, about 0.012 a
// day for a 12 cm split under a roof at 15 °C, and doubles with every 10 K. The
// owner's own meter readings then move it: see [Belief].

// A Cover is how a stack lies.
type Cover string

// The covers.
const (
	Roof   Cover = "roof"   // a shed or a roof, air from the sides
	Top    Cover = "top"    // boards or a sheet on top only
	Wrap   Cover = "wrap"   // wrapped in a sheet: it stays damp
	Open   Cover = "open"   // rain on it
	Inside Cover = "inside" // in a heated room
)

// Covers lists the covers and how much they speed drying up.
var Covers = []struct {
	Key    Cover
	Factor float64
}{
	{Roof, 1},
	{Top, 0.85},
	{Open, 0.55},
	{Wrap, 0.45},
	{Inside, 1.2},
}

const (
	usualRate      = 0.012 // a day, of usualThickness at usualAir
	usualThickness = 0.12  // m
	usualAir       = 15.0  // °C
	rateDoubt      = 0.45  // standard deviation of ln k before any reading
	readingDoubt   = 0.02  // of a meter reading, as a share of dry wood
)

// DryingRate returns k per day at 15 °C for pieces of this thickness (m).
// Water leaves through the faces, so a piece twice as thick takes nearly three
// times as long; a round keeps its bark and takes twice as long as a split.
// windy is 0 for a sheltered place, 1 for an open one.
func DryingRate(thickness units.Metre, round bool, cover Cover, windy float64) float64 {
	k := usualRate * math.Pow(usualThickness/math.Max(0.01, float64(thickness)), 1.5)
	if round {
		k /= 2
	}
	for _, c := range Covers {
		if c.Key == cover {
			k *= c.Factor
		}
	}
	return math.Min(0.2, k*(0.85+0.3*math.Max(0, math.Min(1, windy))))
}

// A Day is a day of weather for a stack.
type Day struct {
	Air      units.Celsius
	Humidity units.Fraction
}

// DryDay returns the moisture after a day, from the moisture before it.
func DryDay(u units.Fraction, rate float64, d Day) units.Fraction {
	target := Equilibrium(d.Air, units.Fraction(math.Min(0.97, float64(d.Humidity))))
	k := rate * math.Pow(2, (float64(d.Air)-usualAir)/10)
	return target + (u-target)*units.Fraction(math.Exp(-k))
}

// A Belief is what is known of a stack's k: the middle, and how far off it may
// be, as the standard deviation of its logarithm.
type Belief struct {
	Rate  float64
	Doubt float64
}

// Prior is the belief before any reading.
func Prior(rate float64) Belief { return Belief{rate, rateDoubt} }

// A MeterReading is a corrected reading on a day since the stack was built.
type MeterReading struct {
	Day      int
	Moisture units.Fraction
}

// Learn updates the belief by readings, from the moisture u0 on day 0 under the
// weather of each day since: Bayes' rule on a grid of ln k, which a reading's
// doubt of 2 points of moisture weighs. Readings beyond the weather are left
// out.
func (b Belief) Learn(u0 units.Fraction, weather []Day, readings []MeterReading) Belief {
	const half = 40 // grid points on either side, to four standard deviations
	sum, mean, square := 0.0, 0.0, 0.0
	best := math.Inf(-1)
	logs := make([]float64, 2*half+1)
	for i := range logs {
		z := 4 * float64(i-half) / half
		logs[i] = -z*z/2 - misfit(b.Rate*math.Exp(z*b.Doubt), u0, weather, readings)
		best = math.Max(best, logs[i])
	}
	for i, l := range logs {
		z := 4 * float64(i-half) / half * b.Doubt
		w := math.Exp(l - best)
		sum, mean, square = sum+w, mean+w*z, square+w*z*z
	}
	mean, square = mean/sum, square/sum
	return Belief{b.Rate * math.Exp(mean), math.Max(0.02, math.Sqrt(math.Max(0, square-mean*mean)))}
}

// misfit is half the sum of the squared errors, in doubts.
func misfit(rate float64, u0 units.Fraction, weather []Day, readings []MeterReading) float64 {
	u, sum := u0, 0.0
	for day := 0; day <= len(weather); day++ {
		for _, r := range readings {
			if r.Day == day {
				e := float64(r.Moisture-u) / readingDoubt
				sum += e * e / 2
			}
		}
		if day < len(weather) {
			u = DryDay(u, rate, weather[day])
		}
	}
	return sum
}

// Ready is when a stack comes to a moisture, in days from now. A negative Late
// means that it may not within the weather given; Middle negative, that it does
// not.
type Ready struct{ Early, Middle, Late int }

// ReadyIn returns when moisture u comes down to target under the weather to
// come, with the interval that four out of five lie in.
func (b Belief) ReadyIn(u, target units.Fraction, weather []Day) Ready {
	const tenth = 1.2816 // standard normal
	days := func(z float64) int { return daysTo(u, target, b.Rate*math.Exp(z*b.Doubt), weather) }
	return Ready{days(tenth), days(0), days(-tenth)}
}

func daysTo(u, target units.Fraction, rate float64, weather []Day) int {
	for day := 0; ; day++ {
		if u <= target {
			return day
		}
		if day == len(weather) {
			return -1
		}
		u = DryDay(u, rate, weather[day])
	}
}
