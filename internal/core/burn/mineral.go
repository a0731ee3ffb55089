package burn

import (
	"math"
	"time"

	"smolder/internal/core/units"
)

// Mineral fuel burns otherwise than wood: a deep bed of it, air from below through an open
// grate, riddled and fed at long intervals. None of that is simulated. What is known of such
// a burn is what was logged: how much, how often, how deep; and what follows from masses.

// A Banked is what a burn of mineral fuel came to, by its log alone.
type Banked struct {
	Fuel      units.Kilogram
	Refuels   []time.Time // each load, the first included
	Every     time.Duration
	Riddles   int
	AshOuts   int
	Beds      []units.Metre // as they were seen, in their order
	HeatLow   units.Joule   // to the room
	HeatHigh  units.Joule
	Ash       units.Kilogram // that so much leaves
	WithWood  units.Kilogram // put on after the first of it: two fuels at once
	WoodStove bool           // the stove is none for it
}

// Manufactured mineral fuel, as it is sold for room heaters: net heating value, MJ/kg (27 to
// 31), ash as a share of its mass (0.04 to 0.12), and net efficiency of a stove on it (0.6
// to 0.78; EN 16510-1 asks for 0.65 and more).
const (
	mineralNet              = 28.0
	mineralAsh              = 0.07
	mineralLow, mineralHigh = 0.60, 0.78
)

// Banked adds up what was logged of mineral fuel; false where there was none.
func (b Burn) Banked() (m Banked, there bool) {
	for e := range b.NotReadings() {
		switch e.Kind {
		case Mineral:
			if e.Load != nil {
				m.Fuel += e.Load.Mass()
				m.Refuels = append(m.Refuels, e.At)
			}
		case Load:
			if len(m.Refuels) > 0 && e.Load != nil && !e.Load.Kindling {
				m.WithWood += e.Load.Mass()
			}
		case Riddle:
			m.Riddles++
		case AshOut:
			m.AshOuts++
		case Bed:
			m.Beds = append(m.Beds, e.Depth)
		}
	}
	if n := len(m.Refuels); n > 1 {
		m.Every = m.Refuels[n-1].Sub(m.Refuels[0]) / time.Duration(n-1)
	}
	all := float64(m.Fuel) * mineralNet * 1e6
	m.HeatLow, m.HeatHigh, m.Ash = units.Joule(all*mineralLow), units.Joule(all*mineralHigh), m.Fuel*mineralAsh
	m.WoodStove = !b.Stove.Family.BurnsMineral()
	return m, m.Fuel > 0
}

// BedFor is how deep a bed of mineral fuel is kept: up to the front bars, 10 to 15 cm in
// most stoves, less in a low firebox. The manual wins.
func BedFor(height units.Metre) (low, high units.Metre) {
	if height <= 0 {
		return 0.08, 0.12
	}
	return units.Metre(math.Min(0.10, 0.25*float64(height))), units.Metre(math.Min(0.15, 0.4*float64(height)))
}
