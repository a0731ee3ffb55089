// Package demo makes the demo household: Tarn Mill, on the made-up island of
// Hallasey, with its four stoves, its wood, and the burns of one heating
// season. The burns come from the fire simulator with noise on the gauges and
// human mistakes in the hands, from a fixed seed, so that every load makes the
// same season.
package demo

import (
	"time"

	"smolder/internal/core/fixture"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
	"smolder/internal/store"
)

// The demo's sign-in, shown on its sign-in page.
const (
	User     = "tarn"
	Password = "mill-on-the-tarn"
)

// alarmsBefore is how long ago the alarms were tested, when the household is loaded.
const alarmsBefore = 13 * 24 * time.Hour

// Profile is the household.
func Profile(today time.Time) store.Profile {
	return store.Profile{
		Name: "Tarn Mill, Hallasey", Zone: "Etc/UTC", Units: units.Metric,
		Alarms: today.UTC().Truncate(24 * time.Hour).Add(-alarmsBefore),
	}
}

// Spaces are what the stoves heat.
func Spaces() []store.Space {
	var out []store.Space
	for _, sp := range fixture.Spaces() {
		out = append(out, spaceOf(sp))
	}
	return out
}

func spaceOf(sp fixture.Space) store.Space {
	return store.Space{Name: sp.Name, House: sp.House, Wanted: sp.Wanted}
}

// Stoves are the four of the house, in the order they are lit most.
func Stoves() []store.Stove {
	var out []store.Stove
	for _, st := range fixture.Stoves() {
		out = append(out, store.Stove{Stove: st.Stove, Space: spaceOf(st.Space)})
	}
	return out
}

// Stacks are the wood at the beginning of the season.
func Stacks() []wood.Stack { return fixture.Stacks() }
