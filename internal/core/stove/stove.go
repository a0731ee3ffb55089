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

	// Unattended: the owner has confirmed that the manual allows a fire while
	// people sleep or nobody is in, in a boat, van or hut.
	Unattended bool `json:"manual_allows_unattended,omitempty"`
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

// Check returns everything that is wrong with the stove, joined with
// [errors.Join], or nil. Each is a [units.Problem] with the field it is about.
func (s Stove) Check() error {
	var wrong []error
	say := func(field, format string, args ...any) {
		wrong = append(wrong, units.Problem{Field: field, Text: fmt.Sprintf(format, args...)})
	}
	tell := func(field string, f func(units.System) string) {
		wrong = append(wrong, units.Problem{Field: field, Say: f})
	}
	if strings.TrimSpace(s.Name) == "" {
		say("name", "the stove has no name: what you call it would do")
	} else if text := units.NameProblem(s.Name, "the stove's name"); text != "" {
		say("name", "%s", text)
	}
	if s.Room != "" {
		if text := units.NameProblem(s.Room, "where it stands"); text != "" {
			say("room", "%s", text)
		}
	}
	if !knownFamily(s.Family) {
		say("family", "%q is not a family of stoves: one of the list would do", string(s.Family))
	}
	if !(s.Volume >= 3 && s.Volume <= 400) {
		tell("volume", func(u units.System) string {
			return fmt.Sprintf("a firebox of %s is not one of a stove: %s to %s would do", u.Volume(s.Volume), u.Volume(3), u.Volume(400))
		})
	}
	for _, side := range []struct {
		name string
		v    units.Metre
	}{{"width", s.Width}, {"depth", s.Depth}, {"height", s.Height}} {
		if !(side.v >= 0.1 && side.v <= 1.5) {
			tell(side.name, func(u units.System) string {
				return fmt.Sprintf("a firebox %s of %s does not hold wood: %s to %s would do", side.name, u.Size(side.v), u.Size(0.1), u.Size(1.5))
			})
		}
	}
	if box := units.Litre(float64(s.Width*s.Depth*s.Height) * 1000); len(wrong) == 0 && (box < 0.6*s.Volume || box > 2.2*s.Volume) {
		tell("volume", func(u units.System) string {
			return fmt.Sprintf("width, depth and height make %s but the volume says %s: one of them is off", u.Volume(box), u.Volume(s.Volume))
		})
	}
	if !(s.MaxLoad >= 0.2 && s.MaxLoad <= 60 && float64(s.MaxLoad) <= 0.6*float64(s.Volume)) {
		tell("max-load", func(u units.System) string {
			return fmt.Sprintf("a largest load of %s does not go with a firebox of %s: the manual's figure, about %s, would do",
				u.Mass(s.MaxLoad), u.Volume(s.Volume), u.Mass(units.Kilogram(0.12*s.Volume)))
		})
	}
	if s.Output != 0 && !(s.Output >= 300 && s.Output <= 60_000) {
		tell("output", func(u units.System) string {
			return fmt.Sprintf("an output of %s is not one of a stove: %s to %s would do", u.Power(s.Output), u.Power(300), u.Power(60_000))
		})
	}
	wrong = append(wrong, s.checkControls()...)
	wrong = append(wrong, s.checkGauges()...)
	if err := s.Chimney.Check(); err != nil {
		wrong = append(wrong, err)
	}
	return errors.Join(wrong...)
}

func (s Stove) checkControls() (wrong []error) {
	say := func(field, format string, args ...any) {
		wrong = append(wrong, units.Problem{Field: field, Text: fmt.Sprintf(format, args...)})
	}
	if _, ok := s.MainAir(); !ok {
		say("controls", "the stove has no air control: add at least the one you turn down")
	}
	if len(s.Controls) > MostControls {
		say("controls", "%d controls are more than a stove has: up to %d would do", len(s.Controls), MostControls)
		return wrong
	}
	keys := map[string]bool{}
	for i, c := range s.Controls {
		field := fmt.Sprintf("control-%d-name", i+1)
		switch {
		case c.Key == "" || len(c.Key) > 120 || !units.Printable(c.Key, false):
			say(field, "%q is not a key of a control", c.Key)
		case keys[c.Key]:
			say(field, "two controls are called %q", c.Name)
		}
		keys[c.Key] = true
		if text := units.NameProblem(c.Name, "the control's name"); text != "" {
			say(field, "%s", text)
		}
		if !c.Role.Known() {
			say(fmt.Sprintf("control-%d-role", i+1), "%q is nothing that a control moves: one of the list would do", string(c.Role))
		}
		if err := c.Scale.Check(); err != nil {
			say(fmt.Sprintf("control-%d-full", i+1), "%s: %s", c.Name, err)
		}
	}
	return wrong
}

func (s Stove) checkGauges() (wrong []error) {
	say := func(field string, f func(units.System) string) {
		wrong = append(wrong, units.Problem{Field: field, Say: f})
	}
	places := map[Place]bool{}
	for _, g := range s.Gauges {
		field := "gauge-" + string(g.Place)
		switch {
		case !g.Place.Known():
			say("gauges", func(units.System) string {
				return fmt.Sprintf("%q is not a place for a thermometer: one of the list would do", string(g.Place))
			})
			continue
		case places[g.Place]:
			say(field, func(units.System) string {
				return fmt.Sprintf("two thermometers are at one place (%s)", g.Place.Name())
			})
		}
		places[g.Place] = true
		if g.Place.OfFire() && !g.Band.rises() {
			say(field, func(u units.System) string { return g.Place.Name() + ": " + g.Band.wrong(u) })
		}
		if g.Place == ConnectorSurface && s.Double {
			say(field, func(units.System) string {
				return "a surface thermometer on double-wall pipe says little about the gas inside: use a probe, or the stove top"
			})
		}
	}
	return wrong
}

// Small tells whether the stove is one of a boat, van or hut by its family.
func (s Stove) Small() bool { return s.Family == Tiny }

// ErrLoad is the cause of every refused load.
var ErrLoad = errors.New("the load does not fit this stove")

// CheckLoad refuses a load that the manual or the firebox does not allow: a
// [units.Problem] whose cause is [ErrLoad].
func (s Stove) CheckLoad(m units.Kilogram, u units.Fraction, sp wood.Species) error {
	if !(m <= s.MaxLoad+1e-6) {
		return units.Problem{Field: "pieces", Cause: ErrLoad, Say: func(sys units.System) string {
			return fmt.Sprintf("%s is over the manual's largest load of %s; up to %s would do", sys.Mass(m), sys.Mass(s.MaxLoad), sys.Mass(s.MaxLoad))
		}}
	}
	if room := wood.LoadOf(sp, u, m).Stacked; room > s.Volume {
		return units.Problem{Field: "pieces", Cause: ErrLoad, Say: func(sys units.System) string {
			return fmt.Sprintf("%s of %s fills %s and the firebox holds %s", sys.Mass(m), sp.Name, sys.Volume(room), sys.Volume(s.Volume))
		}}
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
