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
	heatOfCO, heatOfCH4           = 0.28299, 0.80262             // MJ/mol burnt to CO2
	heatOfTar, tarNeeds           = 0.53, 1.14                   // MJ and mol of oxygen for each mol of its carbon
	grossDefault                  = 20.0                         // MJ/kg oven dry
	latent                        = 2.442                        // MJ/kg water
	cpN2, cpO2, cpCO2, cpCO, cpHO = 29.2, 30.1, 41.0, 29.4, 34.2 // J/mol K, mean 20–250 °C
	cpCH4                         = 41.0
)

// A Sample is what an analyser and a probe say of the gas leaving the stove.
// Set CO2, or leave it zero and set O2.
type Sample struct {
	Gas, Room units.Celsius
	CO2, O2   units.Fraction // of dry gas by volume
	CO        units.Fraction // of dry gas by volume
	CH4       units.Fraction // organic gas as methane, of dry gas by volume; 0 when not measured
	Tar       units.Fraction // carbon in tar and soot, mol for each mol of dry gas; 0 when not measured
	TarHeat   float64        // MJ for each mol of that carbon; 0: as of usual wood
	Moisture  units.Fraction // of the wood, dry basis
	Fuel      Fuel           // what burns; the zero value is wood
}

// A Fuel is what is burning, by its dry mass. Over a whole burn it is the wood;
// at one moment it can be mostly gas or mostly char.
type Fuel struct {
	Carbon, Hydrogen, Oxygen float64 // kg/kg
	Net                      float64 // MJ/kg, lower heating value
}

// Wood is C 50 %, H 6 %, O 43 % with 20.0 MJ/kg gross.
var Wood = Fuel{carbonShare, wood.Hydrogen, oxygenShare, grossDefault - latent*9*wood.Hydrogen}

// needed returns mol of oxygen to burn a kilogram.
func (f Fuel) needed() float64 { return f.Carbon/molC + f.Hydrogen/molH/4 - f.Oxygen/molO/2 }

// Moles are the dry gases that leave, mol or mol/s.
//
// Tar is organic vapour and soot by their carbon: no part of the dry gas that an
// analyser sees, but carbon that has left.
type Moles struct{ CO2, CO, CH4, Tar, O2, N2 float64 }

// Add adds a flow of moles over dt seconds.
func (m *Moles) Add(flow Moles, dt float64) {
	m.CO2 += flow.CO2 * dt
	m.CO += flow.CO * dt
	m.CH4 += flow.CH4 * dt
	m.Tar += flow.Tar * dt
	m.O2 += flow.O2 * dt
	m.N2 += flow.N2 * dt
}

// Shares returns CO2, CO, O2 and organic gas as shares of the dry gas.
func (m Moles) Shares() (co2, co, o2, ch4 units.Fraction) {
	all := m.CO2 + m.CO + m.CH4 + m.O2 + m.N2
	if all <= 0 {
		return 0, 0, 0, 0
	}
	return units.Fraction(m.CO2 / all), units.Fraction(m.CO / all), units.Fraction(m.O2 / all), units.Fraction(m.CH4 / all)
}

// TarShare returns the carbon in tar and soot, for each mol of the dry gas.
func (m Moles) TarShare() units.Fraction {
	all := m.CO2 + m.CO + m.CH4 + m.O2 + m.N2
	if all <= 0 {
		return 0
	}
	return units.Fraction(m.Tar / all)
}

// A Loss is where the fuel's heat went. Sensible and CO are shares of the net
// (lower) energy, Latent is the share of the gross energy that leaves as
// vapour, so that Gross = (1 − Latent) · Net.
type Loss struct {
	Sensible, CO, Latent units.Fraction
	Organic              units.Fraction // by organic gas, of the net energy
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
	if s.Fuel == (Fuel{}) {
		s.Fuel = Wood
	}
	carbon, water := s.Fuel.Carbon/molC, 9*s.Fuel.Hydrogen
	co2, co, ch4, tar := float64(s.CO2), float64(s.CO), float64(s.CH4), float64(s.Tar)
	if co2 == 0 {
		co2 = s.Fuel.co2FromO2(float64(s.O2), co)
	}
	if co2 < 0 || co < 0 || ch4 < 0 || tar < 0 || co2+co+ch4 < 0.005 {
		return Loss{}, ErrGas
	}
	tarHeat := s.TarHeat
	if tarHeat == 0 {
		tarHeat = heatOfTar
	}
	dryGas := carbon / (co2 + co + ch4 + tar) // mol per kg dry fuel
	nCO, nCH4, nTar := co*dryGas, ch4*dryGas, tar*dryGas
	used := s.Fuel.needed() - nCO/2 - 2*nCH4 - tarNeeds*nTar
	excess := (dryGas - carbon + nTar - nitrogenPerOxygen*used) / (1 + nitrogenPerOxygen)
	if excess < -0.5 {
		return Loss{}, ErrGas
	}
	excess = math.Max(0, excess)
	nitrogen := nitrogenPerOxygen * (used + excess)
	vapour := water/molH2O - 2*nCH4 + float64(s.Moisture)/molH2O

	rise := float64(s.Gas - s.Room)
	carried := (cpCO2*(carbon-nCO-nCH4-nTar) + cpCO*nCO + cpCH4*nCH4 + cpO2*excess + cpN2*nitrogen + cpHO*vapour) * rise / 1e6
	vapourHeat := latent * (water + float64(s.Moisture))
	net := s.Fuel.Net - latent*float64(s.Moisture)

	l := Loss{
		Sensible:  units.Fraction(carried / net),
		CO:        units.Fraction(nCO * heatOfCO / net),
		Organic:   units.Fraction((nCH4*heatOfCH4 + nTar*tarHeat) / net),
		Latent:    units.Fraction(vapourHeat / (net + vapourHeat)),
		O2:        units.Fraction(excess / dryGas),
		CO2:       units.Fraction(co2),
		AirFactor: (used + excess) / s.Fuel.needed(),
	}
	l.Net = 1 - l.Sensible - l.CO - l.Organic
	l.Gross = l.Net * (1 - l.Latent)
	return l, nil
}

// co2FromO2 solves the same oxygen balance the other way round, for analysers
// that read oxygen: with x = O2 and y = CO of the dry gas D per kg of wood,
// D(1 − x(1+r)) = carbon + r(S − yD/2), r nitrogen per oxygen, S needed oxygen.
func (f Fuel) co2FromO2(o2, co float64) float64 {
	r, carbon := nitrogenPerOxygen, f.Carbon/molC
	dryGas := (carbon + r*f.needed()) / (1 - o2*(1+r) + r*co/2)
	return carbon/dryGas - co
}
