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
// State: per load ([batch]) wood not yet turned, its water, the char on its faces,
// the temperatures of those that burn and those that do not, the share alight, the
// flame; the coal bed's mass, temperature and ash; two zones of gas; lining, baffle,
// body and catalyst; four flue wall segments; the room's air and mass. A step is
// two seconds unless the caller asks otherwise, implicit in what is quick, and
// allocates nothing. The gas itself is never a state: it passes through in about a
// second, so what leaves follows at each step from the rest.
//
// One file holds one part of the physics, with its derivation above the code: face.go
// a face of wood, fuel.go and lay.go loads of it, enclosure.go the radiation between
// all surfaces, coals.go the bed, air.go the draft and the inlets, gas.go what gas is
// made of and how quickly it burns, zones.go where it meets air, catalyst.go the
// honeycomb, heat.go and chimney.go where the heat goes, gauge.go what thermometers
// make of it. params.go has one row a family, tuning.go the factors on what nobody
// knows of a stove. number.go holds the look-ups, sim.go the state and the step,
// run.go burns a whole setup through timed or triggered steps, summary.go says what
// it came to.
//
// Every heat flow is taken from one store and given to another in the same
// step, so energy closes to rounding. Units are SI, kelvins included.
//
// Sources: Quintiere for heat-up and taking; EN 1995-1-2 for charring; Rasbash for
// the critical mass flux; Hottel and Sarofim for the enclosure; ASHRAE for the
// chimney; the Wood Handbook for fuel; EN 16510-1 and CSA B415.1 for the flue gas. Range:
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
