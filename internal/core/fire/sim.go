package fire

import (
	"math"
	"time"

	"smolder/internal/core/flue"
	"smolder/internal/core/house"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// A Door position.
type Door int

// The positions of the stove's door.
const (
	Shut Door = iota
	Ajar
	Open
)

// A Setup is everything that holds before the first match.
type Setup struct {
	Stove   stove.Stove
	House   house.House
	Outdoor units.Celsius
	Room    units.Celsius
	Warmth  units.Celsius  // of the stove's body; below Room means a cold stove
	Coals   units.Kilogram // glowing, from the fire before
}

// segments is the number of flue wall nodes along the chimney.
const segments = 4

// A Sim is one fire. Make it with [New], advance it with Step, act on it with
// Set, SetDoor and Load; it is not safe for concurrent use.
type Sim struct {
	setup Setup
	p     params
	flue  flueNodes
	dt    float64 // s per step
	now   float64 // s since the start

	batches []batch
	coals   float64 // kg
	out     offgas  // of the last step

	lining, body, catalyst float64 // K
	room                   house.Room

	primary, secondary, bypass, damper, fan, blower float64 // openings, 0–1
	door                                            Door

	air   airFlows
	heat  heatFlows
	gauge [numGauges]float64 // lagged readings, °C
	total Totals
}

// flueNodes are the chimney's four wall segments.
type flueNodes struct {
	wall             [segments]float64 // K
	gas              [segments]float64 // K, mean in the segment
	length           float64           // m per segment
	wallData         flue.Wall
	area, resistance float64
	condensed        [segments]float64 // kg deposits of this burn
}

// airFlows are kg/s, from the draft of the step.
type airFlows struct {
	primary, secondary, leak, door, total float64
	draft                                 float64 // Pa at the collar, net of the room's own
	spilling                              bool
}

// heatFlows are W and temperatures of the gas on its way, of the last step.
type heatFlows struct {
	released, toRoom, flue, unburnt float64
	gasHot, gasBody, collar         float64 // K after lining, after body
	lambda                          float64
	burnout                         float64
	smoke, co                       float64 // kg/s
	caught                          float64 // W, burnt in the catalyst
	vapour                          float64 // kg/s
}

// gauge places in the order of Sim.gauge.
const (
	gTop = iota
	gProbe
	gSurface
	gCatalyst
	gFirebox
	numGauges
)

// lag is each gauge's time constant in s: a magnet on a plate follows slowly.
var lag = [numGauges]float64{gTop: 90, gProbe: 25, gSurface: 45, gCatalyst: 15, gFirebox: 20}

// DefaultStep is the length of a step that every published figure is made
// with; longer ones, to about eight seconds, are for searching.
const DefaultStep = 2 * time.Second

// New returns a fire that is laid out but not lit, with all air open, that
// advances by step (0 means [DefaultStep]).
func New(s Setup, step time.Duration) *Sim {
	if step <= 0 {
		step = DefaultStep
	}
	p := paramsOf(s.Stove)
	room := s.Room.Kelvin()
	sim := &Sim{setup: s, p: p, dt: step.Seconds(), batches: make([]batch, 0, 24), coals: float64(s.Coals),
		lining: room, body: room, catalyst: room, room: house.Room{Air: s.Room, Mass: s.Room - 0.7},
		primary: 1, secondary: 1, bypass: 1, damper: 1}
	if w := s.Warmth.Kelvin(); w > room {
		sim.body = w
		sim.lining = w + (w-room)*0.45 + 160*math.Min(1, float64(s.Coals)/0.5)
		sim.catalyst = w
	}
	c := s.Stove.Chimney
	sim.flue = flueNodes{length: float64(c.Height) / segments, wallData: c.Wall(), area: c.Area(), resistance: c.Resistance()}
	around := sim.surround()
	for i := range segments {
		sim.flue.wall[i] = around + (sim.body-room)*0.25
		sim.flue.gas[i] = sim.flue.wall[i]
	}
	if p.catalyst {
		sim.flue.resistance += 3
	}
	for i := range sim.gauge {
		sim.gauge[i] = float64(s.Room)
	}
	sim.gauge[gTop] = sim.body - 273.15
	return sim
}

// surround is the temperature around the chimney: an inside one stands mostly
// in the house.
func (s *Sim) surround() float64 {
	if s.setup.Stove.Chimney.Outside {
		return s.setup.Outdoor.Kelvin()
	}
	return 0.6*s.setup.Room.Kelvin() + 0.4*s.setup.Outdoor.Kelvin()
}

// Load puts wood on. A batch that is burnt out gives its place away; should
// all places be taken, the two oldest are counted as one.
func (s *Sim) Load(l Load) {
	s.total.Fuel += float64(l.Mass())
	b := newBatch(l)
	for i := range s.batches {
		if s.batches[i].spent() {
			s.batches[i] = b
			return
		}
	}
	if len(s.batches) == cap(s.batches) {
		first, second := &s.batches[0], &s.batches[1]
		first.dry, first.dry0, first.water = first.dry+second.dry, first.dry0+second.dry0, first.water+second.water
		first.area, first.pieces = first.area+second.area, first.pieces+second.pieces
		*second = b
		return
	}
	s.batches = append(s.batches, b)
}

// Set moves a control by its role; roles that do not act on the fire are
// ignored.
func (s *Sim) Set(role stove.Role, opening float64) {
	o := clamp(opening, 0, 1)
	switch role {
	case stove.Combined:
		// The lever throttles primary air first; the second air keeps a third.
		s.primary, s.secondary = o, 0.33+0.67*o
	case stove.PrimaryAir, stove.TopAir, stove.DoorVent:
		s.primary = o
	case stove.UnderGrate:
		s.primary = math.Max(s.primary*0.5, o)
	case stove.SecondAir, stove.GlassWash:
		s.secondary = o
	case stove.BypassRole:
		s.bypass = o
	case stove.Damper:
		s.damper = o
	case stove.Fan:
		s.fan = o
	case stove.Blower:
		s.blower = o
	}
}

// SetDoor moves the stove's door.
func (s *Sim) SetDoor(d Door) { s.door = d }

// Step advances the fire by one step.
func (s *Sim) Step() {
	s.drawAir()
	s.burnFuel()
	s.exchangeHeat()
	s.warmFlue()
	s.readGauges()
	s.now += s.dt
}

// drawAir solves the draft against the inlets and the flue's resistance:
//
//	ΔP = ½ ṁ² [ 1/(ρ_out (C_d A)²) + K/(ρ_flue A_flue²) ]
func (s *Sim) drawAir() {
	st := &s.setup.Stove
	out := s.setup.Outdoor.Kelvin()
	p := flueAirPressure(st.Chimney.Altitude)
	mean, draft := 0.0, 0.0
	for i := range segments {
		mean += s.flue.gas[i] / segments
	}
	draft = 9.80665 * float64(st.Chimney.Height) * p / 287.05 * (1/out - 1/mean)
	room := float64(s.setup.House.Underpressure(s.room.Air, s.setup.Outdoor, st.Chimney.Altitude))
	net := draft - room
	density := p / (287.05 * out)
	gasDensity := p / (287.05 * mean)

	bypassOpen := s.bypass > 0.5 && s.p.catalyst
	k := s.flue.resistance
	if s.damper < 0.98 {
		k += math.Pow(1/math.Max(0.12, s.damper), 2) * 1.5
	}
	if s.p.catalyst && bypassOpen {
		k -= 3
	}
	primary, secondary, leak, door := s.p.primary*s.primary, s.p.secondary*s.secondary, s.p.leak, 0.0
	switch s.door {
	case Ajar:
		door = s.p.doorAjar
	case Open:
		door = s.p.doorOpen
	}
	drive := net
	if s.p.draftLimit > 0 {
		drive = math.Min(drive, s.p.draftLimit)
	}
	drive += 25 * s.fan
	area := (primary + secondary*0.8 + leak + door) * dischargeCd
	s.air = airFlows{spilling: net < 0 || (s.door == Open && net < 1.2)}
	if drive <= 0 {
		s.air.draft = net
		return
	}
	inlets := 1 / (density * area * area)
	flow := math.Sqrt(2 * drive / (inlets + k/(gasDensity*s.flue.area*s.flue.area)))
	s.air.total = flow
	s.air.draft = 0.5 * flow * flow * inlets
	each := flow * dischargeCd / area
	s.air.primary, s.air.secondary = primary*each, secondary*0.8*each
	s.air.leak, s.air.door = leak*each, door*each
}

func flueAirPressure(a units.Metre) float64 {
	if a == 0 {
		return 101325
	}
	return flue.AirPressure(a)
}

// burnFuel runs every batch and the coal bed and burns the gas.
func (s *Sim) burnFuel() {
	doorAir := math.Min(s.air.door, 0.006)
	primary := s.air.primary + 0.5*s.air.leak + doorAir
	charRate := s.burnCoals(primary)
	fresh := math.Max(0, primary-airForChar*charRate)
	placed := s.p.preheat * (0.4 + 1.2*smooth(s.lining, 420, 780))
	effective := fresh + placed*s.air.secondary

	before := s.out
	lambda := effective / math.Max(1e-6, before.volatiles*airForGas)
	airTerm := 1 - math.Exp(-2.4*math.Min(lambda, 8))
	flame := 0.0
	if before.volatiles > 1e-9 {
		flame = clamp(before.flaming/before.volatiles, 0, 1)
	}
	pieces := 0.0
	for i := range s.batches {
		b := &s.batches[i]
		if !b.spent() {
			weight := b.pieces
			if b.kindling {
				weight *= 0.25
			}
			pieces += weight * b.front
		}
	}
	// The bed counts for a quarter to a half of the coals' own radiation, by
	// how much of it there is and how well it is blown.
	glow := (0.25 + 0.35*math.Min(1, s.coals/s.p.coalBed)) * math.Min(1, 2.4*s.coals/s.p.coalBed)
	env := surroundings{
		dt:           s.dt,
		flame:        flame,
		flaming:      clamp(before.flaming/s.p.liveliness, 0, 1),
		completeness: 1 - math.Exp(-0.9*lambda*lambda),
		shelter:      1 - math.Exp(-pieces/1.6),
		coals:        glow * coalRadiation * (0.22 + 0.78*math.Min(1, primary/s.p.blast)),
		lining4:      pow4(s.lining),
		diluted:      smooth(s.air.door, 0.010, 0.040),
	}
	s.out = offgas{}
	for i := range s.batches {
		if !s.batches[i].spent() {
			s.batches[i].pyrolyse(env, &s.out)
		}
	}
	s.coals += s.out.char
	s.burnGas(flame, lambda, airTerm, charRate)
}

// burnCoals burns char at first order, rising with air, capped by its oxygen.
func (s *Sim) burnCoals(primary float64) float64 {
	rate := s.coals / 7200 * (0.12 + math.Pow(primary/(0.83*s.p.blast), 0.6))
	rate = math.Min(rate, 0.75*primary/airForChar+s.coals/40000)
	rate = math.Min(rate, s.coals/s.dt)
	s.coals -= rate * s.dt
	return rate
}

// burnGas decides how much of the gas burns before it leaves.
func (s *Sim) burnGas(flame, lambda, airTerm, charRate float64) {
	hot := smooth(s.lining, 380, 820)
	inFlame := s.p.burnoutCold + (s.p.burnoutHot-s.p.burnoutCold)*hot
	thermal := 1 / (1 + math.Exp(-(s.lining-s.p.thermalAt)/45))
	burnout := (flame*inFlame + (1-flame)*thermal) * airTerm
	if s.out.volatiles > 1e-9 {
		excess := math.Max(0, s.out.water/s.out.volatiles-0.2)
		burnout *= math.Max(0.3, 1-0.25*excess)
	}
	burnout *= 1 - 0.12*smooth(lambda, 3, 9)*(1-hot) // great excess air cools the flame

	unburnt := s.out.volatiles * (1 - burnout)
	s.heat.caught = 0
	released := s.out.gasHeat * burnout
	lost := s.out.gasHeat - released
	if s.p.catalyst && s.bypass <= 0.5 {
		caught := 0.85 * smooth(s.catalyst, 505, 545)
		s.heat.caught = lost * caught
		unburnt *= 1 - caught
		lost *= 1 - caught
		burnout = 1 - (1-burnout)*(1-caught)
	}
	starved := 0.03 + 0.30*smooth(0.2*s.p.blast-s.air.primary-0.5*s.air.leak, 0, 0.2*s.p.blast)
	charHeat := charRate * charEnergy
	s.heat.co = charRate*starved*28/12 + unburnt*0.35
	s.heat.burnout, s.heat.lambda = burnout, s.air.total/math.Max(1e-6, s.out.volatiles*airForGas+charRate*airForChar)
	s.heat.smoke = unburnt * smokePerGas
	s.heat.vapour = s.out.water + s.out.volatiles*0.675
	s.heat.unburnt = lost + charHeat*0.70*starved
	s.heat.released = released + charHeat*(1-0.70*starved) + s.out.starter - s.out.water*latentHeat
	s.total.In += (s.out.gasHeat + charHeat + s.out.starter - s.out.water*latentHeat) * s.dt
	s.total.Latent += (s.heat.vapour) * latentHeat * s.dt
	s.total.Gas += s.out.volatiles * s.dt
	s.total.Char += charRate * s.dt
	s.total.Starter += s.out.starter * s.dt
}

// exchangeHeat passes the heat on: flame and coals radiate to the lining and
// through the glass; the gas gives to lining, body and catalyst; the lining
// radiates to the body; the body warms the room.
func (s *Sim) exchangeHeat() {
	room := s.room.Air.Kelvin()
	flow := s.air.total + s.out.volatiles + s.out.water
	capacity := math.Max(0.15, s.air.total*cpAir+s.out.volatiles*cpAir+s.out.water*cpVapour)
	radiated := 0.0
	if s.heat.released > 0 {
		radiated = radiatedShare * s.heat.released
	}
	glass := s.p.glass * radiated
	lining := radiated - glass

	hot := room + (s.heat.released-radiated)/capacity
	toLining := capacity * (1 - math.Exp(-s.p.liningUA/capacity)) * (hot - s.lining)
	hot -= toLining / capacity
	lining += toLining
	s.heat.gasHot = hot

	// Gas to body. Where there is a catalyst, the firebox walls take their share
	// first, so that it meets gas and not flame.
	exchange := s.p.exchangeUA * (0.55 + 0.45*math.Min(2, flow/0.006))
	toBody, toCatalyst := 0.0, 0.0
	if s.p.catalyst {
		first := capacity * (1 - math.Exp(-0.6*exchange/capacity)) * (hot - s.body)
		hot -= first / capacity
		toBody += first
		// With the bypass open only a little gas finds its way past the honeycomb.
		through := 9.0
		exchange *= 0.6
		if s.bypass > 0.5 {
			through = 2.5
			exchange *= 0.35
		} else {
			hot += s.heat.caught / capacity
		}
		toCatalyst = capacity * (1 - math.Exp(-through/capacity)) * (hot - s.catalyst)
		hot -= toCatalyst / capacity
	}
	second := capacity * (1 - math.Exp(-exchange/capacity)) * (hot - s.body)
	toBody += second
	s.heat.collar = hot - second/capacity
	s.heat.gasBody = hot

	across := s.p.liningEmissivity * s.p.liningArea * sigma * (pow4(s.lining) - pow4(s.body))
	dt := s.body - room
	out := s.p.bodyArea * (0.62*sigma*(pow4(s.body)-pow4(room)) + (3.2+2.6*s.blower)*dt)

	s.lining += (lining - across) / s.p.lining * s.dt
	s.body += (toBody + across - out) / s.p.body * s.dt
	if s.p.catalyst {
		s.catalyst += toCatalyst / s.p.catalystMass * s.dt
	}
	s.heat.toRoom = out + glass
	s.heat.flue = capacity * (s.heat.collar - room)
	s.total.Room += s.heat.toRoom * s.dt
	s.total.Flue += s.heat.flue * s.dt
	s.total.Unburnt += s.heat.unburnt * s.dt
	s.total.Smoke += s.heat.smoke * s.dt
}

// Stored returns the heat in lining, body and catalyst over the given
// temperature, J.
func (s *Sim) stored() float64 {
	e := s.p.lining*s.lining + s.p.body*s.body
	if s.p.catalyst {
		e += s.p.catalystMass * s.catalyst
	}
	return e
}

// warmFlue carries the gas through connector and chimney and the room on.
func (s *Sim) warmFlue() {
	room := s.room.Air.Kelvin()
	capacity := math.Max(0.4, s.air.total*cpAir+(s.out.volatiles+s.out.water)*1400)
	gas := s.heat.collar
	connector := capacity * (1 - math.Exp(-s.p.connectorU*s.p.connector/capacity)) * (gas - room)
	gas -= connector / capacity
	s.total.Connector += connector * s.dt

	around := s.surround()
	inner := s.flue.wallData.Inner * s.flue.length * math.Pow(math.Max(0.3, s.air.total/0.006), 0.6)
	keep := math.Exp(-inner / capacity)
	for i := range segments {
		wall := s.flue.wall[i]
		after := wall + (gas-wall)*keep
		given := capacity * (gas - after)
		s.flue.gas[i] = 0.5 * (gas + after)
		s.flue.wall[i] += (given - s.flue.wallData.Outer*s.flue.length*(wall-around)) /
			(s.flue.wallData.Capacity * s.flue.length) * s.dt
		cold := smooth(408-wall, 0, 30) // inner wall below about 120 °C
		s.flue.condensed[i] += s.heat.smoke * 0.11 * cold * s.dt
		gas = after
	}
	s.room, _ = s.setup.House.Step(s.room, s.heat.toRoom+connector, s.setup.Outdoor, s.dt)
}

// readGauges lets every gauge follow what it sits on.
func (s *Sim) readGauges() {
	target := [numGauges]float64{
		gTop:      s.body + s.p.topBias*(s.heat.gasHot-s.body) - 273.15,
		gProbe:    s.heat.collar - 273.15,
		gCatalyst: s.catalyst - 273.15,
		gFirebox:  s.heat.gasHot - 273.15,
	}
	target[gSurface] = float64(flue.SurfaceFromGas(units.Celsius(target[gProbe]), s.room.Air))
	for i := range s.gauge {
		s.gauge[i] += (target[i] - s.gauge[i]) * s.dt / lag[i]
	}
}

// Totals are sums over the burn, J and kg.
type Totals struct {
	Fuel                                             float64 // kg as fired
	In, Room, Flue, Unburnt, Latent, Stored, Starter float64 // J; net basis
	Connector                                        float64 // J to the room beyond the collar, part of Flue
	Smoke, Gas, Char                                 float64 // kg
}
