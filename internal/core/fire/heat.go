package fire

import (
	"smolder/internal/core/flue"
	"smolder/internal/core/units"
)

// heatFlows are W and the temperatures of the gas on its way, of the last step.
type heatFlows struct {
	toRoom, flue            float64
	gasHot, gasBody, collar float64 // K: after the lining, before the body, at the collar
	capacity                float64 // W/K of the gas
}

// What carries the heat through the stove. Where no source stands, the figure is
// this model's own: what warms the stove of the behaviour table, and lets it cool,
// in the time that owners measure.
const (
	hottestGas = 1900 // K, of burning wood without excess air and without loss; a probe sees no more

	// Gas to iron. The exchange of a stove (params) is meant at ratedAir.
	ratedAir     = 0.006 // kg/s, of a stove in cruise; 0.003 to 0.012
	stillGas     = 0.1   // W/K for each kg of a full coal bed, of gas at rest: so that no flow divides by nothing
	exchangeLeft = 0.55  // share of the exchange that is left where gas hardly moves: radiation of the gas
	exchangeMore = 0.45  // share that follows the flow
	exchangeEnd  = 2.0   // times the rated air, from where it grows no more

	// Iron to room: radiation, and free convection on a warm plate.
	plateEmissivity  = 0.62 // of the outer surface with what it sees of itself; bare plates 0.6 to 0.9 (VDI Heat Atlas)
	plateConvection  = 3.2  // W/m²K; 2 to 5 for plates of this height (VDI Heat Atlas)
	blowerConvection = 2.6  // W/m²K more with the blower full on

	// The gas's way past a catalyst: shares of the exchange before and after it, and
	// W/K that the honeycomb takes, with the bypass shut and open.
	wallsFirst, honeycomb, wallsAfter         = 0.55, 9.0, 0.45
	wallsFirstOpen, strayComb, wallsAfterOpen = 0.27, 3.5, 0.13
	bypassOpens                               = 0.5 // opening from which the short way is taken
)

// exchangeHeat passes the heat on: flame and coals radiate to the lining and
// through the glass; the gas gives to lining, body and catalyst; the lining
// radiates to the body; the body warms the room.
func (s *Fire) exchangeHeat() {
	room := s.room.Air.Kelvin()
	out := &s.out
	still := stillGas * s.p.coalBed
	capacity := max(still, s.air.total*cpAir+(out.volatiles-s.gas.unburnt)*cpGas+s.gas.charRate*cpChar+out.water*cpVapour)
	radiated := radiatedShare * max(0, s.gas.released)
	glass := s.p.glass * radiated

	// The gas starts with all the heat that was not radiated, and passes lining and body
	// one after the other, each as an exchanger with one side at one temperature: it gives
	// up 1 − e^(−UA/ṁc) of what it is hotter.
	hot := room + (s.gas.released-radiated)/capacity
	toLining := capacity * (1 - decay(s.p.liningUA/capacity)) * (hot - s.lining)
	hot -= toLining / capacity
	h := heatFlows{gasHot: min(hot, hottestGas), capacity: capacity}

	// Gas to body. Where there is a catalyst, the firebox walls take their share
	// first, so that it meets gas and not flame.
	exchange := s.p.exchangeUA * (exchangeLeft + exchangeMore*min(exchangeEnd, s.air.total/ratedAir))
	toBody, toCatalyst := 0.0, 0.0
	if s.p.catalyst {
		hot, toBody, toCatalyst, exchange = s.passCatalyst(hot, capacity, exchange)
	}
	h.gasBody = hot
	second := capacity * (1 - decay(exchange/capacity)) * (hot - s.body)
	toBody += second
	h.collar = hot - second/capacity

	// Radiation from the lining to the body, and from the body to the room, where
	// convection adds to it.
	body4 := pow4(s.body)
	across := s.p.liningEmissivity * s.p.liningArea * sigma * (pow4(s.lining) - body4)
	given := s.p.bodyArea * (plateEmissivity*sigma*(body4-pow4(room)) + (plateConvection+blowerConvection*s.open.blower)*(s.body-room))

	// What comes in less what goes out, over what it can store: the only three places
	// where heat is kept in the stove.
	s.lining += (radiated - glass + toLining - across) / s.p.lining * s.dt
	s.body += (toBody + across - given) / s.p.body * s.dt
	if s.p.catalyst {
		s.catalyst += toCatalyst / s.p.catalystMass * s.dt
	}
	h.toRoom = given + glass
	h.flue = capacity * (h.collar - room)
	s.heat = h
	s.total.Room += h.toRoom * s.dt
	s.total.Flue += h.flue * s.dt
	s.total.GasHeat += capacity * s.dt
}

// passCatalyst takes the gas by the firebox walls and through the honeycomb,
// or round it: with the bypass open only a little finds its way past.
func (s *Fire) passCatalyst(hot, capacity, exchange float64) (after, toBody, toCatalyst, left float64) {
	first, through, rest := wallsFirst, honeycomb, wallsAfter
	if s.open.bypass > bypassOpens { // the short way to the flue
		first, through, rest = wallsFirstOpen, strayComb, wallsAfterOpen
	}
	toBody = capacity * (1 - decay(first*exchange/capacity)) * (hot - s.body)
	hot -= toBody / capacity
	hot += s.gas.caught / capacity
	toCatalyst = capacity * (1 - decay(through/capacity)) * (hot - s.catalyst)
	return hot - toCatalyst/capacity, toBody, toCatalyst, rest * exchange
}

// stored returns the heat in lining, body and catalyst over absolute zero, J.
func (s *Fire) stored() float64 {
	e := s.p.lining*s.lining + s.p.body*s.body
	if s.p.catalyst {
		e += s.p.catalystMass * s.catalyst
	}
	return e
}

// What the gas does on its way up, and what settles there.
const (
	leastFlueGas  = 0.4  // W/K, of a chimney that breathes without a fire
	leastFilm     = 0.3  // times the rated flow, under which the film on the wall gets no worse
	settlesWithin = 15   // K on either side of settlesBelow: the inner wall is not equally warm all round
	segmentKeeps  = 0.11 // share of the smoke that one cold segment keeps; with the others about a third of it stays in a cold chimney
	levelCooler   = 25   // K that a level run is cooler than the foot of the chimney
)

// flueNodes are the chimney's wall segments.
type flueNodes struct {
	wall             [segments]float64 // K
	gas              [segments]float64 // K, mean in the segment
	length           float64           // m per segment
	wallData         flue.Wall
	inner            float64 // W/K per segment at 6 g/s
	area, resistance float64
	film             power                 // (flow/6 g/s)^0.6
	settled          [segments + 1]float64 // kg deposits of this run; the last is the horizontal run
	level            float64               // share of the smoke that a horizontal run would keep, were it cold
}

// warmFlue carries the gas through connector and chimney, and the room on.
// Smoke settles where the inner wall is below about 120 °C (NFPA 211 calls
// for a sweep at 3 mm of it).
func (s *Fire) warmFlue() {
	room := s.room.Air.Kelvin()
	f := &s.flue
	capacity := max(leastFlueGas, s.heat.capacity)
	gas := s.heat.collar
	// The pipe in the room is an exchanger too: its heat is the room's, and counts as
	// lost at the collar, where tests measure.
	connector := capacity * (1 - decay(s.p.connectorU*s.p.connector/capacity)) * (gas - room)
	gas -= connector / capacity
	s.total.Connector += connector * s.dt
	if s.air.diluting > 0 {
		mixed := capacity + s.air.diluting*cpAir
		gas = (gas*capacity + room*s.air.diluting*cpAir) / mixed
		capacity = mixed
	}
	// In every segment the gas nears the wall; the wall gains that and loses to what is
	// around it. Smoke settles where the wall is colder than its dew point of tar.
	keep := decay(f.inner * f.film.at(max(leastFilm, (s.air.total+s.air.diluting)/ratedAir)) / capacity)
	around := s.surround()
	heat := f.wallData.Capacity * f.length
	outer := s.p.flueLoss * f.wallData.Outer * f.length
	settling := s.gas.smoke * s.dt
	f.settled[segments] += settling * f.level * (1 - smooth(f.wall[0]-levelCooler, settlesBelow-settlesWithin, settlesBelow+settlesWithin))
	for i := range segments {
		wall := f.wall[i]
		after := wall + (gas-wall)*keep
		// The mean of a segment is what the draft is made of.
		f.gas[i] = 0.5 * (gas + after)
		f.wall[i] += (capacity*(gas-after) - outer*(wall-around)) / heat * s.dt
		f.settled[i] += settling * segmentKeeps * (1 - smooth(wall, settlesBelow-settlesWithin, settlesBelow+settlesWithin))
		gas = after
	}
	s.prime()
	// The room last: it gets what the stove and its pipe gave, and what another stove in
	// the same space does.
	s.room, _ = s.setup.House.Step(s.room, s.heat.toRoom+connector+s.besideHeat(), units.FromKelvin(s.weather.outdoor), s.dt)
}

// settlesBelow is [flue.Condenses] in K.
const settlesBelow = float64(flue.Condenses) + 273.15

// surround is the temperature around the chimney, K: an inside one stands
// mostly in the house.
func (s *Fire) surround() float64 {
	if s.setup.Stove.Chimney.Outside {
		return s.weather.outdoor
	}
	return flue.InsideShare*s.setup.Room.Kelvin() + (1-flue.InsideShare)*s.weather.outdoor
}

// PaperPrimer is the heat of a few sheets of paper burnt high under the flue.
const PaperPrimer units.Joule = 0.5e6

// Prime burns paper or a torch high under the flue: that heat goes into the
// chimney and not into the stove. It warms gas and wall from below.
func (s *Fire) Prime(heat units.Joule) {
	s.priming, s.primePower = float64(heat), float64(heat)/primeSeconds
	for i, share := range primeShare {
		s.flue.gas[i] += primedGas * share
	}
}

const (
	primeSeconds = 90   // that a few sheets of paper burn
	primedGas    = 60   // K that the primer's own gas makes the column warmer
	primeStays   = 0.45 // share of its heat that the wall takes; the rest leaves with the gas
)

// primeShare is how a primer's heat spreads over the segments.
var primeShare = [segments]float64{0.4, 0.28, 0.19, 0.13}

func (s *Fire) prime() {
	if s.priming <= 0 {
		return
	}
	used := min(s.priming, s.primePower*s.dt)
	s.priming -= used
	burns := s.priming > 1e-6*s.primePower // in the next step, which this gas will draw
	for i, share := range primeShare {
		s.flue.wall[i] += primeStays * used * share / (s.flue.wallData.Capacity * s.flue.length)
		if burns {
			s.flue.gas[i] += primedGas * share
		}
	}
}
