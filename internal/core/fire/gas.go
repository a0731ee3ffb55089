package fire

import (
	"smolder/internal/core/flue"
)

// What wood is made of, split between its char and its volatiles so that the
// two together are C 50 %, H 6 %, O 43 %: the composition that the flue-gas
// method of [flue.LossOf] assumes. Moles and air are per kilogram.
const (
	molC, molH, molO = 0.012011, 0.001008, 0.015999
	molAir           = 0.02896
	oxygenInAir      = 0.2095
	nitrogenInAir    = 1 - oxygenInAir

	charCarbon      = 0.93 / molC
	gasCarbon       = (0.50/molC - charShare*charCarbon) / (1 - charShare)
	woodOxygen      = 0.50/molC + 0.06/molH/4 - 0.43/molO/2
	charOxygen      = charCarbon
	gasOxygen       = (woodOxygen - charShare*charOxygen) / (1 - charShare)
	gasHydrogenVap  = 0.06 / molH / 2 / (1 - charShare) // mol H2O per kg volatiles
	airForChar      = charOxygen / oxygenInAir * molAir // kg/kg
	airForGas       = gasOxygen / oxygenInAir * molAir
	molWater        = 0.018015
	starterEnergy   = 15.2e6               // J/kg: a starter's gases are counted as so much volatiles
	heatCO, heatCH4 = 0.28299e6, 0.80262e6 // J/mol

	// J/K per kg, at the molar heats of [flue.LossOf]: what burning a kilogram
	// adds to the air it took.
	cpAir    = 1018.6
	cpGas    = 1575.0
	cpChar   = 880.0
	cpVapour = 1898.0
)

// gasFlows are what combustion makes of the step's gas.
type gasFlows struct {
	lambda   float64 // air supplied over air needed
	burnout  float64 // of the volatiles, catalyst included
	unburnt  float64 // kg/s of volatiles
	charRate float64 // kg/s
	smoke    float64 // kg/s of particulates
	vapour   float64 // kg/s of water, from wood and flame
	caught   float64 // W, burnt in the catalyst
	released float64 // W, in the firebox
	lost     float64 // W, unburnt
	starved  float64 // share of the char that leaves as CO
	moles    flue.Moles
}

// burnFuel runs every batch and the coal bed and burns the gas.
func (s *Fire) burnFuel() {
	// Leaks are everywhere: half of what they let in comes from below. Through an open
	// door much air passes over the fire and not through it; 6 g/s of it are used.
	below := s.air.grate + 0.5*s.air.leak
	above := s.air.primary + min(s.air.door, 0.006)
	// Coals take their oxygen first, since they lie in the way of the air; the gas gets
	// what is left, and second air as well as it is warmed: cold bricks leave it cold, and
	// then little of it mixes in.
	charRate := s.burnCoals(above, below)
	fresh := max(0, above+below-airForChar*charRate)
	placed := s.p.preheat * (0.4 + 1.2*smooth(s.lining, 420, 780))
	// The air factor uses the gas of the step before: the gas of this one follows from
	// the flame that the factor decides.
	before := s.out
	lambda := (fresh + placed*s.air.secondary) / max(1e-6, before.volatiles*airForGas)

	flame := 0.0
	if before.volatiles > 1e-9 {
		flame = clamp(before.flaming/before.volatiles, 0, 1)
	}
	reach := 1 - decay(fresh/(airReaches*s.p.blast))
	// The bed counts for a quarter to a half of the coals' own radiation, by
	// how much of it there is and how well it is blown.
	bed := s.coals / s.p.coalBed
	glow := (glowThin + glowFull*min(1, bed)) * min(1, glowCovers*bed) * (1 - ashDims*s.ash)
	shelter := 1 - decay(s.piecesTogether()/shelterPieces)
	env := surroundings{
		dt:           s.dt,
		shield:       s.p.shield,
		flame:        flame,
		flaming:      clamp(before.flaming/s.p.liveliness, 0, 1),
		flux:         (flameFlux + flameFluxAir*reach) * vapourCools(before),
		completeness: 1 - decay(airForFlame*lambda*lambda),
		shelter:      shelter,
		coals:        glow * coalRadiation * (glowUnblown + (1-glowUnblown)*min(1, (above+grateCounts*below)/s.p.blast)),
		fed:          smooth(lambda, starvesUnder, feedsFrom),
		lining:       liningEmits * sigma * (pow4(s.lining) - ambient4),
		reached:      litUnblown + (1-litUnblown)*reach,
		unlit:        s.unlit(),
		// Cold air through the open door takes flames out; so does little air in
		// a cold firebox: a lazy flame lives only between hot bricks. A piece alone
		// loses the heat that its gas would need.
		unsteady: (1 + aloneNeeds*(1-shelter)) * (1 + doorNeeds*smooth(s.air.door, doorFrom, doorFull)) *
			(1 + lazyNeeds*(1-reach)*(1-smooth(s.lining, bricksCold, bricksHot))),
	}
	// Every load sees the same surroundings and gives off its own gas; in the next step
	// these flames are among the surroundings.
	s.out = offgas{}
	for i := range s.batches {
		if b := &s.batches[i]; !b.spent() {
			b.pyrolyse(&env, &s.out)
		}
	}
	s.coals += s.out.char
	s.burnGas(lambda, charRate)
}

// What the wood sees of the fire, and how the bed burns. Where no source stands,
// the figure is this model's own, from the behaviour table.
const (
	// Air: how far it reaches into the fire, in shares of what blows a full bed.
	airReaches  = 0.55 // of the blast, for a reach of 1 − 1/e
	litUnblown  = 0.25 // share of the lit surface that burns without any air of its own
	grateCounts = 1.6  // times air from above that air from below is worth to coals, which lie in its way

	// The glow of the bed: share of the coals' own radiation that wood on it gets.
	glowThin, glowFull = 0.25, 0.35 // of a thin bed, and more for a full one
	glowCovers         = 2.4        // times a full bed that would cover the floor twice over: less leaves bare floor
	ashDims            = 0.3        // share that its own ash takes
	glowUnblown        = 0.22       // share that is left without air

	// Shelter: pieces lend each other heat; 1.6 of them give 1 − 1/e of it all.
	shelterPieces = 1.6
	aloneNeeds    = 0.45 // growth of the critical flux for a piece alone

	// What takes flames out: cold air in at the door, little air in a cold firebox.
	doorNeeds, doorFrom, doorFull = 0.8, 0.010, 0.040 // growth of the critical flux, and kg/s from and to
	lazyNeeds                     = 0.6               // growth where air is short and the bricks are cold
	bricksCold, bricksHot         = 380, 820          // K of the lining, between which that fades
	starvesUnder, feedsFrom       = 0.1, 0.35         // of the air that burning needs: no flame, any flame
	airForFlame                   = 0.9               // with the square of the air factor: how near a flame comes to its full heat

	liningEmits = 0.85 // emissivity of sooty brick; 0.8 to 0.95
	vapourTakes = 1.1  // of a flame's heat, for each kg of vapour per kg of gas over dryVapour
	dryVapour   = 0.2  // kg/kg, of wood that is ready to burn

	// Coals: burning at first order, 7200 s for a bed that is blown.
	bedSeconds   = 7200.0
	unblownPace  = 0.12    // of the blown rate that is left without air
	coalBlast    = 0.83    // of the blast, at which the rate is the full one
	ashSlows     = 0.5     // share of the rate that a full cover of ash takes
	airToCoals   = 0.75    // share of the air that coals can have at most
	creepSeconds = 40000.0 // of a bed that burns with what seeps in
	mostOxygen   = 0.95    // share of all the air that they can use up
)

// piecesTogether is how many burning pieces shelter each other.
func (s *Fire) piecesTogether() float64 {
	sum := 0.0
	for i := range s.batches {
		if b := &s.batches[i]; !b.spent() {
			sum += b.pieces * b.weight * b.front
		}
	}
	return sum
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

// vapourCools is how far the water vapour among the gases takes from the flame's
// heat.
func vapourCools(out offgas) float64 {
	if out.volatiles < 1e-9 {
		return 1
	}
	return 1 / (1 + vapourTakes*max(0, out.water/out.volatiles-dryVapour))
}

// burnCoals burns char at first order, rising with the air, air from below
// counting more, capped by the oxygen there. As the bed burns its own ash covers
// it, until it is raked.
func (s *Fire) burnCoals(above, below float64) float64 {
	// Three limits: the surface of the bed, the air that finds its way to it with what
	// seeps in anyway, and the oxygen there is.
	air := above + grateCounts*below
	rate := s.p.charRate * s.coals / bedSeconds * (unblownPace + s.coalAir.at(air/(coalBlast*s.p.blast))) * (1 - ashSlows*s.ash)
	rate = min(rate, airToCoals*(above+below)/airForChar+s.coals/creepSeconds)
	rate = min(rate, s.coals/s.dt, mostOxygen*s.air.total/airForChar)
	s.coals -= rate * s.dt
	s.ash += (1 - s.ash) * rate * s.dt / s.p.coalBed
	return rate
}

// burnGas decides how much of the gas burns before it leaves, and what the
// rest leaves as.
func (s *Fire) burnGas(lambda, charRate float64) {
	out := &s.out
	g := gasFlows{charRate: charRate}
	// The starter burns first, then as much of the gas as the oxygen left behind by
	// coals and starter allows; how much does so at all is burnoutOf.
	allowed := 1.0 // by the oxygen there
	if out.volatiles > 1e-12 {
		oxygen := s.air.total*oxygenInAir/molAir - charRate*charOxygen
		allowed = clamp((oxygen-out.starter/starterEnergy*gasOxygen)/(out.volatiles*gasOxygen), 0, 1)
		g.burnout = min(allowed, s.burnoutOf(lambda))
	}
	released := out.gasHeat * g.burnout
	g.lost = out.gasHeat - released
	if s.p.catalyst && s.open.bypass <= 0.5 {
		// A catalyst burns a part of what the flames have left, when it is hot enough and
		// oxygen is left. 0.87 is its best: the rest slips through its channels.
		// Steam takes places on the honeycomb that the gas would need.
		caught := 0.87 * smooth(s.catalyst, catalystWorks-28, catalystWorks+12) * (0.48 + 0.52*vapourCools(*out))
		caught = min(caught, (allowed-g.burnout)/max(1e-9, 1-g.burnout))
		g.caught = g.lost * caught
		g.lost -= g.caught
		g.burnout = 1 - (1-g.burnout)*(1-caught)
	}
	g.unburnt = out.volatiles * (1 - g.burnout)
	// Coals under a fifth of their blast begin to starve: then up to a third of their
	// carbon leaves as carbon monoxide, which is what kills. 3 % of it do at best.
	starving := (0.2*s.p.blast - s.air.primary - s.air.grate - 0.5*s.air.leak) / (0.2 * s.p.blast)
	g.starved = 0.03 + 0.30*smooth(starving, 0, 1)
	// Smoke is a share of the gas that has not burnt: tar and soot that condense.
	g.smoke = g.unburnt * s.p.smoke
	g.lambda = s.air.total / max(1e-6, out.volatiles*airForGas+charRate*airForChar)
	s.analyse(&g)

	// The account is kept on the net basis: water that leaves as vapour has taken its
	// heat along, and nobody gets that back.
	charHeat := charRate * charEnergy
	charLost := charRate * charCarbon * g.starved * heatCO
	latent := out.water * latentHeat
	g.lost += charLost
	g.released = released + charHeat - charLost + out.starter - latent
	s.gas = g

	t := &s.total
	t.In += (out.gasHeat + charHeat + out.starter - latent) * s.dt
	t.Latent += g.vapour * latentHeat * s.dt
	t.Unburnt += g.lost * s.dt
	t.Gas += out.volatiles * s.dt
	t.Char += charRate * s.dt
	t.Water += out.water * s.dt
	t.Starter += out.starter * s.dt
	t.Smoke += g.smoke * s.dt
}

// catalystWorks is the temperature of the honeycomb at which half of what
// reaches it burns, K: light-off at 260 °C of gas.
const catalystWorks = 533

// burnoutOf is the share of the volatiles that burns in the firebox:
//
//	[flame · (cold…hot) + (1 − flame) · thermal] · (1 − exp(−2.4 λ)) · water · excess
//
// Gas that comes off without a flame of its own burns too where it passes the
// flames of other wood; flames under cold wood burn worse.
func (s *Fire) burnoutOf(lambda float64) float64 {
	out := &s.out
	hot := smooth(s.lining, bricksCold, bricksHot) * vapourCools(*out)
	inFlame := s.p.burnoutCold + (s.p.burnoutHot-s.p.burnoutCold)*hot
	flame := clamp(out.flaming/out.volatiles, 0, 1)
	passing := clamp(out.passing/out.volatiles, 0, 1-flame) * clamp(out.flaming/(0.5*s.p.liveliness), 0, 1)
	// Half of a quenched flame's gas is lost while the firebox is cold; in a hot one it
	// burns a little later.
	quenched := 0.5 * clamp(out.quenched/out.volatiles, 0, 1) * (1 - hot)
	// Without any flame smoke burns between hot bricks: half of it at thermalAt, and
	// from a tenth to nine tenths within 100 K on either side.
	thermal := logistic((s.lining - s.p.thermalAt) / 45)
	burnout := flame*inFlame*(1-quenched) + passing*inFlame*0.9 + (1-flame-passing)*thermal
	// Just enough air burns nine tenths, since it never mixes perfectly; twice as much
	// 99 %.
	burnout *= 1 - decay(2.4*lambda)
	// Steam thins gas and air, and so slows every reaction.
	if wet := out.water/out.volatiles - 0.2; wet > 0 {
		burnout *= max(0.3, 1-0.25*wet)
	}
	return burnout * (1 - 0.12*smooth(lambda, 3, 9)*(1-hot)) // great excess air cools the flame
}

// logistic is 1/(1 + e^−x).
func logistic(x float64) float64 {
	if x < 0 {
		e := decay(-x)
		return e / (1 + e)
	}
	return 1 / (1 + decay(x))
}

// analyse finds the moles that leave. What does not burn leaves as the mixture
// that volatiles make by themselves without air, carbon monoxide, methane and
// water, in the shares that hold its carbon and its energy.
func (s *Fire) analyse(g *gasFlows) {
	unburntCO, unburntCH4 := 0.0, 0.0
	if g.unburnt > 0 {
		// Two equations, carbon and energy, for two unknowns.
		energy := s.out.gasHeat / s.out.volatiles
		methane := clamp((energy-gasCarbon*heatCO)/(heatCH4-heatCO), 0, gasCarbon)
		unburntCH4, unburntCO = g.unburnt*methane, g.unburnt*(gasCarbon-methane)
	}
	burnt := s.out.volatiles - g.unburnt + s.out.starter/starterEnergy
	charCO := g.charRate * charCarbon * g.starved
	g.vapour = s.out.water + molWater*max(0, s.out.volatiles*gasHydrogenVap-2*unburntCH4)
	if s.air.total <= 0 {
		return // nothing goes up: there is no flue gas to analyse
	}
	// What an analyser would find in the dry gas: the oxygen that came in, less what
	// was used, which is less where carbon left as monoxide.
	supplied := s.air.total * oxygenInAir / molAir
	used := burnt*gasOxygen + g.charRate*charOxygen - charCO/2
	g.moles = flue.Moles{
		CO2: burnt*gasCarbon + g.charRate*charCarbon - charCO,
		CO:  unburntCO + charCO,
		CH4: unburntCH4,
		O2:  max(0, supplied-used),
		N2:  s.air.total * nitrogenInAir / molAir,
	}
	s.total.Moles.Add(g.moles, s.dt)
}
