package drying

import (
	"math"
	"slices"
	"strings"
	"time"

	"smolder/internal/core/units"
	"smolder/internal/core/wood"
)

// A Month is the usual weather of a month at a stack.
type Month struct {
	Air      units.Celsius  // mean of day and night
	Humidity units.Fraction // mean
	Rain     units.Fraction // of its days, with more than a drizzle
}

// A Climate is a usual year, January first, and how far single years are off it.
type Climate struct {
	Months        [12]Month
	AirDoubt      float64 // K, standard deviation of a year's drying months
	HumidityDoubt float64 // of relative humidity, likewise
}

// Temperate is the middle of climate normals between 45 and 58° north, and how
// their years differ (WMO normals 1991 to 2020; rain: days of 1 mm or more).
var Temperate = Climate{
	Months: [12]Month{
		{1, 0.87, 0.45}, {2, 0.84, 0.38}, {5, 0.78, 0.38}, {8, 0.73, 0.35}, {13, 0.72, 0.36}, {16, 0.73, 0.36},
		{18, 0.73, 0.36}, {17, 0.75, 0.36}, {14, 0.79, 0.36}, {9, 0.84, 0.42}, {5, 0.87, 0.45}, {2, 0.88, 0.46},
	},
	AirDoubt: 0.8, HumidityDoubt: 0.025,
}

// heated is the air of a room with a stove in it, all the year.
var heated = Climate{Months: [12]Month(slices.Repeat([]Month{{20, 0.42, 0}}, 12)), AirDoubt: 1.5, HumidityDoubt: 0.05}

// South is the same year half a year later: the other half of the earth.
func (c Climate) South() Climate {
	months := c.Months
	for i := range months {
		c.Months[(i+6)%12] = months[i]
	}
	return c
}

// At is the usual climate of a household in a time zone: of the half of the earth that
// it lies on, which is all that a zone tells.
func At(zone *time.Location) Climate {
	name := zone.String()
	for _, south := range southern {
		if strings.HasPrefix(name, south) {
			return Temperate.South()
		}
	}
	return Temperate
}

// EndOf is the end of a moment's day, in its zone: what is known of a stack is known of
// whole days, and a reading made on one counts for it.
func EndOf(now time.Time) time.Time {
	return time.Date(now.Year(), now.Month(), now.Day()+1, 0, 0, 0, 0, now.Location())
}

// southern are zones, or how their names begin, where July is winter (IANA time zone
// database).
var southern = []string{"Australia/", "Antarctica/", "Pacific/Auckland", "Pacific/Chatham", "America/Argentina/", "America/Santiago",
	"America/Punta_Arenas", "America/Montevideo", "America/Buenos_Aires", "America/Sao_Paulo", "Africa/Johannesburg", "Africa/Maseru",
	"Africa/Mbabane", "Atlantic/Stanley", "Atlantic/South_Georgia", "Indian/Kerguelen", "NZ", "Chile/Continental"}

// stepDays is how long the weather is taken for the same, days: within a step
// drying is solved exactly, so that a shorter one changes nothing but the course
// of the months.
const (
	stepDays = 10
	longStep = 30 // of what is longer ago than longAgo
	longAgo  = 2 * 365 * 24 * time.Hour
)

// The humidities between which wood comes to terms with air.
const driestAir, wettestAir = 0.05, 0.97

// A step is a stretch of days within a month.
type step struct {
	days  float64
	month time.Month
}

// steps lie between two moments, which they reach exactly; none where the second
// is not later.
func steps(from, to time.Time, each float64) []step {
	days := to.Sub(from).Hours() / 24
	if days <= 0 {
		return nil
	}
	n := int(math.Ceil(days / each))
	out := make([]step, n)
	for i := range out {
		middle := from.Add(time.Duration((float64(i) + 0.5) / float64(n) * float64(to.Sub(from))))
		out[i] = step{days / float64(n), middle.UTC().Month()}
	}
	return out
}

// A pull is what a month's weather does to wood.
type pull struct {
	emc  float64 // moisture that it draws to, of dry wood
	warm float64 // how much faster than at 15 °C
	rain float64 // of days
}

// A year is the pulls of its months, January first.
type year [12]pull

// year is one that is warmer (K) and damper (relative humidity) than usual.
func (c Climate) year(warmer, damper float64) (y year) {
	for i, m := range c.Months {
		air := float64(m.Air) + warmer
		humidity := math.Max(driestAir, math.Min(wettestAir, float64(m.Humidity)+damper))
		y[i] = pull{float64(wood.Equilibrium(units.Celsius(air), units.Fraction(humidity))), math.Pow(2, (air-15)/10), float64(m.Rain)}
	}
	return y
}
