package weather

import (
	"time"

	"smolder/internal/core/units"
)

// Temperature returns the temperature of an hourly forecast at a time from now;
// the last hour's beyond its end. There must be an hour.
func Temperature(hours []Hour, now time.Time) func(time.Duration) units.Celsius {
	return func(d time.Duration) units.Celsius {
		t := hours[0].Temperature
		for _, h := range hours {
			if !h.At.After(now.Add(d)) {
				t = h.Temperature
			}
		}
		return units.Celsius(t)
	}
}

// From returns the hours from the one that begin lies in on, at least the last.
func From(hours []Hour, begin time.Time) []Hour {
	for len(hours) > 1 && !hours[1].At.After(begin) {
		hours = hours[1:]
	}
	return hours
}
