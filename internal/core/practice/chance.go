package practice

import (
	"cmp"
	"math/rand/v2"
	"slices"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
)

// A Chance is something that happens on a free evening, whatever somebody does.
type Chance struct {
	Kind ChanceKind
	At   time.Duration // since the lesson's beginning

	acts []fire.Act
}

// A ChanceKind names it.
type ChanceKind string

// What may happen.
const (
	HoodOn  ChanceKind = "hood-on"  // somebody cooks
	HoodOff ChanceKind = "hood-off" //
	Gusts   ChanceKind = "gusts"    // the wind gets up
	Still   ChanceKind = "still"    // and drops
	Frost   ChanceKind = "frost"    // it clears, and freezes
)

// The weather of a free evening.
const (
	coldest, mildest = -8.0, 12.0 // °C
	windiest         = 14.0       // m/s
	cooks            = 25 * time.Minute
)

// chances draws the evening: its weather goes into the setup and what is known of it into the
// wish, and what happens comes back in the order of time.
func chances(seed uint64, lasts time.Duration, setup *fire.Setup, w *wish.Wish) []Chance {
	r := rand.New(rand.NewPCG(seed, 7))
	outdoor := coldest + (mildest-coldest)*r.Float64()
	w.Outdoor, setup.Outdoor = units.Celsius(outdoor), units.Celsius(outdoor)
	w.Room += units.Celsius(r.NormFloat64())
	setup.Room = w.Room
	some := func(from, to float64) time.Duration {
		return time.Duration((from + (to-from)*r.Float64()) * float64(lasts)).Truncate(time.Minute)
	}
	var out []Chance
	cook := some(0.05, 0.6)
	out = append(out, Chance{HoodOn, cook, []fire.Act{{Kind: fire.ActFan, Flow: hood}}}, Chance{HoodOff, cook + cooks, []fire.Act{{Kind: fire.ActFan}}})
	gust := some(0.1, 0.8)
	wind := windiest * r.Float64()
	colder := outdoor - 4*r.Float64()
	setup.Weather = []fire.Weather{{At: 0, Outdoor: units.Celsius(outdoor), Wind: 1}, {At: gust, Outdoor: units.Celsius(outdoor), Wind: 1},
		{At: gust + 10*time.Minute, Outdoor: units.Celsius(outdoor - 1), Wind: wind}, {At: gust + time.Hour, Outdoor: units.Celsius(colder), Wind: 1}}
	if wind > windiest/2 {
		out = append(out, Chance{Kind: Gusts, At: gust + 10*time.Minute}, Chance{Kind: Still, At: gust + time.Hour})
	}
	if outdoor-colder > 2 {
		out = append(out, Chance{Kind: Frost, At: gust + time.Hour})
	}
	slices.SortStableFunc(out, func(a, b Chance) int { return cmp.Compare(a.At, b.At) })
	return out
}

// Happened is what chance brought in a span of the lesson.
func (p *Practice) Happened(from, to time.Duration) (out []Chance) {
	for _, c := range p.chance {
		if c.At > from && c.At <= to {
			out = append(out, c)
		}
	}
	return out
}
