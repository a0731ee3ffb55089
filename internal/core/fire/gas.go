package fire

import (
	"math"

	"smolder/internal/core/flue"
)

// What gas is, and how it burns.
//
// Burnout depends on three things, and none of them is a switch. How much gas meets
// oxygen: gas and air are not mixed evenly ([mixed]), and a little gas goes its way in pockets
// and along walls without any ([Fire.pockets]), the more the colder the box and the wetter
// the wood. How hot it is. How long it stays. Tar that meets no oxygen cracks in a hot box to
// monoxide, light gas and soot, and leaves whole only out of a cold one: short of air,
// monoxide comes first and most.
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
	sootBurns           = 0.93          // of the soot in a flame that has oxygen; 0.8 to 0.99

	// What leaves as particles.
	sootMass = 0.0125 // kg for each mol of its carbon
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

// meet is the share of gas that finds oxygen when so much gets to it, over what it needs,
// where both are mixed evenly: all of a plenty, and never more than there is.
func meet(ratio float64) float64 {
	if ratio > 4 { // all but 2 in 10⁶
		return 1
	}
	r := ratio * ratio
	r *= r
	return ratio / math.Sqrt(math.Sqrt(math.Sqrt(1+r*r)))
}

// mixed is that share where they are mixed as far as even, 0 to 1. Wherever there is more
// gas than air, gas is left, though elsewhere air is: over a spread of mixtures (a log-normal
// one with σ = 0.7 gives r/√(1+r²) to a hundredth) the share rises as a slope where even
// mixture has a corner.
func mixed(ratio, even float64) float64 {
	spread := ratio / math.Sqrt(1+ratio*ratio)
	return spread + even*(meet(ratio)-spread)
}

// aside takes a share of gas out of the pool.
func (p *pool) aside(share float64) pool {
	out := pool{tar: share * p.tar, monoxide: share * p.monoxide, light: share * p.light, soot: share * p.soot, tarEnergy: p.tarEnergy}
	p.tar, p.monoxide, p.light, p.soot = p.tar-out.tar, p.monoxide-out.monoxide, p.light-out.light, p.soot-out.soot
	return out
}

// join puts gas back.
func (p *pool) join(other pool) {
	p.tar, p.monoxide, p.light, p.soot = p.tar+other.tar, p.monoxide+other.monoxide, p.light+other.light, p.soot+other.soot
}

// crack turns tar, mol/s, into soot, light gas and monoxide so that carbon and oxygen demand
// close.
func (p *pool) crack(tar, soot float64) {
	light := (tarOxygen - soot - (1-soot)/2) / 1.5
	p.tar -= tar
	p.soot += tar * soot
	p.light += tar * light
	p.monoxide += tar * (1 - soot - light)
}

// burn burns what meets oxygen, of which a share is in flame, at a temperature, K,
// within a time, s. Tar that meets none cracks by heat: in flames, which are hotter, within
// a moment; in gas without them as it may.
func (p *pool) burn(meets, flame, at, seconds float64, k *Physics) {
	organic, monoxide := 0.0, 0.0
	if at > nothingBurns {
		organic = 1 - decay(organicA*decay(organicE/at)*seconds)
		monoxide = 1 - decay(monoxideA*decay(monoxideE/at)*seconds)
	}
	inFlame := flame * (flameCold + (flameHot-flameCold)*smooth(at, zoneCold, zoneHot))
	burns := meets * (1 - (1-inFlame)*(1-organic))
	tar, light := p.tar*burns, p.light*burns
	soot := p.soot * meets * sootBurns * (inFlame + (1-inFlame)*organic)
	// A part of what burns in a flame stops at monoxide, which heat and time burn on.
	slips := (p.tar + p.light) * meets * inFlame * k.FlameCO * (1 - monoxide)
	p.monoxide += slips - p.monoxide*meets*(1-(1-inFlame)*(1-monoxide))
	p.tar -= tar
	p.light -= light
	p.soot -= soot
	p.water += tar*tarVapour + 2*light
	if hot := at + k.CracksHotter*flame; hot > nothingCracks {
		p.crack(p.tar*(1-decay(tarA*decay(tarE/hot)*seconds)), k.Soot)
	}
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
