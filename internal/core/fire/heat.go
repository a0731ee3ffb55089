package fire

// The heat on its way into the room.
//
// Gas passes the baffle, a catalyst where there is one, and the walls of the upper
// part, as an exchanger with one side at one temperature: it gives up
// 1 − e^(−UA/ṁc) of what it is hotter. How much surface it passes is the family's:
// small efficient stoves have more of it per litre. The lining conducts to the
// body; the baffle radiates to the body's top; the body gives to the room by
// radiation and free convection, and a blower adds to it.

// heatFlows are W and the temperatures of the gas on its way, of the last step.
type heatFlows struct {
	toRoom, flue   float64
	radiant        float64 // of toRoom
	gasHot, collar float64 // K: where it passes the baffle, and at the collar
	capacity       float64 // W/K of the gas
	warming        float64 // K/s of the body
}

const (
	coldestGas = 230  // K, so that a zone that nothing passes stays in bounds
	hottestGas = 1900 // K, of burning wood without excess air and without loss; a probe sees no more

	// Gas to iron. The exchange of a stove (params) is meant at ratedAir.
	ratedAir     = 0.006  // kg/s, of a stove in cruise; 0.003 to 0.012
	stillGas     = 0.1    // W/K for each kg of a full coal bed, of gas at rest: so that no flow divides by nothing
	exchangeLeft = 0.40   // share of the exchange that is left where gas hardly moves: radiation of the gas
	exchangeMore = 0.15   // share that follows the flow
	gasShines    = 0.45   // share that is radiation of the gas itself, vapour and carbon dioxide, with the cube of its heat
	gasShinesAt  = 1043.0 // K at which that is meant
	exchangeEnd  = 1.2    // times the rated air, from where it grows no more

	// Iron to room: radiation, and free convection on a warm plate.
	plateEmissivity  = 0.62 // of the outer surface with what it sees of itself; bare plates 0.6 to 0.9 (VDI Heat Atlas)
	plateConvection  = 3.2  // W/m²K; 2 to 5 for plates of this height (VDI Heat Atlas)
	blowerConvection = 2.6  // W/m²K more with the blower full on

	baffleUp = 0.55 // emissivity of baffle and body's top to each other, through what lies on it; 0.3 to 0.8

	// Shares of the exchange before a catalyst, after it, and by the short way.
	wallsFirst, wallsAfter         = 0.40, 0.60
	wallsFirstOpen, wallsAfterOpen = 0.36, 0.20
)

// exchangeHeat passes the heat on.
func (s *Fire) exchangeHeat() {
	room := s.room.Air.Kelvin()
	g := &s.gas
	hot, capacity := g.hot, g.capacity
	h := heatFlows{gasHot: clamp(hot, coldestGas, hottestGas), capacity: capacity}

	// Gas to body, past the catalyst where there is one.
	warm := clamp(hot, 300, hottestGas) / gasShinesAt
	exchange := s.p.exchangeUA * (exchangeLeft + exchangeMore*min(exchangeEnd, s.air.total/ratedAir) + gasShines*warm*warm*warm)
	toBody, toComb, combGives := 0.0, 0.0, 0.0
	if s.p.catalyst {
		hot, toBody, toComb, exchange = s.passCatalyst(hot, capacity, exchange)
	}
	second := capacity * (1 - decay(exchange/capacity)) * (hot - s.body)
	toBody += second
	h.collar = hot - second/capacity

	// What the flames shine, less what the other surfaces took of it, is the lining's:
	// so that what is sent out and what is taken are the same to the last joule.
	field := s.radiance
	baffle := boxEmits * s.p.baffleArea * (field - sigma*pow4(s.baffle))
	glass := glassLets * s.p.glassArea * (field - sigma*pow4(room))
	shine := g.shine - s.out.fieldTook + s.bed.toField - baffle - glass
	body4 := pow4(s.body)
	across := s.p.liningLoss * (s.lining - s.body)
	up := baffleUp * s.p.baffleArea * sigma * (pow4(s.baffle) - body4)
	if s.p.catalyst {
		comb4 := pow4(s.catalyst)
		down := combArea * s.p.comb * boxEmits * sigma * (comb4 - pow4(s.baffle))
		out := combArea * s.p.comb * boxEmits * sigma * (comb4 - body4)
		baffle += down
		toBody += out
		combGives = down + out
	}
	given := s.p.bodyArea * (plateEmissivity*sigma*(body4-pow4(room)) + (plateConvection+blowerConvection*s.open.blower)*(s.body-room))

	// What comes in less what goes out, over what it can store.
	s.lining += (shine + g.toLining - across) / s.p.lining * s.dt
	s.baffle += (baffle + g.toBaffle - up) / s.p.baffle * s.dt
	h.warming = (toBody + across + up - given) / s.p.body
	s.body += h.warming * s.dt
	if s.p.catalyst {
		s.catalyst += (toComb - combGives) / s.p.catalystMass * s.dt
	}
	h.toRoom = given + glass
	h.radiant = glass + s.p.radiates*s.p.bodyArea*plateEmissivity*sigma*(body4-pow4(room))
	h.flue = capacity * (h.collar - room)
	s.heat = h
	s.total.Room += h.toRoom * s.dt
	s.total.Flue += h.flue * s.dt
	s.total.GasHeat += capacity * s.dt
}

// passCatalyst takes the gas by the firebox walls and through the honeycomb,
// or round it: with the bypass open only a little finds its way past.
func (s *Fire) passCatalyst(hot, capacity, exchange float64) (after, toBody, toComb, left float64) {
	first, through, rest := wallsFirst, honeycomb*s.p.comb, wallsAfter
	if !s.engaged() { // the short way to the flue
		first, through, rest = wallsFirstOpen, s.k.Stray*honeycomb*s.p.comb, wallsAfterOpen
	}
	toBody = capacity * (1 - decay(first*exchange/capacity)) * (hot - s.body)
	hot -= toBody / capacity
	hot += (1 - catalystKeeps) * s.gas.caught / capacity
	toComb = capacity * (1 - decay(through/capacity)) * (hot - s.catalyst)
	hot -= toComb / capacity
	return hot, toBody, toComb + catalystKeeps*s.gas.caught, rest * exchange
}

// stored returns the heat in lining, baffle, body, catalyst, coals and wood, J.
func (s *Fire) stored() float64 {
	e := s.p.lining*s.lining + s.p.baffle*s.baffle + s.p.body*s.body + s.bedHeat
	if s.p.catalyst {
		e += s.p.catalystMass * s.catalyst
	}
	for i := range s.batches {
		e += s.batches[i].warm
	}
	return e
}
