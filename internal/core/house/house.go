// Package house is the room a stove heats and the house around it: how fast
// heat leaves, how much is stored, and how far fans and warm air pull the
// room's pressure below outdoors.
//
// The room is two nodes. Air and furnishings follow the stove within minutes;
// walls, floor and chimney breast follow over hours and carry the night.
//
//	C_air dT_air/dt   = stove − UA_air (T_air − T_out) − G (T_air − T_mass)
//	C_mass dT_mass/dt = G (T_air − T_mass) − UA_mass (T_mass − T_out)
//
// UA comes from floor area and build quality until it is learned from logged
// burns. Source of the starting values: degree-day practice, 0.8 to 3 W/K per
// square metre heated.
package house

import (
	"fmt"

	"smolder/internal/core/flue"
	"smolder/internal/core/units"
)

// A Build is how well a house keeps heat.
type Build string

// The builds, from worst to best.
const (
	Draughty Build = "draughty" // old, thick, leaky
	Ordinary Build = "ordinary"
	Tight    Build = "tight" // new or retrofitted
)

// Builds lists the builds with the words shown, heat loss per floor area
// (W/m²K) and a usual n50.
var Builds = []struct {
	Key  Build
	Name string
	Loss float64
	N50  float64
}{
	{Draughty, "old and draughty", 2.6, 9},
	{Ordinary, "ordinary", 1.6, 5},
	{Tight, "tight and insulated", 0.8, 1.5},
}

// A House is what surrounds the stove.
type House struct {
	Floor  float64     `json:"heated_floor_m2"`
	Build  Build       `json:"build"`
	N50    float64     `json:"n50"` // air changes per hour at 50 Pa
	Volume units.Litre `json:"volume_l"`
	Fan    units.Flow  `json:"fan_m3_per_h"` // kitchen hood, dryer, bathroom, running now

	Learned float64 `json:"learned_loss_w_per_k,omitempty"` // UA from logged burns; 0: by floor and build
}

// Default is an ordinary room of 45 m² in a house of 300 m³.
func Default() House {
	return House{Floor: 45, Build: Ordinary, N50: 5, Volume: 300_000}
}

// Check returns what is wrong with the house, or nil.
func (h House) Check() error {
	switch {
	case !(h.Floor >= 2 && h.Floor <= 1000):
		return fmt.Errorf("a heated floor of %.0f m² is out of range: 2 to 1000 m² would do", h.Floor)
	case !(h.N50 >= 0.1 && h.N50 <= 40):
		return fmt.Errorf("%.1f air changes at 50 Pa is out of range: 0.1 to 40 would do", h.N50)
	case !(h.Volume >= 4000 && h.Volume <= 1e7):
		return fmt.Errorf("a house of %.0f m³ is out of range: 4 to 10 000 m³ would do", float64(h.Volume)/1000)
	case !(h.Learned >= 0 && h.Learned < 1e5):
		return fmt.Errorf("a learned heat loss of %.0f W/K makes no sense: 0 leaves it to floor and build", h.Learned)
	case !(h.Fan >= 0 && h.Fan <= 5000):
		return fmt.Errorf("fans of %.0f m³/h are out of range: 0 to 5000 m³/h would do", float64(h.Fan))
	}
	for _, b := range Builds {
		if b.Key == h.Build {
			return nil
		}
	}
	return fmt.Errorf("%q is not a build: draughty, ordinary or tight would do", string(h.Build))
}

// Loss returns UA, the heat lost per kelvin to outdoors, W/K.
func (h House) Loss() float64 {
	if h.Learned > 0 {
		return h.Learned
	}
	for _, b := range Builds {
		if b.Key == h.Build {
			return b.Loss * h.Floor
		}
	}
	return 1.6 * h.Floor
}

// Underpressure returns how far the room is below outdoors at the stove, Pa:
// what the fans pull, and the house's own stack effect about its neutral
// plane, taken at 1.5 m above the stove in a leaky house and 2.5 m in a tall
// tight one.
func (h House) Underpressure(room, outdoor units.Celsius, altitude units.Metre) units.Pascal {
	own := flue.StackDraft(1.5, room, outdoor, altitude)
	return flue.HousePressure(h.Fan, h.N50, h.Volume) + own*0.5
}

// Nodes returns the two-node model's constants: capacities in J/K,
// conductances in W/K.
func (h House) Nodes() (air, mass, between, airLoss, massLoss float64) {
	ua := h.Loss()
	return h.Floor * 22_000, h.Floor * 260_000, h.Floor * 9, ua * 0.55, ua * 0.45
}

// Room is the state of the two nodes.
type Room struct{ Air, Mass units.Celsius }

// Step moves the room by dt seconds under a heat flow in W.
func (h House) Step(r Room, heat float64, outdoor units.Celsius, dt float64) (Room, float64) {
	air, mass, between, airLoss, massLoss := h.Nodes()
	swap := between * float64(r.Air-r.Mass)
	outAir := airLoss * float64(r.Air-outdoor)
	outMass := massLoss * float64(r.Mass-outdoor)
	r.Air += units.Celsius((heat - outAir - swap) / air * dt)
	r.Mass += units.Celsius((swap - outMass) / mass * dt)
	return r, outAir + outMass
}
