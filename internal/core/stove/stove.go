// Package stove describes a stove as its owner knows it: what kind it is, how
// big, which controls it has and how they are marked, which gauges hang where
// and what their bands are, and the chimney it stands on.
//
// A control keeps two things: the owner's own reading ("2 turns", "3/16 in",
// "lever a third") and the normalised opening from 0 to 1 that the computation
// uses. A gauge always has a place; a temperature without its place is not a
// reading.
package stove

import (
	"slices"

	"smolder/internal/core/flue"
	"smolder/internal/core/units"
)

// A Family is a way of building stoves; it decides how air gets in and which
// controls there may be.
type Family string

// The families.
const (
	Plain        Family = "plain"
	SecondaryAir Family = "secondary-air"
	Catalytic    Family = "catalytic"
	MultiFuel    Family = "multi-fuel"
	Tiny         Family = "tiny"
	Refractory   Family = "refractory"
)

// Families lists the families, the most common first.
var Families = []Family{SecondaryAir, Plain, Catalytic, MultiFuel, Tiny, Refractory}

// A Stove is one stove with its controls, gauges and chimney.
type Stove struct {
	Name     string
	Room     string // where it stands, in the owner's word
	Family   Family
	Volume   units.Litre
	Width    units.Metre
	Depth    units.Metre
	Height   units.Metre // to the baffle
	MaxLoad  units.Kilogram
	Output   units.Watt // 0 when not known
	Controls []Control
	Gauges   []Gauge
	Chimney  flue.Chimney
	Double   bool

	Manual Manual // what it says where the rule says otherwise

	// Unattended: the owner has confirmed that the manual allows a fire while
	// people sleep or nobody is in, in a boat, van or hut.
	Unattended bool

	// Assumed lists the fields, of [Assumable], whose values are taken as usual
	// because their owner does not know them.
	Assumed []string
}

// Control finds a control by its key.
func (s Stove) Control(key string) (Control, bool) {
	for _, c := range s.Controls {
		if c.Key == key {
			return c, true
		}
	}
	return Control{}, false
}

// MainAir returns the control that is turned down: the combined lever, else
// the primary air, else whatever rules the air at all.
func (s Stove) MainAir() (Control, bool) {
	for _, role := range []Role{Combined, PrimaryAir, DoorVent, TopAir, UnderGrate, Fan, AshFlap, Damper} {
		for _, c := range s.Controls {
			if c.Role == role {
				return c, true
			}
		}
	}
	return Control{}, false
}

// FromAbove tells whether the stove has air of its own for wood, from above or the front,
// so that what comes from below is not needed for it.
func (s Stove) FromAbove() bool {
	return slices.ContainsFunc(s.Controls, func(c Control) bool {
		switch c.Role {
		case Combined, PrimaryAir, TopAir, DoorVent:
			return true
		}
		return false
	})
}

// Bypass returns the bypass, if the stove has one.
func (s Stove) Bypass() (Control, bool) { return s.role(BypassRole) }

func (s Stove) role(r Role) (Control, bool) {
	for _, c := range s.Controls {
		if c.Role == r {
			return c, true
		}
	}
	return Control{}, false
}

// Gauge finds the gauge at a place.
func (s Stove) Gauge(p Place) (Gauge, bool) {
	for _, g := range s.Gauges {
		if g.Place == p {
			return g, true
		}
	}
	return Gauge{}, false
}

// Guide returns the gauge to steer by: the connector probe, else its surface,
// else the stove top or its door. Without any of these it returns false and the owner
// steers by eye.
func (s Stove) Guide() (Gauge, bool) {
	for _, r := range PlaceRows {
		if g, ok := s.Gauge(r.Place); ok && r.Fire {
			return g, true
		}
	}
	return Gauge{}, false
}

// LongestPiece returns the longest piece that fits in each direction, with a
// finger's breadth to spare.
func (s Stove) LongestPiece(d Direction) units.Metre {
	const spare = 0.03 - 1e-6 // a piece of exactly that length fits, however it was reckoned
	if d == EndOn {
		return s.Depth - spare
	}
	return s.Width - spare
}

// A Direction is how pieces lie in the firebox.
type Direction string

// The directions.
const (
	EndOn    Direction = "end-on"   // pieces point at the door
	Sideways Direction = "sideways" // parallel to the door
)

// MostControls is how many controls a stove may have.
const MostControls = 12

// Small tells whether the stove is one of a boat, van or hut by its family.
func (s Stove) Small() bool { return s.Family == Tiny }

// HasJets tells whether second air comes in above the wood, through holes, slots or tubes at
// which flames are seen when the gas burns there.
func (s Stove) HasJets() bool { return s.Family != Plain && s.Family != Tiny }

// BurnsMineral tells whether stoves of a family may be made for mineral fuel: with a grate
// that air comes up through. The manual says whether this one is.
func (f Family) BurnsMineral() bool { return f == MultiFuel }

// Known tells whether f is one of [Families].
func (f Family) Known() bool { return slices.Contains(Families, f) }
