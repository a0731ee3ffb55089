package fire

import (
	"math"
	"slices"

	"smolder/internal/core/stove"
)

// mostVents is how many controls of one stove act on the fire.
const mostVents = 16

// A vent is one control that acts on the fire. Each is an opening of its own:
// two that let air into the same place add up, and neither knows of the other.
type vent struct {
	key     string
	role    stove.Role
	area    float64 // m², fully open; of the primary inlet for a combined lever
	second  float64 // m² of second air that a combined lever moves too
	opening float64 // 0–1
}

// openings are what all the vents come to at this moment.
type openings struct {
	primary, secondary, grate           float64 // m²
	bypass, damper, fan, blower, ducted float64 // 0–1
	flap                                float64 // 0–1: a barometric damper held open by hand so far; 0: it swings
}

// A combined lever throttles the first air with its travel, and the second later:
// that follows 1 − (1 − o)⁶, and a little of it stays when the lever is shut.
const leverSecondary = 0.05 // share that stays; 0 to 0.15

// leverOpens is the share of the second air at an opening of a combined lever.
func leverOpens(o float64) float64 {
	shut := (1 - o) * (1 - o)
	return leverSecondary + (1-leverSecondary)*(1-shut*shut*shut)
}

// ReadyToLight is how a control of a role stands in a stove made ready to light, and so
// as long as nobody says otherwise: what feeds the fire is open (1), what feeds it from
// below is shut (0) where there is air from above.
func ReadyToLight(r stove.Role, fromAbove bool) float64 {
	switch r {
	case stove.Fan, stove.Blower, stove.Riddle, stove.Barometric:
		return 0
	case stove.UnderGrate, stove.AshFlap:
		if fromAbove {
			return 0
		}
	}
	return 1
}

// layVents gives every control its share of the inlets: controls that let air
// in at the same place divide what the family has there.
func (s *Fire) layVents() {
	count := func(roles ...stove.Role) float64 {
		n := 0
		for _, c := range s.setup.Stove.Controls {
			if slices.Contains(roles, c.Role) {
				n++
			}
		}
		return float64(n)
	}
	above := count(stove.Combined, stove.PrimaryAir, stove.TopAir, stove.DoorVent)
	seconds, below := count(stove.SecondAir, stove.GlassWash), count(stove.UnderGrate, stove.AshFlap)
	combined := count(stove.Combined)
	if above == 0 && below == 0 {
		s.fixed.primary = s.p.primary // an inlet that nobody can shut, or that a fan or damper rules
	}
	if seconds == 0 && combined == 0 {
		s.fixed.secondary = s.p.secondary
	}
	for _, c := range s.setup.Stove.Controls {
		if s.vents.n == mostVents {
			break
		}
		v := vent{key: c.Key, role: c.Role, opening: ReadyToLight(c.Role, above > 0)}
		switch c.Role {
		case stove.Combined:
			v.area = s.p.primary / above
			if seconds == 0 {
				v.second = s.p.secondary / combined
			}
		case stove.PrimaryAir, stove.TopAir, stove.DoorVent:
			v.area = s.p.primary / above
		case stove.SecondAir, stove.GlassWash:
			v.area = s.p.secondary / seconds
		case stove.UnderGrate:
			v.area = underGrateShare * s.p.primary
			if above == 0 {
				v.area = s.p.primary
			}
		case stove.AshFlap:
			v.area = ashFlapShare * s.p.primary
		}
		s.vents.of[s.vents.n] = v
		s.vents.n++
	}
	s.addVents()
}

const (
	underGrateShare = 0.8 // of the primary inlet: a usual under-grate inlet
	ashFlapShare    = 1.4 // and an ash-door flap
)

// addVents works out what the vents come to: areas add up, dampers stand behind
// each other, of several bypasses or fans the most open counts.
func (s *Fire) addVents() {
	o := openings{primary: s.fixed.primary, secondary: s.fixed.secondary, bypass: 0, damper: 1, ducted: 1}
	bypasses := 0
	for i := range s.vents.of[:s.vents.n] {
		v := &s.vents.of[i]
		opening := s.p.opens(v.opening, v.role)
		switch v.role {
		case stove.Combined:
			o.primary += v.area * opening
			o.secondary += v.second * leverOpens(opening)
		case stove.PrimaryAir, stove.TopAir, stove.DoorVent:
			o.primary += v.area * opening
		case stove.UnderGrate, stove.AshFlap:
			o.grate += v.area * opening
		case stove.SecondAir, stove.GlassWash:
			o.secondary += v.area * opening
		case stove.BypassRole:
			bypasses++
			o.bypass = max(o.bypass, v.opening)
		case stove.Damper:
			o.damper = min(o.damper, v.opening)
		case stove.Fan:
			o.fan = max(o.fan, v.opening)
		case stove.Barometric:
			o.flap = max(o.flap, v.opening)
		case stove.Blower:
			o.blower = max(o.blower, v.opening)
		case stove.OutsideAir:
			o.ducted = min(o.ducted, v.opening)
		}
	}
	if bypasses == 0 {
		o.bypass = 1 // there is nothing that could be shut
	}
	s.open = o
}

// Set moves every control of a role.
func (s *Fire) Set(role stove.Role, opening float64) {
	s.set(opening, func(v *vent) bool { return v.role == role })
}

// SetControl moves one control by its key; one that the stove has not is
// ignored.
func (s *Fire) SetControl(key string, opening float64) {
	s.set(opening, func(v *vent) bool { return v.key == key })
}

func (s *Fire) set(opening float64, which func(*vent) bool) {
	for i := range s.vents.of[:s.vents.n] {
		if v := &s.vents.of[i]; which(v) {
			v.opening = clamp(opening, 0, 1)
		}
	}
	s.addVents()
}

// SetDoor moves the stove's door.
func (s *Fire) SetDoor(d Door) { s.door = d }

// airFlows are kg/s, from the draft of the step.
type airFlows struct {
	primary, secondary, leak, grate, door, total float64 // through the fire
	diluting                                     float64 // room air that goes into the flue past the fire: by the barometric damper, over the fire through an open door
	draft                                        float64 // Pa at the collar, net of the room's own
	net                                          float64 // Pa, before any resistance
	wind                                         float64 // Pa, of it
	spilling                                     bool
}

const (
	secondaryReach = 0.8  // of secondary inlets, behind their longer way
	ductShare      = 0.85 // of the room's pull that a duct from outdoors takes off the inlets
	WindowLeaves   = 0.1  // of the room's pull when a window is open a crack
	spillVelocity  = 0.15 // m/s in at the open door, below which smoke comes out
)

// drawAir solves the draft against the inlets and the flue's resistance:
//
//	ΔP = ½ ṁ² [ 1/(ρ_out (C_d A)²) + K/(ρ_flue A_flue²) ]
//
// The chimney makes ΔP, wind adds or takes, the room takes what its fans and
// its own warm column pull.
func (s *Fire) drawAir() {
	// Four columns of gas on top of each other weigh as much as one of their mean.
	mean := 0.25 * (s.flue.gas[0] + s.flue.gas[1] + s.flue.gas[2] + s.flue.gas[3])
	out := s.weather.outdoor
	wind := s.windPressure()
	made := s.gravityColumn * (1/out - 1/mean)
	pull := s.roomPull(out)
	// Air that comes through a duct from outdoors does not feel the room's own pull: it
	// stands under the same outdoor pressure as the cap.
	if s.p.outsideAir {
		pull *= 1 - ductShare*s.open.ducted
	}
	net := made + wind - pull
	density, gasDensity := s.pOverR/out, s.pOverR/mean

	k := s.flue.resistance
	// A damper in the pipe is a plate across it: its resistance grows with the square of
	// how far it shuts. None shuts tight, by its holes or its gap.
	if s.open.damper < 0.98 {
		k += 1.5 / (max(0.12, s.open.damper) * max(0.12, s.open.damper))
	}
	if s.engaged() {
		// Gas that must pass a honeycomb loses pressure in it, the more so while soot lies
		// on it that it is too cold to burn.
		k += catalystLoss
		if s.catalyst < catalystWorks {
			k += coldCatalyst
		}
	}
	in := s.inlets()
	area := (in.primary + in.secondary + in.leak + in.grate + in.door) * dischargeCd
	a := airFlows{net: net, wind: wind, draft: net, spilling: net < 0}
	drive := net + s.p.fanPressure*s.open.fan
	// Inlets and flue are in series: one pressure drives one flow through both, so the
	// resistances add up as areas do, by their inverse squares.
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
		// At an open door it is the speed of the air that holds the smoke in: a draft that
		// serves a shut stove may be too slow across the whole opening.
		a.spilling = net < 0 || s.door == Open && a.door < spillVelocity*density*s.p.doorOpen
		// What more comes in at a door than can pass the fire goes over it, straight into the flue.
		over := max(0, a.door-s.k.DoorThrough*s.p.comb)
		a.door, a.total, a.diluting = a.door-over, a.total-over, a.diluting+over
	}
	if s.p.flap > 0 {
		s.swingFlap(a.draft)
	}
	s.air = a
}

// inlets are the free areas of this moment, m².
func (s *Fire) inlets() airFlows {
	in := airFlows{primary: s.open.primary, secondary: s.open.secondary * secondaryReach, leak: s.p.leak, grate: s.open.grate}
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
// the room air it lets in goes up the flue past the fire. Held open by hand it falls no
// further than that.
func (s *Fire) swingFlap(draft float64) {
	s.flap = clamp(s.flap+(draft/barometricLimit-1)*s.dt/(flapSwings+s.dt), s.open.flap, 1)
}

// roomPull is how far the room is below outdoors, Pa: fans, less what an open
// window lets in, and half the draft of 1.5 m of warm room air.
func (s *Fire) roomPull(outdoor float64) float64 {
	pull := s.fanPull + 0.5*9.80665*1.5*s.pOverR*(1/outdoor-1/s.room.Air.Kelvin())
	if s.window {
		pull *= WindowLeaves
	}
	return pull
}

// windPressure is the wind at the cap: on the whole it pulls a little, and its
// gusts swing both ways. The gusts are two sines whose periods share no
// multiple, so that every run of a scenario has the same weather.
func (s *Fire) windPressure() float64 {
	// In a calm there is nothing to add up.
	if s.weather.wind <= 0 {
		return 0
	}
	const mean, swing = 0.08, 0.16
	q := 0.5 * 1.2 * s.weather.wind * s.weather.wind
	gust := 0.6*math.Sin(s.now*(2*math.Pi/47)) + 0.4*math.Sin(s.now*(2*math.Pi/131))
	return q * (mean + swing*gust)
}
