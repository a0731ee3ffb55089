package fire

import (
	"math"

	"smolder/internal/core/flue"
)

// The gas, in two zones.
//
// Wood that turns gives off tar (about two fifths), carbon monoxide, light gas,
// carbon dioxide and water. In the bed zone it meets the first air, what comes
// from below and what of the wash comes down; above, in the flame zone, the second
// air, the rest of the wash and half of the leaks. In each:
//
//	burnt = meets · (flame + (1 − flame)(1 − e^(−kτ)))
//
// meets is how much of the gas finds oxygen: every inlet has a share of its oxygen
// that gets to the gas, and the rest passes by. So a stove in good burning has half
// as much air again as it needs, or twice as much, and yet loses some gas. In a
// flame what meets burns at once; without one it needs heat and time, with
//
//	k = A e^(−E/RT)
//
// of organic gas, carbon monoxide (Dryer & Glassman 1973, at the water and oxygen
// of a stove) and tar that cracks to monoxide, light gas and soot (Liden et al.
// 1988). T is the zone's own, from what it releases, what air it warms and what it
// gives to lining and baffle; τ its volume over its flow. Steam and excess air cool
// it; that is all they do.
//
// Where oxygen is short the gas leaves unburnt and the flame is smaller, with it
// the heat on the wood: the brake that keeps a stove steady.

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

// How gas and air meet and burn. Where no source stands, the figure is this
// model's own, from the behaviour table.
const (
	// Share of an inlet's oxygen that meets gas in its zone.
	washMeets  = 0.68 // air that sweeps down the glass and over the bed; 0.4 to 0.7
	grateMeets = 0.85 // from below, through the bed; 0.8 to 0.9
	leakMeets  = 0.30 // past a rope; 0.2 to 0.4
	doorMeets  = 0.50 // past a door ajar
	doorDown   = 0.70 // of that air, that comes in below
	jetsMeet   = 0.93 // second air out of many small holes; 0.8 to 0.9
	passedBy   = 0.6  // of what has passed the bed zone by

	washDown    = 0.7     // of the first air, that comes down to the bed; the rest goes over the top
	eddies      = 0.35e-3 // kg/s of the flame zone's air that eddies carry down to the bed, for 55 L: little of much, most of little
	meetsCold   = 0.72    // times that, of air that comes in cold
	meetsSlow   = 0.55    // times that, of air that hardly moves
	fastInlet   = 8.0     // Pa over an inlet, from where it is fast
	mostDoorAir = 0.006   // kg/s through an open door that pass the fire and not over it

	// Kinetics, 1/s and K (E/R).
	organicA, organicE   = 2.0e8, 18040.0
	monoxideA, monoxideE = 2.5e9, 20100.0
	tarA, tarE           = 4.28e6, 12930.0
	nothingCracks        = 600.0 // K
	nothingBurns         = 680.0 // K
	flameHotter          = 80    // K that gas is hotter where flames reach through it

	// Of the gas in a flame that has oxygen, what burns before it is torn or chilled: in a
	// cold zone, and in one that is hot.
	flameCold, flameHot     = 0.88, 0.985
	zoneCold, zoneHot       = 650.0, 1100.0 // K of the zone
	flameLeavesCO           = 0.050         // of the carbon that burns in a flame, as monoxide
	passingBurns            = 0.85          // of gas that passes the flames of other wood
	quenchTakes             = 0.6           // of a flame's gas under cold wood, while the box is cold
	bricksCold, bricksHot   = 380, 820      // K of the lining, between which that fades
	sootBurns               = 0.93          // of the soot in a flame that has oxygen
	starvesUnder, feedsFrom = 0.08, 0.30    // of the air that burning needs: no flame, any flame
	zoneAnswers             = 6.0           // s that a zone's temperature takes to follow

	// What makes flames unsteady: cold air in at the door, a piece alone.
	aloneNeeds                    = 0.2               // growth of the critical flux for a piece alone
	doorNeeds, doorFrom, doorFull = 0.8, 0.012, 0.040 // growth, and kg/s from and to

	lowerShare, upperShare = 0.25, 0.25 // of the firebox that are bed zone and flame zone
	lowerFilm, upperFilm   = 7.0, 11.0  // W/m²K of the zones' gas on lining and baffle; 5 to 15
	ductedWarm             = 0.45       // share of the way to the lining's temperature that second air is warmed on its way in

	condensable = 0.555  // of the tar that leaves unburnt, as particles; the rest stays a gas (dilution tunnel, 40 CFR 60 AAA)
	sootMass    = 0.0125 // kg for each mol of its carbon
)

// gasFlows are what combustion makes of the step's gas.
type gasFlows struct {
	lambda             float64 // air supplied over air needed
	burnout            float64 // of the volatiles' energy, catalyst included
	charRate           float64 // kg/s
	smoke              float64 // kg/s of particulates
	vapour             float64 // kg/s of water, from wood and flame
	caught             float64 // W, burnt in the catalyst
	released           float64 // W, of gas, in both zones
	below              float64 // W, of it in the bed zone
	shine              float64 // W, of it that flames radiate into the box
	lost               float64 // W, unburnt
	starved            float64 // share of the char that leaves the bed as monoxide
	capacity           float64 // W/K of the gas that leaves
	hot                float64 // K of it, where it passes the baffle
	toLining, toBaffle float64 // W by the gas
	moles              flue.Moles
}

// zone is the state of one of the two.
type zone struct {
	at float64 // K, as it is for what reacts in it
}

// pool is gas on its way, mol/s.
type pool struct {
	tar, monoxide, light, soot float64
	water                      float64 // made by what has burnt
}

// energy is what burning all of it would release, W.
func (p *pool) energy(tarEnergy float64) float64 {
	return p.tar*tarEnergy + p.monoxide*heatCO + p.light*heatCH4 + p.soot*heatC
}

// needs is the oxygen that burning all of it takes, mol/s.
func (p *pool) needs() float64 { return p.tar*tarOxygen + p.monoxide/2 + 2*p.light + p.soot }

// meet is the share of gas that finds oxygen when so much gets to it, over what it
// needs: all of a plenty, and never more than there is.
func meet(ratio float64) float64 {
	r := ratio * ratio
	r *= r
	return ratio / math.Sqrt(math.Sqrt(math.Sqrt(1+r*r)))
}

// burn burns what meets, of which a share is in flame, at a temperature within a
// time, and returns the oxygen it took.
func (p *pool) burn(meets, flame, at, seconds float64) {
	// What is not in flame cracks and burns as heat and time allow; under these
	// temperatures too little does to be worth an exponential.
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
	tar, light := p.tar*meets*(1-(1-inFlame)*(1-organic)), p.light*meets*(1-(1-inFlame)*(1-organic))
	co := p.monoxide * meets * (1 - (1-inFlame)*(1-monoxide))
	slip := (p.tar + p.light) * meets * inFlame * flameLeavesCO * (1 - monoxide)
	soot := p.soot * meets * sootBurns * (inFlame + (1-inFlame)*organic)
	p.tar -= tar
	p.light -= light
	p.monoxide += slip - co
	p.soot -= soot
	p.water += tar*tarVapour + 2*light
}

// burnFuel runs every batch and the coal bed and burns the gas.
func (s *Fire) burnFuel() {
	before := s.out
	pieces := max(1, s.packed())
	view := s.view(pieces)
	field := s.field(view)
	s.radiance = field
	room := s.room.Air.Kelvin()
	// Air to the two zones: leaks are everywhere, half of what they let in is below.
	// Through an open door much air passes over the fire and not through it.
	door := min(s.air.door, mostDoorAir)
	leak := 0.5 * s.air.leak
	over := s.air.secondary + (1-washDown)*s.air.primary + leak
	mixed := eddies * s.p.comb / (eddies*s.p.comb + over)
	stray := mixed * over
	lower := s.air.grate + leak + washDown*s.air.primary + stray + doorDown*door
	total := s.air.total
	const oxygenPerAir = oxygenInAir / molAir
	speed := meetsSlow + (1-meetsSlow)*math.Sqrt(clamp(s.air.draft/fastInlet, 0, 1))
	warm := meetsCold + (1-meetsCold)*smooth(s.lining, 420, 800)
	reaching := (s.air.grate*grateMeets + (leak+stray)*leakMeets + washDown*s.air.primary*washMeets*speed*warm + doorDown*door*doorMeets) * oxygenPerAir
	inLower := lower * oxygenPerAir

	needed := before.volatiles * gasOxygen
	fed := smooth((reaching-s.bed.oxygen*0.5+0.5*s.air.secondary*oxygenPerAir)/max(1e-9, needed), starvesUnder, feedsFrom)
	env := surroundings{
		dt: s.dt, field: field, bed: s.bedTouch(), glow: 0.85 * sigma * pow4(s.bedAt()), covered: s.bedCover(), view: view, beside: s.flamesBeside(),
		flaming: before.flaming, lively: s.p.liveliness, spare: min(1, flamesSpare*s.gas.below/max(1e-3, before.licked)), gas: s.zone[0].at, oxygen: min(s.oxygen, 0.95*inLower/max(1e-12, before.clears)), fed: fed,
		critical: (1 + aloneNeeds*decay((pieces-1)/besidePieces)) * (1 + doorNeeds*smooth(s.air.door, doorFrom, doorFull)),
		cold:     s.unlit(), shield: s.p.shield, charRate: s.p.charRate,
	}
	s.out = offgas{}
	for i := range s.batches {
		if b := &s.batches[i]; !b.spent() {
			b.burn(&env, &s.out)
		}
	}
	out := &s.out
	lowerHeat := lower*cpAir + out.volatiles*cpGas + out.water*cpVapour
	s.burnCoals(lower, inLower, bedMeets+(1-bedMeets)*eddies*s.p.comb/(eddies*s.p.comb+lower), lower*s.airVolume(s.zone[0].at), max(stillGas*s.p.coalBed, lowerHeat), field)

	// The bed zone.
	g := gasFlows{charRate: s.bed.rate, starved: s.bed.starved}
	tarEnergy := 0.0
	if out.volatiles > 1e-12 {
		tarEnergy = (out.gasHeat/out.volatiles - gasCO*heatCO - gasLight*heatCH4) / gasTar
	}
	p := pool{tar: gasTar * out.volatiles, monoxide: gasCO*out.volatiles + s.bed.carbon, light: gasLight * out.volatiles}
	whole := p.energy(tarEnergy)
	starterOxygen := out.starter / starterEnergy * gasOxygen
	oxygen := max(0, inLower-s.bed.oxygen-starterOxygen)
	reaching *= oxygen / max(inLower, 1e-12)
	hotBox := smooth(s.lining, bricksCold, bricksHot)
	flame := 0.0
	if out.volatiles > 1e-12 {
		alive := clamp(out.flaming/(0.5*s.p.liveliness), 0, 1)
		flame = clamp((out.flaming-quenchTakes*out.quenched*(1-hotBox)+passingBurns*out.passing*alive)/out.volatiles, 0, 1)
	}
	need := p.needs()
	volume := lower*s.airVolume(s.zone[0].at) + 1e-5
	meets := meet(reaching / max(need, 1e-12))
	p.burn(meets, flame, s.zone[0].at, lowerShare*s.p.volume/volume)
	g.below = whole - p.energy(tarEnergy)
	used := need - p.needs()

	// Its temperature: what it releases and is brought, less what radiates and what the
	// wood takes, in what warms it; lining as the other side.
	radiant := flameShines * g.below
	film := lowerFilm * s.p.liningArea
	heat := g.below - radiant - out.flamesTook - out.filmTook + out.brought + out.starter + s.bed.toGas
	lowerHeat = max(stillGas*s.p.coalBed, lowerHeat+s.bed.rate*cpChar)
	hot := (lowerHeat*room + film*s.lining + heat) / (lowerHeat + film)
	g.toLining = film * (hot - s.lining)
	s.zone[0].follow(hot, s.dt)

	// The flame zone.
	upper := total - lower
	left := max(0, oxygen-used)
	jets := s.air.secondary * jetsMeet * s.p.preheat * speed * warm
	rest := (1-washDown)*s.air.primary*washMeets*speed + leak*leakMeets
	reaching = passedBy*left + ((1-mixed)*(jets+rest)+(1-doorDown)*door*doorMeets)*oxygenPerAir
	need = p.needs()
	after := p.energy(tarEnergy)
	all := lowerHeat + upper*cpAir
	volume = total*s.airVolume(s.zone[1].at) + 1e-5
	meets = meet(reaching / max(need, 1e-12))
	react := s.zone[1].at + flameHotter*flame
	p.burn(meets, flame*(upperCold+(1-upperCold)*smooth(s.zone[1].at, upperDull, upperBright)), react, upperShare*s.p.volume/volume)
	above := after - p.energy(tarEnergy)
	shines := flameShines * above
	under := upperAtBaffle * shines
	film = upperFilm * (s.p.baffleArea + upperWalls*s.p.liningArea)
	// Second air has come through hot channels: that heat is the lining's.
	preheat := ductedWarm * s.air.secondary * cpAir * (s.lining - room)
	baffle := (s.p.baffleArea*s.baffle + upperWalls*s.p.liningArea*s.lining) / (s.p.baffleArea + upperWalls*s.p.liningArea)
	hotter := (lowerHeat*hot + upper*cpAir*room + preheat + film*baffle + above - shines) / (all + film)
	gave := film * (hotter - baffle)
	g.toBaffle = gave * s.p.baffleArea / (s.p.baffleArea + upperWalls*s.p.liningArea)
	g.toLining += gave - g.toBaffle - preheat
	g.toBaffle += under
	s.zone[1].follow(hotter, s.dt)
	g.hot, g.capacity = hotter, all
	g.released, g.shine = g.below+above, radiant+shines-under

	g.lost = p.energy(tarEnergy)
	s.catch(&p, &g, tarEnergy)
	g.burnout = 1
	if whole > 1e-9 {
		g.burnout = clamp(1-g.lost/whole, 0, 1)
	}
	g.smoke = s.p.smoke * (condensable*tarMass*p.tar + sootMass*p.soot)
	g.lambda = s.air.total / max(1e-6, out.volatiles*airForGas+s.bed.rate*airForChar)
	s.analyse(&g, &p)
	s.total.TarHeat += (p.tar*tarEnergy + p.soot*heatC) * s.dt
	s.gas = g

	t := &s.total
	charHeat := s.bed.rate * charEnergy
	latent := out.water * latentHeat
	t.In += (out.gasHeat + charHeat + out.starter - latent) * s.dt
	t.Latent += g.vapour * latentHeat * s.dt
	t.Unburnt += g.lost * s.dt
	t.Gas += out.volatiles * s.dt
	t.Char += s.bed.rate * s.dt
	t.Water += out.water * s.dt
	t.Starter += out.starter * s.dt
	t.Smoke += g.smoke * s.dt
}

// upperCold is the share of the bed zone's flames that live on in the flame zone
// while that is cold, under upperDull K; all of them do from upperBright on.
const upperCold, upperDull, upperBright = 0.92, 500.0, 850.0

// upperAtBaffle is the share of what the upper flames radiate that goes into the
// baffle they lick.
const upperAtBaffle = 0.75

// upperWalls is the share of the lining that the flame zone passes.
const upperWalls = 0.15

// airVolume is the volume of a kilogram of gas at a temperature, m³.
func (s *Fire) airVolume(at float64) float64 { return at / s.pOverR }

// follow lets a zone near a temperature.
func (z *zone) follow(to, dt float64) {
	z.at += (clamp(to, 230, hottestGas) - z.at) * dt / (zoneAnswers + dt)
}

// unlit is the share of the wood's surface that is not alight: what a flame
// below it cools itself on.
func (s *Fire) unlit() float64 {
	cold, all := 0.0, 1e-9
	for i := range s.batches {
		if b := &s.batches[i]; !b.spent() {
			cold += b.area * b.front * (1 - b.alight)
			all += b.area * b.front
		}
	}
	return cold / all
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
