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
// room's air and mass. A step is two seconds unless the caller asks for longer
// ones, explicit, and allocates nothing. The gas itself is never a state: it
// passes through in under a second, so its temperatures follow at each step
// from the others.
//
// One file holds one part of the physics: air.go the draft and the inlets,
// fuel.go and lay.go the wood, gas.go its combustion and what an analyser would
// read, heat.go where the heat goes, gauge.go what thermometers make of it.
// number.go holds the look-ups, sim.go the state and the step, run.go burns a whole setup through timed
// or triggered steps, summary.go says what it came to.
//
// Every heat flow is taken from one store and given to another in the same
// step, so energy closes to rounding. Units are SI, kelvins included.
//
// Sources: Rasbash for the critical mass flux; ASHRAE for the chimney; the
// Wood Handbook for fuel; EN 16510-1 and CSA B415.1 for the flue gas. Range:
// one burn of up to 48 hours in fireboxes of 5 to 200 L; wood of 5 to 60 %
// dry-basis moisture. Mineral fuel is recorded and not simulated. The starting
// values describe a mid-size stove and follow for others from family, volume
// and the manual's output; docs/model.md says what that is worth.
package fire

// Constants of the fire itself, the same in every stove.
const (
	sigma       = 5.670374e-8 // W/m²K⁴
	latentHeat  = 2.442e6     // J/kg
	charEnergy  = 31.0e6      // J/kg, complete
	charShare   = 0.20        // of dry wood; 0.15 to 0.25 in stoves
	dischargeCd = 0.65
)
