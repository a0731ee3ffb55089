package season

import (
	"math"
	"slices"
	"time"

	"smolder/internal/core/drying"
	"smolder/internal/core/units"
)

// A zone tells which half of the earth a household lies on and nothing of its winters. What
// it was outside at its burns does: how much colder a place is than usual, and how much
// further its winter lies from its summer.
//
//	air = yearly mean + shift + wider · (usual air − yearly mean)
//
// Both are found by least squares with what places between 45 and 58° north differ by as
// their prior; by weeks, since a cold day follows a cold one.

// Seen is what it was outside in one week, the mean of its burns.
type Seen struct {
	At  time.Time
	Air units.Celsius
}

const (
	shiftDoubt = 3.0  // K between places (WMO normals 1991 to 2020: 2 to 4)
	widerDoubt = 0.35 // between an island and the inside of a continent
	weekDoubt  = 3.0  // K of a week's mean at the burns about what is usual there
	mostShift  = 12.0
	leastWider = 0.5
	mostWider  = 2.2
)

// LearnClimate is a climate as weeks of burns have shown it to be; weeks that are usually
// warmer than the heating season are left out, for who burns in them burns on odd days.
// known is false of fewer than four.
func LearnClimate(c drying.Climate, weeks []Seen) (_ drying.Climate, known bool) {
	const enough = 4
	mean := 0.0
	for _, m := range c.Months {
		mean += float64(m.Air) / 12
	}
	// The normal equations of shift and wider−1, with their priors.
	a, b, d := 1/(shiftDoubt*shiftDoubt), 0.0, 1/(widerDoubt*widerDoubt)
	p, q, n := 0.0, 0.0, 0
	for _, w := range weeks {
		was := usual(c, w.At)
		if was >= float64(heating)+1 {
			continue
		}
		x, off, weight := was-mean, float64(w.Air)-was, 1/(weekDoubt*weekDoubt)
		a, b, d = a+weight, b+weight*x, d+weight*x*x
		p, q, n = p+weight*off, q+weight*x*off, n+1
	}
	if n < enough {
		return c, false
	}
	det := a*d - b*b
	shift := math.Max(-mostShift, math.Min(mostShift, (d*p-b*q)/det))
	wider := math.Max(leastWider, math.Min(mostWider, 1+(a*q-b*p)/det))
	c.Months = [12]drying.Month(slices.Clone(c.Months[:]))
	for i := range c.Months {
		c.Months[i].Air = units.Celsius(mean + shift + wider*(float64(c.Months[i].Air)-mean))
	}
	return c, true
}
