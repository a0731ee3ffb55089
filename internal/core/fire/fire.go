// Package fire simulates a wood fire in a stove on a chimney in a house.
//
// A log does not burn; its gases do. Heat on its surface drives water and then
// volatiles out of it (pyrolysis). If they come off densely enough, in air, at
// a hot place, they flame, and the flame's heat keeps driving them: that loop
// is the fire. Below a critical flux there is no flame, the log smoulders, and
// the gases leave as smoke unless the lining is hot enough to burn them by
// itself. What is left is char, which glows for hours and lights the next load.
// Warm gas in the chimney makes the draft that brings the air that all of this
// needs, so the chimney is part of the fire.
//
// State: per load ([batch]) water, volatiles, share alight and flame; the coal
// bed; lining, body and catalyst temperatures; four flue wall segments; the
// room's air and mass. A step is two seconds unless the
// caller asks for longer ones, explicit, and allocates nothing.
// The gas itself is never a state: it passes through in under a second, so its
// temperatures follow at each step from the others.
//
// Every heat flow is taken from one store and given to another in the same
// step, so energy closes to rounding. Units are SI, kelvins included.
//
// Sources: Rasbash for the critical mass flux; ASHRAE for the chimney; the
// Wood Handbook for fuel. Range: one burn of up to 48 hours in fireboxes of 5
// to 200 L; wood of 5 to 60 % dry-basis moisture. Mineral fuel is not
// simulated. The starting values describe a mid-size stove and follow for
// others from volume, family and size; see docs/model.md for what that is
// worth.
package fire

import (
	"math"

	"smolder/internal/core/stove"
)

// Constants of the fire itself, the same in every stove.
const (
	sigma       = 5.670374e-8 // W/m²K⁴
	cpAir       = 1060.0      // J/kg K, flue gas of wood at 20–500 °C
	cpVapour    = 1950.0      // J/kg K
	latentHeat  = 2.442e6     // J/kg
	charEnergy  = 31.0e6      // J/kg, complete
	charShare   = 0.20        // of dry wood
	airForChar  = 11.5        // kg/kg
	airForGas   = 4.57        // kg air per kg volatiles
	dischargeCd = 0.65

	flameFlux     = 23e3   // W/m² onto burning wood under full flame
	coalRadiation = 68.9e3 // σ·1050⁴
	reradiation   = 4.5e3  // W/m² lost by a lit surface
	criticalFlux  = 2.0e-3 // kg/m²s of volatiles at u = 15 %
	ambient4      = 300. * 300 * 300 * 300
	pyrolysisHeat = 2.4e6 // J per kg dry wood
	dryingHeat    = 2.6e6 // J per kg water
	dryingLead    = 1.3   // water leaves ahead of the char front
	starterFlux   = 30e3  // W/m² in a starter's flame
	radiatedShare = 0.42  // of the heat released, by flame and coals
	smokePerGas   = 0.060 // kg particulates per kg unburnt volatiles
)

// params are a stove's constants, derived from what its owner can know.
type params struct {
	primary, secondary, leak   float64 // m², fully open
	doorAjar, doorOpen         float64 // m²
	lining, body               float64 // J/K
	liningArea, bodyArea       float64 // m²
	liningEmissivity           float64 // lining to body
	liningUA, exchangeUA       float64 // W/K, gas to lining and to body
	glass                      float64 // share of radiated heat through the glass
	burnoutCold, burnoutHot    float64 // of flaming gas
	thermalAt                  float64 // K, lining temperature where smoke burns without flame
	preheat                    float64 // how well secondary air is placed
	catalyst                   bool
	catalystMass               float64 // J/K
	draftLimit                 float64 // Pa, barometric damper; 0 is none
	connector                  float64 // m² of connector in the room
	connectorU                 float64 // W/m²K through it
	coalBed, blast, liveliness float64 // kg of a full bed; kg/s of air that blows it; kg/s of flaming gas that lights other wood
	topBias                    float64 // how far the top plate leads the body toward the gas
}

// paramsOf scales the starting values from a 55 L secondary-air stove by
// volume (masses) and its two-thirds power (areas), then applies what is
// special to the family.
func paramsOf(s stove.Stove) params {
	k := float64(s.Volume) / 55
	a := math.Pow(k, 2./3)
	p := params{
		primary: 11e-4 * a, secondary: 8e-4 * a, leak: 0.6e-4 * a, doorAjar: 28e-4, doorOpen: 0.09 * a,
		lining: 32e3 * k, body: 75e3 * k, liningArea: 0.55 * a, bodyArea: 1.5 * a, liningEmissivity: 0.25,
		liningUA: 5 * a, exchangeUA: 11 * a, glass: 0.12,
		burnoutCold: 0.84, burnoutHot: 0.99, thermalAt: 830, preheat: 1,
		connector: math.Pi * float64(s.Chimney.Diameter) * 0.9, connectorU: 5, topBias: 0.11,
		coalBed: 0.6 * a, blast: 0.003 * a, liveliness: 4e-4 * a,
	}
	if s.Double {
		p.connectorU = 2
	}
	switch s.Family {
	case stove.Plain:
		p.secondary, p.preheat = 1e-4*a, 0.3
		p.lining, p.liningEmissivity = 24e3*k, 0.6
		p.burnoutCold, p.burnoutHot, p.thermalAt = 0.78, 0.93, 900
		p.leak *= 2
	case stove.Catalytic:
		p.secondary = 4e-4 * a
		p.burnoutCold, p.burnoutHot, p.preheat = 0.80, 0.95, 0.6
		p.catalyst, p.catalystMass = true, 2600*a
		p.exchangeUA, p.body = 13*a, 95e3*k
	case stove.MultiFuel:
		p.burnoutCold, p.burnoutHot, p.preheat = 0.82, 0.97, 0.7
		p.leak *= 1.6
	case stove.Tiny:
		p.secondary, p.preheat = 3e-4*a, 0.6
		p.burnoutCold, p.burnoutHot = 0.80, 0.95
		p.draftLimit = 12
		p.connector = math.Pi * float64(s.Chimney.Diameter) * 0.5
	case stove.Refractory:
		p.lining, p.liningEmissivity = 90e3*k, 0.28
		p.exchangeUA = 16 * a
		p.burnoutHot = 0.995
	}
	return p
}

// smooth rises from 0 at low to 1 at high without a corner.
func smooth(x, low, high float64) float64 {
	t := (x - low) / (high - low)
	if t <= 0 {
		return 0
	}
	if t >= 1 {
		return 1
	}
	return t * t * (3 - 2*t)
}

func clamp(x, low, high float64) float64 { return math.Max(low, math.Min(high, x)) }

func pow4(x float64) float64 { return x * x * x * x }
