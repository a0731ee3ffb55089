// Package season looks past one fire: how much heat a winter asks for, how much
// wood that is, and whether what is left lasts.
//
//	heat = UA · 24 h · degree-days / 1000   [kWh]
//	wood = heat / (net energy · efficiency)
//
// Answers are intervals: neither the weather to come, nor the stove's
// efficiency, nor the share of heat that comes from wood is known to better.
package season

import (
	"math"

	"smolder/internal/core/house"
	"smolder/internal/core/units"
)

// Base is the outdoor temperature from which a house needs heat: sun, people
// and cooking do the rest.
const Base units.Celsius = 15.5

// DegreeDays sums how far the days lie below [Base].
func DegreeDays(daily []units.Celsius) float64 {
	sum := 0.0
	for _, t := range daily {
		sum += math.Max(0, float64(Base-t))
	}
	return sum
}

// Heat returns what a house loses over degree-days.
func Heat(h house.House, degreeDays float64) units.Joule {
	return units.Joule(h.Loss() * 86400 * degreeDays)
}

// Wood returns the wood, as it is, that brings heat into the room. net is its
// energy in MJ/kg.
func Wood(heat units.Joule, net float64, efficiency units.Fraction) units.Kilogram {
	if net <= 0 || efficiency <= 0 {
		return 0
	}
	return units.Kilogram(heat.MJ() / net / float64(efficiency))
}

// A Stock is what is left and what it is burnt in.
type Stock struct {
	Energy     units.Joule    // net, in all the stacks that are dry enough
	Efficiency units.Fraction // of the stove
	Share      units.Fraction // of the house's heat that comes from wood
}

// An Outlook is whether the wood lasts.
type Outlook struct {
	Needed [3]units.Joule // in the wood: at least, likely, at most
	Left   units.Joule
	Days   [3]int // until it is used up: at the earliest, likely, at the latest; −1: it lasts
}

// Doubts of the outlook, as shares: the weather of the rest of a season, and
// efficiency, share and loss together.
const (
	weatherDoubt = 0.12
	useDoubt     = 0.15
)

// Lasts compares the wood with the days to come, of which the usual mean
// temperatures are given. Four out of five winters lie in the interval.
func (s Stock) Lasts(h house.House, days []units.Celsius) Outlook {
	const tenth = 1.2816
	factor := tenth * math.Hypot(weatherDoubt, useDoubt)
	o := Outlook{Left: s.Energy}
	per := func(f float64, t units.Celsius) float64 {
		return float64(Heat(h, math.Max(0, float64(Base-t)))) * f * float64(s.Share) / math.Max(0.05, float64(s.Efficiency))
	}
	for i, f := range []float64{1 - factor, 1, 1 + factor} {
		used := 0.0
		o.Days[2-i] = -1
		for day, t := range days {
			used += per(f, t)
			if used > float64(s.Energy) && o.Days[2-i] < 0 {
				o.Days[2-i] = day
			}
		}
		o.Needed[i] = units.Joule(used)
	}
	return o
}

// HalfLeft is the old rule for the middle of winter, by the same account: the
// share of the season's wood that should be left when some of its degree-days
// are still to come.
func HalfLeft(left, whole float64) units.Fraction {
	if whole <= 0 {
		return 0
	}
	return units.Fraction(math.Max(0, math.Min(1, left/whole)))
}
