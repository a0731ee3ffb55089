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
	"errors"
	"fmt"
	"strings"

	"smolder/internal/core/flue"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
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

// Families lists the families with the words shown for them.
var Families = []struct {
	Key   Family
	Name  string
	About string
}{
	{SecondaryAir, "secondary air", "insulated firebox with a baffle and preheated air; often one lever for all the air"},
	{Plain, "plain", "one or two air inlets and no second air"},
	{Catalytic, "catalytic", "a honeycomb behind a bypass"},
	{MultiFuel, "multi-fuel", "a grate that riddles, air from above and below"},
	{Tiny, "tiny", "for a boat, van or hut; pieces of 15 to 20 cm"},
	{Refractory, "refractory, forced air", "heavy ceramic firebox with fans"},
}

// A Stove is one stove with its controls, gauges and chimney.
type Stove struct {
	Name     string         `json:"name"`
	Room     string         `json:"room"` // where it stands, in the owner's word
	Family   Family         `json:"family"`
	Volume   units.Litre    `json:"firebox_l"`
	Width    units.Metre    `json:"firebox_width_m"`
	Depth    units.Metre    `json:"firebox_depth_m"`
	Height   units.Metre    `json:"firebox_height_m"` // to the baffle
	MaxLoad  units.Kilogram `json:"manual_max_load_kg"`
	Output   units.Watt     `json:"manual_output_w,omitempty"` // 0 when not known
	Controls []Control      `json:"controls"`
	Gauges   []Gauge        `json:"gauges"`
	Chimney  flue.Chimney   `json:"chimney"`
	Double   bool           `json:"double_wall_connector,omitempty"`
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
// the primary air.
func (s Stove) MainAir() (Control, bool) {
	for _, role := range []Role{Combined, PrimaryAir, DoorVent, TopAir, UnderGrate, Damper} {
		for _, c := range s.Controls {
			if c.Role == role {
				return c, true
			}
		}
	}
	return Control{}, false
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
// else the stove top. Without any of these it returns false and the owner
// steers by eye.
func (s Stove) Guide() (Gauge, bool) {
	for _, p := range []Place{ConnectorProbe, ConnectorSurface, Top, CatalystProbe, FireboxProbe} {
		if g, ok := s.Gauge(p); ok {
			return g, true
		}
	}
	return Gauge{}, false
}

// LongestPiece returns the longest piece that fits in each direction, with a
// finger's breadth to spare.
func (s Stove) LongestPiece(d Direction) units.Metre {
	const spare = 0.03
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

// Check returns everything that is wrong with the stove, each as a sentence
// joined with [errors.Join], or nil.
func (s Stove) Check() error {
	var wrong []error
	say := func(format string, args ...any) { wrong = append(wrong, fmt.Errorf(format, args...)) }
	if strings.TrimSpace(s.Name) == "" {
		say("the stove has no name: what you call it would do")
	}
	if !knownFamily(s.Family) {
		say("%q is not a family of stoves: one of the list would do", string(s.Family))
	}
	if s.Volume < 3 || s.Volume > 400 {
		say("a firebox of %.0f L is not one of a stove: 3 to 400 L would do", float64(s.Volume))
	}
	for _, side := range []struct {
		name string
		v    units.Metre
	}{{"width", s.Width}, {"depth", s.Depth}, {"height", s.Height}} {
		if side.v < 0.1 || side.v > 1.5 {
			say("a firebox %s of %.0f mm does not hold wood: 100 to 1500 mm would do", side.name, float64(side.v)*1000)
		}
	}
	if box := float64(s.Width*s.Depth*s.Height) * 1000; len(wrong) == 0 && (box < 0.6*float64(s.Volume) || box > 2.2*float64(s.Volume)) {
		say("width, depth and height make %.0f L but the volume says %.0f L: one of them is off", box, float64(s.Volume))
	}
	if s.MaxLoad < 0.2 || s.MaxLoad > 60 || float64(s.MaxLoad) > 0.6*float64(s.Volume) {
		say("a largest load of %.1f kg does not go with a firebox of %.0f L: the manual's figure, about %.0f kg, would do",
			float64(s.MaxLoad), float64(s.Volume), 0.12*float64(s.Volume))
	}
	if _, ok := s.MainAir(); !ok {
		say("the stove has no air control: add at least the one you turn down")
	}
	keys := map[string]bool{}
	for _, c := range s.Controls {
		if keys[c.Key] {
			say("two controls are called %q", c.Name)
		}
		keys[c.Key] = true
		if err := c.Scale.Check(); err != nil {
			say("%s: %w", c.Name, err)
		}
	}
	places := map[Place]bool{}
	for _, g := range s.Gauges {
		if places[g.Place] {
			say("two thermometers are at one place (%s)", g.Place.Name())
		}
		places[g.Place] = true
		if !g.Place.Known() {
			say("%q is not a place for a thermometer: one of the list would do", string(g.Place))
		}
		if err := g.Band.Check(); err != nil && g.Place.OfFire() {
			say("%s: %w", g.Place.Name(), err)
		}
		if g.Place == ConnectorSurface && s.Double {
			say("a surface thermometer on double-wall pipe says little about the gas inside: use a probe, or the stove top")
		}
	}
	if err := s.Chimney.Check(); err != nil {
		wrong = append(wrong, err)
	}
	return errors.Join(wrong...)
}

// ErrLoad is the cause of every refused load.
var ErrLoad = errors.New("the load does not fit this stove")

// CheckLoad refuses a load that the manual or the firebox does not allow.
func (s Stove) CheckLoad(m units.Kilogram, u units.Fraction, sp wood.Species) error {
	if m > s.MaxLoad {
		return fmt.Errorf("%w: %.1f kg is over the manual's largest load of %.1f kg; up to %.1f kg would do",
			ErrLoad, float64(m), float64(s.MaxLoad), float64(s.MaxLoad))
	}
	if room := wood.LoadOf(sp, u, m).Stacked; room > s.Volume {
		return fmt.Errorf("%w: %.1f kg of %s fills %.0f L and the firebox holds %.0f L",
			ErrLoad, float64(m), sp.Name, float64(room), float64(s.Volume))
	}
	return nil
}

func knownFamily(f Family) bool {
	for _, k := range Families {
		if k.Key == f {
			return true
		}
	}
	return false
}

// FamilyName returns the words for a family.
func (f Family) Name() string {
	for _, k := range Families {
		if k.Key == f {
			return k.Name
		}
	}
	return string(f)
}
