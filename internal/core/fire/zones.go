package fire

import (
	"math"

	"smolder/internal/core/flue"
)

// Air and gas in two zones.
//
// Gas meets air in the bed zone, which what comes from below feeds and what of the
// wash comes down, and in the flame zone above it, which the second air, the rest of
// the wash and half of the leaks feed. Every inlet has a share of its oxygen that
// gets to the gas; the rest passes by. So a stove in good burning has half as much
// air again as it needs, or twice as much, and yet loses some gas. How much of the
// gas finds oxygen follows from what gets to it, over what it needs.
//
// A zone has a temperature of its own, which what reacts in it goes by: what is
// released and brought, less what shines into the box and what wood takes, over the
// flow that it warms, with the lining (below) and the baffle (above) as the other
// side:
//
//	T = (Σ c_i T_i + U·T_wall + heat) / (Σ c_i + U)
//
// Steam and excess air are among what is warmed, and so cool it.
//
// Where oxygen is short the gas leaves unburnt and the flame is smaller, with it the
// heat on the wood: the brake that keeps a stove steady. And the less first air
// there is, the more of the gas burns above, away from the wood: that is how a lever
// rules a fire that never lacks air as a whole.
const (
	// Share of an inlet's oxygen that meets gas in its zone.
	grateMeets            = 0.85         // from below, through the bed; 0.8 to 0.9
	leakMeets             = 0.30         // past a rope; 0.2 to 0.4
	jetsMeet              = 0.93         // second air out of many small holes; 0.8 to 0.95
	passedBy              = 0.60         // above, of what has passed the bed zone by
	meetsCold             = 0.72         // times that, of air that comes in cold
	meetsSlow             = 0.55         // times that, of air that hardly moves
	fastInlet             = 8.0          // Pa over an inlet, from where it is fast
	mildLining, hotLining = 420.0, 800.0 // K of the lining, between which air comes in warmed

	// Where it goes.
	washDown = 0.70    // of the first air, that comes down to the bed; the rest goes over the top
	eddies   = 0.35e-3 // kg/s of the flame zone's air that eddies carry down to the bed, for 55 L: little of much, most of little

	// Flames, in their zones.
	passingBurns           = 0.85         // of gas that passes the flames of other wood
	quenchTakes            = 0.6          // of a flame's gas under cold wood, while the box is cold
	bricksCold, bricksHot  = 380, 820     // K of the lining, between which that fades
	upperCold              = 0.92         // of the bed zone's flames that live on above while it is cold there,
	upperDull, upperBright = 500.0, 850.0 // K: under the first; all of them do from the second on
	flameHotter            = 80           // K that gas is hotter where flames reach through it
	upperAtBaffle          = 0.75         // of what the upper flames radiate, into the baffle they lick

	// What makes flames unsteady: cold air in at the door, a piece alone.
	aloneNeeds                    = 0.2               // growth of the critical flux for a piece alone
	aloneCold                     = 6.0               // more of it in a cold box without coals: the lone log that dies of its own cold sides
	aloneMeans                    = 0.5               // pieces beside it that make two thirds of the difference
	bricksMild                    = 600.0             // K of the lining, from bricksCold up to which that fades
	barely, coalsKeep             = 0.03, 0.15        // share of the floor under coals, between which it fades too
	doorNeeds, doorFrom, doorFull = 0.8, 0.012, 0.040 // growth, and kg/s from and to
	doorBlows                     = 2.0               // of what flames and glowing char give, that a door ajar adds: it blows at them like a forge; 0.5 to 3

	// Room and walls.
	lowerShare, upperShare = 0.25, 0.25 // of the firebox in which gas of the bed zone and of the flame zone is hot
	lowerFilm, upperFilm   = 7.0, 11.0  // W/m²K of the zones' gas on lining and baffle; 5 to 15
	upperWalls             = 0.15       // share of the lining that the flame zone passes
	ductedWarm             = 0.45       // share of the way to the lining's temperature that second air is warmed on its way in
	zoneAnswers            = 30         // s that a zone's temperature takes to follow
)

// gasFlows are what combustion makes of the step's gas.
type gasFlows struct {
	lambda             float64 // air supplied over air needed
	burnout            float64 // of the energy in the gas, catalyst included
	charRate           float64 // kg/s
	smoke              float64 // kg/s of particulates
	vapour             float64 // kg/s of water, from wood and flame
	caught             float64 // W, burnt in the catalyst
	below              float64 // W, burnt in the bed zone
	cracked            float64 // W, that tar gave in char which it came through
	shine              float64 // W, of both zones, that flames radiate into the box
	lost               float64 // W, unburnt
	starved            float64 // share of the char's carbon that leaves the bed as monoxide
	capacity           float64 // W/K of the gas that leaves
	hot                float64 // K of it, where it passes the baffle
	toLining, toBaffle float64 // W by the gas
	moles              flue.Moles
}

// zone is the state of one of the two: K, as it is for what reacts in it.
type zone struct{ at float64 }

// follow lets a zone near a temperature.
func (z *zone) follow(to, dt float64) {
	z.at += (clamp(to, coldestGas, hottestGas) - z.at) * dt / (zoneAnswers + dt)
}

// feed is the air of the step by zones, kg/s, and the oxygen of it that gets to gas,
// mol/s.
type feed struct {
	lower, upper       float64 // kg/s
	oxygen             float64 // mol/s in the lower
	reaches, reachesUp float64 // mol/s
	eddies             float64 // kg/s that this firebox's eddies carry
	gust               float64 // 0 to 1: how far a door ajar blows at a fire that glows
}

const oxygenPerAir = oxygenInAir / molAir // mol/kg

// feeds leads the air of the step to the zones: leaks are everywhere, half of what
// they let in is below; through an open door much air passes over the fire and not
// through it.
func (s *Fire) feeds() feed {
	k := s.k
	door := s.air.door
	leak, down, overTop := 0.5*s.air.leak, washDown*s.air.primary, (1-washDown)*s.air.primary
	over := s.air.secondary + overTop + leak
	f := feed{eddies: eddies * s.p.comb, gust: smooth(door, 0, 0.7*k.DoorThrough*s.p.comb) * smooth(s.lining, bricksMild-120, bricksMild+60)}
	mixed := f.eddies / (f.eddies + over)
	stray := mixed*over + (1-mixed)*k.SecondDown*s.air.secondary
	mixed = stray / max(1e-12, over)
	f.lower = s.air.grate + leak + down + stray + k.DoorDown*door
	f.upper = max(0, s.air.total-f.lower)
	f.oxygen = f.lower * oxygenPerAir
	// Fast and warm air meets more of the gas than what creeps in cold.
	speed := meetsSlow + (1-meetsSlow)*math.Sqrt(clamp(s.air.draft/fastInlet, 0, 1))
	warm := meetsCold + (1-meetsCold)*smooth(s.lining, mildLining, hotLining)
	f.reaches = (s.air.grate*grateMeets + (leak+stray)*leakMeets + down*k.WashMeets*speed*warm + k.DoorDown*door*k.DoorMeets) * oxygenPerAir
	jets := s.air.secondary * jetsMeet * s.p.preheat * speed * warm
	f.reachesUp = ((1-mixed)*(jets+overTop*k.WashMeets*speed+leak*leakMeets) + (1-k.DoorDown)*door*k.DoorMeets) * oxygenPerAir
	return f
}

// around is what every load sees in this step. What follows from the flames is that
// of the step before: the gas of this one follows from it.
func (s *Fire) around(f feed) surroundings {
	before, l := s.out, s.lie()
	pieces := max(1, l.pieces)
	s.together = pieces
	view := s.view(pieces)
	s.radiance = s.field(l, view)
	fed := (f.reaches - 0.5*s.bed.oxygen + 0.5*s.air.secondary*oxygenPerAir) / max(1e-9, before.volatiles*gasOxygen)
	return surroundings{
		dt: s.dt, field: s.radiance, bed: s.glow.touch, glow: s.glow.contact, covered: s.glow.cover, view: view,
		beside: s.flamesBeside(l) * (1 + doorBlows*f.gust), flaming: before.flaming, lively: s.p.liveliness,
		spare: min(1, flamesSpare*s.gas.below/max(1e-3, before.licked)), gas: s.zone[0].at,
		oxygen: min(s.oxygen, 0.95*f.oxygen/max(1e-12, before.clears)), fed: smooth(fed, s.k.FedFrom, s.k.FedTo),
		air:      f.oxygen,
		critical: s.alone(pieces) * (1 + doorNeeds*smooth(s.air.door, doorFrom, doorFull)),
		cold:     l.cold, shield: s.p.shield, charRate: s.p.charRate * s.k.CharBurns * (1 + doorBlows*f.gust), monoxide: min(mostMonoxide, faceMonoxide*s.p.monoxide), k: s.k,
	}
}

// alone is the growth of the critical flux where few pieces lie together: a flame
// loses more to a cold box than to a warm one, and coals under it relight it.
func (s *Fire) alone(pieces float64) float64 {
	cold := (1 - smooth(s.lining, bricksCold, bricksMild)) * (1 - smooth(s.glow.cover, barely, coalsKeep))
	return 1 + aloneNeeds*decay((pieces-1)/besidePieces) + aloneCold*cold*decay((pieces-1)/aloneMeans)
}

// burnFuel runs every load and the coal bed, and burns the gas.
func (s *Fire) burnFuel() {
	s.glow = s.bedNow()
	f := s.feeds()
	env := s.around(f)
	s.out = offgas{}
	for i := range s.batches {
		if b := &s.batches[i]; !b.spent() {
			b.burn(&env, &s.out)
		}
	}
	out := &s.out
	capacity := f.lower*cpAir + out.volatiles*cpGas + out.water*cpVapour
	s.burnCoals(f, max(stillGas*s.p.coalBed, capacity))

	tarEnergy := 0.0
	if out.volatiles > 1e-12 {
		tarEnergy = (out.gasHeat/out.volatiles - gasCO*heatCO - gasLight*heatCH4) / gasTar
	}
	p := pool{tar: gasTar * out.volatiles, monoxide: gasCO*out.volatiles + s.bed.carbon, light: gasLight * out.volatiles, tarEnergy: tarEnergy}
	whole := p.energy()
	if slow := s.k.SmoulderCracks * (1 - out.flaming/max(out.volatiles, 1e-12)); slow > 0 {
		p.crack(p.tar*slow, s.k.Soot) // what leaves without a flame has come through glowing char
	}
	g := gasFlows{charRate: s.bed.rate, starved: s.bed.starved, cracked: whole - p.energy()}
	alone := p.aside(s.pockets())
	flame := s.flames()
	capacity = max(stillGas*s.p.coalBed, capacity+s.bed.rate*cpChar)
	left, hot := s.burnBelow(&p, &g, f, flame, capacity)
	s.burnAbove(&p, &g, f, flame, capacity, left, hot)
	p.join(alone)
	g.lost = p.energy()
	s.catch(&p, &g)
	g.burnout = 1
	if whole > 1e-9 {
		g.burnout = clamp(1-g.lost/whole, 0, 1)
	}
	g.smoke = s.p.smoke * (s.k.Condenses*tarMass*p.tar + sootMass*p.soot)
	g.lambda = s.air.total / max(1e-6, out.volatiles*airForGas+s.bed.rate*airForChar)
	s.analyse(&g, &p)
	s.gas = g
	s.account(&p)
}

// pockets is the share of the gas that meets neither flame nor air: between pieces, along
// cold walls, out of flames that tear. It grows as the bed zone cools and with the water
// that leaves with the gas, each by an exponential, and levels off.
func (s *Fire) pockets() float64 {
	if s.out.volatiles <= 1e-12 {
		return 0
	}
	colder := (pocketsAt - s.zone[0].at) / 100
	water := max(0, s.out.water/s.out.volatiles-pocketsDry)
	few := 1 + s.k.PocketsAlone*decay(max(0, s.together-1)/besidePieces)
	share := s.k.Pockets * s.p.pockets * few * math.Exp(clamp(s.k.PocketsCold*colder+s.k.PocketsWet*min(1, water), -2, 4))
	return share / (1 + share)
}

const (
	pocketsAt  = 950.0 // K of the bed zone at which pockets are meant
	pocketsDry = 0.35  // kg of water per kg of gas, of wood that is dry: less does no more
)

// flames is the share of the gas that burns in flame: its own, or that of other wood
// which it passes; less what cold wood above a flame cools while the box is cold.
func (s *Fire) flames() float64 {
	out := &s.out
	if out.volatiles <= 1e-12 {
		return 0
	}
	alive := clamp(out.flaming/(0.5*s.p.liveliness), 0, 1)
	quenched := quenchTakes * out.quenched * (1 - smooth(s.lining, bricksCold, bricksHot))
	return clamp((out.flaming-quenched+passingBurns*out.passing*alive)/out.volatiles, 0, 1)
}

// burnBelow burns in the bed zone, and returns the oxygen left, mol/s, and the
// temperature of what goes up, K.
func (s *Fire) burnBelow(p *pool, g *gasFlows, f feed, flame, capacity float64) (left, hot float64) {
	out, at, room := &s.out, s.zone[0].at, s.room.Air.Kelvin()
	oxygen := max(0, f.oxygen-s.bed.oxygen-out.starter/starterEnergy*gasOxygen)
	need, whole := p.needs(), p.energy()
	meets := mixed(f.reaches*oxygen/max(f.oxygen, 1e-12)/max(need, 1e-12), s.k.BedMixed)
	p.burn(meets, flame, at, s.stays(lowerShare, f.lower, at), s.k)
	g.below = whole - p.energy()
	g.shine = flameShines * g.below

	film := lowerFilm * s.p.liningArea
	heat := g.below - g.shine - out.flamesTook - out.filmTook + out.brought + out.starter + s.bed.toGas + g.cracked
	hot = (capacity*room + film*s.lining + heat) / (capacity + film)
	g.toLining = film * (hot - s.lining)
	s.zone[0].follow(hot, s.dt)
	return max(0, oxygen-need+p.needs()), hot
}

// burnAbove burns in the flame zone what the bed zone has left, which comes up at a
// temperature.
func (s *Fire) burnAbove(p *pool, g *gasFlows, f feed, flame, capacity, left, hot float64) {
	at, room := s.zone[1].at, s.room.Air.Kelvin()
	whole := p.energy()
	meets := mixed((passedBy*left+f.reachesUp)/max(p.needs(), 1e-12), s.k.FlameMixed)
	lives := upperCold + (1-upperCold)*smooth(at, upperDull, upperBright)
	p.burn(meets, flame*lives, at+flameHotter*flame, s.stays(upperShare, s.air.total, at), s.k)
	above := whole - p.energy()
	shines := flameShines * above
	g.shine += (1 - upperAtBaffle) * shines

	// Baffle and the top of the lining are the other side; second air has come through hot
	// channels, and that heat is the lining's.
	walls := s.p.baffleArea + upperWalls*s.p.liningArea
	side := (s.p.baffleArea*s.baffle + upperWalls*s.p.liningArea*s.lining) / walls
	preheat := ductedWarm * s.air.secondary * cpAir * (s.lining - room)
	g.capacity = capacity + f.upper*cpAir
	film := upperFilm * walls
	g.hot = (capacity*hot + f.upper*cpAir*room + preheat + film*side + above - shines) / (g.capacity + film)
	gave := film * (g.hot - side)
	g.toBaffle = gave * s.p.baffleArea / walls
	g.toLining += gave - g.toBaffle - preheat
	g.toBaffle += upperAtBaffle * shines
	s.zone[1].follow(g.hot, s.dt)
}

// stays is how long gas is in a share of the firebox through which so much air
// passes, kg/s; where it hardly passes, the gas moves itself on.
func (s *Fire) stays(share, air, at float64) float64 {
	return share * s.p.volume / (max(air, s.out.volatiles)*s.airVolume(at) + 1e-5)
}

// account adds the step to the totals, on the net basis: water that leaves as vapour
// has taken its heat along, and nobody gets that back.
func (s *Fire) account(p *pool) {
	t, out, g := &s.total, &s.out, &s.gas
	t.In += (out.gasHeat + s.bed.rate*charEnergy + out.starter - out.water*latentHeat) * s.dt
	t.Latent += g.vapour * latentHeat * s.dt
	t.Unburnt += g.lost * s.dt
	t.Gas += out.volatiles * s.dt
	t.Char += s.bed.rate * s.dt
	t.Water += out.water * s.dt
	t.Starter += out.starter * s.dt
	t.Smoke += g.smoke * s.dt
	t.TarHeat += (p.tar*p.tarEnergy + p.soot*heatC) * s.dt
}

// airVolume is the volume of a kilogram of gas at a temperature, m³.
func (s *Fire) airVolume(at float64) float64 { return at / s.pOverR }
