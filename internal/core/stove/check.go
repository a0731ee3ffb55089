package stove

import (
	"errors"
	"fmt"
	"slices"
	"strings"

	"smolder/internal/core/reason"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
)

// Why a stove cannot be kept, with the quantities of each.
const (
	NoName         reason.Code = "stove/no-name"        //
	UnknownFamily  reason.Code = "stove/family"         // what was given
	VolumeRange    reason.Code = "stove/volume"         // volume, least, most
	SideRange      reason.Code = "stove/side"           // which, its length, least, most
	BoxAndVolume   reason.Code = "stove/box-and-volume" // what the sides make, the volume
	MaxLoadRange   reason.Code = "stove/max-load"       // load, volume, a usual load
	OutputRange    reason.Code = "stove/output"         // output, least, most
	NoAir          reason.Code = "stove/no-air"         //
	ManyControls   reason.Code = "stove/many-controls"  // how many, most
	ControlKey     reason.Code = "stove/control-key"    // what was given
	ControlTwice   reason.Code = "stove/control-twice"  // name
	UnknownRole    reason.Code = "stove/role"           // what was given
	UnknownPlace   reason.Code = "stove/place"          // what was given
	GaugeTwice     reason.Code = "stove/gauge-twice"    // place
	GaugeBand      reason.Code = "stove/gauge-band"     // place, low, high, too hot
	BandFalls      reason.Code = "stove/band"           // low, high, too hot
	SurfaceDouble  reason.Code = "stove/surface-double" //
	LoadOverManual reason.Code = "stove/load-manual"    // load, the manual's
	LoadOverUsual  reason.Code = "stove/load-usual"     // load, the most that manuals of this size allow
	NotAssumable   reason.Code = "stove/assumed"        // what was given
	UnknownRule    reason.Code = "stove/manual-rule"    // what was given
	RuleRange      reason.Code = "stove/manual-range"   // a time, least, most
	EngageRange    reason.Code = "stove/engage-range"   // a catalyst's temperature, least, most
	LoadOverBox    reason.Code = "stove/load-box"       // load, wood, what it fills, the firebox
	ScaleFull      reason.Code = "stove/scale-full"     // kind
	ScaleNotches   reason.Code = "stove/scale-notches"  //
	NotchName      reason.Code = "stove/notch-name"     //
	NotchTwice     reason.Code = "stove/notch-twice"    // name
	UnknownScale   reason.Code = "stove/scale"          // what was given
)

// What a stove may be. The ends are beyond every stove that is sold for wood;
// what lies outside is a slip of the hand.
const (
	leastVolume, mostVolume units.Litre    = 3, 400
	leastSide, mostSide     units.Metre    = 0.1, 1.5
	leastLoad, mostLoad     units.Kilogram = 0.2, 60
	loadPerLitre                           = LoadPerLitre
	usualLoad                              = 0.12 // kg per L, of a manual
	leastOutput, mostOutput units.Watt     = 300, 60_000
	// Firebrick, baffles and sloping backs make the volume that a manual gives differ from
	// width times depth times height, in both directions.
	leastBox, mostBox = 0.6, 2.2 // of the volume, that the sides make
	longestKey        = 120
)

// Check returns everything that is wrong with the stove, joined with
// [errors.Join], or nil. Each is a [reason.Reason] with the field it is about.
func (s Stove) Check() error {
	wrong := s.checkNames()
	add := func(field string, code reason.Code, values ...reason.Quantity) {
		wrong = append(wrong, reason.Of(field, code, values...))
	}
	if !s.Family.Known() {
		add("family", UnknownFamily, reason.Text(string(s.Family)))
	}
	if !(s.Volume >= leastVolume && s.Volume <= mostVolume) {
		add("volume", VolumeRange, reason.Volume(s.Volume), reason.Volume(leastVolume), reason.Volume(mostVolume))
	}
	// Written as "not in the range", so that what is no number is refused as well.
	for _, side := range []struct {
		field string
		long  units.Metre
	}{{"width", s.Width}, {"depth", s.Depth}, {"height", s.Height}} {
		if !(side.long >= leastSide && side.long <= mostSide) {
			add(side.field, SideRange, reason.Term(side.field), reason.Size(side.long), reason.Size(leastSide), reason.Size(mostSide))
		}
	}
	// Only where each side makes sense by itself: one slip is told once.
	if box := units.Litre(float64(s.Width*s.Depth*s.Height) * 1000); len(wrong) == 0 && (box < leastBox*s.Volume || box > mostBox*s.Volume) {
		add("volume", BoxAndVolume, reason.Volume(box), reason.Volume(s.Volume))
	}
	if !(s.MaxLoad >= leastLoad && s.MaxLoad <= mostLoad && float64(s.MaxLoad) <= loadPerLitre*float64(s.Volume)) {
		add("max-load", MaxLoadRange, reason.Mass(s.MaxLoad), reason.Volume(s.Volume), reason.Mass(units.Kilogram(usualLoad*s.Volume)))
	}
	if s.Output != 0 && !(s.Output >= leastOutput && s.Output <= mostOutput) {
		add("output", OutputRange, reason.Power(s.Output), reason.Power(leastOutput), reason.Power(mostOutput))
	}
	wrong = append(wrong, s.checkControls()...)
	wrong = append(wrong, s.checkGauges()...)
	wrong = append(wrong, s.checkManual()...)
	for i, field := range s.Assumed {
		if !slices.Contains(Assumable, field) || slices.Contains(s.Assumed[:i], field) {
			add("", NotAssumable, reason.Text(field))
			break
		}
	}
	if err := s.Chimney.Check(); err != nil {
		wrong = append(wrong, err)
	}
	return errors.Join(wrong...)
}

func (s Stove) checkNames() (wrong []error) {
	if strings.TrimSpace(s.Name) == "" {
		wrong = append(wrong, reason.Of("name", NoName))
	} else if r, good := reason.Name("name", s.Name, "stove-name"); !good {
		wrong = append(wrong, r)
	}
	if s.Room != "" {
		if r, good := reason.Name("room", s.Room, "stove-room"); !good {
			wrong = append(wrong, r)
		}
	}
	return wrong
}

func (s Stove) checkControls() (wrong []error) {
	add := func(field string, code reason.Code, values ...reason.Quantity) {
		wrong = append(wrong, reason.Of(field, code, values...))
	}
	// Without something to turn down there is nothing to plan.
	if _, ok := s.MainAir(); !ok {
		add("controls", NoAir)
	}
	if len(s.Controls) > MostControls {
		add("controls", ManyControls, reason.Count(len(s.Controls)), reason.Count(MostControls))
		return wrong
	}
	keys := map[string]bool{}
	for i, c := range s.Controls {
		field := func(part string) string { return fmt.Sprintf("control-%d-%s", i+1, part) }
		switch {
		case c.Key == "" || len(c.Key) > longestKey || !units.Printable(c.Key, false):
			add(field("name"), ControlKey, reason.Text(c.Key))
		case keys[c.Key]:
			add(field("name"), ControlTwice, reason.Text(c.Name))
		}
		keys[c.Key] = true
		if r, good := reason.Name(field("name"), c.Name, "control-name"); !good {
			wrong = append(wrong, r)
		}
		if !c.Role.Known() {
			add(field("role"), UnknownRole, reason.Text(string(c.Role)))
		}
		if r := c.Scale.wrong(); r.Code != "" {
			r.Field = field("full")
			wrong = append(wrong, r)
		}
	}
	return wrong
}

func (s Stove) checkGauges() (wrong []error) {
	add := func(field string, code reason.Code, values ...reason.Quantity) {
		wrong = append(wrong, reason.Of(field, code, values...))
	}
	places := map[Place]bool{}
	for _, g := range s.Gauges {
		field := "gauge-" + string(g.Place)
		switch {
		// An unknown place has no band to judge, so nothing more is asked of it.
		case !g.Place.Known():
			add("gauges", UnknownPlace, reason.Text(string(g.Place)))
			continue
		case places[g.Place]:
			add(field, GaugeTwice, reason.Term(g.Place))
		}
		places[g.Place] = true
		if g.Place.OfFire() && !g.Band.rises() {
			add(field, GaugeBand, append([]reason.Quantity{reason.Term(g.Place)}, g.Band.values()...)...)
		}
		// The outer wall of double pipe is nearly as cold as the room, whatever burns.
		if g.Place == ConnectorSurface && s.Double {
			add(field, SurfaceDouble)
		}
	}
	return wrong
}

// LoadPerLitre is the most that a manual allows for a litre of firebox, kg: 19 lb per cubic
// foot. Stoves are tested with 7 to 12 (EPA Method 28, ASTM E3053); whoever reads more has
// read a cord's mass, or a firebox of other measures.
const LoadPerLitre = 0.31

// ErrLoad is the cause of every refused load.
var ErrLoad = errors.New("the load does not fit this stove")

// LargestLoad is the largest load that the manual allows; assumed: nobody knows it, and it
// is the most that manuals of stoves of this size do.
func (s Stove) LargestLoad() (most units.Kilogram, assumed bool) {
	if s.Takes("max-load") {
		return units.Kilogram(mostUsualLoad * s.Volume), true
	}
	return s.MaxLoad, false
}

// CheckLoad refuses a load that the manual or the firebox does not allow: a
// [reason.Reason] whose cause is [ErrLoad].
func (s Stove) CheckLoad(m units.Kilogram, u units.Fraction, sp wood.Species) error {
	const rounding = 1e-6    // kg
	if s.Takes("max-load") { // the least usual load was taken, and nobody has read that in a manual
		if most := units.Kilogram(mostUsualLoad * s.Volume); !(m <= most) {
			return reason.Of("pieces", LoadOverUsual, reason.Mass(m), reason.Mass(most)).For(ErrLoad)
		}
	} else if !(m <= s.MaxLoad+rounding) {
		return reason.Of("pieces", LoadOverManual, reason.Mass(m), reason.Mass(s.MaxLoad)).For(ErrLoad)
	}
	// Wood takes more room than its own: a stack is a third air.
	if room := wood.LoadOf(sp, u, m).Stacked; room > s.Volume {
		return reason.Of("pieces", LoadOverBox, reason.Mass(m), reason.Text(sp.Name), reason.Volume(room), reason.Volume(s.Volume)).For(ErrLoad)
	}
	return nil
}

// Check returns what is wrong with the band, or nil.
func (b Band) Check() error {
	if !b.rises() {
		return reason.Of("band", BandFalls, b.values()...)
	}
	return nil
}

func (b Band) rises() bool {
	const coldest, hottest = -50, 1300 // °C, of any thermometer
	return b.Low < b.High && b.High <= b.TooHot && b.Low >= coldest && b.TooHot <= hottest
}

func (b Band) values() []reason.Quantity {
	return []reason.Quantity{reason.Degrees(b.Low), reason.Degrees(b.High), reason.Temperature(b.TooHot)}
}

// Check returns what is wrong with the scale, or nil.
func (s Scale) Check() error {
	if r := s.wrong(); r.Code != "" {
		return r
	}
	return nil
}

func (s Scale) wrong() reason.Reason {
	const leastFull, mostFull, leastNotches, mostNotches = 0.1, 200, 2, 20
	switch s.Kind {
	case Lever, PercentOpen:
		return reason.Reason{}
	case Turns, Millimetres, Sixteenths:
		if !(s.Full >= leastFull && s.Full <= mostFull) {
			return reason.Of("", ScaleFull, reason.Term(s.Kind))
		}
		return reason.Reason{}
	case Notches:
		if len(s.Notches) < leastNotches || len(s.Notches) > mostNotches {
			return reason.Of("", ScaleNotches)
		}
		return s.wrongNotch()
	}
	return reason.Of("", UnknownScale, reason.Text(string(s.Kind)))
}

func (s Scale) wrongNotch() reason.Reason {
	seen := map[string]bool{}
	for _, n := range s.Notches {
		name := strings.ToLower(strings.TrimSpace(n))
		switch {
		case name == "" || len(n) > longestKey || !units.Printable(n, false) || strings.Contains(n, ","):
			return reason.Of("", NotchName)
		case seen[name]:
			return reason.Of("", NotchTwice, reason.Text(n))
		}
		seen[name] = true
	}
	return reason.Reason{}
}
