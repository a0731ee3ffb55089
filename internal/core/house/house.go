// Package house is the room a stove heats and the house around it: how fast
// heat leaves, how much is stored, and how far fans and warm air pull the
// room's pressure below outdoors.
//
// The room is three nodes. The air follows what a stove gives by convection within
// minutes. What it radiates, a half to two thirds, warms the surfaces and furnishings that see
// it, and they the air and the walls behind them; walls, floor and chimney breast follow over
// hours and carry the night.
//
//	C_air dT_air/dt   = convected − UA_air (T_air − T_out) − G (T_air − T_skin)
//	C_skin dT_skin/dt = radiated + G (T_air − T_skin) − K (T_skin − T_mass)
//	C_mass dT_mass/dt = K (T_skin − T_mass) − UA_mass (T_mass − T_out)
//
// UA comes from floor area and build quality until it is learned from logged
// burns. Source of the starting values: degree-day practice, 0.8 to 3 W/K per
// square metre heated.
package house

import (
	"slices"

	"smolder/internal/core/flue"
	"smolder/internal/core/reason"
	"smolder/internal/core/units"
)

// A Build is the shell of a space: how well it keeps heat.
type Build string

// The shells, from worst to best.
const (
	Vehicle  Build = "vehicle"  // a van, a boat's cabin
	Cabin    Build = "cabin"    // timber or light frame, with nothing heavy in it
	Draughty Build = "draughty" // old, thick, leaky
	Ordinary Build = "ordinary"
	Tight    Build = "tight" // new or retrofitted
	Super    Build = "super" // super-insulated
)

// A Shell is how well a [Build] keeps heat: losses by floor area, W/m²K, and in all, W/K; what
// walls and floor hold, J/m²K; n50, air changes an hour at 50 Pa.
type Shell struct {
	Key   Build
	Loss  float64
	Whole float64
	Holds float64
	N50   float64
}

// Builds lists the shells: heat loss per floor area
// (W/m²K) or, of a van or boat, in all (W/K); how much heat walls and floor hold
// per floor area (J/m²K); and a usual n50. Losses are degree-day practice, 0.3
// for a super-insulated house (annual heat under 15 kWh/m²) to 3; a van or a
// cabin loses 40 to 60 W/K. A panelled van and a cabin
// or house of timber hold a tenth of what masonry does: their air warms by 3 to 4.5 K where
// that of a heavy house warms by 1.5 to 2.5 (6 to 7 kWh in two hours, 0 °C outside).
var Builds = []Shell{
	{Vehicle, 0, 50, 30_000, 9},
	{Cabin, 1.4, 0, 30_000, 7},
	{Draughty, 2.6, 0, 260_000, 9},
	{Ordinary, 1.6, 0, 260_000, 5},
	{Tight, 0.8, 0, 260_000, 1.5},
	{Super, 0.35, 0, 260_000, 0.6},
}

// ordinary is the shell of a house of which nothing is known.
var ordinary = Builds[slices.IndexFunc(Builds, func(b Shell) bool { return b.Key == Ordinary })]

// A House is what surrounds the stove: the space it heats.
type House struct {
	Floor  float64
	Build  Build
	N50    float64 // air changes per hour at 50 Pa
	Volume units.Litre
	Fan    units.Flow // kitchen hood, dryer, bathroom, running now

	Given   float64 // UA as the owner knows it; 0: by floor and shell
	Assumed bool    // nobody has said any of this yet

	Learned float64 // UA from logged burns; 0: by floor and build

	Helper Helper // what else heats it
}

// Helper is what else heats a space, as its owner says.
type Helper string

// The helpers, from none to nearly everything.
const (
	Unsaid  Helper = ""
	Nothing Helper = "nothing" // the stove is the only heat
	Some    Helper = "some"    // other heating in the frost, at night, or while everybody is away
	Half    Helper = "half"    // about as much as the stove
	Most    Helper = "most"    // the stove is for the evening
)

// Default is an ordinary room of 45 m² in a house of 300 m³.
func Default() House {
	return House{Floor: 45, Build: Ordinary, N50: 5, Volume: 300_000, Assumed: true}
}

// Mobile tells whether the space is a van or a boat, where people sleep beside
// the stove in little air.
func (h House) Mobile() bool { return h.Build == Vehicle }

// Why a space cannot be kept, with the quantities of each.
const (
	FloorRange   reason.Code = "house/floor"   // floor, least, most
	LeaksRange   reason.Code = "house/n50"     // air changes, least, most
	VolumeRange  reason.Code = "house/volume"  // volume, least, most
	LearnedRange reason.Code = "house/learned" // W/K
	LossRange    reason.Code = "house/loss"    // W/K, least, most
	FanRange     reason.Code = "house/fan"     // flow, most
	UnknownBuild reason.Code = "house/build"   // what was given
	UnknownHelp  reason.Code = "house/helper"  // what was given
)

// What a space may be. Its floor is that of what the stove heats, its volume
// that of the house it is in, through which fans pull.
const (
	leastFloor, mostFloor               = 2, 1000   // m²
	leastN50, mostN50                   = 0.1, 40   // air changes per hour at 50 Pa
	leastVolume, mostVolume units.Litre = 4000, 1e7 //
	mostLearned                         = 1e5       // W/K
	leastLoss, mostLoss                 = 5, 5000   // W/K
	mostFan                 units.Flow  = 5000
)

// Check returns what is wrong with the space, or nil: a [reason.Reason] with
// the field it is about.
func (h House) Check() error {
	_, known := h.shell()
	switch {
	case !(h.Floor >= leastFloor && h.Floor <= mostFloor):
		return reason.Of("floor", FloorRange, reason.Area(h.Floor), reason.Area(leastFloor), reason.Area(mostFloor))
	case !(h.N50 >= leastN50 && h.N50 <= mostN50):
		return reason.Of("n50", LeaksRange, reason.Number(h.N50, 1), reason.Number(leastN50, 1), reason.Number(mostN50, 0))
	case !(h.Volume >= leastVolume && h.Volume <= mostVolume):
		return reason.Of("volume", VolumeRange, reason.Air(h.Volume), reason.Air(leastVolume), reason.Air(mostVolume))
	case !(h.Learned >= 0 && h.Learned < mostLearned):
		return reason.Of("loss", LearnedRange, reason.Number(h.Learned, 0))
	case h.Given != 0 && !(h.Given >= leastLoss && h.Given <= mostLoss):
		return reason.Of("loss", LossRange, reason.Number(h.Given, 0), reason.Number(leastLoss, 0), reason.Number(mostLoss, 0))
	case !(h.Fan >= 0 && h.Fan <= mostFan):
		return reason.Of("fan", FanRange, reason.Flow(h.Fan), reason.Flow(mostFan))
	case !slices.Contains([]Helper{Unsaid, Nothing, Some, Half, Most}, h.Helper):
		return reason.Of("helper", UnknownHelp, reason.Text(string(h.Helper)))
	case !known:
		return reason.Of("build", UnknownBuild, reason.Text(string(h.Build)))
	}
	return nil
}

// shell is the house's row of [Builds].
func (h House) shell() (row Shell, ok bool) {
	for _, b := range Builds {
		if b.Key == h.Build {
			return b, true
		}
	}
	return ordinary, false
}

// UsualN50 is how leaky such a shell usually is, air changes per hour at 50 Pa.
func (h House) UsualN50() float64 {
	b, _ := h.shell()
	return b.N50
}

// Loss returns UA, the heat lost per kelvin to outdoors, W/K.
func (h House) Loss() float64 {
	switch b, _ := h.shell(); {
	case h.Learned > 0:
		return h.Learned
	case h.Given > 0:
		return h.Given
	default:
		return b.Whole + b.Loss*h.Floor
	}
}

// Underpressure returns how far the room is below outdoors at the stove, Pa:
// what the fans pull, and the house's own stack effect about its neutral
// plane, taken at 1.5 m above the stove in a leaky house and 2.5 m in a tall
// tight one.
func (h House) Underpressure(room, outdoor units.Celsius, altitude units.Metre) units.Pascal {
	own := flue.StackDraft(1.5, room, outdoor, altitude)
	return flue.HousePressure(h.Fan, h.N50, h.Volume) + own*0.5
}

// Room is the state of the three nodes.
type Room struct{ Air, Skin, Mass units.Celsius }

// Felt is what somebody in the room feels, as the air of a settled room that feels so: the mean
// of the air and of the surfaces they see (the operative temperature of ISO 7726 at still air).
// What is wanted of a room is said by a thermometer in one that has stood for hours.
func (r Room) Felt() units.Celsius { return (r.Air+r.Skin)/2 + skinLag/2 }

// The nodes, for each square metre of floor. Starting values; the records of three houses
// that were not simulated here, at known heat, are followed to 0.4 K after two hours by them.
const (
	airHolds   = 24_000 // J/m²K: the air, and what warms with it; 10 to 30 thousand
	skinShare  = 0.45   // of what walls and floor hold, that is surfaces and furnishings; 0.2 to 0.5
	airToSkin  = 5.0    // W/m²K; 3 W/m²K of convection on some two square metres of surface
	skinToMass = 20.0   // W/m²K; 10 to 30
	lostByAir  = 0.65   // of the loss, by leaks and windows, that the air has; 0.5 to 0.8
	Radiates   = 0.52   // of a stove's heat that is radiation, where nothing is known of it; 0.33 to 0.66
	skinLag    = 0.3    // K that surfaces are colder than the air of a room that was lived in for some hours
	massLag    = 0.7    // and the walls behind them
)

// Settled is a room that has stood at a temperature for some hours.
func Settled(air units.Celsius) Room { return Room{Air: air, Skin: air - skinLag, Mass: air - massLag} }

// Even is a room all of whose parts have one temperature.
func Even(t units.Celsius) Room { return Room{t, t, t} }

// Walls are the nodes' constants, worked out once for many steps: capacities in J/K,
// conductances in W/K.
type Walls struct{ air, skin, mass, touch, behind, airLoss, massLoss float64 }

// Walls returns the constants of the house's nodes.
func (h House) Walls() Walls {
	ua := h.Loss()
	b, _ := h.shell()
	return Walls{air: h.Floor * airHolds, skin: h.Floor * b.Holds * skinShare, mass: h.Floor * b.Holds * (1 - skinShare), touch: h.Floor * airToSkin,
		behind: h.Floor * skinToMass, airLoss: ua * lostByAir, massLoss: ua * (1 - lostByAir)}
}

// Times are the walls of a space that loses so many times as much.
func (w Walls) Times(loss float64) Walls {
	w.airLoss, w.massLoss = w.airLoss*loss, w.massLoss*loss
	return w
}

// Step moves the room by dt seconds under a heat flow in W.
func (h House) Step(r Room, heat float64, outdoor units.Celsius, dt float64) (Room, float64) {
	return h.Walls().Step(r, heat, outdoor, dt)
}

// Step moves the room by dt seconds under a heat flow in W of which a usual part is
// radiation, and returns what is lost to outdoors, W.
func (w Walls) Step(r Room, heat float64, outdoor units.Celsius, dt float64) (Room, float64) {
	return w.Under(r, (1-Radiates)*heat, Radiates*heat, outdoor, dt)
}

// Under moves the room by dt seconds under what is convected to its air and what is radiated
// to its surfaces, W, and returns what is lost to outdoors, W.
func (w Walls) Under(r Room, convected, radiated float64, outdoor units.Celsius, dt float64) (Room, float64) {
	swap, soaks := w.touch*float64(r.Air-r.Skin), w.behind*float64(r.Skin-r.Mass)
	outAir := w.airLoss * float64(r.Air-outdoor)
	outMass := w.massLoss * float64(r.Mass-outdoor)
	r.Air += units.Celsius((convected - outAir - swap) / w.air * dt)
	r.Skin += units.Celsius((radiated + swap - soaks) / w.skin * dt)
	r.Mass += units.Celsius((soaks - outMass) / w.mass * dt)
	return r, outAir + outMass
}
