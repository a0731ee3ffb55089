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

// Weather is the weather from a time on; between two it changes evenly.
type Weather struct {
	At      time.Duration
	Outdoor units.Celsius
	Wind    float64
}

// A Setup is everything that holds before the first match.
type Setup struct {
	Stove   stove.Stove
	House   house.House
	Outdoor units.Celsius
	Room    units.Celsius
	Warmth  units.Celsius  // of the stove's body; below Room means a cold stove
	Coals   units.Kilogram // glowing, from the fire before
	Wind    float64        // m/s at the cap
	Weather []Weather      // over the run, in order; it goes before Outdoor and Wind
	Beside  []Beside       // what another stove gives in the same space, in order
	Dead    float64        // share of a catalyst's coating that works no more: worn, or clogged; 0 to 1
	Tuning  Tuning         // how this stove differs from what its owner has said of it
	Physics *Physics       // how fires burn; nil: as calibrated ([Usual])
}

// Beside is heat into the space from another stove, from a time on; between two
// it changes evenly, before the first and after the last there is none.
type Beside struct {
	At   time.Duration
	Heat units.Watt
}

// besideNow is the place in Setup.Beside.
type besideNow struct{ next int }

// besideHeat is what another stove gives at this moment, W.
func (s *Fire) besideHeat() float64 {
	points := s.setup.Beside
	for s.beside.next < len(points) && points[s.beside.next].At.Seconds() <= s.now {
		s.beside.next++
	}
	i := s.beside.next
	if i == 0 || i == len(points) {
		return 0
	}
	a, b := points[i-1], points[i]
	share := (s.now - a.At.Seconds()) / math.Max(1e-9, (b.At-a.At).Seconds())
	return float64(a.Heat) + float64(b.Heat-a.Heat)*share
}

// segments is the number of flue wall nodes along the chimney.
const segments = 4

// glowing is the temperature of coals at the start, K: dull red under their ash.
const glowing = 880

// A Fire is one fire. Make it with [New], advance it with Step, act on it with
// Set, SetDoor and Load; it is not safe for concurrent use.
type Fire struct {
	setup Setup
	k     *Physics
	p     params
	dt    float64 // s per step
	now   float64 // s since the start

	batches []batch
	coals   float64 // kg
	bedHeat float64 // J in them, over the reference
	ash     float64 // how far their own ash covers them, 0–1
	oxygen  float64 // mol/m³ in the bed zone
	zone    [2]zone // bed and flame
	out     offgas  // of the last step
	bed     bedFlows
	glow    glow
	packing power // of the pieces that lie together

	together   float64 // pieces that lie together
	coalsDense float64 // of the wood that the coals are of, over beech's
	coalPace   power

	mineral float64 // kg put on and not simulated

	lining, baffle, body, catalyst float64 // K
	radiance                       float64 // W/m² in the firebox
	room                           house.Room
	walls                          house.Walls
	flue                           flueNodes
	glass                          float64 // 0 clear, 1 black

	fine, catching, cruise, coarse pace
	gone                           bool // it was seen to be out, and not lit since
	rough                          bool // no shorter steps while wood catches: for searching

	open  openings
	fixed struct{ primary, secondary float64 } // m² that no control moves
	vents struct {
		of [mostVents]vent
		n  int
	}
	limits  guide
	held    float64 // s since which the gauge of the next trigger is where it must be; negative: it is not
	beside  besideNow
	door    Door
	window  bool // open a crack, on the stove's level
	fanPull float64
	flap    float64 // of the barometric damper, 0 shut to 1 open

	weather             weatherNow
	priming, primePower float64 // J left, W

	air   airFlows
	gas   gasFlows
	heat  heatFlows
	total Totals

	gauge, follows        [numGauges]float64 // lagged readings, °C; the share they follow in a step
	surface               units.Celsius      // of the connector, without lag
	pOverR, gravityColumn float64            // air pressure over the gas constant; times g and the chimney's height
}

// weatherNow is the weather of the step.
type weatherNow struct {
	outdoor, wind float64 // K, m/s
	next          int     // index of the next point of Setup.Weather
}

// DefaultStep is the length of a step that every published figure is made
// with; longer ones, to about eight seconds, are for searching.
const DefaultStep = 2 * time.Second

// New returns a fire that is laid out but not lit, with all air open, that
// advances by step (0 means [DefaultStep]).
func New(setup Setup, step time.Duration) *Fire {
	if step <= 0 {
		step = DefaultStep
	}
	room := setup.Room.Kelvin()
	c := setup.Stove.Chimney
	k := setup.Physics
	if k == nil {
		k = &Usual
	}
	k = setup.Tuning.burns(k)
	s := &Fire{setup: setup, k: k, coalsDense: 1, p: paramsOf(setup.Stove, setup.Tuning, k), dt: step.Seconds(), batches: make([]batch, 0, usualBatches), coals: float64(setup.Coals),
		lining: room, baffle: room, body: room, catalyst: room, room: house.Settled(setup.Room), walls: setup.House.Walls().Times(factor(setup.Tuning.RoomLoss)),
		surface: setup.Room, pOverR: flue.AirPressure(c.Altitude) / 287.05}
	s.p.combActive = clamp(1-setup.Dead, 0, 1)
	// The draft of a warm column is g·H·(p/R)(1/T_out − 1/T_gas): what does not change
	// over a run is multiplied once.
	s.gravityColumn = 9.80665 * float64(c.Height) * s.pOverR
	s.layVents()
	s.limits = guideBand(setup.Stove)
	s.held = -1
	s.packing.exponent, s.coalPace.exponent = -k.Packs, -k.CharDense
	s.follows = s.usePaces()
	s.SetFan(setup.House.Fan)
	s.weather = weatherNow{outdoor: setup.Outdoor.Kelvin(), wind: setup.Wind}
	s.blow()
	if w := setup.Warmth.Kelvin(); w > room {
		s.body, s.catalyst = w, w
		// A warm stove has a warmer lining: it lies nearer to the fire. With coals on it,
		// it is warmer by what they radiate, up to 160 K for half a kilogram and more.
		s.lining = w + (w-room)*0.45 + 160*min(1, float64(setup.Coals)/s.p.coalBed)
		s.baffle = s.lining
		s.catalyst += combOverCoals * min(1, float64(setup.Coals)/s.p.coalBed)
	}
	// Coals that glow are as hot as that; the gas about them is on its way to the lining.
	s.bedHeat = s.bedCapacity() * (glowing - reference) * min(1, s.coals/(0.05*s.p.coalBed))
	s.zone[0].at, s.zone[1].at = s.lining, s.lining
	s.glow = s.bedNow()
	s.radiance = s.field(laid{}, 1)
	s.layFlue(c, room)
	for i := range s.gauge {
		s.gauge[i] = float64(setup.Room)
	}
	s.gauge[gTop], s.gauge[gCatalyst] = s.body-273.15, s.catalyst-273.15
	return s
}

// layFlue sets the chimney to the temperature of what is around it, and a
// quarter of the way to the stove's when that is warm.
func (s *Fire) layFlue(c flue.Chimney, room float64) {
	f := &s.flue
	f.length, f.wallData, f.area, f.resistance = float64(c.Height)/segments, c.Wall(), c.Area(), c.Resistance()
	f.inner = f.wallData.Inner * f.length
	// The film of gas on the wall thins with the flow, to the same power.
	f.film.exponent = 0.6
	// Of the smoke that passes a metre of level run 6 % would stay, were it cold:
	// there it lies on the floor of the pipe, where it goes on cooling.
	f.level = 0.06 * float64(c.Horizontal)
	// A stove that is warm has kept a little draft, and with it some warmth in the
	// chimney.
	around := s.surround() + (s.body-room)*0.25
	for i := range segments {
		f.wall[i], f.gas[i] = around, around
	}
}

// Draft returns the draft of the last step at the collar.
func (s *Fire) Draft() units.Pascal { return units.Pascal(s.air.draft) }

// SetFan sets what the house's extraction fans pull, m³/h.
func (s *Fire) SetFan(flow units.Flow) {
	h := s.setup.House
	s.fanPull = float64(flue.HousePressure(flow, h.N50, h.Volume))
}

// SetWindow opens a window on the stove's level a crack, or shuts it.
func (s *Fire) SetWindow(open bool) { s.window = open }

// mostBatches is how many loads burn at a time, and usualBatches how many there
// are in most burns: to light, kindling, and on the coals.
const mostBatches, usualBatches = 24, 4

// Load puts wood on. Wood that lies on other wood sees less of the coals, so
// what goes in first catches first. A batch that is burnt out gives its place
// away; should all places be taken, the two oldest are counted as one. Mineral
// fuel is only recorded.
func (s *Fire) Load(l Load) {
	if l.Species.Mineral {
		s.mineral += float64(l.Mass())
		return
	}
	s.total.Fuel += float64(l.Mass())
	if l.Starter > 0 || l.StarterKind != "" { // it is lit anew
		s.gone = false
	}
	if !l.Unraked {
		s.ash = 0
	}
	b := newBatch(l, s.lie().pieces, s.k)
	for i := range s.batches {
		// Under it lies wood that has not burnt half through: that keeps three tenths
		// of the bed from it. Laid apart, to light, each piece sees the bed for itself.
		if other := &s.batches[i]; !other.spent() && other.front > 0.5 && b.geometry.exposure == 0 {
			b.overCoals *= 0.7
			break
		}
	}
	for i := range s.batches {
		if s.batches[i].spent() {
			s.batches[i] = b
			return
		}
	}
	// Nobody burns two dozen loads at a time by hand; a file may say so. The two
	// oldest are nearly coals by then, and are the same to the fire as one.
	if len(s.batches) == mostBatches {
		first, second := &s.batches[0], &s.batches[1]
		first.dry, first.dry0, first.water = first.dry+second.dry, first.dry0+second.dry0, first.water+second.water
		first.area, first.pieces = first.area+second.area, first.pieces+second.pieces
		first.char, first.warm = first.char+second.char, first.warm+second.warm
		*second = b
		return
	}
	s.batches = append(s.batches, b)
}

// Rake brings the coals to where the air comes in: wood that lies sees all of
// the bed again.
func (s *Fire) Rake() {
	s.ash = 0
	for i := range s.batches {
		s.batches[i].overCoals = max(s.batches[i].overCoals, 0.9)
	}
}

// GoOut lets the fire be out, because somebody has seen that it is: nothing is alight,
// what coals there are have gone grey, wood that was not burnt stays as it is, until it is
// lit again. It is the one thing that is done to a fire that does not keep its energy: what
// glowed a moment ago by the computation has been cold for as long as nobody looked.
func (s *Fire) GoOut() {
	s.lining, s.baffle = min(s.lining, linedCold), min(s.baffle, linedCold)
	s.gone = true
	s.keepCold()
	s.glow = s.bedNow()
}

// keepCold keeps a fire out that is said to be.
func (s *Fire) keepCold() {
	for i := range s.batches {
		b := &s.batches[i]
		b.alight, b.flame, b.flaming, b.streams, b.starter = 0, 0, 0, 0, 0
		b.unlit = min(b.unlit, goneCold)
		b.surface = b.unlit
	}
	s.bedHeat = min(s.bedHeat, s.bedCapacity()*(goneCold-reference))
}

// goneCold is how warm wood and coals are at the most in a fire that is out, and linedCold
// the lining: hotter, and wood on it would take again by itself. K.
const goneCold, linedCold = 400, 480

// Step advances the fire by one step. While wood catches, flames feed on
// themselves within seconds: then the step is made of shorter ones, so that its
// length does not decide whether the fire takes.
func (s *Fire) Step() {
	if s.gone {
		defer s.keepCold()
	}
	if s.rough || s.charred() {
		s.advance()
		return
	}
	// The length of a step is changed for a moment and put back: everything that
	// follows from it is kept ready, so that this costs nothing.
	usual := pace{s.dt, s.follows}
	s.dt, s.follows = s.catching.dt, s.catching.follows
	for range catchingSteps {
		s.advance()
	}
	s.dt, s.follows = usual.dt, usual.follows
}

func (s *Fire) advance() {
	if len(s.setup.Weather) > 0 {
		s.blow()
	}
	// The order matters little at this length of step, and has to be some order: the
	// draft of the step before drives the air, the air feeds the fire, its heat goes to
	// iron, room and chimney, and the gauges follow.
	s.drawAir()
	s.burnFuel()
	s.exchangeHeat()
	s.warmFlue()
	s.readGauges()
	s.foulGlass()
	s.now += s.dt
}

// A pace is a length of step with what follows from it.
type pace struct {
	dt      float64
	follows [numGauges]float64
}

// usePaces sets up the lengths of step and returns what follows from the usual.
func (s *Fire) usePaces() [numGauges]float64 {
	of := func(dt float64) pace { dt = max(dt, s.dt); return pace{dt, s.p.followShares(dt)} }
	s.fine, s.cruise, s.coarse = of(0), of(cruiseStep), of(coalStep)
	// No step may be shorter than the one asked for, but while wood catches.
	part := s.dt / catchingSteps
	s.catching = pace{part, s.p.followShares(part)}
	return s.fine.follows
}

// pace takes longer steps while the fire is left alone and every piece is
// alight, longer ones still on coals, else the usual ones.
func (s *Fire) pace(alone bool) {
	to := &s.fine
	switch {
	case !alone || s.priming > 0:
	// Nearly no gas any more: coals, which change by the half hour.
	case s.out.volatiles < 4e-6*s.p.coalBed:
		to = &s.coarse
	case s.charred():
		to = &s.cruise
	}
	if s.dt != to.dt {
		s.dt, s.follows = to.dt, to.follows
	}
}

// blow takes the weather of this moment.
func (s *Fire) blow() {
	points := s.setup.Weather
	if len(points) == 0 {
		return
	}
	w := &s.weather
	// Time only goes forward, so the place in the list does too.
	for w.next < len(points) && points[w.next].At.Seconds() <= s.now {
		w.next++
	}
	// Before the first point and after the last the weather stays as it was there.
	a, b := points[max(0, w.next-1)], points[min(w.next, len(points)-1)]
	share := 0.0
	if b.At > a.At {
		share = clamp((s.now-a.At.Seconds())/(b.At-a.At).Seconds(), 0, 1)
	}
	w.outdoor = a.Outdoor.Kelvin() + float64(b.Outdoor-a.Outdoor)*share
	w.wind = a.Wind + (b.Wind-a.Wind)*share
}

// Totals are sums over the run, J and kg.
type Totals struct {
	Fuel                                             float64 // kg as fired
	In, Room, Flue, Unburnt, Latent, Stored, Starter float64 // J; net basis
	Connector                                        float64 // J to the room beyond the collar, part of Flue
	GasHeat                                          float64 // J/K that left with the gas
	Smoke, Gas, Char, Water                          float64 // kg
	Moles                                            flue.Moles
	TarHeat                                          float64 // J in the tar and soot among them
}
