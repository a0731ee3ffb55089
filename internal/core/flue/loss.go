package flue

import (
	"errors"
	"math"

	"smolder/internal/core/units"
	"smolder/internal/core/wood"
)

// Wood's composition, kg per kg oven dry, and the molar masses of its elements.
const (
	carbonShare, oxygenShare      = 0.50, 0.43
	molC, molH, molO, molH2O      = 0.012011, 0.001008, 0.015999, 0.018015
	nitrogenPerOxygen             = 0.7905 / 0.2095
	heatOfCO                      = 0.28299 // MJ/mol burnt to CO2
	grossDefault                  = 20.0    // MJ/kg oven dry
	latent                        = 2.442   // MJ/kg water
	stoichiometricOxygen          = carbonShare/molC + wood.Hydrogen/molH/4 - oxygenShare/molO/2
	waterFromHydrogen             = 9 * wood.Hydrogen
	carbonMoles                   = carbonShare / molC
	hydrogenMolesWater            = waterFromHydrogen / molH2O
	cpN2, cpO2, cpCO2, cpCO, cpHO = 29.2, 30.1, 41.0, 29.4, 34.2 // J/mol K, mean 20–250 °C
)

// A Sample is what an analyser and a probe say of the gas leaving the stove.
// Set CO2, or leave it zero and set O2.
type Sample struct {
	Gas, Room units.Celsius
	CO2, O2   units.Fraction // of dry gas by volume
	CO        units.Fraction // of dry gas by volume
	Moisture  units.Fraction // of the wood, dry basis
}

// A Loss is where the fuel's heat went. Sensible and CO are shares of the net
// (lower) energy, Latent is the share of the gross energy that leaves as
// vapour, so that Gross = (1 − Latent) · Net.
type Loss struct {
	Sensible, CO, Latent units.Fraction
	Net, Gross           units.Fraction // efficiency
	O2, CO2              units.Fraction // dry gas
	AirFactor            float64        // air supplied over air needed
}

// ErrGas says that a flue gas cannot come from burning wood.
var ErrGas = errors.New("no wood fire makes this gas: CO2 and CO together lie between 0.5 and 20.4 % of the dry gas")

// LossOf computes the loss by flue gas from first principles: the carbon of a
// kilogram of dry wood (C 50 %, H 6 %, O 43 %) must be found again as CO2 and
// CO, which gives the dry gas it left in; the oxygen balance gives the excess
// air; mean molar heats give the sensible heat.
//
// Check: 250 °C, 20 °C, CO2 9 %, CO 0.2 %, u 18 % → 19.0 % sensible, 1.4 % CO,
// 79.6 % net, O2 11.6 %, λ 2.2. Method of EN 16510-1 and CSA B415.1; good for
// gas up to about 600 °C.
func LossOf(s Sample) (Loss, error) {
	co2 := float64(s.CO2)
	co := float64(s.CO)
	if co2 == 0 {
		co2 = co2FromO2(float64(s.O2), co)
	}
	if co2 < 0 || co < 0 || co2+co < 0.005 {
		return Loss{}, ErrGas
	}
	dryGas := carbonMoles / (co2 + co) // mol per kg dry wood
	nCO := co * dryGas
	used := stoichiometricOxygen - nCO/2
	excess := (dryGas - carbonMoles - nitrogenPerOxygen*used) / (1 + nitrogenPerOxygen)
	if excess < -0.5 {
		return Loss{}, ErrGas
	}
	excess = math.Max(0, excess)
	nitrogen := nitrogenPerOxygen * (used + excess)
	vapour := hydrogenMolesWater + float64(s.Moisture)/molH2O

	rise := float64(s.Gas - s.Room)
	carried := (cpCO2*(carbonMoles-nCO) + cpCO*nCO + cpO2*excess + cpN2*nitrogen + cpHO*vapour) * rise / 1e6
	water := latent * (waterFromHydrogen + float64(s.Moisture))
	net := grossDefault - water

	l := Loss{
		Sensible:  units.Fraction(carried / net),
		CO:        units.Fraction(nCO * heatOfCO / net),
		Latent:    units.Fraction(water / grossDefault),
		O2:        units.Fraction(excess / dryGas),
		CO2:       units.Fraction(co2),
		AirFactor: (used + excess) / stoichiometricOxygen,
	}
	l.Net = 1 - l.Sensible - l.CO
	l.Gross = l.Net * (1 - l.Latent)
	return l, nil
}

// co2FromO2 solves the same oxygen balance the other way round, for analysers
// that read oxygen: with x = O2 and y = CO of the dry gas D per kg of wood,
// D(1 − x(1+r)) = carbon + r(S − yD/2), r nitrogen per oxygen, S needed oxygen.
func co2FromO2(o2, co float64) float64 {
	r := nitrogenPerOxygen
	dryGas := (carbonMoles + r*stoichiometricOxygen) / (1 - o2*(1+r) + r*co/2)
	return carbonMoles/dryGas - co
}
