// Package flue computes what the chimney does: the draft it makes, what works
// against it, the gas it carries off and what it keeps as deposits.
//
// Draft is made twice and spent twice. The warm column in the chimney makes
// it; so, the wrong way round, do the house's own warm column and its fans.
// It is spent at the air inlets and on friction on the way up. A fire sees
// only what is left, so every question here ends in a net draft.
//
// Sources: ASHRAE HVAC Systems and Equipment, chapter on chimneys; EN 16510-1
// and CSA B415.1 for the loss by flue gas; NFPA 211 for deposits.
package flue

import (
	"math"
	"slices"

	"smolder/internal/core/reason"
	"smolder/internal/core/units"
)

const (
	gravity        = 9.80665  // m/s²
	gasConstant    = 287.05   // J/kg K, air
	seaLevel       = 101325.0 // Pa
	flowExponent   = 0.65     // of a house's leaks
	testPressure   = 50.0     // Pa, of the n50 test
	pressureHeight = 8434.0   // m, scale height of the lower atmosphere
)

// AirPressure returns the air pressure in Pa at an altitude.
func AirPressure(altitude units.Metre) float64 {
	return seaLevel * math.Exp(-float64(altitude)/pressureHeight)
}

// AirDensity returns kg/m³ of air at a temperature and altitude.
func AirDensity(t units.Celsius, altitude units.Metre) float64 {
	return AirPressure(altitude) / (gasConstant * t.Kelvin())
}

// StackDraft returns the draft of a column of warm gas: g·H·(p/R)(1/T_out − 1/T_flue).
// 6 m at a mean of 200 °C with 0 °C outside gives 32 Pa at sea level. It is
// negative when the flue is colder than outdoors.
func StackDraft(height units.Metre, mean, outdoor units.Celsius, altitude units.Metre) units.Pascal {
	return units.Pascal(gravity * float64(height) * AirPressure(altitude) / gasConstant *
		(1/outdoor.Kelvin() - 1/mean.Kelvin()))
}

// HousePressure returns how far a fan pulls a house below outdoors, Pa, for a
// house that changes its air n50 times an hour at 50 Pa:
//
//	(Q/C)^(1/0.65),  C = n50·V / 50^0.65
func HousePressure(fan units.Flow, n50 float64, volume units.Litre) units.Pascal {
	c := n50 * float64(volume) / 1000 / math.Pow(testPressure, flowExponent)
	if fan <= 0 {
		return 0
	}
	if c <= 0 {
		return units.Pascal(math.Inf(1))
	}
	return units.Pascal(math.Pow(float64(fan)/c, 1/flowExponent))
}

// A Lining is what the gas touches on its way up; it sets how fast the flue
// warms and how much heat it loses.
type Lining string

// The linings.
const (
	Masonry   Lining = "masonry"   // brick or stone, unlined or clay tiles
	BareLiner Lining = "liner"     // a steel liner without insulation
	Insulated Lining = "insulated" // a steel liner, insulated, or a factory-made insulated chimney
	SingleRun Lining = "single"    // plain single-wall pipe all the way (boats, huts)
)

// Linings lists every lining, the most common first.
var Linings = []Lining{Insulated, BareLiner, Masonry, SingleRun}

// Known tells whether l is one of [Linings].
func (l Lining) Known() bool { return slices.Contains(Linings, l) }

// A Chimney is the way of the gas from flue collar to cap.
type Chimney struct {
	Height     units.Metre // flue collar to cap
	Diameter   units.Metre // inside
	Bends      int         // each about 45° or more
	Horizontal units.Metre // level or nearly so
	Lining     Lining
	Outside    bool // stands on an outside wall, in the cold
	Altitude   units.Metre
}

// Why a chimney cannot be kept, with the quantities of each.
const (
	HeightLow     reason.Code = "flue/height-low"  // height, least, usually from, to
	HeightHigh    reason.Code = "flue/height-high" // height, most
	DiameterRange reason.Code = "flue/diameter"    // diameter, least, most
	BendsRange    reason.Code = "flue/bends"       // bends, most
	RunRange      reason.Code = "flue/horizontal"  // run, most
	AltitudeRange reason.Code = "flue/altitude"    // altitude, most
	UnknownLining reason.Code = "flue/lining"      // what was given
)

// What a chimney may be, and how high it usually is.
const (
	leastHeight, mostHeight     units.Metre = 1, 40
	usualLow, usualHigh         units.Metre = 4, 10
	leastDiameter, mostDiameter units.Metre = 0.06, 0.5
	mostBends                               = 8
	mostRun                     units.Metre = 6
	lowest, highest             units.Metre = -500, 6000
)

// Check returns what is wrong with the chimney, or nil: a [reason.Reason] with
// the field it is about.
func (c Chimney) Check() error {
	switch {
	case !(c.Height >= leastHeight):
		return reason.Of("chimney-height", HeightLow, reason.Length(c.Height), reason.Length(leastHeight), reason.Length(usualLow), reason.Length(usualHigh))
	case !(c.Height <= mostHeight):
		return reason.Of("chimney-height", HeightHigh, reason.Length(c.Height), reason.Length(mostHeight))
	case !(c.Diameter >= leastDiameter && c.Diameter <= mostDiameter):
		return reason.Of("diameter", DiameterRange, reason.Size(c.Diameter), reason.Size(leastDiameter), reason.Size(mostDiameter))
	case c.Bends < 0 || c.Bends > mostBends:
		return reason.Of("bends", BendsRange, reason.Count(c.Bends), reason.Count(mostBends))
	case !(c.Horizontal >= 0 && c.Horizontal <= mostRun):
		return reason.Of("horizontal", RunRange, reason.Length(c.Horizontal), reason.Length(mostRun))
	case !(c.Altitude >= lowest && c.Altitude <= highest):
		return reason.Of("altitude", AltitudeRange, reason.Length(c.Altitude), reason.Length(highest))
	case !c.Lining.Known():
		return reason.Of("lining", UnknownLining, reason.Text(string(c.Lining)))
	}
	return nil
}

// Area returns the flue's cross-section in m².
func (c Chimney) Area() float64 { return math.Pi / 4 * float64(c.Diameter) * float64(c.Diameter) }

// Resistance returns the sum of loss coefficients K of entry, bends, friction
// and cap, to be used with the dynamic pressure ½ρv² in the flue.
func (c Chimney) Resistance() float64 {
	friction := 0.034
	if c.Lining == Masonry {
		friction = 0.05
	}
	length := float64(c.Height + c.Horizontal)
	const entry, bend, capLoss = 1.0, 0.75, 1.0
	return entry + capLoss + bend*float64(c.Bends) + friction*length/float64(c.Diameter)
}

// A Wall is how the flue stores and loses heat, per metre of its length.
type Wall struct {
	Capacity float64 // J/K m, of the part that follows the gas
	Inner    float64 // W/K m, gas to wall at rest flow
	Outer    float64 // W/K m, wall to what is around it
}

// WallOf returns the wall of a chimney of this lining and place.
func (c Chimney) Wall() Wall {
	around := math.Pi * float64(c.Diameter)
	w := map[Lining]Wall{
		Insulated: {Capacity: 2600, Inner: 11, Outer: 1.1},
		BareLiner: {Capacity: 2200, Inner: 11, Outer: 4.2},
		Masonry:   {Capacity: 26000, Inner: 12, Outer: 4.5},
		SingleRun: {Capacity: 2000, Inner: 11, Outer: 13},
	}[c.Lining]
	if c.Outside {
		w.Outer *= 1.35
	}
	return Wall{Capacity: w.Capacity * around / 0.47, Inner: w.Inner * around, Outer: w.Outer * around}
}
