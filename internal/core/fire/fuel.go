package fire

import (
	"math"

	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
)

// A Load is wood put into the firebox at one time.
type Load struct {
	Species     wood.Species
	Moisture    units.Fraction // dry basis, corrected
	Pieces      int
	PieceMass   units.Kilogram
	PieceLength units.Metre
	Direction   stove.Direction
	Lay         Lay
	Kindling    bool
	Starter     units.Joule // heat of what lights it; with StarterKind alone: that kind's
	StarterKind Starter
	Unraked     bool   // the coals were left under their ash
	StackName   string // where it came from, for people
	StackID     int64
}

// Mass returns the load as it is fired.
func (l Load) Mass() units.Kilogram { return l.PieceMass * units.Kilogram(l.Pieces) }

// Dry returns its mass without water, kg.
func (l Load) Dry() float64 { return float64(l.Mass()) / (1 + float64(l.Moisture)) }

// Energy returns the load's net energy.
func (l Load) Energy() units.Joule {
	return units.Joule(wood.NetEnergy(l.Species.Gross, l.Moisture) * float64(l.Mass()) * 1e6)
}

// batch is a load on fire.
type batch struct {
	dry, dry0   float64 // kg of wood not yet turned, now and at first
	water       float64 // kg
	alight      float64 // share of the surface that pyrolyses
	flame       float64 // 0 smoulders, 1 flames
	area        float64 // m² exposed when fresh
	pieces      float64
	geometry    geometry
	gasEnergy   float64 // J/kg of volatiles
	starter     float64 // J left
	starterRate float64 // W
	overCoals   float64 // how well the bed sees this wood
	weight      float64 // of a piece in the shelter that pieces give each other
	front       float64 // √(dry/dry0), cached for the step
	thin, thick float64 // factors of the piece's thickness, for the shield and for blackening
}

// How wood lies, and how it takes the heat. Where no source stands, the figure is
// this model's own, from the behaviour table.
const (
	// Share of the pieces' surface that is free to heat and air.
	kindlingFree = 0.8  // of sticks
	sidewaysFree = 0.33 // laid across the air: air and flame meet the first piece only
	endOnFree    = 0.44 // laid with their ends to the air

	thinQuicker, thinLeast, thinMost   = 0.7, 0.75, 2.4 // exponent of a thin piece's quicker burning, and its bounds
	thickSlower, thickLeast, thickMost = 1.5, 0.15, 1.6 // exponent of a thick piece's slower blackening, and its bounds
	kindlingShelter                    = 0.25           // of a split's shelter that a stick gives
	unrakedSees                        = 0.6            // of the bed's heat that wood gets over coals under their ash
	starterSeconds                     = 420            // that an unnamed starter burns
	starterLights                      = 0.08           // share of the surface that it lights at once

	// The char layer.
	charLets  = 0.27  // share, of a full layer on a usual piece
	charGrows = 0.15  // share of the wood that is gone when the layer is full
	spentAt   = 0.004 // share of the dry wood that is left when the rest are crumbs

	// Flame and smoulder.
	wetNeedsMore       = 2.5        // growth of the critical flux for each kg of water per kg of dry wood over usualWet
	usualWet           = 0.15       // kg/kg at which the critical flux is meant
	flameFrom, flameTo = 0.45, 1.05 // of the critical flux: smoulder, full flame
	flameAnswers       = 12.0       // s that a flame takes to come or go
	ownFlame           = 0.55       // share of the flames' heat that comes of a piece's own, the rest of all
	coolsAtLeast       = 0.35       // of the cooling by cold wood above that is left when all is alight
	hottestCover       = 0.3        // share of a face that a starter's flame covers at most
	mostTurned         = 3.0        // steps in which wood turns at the quickest: for long steps

	// Fire on the face.
	blackens    = 7.5e6 // J/m² until a face of dry wood is black; 4 to 10
	wetBlackens = 4.5   // growth of that for each kg of water per kg of dry wood
	coalsReach  = 0.9   // share of the bed's flux that lights wood over it
	spreadPace  = 1.6   // of the face that is left, for each blackening's worth of heat
	coldLining  = 0.3   // share of the lining's heat that reaches wood not yet alight
	starterOver = 1.5   // times its own flame's share that a starter comes to light
)

// exposure is the share of the pieces' surface that is free to heat and air.
func exposure(l Load, g geometry) float64 {
	switch {
	case l.Kindling:
		return kindlingFree
	case g.exposure > 0:
		return g.exposure // laid apart, to light
	case l.Direction == stove.Sideways:
		return sidewaysFree
	}
	return endOnFree
}

func newBatch(l Load) batch {
	m, u := float64(l.PieceMass), float64(l.Moisture)
	length := max(0.05, float64(l.PieceLength))
	// A piece is taken as a square bar of its mass: a split is between that and a wedge,
	// which has a tenth more surface.
	side := math.Sqrt(m / (l.Species.Gravity * 1000 * (1 + u)) / length)
	n := float64(l.Pieces)
	dry := n * m / (1 + u)
	g, known := geometries[l.Lay]
	if !known {
		g = geometries[OnCoals]
	}
	b := batch{
		dry: dry, dry0: dry, water: dry * u,
		area: n * (4*side*length + 2*side*side) * exposure(l, g), pieces: n, geometry: g, front: 1, overCoals: 1, weight: 1,
		// Char holds more than its share of the energy, so the gas holds less.
		gasEnergy: (wood.NetEnergyDry(l.Species.Gross)*1e6 - charShare*charEnergy) / (1 - charShare),
		thin:      clamp(math.Pow(usualPiece/side, thinQuicker), thinLeast, thinMost),
		thick:     math.Pow(clamp(side/usualPiece, thickLeast, thickMost), thickSlower),
	}
	if l.Kindling {
		b.weight = kindlingShelter
	}
	if l.Unraked {
		b.overCoals = unrakedSees
	}
	// What lights it burns for its own time; heat that is given in figures goes before
	// the kind's.
	heat, seconds, known := l.StarterKind.heat()
	if !known {
		seconds = starterSeconds
	}
	if l.Starter > 0 {
		heat = float64(l.Starter)
	}
	if heat > 0 {
		b.starter, b.starterRate, b.alight = heat, heat/seconds, starterLights
	}
	return b
}

// spent tells whether nothing of the batch is left to pyrolyse.
func (b *batch) spent() bool { return b.dry <= spentAt*b.dry0 }

// shield is how much of the heat on the surface reaches fresh wood through the
// char: the layer grows in the first tenth of the burn and is thinner on thin
// pieces.
func (b *batch) shield() float64 {
	gone := 1 - b.dry/b.dry0
	return charLets * (1 + max(0, 1-gone/charGrows)) * b.thin
}

// surroundings are what every batch sees in a step.
type surroundings struct {
	dt           float64 // s
	flame        float64 // share of the gas that flames
	flaming      float64 // how much fire there is to light other wood, 0–1
	flux         float64 // W/m² of a full flame
	completeness float64 // of combustion, by air
	shelter      float64 // 1 − exp(−n/1.6)
	coals        float64 // W/m² from the coal bed
	lining       float64 // W/m² from the lining over the ambient
	reached      float64 // share of the lit surface that fresh air reaches, so that it burns
	unlit        float64 // share of all surface that is not alight
	unsteady     float64 // factor on the critical flux
	fed          float64 // 0 where there is too little air for any flame
	shield       float64 // factor on the heat that reaches fresh wood
}

// offgas is what all batches give off in a step.
type offgas struct {
	volatiles float64 // kg/s
	flaming   float64 // kg/s of them in flame
	passing   float64 // kg/s of them without a flame of their own, through others' flames
	quenched  float64 // kg/s of them in flames that cold wood cools
	gasHeat   float64 // W if all of it burns
	char      float64 // kg in this step
	water     float64 // kg/s
	starter   float64 // W
}

// pyrolyse advances one batch under the fire's surroundings and adds what it
// gives off.
//
//	rate = shield · A · reached · q / (L + 2.6 MJ · water/dry)
//	q    = flame + coals + 0.85σ(T_lining⁴ − 300⁴)(0.3 + 0.7·alight) + starter − re-radiation
func (b *batch) pyrolyse(env *surroundings, out *offgas) {
	// As wood burns away from outside the surface shrinks with the root of what is left,
	// as that of a bar does.
	b.front = math.Sqrt(b.dry / b.dry0)
	area := b.area * b.front
	lit := b.alight * area * env.reached

	cover := 0.0 // share of the surface in the starter's own flame
	if b.starter > 0 {
		used := min(b.starter, b.starterRate*env.dt)
		b.starter -= used
		out.starter += used / env.dt
		cover = min(hottestCover, used/env.dt/(starterFlux*max(area, 1e-3)))
	}
	// What heats the surface: flames, its own more than the others'; coals; the lining,
	// which reaches it better once it burns and has burnt its bark away; the starter; less
	// what a surface at 700 K radiates back.
	coals := env.coals * b.overCoals
	liningHeat := env.lining * (coldLining + (1-coldLining)*b.alight)
	flameHeat := env.flux * env.completeness * env.shelter * b.geometry.shelter * (ownFlame*b.flame + (1-ownFlame)*env.flame)
	q := flameHeat + coals + liningHeat + starterFlux*min(1, cover/max(b.alight, 0.02)) - reradiation

	// Water must leave before wood turns, and it leaves a little ahead of the front: the
	// heat for both is needed for each kilogram of dry wood.
	ratio := b.water / max(b.dry, 1e-9) // kg water per kg dry still in the wood
	need := pyrolysisHeat + dryingHeat*dryingLead*ratio
	rate := env.shield * b.shield() * lit * max(0, q) / need
	rate = min(rate, b.dry/(mostTurned*env.dt))

	// Wood that turns becomes gas and char, and takes its water along.
	turned := rate * env.dt
	water := min(b.water, turned*ratio*dryingLead)
	b.dry -= turned
	b.water -= water
	if b.spent() { // the last crumbs go with the rest
		turned += b.dry
		water += b.water
		b.dry, b.water = 0, 0
	}
	gas := turned * (1 - charShare) / env.dt
	b.burn(env, gas, lit, ratio)
	out.volatiles += gas
	out.gasHeat += gas * b.gasEnergy
	out.char += turned * charShare
	out.water += water / env.dt
	out.flaming += b.flame * gas
	out.passing += (1 - b.flame) * gas * b.geometry.through
	out.quenched += b.flame * gas * b.geometry.quench * (coolsAtLeast + (1-coolsAtLeast)*env.unlit)
	// A starter lights what its flame touches and no more.
	b.spread(env, starterFlux*cover*max(0, 1-b.alight/(starterOver*cover+1e-9)), liningHeat, coals)
}

// burn decides between flame and smoulder by the flux of volatiles from the
// lit surface (Rasbash); the answer takes some seconds either way.
func (b *batch) burn(env *surroundings, gas, lit, ratio float64) {
	target := 0.0
	if lit > 1e-6 {
		critical := criticalFlux * (1 + wetNeedsMore*(ratio-usualWet)) * env.unsteady
		target = smooth(gas/lit/critical, flameFrom, flameTo) * env.fed
	}
	b.flame += (target - b.flame) * env.dt / (flameAnswers + env.dt/2)
}

// spread lights more of the surface: by coals beneath, by flames of the same
// and other wood, by the starter, by a hot lining.
func (b *batch) spread(env *surroundings, starter, liningHeat, coals float64) {
	if b.alight >= 1 {
		return
	}
	// Wet wood takes longer to blacken than its water's heat alone would say: the steam
	// keeps air and flame off the surface.
	wet := 1 + wetBlackens*b.water/max(b.dry, 1e-9)
	energy := blackens * wet * b.thick
	q := coalsReach*coals + starter + liningHeat +
		env.flux*env.completeness*env.shelter*(b.geometry.contact*env.flaming+b.geometry.climb*b.flame*b.alight)
	// The last of a face is the slowest, since the fire reaches it from one side only.
	b.alight = min(1, b.alight+(1-b.alight)*max(0, q)/energy*env.dt*spreadPace)
}
