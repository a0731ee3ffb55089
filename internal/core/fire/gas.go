package fire

import (
	"math"

	"smolder/internal/core/flue"
)

// What gas is, and how it burns.
//
// Wood that turns gives off tar (about two fifths), carbon monoxide, light gas,
// carbon dioxide and water. Of what finds oxygen ([meet]) the share that is in
// flame burns at once, and the rest as heat and time allow,
//
//	burnt = meets · (1 − (1 − flame)(1 − K))      K = 1 − e^(−kτ)      k = A e^(−E/RT)
//
// with k of organic gas, of carbon monoxide (Dryer & Glassman 1973, at the water and
// the oxygen of a stove) and of tar that cracks to monoxide, light gas and soot
// (Liden et al. 1988), T the temperature and τ the time in a zone: see zones.go.

// What wood is made of, split between its char and its volatiles so that the
// two together are C 50 %, H 6 %, O 43 %: the composition that the flue-gas
// method of [flue.LossOf] assumes. Moles and air are per kilogram.
const (
	molC, molH, molO = 0.012011, 0.001008, 0.015999
	molAir           = 0.02896
	oxygenInAir      = 0.2095
	nitrogenInAir    = 1 - oxygenInAir

	charCarbon             = 0.93 / molC
	gasCarbon              = (0.50/molC - charShare*charCarbon) / (1 - charShare)
	woodOxygen             = 0.50/molC + 0.06/molH/4 - 0.43/molO/2
	charOxygen             = charCarbon
	gasOxygen              = (woodOxygen - charShare*charOxygen) / (1 - charShare)
	gasHydrogenVap         = 0.06 / molH / 2 / (1 - charShare) // mol H2O per kg volatiles
	airForChar             = charOxygen / oxygenInAir * molAir // kg/kg
	airForGas              = gasOxygen / oxygenInAir * molAir
	molWater               = 0.018015
	starterEnergy          = 15.2e6                          // J/kg: a starter's gases are counted as so much volatiles
	heatCO, heatCH4, heatC = 0.28299e6, 0.80262e6, 0.39351e6 // J/mol

	// J/K per kg, at the molar heats of [flue.LossOf]: what burning a kilogram
	// adds to the air it took.
	cpAir    = 1018.6
	cpGas    = 1575.0
	cpChar   = 880.0
	cpVapour = 1898.0
)

// What a kilogram of volatiles is, mol: yields of slow pyrolysis of dry wood
// (Neves et al. 2011), light gas counted as methane. Tar is counted by its carbon;
// its hydrogen, oxygen demand and energy are what the others leave of the whole.
const (
	gasCO     = 3.0
	gasCO2    = 4.25
	gasLight  = 4.6
	gasTar    = gasCarbon - gasCO - gasCO2 - gasLight
	tarOxygen = (gasOxygen - gasCO/2 - 2*gasLight) / gasTar // mol O2 for each mol of its carbon, to CO2
	tarVapour = 0.71                                        // mol H2O that it makes
	tarMass   = 0.0217                                      // kg for each mol of its carbon: C H1.4 O0.5

	// Tar cracks to soot, light gas and monoxide so that carbon and oxygen demand close.
	crackSoot  = 0.04
	crackLight = (tarOxygen - crackSoot - (1-crackSoot)/2) / 1.5
	crackCO    = 1 - crackSoot - crackLight
)

// How gas burns. Where no source stands, the figure is this model's own, from the
// behaviour table.
const (
	// Kinetics: A in 1/s and E/R in K. Organic gas is slower here than well mixed: a zone
	// is not equally hot all through.
	organicA, organicE   = 2.0e8, 18040.0  // E 150 kJ/mol
	monoxideA, monoxideE = 5.0e8, 20100.0  // E 167 kJ/mol
	tarA, tarE           = 4.28e6, 12930.0 // E 107.5 kJ/mol
	nothingCracks        = 600.0           // K, under which too little cracks to be worth an exponential
	nothingBurns         = 680.0           // K, under which too little burns by itself

	// Of the gas in a flame that has oxygen, what burns before it is torn or chilled: in a
	// cold zone, and in one that is hot.
	flameCold, flameHot = 0.895, 0.985
	zoneCold, zoneHot   = 650.0, 1100.0 // K of the zone
	flameLeavesCO       = 0.115         // of the carbon that burns in a flame, as monoxide; 0.02 to 0.1
	sootBurns           = 0.93          // of the soot in a flame that has oxygen; 0.8 to 0.99

	// What leaves as particles.
	condensable = 0.525  // of the tar that leaves unburnt; 0.4 to 0.7 in a dilution tunnel (40 CFR 60 AAA), the rest stays a gas
	sootMass    = 0.0125 // kg for each mol of its carbon
)

// pool is gas on its way, mol/s.
type pool struct {
	tar, monoxide, light, soot float64
	water                      float64 // made by what has burnt
	tarEnergy                  float64 // J/mol of its carbon, which the species decides
}

// energy is what burning all of it would release, W.
func (p *pool) energy() float64 {
	return p.tar*p.tarEnergy + p.monoxide*heatCO + p.light*heatCH4 + p.soot*heatC
}

// needs is the oxygen that burning all of it takes, mol/s.
func (p *pool) needs() float64 { return p.tar*tarOxygen + p.monoxide/2 + 2*p.light + p.soot }

// meet is the share of gas that finds oxygen when so much gets to it, over what it
// needs: all of a plenty, and never more than there is.
func meet(ratio float64) float64 {
	if ratio > 4 { // all but 2 in 10⁶
		return 1
	}
	r := ratio * ratio
	r *= r
	return ratio / math.Sqrt(math.Sqrt(math.Sqrt(1+r*r)))
}

// burn burns what meets oxygen, of which a share is in flame, at a temperature, K,
// within a time, s.
func (p *pool) burn(meets, flame, at, seconds float64) {
	organic, monoxide := 0.0, 0.0
	if at > nothingCracks {
		cracked := p.tar * (1 - flame) * (1 - decay(tarA*decay(tarE/at)*seconds))
		p.tar -= cracked
		p.monoxide += cracked * crackCO
		p.light += cracked * crackLight
		p.soot += cracked * crackSoot
	}
	if at > nothingBurns {
		organic = 1 - decay(organicA*decay(organicE/at)*seconds)
		monoxide = 1 - decay(monoxideA*decay(monoxideE/at)*seconds)
	}
	inFlame := flame * (flameCold + (flameHot-flameCold)*smooth(at, zoneCold, zoneHot))
	burns := meets * (1 - (1-inFlame)*(1-organic))
	tar, light := p.tar*burns, p.light*burns
	soot := p.soot * meets * sootBurns * (inFlame + (1-inFlame)*organic)
	// A part of what burns in a flame stops at monoxide, which heat and time burn on.
	slips := (p.tar + p.light) * meets * inFlame * flameLeavesCO * (1 - monoxide)
	p.monoxide += slips - p.monoxide*meets*(1-(1-inFlame)*(1-monoxide))
	p.tar -= tar
	p.light -= light
	p.soot -= soot
	p.water += tar*tarVapour + 2*light
}

// analyse finds the moles that leave.
func (s *Fire) analyse(g *gasFlows, p *pool) {
	starter := s.out.starter / starterEnergy
	v := s.out.volatiles
	g.vapour = s.out.water + molWater*(max(0, v*(gasHydrogenVap-gasTar*tarVapour-2*gasLight))+p.water+starter*gasHydrogenVap)
	if s.air.total <= 0 {
		return // nothing goes up: there is no flue gas to analyse
	}
	carbon := v*gasCarbon + s.bed.rate*charCarbon + starter*gasCarbon
	needed := v*gasOxygen + s.bed.rate*charOxygen + starter*gasOxygen
	supplied := s.air.total * oxygenInAir / molAir
	g.moles = flue.Moles{
		CO2: max(0, carbon-p.tar-p.monoxide-p.light-p.soot), CO: p.monoxide, CH4: p.light, Tar: p.tar + p.soot,
		O2: max(0, supplied-needed+p.needs()),
		N2: s.air.total * nitrogenInAir / molAir,
	}
	s.total.Moles.Add(g.moles, s.dt)
}
