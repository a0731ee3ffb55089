package foreign

import (
	"math"
	"math/rand/v2"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/house"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// A Fire burns in one of the stoves of the evenings, in its house and weather, by a simulator of
// another kind than the program's: pieces with temperatures from bark to heart that give off their
// gas by kinetics, one zone of gas whose burnout follows the air factor, coals by the air that
// comes to them. Its few numbers ([Make]) are chosen so that the evenings, done again in it, come
// out about as they were (TestEveningsAgain says how far off it is); it knows nothing of the
// program's own fire, and the program knows nothing of it. It is there so that somebody can follow
// the program through an evening in a stove that is wrong in its own way.
type Fire struct {
	mk      Make
	walls   house.Walls
	room    house.Room
	outside []float64 // °C, by the hour
	wind    float64   // m/s
	wet     float64   // of the wood as it is, dry basis
	now     float64   // s
	lit     bool
	flames  bool

	air, bypass float64 // marks of the controls
	door        fire.Door
	starter     float64 // s of it left

	groups []*group
	bed    float64 // kg of coals that lie in the bed
	bedT   float64 // K

	lining, body, flue, cat float64 // K
	gauge                   map[stove.Place]float64

	flow, gasT, gas, lambda float64
	smoke, heat             float64 // kg and J so far
}

// A Make is the numbers of stoves of another make, the same in all of them but for their size.
type Make struct {
	Litres, Output, Height, Diameter float64 // of the stove and its chimney: L, W, m, m
	Family                           stove.Family

	//                unit, and what a stove may have
	Inlet    float64 // cm2 of inlets, fully open, of a firebox of 50 L; 10 to 30
	Leak     float64 // cm2 that nothing shuts; 1 to 6
	Curve    float64 // exponent between mark and opening; 0.7 to 1.7
	Exchange float64 // W/K from gas to body at 8 kW and 10 g/s; 12 to 30
	Gives    float64 // W/K from body to room at 8 kW; 20 to 30
	Holds    float64 // J/K of the body at 8 kW; 80e3 to 200e3
	Bricks   float64 // share of it that faces the fire; 0.03 to 0.1
	Feeds    float64 // W/m2 that large flames give the wood; 15e3 to 45e3
	Large    float64 // W of flames that are large, in 50 L; 2e3 to 8e3
	Own      float64 // of Large, for kindling in its own flames; 0.4 to 1
	Sees     float64 // share of its faces that a lone piece shows; 0.6 to 0.9
	Shield   float64 // with how much of the number of pieces that falls, a power; 0.4 to 1.1
	Takes    float64 // J/kg that wood takes to become gas; 0.3e6 to 1e6
	Cracks   float64 // what char conducts, against char without cracks; 0.15 to 1
	Vents    float64 // J/kg of gas; 15e6 to 17e6
	Radiates float64 // share of the flames' heat; 0.15 to 0.3
	Chars    float64 // how quickly char burns in its air, against 1.2 g/m2s; 1 to 5
	Glows    float64 // the same of the coals in the bed; 0.5 to 2.5
	Sits     float64 // share of the air that comes to char and coals; 0.1 to 0.4
	Mixes    float64 // burnout by the air factor, in a plain stove; 2 to 4
	Jets     float64 // the same with second air; 3 to 8
	Cold     float64 // K of the lining, at which two or three times as much is left unburnt; 350 to 600
	Tar      float64 // share of unburnt gas that is smoke; 0.1 to 0.4
	Follows  float64 // s that the top's thermometer lags; 100 to 400
}

// Usual are the numbers with which the 45 evenings, done again, come out most nearly as they were.
var Usual = Make{Inlet: 13.2, Leak: 2.77, Curve: 1.38, Exchange: 21.5, Gives: 25.2, Holds: 144e3, Bricks: 0.0415, Feeds: 39.6e3, Large: 2.64e3, Own: 0.967,
	Sees: 0.796, Shield: 1.03, Takes: 1e6, Cracks: 0.184, Vents: 17e6, Radiates: 0.216, Chars: 3.57, Glows: 2.11, Sits: 0.2,
	Mixes: 2.74, Jets: 6.03, Cold: 371, Tar: 0.19, Follows: 148}

// Varied is another such make: everything that stoves differ in by up to a fourth or so, the same
// for the same seed.
func (m Make) Varied(seed uint64) Make {
	r := rand.New(rand.NewPCG(seed, 45))
	for _, p := range []*float64{&m.Inlet, &m.Leak, &m.Curve, &m.Exchange, &m.Gives, &m.Holds, &m.Feeds, &m.Chars, &m.Glows, &m.Sits, &m.Mixes, &m.Jets, &m.Tar, &m.Follows} {
		*p *= math.Exp(0.12 * r.NormFloat64())
	}
	return m
}

const (
	shells  = 16
	sigma   = 5.67e-8
	cpGas   = 1100.
	lhvChar = 31e6
	airGas  = 5.0  // kg of air for a kg of volatiles
	airChar = 10.5 // and for one of char, with some left as monoxide
	charOf  = 0.2  // share of the dry wood
	step    = 4.0  // s
)

// Fire is the stove of an evening, cold, at four in the afternoon.
func (e Evening) Fire(numbers Make) *Fire {
	s := e.burn.Stove
	numbers.Litres, numbers.Output, numbers.Family = float64(s.Volume), float64(s.Output), s.Family
	numbers.Height, numbers.Diameter = float64(s.Chimney.Height), float64(s.Chimney.Diameter)
	room := float64(e.burn.Room) + 273.15
	f := &Fire{mk: numbers, walls: e.burn.House.Walls(), room: house.Settled(e.burn.Room), lining: room, body: room, flue: room, cat: room, bedT: room,
		gauge: map[stove.Place]float64{}}
	for _, w := range e.burn.Weather {
		f.outside = append(f.outside, float64(w.Outdoor))
	}
	f.wind, f.wet = e.burn.Wind, e.moisture
	f.bypass = 1 // as whoever lights it has it
	for _, g := range s.Gauges {
		f.gauge[g.Place] = room
	}
	return f
}

// Do does an act.
func (f *Fire) Do(a fire.Act) {
	switch a.Kind {
	case fire.ActControl:
		if a.Role == stove.BypassRole {
			f.bypass = a.Opening
		} else {
			f.air = a.Opening
		}
	case fire.ActDoor:
		f.door = a.Door
	case fire.ActLight:
		f.lit, f.starter = true, 480
	case fire.ActLoad:
		if !a.Load.Kindling {
			f.groups = append(f.groups, f.laid(a.Load))
			return
		}
		for turn := range 3 { // fire goes through kindling by and by
			g := f.laid(a.Load)
			g.n /= 3
			g.waits = float64(turn) * 130
			f.groups = append(f.groups, g)
		}
	}
}

// exposed is the share of its faces that a group shows.
func (f *Fire) exposed(g *group) float64 {
	e := f.mk.Sees * math.Pow(g.n, -f.mk.Shield)
	if g.kindling {
		e = 0.35
	}
	if g.sideways && !g.kindling && !g.below {
		e *= 0.75
	}
	return e
}

// Burn burns on until a time since the beginning.
func (f *Fire) Burn(until time.Duration) {
	for f.now < until.Seconds() {
		f.step(step)
	}
}

func (f *Fire) outdoor() float64 {
	h := f.now / 3600
	i := min(int(h), len(f.outside)-1)
	j := min(i+1, len(f.outside)-1)
	return f.outside[i] + (h-float64(i))*(f.outside[j]-f.outside[i])
}

// draws is how much air the chimney draws, kg/s.
func (f *Fire) draws() float64 {
	out := f.outdoor() + 273.15
	mean := out + 0.75*(f.flue-out)
	dp := 9.81*f.mk.Height*353*(1/out-1/mean) + 0.04*f.wind*f.wind
	size := math.Pow(f.mk.Litres/50, 2./3)
	cm2 := size * (f.mk.Leak + f.mk.Inlet*math.Pow(f.air, f.mk.Curve))
	switch f.door {
	case fire.Ajar:
		cm2 += 60
	case fire.Open:
		cm2 += 800
	}
	if f.bypass < 0.5 && f.mk.Family == stove.Catalytic {
		dp *= 0.85
	}
	in := 0.65 * cm2 * 1e-4
	flueA := math.Pi / 4 * f.mk.Diameter * f.mk.Diameter
	resists := 1/(1.2*in*in) + 5/(353/mean*flueA*flueA)
	return math.Sqrt(2 * max(dp, 0.3) / resists)
}

func (f *Fire) step(dt float64) {
	f.now += dt
	f.flow = f.draws()
	room := float64(f.room.Air) + 273.15
	gas, water := f.heats(dt)
	// coals and char take the air that comes to them
	bedAir := f.flow * f.mk.Sits
	burns, hot := f.chars(dt, bedAir)
	left := f.flow - burns*airChar
	f.gas, f.lambda = gas, left/max(airGas*gas, 1e-7)
	box := f.lining
	pilot := f.starter > 0 || f.bed+hot > 0.03 && f.bedT > 750 || box > 700
	critical := 5e-5 * f.mk.Litres / 50
	if f.flames {
		critical, pilot = 0.5*critical, true
	}
	f.flames = pilot && gas > critical && f.lambda > 0.25
	k := f.mk.Mixes
	if f.mk.Family == stove.SecondaryAir || f.mk.Family == stove.Catalytic {
		k = f.mk.Jets
	}
	unburnt := math.Exp(-k*min(f.lambda, 2.5)) + 0.002*min(f.lambda, 6)
	unburnt *= 1 + math.Exp((f.mk.Cold-box)/120)*min(1.5, 0.5+f.lambda/3)
	if !f.flames {
		unburnt = 0.92
	}
	unburnt = min(unburnt, 0.95)
	flame := gas * (1 - unburnt) * f.mk.Vents
	coal := burns * lhvChar * 0.9
	f.starter = max(0, f.starter-dt)
	if f.starter > 0 {
		flame += 1800
	}
	through := f.flow + gas + water + burns
	// what is not radiated away heats the gas
	f.gasT = min(1700, room+((0.95-f.mk.Radiates)*flame+0.5*coal-water*2.4e6)/(through*cpGas))
	f.gasT = max(f.gasT, room)
	scale := f.mk.Output / 8000
	ua := f.mk.Exchange * scale * math.Pow(max(through, 1e-3)/0.01, 0.6)
	toLining := 0.3*ua*(f.gasT-f.lining) + f.mk.Radiates*flame + 0.3*coal
	after := f.gasT - 0.3*ua*(f.gasT-f.lining)/(through*cpGas)
	// a catalyst burns what it is given, once it is hot
	smoke := gas*unburnt*f.mk.Tar/(1+max(0, f.gasT-700)/900) + gas*(1-unburnt)*0.0005
	if f.mk.Family == stove.Catalytic {
		if f.bypass < 0.5 {
			works := 0.8 / (1 + math.Exp((510-f.cat)/25))
			catches := gas * unburnt * f.mk.Vents * works
			smoke *= 1 - works
			f.cat += dt / 240 * (after + 0.5*catches/(through*cpGas) - f.cat)
			after += 0.6 * catches / (through * cpGas)
		} else {
			f.cat += dt / 600 * (0.6*after + 0.4*f.body - f.cat)
		}
	}
	carries := 1 - math.Exp(-ua/(through*cpGas))
	if f.bypass > 0.5 && f.mk.Family == stove.Catalytic {
		carries *= 0.75
	}
	toBody := through * cpGas * (after - f.body) * carries
	exit := after - toBody/(through*cpGas)
	swap := 20 * scale * (f.lining - f.body)
	gives := f.mk.Gives * scale * (1 + 0.0012*(f.body-400)) * (f.body - room)
	f.lining += dt * (toLining - swap) / (f.mk.Bricks * f.mk.Holds * scale)
	f.body += dt * (toBody + swap + 0.2*coal - gives) / ((1 - f.mk.Bricks) * f.mk.Holds * scale)
	f.flue += dt / 40 * (exit - f.flue)
	f.smoke += smoke * dt
	f.heat += gives * dt
	f.room, _ = f.walls.Step(f.room, gives, units.Celsius(f.outdoor()), dt)
	f.reads(dt)
}

// heats heats the pieces, and returns what they give off, kg/s of gas and of water.
func (f *Fire) heats(dt float64) (gas, water float64) {
	flame := 0.0
	if f.flames {
		flame = f.gas * f.mk.Vents * min(1, f.lambda)
	}
	kindling := 0.0
	for _, g := range f.groups {
		if g.kindling && !g.gone {
			kindling += g.wood()
		}
	}
	for _, g := range f.groups {
		if g.gone {
			continue
		}
		e := f.exposed(g)
		large := f.mk.Large * math.Pow(f.mk.Litres/50, 2./3)
		if g.kindling { // lies in its own flames
			large *= f.mk.Own
		}
		q := f.mk.Feeds*(1-math.Exp(-flame/large)) + g.glows
		if g.kindling && f.bedT > 800 { // and sticks on coals
			q += 20e3 * min(1, f.bed/0.1)
		}
		if g.below && kindling > 0.3 {
			q *= 0.4
		}
		if g.kindling && f.lit {
			if lit := 480 - f.starter - g.waits; lit > 0 && lit < 180 {
				q += 22e3 / e
			}
			if 480-f.starter < g.waits {
				continue
			}
		}
		coals := min(0.5, (f.bed+0.02)/(0.1+f.bed)*0.5)
		around := (1-coals)*math.Pow(f.lining, 4) + coals*math.Pow(f.bedT, 4)
		ts := g.temp[g.out]
		q = min(q, 70e3) + 0.85*sigma*around + 8*(f.gasT-ts)*0.5
		v, w := g.step(&f.mk, q, e, dt)
		gas, water = gas+v*g.n, water+w*g.n
	}
	return gas, water
}

// chars burns the coals of the bed and the char on the wood with the air that comes to them, and
// returns kg/s and how much char there is on the wood.
func (f *Fire) chars(dt, air float64) (burns, on float64) {
	coalT := f.bedT
	glow := f.mk.Chars * f.mk.Glows / (1 + math.Exp((780-coalT)/50))
	wants := f.bed * 1.6e-4 * glow
	type face struct {
		g *group
		r float64
	}
	var faces []face
	for _, g := range f.groups {
		if g.gone {
			continue
		}
		on += g.charred()
		t := g.temp[g.out]
		r := g.n * g.area() * f.exposed(g) * 1.2e-3 * f.mk.Chars / (1 + math.Exp((850-t)/50))
		r = min(r, 0.5*g.char[g.out]*g.n/dt)
		faces = append(faces, face{g, r})
		wants += r
	}
	can := air / airChar
	share := can / (can + wants + 1e-9) // less than all that is there, and all that wants where there is plenty
	for _, x := range faces {
		m := x.r * share * dt / x.g.n
		x.g.char[x.g.out] = max(0, x.g.char[x.g.out]-m)
		burns += x.r * share
		x.g.glows = 0.4 * lhvChar * x.r * share / (x.g.n*x.g.area()*f.exposed(x.g) + 1e-6)
		if x.g.char[x.g.out]+x.g.dry[x.g.out]+x.g.water[x.g.out] < 0.02*x.g.dry0[x.g.out] && x.g.out > 0 {
			x.g.out--
		}
	}
	inBed := f.bed * 1.6e-4 * glow * share
	f.bed = max(0, f.bed-inBed*dt)
	burns += inBed
	// what has no wood in it any more lies in the bed
	for _, g := range f.groups {
		if !g.gone && g.wood() < 0.03*g.n*sum(g.dry0) {
			f.bed += g.charred() + g.wood()*charOf
			g.gone = true
		}
	}
	// the bed's temperature: what it releases, against what it radiates and the box
	area := 0.03 + 0.25*math.Min(f.bed, 2)*0.12
	holds := 900*f.bed + 1500
	flaming := 0.0
	if f.flames {
		flaming = 1
	}
	release := inBed*lhvChar*0.55 + 0.03*f.gas*f.mk.Vents*flaming
	f.bedT += dt / holds * (release - 0.5*sigma*area*(math.Pow(f.bedT, 4)-math.Pow(f.lining, 4)))
	f.bedT = min(max(f.bedT, f.lining), 1250)
	return burns, on
}

// reads lets the gauges follow.
func (f *Fire) reads(dt float64) {
	for p := range f.gauge {
		var is, lag float64
		switch p {
		case stove.ConnectorProbe:
			is, lag = f.flue, 30
		case stove.Top:
			is, lag = f.body+0.05*(f.gasT-f.body)*min(1, f.flow/0.01), f.mk.Follows
		case stove.CatalystProbe:
			is, lag = f.cat, 30
		default:
			is, lag = float64(f.room.Air)+273.15, 60
		}
		f.gauge[p] += dt / lag * (is - f.gauge[p])
	}
}

// Reading is what a gauge reads, °C.
func (f *Fire) Reading(p stove.Place) (float64, bool) {
	t, ok := f.gauge[p]
	return t - 273.15, ok
}

// Wood is how much dry wood lies there that is not yet char, and Coals how much char, kg.
func (f *Fire) Wood() (sum float64) {
	for _, g := range f.groups {
		if !g.gone {
			sum += g.wood()
		}
	}
	return sum
}

// Coals is how much char there is, kg.
func (f *Fire) Coals() float64 {
	sum := f.bed
	for _, g := range f.groups {
		if !g.gone {
			sum += g.charred()
		}
	}
	return sum
}

// Black tells whether the load that went on last is char all over.
func (f *Fire) Black() bool {
	for i := len(f.groups) - 1; i >= 0; i-- {
		if g := f.groups[i]; !g.kindling {
			return g.gone || g.dry[shells-1] < 0.1*g.dry0[shells-1]
		}
	}
	return true
}

// Flames tells whether there are any.
func (f *Fire) Flames() bool { return f.flames && f.gas > 2e-5 }

// Smoke is what left by now, g.
func (f *Fire) Smoke() float64 { return 1000 * f.smoke }

// Heat is what the room was given by now, J.
func (f *Fire) Heat() float64 { return f.heat }

// Room is the room's air.
func (f *Fire) Room() units.Celsius { return f.room.Air }
