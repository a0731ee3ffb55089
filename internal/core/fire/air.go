package fire

import (
	"math"

	"smolder/internal/core/stove"
)

// openings are how far everything that moves is open, 0–1.
type openings struct {
	primary, secondary, grate           float64
	bypass, damper, fan, blower, ducted float64
}

// allOpen is a stove made ready to light.
var allOpen = openings{primary: 1, secondary: 1, bypass: 1, damper: 1, ducted: 1}

// leverSecondary is what the second air keeps when a combined lever is shut:
// the lever throttles the primary air first.
const leverSecondary = 0.28

// Set moves a control by its role; roles that do not act on a wood fire are
// ignored.
func (s *Sim) Set(role stove.Role, opening float64) {
	o := clamp(opening, 0, 1)
	switch role {
	case stove.Combined:
		s.open.primary, s.open.secondary = o, leverSecondary+(1-leverSecondary)*o
	case stove.PrimaryAir, stove.TopAir, stove.DoorVent:
		s.open.primary = o
	case stove.UnderGrate, stove.AshFlap:
		s.open.grate = o
	case stove.SecondAir, stove.GlassWash:
		s.open.secondary = o
	case stove.BypassRole:
		s.open.bypass = o
	case stove.Damper:
		s.open.damper = o
	case stove.Fan:
		s.open.fan = o
	case stove.Blower:
		s.open.blower = o
	case stove.OutsideAir:
		s.open.ducted = o
	}
}

// SetDoor moves the stove's door.
func (s *Sim) SetDoor(d Door) { s.door = d }

// airFlows are kg/s, from the draft of the step.
type airFlows struct {
	primary, secondary, leak, grate, door, total float64 // through the fire
	diluting                                     float64 // room air let into the flue by the barometric damper
	draft                                        float64 // Pa at the collar, net of the room's own
	net                                          float64 // Pa, before any resistance
	wind                                         float64 // Pa, of it
	spilling                                     bool
}

const (
	secondaryReach = 0.8  // of secondary inlets, behind their longer way
	catalystLoss   = 3.0  // K of the honeycomb when the bypass is shut
	coldCatalyst   = 1.5  // K more while it is too cold to burn off what settles on it
	ductShare      = 0.85 // of the room's pull that a duct from outdoors takes off the inlets
	windowLeaves   = 0.1  // of the room's pull when a window is open a crack
	spillVelocity  = 0.15 // m/s in at the open door, below which smoke comes out
)

// drawAir solves the draft against the inlets and the flue's resistance:
//
//	ΔP = ½ ṁ² [ 1/(ρ_out (C_d A)²) + K/(ρ_flue A_flue²) ]
//
// The chimney makes ΔP, wind adds or takes, the room takes what its fans and
// its own warm column pull.
func (s *Sim) drawAir() {
	mean := 0.25 * (s.flue.gas[0] + s.flue.gas[1] + s.flue.gas[2] + s.flue.gas[3])
	out := s.weather.outdoor
	wind := s.windPressure()
	made := s.gravityColumn * (1/out - 1/mean)
	pull := s.roomPull(out)
	if s.p.outsideAir {
		pull *= 1 - ductShare*s.open.ducted
	}
	net := made + wind - pull
	density, gasDensity := s.pOverR/out, s.pOverR/mean

	k := s.flue.resistance
	if s.open.damper < 0.98 {
		k += 1.5 / (max(0.12, s.open.damper) * max(0.12, s.open.damper))
	}
	if s.p.catalyst && s.open.bypass <= 0.5 {
		k += catalystLoss
		if s.catalyst < catalystWorks {
			k += coldCatalyst
		}
	}
	in := s.inlets()
	area := (in.primary + in.secondary + in.leak + in.grate + in.door) * dischargeCd
	a := airFlows{net: net, wind: wind, draft: net, spilling: net < 0}
	drive := net + s.p.fanPressure*s.open.fan
	if drive > 0 {
		all := area + s.p.flap*s.flap*dischargeCd
		through := 1 / (density * all * all)
		pipe := k / (gasDensity * s.flue.area * s.flue.area)
		flow := math.Sqrt(2 * drive / (through + pipe))
		a.draft = 0.5 * flow * flow * through
		each := flow * dischargeCd / all
		a.primary, a.secondary, a.leak, a.grate, a.door = in.primary*each, in.secondary*each, in.leak*each, in.grate*each, in.door*each
		a.total = flow * area / all
		a.diluting = flow - a.total
		a.spilling = net < 0 || s.door == Open && a.door < spillVelocity*density*s.p.doorOpen
	}
	if s.p.flap > 0 {
		s.swingFlap(a.draft)
	}
	s.air = a
}

// inlets are the free areas of this moment, m².
func (s *Sim) inlets() airFlows {
	in := airFlows{primary: s.p.primary * s.open.primary, secondary: s.p.secondary * s.open.secondary * secondaryReach, leak: s.p.leak, grate: s.p.grate * s.open.grate}
	switch s.door {
	case Ajar:
		in.door = s.p.doorAjar
	case Open:
		in.door = s.p.doorOpen
	}
	return in
}

// swingFlap lets the barometric damper follow the draft: its weighted flap opens
// while the draft at the collar is over the limit and falls shut under it, and
// the room air it lets in goes up the flue past the fire.
func (s *Sim) swingFlap(draft float64) {
	s.flap = clamp(s.flap+(draft/barometricLimit-1)*s.dt/(flapSwings+s.dt), 0, 1)
}

// roomPull is how far the room is below outdoors, Pa: fans, less what an open
// window lets in, and half the draft of 1.5 m of warm room air.
func (s *Sim) roomPull(outdoor float64) float64 {
	pull := s.fanPull + 0.5*9.80665*1.5*s.pOverR*(1/outdoor-1/s.room.Air.Kelvin())
	if s.window {
		pull *= windowLeaves
	}
	return pull
}

// windPressure is the wind at the cap: on the whole it pulls a little, and its
// gusts swing both ways. The gusts are two sines whose periods share no
// multiple, so that every run of a scenario has the same weather.
func (s *Sim) windPressure() float64 {
	if s.weather.wind <= 0 {
		return 0
	}
	const mean, swing = 0.08, 0.16
	q := 0.5 * 1.2 * s.weather.wind * s.weather.wind
	gust := 0.6*math.Sin(s.now*(2*math.Pi/47)) + 0.4*math.Sin(s.now*(2*math.Pi/131))
	return q * (mean + swing*gust)
}
