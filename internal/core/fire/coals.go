package fire

// Coals.
//
// Oxygen comes to a coal through the gas film around it and through its ash, and
// is taken up at its surface: two resistances in series,
//
//	1/k = 1/k_film + 1/k_surface      k_surface = 630 e^(−8000/T) m/s
//
// The second is what a porous piece takes up as a whole, with half the activation
// energy of the char itself (zone II), of wood char whose oxidation peaks at 450 to
// 500 °C when it is warmed slowly (Kashiwagi & Nambu 1992). All the coals, and the char on faces of
// wood, take the oxygen of the bed zone as in a stirred vessel: of what comes to
// them with a volume flow V they take g/(V + g), where g = k·A.
//
// The bed has a temperature, from what it releases, what it radiates to firebox
// and wood, and the air that passes it: glowing at 1000 K and more in good air,
// and dark when starved. Under 600 K it hardly takes oxygen any more:
// then it goes out. Ash hinders the oxygen and keeps the heat.
const (
	charTakes      = 630.0  // m/s
	charActivation = 8000.0 // K, E/R
	coalSize       = 0.025  // m, of a coal; 0.01 to 0.05
	coalDensity    = 250.0  // kg/m³; 150 to 350
	coalTransfer   = 0.035  // m/s through the film; 0.02 to 0.1 for free convection between coals
	faceTransfer   = 0.015  // m/s on a face of wood; 0.01 to 0.02
	faceCracks     = 3.0    // times its face that cracked char shows to the air; 2 to 5
	coalsHide      = 0.8    // how far the coals of a full bed hide each other from the air
	// Of the radiation of the coals' own temperature: a bed is hotter inside than its
	// skin of ash, which hides more of a dull bed than of a glowing one. Wood that lies in
	// it is nearer to the inside.
	coalsShow, coalsShowHot   = 0.14, 0.55
	coalsTouch, coalsTouchHot = 0.55, 0.85
	coalsDull, coalsGlow      = 850.0, 1250.0 // K, between which it changes
	coalHeat                  = 1300.0        // J/kgK of char at 900 K
	bedHolds                  = 250.0         // J/K for each kg of a full bed: the floor's skin under it
	ashHinders                = 4.6           // growth of the film's resistance under a full cover of ash
	ashKeeps                  = 0.65          // share of the bed's radiation that it keeps
	bedCovers                 = 2.2           // times a full bed that would cover the floor: less leaves bare floor
	passesBed                 = 0.35          // share of the bed zone's air that warms on the coals,
	bedConvects               = 20.0          // W/m²K, that the bed's face gives to air at the most; 10 to 40
	burntToAsh                = 1.0           // full beds that burn until two thirds of it is covered

	// Share of the carbon that leaves the bed as monoxide: always, more of a deep hot
	// bed, and more where hardly any oxygen is left above it. 0.04 to 0.15 in a glowing
	// bed, 0.2 to 0.4 in a starved one.
	monoxideLeast     = 0.05
	monoxideDeep      = 0.06
	monoxideStarved   = 0.25
	starvesUnderBlast = 0.2 // of the air that blows a full bed, from where coals begin to starve
	mostMonoxide      = 0.7
	faceMonoxide      = 0.17 // of the char on faces, which is cooler
)

// charClears is k of a piece of char at a temperature, m/s, behind a film; cracks
// is its surface over that of its outline.
func charClears(at, film, cracks float64) float64 {
	surface := cracks * charTakes * decay(charActivation/max(350, at))
	return film * surface / (film + surface)
}

// bedFlows are what the coals take and give in a step.
type bedFlows struct {
	rate     float64 // kg/s of char that burns, on faces too
	carbon   float64 // mol/s of carbon monoxide that leaves bed and faces
	starved  float64 // share of the carbon that does
	oxygen   float64 // mol/s used
	released float64 // W in the bed
	toField  float64 // W, net
	toGas    float64 // W
}

// glow is the bed as it looks in a step.
type glow struct {
	at      float64 // K
	fourth  float64 // K⁴
	cover   float64 // share of the floor that the coals cover
	weight  float64 // m², as a surface that radiates into the firebox
	touch   float64 // W/m² that wood gets which lies in them
	contact float64 // W/m² that wood gets where it touches them
}

// bedCapacity is what the bed and the skin under it hold, J/K.
func (s *Fire) bedCapacity() float64 { return coalHeat*s.coals + bedHolds*s.p.coalBed }

// bedAt is the temperature of the coals, K.
func (s *Fire) bedAt() float64 { return reference + s.bedHeat/s.bedCapacity() }

// bedNow is the bed of this moment.
func (s *Fire) bedNow() glow {
	g := glow{at: s.bedAt(), cover: 1 - decay(bedCovers*s.coals/s.p.coalBed)}
	g.fourth = pow4(g.at)
	bright, bare := smooth(g.at, coalsDull, coalsGlow), 1-ashKeeps*s.ash
	g.weight = (coalsShow + (coalsShowHot-coalsShow)*bright) * s.p.floor * g.cover * bare
	g.touch = sigma * g.fourth * (coalsTouch + (coalsTouchHot-coalsTouch)*bright) * bare
	g.contact = coalsTouchHot * sigma * g.fourth
	return g
}

// burnCoals burns the bed, and the char on the wood, with the oxygen of the bed
// zone, and lets the bed warm, radiate and warm the air that passes it, W/K.
func (s *Fire) burnCoals(feed feed, capacity float64) {
	at, out := s.glow.at, &s.out
	f := bedFlows{}
	bed := s.coals / s.p.coalBed
	area := 6 / (coalDensity * coalSize) * s.coals / (1 + coalsHide*bed)
	clears := s.p.charRate * s.k.CharBurns * s.coalPace.at(s.coalsDense) * area * charClears(at, coalTransfer/(1+ashHinders*s.ash), 1)
	// What the faces took was reckoned with the oxygen of the step before; the bed has
	// what comes to it of the rest.
	f.oxygen = min(out.faceOxygen, feed.oxygen)
	meets := s.k.BedMeets + (1-s.k.BedMeets)*feed.eddies/(feed.eddies+feed.lower)
	volume := feed.lower * s.airVolume(s.zone[0].at)
	there := meets * (feed.oxygen - f.oxygen)
	left := there / (meets*volume + clears + 1e-9) // mol/m³ in the bed
	taken := left * clears
	starves := smooth(1-feed.lower/(starvesUnderBlast*s.p.blast), 0, 1)
	f.starved = min(mostMonoxide, s.p.monoxide*(monoxideLeast+monoxideDeep*min(1, bed)*smooth(at, 850, 1250)+monoxideStarved*starves))
	perKilo := charCarbon * (1 - f.starved/2) // mol of oxygen
	rate := min(taken/perKilo, s.coals/s.dt)
	taken = rate * perKilo
	f.oxygen += taken
	s.oxygen = max(0, feed.oxygen-taken) / (volume + out.clears + 1e-9)
	f.carbon = rate*charCarbon*f.starved + out.faceCarbon
	f.released = rate * (charEnergy - charCarbon*f.starved*heatCO)

	weight := s.glow.weight
	f.toField = weight * (sigma*s.glow.fourth - s.radiance)
	// Air that blows over a bed takes what its surface gives: more of it cools it no further.
	cools := min(passesBed*capacity, bedConvects*s.p.floor*s.glow.cover)
	f.toGas = cools * (at - s.room.Air.Kelvin())
	slope := weight*4*sigma*at*at*at + cools
	gained := f.released + out.charHeat - f.toField - f.toGas - out.bedTook
	change := gained / (s.bedCapacity()/s.dt + slope)
	f.toField += weight * 4 * sigma * at * at * at * change
	f.toGas += cools * change
	s.bedHeat += s.bedCapacity() * change
	// What burns away takes its own heat along; what falls in has brought it.
	gone := rate * s.dt * coalHeat * (at + change - reference)
	s.bedHeat -= gone
	f.toGas += gone / s.dt
	if fell := out.char * s.dt; fell > 0 { // what falls in mixes with what lies there
		s.coalsDense = (s.coalsDense*s.coals + out.charDense*s.dt) / (s.coals + fell)
	}
	s.coals += out.char*s.dt - rate*s.dt
	s.ash += (1 - s.ash) * rate * s.dt / (burntToAsh * s.p.coalBed)
	f.rate = rate + out.faceCoals
	s.bed = f
}
